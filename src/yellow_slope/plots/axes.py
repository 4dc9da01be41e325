"""Axes: the frame of a plot with its lines, ticks and titles, as large as what stands around it leaves room."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Box, Frame, Line, Mark, Pane, Part, Rect, Text
from yellow_slope.plots.measuring import ASCENT, DESCENT, LEADING, text_width
from yellow_slope.plots.placing import centred, fitted_names, line_height
from yellow_slope.plots.scales import AxisTitle, Tick, Ticks, TitleLine, across, upward

PAD = 3.0
"""Points that nothing stands in, around the page."""
TICK = 3.0
GAP = 3.0


@dataclass(frozen=True, slots=True)
class Scale:
    """What an axis spans, and what stands at it."""

    low: float
    high: float
    title: AxisTitle | None = None
    names: tuple[tuple[float, str], ...] = ()
    """Names at places, in the place of ticks."""
    has_ticks: bool = True
    """Whether ticks and their labels are drawn."""
    has_line: bool = True


def span(low: float, high: float, pad: float = 0.0) -> tuple[float, float]:
    """A range as an axis spans it: widened by a share, and where all values are the same."""
    if not high > low:
        reach = abs(low) * 1e-3 or 0.5
        return low - reach, high + reach
    return low - pad * (high - low), high + pad * (high - low)


@dataclass(slots=True)
class Axes:
    """A frame that is laid out, and the marks of its axes."""

    frame: Frame
    marks: list[Mark] = field(default_factory=list)


def axes(
    look: Look, room: Box, x: Scale, y: Scale, pane: Pane, right: float = 0.0, top: float = 0.0, left: float = 0.0
) -> Axes:
    """The frame within a room, with its axes. right, top: what is kept free beside and above; left: at least so
    much."""
    size, pad = look.text, look.of(PAD)
    below = pad + _below(look, x, 1)
    width = room.width / 2
    titles: tuple[list[TitleLine], list[TitleLine]] = ([], [])
    ticks = (Ticks(()), Ticks(()))
    edge = left
    before = (-1.0, -1.0)
    for _ in range(4):  # each side's room depends on the other's
        if before == (below, edge):
            break
        before = (below, edge)
        height = max(1.0, room.height - top - below)
        ticks_y = upward(y.low, y.high, height, size) if y.has_ticks and not y.names else Ticks(())
        title_y = y.title.with_power(ticks_y.power).lines(height + top - 2 * pad, size) if y.title is not None else []
        edge = max(left, _beside(look, y, ticks_y, title_y))
        width = max(1.0, room.width - edge - right)
        ticks_x = across(x.low, x.high, width, size) if x.has_ticks and not x.names else Ticks(())
        title_x = x.title.with_power(ticks_x.power).lines(room.width - 2 * pad, size) if x.title is not None else []
        below = pad + _below(look, x, len(title_x))
        ticks, titles = (ticks_x, ticks_y), (title_x, title_y)
    area = Box(room.left + edge, room.top + top, room.left + edge + width, max(room.bottom - below, room.top + top + 1))
    frame = Frame(area, (x.low, x.high), (y.low, y.high), pane, room)
    made = Axes(frame)
    made.marks += _x_axis(look, frame, room, x, ticks[0], titles[0])
    made.marks += _y_axis(look, frame, room, y, ticks[1], titles[1])
    return made


def _below(look: Look, x: Scale, lines: int) -> float:
    """How much room an x axis takes below the frame."""
    size = look.text
    ticks = look.of(TICK + GAP) + line_height(size) if x.has_ticks or x.names else 0.0
    title = look.of(GAP) + lines * LEADING * size if x.title is not None else 0.0
    return ticks + title


def _beside(look: Look, y: Scale, ticks: Ticks, title: Sequence[TitleLine]) -> float:
    """How much room a y axis takes left of the frame."""
    size, widest = look.text, 0.0
    if y.names:
        widest = max(text_width(name, size) for _, name in y.names) + look.of(TICK + GAP)
    elif ticks.ticks:
        widest = max(text_width(tick.label, size) for tick in ticks.ticks) + look.of(TICK + GAP)
    return look.of(PAD) + widest + (len(title) * LEADING * size + look.of(GAP) if title else 0.0)


def _x_axis(look: Look, frame: Frame, room: Box, x: Scale, ticks: Ticks, title: Sequence[TitleLine]) -> list[Mark]:
    area, size, marks = frame.area, look.text, list[Mark]()
    if x.has_line:
        marks.append(Line(_pair(area.left, area.bottom, area.right, area.bottom), look.axis, Part.AXIS_X))
    at = area.bottom + look.of(TICK + GAP) + ASCENT * size
    if x.names:
        marks += names_below(look, frame, room, x.names)
    for tick in ticks.ticks:
        place = float(frame.at_x(tick.value))
        marks.append(Line(_pair(place, area.bottom, place, area.bottom + look.of(TICK)), look.axis, Part.AXIS_X))
        text = centred(tick.label, place, at, look, Part.AXIS_X)
        if room.left <= text.box.left and text.box.right <= room.right:
            marks.append(text)
    baseline = room.bottom - look.of(PAD) - DESCENT * size - (len(title) - 1) * LEADING * size
    middle = (area.left + area.right) / 2
    for line in title:
        half = text_width(line.text, size) / 2
        centre = min(max(middle, room.left + look.of(PAD) + half), room.right - look.of(PAD) - half)
        marks.append(centred(line.text, centre, baseline, look, Part.AXIS_X, whole=line.whole))
        baseline += LEADING * size
    return marks


def _y_axis(look: Look, frame: Frame, room: Box, y: Scale, ticks: Ticks, title: Sequence[TitleLine]) -> list[Mark]:
    area, size, marks = frame.area, look.text, list[Mark]()
    if y.has_line:
        marks.append(Line(_pair(area.left, area.top, area.left, area.bottom), look.axis, Part.AXIS_Y))
    shown = [Tick(value, name) for value, name in y.names] if y.names else list(ticks.ticks)
    for tick in shown:
        place = float(frame.at_y(tick.value))
        if not y.names:
            marks.append(Line(_pair(area.left - look.of(TICK), place, area.left, place), look.axis, Part.AXIS_Y))
        x = area.left - look.of(TICK + GAP) - text_width(tick.label, size)
        marks.append(Text(tick.label, x, place + (ASCENT - DESCENT) / 2 * size, size, look.palette.ink, Part.AXIS_Y))
    x = room.left + look.of(PAD) + ASCENT * size
    middle, foot = (area.top + area.bottom) / 2, max(area.bottom, room.top + look.of(PAD))
    for line in title:
        half = text_width(line.text, size) / 2
        centre = min(max(middle, room.top + look.of(PAD) + half), foot - half)
        marks.append(
            Text(line.text, x, centre + half, size, look.palette.ink, Part.AXIS_Y, upright=True, whole=line.whole)
        )
        x += LEADING * size
    return marks


def names_below(look: Look, frame: Frame, room: Box, names: Sequence[tuple[float, str]]) -> list[Mark]:
    """Names of places below an axis, rising; shortened where they have little room, and where they could not be told
    apart then, only every second, third … stands."""
    at = [float(frame.at_x(value)) for value, _ in names]
    foot = frame.area.bottom + look.of(TICK)
    marks: list[Mark] = [Line(_pair(x, frame.area.bottom, x, foot), look.axis, Part.AXIS_X) for x in at]
    baseline = foot + look.of(GAP) + ASCENT * look.text
    for stride in range(1, len(names) + 1):
        shown = list(zip(at, (name for _, name in names)))[::stride]
        texts = _told_apart(look, frame, room, shown)
        if texts is not None:
            for (x, whole), name in zip(shown, texts):
                cut = whole if whole != name else ""
                marks.append(centred(name, x, baseline, look, Part.AXIS_X, whole=cut))
            break
    return marks


def _told_apart(look: Look, frame: Frame, room: Box, names: Sequence[tuple[float, str]]) -> list[str] | None:
    """Forms of names, each centred at its place, that have room and differ; None where there are none."""
    at = [x for x, _ in names]
    slots = [b - a for a, b in pairwise(at)] or [frame.area.width]
    edges = [2 * min(at[0] - room.left, room.right - at[-1]) - look.of(2 * PAD)]
    each = min(*(slot - look.of(GAP) for slot in slots), *edges)
    if each < text_width("m…", look.text):
        return None
    texts = fitted_names([name for _, name in names], each, look.text)
    differ = len(set(texts)) == len({name for _, name in names})
    return texts if differ and all(text_width(text, look.text) <= each for text in texts) else None


def ground(look: Look, box: Box) -> Rect:
    """The panel behind a plot."""
    return Rect(box, look.palette.panel, Part.GROUND)


def _pair(x0: float, y0: float, x1: float, y1: float) -> FloatArray:
    return np.array([[x0, y0], [x1, y1]])


def level_line(frame: Frame, y: float) -> FloatArray:
    """The two ends of a horizontal line through a value."""
    at = float(frame.at_y(y))
    return _pair(frame.area.left, at, frame.area.right, at)


def upright_line(frame: Frame, x: float, top: float | None = None, bottom: float | None = None) -> FloatArray:
    """The two ends of an upright line at a value."""
    at, area = float(frame.at_x(x)), frame.area
    return _pair(at, area.top if top is None else top, at, area.bottom if bottom is None else bottom)
