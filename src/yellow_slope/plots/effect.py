"""The focal effect along a number moderator with its band, regions and the moderator's distribution; or one dot per
level."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from yellow_slope.core.fit.asked.histograms import bars_of
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.places import Everywhere
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.axes import Scale, axes, ground, level_line, span
from yellow_slope.plots.boundaries import boundary_lines, boundary_values, region_words, washes
from yellow_slope.plots.curves import DrawnCurve, drawn_curves
from yellow_slope.plots.distribution import distribution
from yellow_slope.plots.extras import NOTHING, Extras, ticks_of
from yellow_slope.plots.look import SHAPES, LineLook, Look, group_look
from yellow_slope.plots.marks import (
    About,
    Area,
    Box,
    Frame,
    Line,
    Mark,
    OfDifference,
    OfEffect,
    OfFocus,
    OfPlace,
    OfSize,
    Pane,
    Part,
    Plot,
    Points,
    Text,
)
from yellow_slope.plots.measuring import ASCENT, DESCENT, LEADING, text_width
from yellow_slope.plots.placing import LEAST, End, centred, end_labels, fitted_names, line_height
from yellow_slope.plots.strips import draw_strips, kept_strips, strip_height, strips_of
from yellow_slope.plots.titles import effect_title, number_title

GRID = 64
MINUS_SIGN = " − "
LEAST_HEIGHT = 42.0
"""Points that the effect's frame keeps before there are more strips."""
STRIPS = 0.45
"""The largest share of the height that strips may take."""
LEADER = 9.0
"""How long a leader is, in points."""
MOST_ROWS = 24
"""More rows than this are not drawn: nobody could tell them apart."""
NAMES = 0.45
"""The largest share of the width that names at the left may take."""


def effect(study: Study, sight: Sight, look: Look, room: Box, extras: Extras = NOTHING) -> Plot:
    """The focal effect of a panel: along a number moderator, else a dot with its interval for each level."""
    if isinstance(sight.probed.moderator, NumberBasis):
        frames, marks = _along(study, sight, look, room, extras)
    else:
        frames, marks = _dots(study, sight, look, room)
    return Plot(frames, (ground(look, room), *marks))


# ---- along a number


def _along(study: Study, sight: Sight, look: Look, room: Box, extras: Extras) -> tuple[tuple[Frame, ...], list[Mark]]:
    moderator, found = sight.probed.moderator, sight.focus
    assert isinstance(moderator, NumberBasis)
    assert found.curve is not None
    read = EffectReader(study, sight.probed, sight.seen.panel)
    bars = bars_of(np.asarray(sight.probed.observed, dtype=np.float64))
    low, high = span(moderator.low, moderator.high)
    grid = np.linspace(low, high, GRID)
    if bars is not None and bars.at_values:  # whole bars at both ends
        low, high = min(low, float(bars.left.min())), max(high, float(bars.right.max()))
    told = found.curve.is_estimable
    curves, undrawn = drawn_curves(study, sight, look.palette)
    lacking = look.of(LEAST_HEIGHT) + 4.6 * look.text
    strips, unshown = kept_strips(
        look, strips_of(study, sight, curves), min(STRIPS * room.height, 0.87 * room.height - lacking)
    )
    values = [c.curve.effect(grid) for c in curves if c.curve.is_estimable]
    band = found.band(grid) if told and found.curve.has_errors else None
    ends = [0.0, *(float(v) for value in values for v in (value.min(), value.max()))]
    ends += [float(band[0].min()), float(band[1].max())] if band is not None else []
    ends += [] if values else [-1.0, 1.0]
    ends += _sizes_drawn(sight, ends)
    ends += [v for third in extras.thirds for v in (third.effect, *third.ends) if np.isfinite(v)]
    x, y = (
        Scale(low, high, number_title(study, moderator.variable)),
        Scale(*span(min(ends), max(ends), 0.05), None if strips else effect_title(study, sight)),
    )
    regions = found.regions
    is_alone = len(curves) < 2
    has_bounds = regions is not None and bool(regions.boundaries) and not strips
    rows = int(regions is not None and regions.tells and is_alone) + int(has_bounds)
    top = look.of(10) + rows * LEADING * look.text + (look.text if strips else 0.0)
    names = [c.name for c in curves if c.name] + [s.name for s in strips] + (["smallest"] if _has_size(sight) else [])
    right = look.of(14)
    if names:
        right = min(
            max(right, max(text_width(name, look.text, bold=True) for name in names) + look.of(26)), NAMES * room.width
        )
    # The distribution takes a sixth of the height below the effect; both share one axis, with the strips between.
    tall = max(look.of(16), (0.16 if is_alone else 0.11) * room.height)
    banded = strip_height(look, len(strips) + bool(unshown))
    upper = Box(room.left, room.top, room.right, room.bottom - tall - banded)
    made = axes(look, room, x, y, Pane.EFFECT, right, top)
    below = made.frame.area.bottom
    frame = axes(
        look,
        Box(*upper[:3], below - tall - banded - look.of(5)),
        Scale(low, high, has_ticks=False),
        y,
        Pane.EFFECT,
        right,
        top,
    )
    left = frame.frame.area.left - room.left
    lower = axes(
        look,
        Box(room.left, below - tall - banded, room.right, below - banded)
        if strips
        else Box(room.left, below - tall, *room[2:]),
        Scale(low, high, has_ticks=False, has_line=False) if strips else x,
        Scale(0.0, 1.0, has_ticks=False, has_line=False),
        Pane.DISTRIBUTION,
        right,
        0.0,
        left,
    )
    marks: list[Mark] = [*washes(look, sight, frame.frame), *washes(look, sight, lower.frame)]
    if bars is not None:
        marks.append(distribution(look, bars, lower.frame, look.palette.shade))
    marks += _smallest(look, sight, frame.frame)
    for c in curves:
        if not c.is_seen and c.curve.is_estimable:
            line = frame.frame.at(grid, c.curve.effect(grid))
            marks.append(Line(line, look.ink(c.look.colour, 1.4, c.look.dash), c.about, frame.frame.area))
    if told:
        hue = next((c.look for c in curves if c.is_seen), None)
        marks += _curve(look, frame.frame, grid, found.curve.effect(grid), band, None if is_alone else hue)
    else:
        marks.append(
            centred("no case tells of it", *frame.frame.area.middle, look, Part.NOTE, colour=look.palette.soft_ink)
        )
    marks.append(Line(level_line(frame.frame, 0.0), look.axis, Part.ZERO))
    marks += _thirds(look, frame.frame, extras)
    marks += boundary_lines(look, sight, frame.frame)
    marks += ticks_of(look, frame.frame, extras)
    marks += [*frame.marks, *lower.marks]
    frames = [frame.frame, lower.frame]
    area = frame.frame.area
    above = area.top - look.of(2) if strips else room.top + look.of(3)
    labels = Box(area.right + look.of(LEADER), above, room.right - look.of(3), area.bottom)
    marks += _curve_names(look, sight, curves, undrawn, frame.frame, labels)
    if strips:
        under = axes(
            look,
            Box(room.left, below - banded, room.right, room.bottom),
            x,
            Scale(0.0, 1.0, has_ticks=False, has_line=False),
            Pane.STRIPS,
            right,
            0.0,
            left,
        )
        frames.append(under.frame)
        inside = Box(under.frame.area.right + look.of(LEADER), *labels[1:])
        marks += [*under.marks, *draw_strips(look, sight, strips, unshown, under.frame, inside)]
        marks += _title_above(study, sight, look, room, frame.frame)
    upright = [mark.box.right for mark in frame.marks if isinstance(mark, Text) and mark.upright]
    inner = Box(max([room.left, *upright]) + look.of(2), room.top, room.right - look.of(2), room.bottom)
    baseline = area.top - look.of(4)
    if has_bounds:
        marks += boundary_values(look, sight, frame.frame, Box(area.left, *inner[1:]), baseline)
        baseline -= LEADING * look.text
    if is_alone:
        marks += region_words(look, read, sight, frame.frame, inner, baseline)
    return tuple(frames), marks


def _title_above(study: Study, sight: Sight, look: Look, room: Box, frame: Frame) -> list[Mark]:
    """The title of the upright axis, lying above it: beside strips there is little height for one that stands."""
    left = room.left + look.of(3)
    lines = effect_title(study, sight).lines(room.right - left - look.of(3), look.text, 1)
    baseline = room.top + look.of(3) + ASCENT * look.text
    text, whole = (lines[0].text, lines[0].whole) if lines else ("", "")
    if len(lines) > 1:  # not even the short name has room beside its unit
        text, whole = (
            fitted_names([effect_title(study, sight).whole], room.right - left - look.of(3), look.text)[0],
            whole,
        )
    return [Text(text, left, baseline, look.text, look.palette.ink, Part.AXIS_Y, whole=whole)]


def _curve(
    look: Look,
    frame: Frame,
    grid: np.ndarray,
    values: np.ndarray,
    band: tuple[np.ndarray, np.ndarray] | None,
    own: LineLook | None,
) -> list[Mark]:
    """The effect with its band, in the look of its panel or comparison."""
    hue, dash = (look.palette.groups[0], ()) if own is None else (own.colour, own.dash)
    marks = list[Mark]()
    if band is not None:
        low, high = frame.at(grid, band[0]), frame.at(grid, band[1])
        marks.append(Area(np.vstack([low, high[::-1]]), hue, 0.18, OfEffect(), frame.area))
        marks += [Line(edge, look.ink(hue, 0.7), OfEffect(), frame.area) for edge in (low, high)]
    marks.append(Line(frame.at(grid, values), look.ink(hue, 2.2, dash), OfEffect(), frame.area))
    return marks


def _curve_names(
    look: Look, sight: Sight, curves: list[DrawnCurve], undrawn: int, frame: Frame, labels: Box
) -> list[Mark]:
    """The curves' names at their right ends."""
    moderator = sight.probed.moderator
    assert isinstance(moderator, NumberBasis)
    if labels.width <= 0 or labels.height < 2.2 * line_height(look.text):
        return []
    ends = [
        End(float(frame.at_y(c.curve.effect(np.array([moderator.high]))[0])), c.name, c.about, c.is_seen)
        for c in curves
        if c.name and c.curve.is_estimable
    ]
    smallest = sight.probed.smallest
    if smallest is not None and frame.y[0] < smallest < frame.y[1]:
        ends.append(End(float(frame.at_y(smallest)), "smallest", OfSize(-1)))
    if not ends:
        return []
    marks = end_labels(look, ends, frame.area.right, labels, look.of(LEADER))
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
    return marks


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


# ---- a dot for each level


@dataclass(frozen=True, slots=True)
class _Row:
    name: str
    effect: ConditionalEffect
    about: About
    is_effect: bool
    """Else a difference between two."""
    minus: str = ""
    """What is taken from it."""

    @property
    def whole(self) -> str:
        """The whole name."""
        return f"{self.name}{MINUS_SIGN}{self.minus}" if self.minus else self.name


def _dots(study: Study, sight: Sight, look: Look, room: Box) -> tuple[tuple[Frame, ...], list[Mark]]:
    rows, undrawn = drawn_effects(study, sight)
    n = sum(row.is_effect for row in rows)
    rows, heading = _with_heading(rows)
    apart = 1.6 if heading else 0.6
    title = effect_title(study, sight)
    ends = [0.0, *(v for row in rows for v in (row.effect.low, row.effect.high, row.effect.effect) if np.isfinite(v))]
    low, high = span(min(ends), max(ends), 0.05)
    across, upright = Scale(low, high, title), Scale(-1.0, 1.0, has_ticks=False)
    inside = axes(look, room, across, upright, Pane.EFFECT, look.of(14), look.of(12), NAMES * room.width)
    height = inside.frame.area.height
    least = line_height(look.of(LEAST)) * 1.06

    def slots(kept: int) -> float:
        """How many rows' heights so many take, with the heading and a word about the others."""
        return kept + (apart if kept > n else 0.0) + float(kept < len(rows) or undrawn > 0) + 0.2

    kept = next((k for k in range(len(rows), 1, -1) if slots(k) * least <= height), 1)
    left_out = len(rows) - kept + undrawn
    rows = rows[:kept]
    at = [float(i) if row.is_effect else i + apart for i, row in enumerate(rows)]
    last = (at[-1] if at else 0.0) + (1.0 if left_out else 0.0)
    heading = heading if n < len(rows) else ""
    size = min(look.text, max(look.of(LEAST), height / slots(kept) / line_height(1.06)))
    noted = min(size, look.small)
    names = _row_names(rows, NAMES * room.width - look.of(12), size)
    named = tuple((-place, name) for place, name in zip(at, names))
    head = fitted_names([heading], NAMES * room.width - look.of(12), noted)[0] if heading else ""
    more = f"{left_out} more, not drawn" if left_out else ""
    beside = [text_width(name, size) for name in names] + [text_width(text, noted) for text in (head, more)]
    left = max(beside, default=0.0) + look.of(12)
    made = axes(
        look, room, across, Scale(-last - 0.6, 0.6, has_ticks=False), Pane.EFFECT, look.of(14), look.of(12), left
    )
    frame, marks = made.frame, list(made.marks)
    area = frame.area
    for (place, name), row in zip(named, rows):
        y = float(frame.at_y(place))
        x = area.left - look.of(6) - text_width(name, size)
        whole = row.whole if name != row.whole else ""
        marks.append(Text(name, x, y + (ASCENT - DESCENT) / 2 * size, size, look.palette.ink, row.about, whole=whole))
    marks.append(
        Line(
            np.array([[float(frame.at_x(0.0)), area.top], [float(frame.at_x(0.0)), area.bottom]]), look.axis, Part.ZERO
        )
    )
    if n < len(rows):
        between = float(frame.at_y(-(n - 0.2)))
        marks.append(
            Line(np.array([[area.left, between], [area.right, between]]), look.ink(look.palette.line, 0.8), Part.ZERO)
        )
    lines = isinstance(sight.probed.focal, NumberBasis)
    for i, ((place, _), row) in enumerate(zip(named, rows)):
        marks += _dot(look, frame, place, row, i, lines)
    for text, where, whole in ((head, n + 0.6, heading), (more, last, more)):
        if text:
            x = area.left - look.of(6) - text_width(text, noted)
            y = float(frame.at_y(-where)) + (ASCENT - DESCENT) / 2 * noted
            cut = whole if whole != text else ""
            marks.append(Text(text, x, y, noted, look.palette.soft_ink, Part.NOTE, whole=cut))
    return (frame,), marks


def _with_heading(rows: list[_Row]) -> tuple[list[_Row], str]:
    """Differences that all take the same from theirs, without it, and a heading that says it once."""
    minus = {row.minus for row in rows if not row.is_effect}
    if len(minus) != 1 or sum(not row.is_effect for row in rows) < 2:
        return rows, ""
    return [replace(row, minus="") if not row.is_effect else row for row in rows], f"minus {minus.pop()}:"


def _row_names(rows: list[_Row], room: float, size: float) -> list[str]:
    """The rows' names in a room; of a difference each of the two is shortened by itself."""
    half = (room - text_width(MINUS_SIGN, size)) / 2
    single = fitted_names([row.name for row in rows], room, size)
    pairs = fitted_names([part for row in rows for part in (row.name, row.minus)], half, size)
    found = []
    for i, row in enumerate(rows):
        if not row.minus:
            found.append(single[i])
        elif text_width(row.whole, size) <= room:
            found.append(row.whole)
        else:
            found.append(f"{pairs[2 * i]}{MINUS_SIGN}{pairs[2 * i + 1]}")
    return found


def drawn_effects(study: Study, sight: Sight) -> tuple[list[_Row], int]:
    """Effects and differences that can be seen, each with its name, and how many more there are."""
    read, found = EffectReader(study, sight.probed, sight.seen.panel), sight.focus
    if isinstance(sight.probed.places[0], Everywhere):
        foci = sight.panel.foci
        rows = [_Row(read.what(k), f.effects[0], OfFocus(k), True) for k, f in enumerate(foci[:MOST_ROWS])]
        return rows, len(foci) - len(rows)
    rows = [_Row(read.place_name(i), effect, OfPlace(i), True) for i, effect in enumerate(found.effects[:MOST_ROWS])]
    room = max(0, MOST_ROWS - len(rows))
    for i, d in enumerate(found.differences[:room]):
        of, minus = (read.place_name(k) for k in (d.of, d.minus))
        rows.append(_Row(of, d.effect, OfDifference(i), False, minus))
    return rows, len(found.effects) + len(found.differences) - len(rows)


def _dot(look: Look, frame: Frame, y: float, row: _Row, index: int, lines: bool) -> list[Mark]:
    """An effect with its interval, in the look of its line."""
    effect = row.effect
    if not effect.exists:
        at = float(frame.at_y(y)) + 0.28 * look.small
        x = frame.area.left + look.of(5)
        return [Text("no case tells of it", x, at, look.small, look.palette.soft_ink, row.about)]
    ink = look.palette.ink if row.is_effect else look.palette.soft_ink
    own = group_look(index, look.palette)
    hue = own.colour if lines and row.is_effect else ink
    found: list[Mark] = []
    if np.isfinite(effect.low):
        found.append(Line(frame.at([effect.low, effect.high], [y, y]), look.ink(hue, 1.4), row.about))
    shape = own.shape if row.is_effect else SHAPES[0]
    fill = hue if row.is_effect else look.palette.panel
    found.append(Points(frame.at([effect.effect], [y]), shape, look.of(6), fill, row.about, edge=look.ink(hue, 1.3)))
    return found
