"""The waypoint Checks: residuals by predicted values and normal quantiles, one large and the other in the filmstrip."""

from __future__ import annotations

from functools import partial

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from yellow_slope.app.checks.plots import QUESTIONS, CheckPlot
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.fit.asked.diagnosis import Diagnosis, diagnose
from yellow_slope.core.words.sentences.residuals import residual_sentence
from yellow_slope.looks import SIZES


class ChecksBench(QWidget):
    """Is the model one to be believed?"""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._worker = session, worker
        self.title = QLabel()
        self.title.setObjectName("title")
        self.step = Picker("Step", "The step whose residuals are shown")
        self.step.chosen.connect(lambda value: session.look(open_step=int(value)))
        self.large = CheckPlot(QUESTIONS[0])
        self.small = {q: CheckPlot(q, small=True) for q in QUESTIONS}
        strip = QVBoxLayout()
        strip.setSpacing(10)
        for question, plot in self.small.items():
            plot.setFixedSize(236, 176)
            plot.clicked.connect(partial(self.show_question, question))
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
        self._key: object = None
        self._found: Diagnosis | None = None
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

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._renew()

    @property
    def is_current(self) -> bool:
        """Whether what is shown belongs to the newest results."""
        return not self._worker.is_busy("checks")

    def _renew(self) -> None:
        """Have the open step diagnosed, off the interface thread."""
        if not self.isVisible():
            return
        view = self.session.view
        fit = view.fit if view is not None else None
        if view is None or fit is None:
            self.step.set_choices([], None, "no step")
            self._key, self._found = None, None
            self._show()
            return
        step = self.session.desk.step(view.study.model)
        self.step.set_choices([(str(i), f"step {i + 1}") for i in range(len(fit.steps))], str(step))
        key = (fit, step)
        if key == self._key:
            return
        self._key = key

        def work(job: Job) -> tuple[Diagnosis, str]:
            found = diagnose(fit, step)
            job.go_on()
            return found, residual_sentence(fit, found)

        def done(result: tuple[Diagnosis, str]) -> None:
            if key == self._key:
                self._found, self.session.residuals = result
                self._show()
                self.session.look_again()

        self._worker.newest("checks", work, done, self.session.say)

    def _show(self) -> None:
        fit = self.session.view.fit if self.session.view else None
        rows = fit.cases.rows if fit is not None else None
        outcome = ""
        if self.session.view is not None and self.session.view.study.model.outcome is not None:
            study = self.session.view.study
            outcome = study.variable(study.model.outcome or "").label
        for plot in (self.large, *self.small.values()):
            plot.show_diagnosis(self._found, rows, outcome)
