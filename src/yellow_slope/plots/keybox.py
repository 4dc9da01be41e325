"""The names of lines in a box inside the plot, each with a piece of its line: at the right above, or where somebody put
it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellow_slope.core.study.figures import Pane, Role
from yellow_slope.plots.look import LineLook, Look
from yellow_slope.plots.marks import About, Box, Frame, Line, Mark, Part, Points, Rect, Text
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.plots.placing import fitted_names, line_height
from yellow_slope.values import dataclass

PIECE, PAD, GAP = 18.0, 4.0, 5.0
WIDEST, HIGHEST = 0.6, 0.7
"""Shares of the plot's inside that a box may take."""


@dataclass(frozen=True, slots=True)
class Entry:
    """A line in the box."""

    name: str
    about: About
    look: LineLook
    is_first: bool = False
    is_line: bool = True
    """Else a point."""
    of: str = ""
    """The number whose place it is; empty for a group's level."""


def key_box(look: Look, frame: Frame, entries: Sequence[Entry], pane: Pane) -> list[Mark]:
    """The box with its entries, those that come first above; entries that have no room are counted."""
    if not entries or look.own.names_below:
        return []
    entries = sorted(entries, key=lambda entry: not entry.is_first)
    size, area, pad = look.size(Role.LINE, pane), frame.area, look.of(PAD)
    high = line_height(size) * 1.12
    most = max(1, int((HIGHEST * area.height - 2 * pad) / high))
    shown = entries if len(entries) <= most else entries[: max(1, most - 1)]
    left_out = len(entries) - len(shown)
    room = WIDEST * area.width - 2 * pad - look.of(PIECE + GAP)
    names = fitted_names([entry.name for entry in shown], room, size)
    more = f"{left_out} more" if left_out else ""
    widest = max(*(text_width(name, size) for name in names), text_width(more, size), 0.0)
    wide = widest + 2 * pad + look.of(PIECE + GAP)
    tall = (len(shown) + bool(left_out)) * high + 2 * pad
    box = _placed(look, area, wide, tall)
    marks: list[Mark] = [Rect(box, look.palette.panel, Part.KEY, 0.88, look.ink(look.palette.line, 0.6))]
    for k, (entry, name) in enumerate(zip(shown, names)):
        y = box.top + pad + (k + 0.5) * high
        start = box.left + pad
        if entry.is_line:
            piece = np.array([[start, y], [start + look.of(PIECE), y]])
            marks.append(Line(piece, look.line_ink(entry.look, 1.9), entry.about))
        else:
            middle = np.array([[start + look.of(PIECE) / 2, y]])
            marks.append(Points(middle, entry.look.shape, look.of(5.0), entry.look.colour, entry.about))
        x, baseline = start + look.of(PIECE + GAP), y + (ASCENT - DESCENT) / 2 * size
        whole = entry.name if name != entry.name else ""
        marks.append(Text(name, x, baseline, size, look.palette.ink, entry.about, whole=whole))
    if more:
        y = box.top + pad + (len(shown) + 0.5) * high + (ASCENT - DESCENT) / 2 * size
        marks.append(Text(more, box.left + pad, y, size, look.palette.soft_ink, Part.LEFT_OUT))
    return marks


def _placed(look: Look, area: Box, wide: float, tall: float) -> Box:
    """Where the box stands: where it was put, kept inside, else at the right top corner."""
    at = look.own.parts.box_at
    gap = look.of(3)
    left = area.right - wide - gap if at is None else area.left + at[0] * area.width
    top = area.top + gap if at is None else area.top + at[1] * area.height
    left = min(max(left, area.left + gap), max(area.left + gap, area.right - wide - gap))
    top = min(max(top, area.top + gap), max(area.top + gap, area.bottom - tall - gap))
    return Box(left, top, left + wide, top + tall)
