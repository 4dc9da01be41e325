"""The handle: a place of a number moderator that is moved, marked in both plots over what is laid out already."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.maps import has_map, line_at
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import effect_decimals
from yellow_slope.core.words.spelling.numerals import fixed, place
from yellow_slope.looks import LIGHT
from yellow_slope.plots.axes import upright_line
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Box, Frame, Line, Mark, Page, Part, Points, Rect, Shape, Text, Weight
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.plots.placing import line_height, with_end

GRID = 64
ABOUT = Part.HANDLE
SAME_PLACE = 0.05
"""SD of the moderator within which the handle is at the place of a line."""
TO_LABEL = 9.0
"""Points between a line's end and its label."""


def has_own_line(probed: Probed) -> bool:
    """Whether the handle draws a line of its own in the interaction plot: two different numbers."""
    return isinstance(probed.focal, NumberBasis) and isinstance(probed.moderator, NumberBasis) and not probed.by_itself


def handle_places(probed: Probed) -> tuple[str, ...]:
    """The places at either end of its way; empty where it has no line."""
    moderator = probed.moderator
    if not has_own_line(probed) or not isinstance(moderator, NumberBasis):
        return ()
    return tuple(place(value, moderator.sd) for value in (moderator.low, moderator.high))


def handle_names(study: Study, probed: Probed) -> tuple[str, ...]:
    """What the label at the handle's own line says at either end of its way; empty where it has no line."""
    if not has_own_line(probed) or not isinstance(probed.moderator, NumberBasis):
        return ()
    return tuple(" ".join(_parts(study, probed, value)) for value in (probed.moderator.low, probed.moderator.high))


def _parts(study: Study, probed: Probed, value: float) -> tuple[str, str]:
    assert isinstance(probed.moderator, NumberBasis)
    return study.variable(probed.moderator.variable).short, place(value, probed.moderator.sd)


def handle(study: Study, sight: Sight, look: Look, page: Page) -> tuple[Mark, ...]:
    """The marks of the handle where it stands; none where there is no effect that it could show."""
    probed, found = sight.probed, sight.focus
    if not isinstance(probed.moderator, NumberBasis) or found.curve is None or not found.curve.is_estimable:
        return ()
    value = sight.handle
    marks: list[Mark] = []
    for left in page.frames_of(Pane.LINES):
        if has_own_line(probed):
            marks += _own_line(study, sight, look, page, left)
        elif probed.x is probed.moderator:
            marks += _cased(look, upright_line(left, value))
            marks += _grip(look, float(left.at_x(value)), left.area.bottom)
    right = page.frame(Pane.EFFECT)
    if right is not None:
        foot, strips = page.frame(Pane.DISTRIBUTION) or right, page.frame(Pane.STRIPS)
        marks += _cased(look, upright_line(right, value, bottom=foot.area.bottom))
        marks += _grip(look, float(right.at_x(value)), foot.area.bottom)
        if strips is not None:  # fine and faint, so that the values in the strips can be read through it
            ink = look.ink(look.palette.ink, 0.9, (2, 2), 0.6)
            marks.append(Line(upright_line(strips, value), ink, ABOUT))
        marks += _effect(sight, look, page, right)
    over = page.frame(Pane.MAP)
    if over is not None:
        marks += _on_map(sight, look, page, over)
    return tuple(marks)


def _on_map(sight: Sight, look: Look, page: Page, frame: Frame) -> list[Mark]:
    """A cross where both moderators stand, with the effect there."""
    second, curve = second_place(sight), sight.curve
    if second is None or curve is None or not curve.is_estimable:
        return []
    level = np.array([[frame.area.left, float(frame.at_y(second))], [frame.area.right, float(frame.at_y(second))]])
    marks = [*_cased(look, upright_line(frame, sight.handle)), *_cased(look, level)]
    return [*marks, *_reading(look, page, frame, curve, sight.handle, float(frame.at_y(second)))]


def second_place(sight: Sight) -> float | None:
    """Where a number second moderator stands; None without one."""
    if not has_map(sight.probed):
        return None
    where = sight.panel.second
    if sight.second is not None:
        return sight.second
    return where.value if isinstance(where, NumberPlace) else None


def _own_line(study: Study, sight: Sight, look: Look, page: Page, frame: Frame) -> list[Mark]:
    """The line of the place where the handle stands, with its name."""
    line = line_at(sight.probed, sight.handle, frame.panel)
    if not line.is_estimable:
        return []
    grid = np.linspace(*frame.x, 2 if line.g.shape[1] <= 2 else GRID)
    points = frame.at(grid, line.effect(grid))
    marks: list[Mark] = [
        Line(points, look.ink(LIGHT.ink, 3.6), ABOUT, frame.area),
        Line(points, look.ink(look.palette.yellow, 1.9), ABOUT, frame.area),
    ]
    if _is_named(sight):
        return marks
    size = look.text
    x = frame.area.right + look.of(TO_LABEL)
    name, value = _parts(study, sight.probed, sight.handle)
    name = "" if len(page.frames_of(Pane.LINES)) > 1 else name
    room = frame.room.right - x - look.of(3)
    text = with_end(name, value, lambda t: text_width(t, size, bold=True) <= room)
    whole = f"{study.variable(sight.probed.probe.moderator).label} {value}"
    wanted = min(max(float(points[-1, 1]), frame.area.top), frame.area.bottom)
    wide = text_width(text, size, bold=True)
    y = _free(page, x, wanted, wide, size, frame)
    if text and y is not None and wide <= room:
        marks.append(
            Text(
                text,
                x,
                y + (ASCENT - DESCENT) / 2 * size,
                size,
                look.palette.ink,
                ABOUT,
                Weight.BOLD,
                whole=whole if whole != text else "",
            )
        )
    return marks


def _is_named(sight: Sight) -> bool:
    """Whether the handle stands at a place whose line has a name already: what is at one place is said once."""
    moderator = sight.probed.moderator
    assert isinstance(moderator, NumberBasis)
    return any(
        isinstance(at, NumberPlace) and abs(at.value - sight.handle) <= SAME_PLACE * moderator.sd
        for at in sight.probed.places
    )


def _free(page: Page, x: float, wanted: float, width: float, size: float, frame: Frame) -> float | None:
    """The height next to the wanted one at which no other text stands; None where there is none beside the frame."""
    half = line_height(size) / 2
    boxes = page.text_boxes
    beside = boxes[(boxes[:, 2] > x) & (boxes[:, 0] < x + width)]
    taken = [(top, bottom) for _, top, _, bottom in beside.tolist()]
    edges = [wanted, *(top - half for top, _ in taken), *(bottom + half for _, bottom in taken)]
    low, high = frame.area.top - half, frame.area.bottom + half
    free = [
        y
        for y in edges
        if low <= y <= high and not any(y - half < bottom - 0.01 and top + 0.01 < y + half for top, bottom in taken)
    ]
    return min(free, key=lambda y: abs(y - wanted), default=None)


def _cased(look: Look, points: np.ndarray) -> list[Mark]:
    return [
        Line(points, look.ink(look.palette.amber_ink, 2.4), ABOUT),
        Line(points, look.ink(look.palette.yellow, 1.3), ABOUT),
    ]


def _grip(look: Look, x: float, y: float) -> list[Mark]:
    """What is dragged; it stands on the axis, so that it covers no number below it. y: the axis."""
    wide, high = look.of(5.8), look.of(8.6)
    ink = look.ink(LIGHT.ink, 0.9)
    y -= high
    box = Box(x - wide, y - high, x + wide, y + high)
    lines = [
        Line(np.array([[x - look.of(2.2), y + dy], [x + look.of(2.2), y + dy]]), ink, ABOUT)
        for dy in (look.of(-2), look.of(1.6))
    ]
    return [Rect(box, look.palette.yellow, ABOUT, edge=ink, radius=look.of(3)), *lines]


def _effect(sight: Sight, look: Look, page: Page, frame: Frame) -> list[Mark]:
    """The effect where the handle stands, as a point with its value; of a map's handle with its own curve."""
    curve, value = sight.curve, sight.handle
    assert curve is not None
    if not curve.is_estimable:
        return []
    marks: list[Mark] = []
    if sight.second is not None:
        grid = np.linspace(*frame.x, GRID)
        points = frame.at(grid, curve.effect(grid))
        marks += [
            Line(points, look.ink(LIGHT.ink, 3.0), ABOUT, frame.area),
            Line(points, look.ink(look.palette.yellow, 1.5), ABOUT, frame.area),
        ]
    at = float(frame.at_y(float(curve.effect(np.array([value]))[0])))
    return [*marks, *_reading(look, page, frame, curve, value, at)]


def _reading(look: Look, page: Page, frame: Frame, curve: Curve, value: float, y: float) -> list[Mark]:
    """A point with the value of the effect beside it, where no other text stands."""
    found = curve.at(value)
    x = float(frame.at_x(value))
    y = min(max(y, frame.area.top), frame.area.bottom)
    text, size = fixed(found.effect, effect_decimals(found)), look.text
    wide, high = text_width(text, size, bold=True) + look.of(10), look.of(14.4)
    point = Points(
        np.array([[x, y]]), Shape.CIRCLE, look.of(6.5), look.palette.yellow, ABOUT, edge=look.ink(LIGHT.ink, 1.0)
    )
    area, hair = frame.area, look.of(1.5)
    if wide + 2 * hair > area.width or high + 2 * hair > area.height:  # the table's first row says it
        return [point]
    sides = [x + look.of(7), x - look.of(7) - wide]
    sides = sides if x + look.of(10) + wide < area.right else sides[::-1]
    boxes = []
    for above in (y - look.of(17), y + look.of(4)):
        for side in sides:
            left = min(max(side, area.left + hair), area.right - wide - hair)
            top = min(max(above, area.top + hair), area.bottom - high - hair)
            boxes.append(Box(left, top, left + wide, top + high))
    free = [box for box in boxes if page.is_free(box)]
    left, top, _, _ = (free or boxes)[0]
    baseline = top + high / 2 + (ASCENT - DESCENT) / 2 * size
    ink = look.ink(look.palette.ink, 0.7)
    return [
        point,
        Rect(Box(left, top, left + wide, top + high), look.palette.panel, ABOUT, edge=ink, radius=look.of(3)),
        Text(text, left + look.of(5), baseline, size, look.palette.ink, ABOUT, Weight.BOLD),
    ]
