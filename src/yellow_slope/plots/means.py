"""Means of the outcome in a group's levels, each with its interval and its cases."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.groups.overview import Overview
from yellow_slope.core.study.figures import CasesAs, Pane
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import level_label
from yellow_slope.plots.axes import Scale, axes, ground, span
from yellow_slope.plots.drawncases import drawn_cases, undrawn_note
from yellow_slope.plots.keys import level_key
from yellow_slope.plots.look import Look, group_look
from yellow_slope.plots.marks import Box, Line, Mark, OfCases, OfGroup, Part, Plot, Points, Text
from yellow_slope.plots.scales import AxisTitle
from yellow_slope.values import replace

MOST_LEVELS = 40
SPREAD = 0.34
"""How far cases are spread about their level, in all, in steps from level to level."""


def means_plot(study: Study, overview: Overview, look: Look, room: Box) -> Plot:
    """Levels along x; a mean with its interval over the cases of each."""
    basis, fit = overview.basis, overview.fit
    k = min(len(basis.levels), MOST_LEVELS)
    outcome = study.variable(study.model.outcome or "")
    names = [look.name(level_key(basis, i), level_label(study, basis, i)) for i in range(k)]
    shown = [(i, m) for i, m in enumerate(overview.means[:k]) if m.exists]
    ends = [v for _, m in shown for v in (m.effect, m.low, m.high) if np.isfinite(v)]
    if look.cases_as is not CasesAs.NONE:
        ends += [float(v) for v in np.quantile(fit.y, [0.002, 0.998])]
    unit = f"({outcome.many})" if outcome.unit else ""
    x = Scale(-0.5, k - 0.5, AxisTitle(study.variable(overview.variable).label), tuple(enumerate(names)))
    y = Scale(*span(min(ends), max(ends), 0.05), AxisTitle(outcome.label, outcome.short, unit))
    made = axes(look, room, x, y, Pane.MEANS, look.of(12), look.of(12))
    frame, marks = made.frame, list[Mark]([ground(look, room)])
    positions = np.asarray(fit.values[overview.variable], dtype=np.int64)
    if look.cases_as is not CasesAs.NONE:
        every = drawn_cases(np.flatnonzero(positions < k))
        marks += undrawn_note(look, frame.area, every.size, int(np.count_nonzero(positions < k)))
        shift = (np.random.default_rng(7).random(positions.size) - 0.5) * SPREAD
        spots = frame.at(positions + shift, fit.y)
        for i in range(k):
            here = every[positions[every] == i]
            hue = look.line(level_key(basis, i), group_look(i, look.palette))
            points = Points(spots[here], hue.shape, look.of(2.8), hue.colour, OfCases(here), 0.35, clip=frame.area)
            marks.append(points)
    for i, mean in shown:
        hue, about = look.line(level_key(basis, i), group_look(i, look.palette)), OfGroup(i, 0)
        if np.isfinite(mean.low):
            ink = look.line_ink(replace(hue, dash=()), 1.8)
            marks.append(Line(frame.at([i, i], [mean.low, mean.high]), ink, about, frame.area))
        edge = look.ink(look.palette.panel, 0.8)
        spot = frame.at([i], [mean.effect])
        marks.append(Points(spot, hue.shape, look.of(6.5), hue.colour, about, edge=edge, clip=frame.area))
    if len(basis.levels) > k:
        said = f"{len(basis.levels) - k} more levels, not drawn"
        at = (frame.area.left + look.of(4), frame.area.top - look.of(3))
        marks.append(Text(said, *at, look.small, look.palette.soft_ink, Part.NOTE))
    return Plot((frame,), (*marks, *made.marks))
