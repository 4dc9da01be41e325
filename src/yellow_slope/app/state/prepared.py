"""What Prepare computes of the current variable, off the interface thread: a code card, an overview, what centering
changes."""

from __future__ import annotations

from yellow_slope.app.state.asking import Question
from yellow_slope.app.state.desk import CardView
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Job
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.centering import Centering, centering_of
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.groups.codecard import CodeCard, code_card
from yellow_slope.core.groups.overview import Overview, overview_adjusted, overview_alone
from yellow_slope.core.study.study import Study
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class Prepared:
    """The result for one variable, with the study it belongs to."""

    study: Study
    name: str
    what: CardView
    card: CodeCard | None = None
    overview: Overview | None = None
    centering: Centering | None = None
    refusal: str = ""
    """Why there is nothing to show."""


@dataclass(frozen=True, slots=True)
class Preparing(Question[Prepared]):
    """What a look at a variable shows."""

    lane = Lane.PREPARED
    evaluation: Evaluation
    name: str
    what: CardView
    step: int | None

    def answer(self, job: Job) -> Prepared:
        study, fit, name, what, step = self.evaluation.study, self.evaluation.fit, self.name, self.what, self.step
        model = study.model
        variable = study.variable(name)
        try:
            if variable.kind is Kind.NUMBER:
                found = centering_of(study, model, fit, name) if fit is not None and name in fit.design.bases else None
                return Prepared(study, name, what, centering=found)
            if variable.kind is not Kind.GROUP:
                return Prepared(study, name, what)
            if what == CardView.ADJUSTED and fit is not None and name in fit.design.bases:
                return Prepared(study, name, what, overview=overview_adjusted(fit, name, model.level))
            if what in (CardView.GROUPS, CardView.ADJUSTED):
                return Prepared(study, name, what, overview=overview_alone(study, model, name, fit))
            return Prepared(study, name, what, card=code_card(study, model, name, fit, step))
        except YellowSlopeError as error:
            return Prepared(study, name, what, refusal=str(error))
