"""The plots of Probe, drawn off the interface thread: of one probe, or of two above each other."""

from __future__ import annotations

from yellow_slope.app.figures.drawn import Drawn, Size, drawn
from yellow_slope.app.state.asking import Question
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Job
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.fitted.fit import Fit, Problem
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.figures import ProbeShown
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.extras import Extras
from yellow_slope.plots.look import Look
from yellow_slope.plots.probeplots import Room, on_screen
from yellow_slope.plots.twice import Named, twice
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Picture(Question[Drawn]):
    """The plots of a probe where they have room, with some for the handle's name."""

    lane = Lane.PROBE_PLOTS
    study: Study
    probed: Probed
    seen: Seen
    look: Look
    size: Size
    extras: Extras
    room: Room
    view: ProbeShown

    def answer(self, job: Job) -> Drawn:
        sight, size = Sight.of(self.probed, self.seen), self.size
        page = on_screen(self.study, sight, self.look, size.width, size.height, self.room, self.view, self.extras)
        return drawn(page, size.ratio)


@dataclass(frozen=True, slots=True)
class TwoPictures(Question[Drawn]):
    """The probe that is looked at above one that is kept. YellowSlopeError where that has no answer."""

    lane = Lane.PROBE_PLOTS
    study: Study
    probed: Probed
    seen: Seen
    look: Look
    size: Size
    extras: Extras
    other: Probe
    fit: Fit | Problem
    """Of the model that the other is of."""

    def answer(self, job: Job) -> Drawn:
        if not isinstance(self.fit, Fit):
            raise YellowSlopeError(self.fit.said)
        sight, size = Sight.of(self.probed, self.seen), self.size
        below = Sight.of(probe_fit(self.study, self.fit, self.other), Seen())
        name = self.probed.probe.name or EffectReader(self.study, self.probed, sight.seen.panel).title()
        named = Named(name, sight), Named(self.other.name, below)
        page = twice(self.study, *named, self.look, size.width, size.height, self.extras)
        return drawn(page, size.ratio)
