"""Which step is reported, and its equation copied as text, as LaTeX or as a picture."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.core.study.edits.models import set_reported
from yellow_slope.core.words.sentences.equation import equation, latex

if TYPE_CHECKING:
    from yellow_slope.app.state.view import View
    from yellow_slope.core.fit.fitted.fit import Fit
    from yellow_slope.core.study.study import Study


class Reporting:
    """`copy` and `copy_picture` put something on the clipboard."""

    def __init__(
        self, session: StudySession, worker: Worker, copy: Callable[[str], None], copy_picture: Callable[[bytes], None]
    ) -> None:
        self.session, self._worker, self._copy, self._copy_picture = session, worker, copy, copy_picture

    def has_fit(self) -> bool:
        """Whether there is a step to report."""
        return self._shown() is not None

    def _shown(self) -> View | None:
        view = self.session.view
        return view if view is not None and view.fit is not None else None

    @action(
        "report this step",
        "Base equation, sentences, report and probes on the open step",
        "Ctrl+Shift+R",
        menu=Menu.TERM,
        available="has_fit",
    )
    def report_step(self) -> None:
        """The open step becomes the reported one; the last one is the default."""
        study, view = self.session.study, self._shown()
        if view is None or not study.model.steps:
            return
        self.choose_step(self.session.desk.step(study.model))

    def choose_step(self, step: int) -> None:
        """Report that step."""
        study = self.session.study
        if not 0 <= step < len(study.model.steps):
            return
        block = None if step == len(study.model.steps) - 1 else study.model.steps[step].id
        if self.session.edit(f"report step {step + 1}", lambda s: set_reported(s, block)):
            self.session.look(open_step=None)
            self.session.say(f"Step {step + 1} is now the reported step of equation, report and probes.")
        else:
            self.session.say(f"Step {step + 1} is the reported step already.")

    @action("copy the equation", "Copy the equation of the reported step as text", "Ctrl+Shift+Q", available="has_fit")
    def copy_text(self) -> None:
        """Copy the equation as text."""
        self._copy_written(equation)

    @action("copy the equation as LaTeX", "Copy the equation of the reported step in LaTeX", available="has_fit")
    def copy_latex(self) -> None:
        """Copy the equation in LaTeX."""
        self._copy_written(latex)

    def _copy_written(self, written: Callable[[Study, Fit, int], str]) -> None:
        """Copy the equation, written off the interface thread: it may have a thousand terms."""
        view = self._shown()
        if view is None or view.fit is None:
            return
        study, fit = view.study, view.fit
        self._worker.newest(
            Lane.EQUATION, lambda job: written(study, fit, study.model.reported_step), self._copy, self.session.say
        )

    @action(
        "copy the equation as a picture",
        "Copy the equation of the reported step as a picture of 300 dpi",
        available="has_fit",
    )
    def copy_picture(self) -> None:
        """Copy a picture of the equation, drawn off the interface thread."""
        view = self._shown()
        if view is None or view.fit is None:
            return
        study, fit = view.study, view.fit

        def work(job: Job) -> bytes:
            from yellow_slope.report.figures import equation_picture

            return equation_picture(study, fit, study.model.reported_step)

        self._worker.newest(Lane.EQUATION, work, self._copy_picture, self.session.say)
