"""A code used as a quantity: a number with few whole values."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.bases import NumberBasis
from yellow_slope.core.fit.evaluate import Evaluation, Fit, evaluate
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study import descriptions
from yellow_slope.core.study.study import FlagKey, FlagKind, Study
from yellow_slope.core.words.numerals import bounded

FEW_VALUES = 7


def codes_as_quantities(evaluation: Evaluation) -> Iterator[Flag]:
    """A number column with few whole values, used as a quantity."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    derived = {d.name for d in study.derived}
    for name, basis in fit.design.bases.items():
        if not isinstance(basis, NumberBasis) or basis.is_within or name in derived:
            continue
        n = few_whole_values(basis, np.asarray(fit.values[name], dtype=np.float64))
        if n:
            title = f"Is {study.variable(name).label} a quantity, or a code?"
            yield Flag(FlagKey(FlagKind.CODE, (name,)), title, partial(_told, study, fit, name, n), variable=name)


def few_whole_values(basis: NumberBasis, values: np.ndarray) -> int:
    """How many different whole values there are, if they are few; else 0."""
    if basis.high - basis.low > 1000 or basis.low != round(basis.low) or basis.high != round(basis.high):
        return 0
    above = values - basis.low
    steps = above.astype(np.int64)
    if not np.array_equal(steps, above):
        return 0
    n = int(np.count_nonzero(np.bincount(steps)))
    return n if 2 <= n <= FEW_VALUES else 0


def _told(study: Study, fit: Fit, name: str, n: int) -> tuple[str, tuple[Remedy, ...]]:
    title = study.variable(name).label
    other = evaluate(descriptions.set_kind(study, name, Kind.GROUP)).fit
    cost = f"{title} takes only {n} whole values and enters as one slope over them."
    if other is not None:
        comparisons = "1 comparison" if n == 2 else f"{n - 1} comparisons"
        cost += (
            f" Treated as groups, {comparisons} would stand in its place, and R² of the last step "
            f"would be {bounded(other.last.r2)} instead of {bounded(fit.last.r2)}."
        )
    return cost, (Remedy("Treat as groups", partial(descriptions.set_kind, name=name, kind=Kind.GROUP)),)
