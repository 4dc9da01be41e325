"""A model without an intercept: whether its columns say the same as one, or it is forced through the origin."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.relations import Relation, relation
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.edits.questions import choose_coding
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.model import means_of
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.words.names.terms import column_name
from yellow_slope.core.words.sentences.nointercept import levels_in_place, no_intercept_title
from yellow_slope.core.words.spelling.numerals import bounded, estimate_decimals, fixed, t_and_p


def no_intercept(evaluation: Evaluation) -> Iterator[Flag]:
    """The model has no intercept."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None or study.model.constant:
        return

    def told() -> tuple[str, tuple[Remedy, ...]]:
        assert fit is not None
        return _levels(study, fit) if levels_in_place(fit) else _through_the_origin(study, fit)

    yield Flag(FlagKey(FlagKind.NO_INTERCEPT), no_intercept_title(study, fit), told)


def _levels(study: Study, fit: Fit) -> tuple[str, tuple[Remedy, ...]]:
    """Columns that make the constant between them."""
    groups = means_of(study.model)
    cost = "Its columns together are equivalent to an intercept, so each of these coefficients is a level of its own"
    for title, change in _ways(study, fit, groups):
        try:
            other = evaluate(change(study)).fit
        except YellowSlopeError:
            continue
        if other is not None and other.design.constant and relation(fit, other) is Relation.TWINS:
            return f"{cost}. With an intercept and comparisons it is the same fit.", (Remedy(title, change),)
    return f"{cost}.", ()


def _ways(study: Study, fit: Fit, groups: tuple[str, ...]) -> Iterator[tuple[str, Edit]]:
    for name in groups:
        label = study.variable(name).label
        yield f"Compare the groups of {label}, with an intercept", partial(choose_coding, name=name, coding=Dummy())
    makes = fit.factored.makes_constant(fit.factored.kept.size)
    for j in fit.factored.kept[makes]:
        term = fit.design.columns[int(j)].term
        if not term.is_product:
            label = study.variable(term.variables[0]).label
            yield f"Use {label} as the reference, with an intercept", partial(_instead, term=term)


def _instead(study: Study, term: Term) -> Study:
    return set_constant(take_out(study, [term]), True)


def _through_the_origin(study: Study, fit: Fit) -> tuple[str, tuple[Remedy, ...]]:
    """What the model says, and what it would say with an intercept."""
    outcome = study.variable(study.model.outcome or "").label
    cost = f"The fit goes through the origin: {outcome} is taken to be 0 where every predictor is 0. R² is about zero."

    def change(s: Study) -> Study:
        return set_constant(s, True)

    try:
        other = evaluate(change(study)).fit
    except YellowSlopeError:
        return cost, ()
    if other is None:
        return cost, ()
    now, then = fit.last, other.last
    shown = [j for j in range(now.n_columns) if np.isfinite(now.t[j + 1]) and np.isfinite(then.t[j + 1])]
    if shown:
        most = max(shown, key=lambda j: abs(now.t[j + 1] - then.t[j + 1]))
        one, two = now.coefficient(most), then.coefficient(most)
        d = max(estimate_decimals(c.se, c.b, c.low, c.high) for c in (one, two))
        cost += (
            f" {column_name(study, fit, most)}: b = {fixed(one.b, d)}, {t_and_p(one.t, now.inference.df, one.p)}; with "
            f"an intercept b = {fixed(two.b, d)}, {t_and_p(two.t, then.inference.df, two.p)}."
        )
    return f"{cost} With an intercept R² = {bounded(then.r2)}.", (Remedy("Add an intercept", change),)
