"""The interaction plot: predicted outcome along a number with a line for each place or group, or means of groups by
groups."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.crossing import crossing_place, crossing_stretches
from yellow_slope.core.probe.curve import FiellerKind
from yellow_slope.core.probe.places import Everywhere, LevelPlace, NumberPlace
from yellow_slope.core.probe.probed import PredictedLine
from yellow_slope.core.probe.seen import AtPlace, Sight
from yellow_slope.core.probe.support import near_width
from yellow_slope.core.study.figures import CasesAs, Pane, Role, TextKey
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import level_label
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.spelling.numerals import percent
from yellow_slope.plots.axes import Scale, axes, ground, said_otherwise, span
from yellow_slope.plots.boundaries import boundary_lines, washes
from yellow_slope.plots.drawncases import drawn_cases, undrawn_note
from yellow_slope.plots.extras import NOTHING, Extras, rug
from yellow_slope.plots.handle import handle_names
from yellow_slope.plots.keybox import Entry, key_box
from yellow_slope.plots.keys import level_key, line_key, number_of, place_key
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
    Part,
    Plot,
    Points,
    Shape,
    Text,
)
from yellow_slope.plots.measuring import text_width
from yellow_slope.plots.placing import End, centred, end_labels, fitted_names, label_size, line_height
from yellow_slope.plots.scales import AxisTitle
from yellow_slope.plots.titles import number_title, outcome_title
from yellow_slope.values import dataclass, replace

GRID = 64
KIND = Pane.LINES
JITTER = 0.5
"""How far cases of whole numbers are spread at most, in all."""
MOST_GROUPS = 24
"""More groups than this are not drawn: nobody could tell them apart."""
MOST_APART = 12
"""Of more groups only the chosen one, or so many, have a look of their own; the others are grey."""
LABELS = 0.36
"""The largest share of the width that labels at the right may take."""
LEADER = 9.0
"""How long a leader is, in points."""


@dataclass(frozen=True, slots=True)
class Among:
    """What a panel shares with those beside it."""

    heights: tuple[float, float]
    """What the upright axis spans in all of them."""
    is_first: bool
    """Whether it has the upright axis's numbers and title; the others have its line alone."""
    right: float
    """What is kept free for labels at its right."""
    has_title: bool = False
    """Whether the axis below has a title of its own."""


def interaction(
    study: Study,
    sight: Sight,
    look: Look,
    room: Box,
    handle: bool = False,
    among: Among | None = None,
    extras: Extras = NOTHING,
    edges: tuple[float, float] = (0.0, 0.0),
) -> Plot:
    """The interaction plot of a panel. handle: room is kept for the name of a handle's own line; among: it stands
    beside others; edges: what is free at its left and right at least."""
    read = EffectReader(study, sight.probed, sight.seen.panel)
    if sight.panel.lines:
        frame, marks = _lines(study, sight, read, look, room, handle, among, extras, edges)
    elif any(effect.exists for means in sight.panel.means for effect in means):
        frame, marks = _means(study, sight, read, look, room, among)
    else:
        said = centred("lines not estimable", *room.middle, look, Part.NOTE, colour=look.palette.soft_ink)
        return Plot((), (ground(look, room), said))
    return Plot((replace(frame, panel=sight.seen.panel),), (ground(look, room), *marks))


def heights(sight: Sight, look: Look) -> tuple[float, float] | None:
    """What the upright axis of a panel spans; None where nothing is drawn."""
    lines, x = sight.panel.lines, sight.probed.x
    if lines and x is not None:
        grid = np.linspace(*span(x.low, x.high), GRID)
        values = [line.curve.effect(grid) for line in lines]
        bands = [line.curve.band(grid) if line.curve.has_errors else None for line in lines]
        return _heights(sight, look, values, bands)
    shown = [e for means in sight.panel.means for e in means if e.exists]
    ends = [v for e in shown for v in (e.effect, e.low, e.high) if np.isfinite(v)]
    return span(min(ends), max(ends), 0.06) if ends else None


def line_names(study: Study, sight: Sight, look: Look) -> list[str]:
    """What stands at the right ends of a panel's lines."""
    read = EffectReader(study, sight.probed, sight.seen.panel)
    if sight.panel.lines:
        return _line_names(look, sight, read)
    focal = sight.probed.focal
    return _level_names(study, look, focal) if isinstance(focal, GroupBasis) else []


def line_entries(study: Study, sight: Sight, look: Look) -> list[Entry]:
    """The lines or groups of an interaction plot, with their names and looks."""
    read = EffectReader(study, sight.probed, sight.seen.panel)
    if sight.panel.lines:
        names = _line_names(look, sight, read)
        keys = [line_key(sight, i) for i in range(len(sight.panel.lines))]
        return [
            Entry(
                names[i],
                OfLine(i),
                look.line(keys[i], _line_look(sight, look, line)),
                look.is_first(keys[i]),
                of=number_of(keys[i]),
            )
            for i, line in enumerate(sight.panel.lines)
        ]
    focal = sight.probed.focal
    if not isinstance(focal, GroupBasis) or isinstance(sight.probed.places[0], Everywhere):
        return []
    names = _level_names(study, look, focal)[:MOST_GROUPS]
    levels = [level_key(focal, i) for i in range(len(names))]
    return [
        Entry(name, OfGroup(i, 0), look.line(levels[i], group_look(i, look.palette)), look.is_first(levels[i]), False)
        for i, name in enumerate(names)
    ]


def _line_names(look: Look, sight: Sight, read: EffectReader) -> list[str]:
    usual = [read.line_name(i, short=False) for i in range(len(sight.panel.lines))]
    return [look.name(line_key(sight, i), name) if name else "" for i, name in enumerate(usual)]


def _level_names(study: Study, look: Look, focal: GroupBasis) -> list[str]:
    return [look.name(level_key(focal, i), level_label(study, focal, i)) for i in range(len(focal.levels))]


# ---- lines


def _lines(
    study: Study,
    sight: Sight,
    read: EffectReader,
    look: Look,
    room: Box,
    handle: bool,
    among: Among | None,
    extras: Extras,
    edges: tuple[float, float],
) -> tuple[Frame, list[Mark]]:
    probed, lines = sight.probed, sight.panel.lines
    x = probed.x
    assert x is not None
    across = said_otherwise(look, KIND, Scale(*span(x.low, x.high), number_title(study, x)), False)
    low, high = span(x.low, x.high)
    grid = np.linspace(max(low, min(across.low, high)), min(high, max(across.high, low)), GRID)
    values = [line.curve.effect(grid) for line in lines]
    bands = [line.curve.band(grid) if line.curve.has_errors else None for line in lines]
    names = _line_names(look, sight, read)
    size = look.size(Role.LINE, KIND)
    top = look.of(12.0 if among is None else 4.0)
    shares = [_share(sight, line) if handle and among is None else "" for line in lines]
    wanted = [
        *(f"{name} {share}" for name, share in zip(names, shares)),
        *(handle_names(study, probed) if handle else ()),
        _names_head(study, sight),
    ]
    right = _labels_room(look, room, wanted, size) if any(wanted) and not look.has_box else look.of(14.0)
    upright = Scale(*_heights(sight, look, values, bands), outcome_title(study, probed.model))
    if among is not None:
        right, across = among.right, across if among.has_title else replace(across, title=None)
        upright = _shared(among, upright)
    made = axes(look, room, across, upright, Pane.LINES, max(right, edges[1]), top, edges[0])
    frame, marks = made.frame, list[Mark]()
    marks += washes(look, sight, frame) if probed.focal is not x else []
    marks += _cases(sight, look, frame, x)
    ends: list[End] = []
    entries: list[Entry] = []
    keys = [line_key(sight, i) for i in range(len(lines))]
    for i in sorted(range(len(lines)), key=lambda i: look.is_first(keys[i])):
        line, value, band = lines[i], values[i], bands[i]
        hue = look.line(keys[i], _line_look(sight, look, line))
        if band is not None and look.band(0.12) > 0:
            outline = np.vstack([frame.at(grid, band[0]), frame.at(grid[::-1], band[1][::-1])])
            marks.append(Area(outline, hue.colour, look.band(0.12), OfLine(i), frame.area))
        marks += _line(look, frame, grid, value, hue, i, _has_cases(sight, line, x, grid))
        entries.append(Entry(names[i], OfLine(i), hue, look.is_first(keys[i])))
        if not look.hides(TextKey(Role.LINE, KIND, keys[i])):
            ends.append(End(float(frame.at_y(value[-1])), names[i], OfLine(i), note=shares[i]))
    marks += made.marks
    if probed.focal is not x:
        marks += boundary_lines(look, sight, frame)
    marks += _crossing(look, sight, frame)
    marks += rug(look, frame, extras.crossings)
    if any(names) and look.has_box:
        at = [i for _, i in sorted((entry.about.index, k) for k, entry in enumerate(entries))]  # type: ignore[union-attr]
        marks += key_box(look, frame, [entries[k] for k in at], KIND) if among is None or among.is_first else []
    elif any(names):
        gap = look.of(LEADER)
        area = frame.area
        label = Box(area.right + gap, room.top + look.of(3), room.right - look.of(3), area.bottom + look.of(2))
        head = _names_head(study, sight) if among is None or among.is_first else ""  # once for panels beside each other
        below = label._replace(top=label.top + line_height(size)) if head else label
        named = end_labels(look, ends, area.right, below, gap, size)
        marks += [*named, *_head(look, head, named, label, size)]
    return frame, marks


def _names_head(study: Study, sight: Sight) -> str:
    """What the names at the lines are values or groups of; empty of the one line of a predictor along itself, and
    where a group's own names say it."""
    probed = sight.probed
    if probed.by_itself or isinstance(probed.places[0], Everywhere):
        return ""
    of = probed.probe.moderator if isinstance(probed.focal, NumberBasis) else probed.probe.focal
    variable = study.variable(of)
    says_it = any(variable.label.casefold() in level.label.casefold() for level in variable.levels)
    return "" if variable.levels and says_it else variable.label


def _head(look: Look, head: str, named: list[Mark], room: Box, size: float) -> list[Mark]:
    """The head above the names at the lines."""
    tops = [mark.y for mark in named if isinstance(mark, Text)]
    if not head or not tops:
        return []
    text = fitted_names([head], room.width, size)[0]
    y = min(tops) - line_height(size)
    whole = head if text != head else ""
    return [Text(text, room.left, y, size, look.palette.soft_ink, Part.HEAD, whole=whole)]


def _share(sight: Sight, line: PredictedLine) -> str:
    """Which share of the cases a line rests on: those near its place, or in its group."""
    n, there = sight.probed.fit.y.size, line_cases(sight, line)
    return "" if there is None or not n else percent(there / n)


def line_cases(sight: Sight, line: PredictedLine) -> int | None:
    """How many cases are of a line's kind; None of the one line of a predictor along itself."""
    probed = sight.probed
    if line.place is not None and not probed.by_itself:
        near = sight.panel.foci[0].near
        return sum(one.cases for one in near[line.place]) if line.place < len(near) else None
    if line.level is not None:
        return int(np.count_nonzero(np.asarray(probed.fit.values[probed.probe.focal]) == line.level))
    return None


def _shared(among: Among, scale: Scale) -> Scale:
    """The upright axis of a panel among others."""
    low, high = among.heights
    if among.is_first:
        return replace(scale, low=low, high=high)
    return replace(scale, low=low, high=high, title=None, has_ticks=False)


def _crossing(look: Look, sight: Sight, frame: Frame) -> list[Mark]:
    """Where the lines meet inside the data, on the axis, with the set of places where they may."""
    panel, x = sight.panel, sight.probed.x
    bottom, marks = frame.area.bottom, list[Mark]()
    ink = look.ink(look.palette.amber_ink, 3.0)
    if panel.crossing_set is not None and panel.crossing_set.kind is FiellerKind.WHOLE_LINE:
        ink = look.ink(look.palette.amber_ink, 3.0, (1.0, 1.5), 0.5)
    for low, high in crossing_stretches(panel, x):
        ends = np.column_stack([frame.at_x(np.array([low, high])), [bottom, bottom]])
        marks.append(Line(ends, ink, Part.CROSSING))
    at = crossing_place(panel, x)
    if at is not None:
        spot = np.array([[float(frame.at_x(at)), bottom]])
        edge = look.ink(look.palette.panel, 0.8)
        marks.append(Points(spot, Shape.DIAMOND, look.of(6), look.palette.amber_ink, Part.CROSSING, edge=edge))
    return marks


def _labels_room(look: Look, room: Box, names: list[str], size: float) -> float:
    """The room that labels at the right take, at most their share of the width."""
    widest = max((text_width(name, size, bold=True) for name in names), default=0.0)
    return min(widest + look.of(LEADER + 4), LABELS * room.width)


def _heights(
    sight: Sight, look: Look, values: list[FloatArray], bands: list[tuple[FloatArray, FloatArray] | None]
) -> tuple[float, float]:
    """What the upright axis spans: all lines, and nearly all cases where they are drawn, else the bands."""
    ends = [float(v) for value in values for v in (value.min(), value.max())]
    if look.cases_as is not CasesAs.NONE:
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
    count = len(probed.places) if isinstance(probed.focal, NumberBasis) else len(probed.focal.levels)
    if count > MOST_APART and index not in _apart(sight):
        return LineLook(look.palette.faint_ink, (), SHAPES[0])
    return group_look(index, look.palette)


def _apart(sight: Sight) -> range:
    """Of more groups than can be told apart those that have a look of their own: the chosen one, else the first."""
    at = sight.seen.place
    return range(at.index, at.index + 1) if isinstance(at, AtPlace) else range(MOST_APART)


def _line(
    look: Look, frame: Frame, grid: FloatArray, value: FloatArray, hue: LineLook, index: int, there: BoolArray
) -> list[Mark]:
    """A line, thin where there are no cases of its kind."""
    points = frame.at(grid, value)
    thick = look.line_ink(hue, 1.9)
    thin = look.ink(hue.colour, 0.7)
    thin = replace(thin, dash=tuple(part * thick.width / thin.width for part in hue.dash))
    inside = np.flatnonzero(there)
    first, last = (int(inside[0]), int(inside[-1])) if inside.size else (grid.size - 1, grid.size - 1)
    parts = [(points[: first + 1], thin), (points[first : last + 1], thick), (points[last:], thin)]
    return [Line(part, ink, OfLine(index), frame.area) for part, ink in parts if part.shape[0] > 1]


def _has_cases(sight: Sight, line: PredictedLine, x: NumberBasis, grid: FloatArray) -> BoolArray:
    """Where along x there are cases of a line's kind, of a group or near a place of a number: between the lowest and
    the highest of them in the panel."""
    probed, here = sight.probed, sight.panel.foci[0].support.anyone
    place = probed.places[line.place] if line.place is not None else None
    if isinstance(place, NumberPlace):
        away = np.abs(np.asarray(probed.fit.values[probed.probe.moderator], dtype=np.float64) - place.value)
        there = away <= near_width(probed.moderator)
    elif line.level is not None or isinstance(place, LevelPlace):
        group = probed.focal if line.level is not None else probed.moderator
        index = line.level if line.level is not None else place.index if isinstance(place, LevelPlace) else 0
        there = np.asarray(probed.fit.values[group.variable]) == index
        here = _in_panel(sight)
    else:
        return np.ones(grid.size, dtype=bool)
    own = np.asarray(probed.fit.values[x.variable], dtype=np.float64)[there & here]
    if not own.size:
        return np.zeros(grid.size, dtype=bool)
    step = (grid[-1] - grid[0]) / (grid.size - 1)
    return np.asarray((grid >= own.min() - step) & (grid <= own.max() + step))


def _in_panel(sight: Sight) -> BoolArray:
    """Shape (n,): the cases of the panel: of a group second moderator those of its level."""
    probed, at = sight.probed, sight.panel.second
    if probed.second is not None and isinstance(at, LevelPlace):
        return np.asarray(np.asarray(probed.fit.values[probed.second.variable]) == at.index)
    return np.ones(probed.fit.y.size, dtype=bool)


def _cases(sight: Sight, look: Look, frame: Frame, x: NumberBasis) -> list[Mark]:
    """The cases as points, in the look of their group."""
    probed, how = sight.probed, look.cases_as
    if how is CasesAs.NONE:
        return []
    spots = frame.at(_jittered(look, np.asarray(probed.fit.values[x.variable], dtype=np.float64)), probed.fit.y)
    group = probed.focal if isinstance(probed.focal, GroupBasis) else probed.moderator
    size = look.of(3.0)
    own = np.flatnonzero(_in_panel(sight))
    every = drawn_cases(own)
    note = undrawn_note(look, frame.area, every.size, own.size)
    if not isinstance(group, GroupBasis):
        if how is CasesAs.SIDES:
            return [*_by_side(sight, look, frame, spots, every), *note]
        colour = look.palette.faint_ink
        return [Points(spots[every], SHAPES[0], size, colour, OfCases(every), 0.3, clip=frame.area), *note]
    marks: list[Mark] = note
    positions = np.asarray(probed.fit.values[group.variable])
    for i in range(min(len(group.levels), MOST_GROUPS)):
        here = every[positions[every] == i]
        hue = look.line(level_key(group, i), group_look(i, look.palette))
        marks.append(Points(spots[here], hue.shape, size, hue.colour, OfCases(here), 0.35, clip=frame.area))
    return marks


def _by_side(sight: Sight, look: Look, frame: Frame, spots: FloatArray, every: IntArray) -> list[Mark]:
    """Cases in the look of the line whose place is nearest to their own value of the moderator."""
    probed, size = sight.probed, look.of(3.0)
    at = [(i, p.value) for i, p in enumerate(probed.places) if isinstance(p, NumberPlace)]
    if not at or probed.by_itself:
        colour = look.palette.faint_ink
        return [Points(spots[every], SHAPES[0], size, colour, OfCases(every), 0.3, clip=frame.area)]
    values = np.asarray(probed.fit.values[probed.probe.moderator], dtype=np.float64)[every]
    nearest = np.argmin(np.abs(values[:, None] - np.array([value for _, value in at])[None, :]), axis=1)
    marks: list[Mark] = []
    for k, (i, _) in enumerate(at):
        usual = place_look(i, len(probed.places), look.palette)
        hue = look.line(place_key(probed.moderator, probed.places[i], i), replace(usual, shape=SHAPES[i % len(SHAPES)]))
        here = every[nearest == k]
        marks.append(Points(spots[here], hue.shape, size, hue.colour, OfCases(here), 0.45, clip=frame.area))
    return marks


def _jittered(look: Look, values: FloatArray) -> FloatArray:
    """Whole numbers spread a little, by lot once and for all, where a figure asks for it."""
    if not look.own.parts.jitter or not np.all(values == np.round(values)):
        return values
    return values + (np.random.default_rng(values.size).random(values.size) - 0.5) * JITTER


# ---- means of groups by groups


def _means(
    study: Study, sight: Sight, read: EffectReader, look: Look, room: Box, among: Among | None
) -> tuple[Frame, list[Mark]]:
    probed, focal = sight.probed, sight.probed.focal
    assert isinstance(focal, GroupBasis)
    k = min(len(focal.levels), MOST_GROUPS)
    levels = _level_names(study, look, focal)[:k]
    hues = [look.line(level_key(focal, i), group_look(i, look.palette)) for i in range(k)]
    alone = isinstance(probed.places[0], Everywhere)
    shown = [
        (i, j, effect)
        for i, effects in enumerate(sight.panel.means[:k])
        for j, effect in enumerate(effects)
        if effect.exists
    ]
    ends = [v for _, _, e in shown for v in (e.effect, e.low, e.high) if np.isfinite(v)]
    keys = [place_key(probed.moderator, at, j) for j, at in enumerate(probed.places)]
    names = levels if alone else [look.name(key, read.place_name(j)) for j, key in enumerate(keys)]
    size, boxed = look.size(Role.LINE, KIND), look.has_box
    right = look.of(14.0) if alone or boxed else _labels_room(look, room, levels, size) + look.of(8)
    x = Scale(-0.5, len(names) - 0.5, AxisTitle(_x_name(study, sight, alone)), tuple(enumerate(map(str, names))))
    low, high = span(min(ends), max(ends), 0.06)
    upright = Scale(low, high, outcome_title(study, probed.model))
    if among is not None:
        right, upright = among.right, _shared(among, upright)
        x = x if among.has_title else replace(x, title=None)
    made = axes(look, room, x, upright, Pane.LINES, right, look.of(12.0))
    frame, marks = made.frame, list(made.marks)
    for i, j, effect in shown:
        offset = float(i) if alone else j + (i - (k - 1) / 2) * min(0.16, 0.6 / k)
        marks += _mean(look, frame, offset, effect, hues[i], OfGroup(i, j))
    if boxed and not alone:
        firsts = [look.is_first(level_key(focal, i)) for i in range(k)]
        entries = [Entry(levels[i], OfGroup(i, 0), hues[i], firsts[i], False) for i in range(k)]
        marks += key_box(look, frame, entries, KIND)
    elif not alone:
        marks += _key(look, frame, room, levels, hues)
    return frame, marks


def _x_name(study: Study, sight: Sight, alone: bool) -> str:
    return study.variable(sight.probed.probe.focal if alone else sight.probed.probe.moderator).label


def _mean(look: Look, frame: Frame, x: float, effect: ConditionalEffect, hue: LineLook, about: OfGroup) -> list[Mark]:
    """A mean with its interval."""
    found: list[Mark] = []
    if np.isfinite(effect.low):
        ink = look.line_ink(replace(hue, dash=()), 1.2)
        found.append(Line(frame.at([x, x], [effect.low, effect.high]), ink, about, frame.area))
    spot = frame.at([x], [effect.effect])
    found.append(Points(spot, hue.shape, look.of(5.0), hue.colour, about, clip=frame.area))
    return found


def _key(look: Look, frame: Frame, room: Box, levels: list[str], hues: list[LineLook]) -> list[Mark]:
    """The groups by their marks, at the right."""
    area, marks, k = frame.area, list[Mark](), len(levels)
    size = label_size(look, k, area.height, look.size(Role.LINE, KIND))
    high = line_height(size) * 1.06
    left = area.right + look.of(10)
    if room.right - left < look.of(11) + text_width("…", size):
        return []
    fit = max(1, int((area.height + look.of(4)) / high))
    names = fitted_names(levels, room.right - left - look.of(11), size)
    shown = k if k <= fit else fit - 1
    for i in range(shown):
        hue, y = hues[i], area.top + (i + 0.5) * high
        marks.append(Points(np.array([[left + look.of(3), y]]), hue.shape, look.of(5.0), hue.colour, OfGroup(i, 0)))
        text = Text(
            names[i], left + look.of(9), y + 0.28 * size, size, look.palette.ink, OfGroup(i, 0), whole=levels[i]
        )
        marks.append(text)
    if shown < k:
        y = area.top + (shown + 0.5) * high
        marks.append(Text(f"{k - shown} more", left, y + 0.28 * size, size, look.palette.soft_ink, Part.LEFT_OUT))
    return marks
