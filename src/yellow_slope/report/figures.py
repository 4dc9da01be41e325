"""Figures for print, as files: of a probe that is seen, and of an equation."""

from __future__ import annotations

from pathlib import Path

from yellow_slope.core.errors import FileError
from yellow_slope.core.figured.subjects import Subject
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import Figure, ProbeShown
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.equation import equation
from yellow_slope.core.words.sentences.figures import alternative, figure_title, plain_figure
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.looks import LIGHT
from yellow_slope.plots.equation import equation_page
from yellow_slope.plots.figures import layout
from yellow_slope.plots.look import PRINT, Look
from yellow_slope.plots.marks import Page
from yellow_slope.report.told import NOTHING_TOLD, Told
from yellow_slope.values import dataclass, replace

POINTS = ("png", "tiff")
"""Formats that are made of points."""
KINDS = ("png", "svg", "pdf", "tiff")
NUMBERS = "csv"
"""The numbers behind a figure, as a file beside it."""
MOST_PIXELS = 250e6
USUAL_DPI = 300
LEAST_DPI, MOST_DPI = 30, 1200
"""A figure of fewer would be a blot; of more, twice what a journal asks for, larger than memory."""


def figure_page(study: Study, sight: Sight, view: ProbeShown = ProbeShown.BOTH) -> Page:
    """The plots of what is seen of a probe, on white paper. StudyError where they cannot be drawn."""
    return layout(*plain_figure(study, sight, view))


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
class Drawn:
    """A figure as it goes into files: its page, its words, and the numbers behind it."""

    page: Page
    told: Told
    numbers: bytes = b""


def drawn_figure(figure: Figure, subject: Subject, numbers: bool = False) -> Drawn:
    """A figure of a study, laid out. StudyError with the reason where it cannot be drawn. numbers: with those behind
    it."""
    from yellow_slope.report.figurenumbers import numbers_csv

    page = layout(figure, subject)
    told = Told(figure_title(figure, subject), alternative(figure, subject))
    return Drawn(page, told, numbers_csv(subject) if numbers else b"")


@dataclass(frozen=True, slots=True)
class FigureFile:
    """A file that a figure is written to."""

    path: Path
    dpi: int = USUAL_DPI
    outlines: bool = False
    """Whether letters of an SVG are outlines."""

    def __post_init__(self) -> None:
        if self.kind not in (*KINDS, NUMBERS):
            kinds = listed([f".{kind}" for kind in (*KINDS, NUMBERS)], "or")
            raise FileError(f"{self.path.name}: a figure is written as {kinds}.")
        if not LEAST_DPI <= self.dpi <= MOST_DPI:
            raise FileError(f"A figure is written at {LEAST_DPI} to {MOST_DPI} dpi, not at {self.dpi}.")

    @property
    def kind(self) -> str:
        """Its ending, which says its format."""
        suffix = self.path.suffix.lower().removeprefix(".")
        return "tiff" if suffix == "tif" else suffix

    def bytes_of(self, page: Page, told: Told | None = None) -> bytes:
        """What is written to it. FileError where so many points have no room in memory."""
        from yellow_slope.report.drawing import page_bytes

        pixels = page.width / 72 * self.dpi * page.height / 72 * self.dpi
        if self.kind in POINTS and pixels > MOST_PIXELS:
            most = int(self.dpi * (MOST_PIXELS / pixels) ** 0.5)
            raise FileError(
                f"{self.path.name}: at {self.dpi} dpi this size is too large; up to {most} dpi are possible."
            )
        return page_bytes(page, self.kind, self.dpi, told or NOTHING_TOLD, self.outlines)

    def content(self, drawn: Drawn) -> bytes:
        """What is written to it of a figure: the picture, or the numbers behind it."""
        return drawn.numbers if self.kind == NUMBERS else self.bytes_of(drawn.page, drawn.told)
