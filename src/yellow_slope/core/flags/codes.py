"""A code used as a quantity: a number with few whole values."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from yellow_slope.core.data.numbers import are_whole
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags.flag import Flag, Remedy, together
from yellow_slope.core.study.edits.dismissals import pin_flag
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import bounded, counted, listed

FEW_VALUES = 12
"""Levels that a code of a survey may have: ten steps and a zero, twelve months."""
FIRST = 64
"""Values that are looked at before all of them are."""
MOST_NAMED = 8


def codes_as_quantities(evaluation: Evaluation) -> Iterator[Flag]:
    """A number column with few whole values, used as a quantity."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    derived = {d.name for d in study.derived}
    names = [
        name
        for name, basis in fit.design.bases.items()
        if isinstance(basis, NumberBasis)
        and not basis.is_within
        and name not in derived
        and has_few_whole_values(study, basis, np.asarray(fit.values[name], dtype=np.float64))
    ]
    for about in together(study, FlagKind.CODE, names):
        one = study.variable(about[0]).label
        title = (
            f"Is {one} a quantity, or a code?" if len(about) == 1 else f"Are {len(about)} numbers quantities, or codes?"
        )
        here = tuple(name for name in about if name in names)
        yield Flag(
            FlagKey(FlagKind.CODE, about), title, partial(_told, study, fit, here), variable=here[0], also=here[1:]
        )


def has_few_whole_values(study: Study, basis: NumberBasis, values: np.ndarray) -> bool:
    """Whether the values are whole, more than one and few. Where they span little they need not be counted."""
    spread = basis.high - basis.low
    if not 0 < spread <= 1000 or not are_whole(values[:FIRST]):
        return False
    if not study.columns.known(basis.variable).are_whole and not are_whole(values):
        return False
    return (
        spread < FEW_VALUES or int(np.count_nonzero(np.bincount((values - basis.low).astype(np.int64)))) <= FEW_VALUES
    )


def _told(study: Study, fit: Fit, names: tuple[str, ...]) -> tuple[str, tuple[Remedy, ...]]:
    def as_groups(now: Study) -> Study:
        for name in names:
            now = pin_flag(set_kind(now, name, Kind.GROUP), FlagKey(FlagKind.ONE_SLOPE, (name,)))
        return now

    sizes = [len(np.unique(np.asarray(fit.values[name]))) for name in names]
    other = evaluate(as_groups(study)).fit
    if len(names) == 1:
        cost = (
            f"{study.variable(names[0]).label} takes only {sizes[0]} whole values and is entered with a single slope."
        )
    else:
        labels = [study.variable(name).label for name in names[:MOST_NAMED]]
        more = [f"{len(names) - MOST_NAMED} more"] if len(names) > MOST_NAMED else []
        few = f"{min(sizes)}" if min(sizes) == max(sizes) else f"{min(sizes)} to {max(sizes)}"
        cost = f"{listed([*labels, *more])} take only {few} whole values each, and each is entered with a single slope."
    if other is not None:
        n = sum(size - 1 for size in sizes)
        cost += (
            f" Treated as groups, {counted(n, 'comparison')} would take "
            f"{'its' if len(names) == 1 else 'their'} place, and R² of the last step "
            f"would be {bounded(other.last.r2)} instead of {bounded(fit.last.r2)}."
        )
    label = "Treat as groups" if len(names) == 1 else f"Treat the {len(names)} as groups"
    return cost, (Remedy(label, as_groups, FlagKey(FlagKind.ONE_SLOPE, (names[0],))),)
