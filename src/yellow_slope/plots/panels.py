"""Interaction plots side by side: one for each place of the second moderator, with shared axes."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.places import LevelPlace
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.probe.support import Near, near_width
from yellow_slope.core.study.figures import Pane, Role
from yellow_slope.core.study.study import Study
from yellow_slope.plots.axes import Scale, ground, said_otherwise, typed_ticks
from yellow_slope.plots.curves import panel_name
from yellow_slope.plots.extras import NOTHING, Extras
from yellow_slope.plots.handle import handle_places
from yellow_slope.plots.interaction import Among, heights, interaction, line_names
from yellow_slope.plots.keys import panel_key
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Box, Frame, Mark, OfPanel, Part, Plot, Rect, Text, Weight
from yellow_slope.plots.measuring import ASCENT, DESCENT, LEADING, name_lines, text_width
from yellow_slope.plots.placing import centred, fitted_names
from yellow_slope.plots.scales import AxisTitle, upward
from yellow_slope.plots.titles import number_title, outcome_title
from yellow_slope.values import replace

MOST_BESIDE = 4
"""Panels beside each other."""
GAP = 8.0
LABELS = 0.34
"""The largest share of a panel's width that labels at the right may take."""


def shown_panels(sight: Sight) -> range:
    """The panels that stand beside each other now: the four among which the one that is seen is."""
    count = len(sight.probed.panels)
    first = sight.seen.panel // MOST_BESIDE * MOST_BESIDE
    first = max(0, min(first, count - MOST_BESIDE))
    return range(first, min(count, first + MOST_BESIDE))


def panels_row(
    study: Study, sight: Sight, look: Look, room: Box, which: range, handle: bool = False, extras: Extras = NOTHING
) -> Plot:
    """The panels of a row, each with its name and its cases above; the one that is seen under a yellow bar."""
    sights = [Sight(sight.probed, replace(sight.seen, panel=k)) for k in which]
    spans = [found for one in sights if (found := heights(one, look)) is not None]
    shared = (min(low for low, _ in spans), max(high for _, high in spans)) if spans else (0.0, 1.0)
    heard = said_otherwise(look, Pane.LINES, Scale(*shared), True)
    shared = (heard.low, heard.high)
    count, gap = len(sights), look.of(GAP)
    title = _x_title(study, sight, look, room)
    foot = len(title) * LEADING * look.text + look.of(3)
    wide = (room.width - (count - 1) * gap) / count
    names = [name for one in sights for name in line_names(study, one, look)]
    wanted = [*names, *(handle_places(sight.probed) if handle else ())]
    letters = look.size(Role.LINE, Pane.LINES)
    widest = max((text_width(name, letters, bold=True) for name in wanted), default=0.0)
    sample = 0.0 if any(one.panel.lines for one in sights) else look.of(12)  # the mark before the name of a group
    right = min(widest + sample + look.of(13), LABELS * wide) if wanted and not look.has_box else look.of(10)
    upright = _upright_room(study, sight, look, room, shared)
    inner = (room.width - upright - (count - 1) * (gap + look.of(8)) - count * right) / count
    head = _head_height(study, sights, look, inner)
    frames: list[Frame] = []
    marks: list[Mark] = [ground(look, room)]
    left = room.left
    for k, one in zip(which, sights):
        first = k == which.start
        width = inner + right + (upright if first else look.of(8))
        own = Box(left, room.top + head, left + width, room.bottom - foot)
        plot = interaction(
            study, one, look, own, handle, Among(shared, first, right), extras if k == sight.seen.panel else NOTHING
        )
        frames += plot.frames
        area = plot.frames[0].area if plot.frames else own
        marks += plot.marks[1:]
        marks += _head(
            study, one, look, Box(area.left, room.top, left + width, room.top + head), handle and k == sight.seen.panel
        )
        left += width + gap
    baseline = room.bottom - look.of(3) - DESCENT * look.text - (len(title) - 1) * LEADING * look.text
    size = look.size(Role.X_TITLE, Pane.LINES)
    for text, whole in title:
        half = text_width(text, size) / 2
        middle = min(max(sum(room[::2]) / 2, room.left + half), room.right - half)
        marks.append(centred(text, middle, baseline, look, Part.TITLE_X, size, whole=whole))
        baseline += LEADING * look.text
    more = len(sight.probed.panels) - count
    if more > 0:
        said = f"{more} more: Ctrl+PgDown" if handle else f"{more} more"
        at = room.right - text_width(said, look.small) - look.of(3)
        y = room.bottom - look.of(3) - DESCENT * look.text
        note = Text(said, at, y, look.small, look.palette.soft_ink, Part.LEFT_OUT)
        if handle and not any(isinstance(m, Text) and m.box.overlaps(note.box) for m in marks):
            marks.append(note)
    return Plot(tuple(frames), tuple(marks))


def _x_title(study: Study, sight: Sight, look: Look, room: Box) -> list[tuple[str, str]]:
    x, size = sight.probed.x, look.size(Role.X_TITLE, Pane.LINES)
    label = study.variable(sight.probed.probe.moderator).label
    usual = AxisTitle(label) if x is None else number_title(study, x)
    title = said_otherwise(look, Pane.LINES, Scale(0.0, 1.0, usual), False).title
    if title is None:
        return []
    return [(line.text, line.whole) for line in title.lines(0.9 * room.width, size)]


def _upright_room(study: Study, sight: Sight, look: Look, room: Box, shared: tuple[float, float]) -> float:
    """What numbers and title of the shared upright axis take."""
    kind = Pane.LINES
    small, large = look.size(Role.Y_TICKS, kind), look.size(Role.Y_TITLE, kind)
    high = max(1.0, room.height - 5 * look.text)
    scale = said_otherwise(look, kind, Scale(*shared, outcome_title(study, sight.probed.model)), True)
    ticks = typed_ticks(look.axis_said(kind, True), scale, upward(*shared, high, small))
    widest = max((text_width(tick.label, small) for tick in ticks.ticks), default=0.0)
    lines = scale.title.lines(high, large) if scale.title is not None else []
    return look.of(3) + widest + look.of(6) + len(lines) * LEADING * large + look.of(3)


def _head(study: Study, sight: Sight, look: Look, box: Box, is_seen: bool) -> list[Mark]:
    """A panel's name, the cases it rests on, and the bar above the one that is seen."""
    about, size, p = OfPanel(sight.seen.panel), look.text, look.palette
    marks: list[Mark] = []
    if is_seen:
        marks.append(Rect(Box(box.left, box.top, box.right, box.top + look.of(2.2)), p.yellow, about))
    baseline = box.top + look.of(3) + ASCENT * size
    cases = cases_text(sight)
    wide = text_width(cases, look.small)
    key = panel_key(sight, sight.seen.panel)
    room = box.width - wide - look.of(8)
    name = look.name(key, panel_name(study, sight, sight.seen.panel))
    name = _with_variable(study, sight, name, room, size)
    lines = name_lines(name, box.width - look.of(4), size, True) if look.own.is_figure else None
    if lines is not None and text_width(name, size, bold=True) > room:  # the cases stand below the name
        for k, line in enumerate(lines):
            marks.append(Text(line, box.left, baseline + k * LEADING * size, size, p.ink, about, Weight.BOLD))
        baseline += len(lines) * LEADING * size
        marks.append(Text(cases, box.left, baseline, look.small, p.soft_ink, about))
        return marks
    text = fitted_names([name], room, size, bold=True)[0]
    whole = name if text != name else ""
    marks.append(Text(text, box.left, baseline, size, p.ink, about, Weight.BOLD, whole=whole))
    marks.append(Text(cases, box.right - wide, baseline, look.small, p.soft_ink, about))
    return marks


def _with_variable(study: Study, sight: Sight, name: str, room: float, size: float) -> str:
    """The name of a panel at a place of a number behind the number's own name, where both have room."""
    second = sight.probed.second
    if not isinstance(second, NumberBasis) or name != panel_name(study, sight, sight.seen.panel):
        return name
    variable = study.variable(second.variable)
    longer = f"{variable.short_label or variable.label}: {name}"
    return longer if not name.startswith(variable.short) and text_width(longer, size, bold=True) <= room else name


def _head_height(study: Study, sights: list[Sight], look: Look, width: float) -> float:
    """The height of the panels' heads: more where names are to stand in full."""
    most = 1
    for sight in sights if look.own.is_figure else ():
        name = look.name(panel_key(sight, sight.seen.panel), panel_name(study, sight, sight.seen.panel))
        room = width - text_width(cases_text(sight), look.small) - look.of(8)
        lines = name_lines(name, width - look.of(4), look.text, True)
        if lines is not None and text_width(name, look.text, bold=True) > room:
            most = max(most, len(lines) + 1)
    return (0.5 + LEADING * most) * look.text if most > 1 else 1.7 * look.text


def cases_text(sight: Sight) -> str:
    """“n = 64” of a level; “23 near” of a place of a number."""
    near = panel_cases(sight)
    is_level = isinstance(sight.panel.second, LevelPlace)
    return f"n = {near.cases:,}" if is_level else f"{near.cases:,} near"


def panel_cases(sight: Sight) -> Near:
    """The cases in a panel: of its level, or near its place."""
    probed, at, n = sight.probed, sight.panel.second, sight.probed.fit.y.size
    if probed.second is None or at is None:
        return Near(n, n)
    values = np.asarray(probed.fit.values[probed.second.variable], dtype=np.float64)
    where = float(at.index) if isinstance(at, LevelPlace) else at.value
    return Near(int(np.count_nonzero(np.abs(values - where) <= near_width(probed.second))), n)
