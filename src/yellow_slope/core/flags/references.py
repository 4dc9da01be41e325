"""A reference group nobody chose, and one that no case of the model is in."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits.entries import set_reference
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.words.names.groups import level_label
from yellow_slope.core.words.spelling.numerals import counted


def unchosen_references(evaluation: Evaluation) -> Iterator[Flag]:
    """A reference group nobody chose."""
    for basis, coding in _dummies(evaluation):
        if coding.reference is None:
            title = f"The reference group of {evaluation.study.variable(basis.variable).label} was set by default"
            key = FlagKey(FlagKind.REFERENCE, (basis.variable,))
            yield Flag(key, title, partial(_unchosen, evaluation.study, basis), variable=basis.variable)


def absent_references(evaluation: Evaluation) -> Iterator[Flag]:
    """A chosen reference group that no case of the model is in: another serves."""
    study = evaluation.study
    for basis, coding in _dummies(evaluation):
        if coding.reference is not None and coding.reference not in basis.levels:
            variable = study.variable(basis.variable)
            gone, now = variable.level(coding.reference).label, level_label(study, basis, basis.reference or 0)
            title = f"No case is in “{gone}”, the reference of {variable.label}; “{now}” is used"
            key = FlagKey(FlagKind.ABSENT, (basis.variable,))
            yield Flag(key, title, partial(_absent, study, basis, gone), variable=basis.variable)


def _dummies(evaluation: Evaluation) -> Iterator[tuple[GroupBasis, Dummy]]:
    fit = evaluation.fit
    for basis in fit.design.bases.values() if fit else ():
        if isinstance(basis, GroupBasis) and isinstance(basis.coding, Dummy) and len(basis.levels) > 1:
            yield basis, basis.coding


def _remedies(study: Study, basis: GroupBasis) -> tuple[Remedy, ...]:
    now = basis.reference or 0
    largest = int(np.argmax(basis.counts))
    others = sorted((i for i in range(len(basis.levels)) if i != now), key=lambda i: i != largest)

    def choose(i: int) -> Edit:
        return partial(set_reference, name=basis.variable, code=basis.levels[i])

    kept = Remedy(f"Keep “{level_label(study, basis, now)}”", choose(now))
    return (kept, *(Remedy(f"Take “{level_label(study, basis, i)}”", choose(i)) for i in others[:3]))


def _unchosen(study: Study, basis: GroupBasis) -> tuple[str, tuple[Remedy, ...]]:
    now = basis.reference or 0
    cost = (
        f"Every comparison of {study.variable(basis.variable).label} is with “{level_label(study, basis, now)}” "
        f"({counted(int(basis.counts[now]), 'case')}) only because it comes first."
    )
    return cost, _remedies(study, basis)


def _absent(study: Study, basis: GroupBasis, gone: str) -> tuple[str, tuple[Remedy, ...]]:
    now = level_label(study, basis, basis.reference or 0)
    cost = (
        f"Every comparison of {study.variable(basis.variable).label} is with “{now}” "
        f"because no case of the model is in “{gone}”. With other cases it would be with "
        f"“{gone}” again."
    )
    return cost, _remedies(study, basis)
