"""The focal effect along a number moderator with its band, regions and the moderator's distribution; or one dot per
level."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yellow_slope import looks
from yellow_slope.core.fit.asked.histograms import bars_of
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.places import Everywhere
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.axes import Scale, axes, ground, level_line, span
from yellow_slope.plots.boundaries import boundary_lines, boundary_values, region_words, washes
from yellow_slope.plots.distribution import distribution
from yellow_slope.plots.look import SHAPES, Look
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
    Pane,
    Part,
    Plot,
    Points,
    Text,
)
from yellow_slope.plots.measuring import ASCENT, DESCENT, LEADING, text_width
from yellow_slope.plots.placing import centred, fitted_names, label_size, line_height
from yellow_slope.plots.titles import effect_title, number_title

GRID = 64
MINUS_SIGN = " − "
MOST_ROWS = 24
"""More rows than this are not drawn: nobody could tell them apart."""
ROWS_WITH_DIFFERENCES = 10
NAMES = 0.45
"""The largest share of the width that names at the left may take."""


def effect(study: Study, sight: Sight, look: Look, room: Box) -> Plot:
    """The focal effect of a panel: along a number moderator, else a dot with its interval for each level."""
    if isinstance(sight.probed.moderator, NumberBasis):
        frames, marks = _along(study, sight, look, room)
    else:
        frames, marks = _dots(study, sight, look, room)
    return Plot(frames, (ground(look, room), *marks))


# ---- along a number


def _along(study: Study, sight: Sight, look: Look, room: Box) -> tuple[tuple[Frame, ...], list[Mark]]:
    moderator, found = sight.probed.moderator, sight.focus
    assert isinstance(moderator, NumberBasis)
    assert found.curve is not None
    read = EffectReader(study, sight.probed, sight.seen.panel)
    low, high = span(moderator.low, moderator.high)
    grid = np.linspace(low, high, GRID)
    told = found.curve.is_estimable
    values = found.curve.effect(grid) if told else np.zeros(GRID)
    band = found.band(grid) if told and found.curve.has_errors else None
    ends = [0.0, *((float(values.min()), float(values.max())) if told else (-1.0, 1.0))]
    ends += [float(band[0].min()), float(band[1].max())] if band is not None else []
    x, y = (
        Scale(low, high, number_title(study, moderator.variable)),
        Scale(*span(min(ends), max(ends), 0.05), effect_title(study, sight)),
    )
    regions = found.regions
    rows = int(regions is not None and regions.tells) + int(regions is not None and bool(regions.boundaries))
    top = look.of(10) + rows * LEADING * look.text
    # The distribution takes a sixth of the height below the effect; both share one axis.
    tall = max(look.of(16), 0.16 * room.height)
    upper = Box(room.left, room.top, room.right, room.bottom - tall)
    made = axes(look, room, x, y, Pane.EFFECT, look.of(14), top)
    below = made.frame.area.bottom
    frame = axes(
        look,
        Box(*upper[:3], below - tall - look.of(5)),
        Scale(low, high, has_ticks=False),
        y,
        Pane.EFFECT,
        look.of(14),
        top,
    )
    lower = axes(
        look,
        Box(room.left, below - tall, room.right, room.bottom),
        x,
        Scale(0.0, 1.0, has_ticks=False, has_line=False),
        Pane.DISTRIBUTION,
        look.of(14),
        0.0,
        frame.frame.area.left - room.left,
    )
    marks: list[Mark] = [*washes(look, sight, frame.frame), *washes(look, sight, lower.frame)]
    bars = bars_of(np.asarray(sight.probed.observed, dtype=np.float64))
    if bars is not None:
        marks.append(distribution(look, bars, lower.frame, look.palette.shade))
    if told:
        marks += _curve(look, frame.frame, grid, values, band)
    else:
        marks.append(
            centred("no case tells of it", *frame.frame.area.middle, look, Part.NOTE, colour=look.palette.soft_ink)
        )
    marks.append(Line(level_line(frame.frame, 0.0), look.axis, Part.ZERO))
    marks += boundary_lines(look, sight, frame.frame)
    marks += [*frame.marks, *lower.marks]
    upright = [mark.box.right for mark in frame.marks if isinstance(mark, Text) and mark.upright]
    inner = Box(max([room.left, *upright]) + look.of(2), room.top, room.right - look.of(2), room.bottom)
    baseline = frame.frame.area.top - look.of(4)
    if regions is not None and regions.boundaries:
        marks += boundary_values(look, sight, frame.frame, Box(frame.frame.area.left, *inner[1:]), baseline)
        baseline -= LEADING * look.text
    marks += region_words(look, read, sight, frame.frame, inner, baseline)
    return (frame.frame, lower.frame), marks


def _curve(
    look: Look, frame: Frame, grid: np.ndarray, values: np.ndarray, band: tuple[np.ndarray, np.ndarray] | None
) -> list[Mark]:
    """The effect with its band."""
    hue, marks = look.palette.groups[0], list[Mark]()
    if band is not None:
        low, high = frame.at(grid, band[0]), frame.at(grid, band[1])
        marks.append(Area(np.vstack([low, high[::-1]]), hue, 0.18, OfEffect(), frame.area))
        marks += [Line(edge, look.ink(hue, 0.7), OfEffect(), frame.area) for edge in (low, high)]
    marks.append(Line(frame.at(grid, values), look.ink(hue, 2.0), OfEffect(), frame.area))
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
    title = effect_title(study, sight)
    ends = [0.0, *(v for row in rows for v in (row.effect.low, row.effect.high, row.effect.effect) if np.isfinite(v))]
    low, high = span(min(ends), max(ends), 0.05)
    fit = max(1, int((room.height - 4.2 * look.text - look.of(20)) / (line_height(look.of(6.5)) * 1.06)))
    kept = min(len(rows), fit - 1) if undrawn or len(rows) > fit else len(rows)
    left_out = len(rows) - kept + undrawn
    rows = rows[:kept]
    at = [float(i) if row.is_effect else i + 0.6 for i, row in enumerate(rows)]
    last = (at[-1] if at else 0.0) + (1.0 if left_out else 0.0)
    size = label_size(look, max(1, len(rows) + bool(left_out)), room.height - 4.2 * look.text - look.of(20))
    names = _row_names(rows, NAMES * room.width - look.of(12), size)
    named = tuple((-place, name) for place, name in zip(at, names))
    left = max((text_width(name, size) for name in names), default=0.0) + look.of(12)
    made = axes(
        look,
        room,
        Scale(low, high, title),
        Scale(-last - 0.6, 0.6, has_ticks=False),
        Pane.EFFECT,
        look.of(14),
        look.of(12),
        left,
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
    if left_out:
        y = float(frame.at_y(-last)) + 0.28 * size
        marks.append(
            Text(f"{left_out} more, not drawn", area.left + look.of(4), y, size, look.palette.soft_ink, Part.NOTE)
        )
    return (frame,), marks


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
    room = max(0, ROWS_WITH_DIFFERENCES - len(found.effects))
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
    hue = looks.group_hue(index, look.palette) if lines and row.is_effect else ink
    found: list[Mark] = []
    if np.isfinite(effect.low):
        found.append(Line(frame.at([effect.low, effect.high], [y, y]), look.ink(hue, 1.4), row.about))
    shape = SHAPES[index % len(SHAPES)] if row.is_effect else SHAPES[0]
    fill = hue if row.is_effect else look.palette.panel
    found.append(Points(frame.at([effect.effect], [y]), shape, look.of(6), fill, row.about, edge=look.ink(hue, 1.3)))
    return found
