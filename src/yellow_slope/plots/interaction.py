"""The interaction plot: predicted outcome along a number with a line for each place or group, or means of groups by
groups."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.places import Everywhere, LevelPlace
from yellow_slope.core.probe.probed import PredictedLine
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import level_label
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.axes import Scale, axes, ground, span
from yellow_slope.plots.boundaries import boundary_lines, washes
from yellow_slope.plots.drawncases import drawn_cases, undrawn_note
from yellow_slope.plots.handle import handle_names
from yellow_slope.plots.look import SHAPES, LineLook, Look, group_look, place_look
from yellow_slope.plots.marks import (
    Area,
    Box,
    Frame,
    Line,
    Mark,
    OfCases,
    OfGroup,
    OfLine,
    Pane,
    Part,
    Plot,
    Points,
    Text,
)
from yellow_slope.plots.measuring import text_width
from yellow_slope.plots.placing import End, centred, end_labels, fitted_names, label_size, line_height
from yellow_slope.plots.scales import AxisTitle
from yellow_slope.plots.titles import number_title, outcome_title

GRID = 64
MOST_GROUPS = 24
"""More groups than this are not drawn: nobody could tell them apart."""
LABELS = 0.36
"""The largest share of the width that labels at the right may take."""
LEADER = 9.0
"""How long a leader is, in points."""


def interaction(study: Study, sight: Sight, look: Look, room: Box, handle: bool = False) -> Plot:
    """The interaction plot of a panel. handle: room is kept for the name of a handle's own line."""
    read = EffectReader(study, sight.probed, sight.seen.panel)
    if sight.panel.lines:
        frame, marks = _lines(study, sight, read, look, room, handle)
    elif any(effect.exists for means in sight.panel.means for effect in means):
        frame, marks = _means(study, sight, read, look, room)
    else:
        said = centred("no case tells of these lines", *room.middle, look, Part.NOTE, colour=look.palette.soft_ink)
        return Plot((), (ground(look, room), said))
    return Plot((frame,), (ground(look, room), *marks))


# ---- lines


def _lines(
    study: Study, sight: Sight, read: EffectReader, look: Look, room: Box, handle: bool
) -> tuple[Frame, list[Mark]]:
    probed, lines = sight.probed, sight.panel.lines
    x = probed.x
    assert x is not None
    grid = np.linspace(*span(x.low, x.high), GRID)
    values = [line.curve.effect(grid) for line in lines]
    bands = [line.curve.band(grid) if line.curve.has_errors else None for line in lines]
    names = [read.line_name(i, short=False) for i in range(len(lines))]
    top = look.of(12.0)
    wanted = [*names, *(handle_names(study, probed) if handle else ())]
    right = _labels_room(look, room, wanted) if any(wanted) else look.of(14.0)
    made = axes(
        look,
        room,
        Scale(*span(x.low, x.high), number_title(study, x.variable)),
        Scale(*_heights(sight, look, values, bands), outcome_title(study, probed.model)),
        Pane.INTERACTION,
        right,
        top,
    )
    frame, marks = made.frame, list[Mark]()
    marks += washes(look, sight, frame) if probed.focal is not x else []
    if look.cases:
        marks += _cases(sight, look, frame, x)
    ends: list[End] = []
    for i, (line, value, band) in enumerate(zip(lines, values, bands)):
        hue = _line_look(sight, look, line)
        if band is not None:
            outline = np.vstack([frame.at(grid, band[0]), frame.at(grid[::-1], band[1][::-1])])
            marks.append(Area(outline, hue.colour, 0.12, OfLine(i), frame.area))
        marks += _line(look, frame, grid, value, hue, i, _has_cases(sight, line, x, grid))
        ends.append(End(float(frame.at_y(value[-1])), names[i], OfLine(i)))
    marks += made.marks
    if probed.focal is not x:
        marks += boundary_lines(look, sight, frame)
    if any(names):
        gap = look.of(LEADER)
        area = frame.area
        label = Box(area.right + gap, room.top + look.of(3), room.right - look.of(3), area.bottom + look.of(2))
        marks += end_labels(look, ends, area.right, label, gap)
    return frame, marks


def _labels_room(look: Look, room: Box, names: list[str]) -> float:
    """The room that labels at the right take, at most their share of the width."""
    widest = max((text_width(name, look.text, bold=True) for name in names), default=0.0)
    return min(widest + look.of(LEADER + 4), LABELS * room.width)


def _heights(
    sight: Sight, look: Look, values: list[FloatArray], bands: list[tuple[FloatArray, FloatArray] | None]
) -> tuple[float, float]:
    """What the upright axis spans: all lines, and nearly all cases where they are drawn, else the bands."""
    ends = [float(v) for value in values for v in (value.min(), value.max())]
    if look.cases:
        low, high = (float(v) for v in np.quantile(sight.probed.fit.y, [0.002, 0.998]))
        ends += [low, high]
    else:
        ends += [float(v) for band in bands if band is not None for v in (band[0].min(), band[1].max())]
    return span(min(ends), max(ends), 0.04)


def _line_look(sight: Sight, look: Look, line: PredictedLine) -> LineLook:
    probed = sight.probed
    index = line.place if line.place is not None else line.level or 0
    if isinstance(probed.focal, NumberBasis) and isinstance(probed.moderator, NumberBasis):
        return place_look(index, len(probed.places), look.palette)
    return group_look(index, look.palette)


def _line(
    look: Look, frame: Frame, grid: FloatArray, value: FloatArray, hue: LineLook, index: int, there: BoolArray
) -> list[Mark]:
    """A line, thin where there are no cases of its kind."""
    points = frame.at(grid, value)
    thin, thick = look.ink(hue.colour, 0.7), look.ink(hue.colour, 1.9, hue.dash)
    inside = np.flatnonzero(there)
    first, last = (int(inside[0]), int(inside[-1])) if inside.size else (grid.size - 1, grid.size - 1)
    parts = [(points[: first + 1], thin), (points[first : last + 1], thick), (points[last:], thin)]
    return [Line(part, ink, OfLine(index), frame.area) for part, ink in parts if part.shape[0] > 1]


def _has_cases(sight: Sight, line: PredictedLine, x: NumberBasis, grid: FloatArray) -> BoolArray:
    """Where along x a group has cases: between its lowest and its highest; of a place of a number everywhere."""
    probed = sight.probed
    group = probed.focal if line.level is not None else probed.moderator
    index = line.level
    if line.place is not None and isinstance(place := probed.places[line.place], LevelPlace):
        index = place.index
    if index is None or not isinstance(group, GroupBasis):
        return np.ones(grid.size, dtype=bool)
    own = np.asarray(probed.fit.values[x.variable])[np.asarray(probed.fit.values[group.variable]) == index]
    if not own.size:
        return np.zeros(grid.size, dtype=bool)
    step = (grid[-1] - grid[0]) / (grid.size - 1)
    return np.asarray((grid >= own.min() - step) & (grid <= own.max() + step))


def _cases(sight: Sight, look: Look, frame: Frame, x: NumberBasis) -> list[Mark]:
    """The cases as points, in the look of their group."""
    probed = sight.probed
    spots = frame.at(np.asarray(probed.fit.values[x.variable]), probed.fit.y)
    group = probed.focal if isinstance(probed.focal, GroupBasis) else probed.moderator
    size = look.of(3.0)
    every = drawn_cases(np.arange(spots.shape[0]))
    note = undrawn_note(look, frame.area, every.size, spots.shape[0])
    if not isinstance(group, GroupBasis):
        colour = look.palette.faint_ink
        return [Points(spots[every], SHAPES[0], size, colour, OfCases(every), 0.3, clip=frame.area), *note]
    marks: list[Mark] = note
    positions = np.asarray(probed.fit.values[group.variable])
    for i in range(min(len(group.levels), MOST_GROUPS)):
        here = every[positions[every] == i]
        hue = group_look(i, look.palette)
        marks.append(Points(spots[here], hue.shape, size, hue.colour, OfCases(here), 0.35, clip=frame.area))
    return marks


# ---- means of groups by groups


def _means(study: Study, sight: Sight, read: EffectReader, look: Look, room: Box) -> tuple[Frame, list[Mark]]:
    probed, focal = sight.probed, sight.probed.focal
    assert isinstance(focal, GroupBasis)
    k = min(len(focal.levels), MOST_GROUPS)
    levels = [level_label(study, focal, i) for i in range(k)]
    alone = isinstance(probed.places[0], Everywhere)
    shown = [
        (i, j, effect)
        for i, effects in enumerate(sight.panel.means[:k])
        for j, effect in enumerate(effects)
        if effect.exists
    ]
    ends = [v for _, _, e in shown for v in (e.effect, e.low, e.high) if np.isfinite(v)]
    names = levels if alone else [read.place_name(j) for j in range(len(probed.places))]
    right = look.of(14.0) if alone else _labels_room(look, room, levels) + look.of(8)
    x = Scale(-0.5, len(names) - 0.5, AxisTitle(_x_name(study, sight, alone)), tuple(enumerate(map(str, names))))
    low, high = span(min(ends), max(ends), 0.06)
    made = axes(
        look, room, x, Scale(low, high, outcome_title(study, probed.model)), Pane.INTERACTION, right, look.of(12.0)
    )
    frame, marks = made.frame, list(made.marks)
    for i, j, effect in shown:
        offset = float(i) if alone else j + (i - (k - 1) / 2) * min(0.16, 0.6 / k)
        marks += _mean(look, frame, offset, effect, group_look(i, look.palette), OfGroup(i, j))
    if not alone:
        marks += _key(look, frame, room, levels, k)
    return frame, marks


def _x_name(study: Study, sight: Sight, alone: bool) -> str:
    return study.variable(sight.probed.probe.focal if alone else sight.probed.probe.moderator).label


def _mean(look: Look, frame: Frame, x: float, effect: ConditionalEffect, hue: LineLook, about: OfGroup) -> list[Mark]:
    """A mean with its interval."""
    found: list[Mark] = []
    if np.isfinite(effect.low):
        found.append(Line(frame.at([x, x], [effect.low, effect.high]), look.ink(hue.colour, 1.2), about))
    found.append(Points(frame.at([x], [effect.effect]), hue.shape, look.of(5.0), hue.colour, about))
    return found


def _key(look: Look, frame: Frame, room: Box, levels: list[str], k: int) -> list[Mark]:
    """The groups by their marks, at the right."""
    area, marks = frame.area, list[Mark]()
    size = label_size(look, k, area.height)
    high = line_height(size) * 1.06
    left = area.right + look.of(10)
    fit = max(1, int((area.height + look.of(4)) / high))
    names = fitted_names(levels, room.right - left - look.of(11), size)
    shown = k if k <= fit else fit - 1
    for i in range(shown):
        hue, y = group_look(i, look.palette), area.top + (i + 0.5) * high
        marks.append(Points(np.array([[left + look.of(3), y]]), hue.shape, look.of(5.0), hue.colour, OfGroup(i, 0)))
        text = Text(
            names[i], left + look.of(9), y + 0.28 * size, size, look.palette.ink, OfGroup(i, 0), whole=levels[i]
        )
        marks.append(text)
    if shown < k:
        y = area.top + (shown + 0.5) * high
        marks.append(Text(f"{k - shown} more", left, y + 0.28 * size, size, look.palette.soft_ink, Part.NOTE))
    return marks
