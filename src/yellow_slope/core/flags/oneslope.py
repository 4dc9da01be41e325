"""A code that was treated as groups from its flag: the wrong single slope stays visible beside the right joint test."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.spelling.numerals import bounded, counted, estimate_decimals, fixed, t_and_p
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.testtexts import written_or_why


def slopes_over_codes(evaluation: Evaluation) -> Iterator[Flag]:
    """Groups that a flag's remedy made of a quantity, until they are dismissed."""
    study, fit = evaluation.study, evaluation.fit
    for key in study.pinned:
        name = key.about[0]
        if key.kind is FlagKind.ONE_SLOPE and fit is not None and isinstance(fit.design.bases.get(name), GroupBasis):
            title = f"{study.variable(name).label} as one slope, and as groups"
            yield Flag(key, title, partial(_told, study, fit, name), variable=name)


def _told(study: Study, fit: Fit, name: str) -> tuple[str, tuple[Remedy, ...]]:
    label, own = study.variable(name).label, Term((name,))
    test = fit.last.joint.get(own)
    back = partial(set_kind, name=name, kind=Kind.NUMBER)
    n = len(fit.design.group(name).levels) - 1
    right = (
        f"as {counted(n, 'comparison')} together {written_or_why(test)}"
        if test is not None
        else f"as {counted(n, 'comparison')}"
    )
    try:
        other = evaluate(back(study)).fit
    except YellowSlopeError:
        other = None
    wrong = ""
    if other is not None and other.design.columns_of(own):
        found = other.last.coefficient(other.design.columns_of(own)[0])
        figures = (
            reason(found.why)
            if found.why is not None
            else (
                f"b = {fixed(found.b, estimate_decimals(found.se, found.b, found.low, found.high))}, "
                f"{t_and_p(found.t, other.last.inference.df, found.p)}"
            )
        )
        wrong = (
            f" As one slope over its codes it was {figures}, R² of the last step "
            f"{bounded(other.last.r2)}. That assumes equal steps between the codes and "
            f"makes one test instead of {n}. R² is now {bounded(fit.last.r2)}."
        )
    cost = f"{label} {right}.{wrong}"
    return cost, (Remedy("As a quantity again", back),)
