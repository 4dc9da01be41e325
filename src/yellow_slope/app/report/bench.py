"""The waypoint Report: the pages as they will be printed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QUrl, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from yellow_slope.app.report.findinpages import FindInPages
from yellow_slope.app.report.pages import Pages, Piece
from yellow_slope.app.report.partslist import PartsList
from yellow_slope.app.report.tablecopy import copy_numbers, copy_table
from yellow_slope.app.report.tuner import FigureTuner
from yellow_slope.app.report.written import Written, WrittenPiece, write_pages
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.exporting import Exporting
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.verbs.nextsteps import next_steps
from yellow_slope.app.verbs.reporting import Reporting
from yellow_slope.app.verbs.sources import Sources
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.following import Bench
from yellow_slope.app.widgets.nextsteps import NextSteps
from yellow_slope.app.widgets.picker import Further, Picker
from yellow_slope.core.study.report import PartKind
from yellow_slope.core.words.sentences.figures import list_name
from yellow_slope.looks import SIZES

ROOM_FOR_PARTS = 700
"""Pixels of bench from which the parts stand beside the pages."""


class ReportBench(Bench):
    """Built off the interface thread whenever it is looked at and the results are new."""

    save_wanted = pyqtSignal()
    figure_wanted = pyqtSignal()
    table_wanted = pyqtSignal(object, int)
    """A table that is to be saved, and its number."""

    def __init__(
        self,
        session: StudySession,
        worker: Worker,
        equations: Reporting,
        figuring: Figuring,
        sources: Sources,
        dialogs: Dialogs,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(session, worker, Lane.REPORT, parent)
        self.page = Pages()
        self.found = FindInPages(self.page)
        self.next = NextSteps(self.page)
        self.state = QLabel()
        self.state.setObjectName("soft")
        self.step = Picker[int]("Step that is reported", "The step described by equation, sentences and probes")
        self.step.whenever_chosen(equations.choose_step)
        self.buttons: list[QPushButton] = []
        top = QHBoxLayout()
        top.addWidget(self.state, 1)
        label = QLabel("reporting")
        label.setObjectName("soft")
        top.addWidget(label)
        top.addWidget(self.step)
        self.copy_button = Picker[Callable[[], None]]("Copy the equation", "Copy the equation of the reported step")
        forms = [
            (equations.copy_text, "as text"),
            (equations.copy_latex, "as LaTeX"),
            (equations.copy_picture, "as a picture"),
        ]
        self.copy_button.set_choices(forms, None, "Copy equation")
        self.copy_button.whenever_chosen(lambda copy: copy())
        top.addWidget(self.copy_button)
        self.figures = Picker[str | Further]("Figures of the study", "Tune a figure of the study, or make one")
        self.figures.caption = "Figures"
        self.figures.whenever_chosen(self._choose_figure)
        top.addWidget(self.figures)
        self.figure_button = self._button("Save figure …", self.figure_wanted.emit)
        self.save_button = self._button("Save report …", self.save_wanted.emit)
        for button in self.buttons:
            top.addWidget(button)
        printed = QWidget()
        inside = QVBoxLayout(printed)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(8)
        inside.addLayout(top)
        self.parts = PartsList(session, dialogs)
        self.parts.gone_to.connect(self._go_to)
        both = QHBoxLayout()
        both.setSpacing(8)
        pages = QVBoxLayout()
        pages.setSpacing(6)
        pages.addWidget(self.page, 1)
        pages.addWidget(self.found)
        both.addLayout(pages, 1)
        both.addWidget(self.parts)
        inside.addLayout(both, 1)
        self.figuring, self.sources = figuring, sources
        self._written, self._coming = Written(), Written()
        self.tuner = FigureTuner(session, worker, figuring)
        self.stack = QStackedWidget()
        self.stack.addWidget(printed)
        self.stack.addWidget(self.tuner)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 6)
        layout.addWidget(self.stack)
        self._wanted: object = None
        self._shown: object = None
        self.page.anchorClicked.connect(self._follow_link)
        self.follow(session, Topic.RESULTS, Topic.FIGURE)

    def _button(self, text: str, run: Callable[[], None]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("chip")
        button.setFixedHeight(30)
        button.setAccessibleName(text.rstrip(" …"))
        button.clicked.connect(lambda _=False: run())
        self.buttons.append(button)
        return button

    @property
    def is_current(self) -> bool:
        """Whether what is shown belongs to the newest results."""
        if self.session.desk.figure is not None:
            return self.tuner.is_current
        return self._shown is not None and self._shown == self._wanted

    @property
    def main_part(self) -> QWidget:
        return self.page if self.session.desk.figure is None else self.tuner.canvas

    def offers(self) -> list[tuple[str, Callable[..., object]]]:
        view = self.session.view
        if self.session.desk.figure is not None:
            return [
                ("Copy figure", Figuring.copy),
                ("Save figure …", Exporting.export_figure),
                ("Done", Figuring.leave),
            ]
        return [("Copy equation", Reporting.copy_text)] if view is not None and view.fit is not None else []

    def renew(self) -> None:
        view, study = self.session.view, self.session.study
        if view is None:
            return
        tuning = self.session.desk.figure is not None
        self.stack.setCurrentWidget(self.tuner if tuning else self.stack.widget(0))
        if tuning:
            return
        self.parts.renew()
        choices: list[tuple[str | Further, str]] = [(f.name, list_name(view.evaluation, f)) for f in study.figures]
        self.figures.set_choices([*choices, (Further.ASK, "make a figure of the probe")], None)
        n = len(view.fit.steps) if view.fit else 0
        step = view.study.model.reported_step if n else None
        self.step.set_choices([(i, f"step {i + 1}") for i in range(n)], step, "no step")
        self.next.offer(next_steps(self.session) if view.fit is None else [])
        for button in self.buttons:
            button.setEnabled(n > 0)
        self.copy_button.setEnabled(n > 0)
        key = view
        if key == self._wanted:
            self._show_sought()
            return
        self._wanted = key
        self.state.setText("Writing the report …")

        self.page.begin()
        self._coming = Written()

        def work(job: Job) -> None:
            write_pages(view.evaluation, job.give)

        self.worker.newest(
            self.lane, work, lambda _: self._complete(key), self.state.setText, lambda piece: self._take(key, piece)
        )

    def _choose_figure(self, name: str | Further) -> None:
        if isinstance(name, str):
            self.figuring.tune(name)
        else:
            self.figuring.make()

    def _go_to(self, part: PartKind) -> None:
        """Show where a part begins."""
        self.page.scrollToAnchor(f"part-{part.name}")

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.parts.setVisible(self.width() >= ROOM_FOR_PARTS)

    def _follow_link(self, to: QUrl) -> None:
        """A click on a figure of the study leads to where it is tuned, on a number to where it is made, below a table
        to its copy or file."""
        study = self.session.study
        what, _, number = to.fragment().partition("-")
        if not number.isdecimal():
            return
        at = int(number)
        match what:
            case "figure" if at < len(study.figures):
                self.figuring.tune(study.figures[at].name)
            case "to":
                origin = self._written.origin(at)
                if origin is not None:
                    self.sources.lead_to(origin)
            case "copy" if 0 < at <= len(self._written.tables):
                copy_table(self._written.tables[at - 1])
                self.session.say(f"Table {at} is on the clipboard, as a table.")
            case "numbers" if 0 < at <= len(self._written.tables):
                copy_numbers(self._written.tables[at - 1])
                self.session.say(f"The numbers of table {at} are on the clipboard, at full precision.")
            case "save" if 0 < at <= len(self._written.tables):
                self.table_wanted.emit(self._written.tables[at - 1], at)

    def _take(self, key: object, piece: WrittenPiece) -> None:
        if key != self._wanted:
            return
        self._coming.tables += piece.tables
        self._coming.numbers = piece.numbers
        self.page.take(Piece(piece.html, tuple(piece.images)))
        self._written = self._coming

    def _complete(self, key: object) -> None:
        if key != self._wanted:
            return
        self.page.complete()
        self._written = self._coming
        self._shown = key
        self.state.setText("As it will be written to the file")
        self._show_sought()

    def _show_sought(self) -> None:
        """What was looked for from elsewhere in the program."""
        sought = self.session.desk.sought
        if sought is None or not self.is_current:
            return
        self.session.look(sought=None)
        if not self.page.show_place(*self._written.places_of(sought)):
            self.session.say("The report does not print that; the list at its right says which parts it prints.")
