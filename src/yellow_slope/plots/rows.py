"""Rows with names at the left: how many lines the names take, and where they stand."""

from __future__ import annotations

from collections.abc import Sequence

from yellow_slope.core.study.figures import Pane, Role
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import About, Box, Frame, Mark, Text
from yellow_slope.plots.measuring import ASCENT, DESCENT, LEADING, name_lines, text_width
from yellow_slope.values import dataclass

NAMES = 0.45
"""The largest share of the width that names at the left may take."""
BESIDE = 12
"""Points beside the names."""


@dataclass(frozen=True, slots=True)
class RowName:
    """The name of a row as it stands, and what it is."""

    place: float
    """Where the row lies on the upright axis."""
    lines: Sequence[str]
    about: About
    whole: str = ""
    """The whole name, where less of it stands there."""


def names_room(look: Look, width: float) -> float:
    """How wide names may be on a plot of that width."""
    return NAMES * width - look.of(BESIDE)


def row_lines(look: Look, pane: Pane, names: Sequence[str], width: float) -> int:
    """How many lines the names of rows take, where they are to stand in full."""
    if not look.own.is_figure:
        return 1
    size, room = look.size(Role.LINE, pane), names_room(look, width)
    found = [name_lines(name, room, size) for name in names]
    return max((len(lines) for lines in found if lines is not None), default=1) if None not in found else 1


def names_width(look: Look, lines: Sequence[tuple[str, float]]) -> float:
    """The room that lines of names, each with the size of its letters, take beside the plot."""
    return max((text_width(line, size) for line, size in lines), default=0.0) + look.of(BESIDE)


def at_left(look: Look, area: Box, text: str, middle: float, size: float) -> tuple[float, float]:
    """Where a line of text beside a plot begins, its end at the plot: x and baseline."""
    return area.left - look.of(6) - text_width(text, size), middle + (ASCENT - DESCENT) / 2 * size


def draw_names(look: Look, frame: Frame, names: Sequence[RowName], size: float) -> list[Mark]:
    """The names, each in the middle of its row."""
    marks: list[Mark] = []
    for name in names:
        first = float(frame.at_y(name.place)) - (len(name.lines) - 1) * LEADING * size / 2
        for k, line in enumerate(name.lines):
            x, baseline = at_left(look, frame.area, line, first + k * LEADING * size, size)
            marks.append(Text(line, x, baseline, size, look.palette.ink, name.about, whole=name.whole))
    return marks
