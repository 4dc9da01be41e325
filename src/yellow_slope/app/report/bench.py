"""The waypoint Report: the pages as they will be printed."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable

from PyQt6.QtCore import Qt, QUrl, pyqtSignal
from PyQt6.QtGui import QImage, QTextDocument
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from yellow_slope.app.picker import Picker
from yellow_slope.app.session import StudySession
from yellow_slope.core.equation import equation
from yellow_slope.core.evaluate import Evaluation
from yellow_slope.looks import SIZES

FIGURE_WIDTH = 820
log = logging.getLogger(__name__)


class ReportBench(QWidget):
    """Built off the interface thread whenever it is looked at and the results are new."""

    built = pyqtSignal(object, str, list)
    save_wanted = pyqtSignal()
    figure_wanted = pyqtSignal()
    copy_wanted = pyqtSignal(str)

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.page = QTextBrowser()
        self.page.setAccessibleName("The report")
        self.page.setToolTip("The report as it is written to the HTML file")
        self.page.setOpenLinks(False)
        self.page.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.page.document().setDocumentMargin(34)  # type: ignore[union-attr]
        self.state = QLabel()
        self.state.setObjectName("soft")
        self.step = Picker("Step of the equation", "The step whose equation stands in the report")
        self.step.chosen.connect(lambda value: session.look(open_step=int(value)))
        self.buttons: list[QPushButton] = []
        top = QHBoxLayout()
        top.addWidget(self.state, 1)
        label = QLabel("equation of")
        label.setObjectName("soft")
        top.addWidget(label)
        top.addWidget(self.step)
        self.copy_button = self._button("Copy equation", self.copy_equation)
        self.figure_button = self._button("Save figure …", self.figure_wanted.emit)
        self.save_button = self._button("Save report …", self.save_wanted.emit)
        for button in self.buttons:
            top.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 6)
        layout.setSpacing(8)
        layout.addLayout(top)
        layout.addWidget(self.page, 1)
        self._wanted: object = None
        self._shown: object = None
        self.built.connect(self._show)
        for topic in ("results", "desk"):
            session.on(topic, self._renew)

    def _button(self, text: str, run: Callable[[], None]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("chip")
        button.setFixedHeight(30)
        button.setAccessibleName(text.rstrip(" …"))
        button.clicked.connect(lambda: run())
        self.buttons.append(button)
        return button

    @property
    def is_current(self) -> bool:
        """Whether what is shown belongs to the newest results."""
        return self._shown is not None and self._shown == self._wanted

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self._renew()

    def copy_equation(self) -> None:
        """Copy the equation of the chosen step."""
        text = self.equation()
        if text:
            self.copy_wanted.emit(text)

    def equation(self) -> str:
        """The equation of the chosen step; empty while there is none."""
        results = self.session.results
        fit = results.evaluation.fit if results else None
        if fit is None or results is None:
            return ""
        return equation(results.evaluation.study, fit, self._step(len(fit.steps)))

    def _step(self, n: int) -> int:
        chosen = self.session.desk.open_step
        return n - 1 if chosen is None else min(chosen, n - 1)

    def _renew(self) -> None:
        results = self.session.results
        if not self.isVisible() or results is None:
            return
        evaluation = results.evaluation
        n = len(evaluation.fit.steps) if evaluation.fit else 0
        self.step.set_choices(
            [(str(i), f"step {i + 1}") for i in range(n)], str(self._step(n)) if n else None, "no step"
        )
        for button in self.buttons:
            button.setEnabled(n > 0)
        key = (results, self._step(n) if n else None)
        if key == self._wanted:
            return
        self._wanted = key
        self.state.setText("Writing the report …")
        thread = threading.Thread(target=self._build, args=(key, evaluation), name="report", daemon=True)
        thread.start()

    def _build(self, key: tuple[object, int | None], evaluation: Evaluation) -> None:
        try:
            from yellow_slope.report.document import build_report, html_of, pictures

            report = build_report(evaluation, key[1])
            if key == self._wanted:
                self.built.emit(key, html_of(report, on_screen=True), [p.png for p in pictures(report)])
        except RuntimeError:
            return
        except Exception:
            log.exception("the report could not be built")

    def _show(self, key: object, html: str, images: list[bytes]) -> None:
        if key != self._wanted:
            return
        document = self.page.document()
        assert document is not None
        self.page.clear()
        for i, content in enumerate(images, 1):
            image = QImage.fromData(content).scaledToWidth(FIGURE_WIDTH, Qt.TransformationMode.SmoothTransformation)
            document.addResource(QTextDocument.ResourceType.ImageResource.value, QUrl(f"figure-{i}.png"), image)
        self.page.setHtml(html)
        self._shown = key
        self.state.setText("As it will stand in the file")
