"""Pages drawn to images off the interface thread."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PyQt6.QtGui import QImage

from yellow_slope.app.figures.painter import image_of
from yellow_slope.app.state.view import View
from yellow_slope.app.widgets import theme
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.extras import Extras
from yellow_slope.plots.look import SCREEN, Look
from yellow_slope.plots.marks import Page
from yellow_slope.plots.probeplots import ProbeView, Room, on_screen, stacked
from yellow_slope.plots.twice import Named, twice

GAP = 12.0
"""Pixels between two plots."""


@dataclass(frozen=True, slots=True)
class Size:
    """What a picture takes: pixels of the widget, and how many of the screen are in each."""

    width: int
    height: int
    ratio: float = 1.0


@dataclass(frozen=True, slots=True, eq=False)
class Drawn:
    """A page with its image; the key says what it shows."""

    key: object
    page: Page
    image: QImage


def screen_look() -> Look:
    """The look of plots in the theme in use."""
    return replace(SCREEN, palette=theme.palette())


def drawn_probe(
    key: object, study: Study, sight: Sight, look: Look, size: Size, room: Room, view: ProbeView, extras: Extras
) -> Drawn:
    """The plots of a probe where they have room, with some for the handle's name."""
    page = on_screen(study, sight, look, size.width, size.height, room, view, extras)
    return Drawn(key, page, image_of(page, size.ratio))


def drawn_twice(key: object, view: View, sight: Sight, other: Probe, look: Look, size: Size, extras: Extras) -> Drawn:
    """The probe that is looked at above one that is kept. YellowSlopeError where that has no answer."""
    study = view.study
    fit = view.evaluation.of(other.model)
    if not isinstance(fit, Fit):
        raise YellowSlopeError(fit.said)
    below = Sight.of(probe_fit(study, fit, other), Seen())
    now = sight.probed.probe
    name = now.name or EffectReader(study, sight.probed, sight.seen.panel).title()
    page = twice(study, Named(name, sight), Named(other.name, below), look, size.width, size.height, extras)
    return Drawn(key, page, image_of(page, size.ratio))


def drawn_stacked(key: object, study: Study, sight: Sight, look: Look, size: Size) -> Drawn:
    """The two plots of a probe below each other."""
    page = stacked(study, sight, look, size.width, size.height, GAP)
    return Drawn(key, page, image_of(page, size.ratio))
