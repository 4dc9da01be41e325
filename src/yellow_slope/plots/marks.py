"""Marks: what a plot is made of, in points from its top left corner, each knowing what it stands for.

A layout makes them, drawers draw them, the mouse asks them what it is on, tests read them.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from enum import Enum, StrEnum, auto
from functools import cached_property
from typing import NamedTuple

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.letters import letters_only
from yellow_slope.core.study.figures import Pane
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.values import dataclass


class Box(NamedTuple):
    """A rectangle: left, top, right, bottom."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def width(self) -> float:
        """Right minus left."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Bottom minus top."""
        return self.bottom - self.top

    @property
    def middle(self) -> tuple[float, float]:
        """Its centre."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    def overlaps(self, other: Box, slack: float = 0.0) -> bool:
        """Whether they share more than a hair."""
        return (
            self.left < other.right - slack
            and other.left < self.right - slack
            and self.top < other.bottom - slack
            and other.top < self.bottom - slack
        )

    def holds(self, x: float, y: float, slack: float = 0.0) -> bool:
        """Whether a point lies in it."""
        return self.left - slack <= x <= self.right + slack and self.top - slack <= y <= self.bottom + slack


# ---- what marks stand for


class Part(Enum):
    """A part of a plot that is no single thing of the study."""

    AXIS_X = auto()
    AXIS_Y = auto()
    NAMES = auto()
    """A line of a name below an axis that takes several."""
    TITLE_X = auto()
    """The title of the axis below."""
    TITLE_Y = auto()
    ZERO = auto()
    GROUND = auto()
    NOTE = auto()
    LEFT_OUT = auto()
    """How many names or plots have no room."""
    HEAD = auto()
    """What the names at lines are values or groups of."""
    LETTER = auto()
    """The letter of a panel."""
    TITLE = auto()
    HEADING = auto()
    """What stands above a whole figure."""
    DISTRIBUTION = auto()
    REFERENCE = auto()
    """A line that a check is read against."""
    TREND = auto()
    HANDLE = auto()
    OTHER = auto()
    """Of another probe that stands beside."""
    KEY = auto()
    """The box of names."""
    CROSSING = auto()
    """Where the lines meet, with the set of places where they may."""


@dataclass(frozen=True, slots=True)
class OfLine:
    """A line of the interaction plot, its band or its label, by position."""

    index: int


@dataclass(frozen=True, slots=True)
class OfPlace:
    """A place of the moderator, by position."""

    index: int


@dataclass(frozen=True, slots=True)
class OfFocus:
    """A comparison of the focal groups, by position."""

    index: int


@dataclass(frozen=True, slots=True)
class OfDifference:
    """A difference between two places, by position."""

    index: int


@dataclass(frozen=True, slots=True)
class OfGroup:
    """A group at a place, both by position."""

    group: int
    place: int


@dataclass(frozen=True, slots=True)
class OfEffect:
    """The focal effect along the moderator, or its band."""


@dataclass(frozen=True, slots=True)
class OfBoundary:
    """A boundary of a region, with its value."""

    value: float


@dataclass(frozen=True, slots=True)
class OfRegion:
    """A region, by position."""

    index: int


@dataclass(frozen=True, slots=True, eq=False)
class OfCases:
    """Cases, by their position among the model's cases; one for each point of the mark."""

    cases: IntArray


@dataclass(frozen=True, slots=True)
class OfPanel:
    """A place of the second moderator, by position: its head, its curve or its strip."""

    index: int


@dataclass(frozen=True, slots=True)
class OfTogether:
    """The strip of several comparisons together, by position."""

    index: int


@dataclass(frozen=True, slots=True)
class OfSize:
    """A stretch in which an effect matters, is too small or leaves it open, by position; -1: the smallest itself."""

    index: int


class OnMap(Enum):
    """A part of a map over two numbers."""

    SURFACE = auto()
    BOUND = auto()
    """Where the effect stops being told apart from 0."""
    EMPTY = auto()
    """Where no case is near."""


@dataclass(frozen=True, slots=True)
class OfRival:
    """A row of rivals, by position; -1: the product as it stands."""

    index: int


@dataclass(frozen=True, slots=True)
class OfCoefficient:
    """A coefficient of a model, by the position of its column."""

    column: int


@dataclass(frozen=True, slots=True)
class OfStep:
    """A coefficient in a step, both by position."""

    step: int
    column: int


About = (
    Part
    | OnMap
    | OfLine
    | OfPlace
    | OfFocus
    | OfDifference
    | OfGroup
    | OfEffect
    | OfBoundary
    | OfRegion
    | OfPanel
    | OfTogether
    | OfSize
    | OfCases
    | OfRival
    | OfCoefficient
    | OfStep
)


# ---- marks


class Shape(StrEnum):
    """The shape of a point."""

    CIRCLE = "o"
    TRIANGLE = "^"
    SQUARE = "s"
    DIAMOND = "D"


class Weight(Enum):
    """How heavy letters are."""

    NORMAL = auto()
    BOLD = auto()


@dataclass(frozen=True, slots=True)
class Ink:
    """How a line is drawn."""

    colour: str
    width: float = 1.0
    dash: tuple[float, ...] = ()
    """Lengths in line widths; empty: solid."""
    opacity: float = 1.0


@dataclass(frozen=True, slots=True, eq=False)
class Line:
    """A line through points (n, 2)."""

    points: FloatArray
    ink: Ink
    about: About
    clip: Box | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Area:
    """A filled polygon of points (n, 2)."""

    points: FloatArray
    colour: str
    opacity: float
    about: About
    clip: Box | None = None
    edge: Ink | None = None


EDGE = 0.5
"""How far the middle of a point may lie beyond its clip, in points."""


@dataclass(frozen=True, slots=True, eq=False)
class Points:
    """Points (n, 2) of one shape and size."""

    points: FloatArray
    shape: Shape
    size: float
    """Width of a point."""
    colour: str
    about: About
    opacity: float = 1.0
    edge: Ink | None = None
    clip: Box | None = None
    """Where the middle of a point has to lie; a point at the edge is drawn whole."""

    @property
    def drawn(self) -> FloatArray:
        """Shape (k, 2): the points that are finite and lie within the clip."""
        points = self.points
        if self.clip is None:
            return points[np.all(np.isfinite(points), axis=1)]
        x, y = points.T
        box = self.clip
        inside = (x >= box.left - EDGE) & (x <= box.right + EDGE) & (y >= box.top - EDGE) & (y <= box.bottom + EDGE)
        return np.asarray(points[inside], dtype=np.float64)


@dataclass(frozen=True, slots=True)
class Rect:
    """A filled rectangle."""

    box: Box
    colour: str
    about: About
    opacity: float = 1.0
    edge: Ink | None = None
    radius: float = 0.0
    """How round its corners are."""


@dataclass(frozen=True, slots=True, eq=False)
class Rects:
    """Filled rectangles of one colour: left, top, right, bottom of each, (n, 4)."""

    boxes: FloatArray
    colour: str
    about: About
    opacity: float = 1.0
    edge: Ink | None = None


@dataclass(frozen=True, slots=True)
class Text:
    """One line of text; x is its left end, y its baseline. Upright: it reads from the bottom to the top, x its
    baseline."""

    text: str
    x: float
    y: float
    size: float
    colour: str
    about: About
    weight: Weight = Weight.NORMAL
    italic: bool = False
    upright: bool = False
    whole: str = ""
    """The name that was shortened; empty where nothing was."""

    def __post_init__(self) -> None:
        letters_only(self, "text", "whole")

    @property
    def width(self) -> float:
        """How long it is."""
        return text_width(self.text, self.size, self.weight is Weight.BOLD, self.italic)

    @property
    def box(self) -> Box:
        """The room its letters take."""
        up, down = ASCENT * self.size, DESCENT * self.size
        if self.upright:
            return Box(self.x - up, self.y - self.width, self.x + down, self.y)
        return Box(self.x, self.y - up, self.x + self.width, self.y + down)


Mark = Line | Area | Points | Rect | Rects | Text


# ---- pages


@dataclass(frozen=True, slots=True)
class Frame:
    """The inside of a pair of axes, and what it spans; y grows upward."""

    area: Box
    x: tuple[float, float]
    y: tuple[float, float]
    pane: Pane
    room: Box
    """What the plot may take, with its texts."""
    panel: int = 0
    """Which place of the second moderator it shows."""

    def at_x(self, values: FloatArray | float) -> FloatArray:
        """Points of values along x."""
        low, high = self.x
        return np.asarray(self.area.left + (np.asarray(values) - low) / (high - low) * self.area.width)

    def at_y(self, values: FloatArray | float) -> FloatArray:
        """Points of values along y."""
        low, high = self.y
        return np.asarray(self.area.bottom - (np.asarray(values) - low) / (high - low) * self.area.height)

    def at(self, x: FloatArray | Sequence[float], y: FloatArray | Sequence[float]) -> FloatArray:
        """Shape (n, 2): points of pairs of values."""
        return np.column_stack([self.at_x(np.asarray(x, dtype=np.float64)), self.at_y(np.asarray(y, dtype=np.float64))])

    def value_x(self, at: float) -> float:
        """The value of a point along x."""
        return self.x[0] + (at - self.area.left) / self.area.width * (self.x[1] - self.x[0])

    def value_y(self, at: float) -> float:
        """The value of a point along y."""
        return self.y[0] + (self.area.bottom - at) / self.area.height * (self.y[1] - self.y[0])


@dataclass(frozen=True, eq=False)
class Page:
    """A plot, laid out: its size, its marks in the order in which they are drawn, and its frames."""

    width: float
    height: float
    marks: tuple[Mark, ...]
    frames: tuple[Frame, ...] = ()
    ground: str = ""
    """The colour behind it all; empty: none."""

    @cached_property
    def texts(self) -> tuple[Text, ...]:
        """All texts."""
        return tuple(mark for mark in self.marks if isinstance(mark, Text))

    @cached_property
    def text_boxes(self) -> FloatArray:
        """Shape (texts, 4): the rooms that all texts take."""
        return np.array([text.box for text in self.texts], dtype=np.float64).reshape(-1, 4)

    def is_free(self, box: Box) -> bool:
        """Whether no text stands in a box."""
        left, top, right, bottom = self.text_boxes.T
        there = (left < box.right) & (box.left < right) & (top < box.bottom) & (box.top < bottom)
        return not bool(there.any())

    def text_at(self, x: float, y: float) -> Text | None:
        """The text at a point."""
        return next((text for text in self.texts if text.box.holds(x, y, 1.0)), None)

    def frame(self, pane: Pane) -> Frame | None:
        """The frame of one of its plots; None where that has none."""
        return next((frame for frame in self.frames if frame.pane is pane), None)

    def frames_of(self, pane: Pane) -> tuple[Frame, ...]:
        """All frames of a kind of plot: one for each panel."""
        return tuple(frame for frame in self.frames if frame.pane is pane)

    def hit(self, x: float, y: float, reach: float = 6.0) -> Hit | None:
        """What stands at a point: texts first, then points, lines, bars, washes; of those the nearest, last drawn."""
        text = self.text_at(x, y)
        if text is not None:
            return Hit(text)
        best: tuple[tuple[int, float, int], Hit] | None = None
        for i, mark in enumerate(self.marks):
            gap, which = _distance(mark, x, y)
            if gap <= reach:
                rank = (_ORDER[type(mark)], gap, -i)
                if best is None or rank < best[0]:
                    best = rank, Hit(mark, which)
        return best[1] if best is not None else None


@dataclass(frozen=True, slots=True, eq=False)
class Hit:
    """What the mouse is on."""

    mark: Mark
    point: int | None = None
    """Which of its points."""

    @property
    def about(self) -> About:
        """What the mark stands for."""
        return self.mark.about

    @property
    def case(self) -> int | None:
        """The case, by its position among the model's cases."""
        if isinstance(self.mark.about, OfCases) and self.point is not None:
            return int(self.mark.about.cases[self.point])
        return None


_ORDER: dict[type, int] = {Points: 0, Line: 1, Rect: 2, Rects: 2, Area: 3, Text: 4}


def _distance(mark: Mark, x: float, y: float) -> tuple[float, int | None]:
    """How far a mark is from a point, and which of its points is nearest; inf for texts."""
    match mark:
        case Points():
            gaps = np.hypot(mark.points[:, 0] - x, mark.points[:, 1] - y)
            if not gaps.size or np.all(np.isnan(gaps)):
                return np.inf, None
            which = int(np.nanargmin(gaps))
            return float(gaps[which]), which
        case Line():
            return _from_line(mark.points, x, y), None
        case Rect():
            return (0.0 if mark.box.holds(x, y) else np.inf), None
        case Rects():
            left, top, right, bottom = mark.boxes.T
            inside = np.flatnonzero((left <= x) & (x <= right) & (top <= y) & (y <= bottom))
            return (0.0, int(inside[0])) if inside.size else (np.inf, None)
        case Area():
            return (0.0 if _inside(mark.points, x, y) else np.inf), None
        case Text():
            return np.inf, None


def _from_line(points: FloatArray, x: float, y: float) -> float:
    a, b = points[:-1], points[1:]
    if not a.size:
        return np.inf
    along = b - a
    length = np.einsum("ij,ij->i", along, along)
    away = np.array([x, y]) - a
    with np.errstate(invalid="ignore", divide="ignore"):
        t = np.clip(np.nan_to_num(np.einsum("ij,ij->i", away, along) / length), 0, 1)
    gaps = np.hypot(*(away - t[:, None] * along).T)
    return float(np.nanmin(gaps)) if not np.all(np.isnan(gaps)) else np.inf


def _inside(points: FloatArray, x: float, y: float) -> bool:
    """Whether a polygon holds a point, by the number of its edges to the right."""
    px, py = points[:, 0], points[:, 1]
    qx, qy = np.roll(px, -1), np.roll(py, -1)
    crosses = (py > y) != (qy > y)
    with np.errstate(invalid="ignore", divide="ignore"):
        at = px + (y - py) / (qy - py) * (qx - px)
    return bool(np.count_nonzero(crosses & (x < at)) % 2)


@dataclass(frozen=True, slots=True, eq=False)
class Plot:
    """One plot within a page: its frames and its marks."""

    frames: tuple[Frame, ...]
    marks: tuple[Mark, ...]


def page_of(width: float, height: float, plots: Iterable[Plot], ground: str = "") -> Page:
    """A page of plots that were laid out where they stand on it."""
    found = list(plots)
    marks = tuple(mark for plot in found for mark in plot.marks)
    return Page(width, height, marks, tuple(frame for plot in found for frame in plot.frames), ground)
