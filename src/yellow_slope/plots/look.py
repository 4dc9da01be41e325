"""The look of a plot: how large its letters are, how strong its lines, in which colours."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

from yellow_slope import looks
from yellow_slope.core.study.figures import (
    AxisKey,
    AxisTuning,
    CasesAs,
    Hue,
    LegendAs,
    LineKey,
    LineTuning,
    Marker,
    Pane,
    Parts,
    Pattern,
    RegionAs,
    Role,
    TextKey,
    TextTuning,
)
from yellow_slope.looks import LIGHT, Palette
from yellow_slope.plots.marks import Ink, Shape
from yellow_slope.values import dataclass, field, replace

SHAPES = tuple(Shape(mark) for mark in looks.MARKS)


@dataclass(frozen=True, slots=True)
class LineLook:
    """How one of several lines looks, and its points."""

    colour: str
    dash: tuple[float, ...]
    shape: Shape
    width: float | None = None
    """Points; None: what the plot gives."""


def group_look(index: int, palette: Palette = LIGHT) -> LineLook:
    """A group, by its position; hues repeat after four, with another pattern and another marker each time."""
    again = index // len(palette.groups)
    pattern = looks.PATTERNS[(index + again) % len(looks.PATTERNS)]
    return LineLook(looks.group_hue(index, palette), pattern, SHAPES[(index + 2 * again + again // 2) % len(SHAPES)])


def place_look(index: int, count: int, palette: Palette = LIGHT) -> LineLook:
    """A place of a number, by its position among so many: from faint to strong."""
    patterns = looks.MODERATOR_PATTERNS
    return LineLook(looks.moderator_hue(index, count, palette), patterns[index % len(patterns)], SHAPES[0])


def hue_colour(hue: Hue, palette: Palette) -> str:
    """What a hue is in a palette."""
    match hue:
        case Hue.PINE | Hue.PLUM | Hue.BLUE | Hue.CLAY:
            return palette.groups[[Hue.PINE, Hue.PLUM, Hue.BLUE, Hue.CLAY].index(hue)]
        case Hue.INK:
            return palette.ink
        case Hue.SLATE:
            return palette.soft_ink


DASHES: Mapping[Pattern, tuple[float, ...]] = MappingProxyType(dict(zip(Pattern, looks.PATTERNS)))
MARKERS: Mapping[Marker, Shape] = MappingProxyType(dict(zip(Marker, SHAPES)))


USUAL_PARTS = Parts()


@dataclass(frozen=True, slots=True, eq=False)
class Own:
    """What a figure says otherwise than its look, as layouts ask for it."""

    texts: Mapping[TextKey, TextTuning] = field(default_factory=dict)
    lines: Mapping[LineKey, LineTuning] = field(default_factory=dict)
    axes: Mapping[AxisKey, AxisTuning] = field(default_factory=dict)
    parts: Parts = USUAL_PARTS
    is_figure: bool = False
    """Whether names are to stand in full: they are broken into lines before they are shortened."""
    names_below: bool = False
    """Whether names of lines have no room beside them and stand below the whole figure."""


NOTHING_OWN = Own()


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
    own: Own = NOTHING_OWN
    scale: float = 1.0
    """How many units of the page are a point of what is said otherwise, which is in points of the paper."""

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
    def cases_as(self) -> CasesAs:
        """How cases are drawn."""
        return self.own.parts.cases or (CasesAs.DOTS if self.cases else CasesAs.NONE)

    @property
    def region_as(self) -> RegionAs:
        """How regions are drawn."""
        return self.own.parts.region or RegionAs.WASH

    @property
    def has_box(self) -> bool:
        """Whether names of lines stand in a box, not at their ends."""
        return self.own.names_below or self.own.parts.legend is LegendAs.BOX

    def band(self, usual: float) -> float:
        """How strong the band of an interval is."""
        return usual if self.own.parts.band is None else self.own.parts.band

    def size(self, role: Role, pane: Pane | None) -> float:
        """How large the letters of a role are in a plot."""
        said = self.own.texts.get(TextKey(role, pane))
        return self.text if said is None or said.size is None else said.size * self.scale

    def hides(self, key: TextKey) -> bool:
        """Whether a text is left out."""
        said = self.own.texts.get(key)
        return said is not None and said.hidden

    def words(self, key: TextKey, usual: str) -> str:
        """What a text says."""
        said = self.own.texts.get(key)
        return usual if said is None or said.words is None else said.words

    def name(self, key: LineKey | None, usual: str) -> str:
        """What a line or a group is called, in every plot of a figure."""
        return usual if key is None else self.words(TextKey(Role.LINE, line=key), usual)

    def line(self, key: LineKey | None, usual: LineLook) -> LineLook:
        """How a line or a group looks."""
        said = self.own.lines.get(key) if key is not None else None
        if said is None:
            return usual
        return replace(
            usual,
            colour=usual.colour if said.hue is None else hue_colour(said.hue, self.palette),
            dash=usual.dash if said.pattern is None else DASHES[said.pattern],
            shape=usual.shape if said.marker is None else MARKERS[said.marker],
            width=said.width,
        )

    def is_first(self, key: LineKey | None) -> bool:
        """Whether a line comes before the others."""
        said = self.own.lines.get(key) if key is not None else None
        return said is not None and said.first

    def line_ink(self, line: LineLook, usual: float) -> Ink:
        """The ink of a line: as wide as is said, in points, or as is usual."""
        width = self.of(usual) if line.width is None else line.width * self.scale
        return Ink(line.colour, width, line.dash)

    def axis_said(self, pane: Pane | None, upright: bool) -> AxisTuning:
        """What is said otherwise of an axis."""
        return AxisTuning() if pane is None else self.own.axes.get(AxisKey(pane, upright), AxisTuning())

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
