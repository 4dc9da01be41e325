"""Which coefficient of one model asks the same question as one of another: same factors, same comparisons."""

from __future__ import annotations

from collections.abc import Hashable

from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.fit import Fit


def column_keys(fit: Fit) -> tuple[Hashable, ...]:
    """By column: its factors in alphabetical order, a group's with the weights of its comparison over the level codes.

    Where a number has its zero is no part of it: two columns of one key may answer at different places.
    """
    return tuple(
        tuple(sorted((_factor(fit, atom.variable, atom.comparison) for atom in column.atoms), key=repr))
        for column in fit.design.columns
    )


def _factor(fit: Fit, variable: str, comparison: int | None) -> Hashable:
    basis = fit.design.bases[variable]
    if not isinstance(basis, GroupBasis) or comparison is None:
        return variable, None
    weights = basis.comparisons[comparison].weights
    return variable, tuple(
        (code, round(float(weight), 9)) for code, weight in zip(basis.levels, weights) if abs(weight) > 1e-12
    )


def matched(one: Fit, other: Fit) -> dict[int, int]:
    """For columns of the one (-1: the constant) the column of the other that asks the same."""
    keys = {key: j for j, key in enumerate(column_keys(other))}
    found = {j: keys[key] for j, key in enumerate(column_keys(one)) if key in keys}
    if one.design.constant and other.design.constant:
        found[-1] = -1
    return found


def matched_step(step: int, one: Fit, other: Fit) -> int | None:
    """The step of the other that is seen beside a step of the one: last beside last, else that of the same number."""
    if step == len(one.steps) - 1:
        return len(other.steps) - 1
    return step if step < len(other.steps) - 1 else None
