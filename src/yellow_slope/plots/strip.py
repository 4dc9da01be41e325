"""The strip of a number: how its values lie before and after, over an axis with two scales and a handle at its zero."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.asked.histograms import Bars
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.words.spelling.shortening import begun
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Area, Box, Frame, Ink, Line, Mark, Page, Part, Text, Weight
from yellow_slope.plots.measuring import text_width
from yellow_slope.plots.scales import across
from yellow_slope.values import dataclass

HANDLE = (5.8, 13.0)
"""Points that the handle is wide and high."""


@dataclass(frozen=True, slots=True)
class Noted:
    """A place that is marked on the axis, and the sign beside it; empty for none."""

    at: float
    sign: str


@dataclass(frozen=True, slots=True)
class Scaled:
    """A row of figures below the axis: its zero and unit on the axis, and what it is called."""

    zero: float
    unit: float
    title: str
    is_after: bool


@dataclass(frozen=True, slots=True, eq=False)
class BeforeAndAfter:
    """What is drawn: places are on the axis on which zero is chosen."""

    low: float
    high: float
    bars: Bars | None
    as_they_stand: Bars | None
    """Where the axis is a transformed one: the bars of the values before it."""
    is_treated: bool
    noted: tuple[Noted, ...]
    scales: tuple[Scaled, ...]
    zero: float | None
    """Where the handle stands; None where there is none."""


def strip_page(strip: BeforeAndAfter, look: Look, width: float, height: float, area: Box) -> Page:
    """The strip's drawing; area: where its bars stand."""
    frame = Frame(area, (strip.low, strip.high), (0.0, 1.0), Pane.DISTRIBUTION, Box(0.0, 0.0, width, height))
    p, marks = look.palette, list[Mark]()
    if strip.as_they_stand is not None and strip.bars is not None:
        left, right = (float(v) for v in frame.at_x(np.array([strip.bars.low, strip.bars.high])))
        inner = Box(left, area.top, max(right, left + 1.0), area.bottom)
        own = Frame(inner, (strip.as_they_stand.low, strip.as_they_stand.high), (0.0, 1.0), Pane.DISTRIBUTION, inner)
        marks.append(Line(_outline(strip.as_they_stand, own), look.ink(p.soft_ink, 0.9, (4, 3)), Part.DISTRIBUTION))
    if strip.bars is not None:
        fill = p.yellow if strip.is_treated else p.shade
        edge = look.ink(p.ink if strip.is_treated else p.soft_ink, 0.9)
        marks.append(Area(_outline(strip.bars, frame), fill, 0.75, Part.DISTRIBUTION, edge=edge))
    marks.append(Line(np.array([[area.left, area.bottom], [area.right, area.bottom]]), look.axis, Part.AXIS_X))
    marks += _noted(look, strip, frame)
    baseline = area.bottom + look.of(21.6)
    for scale in strip.scales:
        marks += _scale(look, scale, frame, baseline, width)
        baseline += look.of(16.6)
    if strip.zero is not None:
        marks += _handle(look, zero_x(frame, strip.zero), area)
    return Page(width, height, tuple(marks), (frame,))


def zero_x(frame: Frame, zero: float) -> float:
    """Where the handle stands, at the edge where zero lies beyond it."""
    return min(frame.area.right, max(frame.area.left, float(frame.at_x(zero))))


def mini_outline(bars: Bars, area: Box, low: float, high: float) -> FloatArray:
    """Shape (n, 2): the outline of bars drawn small over a range."""
    return _outline(bars, Frame(area, (low, high), (0.0, 1.0), Pane.DISTRIBUTION, area))


def _outline(bars: Bars, frame: Frame) -> FloatArray:
    """Shape (n, 2): the outline of bars, from the axis and back to it."""
    area = frame.area
    heights = area.bottom - area.height * bars.counts / max(1.0, float(bars.counts.max()))
    left, right = frame.at_x(bars.left), frame.at_x(bars.right)
    ground = np.full(heights.size, area.bottom)
    if bars.at_values:  # each bar stands by itself
        x, y = np.stack([left, left, right, right], axis=1), np.stack([ground, heights, heights, ground], axis=1)
    else:
        x, y = np.stack([left, right], axis=1), np.stack([heights, heights], axis=1)
    points = np.column_stack([x.ravel(), y.ravel()])
    ends = np.array([[left[0], area.bottom], [right[-1], area.bottom]])
    return np.vstack([ends[:1], points, ends[1:]])


def _noted(look: Look, strip: BeforeAndAfter, frame: Frame) -> list[Mark]:
    """Quartiles, median and mean as ticks on the axis line; a sign makes way for the handle and the one before."""
    bottom, size, marks = frame.area.bottom, look.of(7.2), list[Mark]()
    taken = -np.inf
    handle = zero_x(frame, strip.zero) if strip.zero is not None else -np.inf
    for note in sorted(strip.noted, key=lambda n: n.at):
        x = float(frame.at_x(note.at))
        reach = look.of(2.9)
        marks.append(
            Line(np.array([[x, bottom - reach], [x, bottom + reach]]), look.ink(look.palette.ink, 1.0), Part.REFERENCE)
        )
        wide = text_width(note.sign, size)
        if note.sign and abs(x - handle) > look.of(8.6) and x - wide / 2 > taken:
            y = bottom - look.of(5)
            marks.append(Text(note.sign, x - wide / 2, y, size, look.palette.soft_ink, Part.REFERENCE))
            taken = x + wide / 2 + look.of(1)
    return marks


def _scale(look: Look, scale: Scaled, frame: Frame, baseline: float, width: float) -> list[Mark]:
    """A row of figures with its title at the right."""
    area, size, p = frame.area, look.small, look.palette
    low, high = ((v - scale.zero) / scale.unit for v in frame.x)
    weight = Weight.BOLD if scale.is_after else Weight.NORMAL
    hue = p.ink if scale.is_after else p.soft_ink
    ticks = across(min(low, high), max(low, high), area.width, size * 1.06, 9)
    marks: list[Mark] = []
    for tick in ticks.ticks:
        x = float(frame.at_x(tick.value * scale.unit + scale.zero))
        marks.append(
            Text(
                tick.label,
                x - text_width(tick.label, size, scale.is_after) / 2,
                baseline,
                size,
                hue,
                Part.AXIS_X,
                weight,
            )
        )
    left = max([area.right + look.of(5.8), *(mark.box.right + look.of(4) for mark in marks if isinstance(mark, Text))])
    title = scale.title if not ticks.power else f"{scale.title} ×10^{ticks.power}"
    fits = text_width(title, size) <= width - left
    shown = title if fits else begun(title, lambda text: text_width(text, size) <= width - left)
    marks.append(Text(shown, left, baseline, size, p.soft_ink, Part.TITLE, whole="" if fits else title))
    return marks


def _handle(look: Look, x: float, area: Box) -> list[Mark]:
    """What the zero is moved by."""
    half, (_, high), top = look.of(HANDLE[0] * 0.75), HANDLE, area.bottom + look.of(1.4)
    shoulder, foot = top + look.of(5), top + look.of(high - 1.4)
    points = np.array([[x, top], [x + half, shoulder], [x + half, foot], [x - half, foot], [x - half, shoulder]])
    ink = look.ink(look.palette.ink, 1.0)
    return [
        Line(np.array([[x, area.top - look.of(2.9)], [x, area.bottom]]), ink, Part.HANDLE),
        Area(points, look.palette.yellow, 1.0, Part.HANDLE, edge=Ink(look.palette.ink, ink.width)),
    ]
