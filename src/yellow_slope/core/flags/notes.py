"""Flags as a report tells them: whole sentences, those that say the same of several variables together."""

from __future__ import annotations

from collections.abc import Sequence

from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.words.names.groups import level_label
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.letters import capital, ended
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.core.words.spelling.testtexts import written_or_why


def notes_of(evaluation: Evaluation, flags: Sequence[Flag]) -> list[str]:
    """A paragraph for each flag; those of a kind that differ in their variable alone share one."""
    together = {FlagKind.REFERENCE: _references, FlagKind.SET: _sets}
    told: list[str] = []
    done: set[FlagKind] = set()
    for flag in flags:
        kind = flag.key.kind
        same = [other for other in flags if other.key.kind is kind]
        if kind in together and len(same) > 1:
            told += [] if kind in done else [together[kind](evaluation, same)]
            done.add(kind)
        else:
            told.append(f"{ended(capital(flag.title))} {capital(ended(flag.cost))}")
    return told


def _references(evaluation: Evaluation, flags: Sequence[Flag]) -> str:
    study, fit = evaluation.study, evaluation.fit
    named = []
    for name in (flag.variable for flag in flags if flag.variable is not None):
        basis = fit.design.bases[name] if fit is not None else None
        if isinstance(basis, GroupBasis):
            named.append(f"{study.variable(name).label} (“{level_label(study, basis, basis.reference or 0)}”)")
    return f"The reference groups of {listed(named)} were set by default, as the first level of each."


def _sets(evaluation: Evaluation, flags: Sequence[Flag]) -> str:
    study, fit = evaluation.study, evaluation.fit
    named = []
    for term in (flag.term for flag in flags if flag.term is not None):
        step = study.model.step_of(term)
        if fit is not None and step is not None:
            block, alone = fit.steps[step].change.test, fit.steps[step].joint[term]
            named.append(f"{label(study, term)} (alone {written_or_why(alone)}; its block {written_or_why(block)})")
    return f"The joint tests of these sets and those of their blocks disagree: {'; '.join(named)}."
