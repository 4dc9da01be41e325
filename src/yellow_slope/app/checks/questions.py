"""What Checks asks off the interface thread."""

from __future__ import annotations

from yellow_slope.app.checks.plots import Placed
from yellow_slope.app.figures.drawn import Drawn, Size, drawn
from yellow_slope.app.state.asking import Question
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Job
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Resampling
from yellow_slope.core.review.beforeafter import State, StateRow, state_rows, state_sentence, states_of
from yellow_slope.core.stand.checked import Checked, checked
from yellow_slope.core.stand.rivals import OtherErrors
from yellow_slope.core.stand.standing import ProductAsked, Row, Stand, resampled_standing, stand_of
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.checks import answer
from yellow_slope.plots.checks import can_be_drawn, check_page, scatter_of
from yellow_slope.plots.look import Look
from yellow_slope.plots.rivals import stand_page
from yellow_slope.values import dataclass, replace

SMALL_TEXT = 10.5


@dataclass(frozen=True, slots=True)
class Checking(Question[Checked]):
    """What is there to be believed of a step."""

    lane = Lane.CHECKED
    study: Study
    fit: Fit
    step: int
    asked: ProductAsked | None

    def answer(self, job: Job) -> Checked:
        return checked(self.study, self.fit, self.step, self.asked, job.told)


@dataclass(frozen=True, slots=True)
class Rivals(Question[Stand]):
    """How a product stands against its rivals, those aside that are drawn."""

    lane = Lane.STAND
    study: Study
    fit: Fit
    step: int
    asked: ProductAsked

    def answer(self, job: Job) -> Stand:
        return stand_of(self.study, self.fit, self.step, self.asked, job.told)


@dataclass(frozen=True, slots=True)
class DrawnRival(Question[Row]):
    """The rival that is resampled."""

    lane = Lane.DRAWN_RIVAL
    study: Study
    fit: Fit
    step: int
    asked: ProductAsked
    row: Row

    def answer(self, job: Job) -> Row:
        resampling, rival = Resampling(go_on=job.told), self.row.rival
        assert isinstance(rival, OtherErrors)
        found = resampled_standing(self.study, self.fit, self.step, self.asked, rival, resampling)
        return replace(self.row, standing=found)


@dataclass(frozen=True, slots=True, eq=False)
class Beside:
    """The model with other cases, its rows, and what is said of them."""

    states: tuple[State, ...]
    rows: tuple[StateRow, ...]
    said: str


@dataclass(frozen=True, slots=True)
class BesideEachOther(Question[Beside]):
    """The model with all cases, without those set aside, without the lit ones."""

    lane = Lane.BEFORE_AND_AFTER
    study: Study
    step: int
    asked: ProductAsked | None
    lit: tuple[int, ...]

    def answer(self, job: Job) -> Beside:
        states = states_of(self.study, self.step, self.asked, self.lit, job.told)
        rows = state_rows(self.study, self.asked, states)
        return Beside(states, rows, state_sentence(self.study, self.asked, states, rows))


@dataclass(frozen=True, slots=True, eq=False)
class Pages:
    """The pictures of all questions; None where there is none."""

    found: Checked
    small: list[Placed | None]
    large: Placed | None
    rows: Drawn | None


@dataclass(frozen=True, slots=True)
class PagesOf(Question[Pages]):
    """The pictures of what was checked, for the room there is."""

    lane = Lane.CHECKS
    found: Checked
    stand: Stand | None
    shown: Check
    along: str | None
    small: tuple[tuple[Check, Size], ...]
    large: Size
    rows: Size
    look: Look

    def answer(self, job: Job) -> Pages:
        found, stand, look, room = self.found, self.stand, self.look, self.rows
        rows, large = None, None
        if self.shown is not Check.STAND:
            large = self._placed(self.shown, look, self.large, False, self.along)
        elif stand is not None:
            rows = drawn(stand_page(found.study, found.fit, stand, look, room.width, room.height), room.ratio)
        small, less = [], replace(look, text=SMALL_TEXT, unit=look.unit * 0.8)
        for check, size in self.small:
            job.go_on()
            small.append(self._placed(check, less, size, True, None))
        return Pages(found, small, large, rows)

    def _placed(self, check: Check, look: Look, size: Size, is_small: bool, along: str | None) -> Placed | None:
        found, stand = self.found, self.stand
        if not can_be_drawn(check, found, stand, along):
            return None
        page = check_page(check, found, stand, look, size.width, size.height, is_small, along)
        scatter = scatter_of(check, found, along)
        points = page.frames[0].at(scatter.x, scatter.y) if scatter is not None else None
        return Placed.of(check, drawn(page, size.ratio), points, answer(check, found, stand))
