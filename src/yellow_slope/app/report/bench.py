"""The waypoint Report: the pages as they will be printed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QUrl, pyqtSignal
from PyQt6.QtGui import QImage, QResizeEvent, QTextDocument
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QStackedWidget, QTextBrowser, QVBoxLayout, QWidget

from yellow_slope.app.report.partslist import PartsList
from yellow_slope.app.report.tuner import FigureTuner
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.exporting import Exporting
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.verbs.reporting import Reporting
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.following import Bench
from yellow_slope.app.widgets.picker import Further, Picker
from yellow_slope.core.study.report import PartKind
from yellow_slope.core.words.sentences.figures import list_name
from yellow_slope.looks import SIZES

FIGURE_WIDTH = 740
ROOM_FOR_PARTS = 700
"""Pixels of bench from which the parts stand beside the pages."""


class ReportBench(Bench):
    """Built off the interface thread whenever it is looked at and the results are new."""

    save_wanted = pyqtSignal()
    figure_wanted = pyqtSignal()

    def __init__(
        self,
        session: StudySession,
        worker: Worker,
        equations: Reporting,
        figuring: Figuring,
        dialogs: Dialogs,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(session, worker, Lane.REPORT, parent)
        self.page = QTextBrowser()
        self.page.setAccessibleName("The report")
        self.page.setToolTip("The report as it is written to the HTML file")
        self.page.setOpenLinks(False)
        self.page.setObjectName("printed")
        self.page.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # A bar that comes and goes would have the page laid out twice.
        self.page.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.page.document().setDocumentMargin(34)  # type: ignore[union-attr]
        self.state = QLabel()
        self.state.setObjectName("soft")
        self.step = Picker[int]("Step that is reported", "The step that equation, sentences and probes speak of")
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
        both.addWidget(self.page, 1)
        both.addWidget(self.parts)
        inside.addLayout(both, 1)
        self.figuring = figuring
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
        if view is None or study is None:
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
        for button in self.buttons:
            button.setEnabled(n > 0)
        self.copy_button.setEnabled(n > 0)
        key = view
        if key == self._wanted:
            return
        self._wanted = key
        self.state.setText("Writing the report …")

        def work(job: Job) -> tuple[str, list[QImage]]:
            from yellow_slope.report.document import build_report, html_of, pictures

            report = build_report(view.evaluation)
            job.go_on()
            return html_of(report, on_screen=True), [_for_the_page(p.png) for p in pictures(report)]

        self.worker.newest(self.lane, work, lambda built: self._show(key, *built), self.state.setText)

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
        """A click on a figure of the study leads to where it is tuned."""
        study = self.session.study
        at = to.fragment().removeprefix("figure-")
        if study is not None and at.isdecimal() and int(at) < len(study.figures):
            self.figuring.tune(study.figures[int(at)].name)

    def _show(self, key: object, html: str, images: list[QImage]) -> None:
        if key != self._wanted:
            return
        document = self.page.document()
        assert document is not None
        for i, image in enumerate(images, 1):
            document.addResource(QTextDocument.ResourceType.ImageResource.value, QUrl(f"figure-{i}.png"), image)
        bar = self.page.verticalScrollBar()
        at = bar.value() if bar is not None and self._shown is not None else 0
        self.page.setHtml(html)
        if bar is not None:
            bar.setValue(at)  # the pages keep their place
        self._shown = key
        self.state.setText("As it will stand in the file")


def _for_the_page(png: bytes) -> QImage:
    return QImage.fromData(png).scaledToWidth(FIGURE_WIDTH, Qt.TransformationMode.SmoothTransformation)
