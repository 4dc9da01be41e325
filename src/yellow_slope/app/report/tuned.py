"""What the tuner asks off the interface thread: a figure laid out and drawn."""

from __future__ import annotations

from yellow_slope.app.figures.drawn import Drawn, drawn
from yellow_slope.app.state.asking import Question, is_same
from yellow_slope.app.state.figured import Figured, figured, subject_or_reason
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Job
from yellow_slope.core.figured.subjects import Subject
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.study.figures import Figure, Shown
from yellow_slope.core.study.study import Study
from yellow_slope.values import dataclass, field


@dataclass(frozen=True, slots=True)
class SubjectOf(Question[Subject | str]):
    """What a figure shows, or why it cannot be drawn."""

    lane = Lane.FIGURE
    evaluation: Evaluation
    shows: Shown
    probed: Probed | None
    """The current probe's answer, where it was asked."""

    def answer(self, job: Job) -> Subject | str:
        return subject_or_reason(self.evaluation, self.shows, self.probed)


LEAST_ZOOM, MOST_ZOOM = 0.25, 2.4
Known = tuple[SubjectOf, Subject | str]


@dataclass(frozen=True, slots=True, eq=False)
class Made:
    """A figure as it was drawn, how large, and of what."""

    figured: Figured
    drawn: Drawn | None
    zoom: float
    known: Known


@dataclass(frozen=True, slots=True)
class Tuned(Question[Made]):
    """The figure for the room there is."""

    lane = Lane.FIGURE
    study: Study
    evaluation: Evaluation
    subject: SubjectOf
    figure: Figure
    zoom: float | None
    """None: so that all of it is seen."""
    room: tuple[int, int]
    ratio: float
    known: Known | None = field(compare=False)

    def answer(self, job: Job) -> Made:
        is_known = self.known is not None and is_same(self.known[0], self.subject)
        subject = self.known[1] if self.known is not None and is_known else self.subject.answer(job)
        known = self.subject, subject
        job.go_on()
        made = figured(self.study, self.evaluation, self.figure, subject)
        if made.page is None:
            return Made(made, None, 1.0, known)
        zoom = self.zoom if self.zoom is not None else fitting(made, *self.room)
        return Made(made, drawn(made.page, zoom * self.ratio), zoom, known)


def fitting(found: Figured, width: float, height: float) -> float:
    """How large a page is shown: its whole width, and its height as far as a note has room below."""
    assert found.page is not None
    by_width = width / found.page.width
    by_height = max(160.0, height) / found.page.height
    return float(min(max(min(by_width, by_height), LEAST_ZOOM), MOST_ZOOM))
