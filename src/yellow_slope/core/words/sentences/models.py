"""In words: what two models are to each other, which tests stay, which change, and why."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.asked.comparing import ModelsCompared, Moved, compare
from yellow_slope.core.fit.asked.relations import Relation
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.study import errors_name, model_name
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted, fixed, level_text, listed, place
from yellow_slope.core.words.spelling.testtexts import written_or_why
from yellow_slope.values import replace

MOST_MOVED = 4


def models_sentence(
    study: Study, model: Model, fit: Fit, other: Model, its: Fit, found: ModelsCompared | None = None
) -> str:
    """The present model against another one."""
    found = found or compare(fit, its)
    title = f"“{model_name(study, other)}”"
    if found.relation is Relation.OTHER_CASES:
        return (
            f"{title} rests on {counted(its.cases.n, 'case')}, this model on "
            f"{counted(fit.cases.n, 'case')}: other cases, so neither fit nor "
            "information criteria can be compared, and every coefficient may differ for "
            "that reason alone."
        )
    if found.relation is Relation.OTHER_OUTCOME:
        return f"{title} explains another outcome, or the outcome on another scale, so the models cannot be compared."
    if found.relation is Relation.TWINS:
        if replace(other, id=model.id, name=model.name) == model and np.array_equal(fit.last.b, its.last.b, True):
            return f"{title} is an unchanged copy of this model."
        return (
            f"{title} is an equivalent model: it has the same predicted values and the same R². "
            f"{_tests(study, fit, found)}"
        )
    if found.relation in (Relation.INSIDE, Relation.AROUND):
        assert found.test is not None
        larger, smaller = (title, "this model") if found.relation is Relation.INSIDE else ("this model", title)
        return (
            f"{capital(smaller)} is nested in {larger}, which adds {counted(found.test.df1, 'column')}: "
            f"{written_or_why(found.test)}."
        )
    a, b = fit.last.aic, its.last.aic
    if a != a or b != b:
        return f"{capital(title)} and this model are not nested, so no test compares them."
    better = "this model" if a < b else title
    return (
        f"{capital(title)} and this model are not nested, so no test compares them. By AIC {better} is better "
        f"({fixed(a, 1)} here, {fixed(b, 1)} there)."
    )


def beside_sentence(evaluation: Evaluation, other: Model) -> str:
    """What another model of the study is to the current one, and what was chosen otherwise; or why that cannot be
    said."""
    study, fit, its = evaluation.study, evaluation.fit, evaluation.fits[other.id]
    if fit is None or not isinstance(its, Fit):
        why = evaluation.problem if isinstance(its, Fit) else its.said
        return f"“{model_name(study, other)}” cannot be compared: {why}"
    said = models_sentence(study, study.model, fit, other, its)
    more = what_differs(study, study.model, other)
    return f"{said} It has {listed(more)}." if more else said


def _tests(study: Study, fit: Fit, found: ModelsCompared) -> str:
    """How many tests of single columns are the same and how many differ, why, and which joint tests are the same."""
    n, m = len(found.stay), len(found.change)
    said = f"{counted(n, 'test')} of single columns {'is' if n == 1 else 'are'} the same"
    said = said if n else "No test of a single column is the same"
    if m:
        said += f", {m} differ{'s' if m == 1 else ''}"
    if found.alone:
        said += (
            f", {counted(len(found.alone), 'coefficient')} "
            f"refer{'s' if len(found.alone) == 1 else ''} to other values there"
        )
    moved = [_move(study, fit, x) for x in found.moved[:MOST_MOVED]]
    if len(found.moved) > MOST_MOVED:
        moved.append(f"{len(found.moved) - MOST_MOVED} more")
    if (m or found.alone) and moved:
        said += (
            f", because of other zero points and codings: {listed(moved)}"
            if _has_groups(found)
            else f", because zero points differ: {listed(moved)}"
        )
    if found.sets_stay:
        kept = [label(study, term) for term in found.sets_stay]
        several = len(kept) > 1
        said += f". The joint test{'s' if several else ''} of {listed(kept)} {'are' if several else 'is'} the same"
    return said + "."


def _has_groups(found: ModelsCompared) -> bool:
    return any(x.own is None for x in found.moved)


def _move(study: Study, fit: Fit, moved: Moved) -> str:
    name = study.variable(moved.variable).label
    if moved.own is None or moved.its is None:
        return f"{name} is compared otherwise"
    basis = fit.design.bases[moved.variable]
    sd = basis.axis_sd if isinstance(basis, NumberBasis) else 1.0
    return f"{name} {place(moved.own, sd)} to {place(moved.its, sd)}"


def what_differs(study: Study, model: Model, other: Model) -> list[str]:
    """What was chosen otherwise, besides terms: errors, level, sample, intercept."""
    found: list[str] = []
    if model.errors != other.errors:
        found.append(errors_name(study, other.errors))
    if model.level != other.level:
        found.append(f"{level_text(other.level)} intervals")
    if model.sample != other.sample:
        found.append(f"sample “{other.sample}”" if other.sample else "all cases")
    if model.constant != other.constant:
        found.append("with an intercept" if other.constant else "no intercept")
    return found
