"""Figures of the study: made of what is seen, tuned, copied, thrown away."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QByteArray, QMimeData
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.view import View, answer_of
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import FileError, StudyError
from yellow_slope.core.figured.subjects import comparison_id, own_letters, subject_of, usual_name
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.figures import add_figure, drop_figure, free_name, move_figure, tune_figure
from yellow_slope.core.study.figures import (
    Figure,
    FigureLook,
    FigureSize,
    ProbeShown,
    Shown,
    ShowsCheck,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
)
from yellow_slope.core.study.figuretext import read_size
from yellow_slope.core.study.probe import Probe
from yellow_slope.values import replace


class Figuring:
    """What is seen becomes a figure; a figure of the study is one's own."""

    def __init__(self, session: StudySession, worker: Worker, dialogs: Dialogs) -> None:
        self.session, self.worker, self.dialogs = session, worker, dialogs
        self.further: list[tuple[str, Callable[[], object]]] = [
            ("rename …", self.rename),
            ("make another like it", self.double),
            ("earlier in the list", self.earlier),
            ("later in the list", self.later),
            ("save its look for all studies …", self.save_look),
            ("delete", self.throw_away),
        ]
        self._own_looks: tuple[FigureLook, ...] | None = None

    # ---- what is there

    def is_tuning(self) -> bool:
        """Whether a figure is tuned."""
        return self.figure() is not None

    def has_figures(self) -> bool:
        """Whether the study has figures."""
        return bool(self.session.study.figures)

    def figure(self) -> Figure | None:
        """The figure that is tuned; None where none is."""
        study, desk = self.session.study, self.session.desk
        if desk.waypoint is not Waypoint.REPORT:
            return None
        return next((f for f in study.figures if f.name == desk.figure), None)

    def own_looks(self) -> tuple[FigureLook, ...]:
        """Looks that were saved; read once, and anew when one is saved."""
        from yellow_slope.files.written.ownlooks import own_looks

        if self._own_looks is None:
            self._own_looks = own_looks()
        return self._own_looks

    def seen(self) -> tuple[Shown, Probe | None] | None:
        """What a figure of what is seen would show, and the probe that the study may not ask yet; None where there is
        nothing to draw."""
        session, view = self.session, self.session.view
        if view is None or view.fit is None:
            return None
        desk, study = session.desk, session.study
        match desk.waypoint:
            case Waypoint.CHECKS:
                steps = study.model.steps
                step = steps[desk.step(study.model)].id if steps else None
                check = session.shown_check()
                return ShowsCheck(check, step=step, by=desk.along if check is Check.SPREAD else None), None
            case Waypoint.BLOCKS:
                return ShowsSteps(), None
            case Waypoint.DATA | Waypoint.PREPARE:
                variable = next((v for v in study.variables if v.name == desk.variable), None)
                if variable is not None and variable.kind is Kind.GROUP and variable.name != study.model.outcome:
                    return ShowsGroup(variable.name), None
        return self._probe_seen(view)

    def _probe_seen(self, view: View) -> tuple[Shown, Probe | None] | None:
        probe, desk = self.session.current_probe(), self.session.desk
        if probe is None:
            return None
        shown = desk.probe_view if desk.waypoint is Waypoint.PROBE else ProbeShown.BOTH
        comparison, answer = "", view.probed
        if answer is not None and isinstance(answer.focal, GroupBasis) and desk.seen.focus:
            comparison = comparison_id(answer.focal, desk.seen.of(answer).focus)
        return ShowsProbe.of(probe, shown, comparison), probe

    # ---- making, tuning, leaving

    @action(
        "make a figure of this",
        "Make a figure of what is shown and tune it: words, lines, axes, size; it is kept in the study",
        "Ctrl+Shift+G",
        menu=Menu.STUDY,
        available="session.is_open",
    )
    def make(self) -> None:
        """A figure of what is seen, opened for tuning."""
        found, study = self.seen(), self.session.study
        if found is None:
            self.session.say("There is nothing to draw yet: a model with a product, a check or a group makes a figure.")
            return
        shows, probe = found
        figure = Figure("", shows, letters=own_letters(study))
        figure = replace(figure, name=free_name(study, usual_name(study, figure)))
        if self.session.edit("make a figure", lambda s: add_figure(s, figure, probe)):
            self.tune(figure.name)

    @action(
        "tune a figure",
        "Go to the study's figures and tune one",
        "Ctrl+Shift+J",
        menu=Menu.STUDY,
        available="has_figures",
    )
    def tune_one(self) -> None:
        """The figure that was tuned last, else the first."""
        study = self.session.study
        if study.figures:
            names = [f.name for f in study.figures]
            at = names.index(self.session.desk.figure) if self.session.desk.figure in names else -1
            here = self.session.desk.waypoint is Waypoint.REPORT
            self.tune(names[(at + 1) % len(names)] if here or at < 0 else names[at])

    def tune(self, name: str) -> None:
        """Tune the figure of that name."""
        self.session.look(waypoint=Waypoint.REPORT, figure=name, part=None)

    @action("leave the figure", "Back from a figure that is tuned to the report", available="is_tuning")
    def leave(self) -> None:
        """Back to the report."""
        self.session.look(figure=None, part=None)

    # ---- with the figure as a whole

    @action("rename the figure", "Give the figure another name", available="is_tuning")
    def rename(self) -> None:
        """Ask for another name."""
        figure = self.figure()
        if figure is None:
            return
        said = self.dialogs.text("Rename the figure", "Its name, as the list and commands know it:", figure.name)
        if said is None:
            return
        new = replace(figure, name=" ".join(said.split()))
        if self.session.edit("rename a figure", lambda s: tune_figure(s, figure.name, new)):
            self.tune(new.name)

    def double(self) -> None:
        """Another figure like it."""
        figure, study = self.figure(), self.session.study
        if figure is not None:
            other = replace(figure, name=free_name(study, figure.name))
            if self.session.edit("make another figure", lambda s: add_figure(s, other)):
                self.tune(other.name)

    def earlier(self) -> None:
        """Earlier in the list."""
        self._move(-1)

    def later(self) -> None:
        """Later in the list."""
        self._move(1)

    def _move(self, by: int) -> None:
        figure = self.figure()
        if figure is not None and not self.session.edit("move a figure", lambda s: move_figure(s, figure.name, by)):
            self.session.say("It is there already.")

    @action("delete the figure", "Delete the figure from the study", available="is_tuning")
    def throw_away(self) -> None:
        """Take the figure out of the study; undo brings it back."""
        figure = self.figure()
        if figure is not None:
            self.session.edit("delete a figure", lambda s: drop_figure(s, figure.name))

    def ask_size(self) -> FigureSize | None:
        """A size that somebody types; None where it was given up or cannot be."""
        said = self.dialogs.text("Size of the figure", "Width, or width x height, in cm or in:", "12 x 8 cm")
        if said is None:
            return None
        try:
            return read_size(said)
        except StudyError as error:
            self.session.say(str(error))
            return None

    def save_look(self) -> None:
        """Keep the look with the letters of this figure, for all studies."""
        from yellow_slope.files.written.ownlooks import save_look

        figure = self.figure()
        if figure is None:
            return
        said = self.dialogs.text("Save the look", "The name of the look, for all studies:", "my look")
        if said is None:
            return
        look = replace(figure.look, name=" ".join(said.split()), letters=figure.points, size=figure.size)
        try:
            save_look(look)
        except FileError as error:
            self.session.say(str(error))
            return
        self._own_looks = None
        new = replace(figure, look=look, letters=None)
        self.session.edit(
            "look of the figure", lambda s: tune_figure(s, figure.name, new), say=f"Saved: “{look.name}”."
        )

    @action(
        "copy the figure",
        "Copy the figure to the clipboard, as a picture and as SVG",
        "Ctrl+Shift+Y",
        menu=Menu.STUDY,
        available="session.is_open",
    )
    def copy(self) -> None:
        """Copy the figure that is tuned, else one of what is seen."""
        view, figure = self.session.view, self.meant()
        if view is None or figure is None:
            self.session.say("There is nothing to draw yet.")
            return

        def work(job: Job) -> tuple[bytes, bytes]:
            from pathlib import Path

            from yellow_slope.report.figures import FigureFile, drawn_figure

            drawn = drawn_figure(figure, subject_of(view.evaluation, figure.shows, answer_of(view)))
            job.go_on()
            png = FigureFile(Path("figure.png"), 300).content(drawn)
            job.go_on()
            return png, FigureFile(Path("figure.svg")).content(drawn)

        self.worker.in_order("copying the figure", work, lambda both: self._copied(*both), self.session.say)

    def _copied(self, png: bytes, svg: bytes) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            carried = QMimeData()
            carried.setImageData(QImage.fromData(png))
            carried.setData("image/png", QByteArray(png))
            carried.setData("image/svg+xml", QByteArray(svg))
            clipboard.setMimeData(carried)
            self.session.say("Copied: the figure as a picture of 300 dpi and as SVG.")

    def meant(self) -> Figure | None:
        """The figure that is tuned; else the one of the study that shows what is seen, else a plain one of it."""
        tuned, found, study = self.figure(), self.seen(), self.session.study
        if tuned is not None or found is None:
            return tuned
        own = [f for f in study.figures if f.shows == found[0]]
        if len(own) == 1:
            return own[0]
        return Figure("figure", found[0], letters=own_letters(study))
