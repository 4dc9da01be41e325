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
        values = np.asarray(fit.values[name], dtype=np.float64)
        if has_few_whole_values(basis, values):
            title = f"Is {study.variable(name).label} a quantity, or a code?"
            yield Flag(FlagKey(FlagKind.CODE, (name,)), title, partial(_told, study, fit, name, values), variable=name)


def has_few_whole_values(basis: NumberBasis, values: np.ndarray) -> bool:
    """Whether the values are whole, more than one and few. Where they span little they need not be counted."""
    spread = basis.high - basis.low
    if not 0 < spread <= 1000 or not bool((np.rint(values) == values).all()):
        return False
    return (
        spread < FEW_VALUES or int(np.count_nonzero(np.bincount((values - basis.low).astype(np.int64)))) <= FEW_VALUES
    )


def _told(study: Study, fit: Fit, name: str, values: np.ndarray) -> tuple[str, tuple[Remedy, ...]]:
    title, n = study.variable(name).label, len(np.unique(values))
    other = evaluate(descriptions.set_kind(study, name, Kind.GROUP)).fit
    cost = f"{title} takes only {n} whole values and enters as one slope over them."
    if other is not None:
        comparisons = "1 comparison" if n == 2 else f"{n - 1} comparisons"
        cost += (
            f" Treated as groups, {comparisons} would stand in its place, and R² of the last step "
            f"would be {bounded(other.last.r2)} instead of {bounded(fit.last.r2)}."
        )
    return cost, (Remedy("Treat as groups", partial(descriptions.set_kind, name=name, kind=Kind.GROUP)),)
