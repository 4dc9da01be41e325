"""A figure as a value: what it shows, its look and size, and what is said otherwise of its texts, lines, axes and
parts."""

from __future__ import annotations

import math
from collections.abc import Mapping
from enum import Enum, StrEnum
from types import MappingProxyType
from typing import Annotated, TypeVar, assert_never

from msgspec import Meta

from yellow_slope.core.kinds import Named
from yellow_slope.core.letters import letters_only, shown
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.gone import Gone
from yellow_slope.core.study.probe import LONGEST_NAME, Probe, Second
from yellow_slope.values import dataclass, field, replace, settle

MOST_FIGURES = 200
"""Figures of one study."""
LONGEST_TEXT, LONGEST_CAPTION = 200, 4000
"""Characters of a text on a figure, and of a caption."""
LEAST_LETTERS, MOST_LETTERS = 5.0, 72.0
"""Points."""
LEAST_CM, MOST_CM = 3.0, 120.0
CM_PER_INCH = 2.54


Letters = Annotated[float, Meta(ge=LEAST_LETTERS, le=MOST_LETTERS)]
Centimetres = Annotated[float, Meta(ge=LEAST_CM, le=MOST_CM)]
ShortName = Annotated[str, Meta(max_length=LONGEST_NAME)]
Text = Annotated[str, Meta(max_length=LONGEST_TEXT)]
MOST_TUNED = 2000
"""Texts or lines of a figure that something is said of."""

# ---- what is shown


class ProbeShown(Named):
    """Which plots of a probe are shown."""

    BOTH = "lines and effect"
    """The interaction plot with the effect along the moderator; of a second moderator all panels with the effects."""
    LINES = "lines", "lines alone"
    """The interaction plot alone, a panel for each place of a second moderator."""
    EFFECT = "effect", "effect alone"
    """The effect along the moderator with its regions, or by group, alone."""
    EVERY = "effect in every panel", "effects in all panels"
    """The effect by group at each place of a second moderator, one below the other."""
    STRIPS = "strips", "strips of regions"
    """The stretches in which each effect is told apart from 0, alone."""
    MAP = "map", "map of the effect"
    """The effect over both moderators."""
    ABOVE = "from above", "outcome from above"
    """The predicted outcome over both numbers."""


@dataclass(frozen=True, slots=True)
class ShowsProbe:
    """Plots of a probe, which is known by what it asks."""

    stored_as = "probe"
    focal: str
    moderator: str
    second: str | None = None
    model: str | None = None
    kept: str = ""
    """The name that the probe is kept under."""
    view: ProbeShown = ProbeShown.BOTH
    comparison: str = ""
    """Name of the comparison of a group focal predictor; empty: the first."""

    def __post_init__(self) -> None:
        letters_only(self, "kept", "comparison")

    @classmethod
    def of(cls, probe: Probe, view: ProbeShown = ProbeShown.BOTH, comparison: str = "") -> ShowsProbe:
        """What shows that probe."""
        second = probe.second.variable if probe.second is not None else None
        return cls(probe.focal, probe.moderator, second, probe.model, probe.name, view, comparison)

    def shows(self, probe: Probe) -> bool:
        """Whether that probe is shown."""
        return probe.about == (self.model, self.focal, self.moderator, self.second or "", self.kept)

    @property
    def plain(self) -> Probe:
        """The probe with no choice of its own."""
        second = Second(self.second) if self.second is not None else None
        return Probe(self.focal, self.moderator, second=second, model=self.model, name=self.kept)


@dataclass(frozen=True, slots=True)
class ShowsCheck:
    """The plot of a question that Checks asks; of whether the product stands, the product and its rivals."""

    stored_as = "check"
    check: Check
    model: str | None = None
    step: str | None = None
    """Id of the block whose step is looked at; None: the reported one."""
    by: str | None = None
    """A predictor that residuals are drawn along."""


@dataclass(frozen=True, slots=True)
class ShowsSteps:
    """The coefficients of a model as they change over its steps."""

    stored_as = "steps"
    model: str | None = None


@dataclass(frozen=True, slots=True)
class ShowsGroup:
    """Means of the outcome in a group's levels, with the cases."""

    stored_as = "group"
    variable: str
    model: str | None = None


Shown = ShowsProbe | ShowsCheck | ShowsSteps | ShowsGroup


# ---- look and size


class Colours(Named):
    """Which colours a look has; the value is the id in files."""

    COLOUR = "colour"
    GREY = "grey"
    DARK = "dark"


@dataclass(frozen=True, slots=True)
class FigureSize:
    """Width and height in centimetres; without a height that which suits what is shown."""

    width: Centimetres
    height: Centimetres | None = None


@dataclass(frozen=True, slots=True)
class FigureLook:
    """How a figure looks where nothing else is said: a copy of what the look of that name was when it was chosen."""

    name: ShortName
    letters: Letters = 9.0
    """Points."""
    strength: Annotated[float, Meta(ge=0.2, le=10)] = 1.0
    """How many times as strong as on paper lines, gaps and points are."""
    colours: Colours = Colours.COLOUR
    size: FigureSize | None = None
    """The size that it is meant for, which a figure takes on with it; None: any."""

    def __post_init__(self) -> None:
        letters_only(self, "name")


SLIDE = FigureSize(25.4, 25.4 * 9 / 16)
PAPER = FigureLook("paper")
PAPER_GREY = FigureLook("paper, grey", colours=Colours.GREY)
SLIDES = FigureLook("slides", 18.0, 2.0, size=SLIDE)
SLIDES_DARK = FigureLook("slides, dark", 18.0, 2.0, Colours.DARK, SLIDE)
POSTER = FigureLook("poster", 26.0, 3.0, size=FigureSize(50.0))
READY_LOOKS = (PAPER, PAPER_GREY, SLIDES, SLIDES_DARK, POSTER)
PAGE_WIDE = FigureSize(6.5 * CM_PER_INCH)
"""What a figure had before its size could be chosen."""
READY_SIZES: Mapping[str, FigureSize] = MappingProxyType(
    {
        "single column": FigureSize(8.5),
        "column and a half": FigureSize(12.75),
        "page": PAGE_WIDE,
        "double column": FigureSize(17.5),
        "slide, 16:9": SLIDE,
        "poster": FigureSize(50.0),
    }
)


# ---- what is said otherwise


class Pane(StrEnum):
    """Which plot of a page; the value is the id in files."""

    LINES = "lines"
    EFFECT = "effect"
    MAP = "map"
    ABOVE = "from above"
    CHECK = "check"
    RIVALS = "rivals"
    STEPS = "steps"
    MEANS = "means"
    DISTRIBUTION = "distribution"
    """Where the cases lie along the effect."""
    STRIPS = "strips"

    @property
    def of_figure(self) -> Pane:
        """The plot by which a figure knows it: what stands at the effect goes with it."""
        match self:
            case Pane.DISTRIBUTION | Pane.STRIPS:
                return Pane.EFFECT
            case Pane.LINES | Pane.EFFECT | Pane.MAP | Pane.ABOVE | Pane.CHECK | Pane.RIVALS | Pane.STEPS | Pane.MEANS:
                return self
            case _:
                assert_never(self)


class Role(StrEnum):
    """What a text does; the value is the id in files."""

    TITLE = "title"
    X_TITLE = "x title"
    Y_TITLE = "y title"
    X_TICKS = "x ticks"
    Y_TICKS = "y ticks"
    LINE = "line"
    """The name of a line, a group or a row."""
    PANEL = "panel"
    BOUNDARY = "boundary"
    REGION = "region"
    DIFFERENCE = "difference"
    NOTE = "note"


class LineOf(StrEnum):
    """What a line stands for; the value is the id in files."""

    LEVEL = "level"
    PLACE = "place"
    """A place of a number, by its rank."""
    COMPARISON = "comparison"
    ROW = "row"


@dataclass(frozen=True, slots=True)
class LineKey:
    """A line, a group or a row: a level by its code, a place by its rank from 1, a comparison by its name."""

    kind: LineOf
    variable: str
    of: str


@dataclass(frozen=True, slots=True)
class TextKey:
    """A text; without a line and a number all texts of its role in that plot."""

    role: Role
    pane: Pane | None = None
    line: LineKey | None = None
    number: int | None = None


@dataclass(frozen=True, slots=True)
class AxisKey:
    """An axis of a plot."""

    pane: Pane
    upright: bool


class Hue(Named):
    """Hues that stay apart in grey and for the colour-blind; what each is depends on the look's colours."""

    PINE = "pine"
    PLUM = "plum"
    BLUE = "blue"
    CLAY = "clay"
    INK = "ink"
    SLATE = "slate"


class Pattern(Named):
    """How a line is drawn."""

    SOLID = "solid"
    DASHED = "dashed"
    DOTTED = "dotted"
    DASH_DOT = "dash and dot"


class Marker(Named):
    """The shape of a group's points."""

    CIRCLE = "circle"
    TRIANGLE = "triangle"
    SQUARE = "square"
    DIAMOND = "diamond"


@dataclass(frozen=True, slots=True)
class TextTuning:
    """What is said otherwise of a text."""

    words: Text | None = None
    size: Letters | None = None
    """Points."""
    italic: bool | None = None
    shift: tuple[float, float] | None = None
    """Points to the right and down from where the look puts it."""
    hidden: bool = False

    def __post_init__(self) -> None:
        letters_only(self, "words")


@dataclass(frozen=True, slots=True)
class LineTuning:
    """What is said otherwise of a line or a group."""

    hue: Hue | None = None
    pattern: Pattern | None = None
    width: Annotated[float, Meta(ge=0.1, le=20)] | None = None
    """Points."""
    marker: Marker | None = None
    first: bool = False
    """Whether it comes before the others: in the key, and drawn over them."""


@dataclass(frozen=True, slots=True)
class AxisTuning:
    """What is said otherwise of an axis."""

    low: float | None = None
    high: float | None = None
    step: Annotated[float, Meta(gt=0)] | None = None
    """From one tick to the next."""
    decimals: Annotated[int, Meta(ge=0, le=9)] | None = None
    zero: bool | None = None
    """Whether a line stands at 0."""


class CasesAs(Named):
    """How cases are drawn."""

    NONE = "none"
    DOTS = "dots"
    SIDES = "dots in the look of the nearest line", "dots styled as the nearest line"


class RegionAs(Named):
    """How regions are drawn."""

    WASH = "washed", "shaded"
    HATCH = "hatched"
    BAR = "bar on the axis"
    BOUNDARY = "boundaries alone"
    NONE = "not at all"


class GroundAs(Named):
    """What is behind a figure."""

    PAPER = "paper"
    CLEAR = "nothing"


class LegendAs(Named):
    """Where the names of lines stand."""

    ENDS = "at the lines"
    BOX = "in a box"


@dataclass(frozen=True, slots=True)
class Parts:
    """What is said otherwise of the parts of a figure."""

    band: Annotated[float, Meta(ge=0, le=1)] | None = None
    """How strong the bands of intervals are, 0 to 1; 0: none."""
    cases: CasesAs | None = None
    jitter: bool = False
    """Whether cases of whole numbers are spread a little."""
    region: RegionAs | None = None
    ground: GroundAs = GroundAs.PAPER
    legend: LegendAs = LegendAs.ENDS
    box_at: tuple[float, float] | None = None
    """Where the box's left top corner lies, in shares of the plot's inside; None: at the right
    above."""


# ---- captions


class Live(Enum):
    """What a caption says by itself and anew whenever the data change; the value is the id in files."""

    OUTCOME = "outcome"
    BY = "by"
    STEP = "step"
    LEVEL = "level"
    N = "n"
    HELD = "held"
    EFFECT = "effect"
    PANELS = "panels"
    WASHED = "washed"
    SMALLEST = "smallest"
    NOTES = "notes"
    CASES = "cases"
    SAID = "said"


@dataclass(frozen=True, slots=True)
class Follows:
    """A piece of a caption that follows the data."""

    live: Live


Piece = str | Follows
"""A piece of a caption: words, or something live."""


def pieces_of(*parts: str | Live) -> tuple[Piece, ...]:
    """The pieces that a caption is written in."""
    return tuple(Follows(part) if isinstance(part, Live) else part for part in parts)


# ---- the figure

K = TypeVar("K")
V = TypeVar("V")


@dataclass(frozen=True, slots=True)
class Figure:
    """A figure of the study."""

    name: Annotated[str, Meta(min_length=1, max_length=LONGEST_NAME)]
    shows: Shown
    look: FigureLook = PAPER
    size: FigureSize = PAGE_WIDE
    letters: Letters | None = None
    """Points; None: what the look gives."""
    texts: Annotated[tuple[tuple[TextKey, TextTuning], ...], Meta(max_length=MOST_TUNED)] = ()
    lines: Annotated[tuple[tuple[LineKey, LineTuning], ...], Meta(max_length=MOST_TUNED)] = ()
    axes: Annotated[tuple[tuple[AxisKey, AxisTuning], ...], Meta(max_length=100)] = ()
    parts: Parts = Parts()
    title: Text | None = None
    """Above the figure; None: none."""
    heading: Text | None = None
    """What the figure is called in the report; None: what the program calls it."""
    caption: Annotated[tuple[Piece, ...], Meta(max_length=500)] | None = None
    """None: what the program says."""
    alternative: Annotated[str, Meta(max_length=LONGEST_CAPTION)] | None = None
    """What is said to those who do not see it; None: what the program says."""
    lost: tuple[Gone, ...] = field(default=())
    """What was said of something that is there no longer, until somebody has read it."""

    def __post_init__(self) -> None:
        letters_only(self, "name", "title", "heading", "alternative")
        if self.caption is not None:
            clean = tuple(shown(piece) if isinstance(piece, str) else piece for piece in self.caption)
            settle(self, "caption", clean)

    @property
    def points(self) -> float:
        """Size of its letters in points."""
        return self.look.letters if self.letters is None else self.letters

    def in_look(self, look: FigureLook) -> Figure:
        """In another look: with the letters and the size that it is meant for. A size that the look before brought goes
        with it."""
        if look.size is not None:
            size = look.size
        else:
            size = PAGE_WIDE if self.size == self.look.size else self.size
        return replace(self, look=look, letters=None, size=size)

    def text(self, key: TextKey) -> TextTuning:
        """What is said of a text."""
        return dict(self.texts).get(key, TextTuning())

    def line(self, key: LineKey) -> LineTuning:
        """What is said of a line."""
        return dict(self.lines).get(key, LineTuning())

    def axis(self, key: AxisKey) -> AxisTuning:
        """What is said of an axis."""
        return dict(self.axes).get(key, AxisTuning())

    def with_text(self, key: TextKey, tuning: TextTuning) -> Figure:
        """With a text otherwise."""
        return replace(self, texts=_with(self.texts, key, tuning, TextTuning()))

    def with_line(self, key: LineKey, tuning: LineTuning) -> Figure:
        """With a line otherwise."""
        return replace(self, lines=_with(self.lines, key, tuning, LineTuning()))

    def with_axis(self, key: AxisKey, tuning: AxisTuning) -> Figure:
        """With an axis otherwise."""
        return replace(self, axes=_with(self.axes, key, tuning, AxisTuning()))

    @property
    def is_tuned(self) -> bool:
        """Whether anything is said otherwise than the look gives."""
        return bool(self.texts or self.lines or self.axes or self.parts != Parts() or self.letters is not None)


def _with(said: tuple[tuple[K, V], ...], key: K, value: V, usual: V) -> tuple[tuple[K, V], ...]:
    others = {k: v for k, v in said if k != key}
    return tuple((others if value == usual else {**others, key: value}).items())


def cm_text(cm: float) -> str:
    """“8.5 cm”."""
    return f"{round(cm, 2):g} cm"


def is_between(value: float, low: float, high: float) -> bool:
    """Whether a number is finite and within bounds."""
    return math.isfinite(value) and low <= value <= high
