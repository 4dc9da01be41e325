"""The waypoint Checks: residuals by predicted values and normal quantiles, one large and the other in the filmstrip."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from yellow_slope.app.checks.plots import CheckPlot
from yellow_slope.app.figures.drawn import Drawn, Size, screen_look
from yellow_slope.app.figures.painter import image_of
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.widgets.following import Bench
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.fit.asked.diagnosis import Diagnosis, diagnose
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.sentences.leftout import left_out_sentence
from yellow_slope.core.words.sentences.residuals import residual_sentence
from yellow_slope.looks import SIZES
from yellow_slope.plots.checks import Check, can_be_drawn, check_page
from yellow_slope.plots.titles import outcome_title

SMALL_TEXT = 10.5


NO_MODEL = "Enter a model at Blocks; its residuals appear here."
PERFECT = "Residuals cannot be studentized: the fit is perfect, or every case has leverage 1."


@dataclass(frozen=True, slots=True, eq=False)
class Diagnosed:
    """The diagnosis of a step, and what it says."""

    fit: Fit
    step: int
    product: Term | None
    diagnosis: Diagnosis
    sentence: str


def diagnosed(study: Study, fit: Fit, step: int, product: Term | None) -> Diagnosed:
    """Diagnose a step and put it into words: the residuals, and what the product would be without any one case."""
    found = diagnose(fit, step)
    said = residual_sentence(study, fit, found)
    if product is not None:
        said = f"{said} {left_out_sentence(study, fit, step, product)}".strip()
    return Diagnosed(fit, step, product, found, said)


class ChecksBench(Bench):
    """Is the model one to be believed?"""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(session, worker, Lane.CHECKS, parent)
        self.title = QLabel()
        self.title.setObjectName("title")
        self.step = Picker[int]("Step", "The step whose residuals are shown")
        self.step.whenever_chosen(lambda step: session.look(open_step=step))
        self.large = CheckPlot(Check.SPREAD)
        self.small = {check: CheckPlot(check, small=True) for check in Check}
        strip = QVBoxLayout()
        strip.setSpacing(10)
        for check, plot in self.small.items():
            plot.setFixedSize(236, 176)
            plot.clicked.connect(partial(self.show_check, check))
            strip.addWidget(plot)
        self.large.resized.connect(self._told)
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
        self._found: Diagnosed | None = None
        self.follow(session, Topic.RESULTS, Topic.ROW, Topic.THEME)
        self.show_check(Check.SPREAD)

    @property
    def main_part(self) -> QWidget:
        return self.small[Check.SPREAD]

    def show_check(self, check: Check) -> None:
        """Make one plot the large one."""
        self.large.check = check
        self.title.setText(check.question)
        for which, plot in self.small.items():
            plot.current = which is check
            plot.update()
        self._told()

    def _show_frame(self, there: bool) -> None:
        """The question, the step and the filmstrip stand there where there is something to look at."""
        for widget in (self.title, self.step, *self.small.values()):
            widget.setVisible(there)

    def renew(self) -> None:
        """Have the open step diagnosed and drawn, off the interface thread."""
        view = self.session.view
        fit = view.fit if view is not None else None
        if view is None or fit is None:
            self.step.set_choices([], None, "no step")
            self._key, self._found = None, None
            for plot in (self.large, *self.small.values()):
                plot.say(NO_MODEL)
            self._show_frame(False)
            return
        self._show_frame(True)
        step = self.session.desk.step(view.study.model)
        self.step.set_choices([(i, f"step {i + 1}") for i in range(len(fit.steps))], step)
        plots, look = (self.large, *self.small.values()), screen_look()
        wanted = tuple((plot.check, plot.size_of_plot, plot.small) for plot in plots)
        outcome = outcome_title(view.study, view.study.model)
        product = self.session.chosen_product()
        key = (fit, step, wanted, look, outcome, product, view.study.variables)
        if key == self._key:
            return
        self._key = key
        known = self._found
        if known is not None and (known.fit, known.step, known.product) != (fit, step, product):
            known = None
        study = view.study

        def draw(found: Diagnosis, check: Check, size: Size, small: bool) -> Drawn | None:
            if not can_be_drawn(check, found):
                return None
            shown = replace(look, text=SMALL_TEXT) if small else look
            page = check_page(check, found, outcome, shown, size.width, size.height, small)
            return Drawn(key, page, image_of(page, size.ratio))

        def work(job: Job) -> tuple[Diagnosed, list[Drawn | None]]:
            found = known or diagnosed(study, fit, step, product)
            pictures = []
            for each in wanted:
                job.go_on()
                pictures.append(draw(found.diagnosis, *each))
            return found, pictures

        def done(result: tuple[Diagnosed, list[Drawn | None]]) -> None:
            if key == self._key:
                self._show(*result)

        self.worker.newest(self.lane, work, done, self.session.say)

    def _show(self, found: Diagnosed, pictures: list[Drawn | None]) -> None:
        is_new = found is not self._found
        self._found, self.session.residuals = found, found.sentence
        for plot, picture in zip((self.large, *self.small.values()), pictures):
            if picture is None:
                plot.say(PERFECT)
            else:
                plot.show_drawn(picture, found.diagnosis, found.fit.cases.rows)
        if is_new:
            self.session.look_again()
