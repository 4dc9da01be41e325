"""Pages drawn to images off the interface thread."""

from __future__ import annotations

from PyQt6.QtGui import QImage

from yellow_slope.app.figures.painter import image_of
from yellow_slope.app.widgets import theme
from yellow_slope.plots.look import SCREEN, Look
from yellow_slope.plots.marks import Page
from yellow_slope.values import dataclass, replace

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
    """A page with its image."""

    page: Page
    image: QImage


def drawn(page: Page, ratio: float) -> Drawn:
    """The page at so many pixels of the screen in each of its own."""
    return Drawn(page, image_of(page, ratio))


def screen_look() -> Look:
    """The look of plots in the theme in use."""
    return replace(SCREEN, palette=theme.palette())
