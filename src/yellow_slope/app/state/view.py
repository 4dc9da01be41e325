"""The view: all that a widget may read of the newest results, computed off the interface thread."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.bygroup import by_group
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import NOW, Resampling
from yellow_slope.core.flags import Flag, told_flags
from yellow_slope.core.probe.asking import default_probe
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader, reader


@dataclass(frozen=True, slots=True, eq=False)
class View:
    """A study with its evaluation, flags and current probe."""

    evaluation: Evaluation
    flags: tuple[Flag, ...]
    dismissed: tuple[tuple[Flag, str], ...] = ()
    """Flags that were put aside, each with its reason."""
    probed: Probed | None = None
    refusal: str = ""
    """Why the current probe has no answer."""
    is_probed: bool = True
    """Whether the current probe was asked; while nobody sees its answer it is not."""
    groups: GroupReader | None = None
    """One model per group, where the current model asks for it."""
    groups_refusal: str = ""
    """Why there is none."""

    @property
    def study(self) -> Study:
        """The study that is shown."""
        return self.evaluation.study

    @property
    def fit(self) -> Fit | None:
        """The current model's fit; None while there is nothing to fit."""
        return self.evaluation.fit

    @property
    def is_waiting(self) -> bool:
        """Whether a bootstrap is still to be drawn."""
        return any(isinstance(fit, Fit) and fit.is_waiting for fit in self.evaluation.fits.values())

    @property
    def reader(self) -> Reader | None:
        """Puts the numbers into words; None while nothing is fitted."""
        return reader(self.evaluation)

    def flag(self, key: FlagKey | None) -> Flag | None:
        """The flag of that key, if it is raised."""
        return next((flag for flag in self.flags if flag.key == key), None)


def view_of(
    study: Study,
    before: View | None = None,
    worthless: Callable[[], bool] = lambda: False,
    resampling: Resampling = NOW,
    probing: bool = True,
) -> View | None:
    """Evaluate, look for flags, probe; None as soon as a newer study has made this worthless.

    `before`: an earlier view, whose fits are taken over where nothing that concerns them has changed.
    `resampling`: whether bootstraps that take a while are drawn now; without, the view waits for them.
    `probing`: whether somebody sees the current probe's answer.
    """
    if before is not None and before.is_probed >= probing and _looks_alone(before.study, study):
        return replace(before, evaluation=replace(before.evaluation, study=study))
    evaluation = evaluate(study, before.evaluation if before is not None else None, resampling)
    if worthless():
        return None
    probed, refusal = None, ""
    probe, fit = default_probe(study, evaluation.fit), evaluation.fit
    same = before is not None and before.fit is fit and before.probed is not None and before.probed.probe == probe
    if before is not None and same and before.study.variables is study.variables:
        probed, probing = before.probed, True
    elif probing and probe is not None and fit is not None:
        try:
            probed = probe_fit(study, fit, probe)
        except YellowSlopeError as error:
            refusal = str(error)
    if worthless():
        return None
    groups, groups_refusal = _groups(study, fit, before)
    if worthless():
        return None
    flags, dismissed = told_flags(evaluation)
    return View(evaluation, flags, dismissed, probed, refusal, probing, groups, groups_refusal)


def _looks_alone(before: Study, study: Study) -> bool:
    """Whether two studies differ in how figures look, in nothing that a result rests on."""
    alike = replace(before, figures=study.figures, report=study.report)
    return before is not study and alike.says_as(study)


def answer_of(view: View) -> Probed | None:
    """The current probe's answer, asked now if it was not; None where there is nothing to ask."""
    probe = default_probe(view.study, view.fit)
    if view.is_probed or probe is None or view.fit is None:
        return view.probed
    return probe_fit(view.study, view.fit, probe)


def _groups(study: Study, fit: Fit | None, before: View | None) -> tuple[GroupReader | None, str]:
    """One model per group; taken over from an earlier view where only names have changed."""
    by = study.model.by
    if by is None or fit is None:
        return None, ""
    old = before.groups if before is not None else None
    if (
        old is not None
        and old.fit is fit
        and old.found.variable == by
        and old.study.columns.levels(by) is study.columns.levels(by)
    ):
        return GroupReader(study, fit, old.found), ""
    try:
        return GroupReader(study, fit, by_group(study, study.model, fit)), ""
    except YellowSlopeError as error:
        return None, str(error)
