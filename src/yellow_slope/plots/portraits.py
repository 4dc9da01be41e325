"""Small pictures of one variable: a number's histogram, and the outcome by the levels of a group."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from yellow_slope.core.data.table import number_text
from yellow_slope.core.fit.asked.summaries import LevelSummary, NumberSummary, Portrait
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.words.spelling.numerals import MINUS, place
from yellow_slope.plots.axes import upright_line
from yellow_slope.plots.distribution import distribution
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import (
    Area,
    Box,
    Frame,
    Line,
    Mark,
    OfPlace,
    Page,
    Part,
    Points,
    Rect,
    Shape,
    Text,
    Weight,
)
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.plots.placing import centred, fitted_names, label_size

ABOVE, BELOW = 14.4, 18.7
"""Points above and below the bars: mean and SD above, quartiles and the range below."""
SLOT = 27.0
"""Points that a value far from all others takes."""
NAMES = 0.42
"""The largest share of the width that names of levels take."""


def portrait_page(portrait: Portrait, look: Look, width: float, height: float) -> Page:
    """A number's bars over its range, mean and SD above, quartiles below; codes for missing beyond a break of the
    axis."""
    bars, s = portrait.bars, portrait.rest
    if bars is None:
        return Page(width, height, ())
    edge = look.of(1.5)
    names = [number_text(value).replace("-", MINUS) for value, _ in portrait.apart]
    slots = [max(look.of(SLOT), text_width(name, look.text, bold=True) + look.of(8)) for name in names]
    right = max(width - edge - sum(slots), 0.3 * width)
    area = Box(edge, look.of(ABOVE), right, height - look.of(BELOW))
    frame = Frame(area, (bars.low, bars.high), (0.0, 1.0), Pane.DISTRIBUTION, Box(0.0, 0.0, width, height))
    tallest = max(float(bars.counts.max()), *(float(count) for _, count in portrait.apart), 1.0)
    marks: list[Mark] = [distribution(look, bars, frame, look.palette.faint_ink, tallest)]
    base = np.array([[area.left, area.bottom], [area.right, area.bottom]])
    marks.append(Line(base, look.ink(look.palette.line, 0.7), Part.AXIS_X))
    marks += _center(look, s, frame)
    marks += [_quartile(look, float(frame.at_x(q)), area.bottom) for q in s.quartiles]
    marks += _range(look, s, area, height)
    at = right
    for (_, count), name, slot in zip(portrait.apart, names, slots):
        marks += _apart(look, Box(at, area.top, at + slot, area.bottom), name, count, count / tallest, height)
        at += slot
    return Page(width, height, tuple(marks), (frame,))


def _center(look: Look, s: NumberSummary, frame: Frame) -> list[Mark]:
    """The mean, and one SD to either side as far as there are values."""
    if not s.sd > 0:
        return []
    ink = look.ink(look.palette.ink, 1.0)
    low, high = (float(frame.at_x(v)) for v in (max(s.low, s.mean - s.sd), min(s.high, s.mean + s.sd)))
    y = look.of(7.2)
    return [
        Line(np.array([[low, y], [high, y]]), ink, Part.REFERENCE),
        Line(upright_line(frame, s.mean, look.of(3.6)), ink, Part.REFERENCE),
    ]


def _quartile(look: Look, x: float, bottom: float) -> Area:
    half, top, foot = look.of(2.5), bottom + look.of(2.2), bottom + look.of(6.5)
    return Area(np.array([[x, top], [x - half, foot], [x + half, foot]]), look.palette.soft_ink, 1.0, Part.REFERENCE)


def _range(look: Look, s: NumberSummary, area: Box, height: float) -> list[Mark]:
    """The lowest and the highest value; smaller where both have little room, one where they are the same."""
    sd = s.sd if np.isfinite(s.sd) else 1.0
    low, high = place(s.low, sd), place(s.high, sd)
    baseline = height - look.of(2.5)
    if low == high:
        return [
            centred(low, (area.left + area.right) / 2, baseline, look, Part.AXIS_X, look.text, look.palette.soft_ink)
        ]
    room = area.width - look.of(4)
    wanted = text_width(low, 1.0) + text_width(high, 1.0)
    size = min(look.text, room / wanted)
    return [
        Text(low, area.left, baseline, size, look.palette.soft_ink, Part.AXIS_X),
        Text(high, area.right - text_width(high, size), baseline, size, look.palette.soft_ink, Part.AXIS_X),
    ]


def _apart(look: Look, slot: Box, name: str, count: int, share: float, height: float) -> list[Mark]:
    """A value far from all others: its bar stands beyond a break of the axis."""
    ink, half = look.ink(look.palette.soft_ink, 0.7), look.of(1.4)
    reach, middle = look.of(2.9), (slot.left + look.of(6) + slot.right) / 2
    marks: list[Mark] = [
        Line(np.array([[x - half, slot.bottom + reach], [x + half, slot.bottom - reach]]), ink, Part.AXIS_X)
        for x in (slot.left + look.of(3.6), slot.left + look.of(6.5))
    ]
    top = slot.bottom - max(look.of(1.5), share * (slot.height - look.text))
    wide = look.of(4.3)
    edge = look.ink(look.palette.ink, 0.7)
    box = Box(middle - wide, top, middle + wide, slot.bottom)
    marks.append(Rect(box, look.palette.yellow, Part.DISTRIBUTION, edge=edge))
    for text, y in ((name, height - look.of(2.5)), (f"{count:,}", top - look.of(2))):
        x = middle - text_width(text, look.text, bold=True) / 2
        marks.append(Text(text, x, y, look.text, look.palette.amber_ink, Part.AXIS_X, Weight.BOLD))
    return marks


def levels_height(look: Look, count: int) -> float:
    """The height of the page of so many levels."""
    return look.of(15.8) * count + look.of(13)


def levels_page(names: Sequence[str], levels: Sequence[LevelSummary], look: Look, width: float, height: float) -> Page:
    """The outcome's mean in each level with its interval, on one axis."""
    ends = [v for level in levels for v in (level.low, level.high, level.mean) if np.isfinite(v)]
    if not ends:
        return Page(width, height, ())
    low, high = min(ends), max(ends)
    foot = look.of(11)
    size = label_size(look, len(names), height - foot)
    shown = fitted_names(names, NAMES * width, size)
    left = max(text_width(name, size) for name in shown) + look.of(6)
    area = Box(left, 0.0, width - look.of(6), height - foot)
    span = (low, high) if high > low else (low - 0.5, high + 0.5)
    frame = Frame(area, span, (0.0, float(len(names))), Pane.EFFECT, Box(0.0, 0.0, width, height))
    marks: list[Mark] = []
    for i, (name, whole, level) in enumerate(zip(shown, names, levels)):
        y = area.top + area.height * (i + 0.5) / len(names)
        baseline = y + (ASCENT - DESCENT) / 2 * size
        x = left - look.of(4.5) - text_width(name, size)
        marks.append(Text(name, x, baseline, size, look.palette.ink, OfPlace(i), whole=whole if whole != name else ""))
        if not np.isfinite(level.mean):
            continue
        if np.isfinite(level.low):
            ends_at = np.column_stack([frame.at_x(np.array([level.low, level.high])), [y, y]])
            marks.append(Line(ends_at, look.ink(look.palette.soft_ink, 1.15), OfPlace(i)))
        spot = np.array([[float(frame.at_x(level.mean)), y]])
        marks.append(Points(spot, Shape.CIRCLE, look.of(5.2), look.palette.ink, OfPlace(i)))
    marks += _ends(look, area, height, place(low, (high - low) / 4 or 1.0), place(high, (high - low) / 4 or 1.0))
    return Page(width, height, tuple(marks), (frame,))


def _ends(look: Look, area: Box, height: float, low: str, high: str) -> list[Mark]:
    texts = [(low, area.left)] if low == high else [(low, area.left), (high, area.right - text_width(high, look.small))]
    boxes = [Text(t, x, height - look.of(2.2), look.small, look.palette.soft_ink, Part.AXIS_X) for t, x in texts]
    return [boxes[0]] if any(a.box.overlaps(b.box) for a, b in pairwise(boxes)) else list(boxes)
