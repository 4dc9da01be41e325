"""The results that a figure shows, found in an evaluation."""

from __future__ import annotations

from typing import assert_never

import numpy as np

from yellow_slope.core.data.variable import by_name
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.groups.overview import Overview, overview_alone
from yellow_slope.core.probe.asking import asked_step, default_probe
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.stand.checked import Checked, checked
from yellow_slope.core.stand.standing import Stand, asked_in, probed_product, whole_stand
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import (
    PAPER,
    AxisKey,
    Figure,
    Pane,
    Shown,
    ShowsCheck,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
)
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.values import dataclass, replace


@dataclass(frozen=True, slots=True, eq=False)
class ProbeSubject:
    """A probe's answer, seen as the figure shows it."""

    study: Study
    sight: Sight
    shows: ShowsProbe


@dataclass(frozen=True, slots=True, eq=False)
class CheckSubject:
    """What is checked of a step, and for its rivals how the product stands."""

    study: Study
    found: Checked
    stand: Stand | None
    shows: ShowsCheck


@dataclass(frozen=True, slots=True, eq=False)
class StepsSubject:
    """A fit with its steps."""

    study: Study
    fit: Fit


@dataclass(frozen=True, slots=True, eq=False)
class GroupSubject:
    """A group's levels compared."""

    study: Study
    overview: Overview


Subject = ProbeSubject | CheckSubject | StepsSubject | GroupSubject


def shown_probe(study: Study, shows: ShowsProbe, fit: Fit | None) -> Probe:
    """The probe that a figure shows: the study's own, the one that opens by itself, or one with no choice of its own.

    fit: of the current model.
    """
    first = default_probe(study, fit)
    known = [*study.probes, *([first] if first is not None else [])]
    return next((probe for probe in known if shows.shows(probe)), shows.plain)


def subject_of(evaluation: Evaluation, shows: Shown, probed: Probed | None = None) -> Subject:
    """What a figure shows. StudyError with the reason where the study has no answer now.

    probed: an answer that is there already; it is taken where it is that of the figure's probe.
    """
    study = evaluation.study
    model = study.model_of(shows.model)
    if model.id != study.current:
        study = replace(study, current=model.id)
    fit = evaluation.of(shows.model)
    if not isinstance(fit, Fit):
        raise StudyError(fit.said)
    match shows:
        case ShowsProbe():
            return _probe(evaluation, study, fit, shows, probed)
        case ShowsCheck():
            return _check(study, fit, shows)
        case ShowsSteps():
            return StepsSubject(study, fit)
        case ShowsGroup(variable):
            return GroupSubject(study, overview_alone(study, model, variable, fit))
        case _:
            assert_never(shows)


def _probe(evaluation: Evaluation, study: Study, fit: Fit, shows: ShowsProbe, probed: Probed | None) -> ProbeSubject:
    asked = shown_probe(evaluation.study, shows, evaluation.fit)
    answer = probed if probed is not None and probed.probe == asked else probe_fit(study, fit, asked)
    return ProbeSubject(study, Sight.of(answer, Seen(focus=comparison_index(answer, shows.comparison))), shows)


def _check(study: Study, fit: Fit, shows: ShowsCheck) -> CheckSubject:
    step = study.model.step_index(shows.step) if shows.step is not None else study.model.reported_step
    step = study.model.reported_step if step < 0 else step
    asked = asked_in(study, step, probed_product(study, fit))
    stand = None
    if shows.check is Check.STAND:
        if asked is None:
            raise StudyError("There is no product in this step to check.")
        stand = whole_stand(study, fit, step, asked)
    return CheckSubject(study, checked(study, fit, step, asked), stand, shows)


def comparison_id(focal: GroupBasis, index: int) -> str:
    """By what a comparison is known: its name, or the codes of the levels that it weighs against each other."""
    found = focal.contrasts[index]
    if found.name:
        return found.name
    above = [code for code, weight in zip(focal.levels, found.weights) if weight > 0]
    below = [code for code, weight in zip(focal.levels, found.weights) if weight < 0]
    return f"{', '.join(above)} - {', '.join(below)}"


def comparison_index(probed: Probed, known: str) -> int:
    """The position of the comparison that is known by that; the first where none is."""
    focal = probed.focal
    if not known or not isinstance(focal, GroupBasis):
        return 0
    ids = [comparison_id(focal, k) for k in range(len(focal.contrasts))]
    return ids.index(known) if known in ids else 0


def has_comparison(probed: Probed, known: str) -> bool:
    """Whether the probe still has the comparison that is known by that."""
    focal = probed.focal
    if not known or not isinstance(focal, GroupBasis):
        return not known
    return known in [comparison_id(focal, k) for k in range(len(focal.contrasts))]


def cases_beyond(evaluation: Evaluation, figure: Figure) -> int:
    """How many of the model's cases lie beyond the ends that a figure's axis of the lines was given."""
    shows = figure.shows
    said = figure.axis(AxisKey(Pane.LINES, False))
    if not isinstance(shows, ShowsProbe) or (said.low is None and said.high is None):
        return 0
    fit = evaluation.of(shows.model)
    if not isinstance(fit, Fit):
        return 0
    along = next((n for n in (shows.focal, shows.moderator) if isinstance(fit.design.bases.get(n), NumberBasis)), None)
    if along is None:
        return 0
    values = np.asarray(fit.values[along], dtype=np.float64)
    slack = 1e-9 * float(np.ptp(values))
    beyond = np.zeros(values.size, dtype=bool)
    if said.low is not None:
        beyond |= values < said.low - slack
    if said.high is not None:
        beyond |= values > said.high + slack
    return int(np.count_nonzero(beyond))


def why_not_now(evaluation: Evaluation, figure: Figure) -> str:
    """Why a figure cannot be drawn now, as far as that is told at once; empty where it can."""
    study, shows = evaluation.study, figure.shows
    fit = evaluation.of(shows.model)
    if not isinstance(fit, Fit):
        return fit.said
    if not isinstance(shows, ShowsProbe):
        return ""
    try:
        asked_step(study, shown_probe(study, shows, evaluation.fit))
    except StudyError as error:
        return str(error)
    return ""


def own_letters(study: Study) -> float | None:
    """The size of letters that figures of a study have, where it is not that of paper: what a new one begins with."""
    return None if study.figure_letters == PAPER.letters else study.figure_letters


def usual_name(study: Study, figure: Figure) -> str:
    """What a figure is called where nobody said: by what it shows."""

    def label(name: str | None) -> str:
        return study.variable(name).short if name is not None else ""

    match figure.shows:
        case ShowsProbe(focal, moderator, second, kept=kept):
            if kept:
                return kept
            along = label(focal) if focal == moderator else f"{label(focal)} {by_name(label(moderator))}"
            return f"{along} and {label(second)}" if second is not None else along
        case ShowsCheck(check):
            return {Check.STAND: "rivals"}.get(check, f"check of {check.value}")
        case ShowsSteps():
            return "coefficients"
        case ShowsGroup(variable):
            return f"means by {label(variable)}"
        case _:
            assert_never(figure.shows)
