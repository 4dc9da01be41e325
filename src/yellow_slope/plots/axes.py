"""Axes: the frame of a plot with its lines, ticks and titles, as large as what stands around it leaves room."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.study.figures import AxisTuning, Pane, Role, TextKey
from yellow_slope.core.words.spelling.numerals import MINUS
from yellow_slope.plots.look import NOTHING_OWN, Look
from yellow_slope.plots.marks import Box, Frame, Line, Mark, Part, Rect, Text
from yellow_slope.plots.measuring import ASCENT, DESCENT, LEADING, name_lines, text_width
from yellow_slope.plots.placing import centred, fitted_names, line_height
from yellow_slope.plots.scales import AxisTitle, Tick, Ticks, TitleLine, across, labels, upward
from yellow_slope.values import dataclass, field, replace

PAD = 3.0
"""Points that nothing stands in, around the page."""
TICK = 3.0
GAP = 3.0
MOST_TICKS = 60
"""Steps that would give more are not taken."""


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
    pad, kind = look.of(PAD), pane.of_figure
    x, y = said_otherwise(look, kind, x, False), said_otherwise(look, kind, y, True)
    letters = _Letters.of(look, kind)
    rows = 1
    below = pad + _below(look, letters, x, 1)
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
        ticks_y = upward(y.low, y.high, height, letters.y_ticks) if y.has_ticks and not y.names else Ticks(())
        ticks_y = typed_ticks(look.axis_said(kind, True), y, ticks_y)
        high = height + top - 2 * pad
        title_y = y.title.with_power(ticks_y.power).lines(high, letters.y_title) if y.title is not None else []
        edge = max(left, _beside(look, letters, y, ticks_y, title_y))
        width = max(1.0, room.width - edge - right)
        ticks_x = across(x.low, x.high, width, letters.x_ticks) if x.has_ticks and not x.names else Ticks(())
        ticks_x = typed_ticks(look.axis_said(kind, False), x, ticks_x)
        wide = room.width - 2 * pad
        title_x = x.title.with_power(ticks_x.power).lines(wide, letters.x_title) if x.title is not None else []
        rows = _name_rows(look, x, width, letters.x_ticks)
        below = pad + _below(look, letters, x, len(title_x), rows)
        ticks, titles = (ticks_x, ticks_y), (title_x, title_y)
    area = Box(room.left + edge, room.top + top, room.left + edge + width, max(room.bottom - below, room.top + top + 1))
    frame = Frame(area, (x.low, x.high), (y.low, y.high), pane, room)
    made = Axes(frame)
    made.marks += _x_axis(look, letters, frame, room, x, ticks[0], titles[0])
    made.marks += _y_axis(look, letters, frame, room, y, ticks[1], titles[1])
    made.marks += _zero_line(look, kind, frame)
    return made


@dataclass(frozen=True, slots=True)
class _Letters:
    """Sizes of what stands at the axes."""

    x_title: float
    y_title: float
    x_ticks: float
    y_ticks: float

    @classmethod
    def of(cls, look: Look, kind: Pane | None) -> _Letters:
        roles = (Role.X_TITLE, Role.Y_TITLE, Role.X_TICKS, Role.Y_TICKS)
        return cls(*(look.size(role, kind) for role in roles))


def said_otherwise(look: Look, kind: Pane | None, scale: Scale, upright: bool) -> Scale:
    """An axis with what its figure says otherwise of it: ends, and the words of its title."""
    if look.own is NOTHING_OWN:
        return scale
    said = look.axis_said(kind, upright)
    if not scale.names:
        low = scale.low if said.low is None else said.low
        high = scale.high if said.high is None else said.high
        if low < high:
            scale = replace(scale, low=low, high=high)
    key = TextKey(Role.Y_TITLE if upright else Role.X_TITLE, kind)
    title = scale.title
    if title is not None and look.hides(key):
        title = None
    elif title is not None:
        words = look.words(key, "")
        title = AxisTitle(words) if words else title
    return replace(scale, title=title)


def typed_ticks(said: AxisTuning, scale: Scale, usual: Ticks) -> Ticks:
    """The ticks with what is said otherwise of them: their step, their decimals."""
    if not usual.ticks or (said.step is None and said.decimals is None):
        return usual
    values = [tick.value for tick in usual.ticks]
    if said.step is not None and (scale.high - scale.low) / said.step <= MOST_TICKS:
        first = math.ceil(scale.low / said.step - 1e-9)
        last = math.floor(scale.high / said.step + 1e-9)
        values = [k * said.step for k in range(first, last + 1)] or values
    if said.decimals is None:
        return Ticks(tuple(Tick(v, t) for v, t in zip(values, labels(values, usual.power))), usual.power)
    scaled = [v / 10.0**usual.power for v in values]
    # Only where a number stands at its own place: fewer decimals take fewer ticks.
    slack = 1e-9 * max(abs(v) for v in [*scaled, 1e-300])
    told = [(v, s) for v, s in zip(values, scaled) if abs(s - round(s, said.decimals)) <= slack]
    if not told:
        return usual
    values = [v for v, _ in told]
    texts = [f"{round(s, said.decimals) + 0.0:.{said.decimals}f}" for _, s in told]
    return Ticks(tuple(Tick(v, t.replace("-", MINUS)) for v, t in zip(values, texts)), usual.power)


def _zero_line(look: Look, kind: Pane | None, frame: Frame) -> list[Mark]:
    """Lines at 0 where a figure asks for them."""
    marks: list[Mark] = []
    if look.axis_said(kind, True).zero and frame.y[0] < 0 < frame.y[1]:
        marks.append(Line(level_line(frame, 0.0), look.ink(look.palette.soft_ink, 0.8), Part.ZERO))
    if look.axis_said(kind, False).zero and frame.x[0] < 0 < frame.x[1]:
        marks.append(Line(upright_line(frame, 0.0), look.ink(look.palette.soft_ink, 0.8), Part.ZERO))
    return marks


def _slot(x: Scale, width: float) -> float:
    """The room between the names below an axis."""
    at = [value for value, _ in x.names]
    gaps = [b - a for a, b in pairwise(at)] or [x.high - x.low]
    return min(gaps) / (x.high - x.low) * width


def _name_rows(look: Look, x: Scale, width: float, size: float) -> int:
    """How many lines the names below an axis take, where they are to stand in full; 1 where they are shortened."""
    if not x.names or not look.own.is_figure:
        return 1
    lines = [name_lines(name, _slot(x, width) - look.of(GAP), size) for _, name in x.names]
    return max((len(found) for found in lines if found is not None), default=1) if None not in lines else 1


def _below(look: Look, letters: _Letters, x: Scale, lines: int, rows: int = 1) -> float:
    """How much room an x axis takes below the frame. lines: of its title; rows: of names."""
    high = line_height(letters.x_ticks) + (rows - 1) * LEADING * letters.x_ticks
    ticks = look.of(TICK + GAP) + high if x.has_ticks or x.names else 0.0
    title = look.of(GAP) + lines * LEADING * letters.x_title if x.title is not None else 0.0
    return ticks + title


def _beside(look: Look, letters: _Letters, y: Scale, ticks: Ticks, title: Sequence[TitleLine]) -> float:
    """How much room a y axis takes left of the frame."""
    size, widest = letters.y_ticks, 0.0
    if y.names:
        widest = max(text_width(name, size) for _, name in y.names) + look.of(TICK + GAP)
    elif ticks.ticks:
        widest = max(text_width(tick.label, size) for tick in ticks.ticks) + look.of(TICK + GAP)
    return look.of(PAD) + widest + (len(title) * LEADING * letters.y_title + look.of(GAP) if title else 0.0)


def _x_axis(
    look: Look, letters: _Letters, frame: Frame, room: Box, x: Scale, ticks: Ticks, title: Sequence[TitleLine]
) -> list[Mark]:
    area, size, marks = frame.area, letters.x_ticks, list[Mark]()
    if x.has_line:
        marks.append(Line(_pair(area.left, area.bottom, area.right, area.bottom), look.axis, Part.AXIS_X))
    at = area.bottom + look.of(TICK + GAP) + ASCENT * size
    if x.names:
        marks += names_below(look, frame, room, x.names)
    for tick in ticks.ticks:
        place = float(frame.at_x(tick.value))
        marks.append(Line(_pair(place, area.bottom, place, area.bottom + look.of(TICK)), look.axis, Part.AXIS_X))
        text = centred(tick.label, place, at, look, Part.AXIS_X, size)
        if room.left <= text.box.left and text.box.right <= room.right:
            marks.append(text)
    size = letters.x_title
    baseline = room.bottom - look.of(PAD) - DESCENT * size - (len(title) - 1) * LEADING * size
    middle = (area.left + area.right) / 2
    for line in title:
        half = text_width(line.text, size) / 2
        centre = min(max(middle, room.left + look.of(PAD) + half), room.right - look.of(PAD) - half)
        marks.append(centred(line.text, centre, baseline, look, Part.TITLE_X, size, whole=line.whole))
        baseline += LEADING * size
    return marks


def _y_axis(
    look: Look, letters: _Letters, frame: Frame, room: Box, y: Scale, ticks: Ticks, title: Sequence[TitleLine]
) -> list[Mark]:
    area, size, marks = frame.area, letters.y_ticks, list[Mark]()
    if y.has_line:
        marks.append(Line(_pair(area.left, area.top, area.left, area.bottom), look.axis, Part.AXIS_Y))
    shown = [Tick(value, name) for value, name in y.names] if y.names else list(ticks.ticks)
    for tick in shown:
        place = float(frame.at_y(tick.value))
        if not y.names:
            marks.append(Line(_pair(area.left - look.of(TICK), place, area.left, place), look.axis, Part.AXIS_Y))
        x = area.left - look.of(TICK + GAP) - text_width(tick.label, size)
        marks.append(Text(tick.label, x, place + (ASCENT - DESCENT) / 2 * size, size, look.palette.ink, Part.AXIS_Y))
    size = letters.y_title
    x = room.left + look.of(PAD) + ASCENT * size
    middle, foot = (area.top + area.bottom) / 2, max(area.bottom, room.top + look.of(PAD))
    for line in title:
        half = text_width(line.text, size) / 2
        centre = min(max(middle, room.top + look.of(PAD) + half), foot - half)
        marks.append(
            Text(line.text, x, centre + half, size, look.palette.ink, Part.TITLE_Y, upright=True, whole=line.whole)
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
    if look.own.is_figure and len(names) > 0:
        slot = min((b - a for a, b in pairwise(at)), default=frame.area.width) - look.of(GAP)
        lines = [name_lines(name, slot, look.text) for _, name in names]
        if None not in lines:
            for x, found in zip(at, lines):
                for k, text in enumerate(found or ()):
                    y = baseline + k * LEADING * look.text
                    marks.append(centred(text, x, y, look, Part.NAMES if len(found or ()) > 1 else Part.AXIS_X))
            return marks
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
