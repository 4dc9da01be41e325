"""The view: all that a widget may read of the newest results, computed off the interface thread."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import TypeVar

import numpy as np

from yellow_slope.app.state.worker import WRONG, GivenUp
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.bygroup import by_group
from yellow_slope.core.fit.design.cases import Cases
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit, Problem
from yellow_slope.core.fit.fitted.steps import NOW, Resampling
from yellow_slope.core.flags import Flag, told_flags
from yellow_slope.core.probe.asking import default_probe
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader, reader
from yellow_slope.values import dataclass, replace

log = logging.getLogger(__name__)
Found = TypeVar("Found")


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
    evaluation = _evaluated(study, before, resampling)
    if worthless():
        return None
    probed, refusal = None, ""
    probe, fit = default_probe(study, evaluation.fit), evaluation.fit
    same = before is not None and before.fit is fit and before.probed is not None and before.probed.probe == probe
    if before is not None and same and before.study.variables is study.variables:
        probed, probing = before.probed, True
    elif probing and probe is not None and fit is not None:
        probed, refusal = tried(lambda: probe_fit(study, fit, probe))
    if worthless():
        return None
    groups, groups_refusal = _groups(study, fit, before)
    if worthless():
        return None
    told, _ = tried(lambda: told_flags(evaluation))
    flags, dismissed = told or ((), ())
    return View(evaluation, flags, dismissed, probed, refusal, probing, groups, groups_refusal)


def tried(find: Callable[[], Found]) -> tuple[Found | None, str]:
    """What is found, or why it is not: what a user can mend in its own sentence, a mistake of the program logged. One
    part that fails leaves the others standing."""
    try:
        return find(), ""
    except YellowSlopeError as error:
        return None, str(error)
    except GivenUp:
        raise
    except Exception:
        log.exception("failed to find a part of what is shown")
        return None, WRONG


def _evaluated(study: Study, before: View | None, resampling: Resampling) -> Evaluation:
    """The evaluation; of a study that the program fails at one that says so."""
    found, said = tried(lambda: evaluate(study, before.evaluation if before is not None else None, resampling))
    if found is not None:
        return found
    rows = np.arange(study.table.n_rows, dtype=np.int64)
    nothing = Problem(Cases(rows.size, 0, 0, rows, ()), said)
    return Evaluation(study, {model.id: nothing for model in study.models}, {})


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
    return tried(lambda: GroupReader(study, fit, by_group(study, study.model, fit)))
