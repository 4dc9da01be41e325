"""Maps over two numbers: the effect as a surface with where it is told apart from 0, and the predicted outcome from
above, both with the cases and the empty country hatched."""

from __future__ import annotations

import numpy as np

from yellow_slope import looks
from yellow_slope.core.arrays import BoolArray, FloatArray
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.maps import effect_map, outcome_map
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.probe.surface import Map, contours, countries
from yellow_slope.core.study.figures import CasesAs, Pane
from yellow_slope.core.study.study import Study
from yellow_slope.plots.axes import Scale, axes, ground, span
from yellow_slope.plots.drawncases import drawn_cases, undrawn_note
from yellow_slope.plots.look import SHAPES, Look
from yellow_slope.plots.marks import Area, Box, Frame, Line, Mark, OfCases, OnMap, Part, Plot, Points, Rect, Text
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.plots.placing import centred, line_height, one_line
from yellow_slope.plots.scales import AxisTitle, labels, upward
from yellow_slope.plots.titles import effect_title, number_title, outcome_title
from yellow_slope.values import dataclass

SHADES = 9
"""Steps of colour on each side of 0."""
STRONGEST = 0.62
HATCH = 5.0
STRENGTH = 0.55


@dataclass(frozen=True, slots=True, eq=False)
class Mapped:
    """A map with the names of what it spans."""

    map: Map
    first: NumberBasis
    second: NumberBasis
    title: AxisTitle
    is_effect: bool


def map_plot(study: Study, sight: Sight, look: Look, room: Box) -> Plot:
    """The focal effect over both moderators."""
    probed = sight.probed
    assert isinstance(probed.moderator, NumberBasis)
    assert isinstance(probed.second, NumberBasis)
    found = effect_map(probed, sight.seen.focus)
    return _map(
        study, sight, look, room, Mapped(found, probed.moderator, probed.second, effect_title(study, sight), True)
    )


def above_plot(study: Study, sight: Sight, look: Look, room: Box) -> Plot:
    """The predicted outcome over the focal predictor and the moderator, from above."""
    probed = sight.probed
    assert isinstance(probed.focal, NumberBasis)
    assert isinstance(probed.moderator, NumberBasis)
    found = outcome_map(probed, sight.seen.panel)
    title = outcome_title(study, probed.model)
    return _map(study, sight, look, room, Mapped(found, probed.focal, probed.moderator, title, False))


def _map(study: Study, sight: Sight, look: Look, room: Box, mapped: Mapped) -> Plot:
    found, first, second = mapped.map, mapped.first, mapped.second
    pane = Pane.MAP if mapped.is_effect else Pane.ABOVE
    if not found.surface.is_estimable:
        said = centred("not estimable everywhere", *room.middle, look, Part.NOTE, colour=look.palette.soft_ink)
        return Plot((), (ground(look, room), said))
    head = 1.7 * look.text
    made = axes(
        look,
        Box(room.left, room.top + head, *room[2:]),
        Scale(*span(first.low, first.high), number_title(study, first)),
        Scale(*span(second.low, second.high), number_title(study, second)),
        pane,
        _key_room(look, mapped) if mapped.is_effect else look.of(12),
        look.of(6),
    )
    frame, marks = made.frame, list[Mark]([ground(look, room)])
    marks += _title(look, mapped, Box(frame.area.left, room.top, room.right, room.top + head))
    marks += _shades(look, frame, mapped)
    marks += _hatch(look, frame, found)
    if look.cases_as is not CasesAs.NONE:
        marks += _cases(sight, look, frame, first, second)
    marks += _bounds(look, frame, mapped) if mapped.is_effect else _levels(look, frame, found)
    marks += made.marks
    if mapped.is_effect:
        marks += _key(look, frame, room, mapped)
    return Plot((frame,), tuple(marks))


def _title(look: Look, mapped: Mapped, box: Box) -> list[Mark]:
    whole = mapped.title.whole
    text = one_line(mapped.title, box.width - look.of(6), look.text)
    baseline = box.top + look.of(4) + ASCENT * look.text
    return [
        Text(text, box.left, baseline, look.text, look.palette.ink, Part.TITLE, whole=whole if text != whole else "")
    ]


# ---- the surface


def _largest(mapped: Mapped) -> float:
    return float(np.abs(mapped.map.effect).max()) or 1.0


def shade_of(look: Look, value: float, largest: float) -> str:
    """The colour of an effect: one hue above 0, another below, stronger the larger it is."""
    hue = look.palette.groups[2] if value > 0 else look.palette.groups[3]
    return looks.blended(hue, look.palette.panel, STRONGEST * min(1.0, abs(value) / largest))


def _shades(look: Look, frame: Frame, mapped: Mapped) -> list[Mark]:
    """The surface in steps of colour, each laid over the one below it."""
    found, p = mapped.map, look.palette
    low, high = float(found.effect.min()), float(found.effect.max())
    if mapped.is_effect:
        largest = _largest(mapped)
        edges = np.arange(-SHADES - 0.5, SHADES + 1.0) / SHADES * largest
    else:
        edges = np.linspace(low, high, SHADES + 1)
    marks: list[Mark] = []
    inside = [float(edge) for edge in edges if low < edge < high]
    for k, edge in enumerate([low, *inside]):
        after = [*inside, high][k]
        if mapped.is_effect:
            hue = shade_of(look, float(np.rint((edge + after) / 2 / largest * SHADES)), SHADES)
        else:
            hue = looks.blended(p.groups[2], p.panel, 0.04 + 0.36 * (k + 1) / SHADES)
        if not k:
            area = frame.area
            corners = frame.at([found.a[0], found.a[-1]], [found.b[0], found.b[-1]])
            (left, bottom), (right, top) = corners.tolist()
            box = Box(max(left, area.left), max(top, area.top), min(right, area.right), min(bottom, area.bottom))
            marks.append(Rect(box, hue, OnMap.SURFACE))
            continue
        for polygon in countries(found.a, found.b, found.effect, edge):
            points = frame.at(polygon[:, 0], polygon[:, 1])
            marks.append(Area(points, hue, 1.0, OnMap.SURFACE, frame.area))
    return marks


def _bounds(look: Look, frame: Frame, mapped: Mapped) -> list[Mark]:
    """Where the effect stops being told apart from 0, and a sign in the largest country of either kind."""
    found, p, marks = mapped.map, look.palette, list[Mark]()
    for contour in found.bounds:
        points = frame.at(contour.points[:, 0], contour.points[:, 1])
        marks.append(Line(points, look.ink(p.panel, 3.0), OnMap.BOUND, frame.area))
        marks.append(Line(points, look.ink(p.ink, 1.5), OnMap.BOUND, frame.area))
    zero = contours(found.a, found.b, found.effect, 0.0)
    for line in zero:
        marks.append(Line(frame.at(line[:, 0], line[:, 1]), look.ink(p.soft_ink, 0.8, (3, 3)), Part.ZERO, frame.area))
    for sign, text in ((1.0, "above 0"), (-1.0, "below 0"), (0.0, "not significant")):
        there = found.told == sign
        place = _inmost(there)
        if place is None or (sign == 0.0 and not found.surface.has_errors):
            continue
        marks += _label(look, frame, text, float(frame.at_x(found.a[place[1]])), float(frame.at_y(found.b[place[0]])))
    return marks


def _inmost(there: BoolArray) -> tuple[int, int] | None:
    """The cell that lies farthest inside a country; None of one that is but a sliver."""
    left = np.pad(there, 1)
    depth = np.zeros(there.shape)
    while left.any() and depth.max() < 40:
        depth += left[1:-1, 1:-1]
        left[1:-1, 1:-1] = left[1:-1, 1:-1] & left[:-2, 1:-1] & left[2:, 1:-1] & left[1:-1, :-2] & left[1:-1, 2:]
    if depth.max() < 4:
        return None
    j, i = np.unravel_index(int(np.argmax(depth)), depth.shape)
    return int(j), int(i)


def _label(look: Look, frame: Frame, text: str, x: float, y: float) -> list[Mark]:
    """A word on its own ground, kept inside the frame."""
    size = look.small
    wide, half = text_width(text, size), line_height(size) / 2
    pad = look.of(2.5)
    if frame.area.width < wide + 4 * pad or frame.area.height < 2 * half + 4 * pad:
        return []
    x = min(max(x, frame.area.left + wide / 2 + 2 * pad), frame.area.right - wide / 2 - 2 * pad)
    y = min(max(y, frame.area.top + half + 2 * pad), frame.area.bottom - half - 2 * pad)
    box = Box(x - wide / 2 - pad, y - half, x + wide / 2 + pad, y + half)
    return [
        Rect(box, look.palette.panel, OnMap.SURFACE, 0.82, radius=look.of(2)),
        Text(text, x - wide / 2, y + (ASCENT - DESCENT) / 2 * size, size, look.palette.ink, OnMap.SURFACE),
    ]


def _levels(look: Look, frame: Frame, found: Map) -> list[Mark]:
    """Lines of the same predicted outcome, each with its value where it has room."""
    low, high = float(found.effect.min()), float(found.effect.max())
    ticks = upward(low, high, 1000.0, 110.0) if high > low else None
    if ticks is None:
        return []
    p, size, marks, taken = look.palette, look.small, list[Mark](), list[Box]()
    values = [tick.value for tick in ticks.ticks]
    for value, text in zip(values, labels(values)):
        for line in contours(found.a, found.b, found.effect, value):
            points = frame.at(line[:, 0], line[:, 1])
            marks.append(Line(points, look.ink(p.soft_ink, 0.9), OnMap.SURFACE, frame.area))
            wide, half = text_width(text, size), line_height(size) / 2
            for share in (0.5, 0.35, 0.65, 0.2, 0.8):
                x, y = points[int(share * (len(points) - 1))]
                box = Box(x - wide / 2 - 2, y - half, x + wide / 2 + 2, y + half)
                inside = (
                    frame.area.left + 2 < box.left
                    and box.right < frame.area.right - 2
                    and frame.area.top + 2 < box.top
                    and box.bottom < frame.area.bottom - 2
                )
                if inside and not any(box.overlaps(other) for other in taken):
                    taken.append(box)
                    marks.append(Rect(box, p.panel, OnMap.SURFACE, 0.82))
                    baseline = y + (ASCENT - DESCENT) / 2 * size
                    marks.append(Text(text, x - wide / 2, baseline, size, p.ink, OnMap.SURFACE))
                    break
    # Labels after all lines, so that none runs through one.
    return sorted(marks, key=lambda mark: not isinstance(mark, Line))


# ---- the cases


def _cases(sight: Sight, look: Look, frame: Frame, first: NumberBasis, second: NumberBasis) -> list[Mark]:
    fit = sight.probed.fit
    spots = frame.at(
        np.asarray(fit.values[first.variable], dtype=np.float64),
        np.asarray(fit.values[second.variable], dtype=np.float64),
    )
    everyone = sight.probed.everyone(sight.seen.focus) if sight.probed.second is second else sight.focus.support
    here = np.flatnonzero(everyone.anyone)
    every = drawn_cases(here)
    note = undrawn_note(look, frame.area, every.size, here.size)
    return [
        Points(spots[every], SHAPES[0], look.of(2.6), look.palette.ink, OfCases(every), STRENGTH, clip=frame.area),
        *note,
    ]


def _hatch(look: Look, frame: Frame, found: Map) -> list[Mark]:
    """Slanted lines over the country without cases, as one broken line."""
    area, step = frame.area, look.of(HATCH)
    pieces: list[FloatArray] = []
    a, b = found.a, found.b
    offset = -area.height
    while offset < area.width:
        length = np.linspace(0.0, area.height, 2 * b.size)
        x, y = area.left + offset + length, area.bottom - length
        inside = (x >= area.left) & (x <= area.right)
        i = np.clip(np.rint((x - area.left) / area.width * (a.size - 1)).astype(int), 0, a.size - 1)
        j = np.clip(np.rint((area.bottom - y) / area.height * (b.size - 1)).astype(int), 0, b.size - 1)
        drawn = inside & found.empty[j, i]
        if drawn.any():
            pieces.append(np.column_stack([np.where(drawn, x, np.nan), np.where(drawn, y, np.nan)]))
            pieces.append(np.full((1, 2), np.nan))
        offset += step
    if not pieces:
        return []
    return [Line(np.vstack(pieces), look.ink(look.palette.soft_ink, 0.6, opacity=0.6), OnMap.EMPTY, area)]


# ---- the key of the surface


def _key_room(look: Look, mapped: Mapped) -> float:
    largest = _largest(mapped)
    texts = labels([-largest, 0.0, largest]) if largest else ["0"]
    ticks = upward(-largest, largest, 100.0, 20.0)
    texts = [tick.label for tick in ticks.ticks] or texts
    return look.of(26) + max(text_width(text, look.small) for text in texts)


def _key(look: Look, frame: Frame, room: Box, mapped: Mapped) -> list[Mark]:
    """A bar from the lowest to the highest effect, with its numbers."""
    found, area, size = mapped.map, frame.area, look.small
    low, high = float(found.effect.min()), float(found.effect.max())
    if not high > low:
        return []
    largest, left = _largest(mapped), area.right + look.of(10)
    wide, count, marks = look.of(7), 2 * SHADES + 1, list[Mark]()
    edges = np.linspace(low, high, count + 1)
    at = area.bottom - (edges - low) / (high - low) * area.height
    for k in range(count):
        hue = shade_of(look, float(np.rint((edges[k] + edges[k + 1]) / 2 / largest * SHADES)), SHADES)
        marks.append(Rect(Box(left, float(at[k + 1]), left + wide, float(at[k])), hue, Part.AXIS_Y))
    ticks = upward(low, high, area.height, size)
    for tick in ticks.ticks:
        y = area.bottom - (tick.value - low) / (high - low) * area.height
        x = left + wide + look.of(3)
        if x + text_width(tick.label, size) <= room.right:
            baseline = y + (ASCENT - DESCENT) / 2 * size
            marks.append(Text(tick.label, x, baseline, size, look.palette.ink, Part.AXIS_Y))
    return marks
