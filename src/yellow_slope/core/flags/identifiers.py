"""An identifier or a date used as a predictor: it tells cases apart, or when they came, and is taken for a quantity."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.data.guessing import are_written_dates, why_identifier
from yellow_slope.core.data.table import DateColumn, NumberColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study

SHARE = 0.5
"""A group variable with more levels than this share of the cases tells cases apart."""


def identifiers_as_predictors(evaluation: Evaluation) -> Iterator[Flag]:
    """Numbers that count or name the rows, dates, and groups of hardly more than one case each."""
    study, fit = evaluation.study, evaluation.fit
    for name, basis in fit.design.bases.items() if fit is not None else ():
        if name not in study.table:
            continue
        column, label = study.table.column(name), study.variable(name).label
        if isinstance(basis, GroupBasis):
            k, n = len(basis.levels), int(basis.counts.sum())
            if k <= max(2, SHARE * n):
                continue
            why = f"{k} groups for {n} cases: {label} identifies cases rather than groups."
        elif isinstance(column, DateColumn):
            why = f"{label} contains dates; as a number it counts days, and its zero lies far from all of them."
        elif isinstance(column, NumberColumn) and are_written_dates(column):
            why = (
                f"{label} contains dates as numbers; from one month to the next it jumps by more than the days between."
            )
        elif isinstance(column, NumberColumn) and (reason := why_identifier(column)):
            why = f"{label} identifies cases ({reason}). A slope on it is a slope on the order of the file."
        else:
            continue
        dates = isinstance(column, DateColumn) or (isinstance(column, NumberColumn) and are_written_dates(column))
        title = f"{label} is not a predictor: it {'is a date' if dates else 'identifies cases'}"
        yield Flag(FlagKey(FlagKind.IDENTIFIER, (name,)), title, partial(_told, study, name, why), variable=name)


def _told(study: Study, name: str, why: str) -> tuple[str, tuple[Remedy, ...]]:
    label = study.variable(name).label
    gone = [t for t in study.model.terms if name in t.variables]
    kind = Kind.DATE if isinstance(study.table.column(name), DateColumn) else Kind.IDENTIFIER
    return why, (
        Remedy(f"Remove {label}", partial(take_out, terms=gone)),
        Remedy(
            f"Treat it as {'dates' if kind is Kind.DATE else 'an identifier'}", partial(set_kind, name=name, kind=kind)
        ),
    )
