"""The focal effect along a number moderator with its band, regions and the moderator's distribution; or one dot per
level."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.asked.histograms import Bars, bars_of
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import LineKey, Pane, Role, TextKey
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.axes import Axes, Scale, axes, ground, level_line, said_otherwise, span
from yellow_slope.plots.boundaries import (
    boundary_lines,
    boundary_values,
    has_boundaries,
    has_words,
    region_words,
    washes,
)
from yellow_slope.plots.curves import DrawnCurve, drawn_curves
from yellow_slope.plots.distribution import distribution
from yellow_slope.plots.effectdots import dots, dots_span
from yellow_slope.plots.extras import NOTHING, Extras, ticks_of
from yellow_slope.plots.keybox import Entry, key_box
from yellow_slope.plots.keys import focus_key, panel_key
from yellow_slope.plots.look import PRINT, SHAPES, LineLook, Look
from yellow_slope.plots.marks import (
    Area,
    Box,
    Frame,
    Line,
    Mark,
    OfEffect,
    OfFocus,
    OfPanel,
    OfSize,
    Part,
    Plot,
    Points,
    Text,
)
from yellow_slope.plots.measuring import ASCENT, LEADING, text_width
from yellow_slope.plots.placing import End, centred, end_labels, line_height, one_line
from yellow_slope.plots.rows import NAMES
from yellow_slope.plots.strips import Strip, draw_strips, kept_strips, strip_height, strips_of
from yellow_slope.plots.titles import effect_title, number_title
from yellow_slope.values import dataclass, replace

GRID = 64
LEAST_HEIGHT = 34.0
"""Points that the effect's frame keeps before there are more strips."""
LOW = 150.0
"""Points: in a lower room the title of the upright axis lies above it."""
STRIPS = 0.45
"""The largest share of the height that strips may take."""
LEADER = 9.0
"""How long a leader is, in points."""


def effect(
    study: Study,
    sight: Sight,
    look: Look,
    room: Box,
    extras: Extras = NOTHING,
    shared: tuple[float, float] | None = None,
    edges: tuple[float, float] = (0.0, 0.0),
    names_panel: bool = True,
) -> Plot:
    """The focal effect of a panel: along a number moderator, else a dot with its interval for each level. shared: what
    the axis of effects spans, where another plot has the same; edges: what is free at its left and right at least;
    names_panel: whether the title of dots says of which panel they are, where there are several."""
    if isinstance(sight.probed.moderator, NumberBasis):
        frames, marks = _along(study, sight, look, room, extras, shared, edges)
    else:
        frames, marks = dots(study, sight, look, room, shared, names_panel)
    return Plot(frames, (ground(look, room), *marks))


# ---- along a number


def effect_span(study: Study, sight: Sight) -> tuple[float, float]:
    """What the axis of effects spans."""
    if not isinstance(sight.probed.moderator, NumberBasis):
        return dots_span(study, sight)
    return _span_along(sight, drawn_curves(study, sight, PRINT)[0], NOTHING)


def _span_along(sight: Sight, curves: list[DrawnCurve], extras: Extras) -> tuple[float, float]:
    moderator, found = sight.probed.moderator, sight.focus
    assert isinstance(moderator, NumberBasis)
    assert found.curve is not None
    grid = np.linspace(*span(moderator.low, moderator.high), GRID)
    values = [c.curve.effect(grid) for c in curves if c.curve.is_estimable]
    ends = [0.0, *(float(v) for value in values for v in (value.min(), value.max()))]
    if found.curve.is_estimable and found.curve.has_errors:
        band = found.band(grid)
        ends += [float(band[0].min()), float(band[1].max())]
    ends += [] if values else [-1.0, 1.0]
    ends += _sizes_drawn(sight, ends)
    ends += [v for third in extras.thirds for v in (third.effect, *third.ends) if np.isfinite(v)]
    return span(min(ends), max(ends), 0.05)


@dataclass(frozen=True, slots=True, eq=False)
class _Plan:
    """What is drawn along the moderator, and how much room each part takes."""

    look: Look
    room: Box
    sight: Sight
    x: Scale
    y: Scale
    curves: list[DrawnCurve]
    undrawn: int
    strips: list[Strip]
    unshown: int
    bars: Bars | None
    lies: bool
    """Whether the title of the upright axis lies above it."""
    right: float
    top: float
    tall: float
    """Height of the distribution."""
    banded: float
    """Height of the strips."""

    @property
    def is_alone(self) -> bool:
        """Whether one effect is drawn."""
        return len(self.curves) < 2

    @property
    def has_bounds(self) -> bool:
        """Whether the boundaries' values stand above the frame; strips have them inside."""
        found = self.sight.focus.regions
        return found is not None and bool(found.boundaries) and not self.strips and has_boundaries(self.look)


def _planned(
    study: Study, sight: Sight, look: Look, room: Box, extras: Extras, shared: tuple[float, float] | None
) -> _Plan:
    moderator, regions = sight.probed.moderator, sight.focus.regions
    assert isinstance(moderator, NumberBasis)
    bars = bars_of(np.asarray(sight.probed.observed, dtype=np.float64))
    low, high = span(moderator.low, moderator.high)
    if bars is not None and bars.at_values:  # whole bars at both ends
        low, high = min(low, float(bars.left.min())), max(high, float(bars.right.max()))
    curves, undrawn = drawn_curves(study, sight, look)
    lacking = look.of(LEAST_HEIGHT) + 4.6 * look.text
    banded = min(STRIPS * room.height, 0.9 * room.height - lacking)
    strips, unshown = kept_strips(look, strips_of(study, sight, curves), banded)
    lies = bool(strips) or room.height < look.of(LOW)
    is_alone = len(curves) < 2
    rows = int(regions is not None and regions.tells and is_alone and has_words(look))
    rows += int(regions is not None and bool(regions.boundaries) and not strips and has_boundaries(look))
    banded_names = [s.name for s in strips if s.look is None or not look.own.names_below]
    names = [c.name for c in curves if c.name and not look.own.names_below] + banded_names
    names += ["smallest"] if _has_size(sight) else []
    size = look.size(Role.LINE, Pane.EFFECT)
    beside = [] if look.has_box and not strips and not look.own.names_below else names
    widest = max((text_width(name, size, bold=True) + look.of(26) for name in beside), default=0.0)
    # The distribution takes a sixth of the height below the effect; both share one axis, with the strips between.
    return _Plan(
        look,
        room,
        sight,
        said_otherwise(look, Pane.EFFECT, Scale(low, high, number_title(study, moderator)), False),
        said_otherwise(
            look,
            Pane.EFFECT,
            Scale(*(shared or _span_along(sight, curves, extras)), None if lies else effect_title(study, sight)),
            True,
        ),
        curves,
        undrawn,
        strips,
        unshown,
        bars,
        lies,
        max(look.of(28 if strips and look.own.names_below else 14), min(widest, NAMES * room.width)),
        look.of(10) + rows * LEADING * look.text + (look.text if lies else 0.0),
        max(look.of(12 if strips else 16), (0.09 if strips else 0.16) * room.height),
        strip_height(look, len(strips) + bool(unshown)),
    )


def _framed(plan: _Plan, least: float) -> tuple[Axes, Axes, Axes | None]:
    """The frames of effect, distribution and strips, one below the other."""
    look, room, banded = plan.look, plan.room, plan.banded
    bare = Scale(plan.x.low, plan.x.high, has_ticks=False)
    nothing = Scale(0.0, 1.0, has_ticks=False, has_line=False)
    below = axes(look, room, plan.x, plan.y, Pane.EFFECT, plan.right, plan.top, least).frame.area.bottom
    above = Box(*room[:3], below - plan.tall - banded - look.of(5))
    frame = axes(look, above, bare, plan.y, Pane.EFFECT, plan.right, plan.top, least)
    left = frame.frame.area.left - room.left
    top = below - plan.tall - banded
    bottom = below - banded if plan.strips else room.bottom
    under = replace(bare, has_line=False) if plan.strips else plan.x
    middle = Box(room.left, top, room.right, bottom)
    lower = axes(look, middle, under, nothing, Pane.DISTRIBUTION, plan.right, 0.0, left)
    if not plan.strips:
        return frame, lower, None
    foot = Box(room.left, below - banded, room.right, room.bottom)
    return frame, lower, axes(look, foot, plan.x, nothing, Pane.STRIPS, plan.right, 0.0, left)


def _along(
    study: Study,
    sight: Sight,
    look: Look,
    room: Box,
    extras: Extras,
    shared: tuple[float, float] | None,
    edges: tuple[float, float],
) -> tuple[tuple[Frame, ...], list[Mark]]:
    plan = _planned(study, sight, look, room, extras, shared)
    upper, lower, under = _framed(replace(plan, right=max(plan.right, edges[1])), edges[0])
    frame, area = upper.frame, upper.frame.area
    marks: list[Mark] = [*washes(look, sight, frame), *washes(look, sight, lower.frame)]
    if plan.bars is not None:
        marks.append(distribution(look, plan.bars, lower.frame, look.palette.shade))
    marks += [*_smallest(look, sight, frame), *_curves(plan, frame)]
    marks.append(Line(level_line(frame, 0.0), look.axis, Part.ZERO))
    marks += _thirds(look, frame, extras)
    marks += boundary_lines(look, sight, frame)
    marks += ticks_of(look, frame, extras)
    marks += [*upper.marks, *lower.marks]
    above = area.top - look.of(2) if plan.lies else room.top + look.of(3)
    labels = Box(area.right + look.of(LEADER), above, room.right - look.of(3), area.bottom)
    marks += _curve_names(look, sight, plan.curves, plan.undrawn, frame, labels)
    frames = [frame, lower.frame]
    if under is not None:
        frames.append(under.frame)
        inside = Box(under.frame.area.right + look.of(LEADER), *labels[1:])
        marks += [*under.marks, *draw_strips(look, sight, plan.strips, plan.unshown, under.frame, inside)]
    if plan.lies:
        marks += _title_above(study, sight, look, room, frame)
    return tuple(frames), [*marks, *_words_above(study, plan, upper)]


def _curves(plan: _Plan, frame: Frame) -> list[Mark]:
    """All effects, the one that is seen last and with its band."""
    look, found, moderator = plan.look, plan.sight.focus, plan.sight.probed.moderator
    assert isinstance(moderator, NumberBasis)
    assert found.curve is not None
    grid = np.linspace(*span(moderator.low, moderator.high), GRID)
    marks: list[Mark] = []
    for c in plan.curves:
        if not c.is_seen and c.curve.is_estimable:
            line = frame.at(grid, c.curve.effect(grid))
            marks.append(Line(line, look.line_ink(c.look, 1.4), c.about, frame.area))
    if not found.curve.is_estimable:
        said = centred("not estimable", *frame.area.middle, look, Part.NOTE, colour=look.palette.soft_ink)
        return [*marks, said]
    band = found.band(grid) if found.curve.has_errors else None
    hue = next((c.look for c in plan.curves if c.is_seen), None)
    usual = look.line(focus_key(plan.sight, plan.sight.seen.focus), LineLook(look.palette.groups[0], (), SHAPES[0]))
    own = usual if plan.is_alone or hue is None else hue
    return [*marks, *_curve(look, frame, grid, found.curve.effect(grid), band, own)]


def _words_above(study: Study, plan: _Plan, upper: Axes) -> list[Mark]:
    """Boundaries' values and regions' words above the frame."""
    look, room, frame = plan.look, plan.room, upper.frame
    standing = [mark.box.right for mark in upper.marks if isinstance(mark, Text) and mark.upright]
    inner = Box(max([room.left, *standing]) + look.of(2), room.top, room.right - look.of(2), room.bottom)
    baseline, marks = frame.area.top - look.of(4), list[Mark]()
    if plan.has_bounds:
        marks += boundary_values(look, plan.sight, frame, Box(frame.area.left, *inner[1:]), baseline)
        baseline -= LEADING * look.text
    if plan.is_alone and has_words(look):
        read = EffectReader(study, plan.sight.probed, plan.sight.seen.panel)
        marks += region_words(look, read, plan.sight, frame, inner, baseline)
    return marks


def _title_above(study: Study, sight: Sight, look: Look, room: Box, frame: Frame) -> list[Mark]:
    """The title of the upright axis, lying above it: beside strips there is little height for one that stands."""
    left = room.left + look.of(3)
    wide, size = room.right - left - look.of(3), look.size(Role.Y_TITLE, Pane.EFFECT)
    title = said_otherwise(look, Pane.EFFECT, Scale(0.0, 1.0, effect_title(study, sight)), True).title
    if title is None:
        return []
    baseline = room.top + look.of(3) + ASCENT * size
    text = one_line(title, wide, size)
    whole = title.whole if text != title.whole else ""
    return [Text(text, left, baseline, size, look.palette.ink, Part.TITLE_Y, whole=whole)]


def _curve(
    look: Look,
    frame: Frame,
    grid: np.ndarray,
    values: np.ndarray,
    band: tuple[np.ndarray, np.ndarray] | None,
    own: LineLook,
) -> list[Mark]:
    """The effect with its band, in the look of its panel or comparison."""
    hue, marks = own.colour, list[Mark]()
    if band is not None and look.band(0.18) > 0:
        low, high = frame.at(grid, band[0]), frame.at(grid, band[1])
        marks.append(Area(np.vstack([low, high[::-1]]), hue, look.band(0.18), OfEffect(), frame.area))
        marks += [Line(edge, look.ink(hue, 0.7), OfEffect(), frame.area) for edge in (low, high)]
    marks.append(Line(frame.at(grid, values), look.line_ink(own, 2.2), OfEffect(), frame.area))
    return marks


def _curve_names(
    look: Look, sight: Sight, curves: list[DrawnCurve], undrawn: int, frame: Frame, labels: Box
) -> list[Mark]:
    """The curves' names at their right ends."""
    moderator = sight.probed.moderator
    assert isinstance(moderator, NumberBasis)
    named = [c for c in curves if c.name and c.curve.is_estimable]
    boxed: list[Mark] = []
    if look.has_box:
        entries = [Entry(c.name, c.about, c.look, look.is_first(_curve_key(sight, c))) for c in named]
        boxed, named = key_box(look, frame, entries, Pane.EFFECT), []
    if labels.width <= 0 or labels.height < 2.2 * line_height(look.text):
        return boxed
    end = min(moderator.high, frame.x[1])
    ends = [
        End(float(frame.at_y(c.curve.effect(np.array([end]))[0])), c.name, c.about, c.is_seen)
        for c in named
        if not look.hides(TextKey(Role.LINE, Pane.EFFECT, _curve_key(sight, c)))
    ]
    smallest = sight.probed.smallest
    if smallest is not None and frame.y[0] < smallest < frame.y[1]:
        ends.append(End(float(frame.at_y(smallest)), "smallest", OfSize(-1)))
    if not ends:
        return boxed
    size = look.size(Role.LINE, Pane.EFFECT)
    marks = end_labels(look, ends, frame.area.right, labels, look.of(LEADER), size)
    if undrawn:
        at = Text(
            f"{undrawn} more, not drawn",
            frame.area.left + look.of(4),
            frame.area.bottom - look.of(4),
            look.small,
            look.palette.soft_ink,
            Part.NOTE,
        )
        marks.append(at)
    return [*marks, *boxed]


def _curve_key(sight: Sight, curve: DrawnCurve) -> LineKey | None:
    """By what a curve is known."""
    match curve.about:
        case OfPanel(k):
            return panel_key(sight, k)
        case OfFocus(k):
            return focus_key(sight, k)


def _has_size(sight: Sight) -> bool:
    return sight.probed.smallest is not None


def _sizes_drawn(sight: Sight, ends: list[float]) -> list[float]:
    """The smallest effect that matters on both sides, where the axis can show it beside the effect."""
    smallest = sight.probed.smallest
    if smallest is None or smallest > 4 * max(abs(v) for v in ends):
        return []
    return [smallest, -smallest]


def _smallest(look: Look, sight: Sight, frame: Frame) -> list[Mark]:
    """Level lines at plus and minus the smallest effect that matters."""
    smallest = sight.probed.smallest
    if smallest is None:
        return []
    ink = look.ink(look.palette.soft_ink, 0.9, (1.5, 2.5))
    return [
        Line(level_line(frame, at), ink, OfSize(-1)) for at in (smallest, -smallest) if frame.y[0] < at < frame.y[1]
    ]


def _thirds(look: Look, frame: Frame, extras: Extras) -> list[Mark]:
    """The effect in thirds of the moderator, each at its median, with its interval."""
    marks: list[Mark] = []
    for third in extras.thirds:
        if np.isfinite(third.ends[0]):
            ends = frame.at([third.at, third.at], list(third.ends))
            marks.append(Line(ends, look.ink(look.palette.ink, 1.0), Part.REFERENCE, frame.area))
        spot = frame.at([third.at], [third.effect])
        edge = look.ink(look.palette.ink, 1.2)
        marks.append(
            Points(spot, SHAPES[2], look.of(5.5), look.palette.panel, Part.REFERENCE, edge=edge, clip=frame.area)
        )
    return marks
