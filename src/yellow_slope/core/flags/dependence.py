"""Columns that depend on each other: a term with columns that cannot be estimated."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.data.byhand import IndicatorSet, made_by_hand
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.relations import Relation, relation
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.factor import LeftOut
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.blocks import leave_out_first, take_out
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.edits.replacing import enter_the_group
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.spelling.numerals import counted, listed_some, number_or_place

MOST_TRIED = 6
MOST_TOLD = 3
"""Of more columns that are left out the rest is counted."""


def dependent_columns(evaluation: Evaluation) -> Iterator[Flag]:
    """Terms with columns that are left out, and what they depend on."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    by_term: dict[Term, list[LeftOut]] = {}
    for out in fit.left_out:
        by_term.setdefault(fit.design.columns[out.column].term, []).append(out)
    read = Reader(study, fit, study.model)
    for term, outs in by_term.items():
        many = f"{len(outs)} columns of {label(study, term)}"
        title = f"{read.column_name(outs[0].column) if len(outs) == 1 else many} cannot be estimated"
        key = FlagKey(FlagKind.LEFT_OUT, term.key)
        yield Flag(key, title, partial(_told, study, fit, term, tuple(outs)), term=term)


def _told(study: Study, fit: Fit, term: Term, outs: tuple[LeftOut, ...]) -> tuple[str, tuple[Remedy, ...]]:
    found = _indicators_with(study, term)
    if found is not None:
        return _told_of_indicators(study, fit, term, outs, found)
    read = Reader(study, fit, study.model)
    last = len(fit.steps) - 1
    others = list(dict.fromkeys(fit.design.columns[j].term for out in outs for j, _ in out.on))
    others = [other for other in others if other != term]
    helping = [other for other in others[:MOST_TRIED] if _helps(study, other, term, len(outs))]
    cost = " ".join(read.coefficient(last, out.column) for out in outs[:MOST_TOLD])
    if len(outs) > MOST_TOLD:
        cost += f" The same holds for {counted(len(outs) - MOST_TOLD, 'further column')}."
    unknown = [j for j in range(fit.last.n_columns) if not fit.last.is_left_out(j) and not fit.last.estimable[j + 1]]
    if unknown:
        verb = "has" if len(unknown) == 1 else "have"
        cost += (
            f" {counted(len(unknown), 'other coefficient')} that cannot be separated from it {verb} no estimate either."
        )
    model = study.model
    if any((model.block_of(other) or 0) < (model.block_of(term) or 0) for other in helping):
        cost += " Removing a term of an earlier block instead changes the earlier steps as well."
    remedies = [Remedy(f"Remove {label(study, term)}", partial(take_out, terms=[term]))]
    remedies += [
        Remedy(f"Remove {label(study, other)} instead", partial(leave_out_first, term=other)) for other in helping[:3]
    ]
    return cost, tuple(remedies)


def _helps(study: Study, other: Term, term: Term, before: int) -> bool:
    """Whether fewer columns of a term are left out once another's are left out first."""
    fit = evaluate(leave_out_first(study, other)).fit
    return fit is not None and sum(fit.design.columns[out.column].term == term for out in fit.left_out) < before


# ---- indicators of one group


def _indicators_with(study: Study, term: Term) -> IndicatorSet | None:
    """The set of indicators, all of them in the model, to which the term belongs, or whose group it is."""
    if term.is_product:
        return None
    (name,) = term.variables
    entered = {t.variables[0] for t in study.model.active_terms if not t.is_product}
    for found in made_by_hand(study.table).indicators:
        of_group = found.of is not None and found.of in entered and (name == found.of or name in found.columns)
        whole = found.is_whole and study.model.constant and name in found.columns and set(found.columns) <= entered
        if of_group or whole:
            return found
    return None


def _told_of_indicators(
    study: Study, fit: Fit, term: Term, outs: tuple[LeftOut, ...], found: IndicatorSet
) -> tuple[str, tuple[Remedy, ...]]:
    """k indicators with a constant, or a code beside its own indicators: what is said twice, and the ways out."""
    labels = listed_some([study.variable(name).label for name in found.columns], MOST_TRIED)
    entered = {t.variables[0] for t in study.model.active_terms if not t.is_product}
    one_group = Remedy(
        f"Enter {study.variable(found.of).label} as groups instead" if found.of else "Make one group variable of them",
        partial(enter_the_group, found=found),
    )
    if found.of is not None and found.of in entered:
        of = study.variable(found.of).label
        cost = f"{labels} are indicators of {of}, which is in the model as well and is redundant with them."
        return cost, (
            Remedy(f"Remove {of}", partial(take_out, terms=[Term((found.of,))])),
            one_group,
            Remedy("Remove the indicators", partial(take_out, terms=[Term((n,)) for n in found.columns])),
        )
    cost = (
        f"Every case is in exactly one of {labels}: together they are redundant with the "
        f"intercept, so one of the {len(found.columns) + 1} cannot be estimated."
    )
    left_out = partial(take_out, terms=[term])
    without = partial(set_constant, constant=False)
    cost += _same_fit(study, left_out, without, term)
    label_ = label(study, term)
    return cost, (
        Remedy(f"Remove {label_}: it becomes the reference", left_out),
        Remedy("Remove the intercept: level means", without),
        one_group,
    )


def _same_fit(study: Study, one: Edit, other: Edit, term: Term) -> str:
    """That both ways out are the same fit, where they are."""
    try:
        first, second = evaluate(one(study)).fit, evaluate(other(study)).fit
    except YellowSlopeError:
        return ""
    if first is None or second is None or relation(first, second) is not Relation.TWINS:
        return ""
    return (
        f" Without {label(study, term)} or without the intercept the model is equivalent: the same predicted "
        f"values, residual variance {number_or_place(first.last.s2)} both times; the coefficients are differences from "
        f"“{label(study, term)}”, or the level means themselves."
    )
