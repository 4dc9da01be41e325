"""Cases lost for missing values, and by which variable."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.words.sentences.samples import sample_sentence
from yellow_slope.core.words.spelling.numerals import counted


def lost_cases(evaluation: Evaluation) -> Iterator[Flag]:
    """Cases of the sample that lack a value on a variable of the model."""
    cases, model = evaluation.cases, evaluation.study.model
    if cases.n_lost == 0 or model.outcome is None or not model.blocks:
        return
    title = f"{counted(cases.n_lost, 'case')} excluded for missing values"
    yield Flag(FlagKey(FlagKind.LOST), title, lambda: _told(evaluation))


def _told(evaluation: Evaluation) -> tuple[str, tuple[Remedy, ...]]:
    study = evaluation.study
    predictors = {name for term in study.model.terms for name in term.variables}
    costly = sorted((x for x in evaluation.cases.lost if x.variable in predictors), key=lambda x: -x.only)
    remedies = tuple(
        Remedy(f"Remove {study.variable(x.variable).label} (+{counted(x.only, 'case')})", _without(x.variable))
        for x in costly[:2]
        if x.only > 0
    )
    return sample_sentence(evaluation), remedies


def _without(name: str) -> Edit:
    def edit(study: Study) -> Study:
        return take_out(study, [t for t in study.model.terms if name in t.variables])

    return edit
