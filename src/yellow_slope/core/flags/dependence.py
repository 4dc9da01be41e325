"""Columns that depend on each other: a term with columns that cannot be estimated."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.fit.evaluate import Evaluation, Fit, evaluate
from yellow_slope.core.fit.factor import LeftOut
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study import edits
from yellow_slope.core.study.study import FlagKey, FlagKind, Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.coefficients import Reader
from yellow_slope.core.words.names import label

MOST_TRIED = 6


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
    read = Reader(study, fit, study.model)
    last = len(fit.steps) - 1
    others = list(dict.fromkeys(fit.design.columns[j].term for out in outs for j, _ in out.on))
    others = [other for other in others if other != term]
    helping = [other for other in others[:MOST_TRIED] if _helps(study, other, term, len(outs))]
    cost = " ".join(read.coefficient(last, out.column) for out in outs[:3])
    unknown = [j for j in range(fit.last.n_columns) if not fit.last.is_left_out(j) and not fit.last.estimable[j + 1]]
    if unknown:
        cost += f" {len(unknown)} other coefficients that cannot be told apart from it have no number either."
        cost = cost.replace(
            "1 other coefficients that cannot be told apart from it have",
            "1 other coefficient that cannot be told apart from it has",
        )
    model = study.model
    if any((model.block_of(other) or 0) < (model.block_of(term) or 0) for other in helping):
        cost += " Leaving out a term of an earlier block instead changes the earlier steps as well."
    remedies = [Remedy(f"Take out {label(study, term)}", partial(edits.take_out, terms=[term]))]
    remedies += [
        Remedy(f"Leave out {label(study, other)} instead", partial(edits.leave_out_first, term=other))
        for other in helping[:3]
    ]
    return cost, tuple(remedies)


def _helps(study: Study, other: Term, term: Term, before: int) -> bool:
    """Whether fewer columns of a term are left out once another's are left out first."""
    fit = evaluate(edits.leave_out_first(study, other)).fit
    return fit is not None and sum(fit.design.columns[out.column].term == term for out in fit.left_out) < before
