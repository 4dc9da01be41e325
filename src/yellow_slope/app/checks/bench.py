"""The waypoint Checks: residuals by predicted values and normal quantiles, one large and the other in the filmstrip."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from yellow_slope.app.checks.plots import QUESTIONS, CheckPlot
from yellow_slope.app.picker import Picker
from yellow_slope.app.session import StudySession
from yellow_slope.core.diagnosis import Diagnosis, diagnose
from yellow_slope.looks import SIZES


class ChecksBench(QWidget):
    """Is the model one to be believed?"""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.title = QLabel()
        self.title.setObjectName("title")
        self.step = Picker("Step", "The step whose residuals are shown")
        self.step.chosen.connect(lambda value: session.look(open_step=int(value)))
        self.large = CheckPlot(session, QUESTIONS[0])
        self.small = {q: CheckPlot(session, q, small=True) for q in QUESTIONS}
        strip = QVBoxLayout()
        strip.setSpacing(10)
        for question, plot in self.small.items():
            plot.setFixedSize(236, 176)
            plot.clicked.connect(lambda q=question: self.show_question(q))
            strip.addWidget(plot)
        strip.addStretch(1)
        top = QHBoxLayout()
        top.addWidget(self.title, 1)
        top.addWidget(self.step)
        body = QHBoxLayout()
        body.setSpacing(SIZES.margin)
        body.addWidget(self.large, 1)
        body.addLayout(strip)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 8)
        layout.setSpacing(8)
        layout.addLayout(top)
        layout.addLayout(body, 1)
        self._diagnosis: tuple[object, Diagnosis | None] = (None, None)
        for topic in ("results", "desk"):
            session.on(topic, self._renew)
        self.show_question(QUESTIONS[0])

    @property
    def first_plot(self) -> CheckPlot:
        """The first plot of the filmstrip, for the keyboard."""
        return self.small[QUESTIONS[0]]

    def show_question(self, question: str) -> None:
        """Make one plot the large one."""
        self.large.question = question
        self.title.setText(question)
        for name, plot in self.small.items():
            plot.current = name == question
            plot.update()
        self.large.update()

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self._renew()

    def _renew(self) -> None:
        if not self.isVisible():
            return
        results = self.session.results
        fit = results.evaluation.fit if results else None
        if fit is None or results is None:
            found = None
            self.step.set_choices([], None, "no step")
        else:
            last = len(fit.steps) - 1
            step = last if self.session.desk.open_step is None else min(last, self.session.desk.open_step)
            self.step.set_choices([(str(i), f"step {i + 1}") for i in range(last + 1)], str(step))
            key = (results, step)
            if self._diagnosis[0] != key:
                self._diagnosis = (key, diagnose(fit, step))
            found = self._diagnosis[1]
        rows = results.evaluation.sample.rows if results else None
        for plot in (self.large, *self.small.values()):
            plot.show_diagnosis(found, rows)
