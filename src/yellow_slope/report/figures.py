"""Figures for print, as files: of a probe that is seen, and of an equation."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path

from yellow_slope.core.errors import FileError
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.equation import equation
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.looks import LIGHT
from yellow_slope.plots.equation import equation_page
from yellow_slope.plots.look import PRINT, Look
from yellow_slope.plots.marks import Page
from yellow_slope.plots.probeplots import ProbeView, printed

KINDS = ("png", "svg", "pdf")
USUAL_DPI = 300
LEAST_DPI, MOST_DPI = 30, 1200
"""A figure of fewer would be a blot; of more, twice what a journal asks for, larger than memory."""


def figure_page(study: Study, sight: Sight, view: ProbeView = ProbeView.LINES) -> Page:
    """The plots of what is seen of a probe, on white paper."""
    return on_paper(printed(study, sight, view=view))


def on_paper(page: Page) -> Page:
    """A page on white paper."""
    return replace(page, ground=LIGHT.panel)


def print_look() -> Look:
    """How plots look on paper."""
    return PRINT


def equation_picture(study: Study, fit: Fit, step: int, dpi: int = USUAL_DPI) -> bytes:
    """A PNG of the equation of a step."""
    from yellow_slope.report.drawing import page_bytes

    return page_bytes(equation_page(equation(study, fit, step)), "png", dpi)


@dataclass(frozen=True, slots=True)
class FigureFile:
    """A file that a figure is written to."""

    path: Path
    dpi: int = USUAL_DPI

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise FileError(f"{self.path.name}: a figure is written as {listed([f'.{kind}' for kind in KINDS], 'or')}.")
        if not LEAST_DPI <= self.dpi <= MOST_DPI:
            raise FileError(f"A figure is written at {LEAST_DPI} to {MOST_DPI} dpi, not at {self.dpi}.")

    @property
    def kind(self) -> str:
        """Its ending, which says its format."""
        return self.path.suffix.lower().removeprefix(".")

    def bytes_of(self, page: Page) -> bytes:
        """What is written to it."""
        from yellow_slope.report.drawing import page_bytes

        return page_bytes(page, self.kind, self.dpi)
