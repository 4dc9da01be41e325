"""In words, as in a results section: how predictors were coded, and what each block explained."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import groupby
from typing import assert_never

from yellow_slope.core.fit.asked.r2intervals import R2Interval, change_interval, r2_interval
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.standarderrors import Classical
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.numbers import entered_as
from yellow_slope.core.words.names.terms import some_labels
from yellow_slope.core.words.sentences.errors import errors_sentence
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    bracketed_bounds,
    level_text,
    listed_some,
    p_relation,
    percent,
)
from yellow_slope.core.words.spelling.rich import Rich, Run, rich, sym
from yellow_slope.core.words.spelling.testtexts import written_pieces

MOST_NAMED = 8
SHORT = 20
"""Words of two clauses that stand in one sentence."""
SILENT_STEPS = 3
"""So many steps that add nothing, one after the other, are told together."""

Pieces = list[str | Run | Rich]


def entered_sentences(study: Study, fit: Fit) -> str:
    """How variables enter: numbers by treatment, groups by coding; those that enter as they are are not named."""
    ways: dict[str, list[str]] = {}
    references: list[str] = []
    codings: dict[str, list[str]] = {}
    means = fit.means_columns() if not fit.design.constant else frozenset()
    own = dict.fromkeys(a.variable for j in sorted(means) for a in fit.design.columns[j].atoms)
    for name, basis in fit.design.bases.items():
        variable = study.variable(name)
        if name in own and not isinstance(_coding_of(basis), LevelMeans):
            continue
        if isinstance(basis, NumberBasis):
            said = entered_as(study, basis.treatment)
            if said:
                ways.setdefault(said, []).append(variable.label)
        elif basis.reference is not None:
            level = variable.level(basis.levels[basis.reference]).label
            references.append(f"“{level}” for {variable.label}")
        else:
            codings.setdefault(_coded(basis.coding), []).append(variable.label)
    alone = [study.variable(n).label for n in own if not isinstance(_coding_of(fit.design.bases[n]), LevelMeans)]
    if alone:
        codings.setdefault("entered as level means, without an intercept", []).extend(alone)
    clauses = [f"{listed_some(names, MOST_NAMED)} {_was(names)} {way}" for way, names in (ways | codings).items()]
    found = [f"{capital(_clauses(clauses))}."] if clauses else []
    if references:
        found.append(f"The reference group was {listed_some(references, MOST_NAMED)}.")
    return " ".join(found)


def _was(names: list[str]) -> str:
    return "was" if len(names) == 1 else "were"


def _clauses(texts: list[str]) -> str:
    """Whole clauses: two short ones in one sentence, others as a sentence each."""
    are_short = sum(len(text.split()) for text in texts) <= SHORT
    return f"{texts[0]}, and {texts[1]}" if len(texts) == 2 and are_short else ". ".join(map(capital, texts))


def _coding_of(basis: GroupBasis | NumberBasis) -> Coding | None:
    return basis.coding if isinstance(basis, GroupBasis) else None


def _coded(coding: Coding) -> str:
    """How a group was coded, as a participle."""
    match coding:
        case Dummy():
            return "dummy-coded"
        case Effect():
            return "effect-coded"
        case WeightedEffect():
            return "coded by weighted effects"
        case Adjacent():
            return "coded by differences between adjacent levels"
        case AgainstMean(later):
            return f"coded against the mean of {'later' if later else 'earlier'} levels"
        case Trends():
            return "coded by orthogonal polynomials"
        case Planned():
            return "coded by planned comparisons"
        case LevelMeans():
            return "entered as level means, without an intercept"
        case _:
            assert_never(coding)


def blocks_paragraph(study: Study, fit: Fit) -> Rich:
    """What each block explained, and the model as a whole; a reason why nothing is tested is said once, by the note of
    the standard errors."""
    model = study.model
    untested = not isinstance(model.errors, Classical) and fit.last.inference.why is not None
    reported = fit.steps[: model.reported_step + 1]
    pieces: Pieces = []
    for run in _runs(reported, 1 - model.level):
        told = _none_added(run) if len(run) > 1 else _explained(study, fit, run[0], untested, len(reported) == 1)
        pieces += [*([" "] if pieces else []), *told]
    last = reported[-1]
    if last.index:
        whole = "The final model" if last.index == len(fit.steps) - 1 else f"The model of step {last.index + 1}"
        about = "" if last.about_mean else " about zero"
        pieces.append(f" {whole} explained {_percent(last.r2)} of the variance{about}")
        if not math.isnan(last.adjusted_r2):
            pieces += [", adjusted ", sym("R"), f"² = {_share(last.adjusted_r2)}"]
        pieces.append(".")
    if not isinstance(model.errors, Classical):
        pieces.append(f" {errors_sentence(study, model, fit)}")
    return rich(*pieces)


def _runs(steps: Sequence[StepResult], alpha: float) -> list[list[StepResult]]:
    """The steps, each by itself; many that add nothing significant one after the other together."""
    found: list[list[StepResult]] = []
    for is_silent, run in groupby(steps, key=lambda step: step.index > 0 and step.change.test.p >= alpha):
        together = list(run)
        found += [together] if is_silent and len(together) >= SILENT_STEPS else [[step] for step in together]
    return found


def _none_added(run: list[StepResult]) -> Pieces:
    """“None of steps 2 to 9 explained significantly more (together ΔR² = .05, smallest p = .086).”"""
    share, p = sum(step.change.r2 for step in run), min(step.change.test.p for step in run)
    said = f"None of steps {run[0].index + 1} to {run[-1].index + 1} explained significantly more (together Δ"
    return [said, sym("R"), f"² = {_share(share)}, smallest ", sym("p"), f" {p_relation(p)})."]


def _explained(study: Study, fit: Fit, step: StepResult, untested: bool, is_alone: bool) -> Pieces:
    """What one block explained, with its R² or the change in it, its interval and its test."""
    model, test = study.model, step.change.test
    names = some_labels(study, model.steps[step.index].terms, MOST_NAMED)
    about = "" if step.about_mean else " about zero"
    found: R2Interval
    if step.index == 0:
        variance = f"the variance{about} in {study.variable(model.outcome or '').label}"
        if test.exists and test.p >= 1 - model.level:
            claim = f"{names} did not explain a significant share of {variance}, "
        else:
            claim = f"{names} explained {_percent(step.r2)} of {variance}, "
        said: Pieces = [capital(claim) if is_alone else f"In the first block, {claim}", sym("R"), f"²{about} = "]
        said.append(_share(step.r2))
        if is_alone and not math.isnan(step.adjusted_r2):
            said += [", adjusted ", sym("R"), f"² = {_share(step.adjusted_r2)}"]
        found = r2_interval(fit, model, 0)
    elif test.why is Why.NOTHING:
        return [f"Adding {names} explained nothing beyond the blocks before."]
    else:
        is_more = not (test.exists and test.p >= 1 - model.level)
        more = f"explained another {_percent(step.change.r2)}" if is_more else "did not explain significantly more"
        said = [f"Adding {names} {more}, Δ", sym("R"), f"² = {_share(step.change.r2)}"]
        found = change_interval(fit, model, step.index)
    if not math.isnan(found.low):
        said.append(f", {level_text(model.level)} CI {bracketed_bounds(found.low, found.high)}")
    return [*said, "."] if untested and not test.exists else [*said, ", ", *written_pieces(test), "."]


def _percent(share: float) -> str:
    return "less than 1%" if share < 0.005 else percent(share)


def _share(value: float) -> str:
    """A share with two decimals, three where two would say nothing."""
    return bounded(value, 3) if 0 < abs(value) < 0.005 else bounded(value, 2)
