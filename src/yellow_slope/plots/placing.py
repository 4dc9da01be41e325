"""Placing texts: moved apart where they would touch, with leaders to what they name."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellow_slope.core.words.spelling.shortening import Fits, begun, told_apart
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import About, Box, Line, Mark, Part, Text
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.plots.scales import AxisTitle
from yellow_slope.values import dataclass

LEAST = 6.5
"""Letters smaller than this many points nobody can read."""


def spread(wanted: Sequence[float], sizes: Sequence[float], low: float, high: float) -> list[float]:
    """Places of things of some sizes, in the order given, as near to where they are wanted as they have room.

    Wanted places must rise. Where all together have no room, they are laid end to end from the low end.
    """
    n = len(wanted)
    if not n:
        return []
    total = sum(sizes)
    if total >= high - low:
        starts = np.concatenate([[0.0], np.cumsum(sizes)[:-1]])
        return [low + float(s) + size / 2 for s, size in zip(starts, sizes)]
    # Groups of things that touch move together to the middle of what they want.
    groups: list[list[float]] = []  # [sum of wanted starts, count, size of the group]
    for want, size in zip(wanted, sizes):
        groups.append([want - size / 2, 1.0, size])
        while len(groups) > 1 and _start(groups[-2], low, high) + groups[-2][2] > _start(groups[-1], low, high):
            last = groups.pop()
            before = groups[-1]
            groups[-1] = [before[0] + last[0] - last[1] * before[2], before[1] + last[1], before[2] + last[2]]
    places: list[float] = []
    k = 0
    for group in groups:
        at = _start(group, low, high)
        for _ in range(int(group[1])):
            places.append(at + sizes[k] / 2)
            at += sizes[k]
            k += 1
    return places


def _start(group: list[float], low: float, high: float) -> float:
    """Where a group begins: the mean of what its members want, kept within the bounds."""
    return min(max(group[0] / group[1], low), high - group[2])


def fitted_names(names: Sequence[str], room: float, size: float, bold: bool = False) -> list[str]:
    """Names in a room, shortened by their own rule so that they can still be told apart."""

    def fits(text: str) -> bool:
        return text_width(text, size, bold) <= room

    return told_apart(list(names), [fits] * len(names))


def with_end(name: str, end: str, fits: Fits) -> str:
    """“name end”, the name shortened where both have no room together."""
    whole = f"{name} {end}".strip()
    return whole if not name or fits(whole) else f"{begun(name, lambda text: fits(f'{text} {end}'))} {end}"


def one_line(title: AxisTitle, room: float, size: float) -> str:
    """An axis title in one line: with its name, its short name, or the beginning of that; the unit is cut last."""
    for name in (title.name, title.short):
        text = f"{name} {title.unit}".strip()
        if name and text_width(text, size) <= room:
            return text
    text = with_end(title.short or title.name, title.unit, lambda t: text_width(t, size) <= room)
    return text if text_width(text, size) <= room else fitted_names([title.whole], room, size)[0]


def line_height(size: float) -> float:
    """The room a line of text takes."""
    return (ASCENT + DESCENT) * size


@dataclass(frozen=True, slots=True)
class End:
    """A label wanted at a height."""

    y: float
    name: str
    about: About
    bold: bool = False
    note: str = ""
    """What may stand behind it, fainter, where there is room."""


def end_labels(
    look: Look, ends: Sequence[End], x: float, room: Box, reach: float = 0.0, letters: float = 0.0
) -> list[Mark]:
    """Labels at the right of heights, moved apart, with a leader where one stands away from its line.

    room: where labels may stand; x: the right end of the lines; reach: how long a leader is; letters: their size where
    it is not that of the look.
    """
    order = sorted(range(len(ends)), key=lambda i: ends[i].y)
    size = label_size(look, len(ends), room.height, letters)
    high = line_height(size) * 1.06
    fit = max(1, int(room.height / high)) if ends else 0
    shown = order if len(order) <= fit else [order[round(i)] for i in np.linspace(0, len(order) - 1, max(1, fit - 1))]
    wanted = [min(max(ends[i].y, room.top), room.bottom) for i in shown]
    left_out = len(order) - len(shown)
    bottom = room.bottom - (high if left_out else 0.0)
    places = spread(wanted, [high] * len(shown), room.top, max(bottom, room.top + high))
    names = fitted_names([ends[i].name for i in shown], room.width, size)
    marks: list[Mark] = []
    for i, at, name in zip(shown, places, names):
        end = ends[i]
        if abs(at - end.y) > 0.3 * high and reach > 0 and room.top - 4 <= end.y <= room.bottom + 4:
            points = np.array([[x + 1, end.y], [x + reach - 2, at]])
            marks.append(Line(points, look.ink(look.palette.faint_ink, 0.5), end.about))
        y = at + (ASCENT - DESCENT) / 2 * size
        marks.append(
            Text(name, room.left, y, size, look.palette.ink, end.about, whole=end.name if name != end.name else "")
        )
        start = room.left + text_width(name, size) + 0.5 * size
        if end.note and start + text_width(end.note, 0.88 * size) <= room.right:
            marks.append(Text(end.note, start, y, 0.88 * size, look.palette.soft_ink, end.about))
    if left_out:
        y = room.bottom - DESCENT * size
        marks.append(Text(f"{left_out} more", room.left, y, size, look.palette.soft_ink, Part.LEFT_OUT))
    return marks


def label_size(look: Look, count: int, height: float, letters: float = 0.0) -> float:
    """The size of letters of so many labels below each other: smaller where they have little room, down to what can be
    read."""
    letters = letters or look.text
    if not count:
        return letters
    wanted = height / count / (ASCENT + DESCENT) / 1.06
    return min(letters, max(look.of(LEAST), wanted))


def centred(
    text: str, x: float, y: float, look: Look, about: About, size: float = 0.0, colour: str = "", whole: str = ""
) -> Text:
    """A text centred at x, on a baseline."""
    size = size or look.text
    return Text(text, x - text_width(text, size) / 2, y, size, colour or look.palette.ink, about, whole=whole)
