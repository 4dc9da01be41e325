"""The look of a plot: how large its letters are, how strong its lines, in which colours."""

from __future__ import annotations

from dataclasses import dataclass

from yellow_slope import looks
from yellow_slope.looks import LIGHT, Palette
from yellow_slope.plots.marks import Ink, Shape

SHAPES = tuple(Shape(mark) for mark in looks.MARKS)


@dataclass(frozen=True, slots=True)
class LineLook:
    """How one of several lines looks, and its points."""

    colour: str
    dash: tuple[float, ...]
    shape: Shape


def group_look(index: int, palette: Palette = LIGHT) -> LineLook:
    """A group, by its position; hues repeat after four, with another pattern and another marker each time."""
    again = index // len(palette.groups)
    pattern = looks.PATTERNS[(index + again) % len(looks.PATTERNS)]
    return LineLook(looks.group_hue(index, palette), pattern, SHAPES[(index + 2 * again + again // 2) % len(SHAPES)])


def place_look(index: int, count: int, palette: Palette = LIGHT) -> LineLook:
    """A place of a number, by its position among so many: from faint to strong."""
    patterns = looks.MODERATOR_PATTERNS
    return LineLook(looks.moderator_hue(index, count, palette), patterns[index % len(patterns)], SHAPES[0])


@dataclass(frozen=True, slots=True)
class Look:
    """Sizes are in the unit of the page: points in print, pixels on screen."""

    text: float
    """Size of letters."""
    unit: float = 1.0
    """How many units of the page are a point: what lines, gaps and marks are measured in."""
    palette: Palette = LIGHT
    cases: bool = True
    """Whether cases are drawn as points."""

    @property
    def small(self) -> float:
        """Size of letters that say something besides."""
        return self.text * 0.88

    def of(self, points: float) -> float:
        """A length given in points."""
        return points * self.unit

    def ink(self, colour: str, width: float = 1.0, dash: tuple[float, ...] = (), opacity: float = 1.0) -> Ink:
        """A line of a width in points."""
        return Ink(colour, self.of(width), dash, opacity)

    @property
    def axis(self) -> Ink:
        """The line of an axis."""
        return self.ink(self.palette.ink, 0.8)

    @property
    def wash(self) -> str:
        """Slope yellow as a wash on the panel."""
        return looks.blended(self.palette.yellow, self.palette.panel, self.palette.wash)

    @property
    def strong_wash(self) -> str:
        """Slope yellow where a narrow stretch is to be seen at a glance."""
        return looks.blended(self.palette.yellow, self.palette.panel, min(1.0, 2.6 * self.palette.wash))


PRINT = Look(looks.FIGURE_TEXT)
"""On paper, in points."""
SCREEN = Look(13.0, 100 / 72)
"""On screen, in pixels."""
