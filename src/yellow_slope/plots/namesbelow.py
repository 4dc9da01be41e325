"""Names of lines below a whole figure, each with a piece of its line: where they have no room at their lines."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import Pane, Role
from yellow_slope.core.study.study import Study
from yellow_slope.plots.curves import drawn_curves
from yellow_slope.plots.interaction import line_entries
from yellow_slope.plots.keybox import GAP, PIECE, Entry
from yellow_slope.plots.keys import number_of, panel_key
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Line, Mark, OfPanel, Points, Text
from yellow_slope.plots.measuring import ASCENT, DESCENT, LEADING, broken_anywhere, text_width
from yellow_slope.values import dataclass, replace

PAD, APART = 6.0, 14.0


@dataclass(frozen=True, slots=True, eq=False)
class Below:
    """The names, laid out from the top of what they take."""

    marks: tuple[Mark, ...]
    height: float


def entries_of(study: Study, sight: Sight, look: Look) -> list[Entry]:
    """Every line, group and effect of a probe that has a name, each once; those that come first before the others."""
    found = list(line_entries(study, sight, look))
    if isinstance(sight.probed.moderator, NumberBasis):
        curves, _ = drawn_curves(study, sight, look)
        for c in curves:
            key = panel_key(sight, c.about.index) if isinstance(c.about, OfPanel) else None
            found += [Entry(c.name, c.about, c.look, of=number_of(key))] if c.name else []
    if len({entry.of for entry in found if entry.of}) > 1:  # “low 2.4” of which of the two?
        found = [replace(e, name=f"{study.variable(e.of).short} {e.name}") if e.of else e for e in found]
    once: dict[tuple[str, str, tuple[float, ...]], Entry] = {}
    for entry in sorted(found, key=lambda entry: not entry.is_first):
        once.setdefault((entry.name, entry.look.colour, entry.look.dash), entry)
    return [entry for entry in once.values() if entry.name]


def names_below(look: Look, entries: list[Entry], width: float) -> Below | None:
    """The names in rows, in full; a name that no row has room for takes several lines. None without any."""
    if not entries:
        return None
    size, left = look.size(Role.LINE, Pane.LINES), look.of(PAD)
    lead = look.of(PIECE + GAP)
    room = width - 2 * left - lead
    marks: list[Mark] = []
    x, top, high = left, look.of(4), LEADING * size
    for entry in entries:
        lines = broken_anywhere(entry.name, room, size)
        wide = lead + max(text_width(line, size) for line in lines)
        if x > left and x + wide > width - left:
            x, top = left, top + high
        y = top + high / 2
        if entry.is_line:
            piece = np.array([[x, y], [x + look.of(PIECE), y]])
            marks.append(Line(piece, look.line_ink(entry.look, 1.9), entry.about))
        else:
            spot = np.array([[x + look.of(PIECE) / 2, y]])
            marks.append(Points(spot, entry.look.shape, look.of(5.0), entry.look.colour, entry.about))
        for k, line in enumerate(lines):
            baseline = y + k * high + (ASCENT - DESCENT) / 2 * size
            marks.append(Text(line, x + lead, baseline, size, look.palette.ink, entry.about))
        if len(lines) > 1:
            x, top = left, top + len(lines) * high
        else:
            x += wide + look.of(APART)
    bottom = top + (high if x > left else 0.0) + look.of(4)
    return Below(tuple(marks), bottom)
