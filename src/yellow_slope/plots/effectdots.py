"""The focal effect in each level of a group: a dot with its interval, and below them the differences that are asked."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.places import Everywhere
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import LineKey, Pane, Role
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.axes import Scale, axes, span
from yellow_slope.plots.curves import panel_name
from yellow_slope.plots.keys import focus_key, place_key
from yellow_slope.plots.look import PRINT, SHAPES, Look, group_look
from yellow_slope.plots.marks import About, Box, Frame, Line, Mark, OfDifference, OfFocus, OfPlace, Part, Points, Text
from yellow_slope.plots.measuring import LEADING, name_lines, text_width
from yellow_slope.plots.nulls import fill
from yellow_slope.plots.placing import LEAST, fitted_names, line_height
from yellow_slope.plots.rows import NAMES, RowName, at_left, draw_names, names_room, names_width, row_lines
from yellow_slope.plots.titles import effect_title
from yellow_slope.values import dataclass, replace

MINUS_SIGN = " − "
MOST_ROWS = 24
"""More rows than this are not drawn: nobody could tell them apart."""


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


def dots_span(study: Study, sight: Sight) -> tuple[float, float]:
    """What the axis of the effects spans."""
    rows, _ = drawn_effects(study, sight, PRINT)
    ends = [0.0, *(v for row in rows for v in (row.effect.low, row.effect.high, row.effect.effect) if np.isfinite(v))]
    return span(min(ends), max(ends), 0.05)


def dots(
    study: Study, sight: Sight, look: Look, room: Box, shared: tuple[float, float] | None, names_panel: bool = True
) -> tuple[tuple[Frame, ...], list[Mark]]:
    """The dots. shared: what the axis of effects spans, where another plot has the same; names_panel: whether its title
    says of which of several panels they are."""
    rows, undrawn = drawn_effects(study, sight, look)
    n = sum(row.is_effect for row in rows)
    rows, heading = _with_heading(rows)
    apart = 1.6 if heading else 0.6
    is_one_of = names_panel and len(sight.probed.panels) > 1
    title = effect_title(study, sight, panel_name(study, sight, sight.seen.panel) if is_one_of else "")
    low, high = shared or dots_span(study, sight)
    letters = look.size(Role.LINE, Pane.EFFECT)
    tall = row_lines(look, Pane.EFFECT, [row.whole for row in rows], room.width)
    across, upright = Scale(low, high, title), Scale(-1.0, 1.0, has_ticks=False)
    inside = axes(look, room, across, upright, Pane.EFFECT, look.of(14), look.of(12), NAMES * room.width)
    height = inside.frame.area.height
    each = line_height(1.06) if tall < 2 else LEADING * tall + 0.25
    least = look.of(LEAST) * each

    def slots(kept: int) -> float:
        """How many rows' heights so many take, with the heading and a word about the others."""
        return kept + (apart if kept > n else 0.0) + float(kept < len(rows) or undrawn > 0) + 0.2

    kept = next((k for k in range(len(rows), 1, -1) if slots(k) * least <= height), 1)
    left_out = len(rows) - kept + undrawn
    rows = rows[:kept]
    at = [float(i) if row.is_effect else i + apart for i, row in enumerate(rows)]
    last = (at[-1] if at else 0.0) + (1.0 if left_out else 0.0)
    heading = heading if n < len(rows) else ""
    size = min(letters, max(look.of(LEAST), height / slots(kept) / each))
    noted = min(size, look.small)
    wide = names_room(look, room.width)
    names = _row_names(rows, wide, size) if tall < 2 else [row.whole for row in rows]
    broken = [(name_lines(name, wide, size) if tall > 1 else None) or [name] for name in names]
    named = [
        RowName(-place, lines, row.about, row.whole if len(lines) < 2 and lines[0] != row.whole else "")
        for place, lines, row in zip(at, broken, rows)
    ]
    head = fitted_names([heading], wide, noted)[0] if heading else ""
    more = f"{left_out} more, not drawn" if left_out else ""
    beside = [(line, size) for lines in broken for line in lines]
    left = names_width(look, [*beside, (head, noted), (more, noted)])
    made = axes(
        look, room, across, Scale(-last - 0.6, 0.6, has_ticks=False), Pane.EFFECT, look.of(14), look.of(12), left
    )
    frame, marks = made.frame, list(made.marks)
    area = frame.area
    marks += draw_names(look, frame, named, size)
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
    by_line = isinstance(sight.probed.focal, NumberBasis)
    for i, (name, row) in enumerate(zip(named, rows)):
        marks += _dot(look, frame, name.place, row, i, by_line, _row_key(sight, row))
    for text, where, whole in ((head, n + 0.6, heading), (more, last, more)):
        if text:
            x, y = at_left(look, area, text, float(frame.at_y(-where)), noted)
            cut = whole if whole != text else ""
            marks.append(Text(text, x, y, noted, look.palette.soft_ink, Part.NOTE, whole=cut))
    return (frame,), marks


def dots_height(study: Study, sight: Sight, look: Look, width: float) -> float:
    """The height that suits the rows of a figure."""
    rows, undrawn = drawn_effects(study, sight, look)
    size = look.size(Role.LINE, Pane.EFFECT)
    lines = row_lines(look, Pane.EFFECT, [row.whole for row in rows], width)
    return (len(rows) + 1.5 + bool(undrawn)) * (0.6 + LEADING * lines) * size + 5.0 * look.text + look.of(16)


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


def drawn_effects(study: Study, sight: Sight, look: Look) -> tuple[list[_Row], int]:
    """Effects and differences that can be seen, each with its name, and how many more there are."""
    read, found = EffectReader(study, sight.probed, sight.seen.panel), sight.focus
    if isinstance(sight.probed.places[0], Everywhere):
        foci = sight.panel.foci
        names = [look.name(focus_key(sight, k), read.what(k)) for k in range(min(len(foci), MOST_ROWS))]
        rows = [_Row(name, f.effects[0], OfFocus(k), True) for k, (f, name) in enumerate(zip(foci, names))]
        return rows, len(foci) - len(rows)
    keys = [place_key(sight.probed.moderator, at, i) for i, at in enumerate(sight.probed.places)]
    named = [look.name(key, read.place_name(i)) for i, key in enumerate(keys)]
    rows = [_Row(named[i], effect, OfPlace(i), True) for i, effect in enumerate(found.effects[:MOST_ROWS])]
    room = max(0, MOST_ROWS - len(rows))
    for i, d in enumerate(found.differences[:room]):
        of, minus = (read.place_name(k) if k is None else named[k] for k in (d.of, d.minus))
        rows.append(_Row(of, d.effect, OfDifference(i), False, minus))
    return rows, len(found.effects) + len(found.differences) - len(rows)


def _row_key(sight: Sight, row: _Row) -> LineKey | None:
    """By what a row is known; None of a difference."""
    match row.about:
        case OfPlace(i):
            return place_key(sight.probed.moderator, sight.probed.places[i], i)
        case OfFocus(k):
            return focus_key(sight, k)
    return None


def _dot(look: Look, frame: Frame, y: float, row: _Row, index: int, lines: bool, key: LineKey | None) -> list[Mark]:
    """An effect with its interval, in the look of its line."""
    effect = row.effect
    if not effect.exists:
        at = float(frame.at_y(y)) + 0.28 * look.small
        x = frame.area.left + look.of(5)
        return [Text("not estimable", x, at, look.small, look.palette.soft_ink, row.about)]
    ink = look.palette.ink if row.is_effect else look.palette.soft_ink
    usual = group_look(index, look.palette)
    own = look.line(key, usual if lines and row.is_effect else replace(usual, colour=ink))
    hue = own.colour
    found: list[Mark] = []
    if np.isfinite(effect.low):
        band = look.line_ink(replace(own, dash=()), 1.4)
        found.append(Line(frame.at([effect.low, effect.high], [y, y]), band, row.about, frame.area))
    shape = own.shape if row.is_effect else SHAPES[0]
    within, edge = fill(look, hue, effect.low, effect.high), look.ink(hue, 1.3)
    spot = frame.at([effect.effect], [y])
    found.append(Points(spot, shape, look.of(6), within, row.about, edge=edge, clip=frame.area))
    return found
