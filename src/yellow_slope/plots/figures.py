"""A figure laid out: `layout(figure, subject)` gives the page that screen and files draw alike."""

from __future__ import annotations

import math
from collections.abc import Sequence
from string import ascii_lowercase
from typing import assert_never

import numpy as np

from yellow_slope.core.errors import StudyError
from yellow_slope.core.figured.subjects import CheckSubject, GroupSubject, ProbeSubject, StepsSubject, Subject
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.maps import has_map, has_outcome_map
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import CM_PER_INCH, Colours, Figure, GroundAs, LineKey, ProbeShown, Role
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import counted, listed_some
from yellow_slope.looks import DARK, GREY, LIGHT, Palette
from yellow_slope.plots.checks import can_be_drawn, check_page, why_not_drawn
from yellow_slope.plots.curves import panel_name
from yellow_slope.plots.effect import effect, effect_span
from yellow_slope.plots.effectdots import dots_height
from yellow_slope.plots.interaction import interaction
from yellow_slope.plots.keys import panel_key
from yellow_slope.plots.look import Look, Own
from yellow_slope.plots.maps import above_plot, map_plot
from yellow_slope.plots.marks import (
    Area,
    Box,
    Frame,
    Line,
    Mark,
    OfDifference,
    OfPanel,
    OfPlace,
    Page,
    Part,
    Plot,
    Points,
    Rect,
    Rects,
    Text,
    Weight,
    page_of,
)
from yellow_slope.plots.means import means_plot
from yellow_slope.plots.measuring import ASCENT, LEADING, text_width, wrapped
from yellow_slope.plots.namesbelow import entries_of, names_below
from yellow_slope.plots.panels import MOST_BESIDE, panels_row
from yellow_slope.plots.parts import LAID_OUT, Parts, size_key
from yellow_slope.plots.placing import fitted_names, line_height
from yellow_slope.plots.probeplots import BETWEEN, HEIGHT, PANELS_HEIGHT, WIDTH
from yellow_slope.plots.rivals import stand_page
from yellow_slope.plots.sound import is_sound
from yellow_slope.plots.steps import steps_height, steps_plot
from yellow_slope.plots.strips import can_be_stripped, strips_height, strips_plot
from yellow_slope.values import dataclass, replace

BESIDE = HEIGHT / ((WIDTH - BETWEEN) / 2)
"""Height of two plots beside each other, in widths of one."""
ALONE, MAPPED, CHECKED = 0.66, 0.74, 0.62
"""Height of one plot, a map, the plot of a check, in widths."""
NARROW = 300.0
"""Points: in a narrower figure plots stand below each other."""
LEAST_PANEL = 112.0
"""Points that a panel keeps before there are fewer beside it."""
SHARES = (1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.42, 0.35)
"""Of their size that letters are tried in, until they have room."""
MOST_BELOW = 0.5
"""Of a figure's own height that names below it may take; where they would take more they are shortened."""
STRONG = 1.6
"""Looks stronger than this make plots as much wider before they stand beside each other."""


def palette_of(colours: Colours) -> Palette:
    """The colours of a look."""
    match colours:
        case Colours.COLOUR:
            return LIGHT
        case Colours.GREY:
            return GREY
        case Colours.DARK:
            return DARK
        case _:
            assert_never(colours)


def look_of(figure: Figure, share: float = 1.0) -> Look:
    """The look of a figure, in points, with what is said otherwise. share: the part of their size that letters and
    lines have."""
    own = Own(dict(figure.texts), dict(figure.lines), dict(figure.axes), figure.parts, is_figure=True)
    palette = palette_of(figure.look.colours)
    return Look(figure.points * share, figure.look.strength * share, palette, own=own, scale=share)


def points_of(cm: float) -> float:
    """Centimetres in points."""
    return cm / CM_PER_INCH * 72


def views_of(sight: Sight) -> tuple[ProbeShown, ...]:
    """What can be shown of a probe."""
    found = [ProbeShown.BOTH, ProbeShown.LINES, ProbeShown.EFFECT]
    if len(sight.probed.panels) > 1 and not isinstance(sight.probed.moderator, NumberBasis):
        found.append(ProbeShown.EVERY)
    if can_be_stripped(sight):
        found.append(ProbeShown.STRIPS)
    if has_map(sight.probed):
        found.append(ProbeShown.MAP)
    if has_outcome_map(sight.probed):
        found.append(ProbeShown.ABOVE)
    return tuple(found)


@dataclass(frozen=True, slots=True)
class LaidOut:
    """A page, and the share of their size that letters and lines have on it: 1 where there was room."""

    page: Page
    share: float


def layout(figure: Figure, subject: Subject) -> Page:
    """The figure as a page in points. StudyError with the reason where it cannot be drawn."""
    return laid_out(figure, subject).page


def laid_out(figure: Figure, subject: Subject) -> LaidOut:
    """The figure as a page; where its letters have no room at its size, with smaller ones. StudyError where it cannot
    be drawn."""
    for share in SHARES:
        look = look_of(figure, share)
        page = _whole_page(figure, subject, look)
        if is_sound(page):
            return LaidOut(_tuned(page, subject, figure, look), share)
    size = f"{figure.points:g} pt"
    raise StudyError(f"Letters of {size} have no room at this size; make the figure larger, or the letters smaller.")


def _whole_page(figure: Figure, subject: Subject, look: Look) -> Page:
    """The page with its title and its ground."""
    width = points_of(figure.size.width)
    head = _heading(figure, look, width)
    top = sum(LEADING * text.size for text in head) + (look.of(4) if head else 0.0)
    height = None if figure.size.height is None else max(40.0, points_of(figure.size.height) - top)
    page = _moved_down(_with_whole_names(subject, look, width, height), top)
    panel = look.palette.panel
    ground = "" if figure.parts.ground is GroundAs.CLEAR else panel
    behind: tuple[Mark, ...] = (Rect(Box(0.0, 0.0, page.width, page.height), panel, Part.GROUND),) if ground else ()
    marks = tuple(mark for mark in page.marks if not (isinstance(mark, Rect) and mark.about is Part.GROUND))
    return replace(page, marks=(*behind, *marks, *head), ground=ground)


def _heading(figure: Figure, look: Look, width: float) -> list[Text]:
    """The title above the figure, in as many lines as it needs."""
    if not figure.title:
        return []
    size = look.size(Role.TITLE, None) * 1.1
    room = width - look.of(6)
    lines = wrapped(figure.title, room, size, bold=True) or [figure.title]
    return [
        Text(
            line,
            look.of(3),
            look.of(3) + ASCENT * size + i * LEADING * size,
            size,
            look.palette.ink,
            Part.HEADING,
            Weight.BOLD,
        )
        for i, line in enumerate(lines)
    ]


def _with_whole_names(subject: Subject, look: Look, width: float, height: float | None) -> Page:
    """The page; where names of lines have no room beside them, with all of them below it."""
    page = _page(subject, look, width, height)
    if not isinstance(subject, ProbeSubject) or look.has_box:
        return page
    parts = Parts(page, subject)
    cut = [t for t in page.texts if t.whole and parts.text_key(t).role is Role.LINE and not _is_row(t)]
    left_out = any(t.about is Part.LEFT_OUT for t in page.texts)
    if not cut and not left_out:
        return page
    entries = entries_of(subject.study, subject.sight, look)
    below = names_below(look, entries, width)
    if not entries or below is None or (height is not None and below.height > MOST_BELOW * height):
        return page
    bare = replace(look, own=replace(look.own, names_below=True))
    again = _page(subject, bare, width, None if height is None else max(40.0, height - below.height))
    marks = tuple(_lower(mark, again.height) for mark in below.marks)
    return replace(again, height=again.height + below.height, marks=(*again.marks, *marks))


def _is_row(text: Text) -> bool:
    """Whether a text names a row at the left of dots, which stays there."""
    return isinstance(text.about, OfPlace | OfDifference)


def _page(subject: Subject, look: Look, width: float, height: float | None) -> Page:
    match subject:
        case ProbeSubject(study, sight, shows):
            return _probe_page(study, sight, look, width, height, shows.view)
        case CheckSubject():
            return _check_page(subject, look, width, height)
        case StepsSubject(study, fit):
            if not fit.last.n_columns:
                raise StudyError("The model has no coefficient but the intercept; there is nothing to draw.")
            tall = height or max(steps_height(study, look, fit, width), 0.3 * width)
            return page_of(width, tall, [steps_plot(study, fit, look, Box(0.0, 0.0, width, tall))])
        case GroupSubject(study, overview):
            tall = height or ALONE * width
            return page_of(width, tall, [means_plot(study, overview, look, Box(0.0, 0.0, width, tall))])
        case _:
            assert_never(subject)


def _check_page(subject: CheckSubject, look: Look, width: float, height: float | None) -> Page:
    found, check, by = subject.found, subject.shows.check, subject.shows.by
    if check is Check.STAND and subject.stand is not None:
        return stand_page(found.study, found.fit, subject.stand, look, width, height or 0.3 * width)
    if not can_be_drawn(check, found, subject.stand, by):
        raise StudyError(why_not_drawn(check, found))
    return check_page(check, found, subject.stand, look, width, height or CHECKED * width, by=by)


# ---- probes


def _probe_page(study: Study, sight: Sight, look: Look, width: float, height: float | None, view: ProbeShown) -> Page:
    if view not in views_of(sight):
        raise StudyError(_not_possible(view))
    several = len(sight.probed.panels) > 1
    match view:
        case ProbeShown.BOTH if several:
            return _with_panels(study, sight, look, width, height)
        case ProbeShown.BOTH:
            return _both(study, sight, look, width, height)
        case ProbeShown.LINES if several:
            return _panels(study, sight, look, width, height)
        case ProbeShown.LINES:
            box = _alone(width, height, ALONE)
            return page_of(width, box.bottom, [interaction(study, sight, look, box)])
        case ProbeShown.EFFECT:
            box = _alone(width, height or _effect_height(study, sight, look, width), ALONE)
            return page_of(width, box.bottom, [effect(study, sight, look, box)])
        case ProbeShown.EVERY:
            return _every_effect(study, sight, look, width, height)
        case ProbeShown.STRIPS:
            box = Box(0.0, 0.0, width, height or strips_height(study, sight, look))
            return page_of(width, box.bottom, [strips_plot(study, sight, look, box)])
        case ProbeShown.MAP:
            box = _alone(width, height, MAPPED)
            return page_of(width, box.bottom, [map_plot(study, sight, look, box)])
        case ProbeShown.ABOVE:
            box = _alone(width, height, MAPPED)
            return page_of(width, box.bottom, [above_plot(study, sight, look, box)])
        case _:
            assert_never(view)


def _not_possible(view: ProbeShown) -> str:
    match view:
        case ProbeShown.MAP:
            return "A map needs two moderators that are numbers; the probe has them no longer."
        case ProbeShown.ABOVE:
            return "From above a focal predictor and a moderator that are numbers can be seen; they are not both."
        case ProbeShown.STRIPS:
            return "Strips lie along a number, where the effect has standard errors; here there is none to draw."
        case ProbeShown.EVERY:
            return "Effects in all panels need a second moderator, and groups as the first."
        case ProbeShown.BOTH | ProbeShown.LINES | ProbeShown.EFFECT:
            return "This cannot be drawn of the probe as it is now."
        case _:
            assert_never(view)


def _effect_height(study: Study, sight: Sight, look: Look, width: float) -> float | None:
    """Of dots the height that suits their rows; of an effect along a number None: as usual."""
    if isinstance(sight.probed.moderator, NumberBasis):
        return None
    return max(0.4 * width, dots_height(study, sight, look, width))


def _every_effect(study: Study, sight: Sight, look: Look, width: float, height: float | None) -> Page:
    """The effects of every panel below each other, each under the name of its place, on one scale."""
    sights = [Sight(sight.probed, replace(sight.seen, panel=k)) for k in range(len(sight.probed.panels))]
    spans = [effect_span(study, one) for one in sights]
    shared = (min(low for low, _ in spans), max(high for _, high in spans))
    heights = [dots_height(study, one, look, width) for one in sights]
    head = line_height(look.text) + look.of(4)
    tall = height or sum(heights) + len(sights) * head
    share = tall / (sum(heights) + len(sights) * head)
    plots: list[Plot] = []
    top = 0.0
    for k, (one, high) in enumerate(zip(sights, heights)):
        middle, bottom = top + share * head, top + share * (head + high)
        made = effect(study, one, look, Box(0.0, middle, width, bottom), shared=shared, names_panel=False)
        frames = tuple(replace(frame, panel=k) for frame in made.frames)
        left = frames[0].area.left if frames else look.of(2)
        name = fitted_names([look.name(panel_key(sight, k), panel_name(study, sight, k))], width - left, look.text)[0]
        said = Text(
            name, left, top + look.of(4) + ASCENT * look.text, look.text, look.palette.ink, OfPanel(k), Weight.BOLD
        )
        plots.append(Plot(frames, (*made.marks, said)))
        top = bottom
    return page_of(width, tall, plots)


def _alone(width: float, height: float | None, share: float) -> Box:
    return Box(0.0, 0.0, width, height or max(share * width, min(0.86 * width, 205.0)))


def _room(look: Look, points: float) -> float:
    """Points that a plot needs in a look: more where its letters are larger."""
    return points * max(look.text / 9.0, look.unit / STRONG)


def _both(study: Study, sight: Sight, look: Look, width: float, height: float | None) -> Page:
    strip = line_height(look.text)
    if width >= _room(look, NARROW):
        each = (width - look.of(BETWEEN)) / 2
        tall = height or strip + max(BESIDE * each, _effect_height(study, sight, look, each) or 0.0)
        left = interaction(study, sight, look, Box(0.0, strip, each, tall))
        right = effect(study, sight, look, Box(width - each, strip, width, tall))
        return page_of(width, tall, (left, right, _letters(look, [(0.0, 0.0), (width - each, 0.0)])))
    one = max(0.72 * width, min(0.86 * width, 205.0))
    other = max(one, _effect_height(study, sight, look, width) or 0.0)
    tall = height or one + other + look.of(BETWEEN) + 2 * strip
    each = strip + (tall - look.of(BETWEEN) - 2 * strip) * one / (one + other)
    under = each + look.of(BETWEEN)
    boxes = Box(0.0, strip, width, each), Box(0.0, under + strip, width, tall)
    above, below = interaction(study, sight, look, boxes[0]), effect(study, sight, look, boxes[1])
    if isinstance(sight.probed.moderator, NumberBasis):  # dots have names at their left
        edges = _edges(width, (above, below))
        above = interaction(study, sight, look, boxes[0], edges=edges)
        below = effect(study, sight, look, boxes[1], edges=edges)
    return page_of(width, tall, (above, below, _letters(look, [(0.0, 0.0), (0.0, under)])))


def _edges(width: float, plots: Sequence[Plot]) -> tuple[float, float]:
    """What plots below each other keep free at their left and right, so that they line up."""
    areas = [frame.area for plot in plots for frame in plot.frames]
    return max((a.left for a in areas), default=0.0), max((width - a.right for a in areas), default=0.0)


def _letters(look: Look, corners: Sequence[tuple[float, float]]) -> Plot:
    """A letter for each panel, at the left above it."""
    ink, size = look.palette.ink, look.text
    letters = [
        Text(letter, x + look.of(2), y + ASCENT * size, size, ink, Part.LETTER, Weight.BOLD)
        for letter, (x, y) in zip(ascii_lowercase, corners)
    ]
    return Plot((), tuple(letters))


def _rows(sight: Sight, look: Look, width: float) -> list[range]:
    """The panels of each row, as many beside each other as have room."""
    count = len(sight.probed.panels)
    most = max(1, min(MOST_BESIDE, int(width / _room(look, LEAST_PANEL))))
    even = math.ceil(count / math.ceil(count / most))
    return [range(start, min(count, start + even)) for start in range(0, count, even)]


def _row_height(look: Look, width: float, beside: int) -> float:
    return max(_room(look, 130.0), min(PANELS_HEIGHT * width / WIDTH, 1.1 * width / beside))


def _panels(study: Study, sight: Sight, look: Look, width: float, height: float | None) -> Page:
    rows, gap = _rows(sight, look, width), look.of(BETWEEN)
    each = _row_height(look, width, len(rows[0]))
    tall = height or len(rows) * each + (len(rows) - 1) * gap
    each = (tall - (len(rows) - 1) * gap) / len(rows)
    plots = [
        panels_row(study, sight, look, Box(0.0, i * (each + gap), width, i * (each + gap) + each), which)
        for i, which in enumerate(rows)
    ]
    return page_of(width, tall, plots)


def _with_panels(study: Study, sight: Sight, look: Look, width: float, height: float | None) -> Page:
    """All panels in rows, below them the effects, and for two numbers the map beside them."""
    strip = line_height(look.text)
    rows, gap = _rows(sight, look, width), look.of(BETWEEN)
    each = _row_height(look, width, len(rows[0]))
    wide = width >= _room(look, NARROW)
    mapped = has_map(sight.probed)
    below = max(_room(look, 190.0), 0.49 * width if wide else 0.8 * width)
    stacked = 2 if mapped and not wide else 1
    tall = len(rows) * (each + gap) + stacked * below + (stacked - 1) * gap + (1 + stacked) * strip
    share = 1.0 if height is None else height / tall
    each, below, gap, strip = each * share, below * share, gap * share, strip * share
    plots: list[Plot] = []
    corners = [(0.0, 0.0)]
    top = strip
    for which in rows:
        plots.append(panels_row(study, sight, look, Box(0.0, top, width, top + each), which))
        top += each + gap
    corners.append((0.0, top))
    top += strip
    if mapped and wide:
        half = (width - gap) / 2
        corners.append((half + gap, top - strip))
        plots.append(effect(study, sight, look, Box(0.0, top, half, top + below)))
        plots.append(map_plot(study, sight, look, Box(half + gap, top, width, top + below)))
    else:
        plots.append(effect(study, sight, look, Box(0.0, top, width, top + below)))
        if mapped:
            corners.append((0.0, top + below + gap))
            top += below + gap + strip
            plots.append(map_plot(study, sight, look, Box(0.0, top, width, top + below)))
    return page_of(width, top + below, [*plots, _letters(look, corners)])


# ---- what is said otherwise, put in after the layout


def _tuned(page: Page, subject: Subject, figure: Figure, look: Look) -> Page:
    """The page with texts as they are said otherwise, as far as layouts do not ask."""
    if not figure.texts:
        return page
    said = dict(figure.texts)
    parts = Parts(page, subject)
    marks: list[Mark] = []
    for mark in page.marks:
        if not isinstance(mark, Text):
            marks.append(mark)
            continue
        key = parts.text_key(mark)
        own, role = said.get(key), said.get(size_key(key))
        if own is None and role is None:
            marks.append(mark)
            continue
        if own is not None and own.hidden:
            continue
        text = mark
        if key.role not in LAID_OUT:
            words = own.words if own is not None and own.words is not None else text.text
            size = next((s.size for s in (own, role) if s is not None and s.size is not None), text.size)
            if words != text.text or size != text.size:
                text = _about_middle(text, replace(text, text=words, size=size, whole=""))
        italic = next((s.italic for s in (own, role) if s is not None and s.italic is not None), text.italic)
        if italic != text.italic:
            text = _about_middle(text, replace(text, italic=italic))
        if own is not None and own.shift is not None:
            dx, dy = own.shift
            text = replace(text, x=text.x + dx, y=text.y + dy)
            marks += _leader(look, page, text)
        if not text.text.strip():
            continue
        marks.append(text)
    return replace(page, marks=tuple(marks))


def _about_middle(before: Text, text: Text) -> Text:
    """A text of another width, about the same middle; names at the right of lines keep their left end."""
    if not isinstance(before.about, Part) or before.upright:
        wide = text_width(text.text, text.size, text.weight is Weight.BOLD, text.italic)
        if before.upright:
            return replace(text, y=text.y + (wide - before.width) / 2)
        return text if text.text == before.text else replace(text, x=text.x - (wide - before.width) / 2)
    wide = text_width(text.text, text.size, text.weight is Weight.BOLD, text.italic)
    return replace(text, x=text.x - (wide - before.width) / 2)


def _leader(look: Look, page: Page, text: Text) -> list[Mark]:
    """A fine line from a name that was moved away to what it names."""
    lines = [
        m for m in page.marks if isinstance(m, Line) and m.about == text.about and m.points.shape[0] > 2 and m.ink.dash
    ] or [m for m in page.marks if isinstance(m, Line) and m.about == text.about and m.points.shape[0] > 2]
    if not lines:
        return []
    points = np.vstack([line.points for line in lines])
    clip = lines[0].clip
    if clip is not None:
        inside = (points[:, 0] >= clip.left - 1) & (points[:, 0] <= clip.right + 1)
        inside &= (points[:, 1] >= clip.top - 1) & (points[:, 1] <= clip.bottom + 1)
        points = points[inside]
    if not points.size:
        return []
    box = text.box
    near = np.column_stack([np.clip(points[:, 0], box.left, box.right), np.clip(points[:, 1], box.top, box.bottom)])
    away = np.hypot(*(points - near).T)
    k = int(np.argmin(away))
    if away[k] < 1.4 * text.size:
        return []
    ends = np.vstack([near[k], points[k]])
    return [Line(ends, look.ink(look.palette.faint_ink, 0.5), text.about)]


# ---- moving


def _moved_down(page: Page, by: float) -> Page:
    """The page with everything lower, and taller by that."""
    if not by:
        return page
    marks = tuple(_lower(mark, by) for mark in page.marks)
    frames = tuple(_lower_frame(frame, by) for frame in page.frames)
    return replace(page, height=page.height + by, marks=marks, frames=frames)


def _box(box: Box, by: float) -> Box:
    return Box(box.left, box.top + by, box.right, box.bottom + by)


def _lower(mark: Mark, by: float) -> Mark:
    match mark:
        case Text():
            return replace(mark, y=mark.y + by)
        case Rect():
            return replace(mark, box=_box(mark.box, by))
        case Rects():
            return replace(mark, boxes=mark.boxes + np.array([0.0, by, 0.0, by]))
        case Line() | Area() | Points():
            clip = None if mark.clip is None else _box(mark.clip, by)
            return replace(mark, points=mark.points + np.array([0.0, by]), clip=clip)


def _lower_frame(frame: Frame, by: float) -> Frame:
    return replace(frame, area=_box(frame.area, by), room=_box(frame.room, by))


# ---- remarks

LEAST_TEXT, LEAST_LINE = 6.0, 0.25
"""Points below which letters cannot be read and lines not be printed."""


def smallest(page: Page) -> tuple[float, float]:
    """The smallest letters and the finest line of a page, in points."""
    letters = min((text.size for text in page.texts), default=math.inf)
    lines = [m.ink.width for m in page.marks if isinstance(m, Line) and m.points.shape[0] > 1]
    return letters, min(lines, default=math.inf)


def smaller_letters(figure: Figure, share: float) -> list[str]:
    """What is said of letters that have no room in their size; nothing where they have."""
    if share == 1.0:
        return []
    return [f"Letters are {figure.points * share:.1f} pt: {figure.points:g} pt have no room at this size."]


def shortened_names(page: Page) -> list[str]:
    """What is said of names that have no room at this size; nothing where all stand in full."""
    cut = sorted({text.whole for text in page.texts if text.whole})
    if not cut:
        return []
    verb = "is" if len(cut) == 1 else "are"
    return [f"{counted(len(cut), 'name')} {verb} shortened at this size: {listed_some(cut, 3)}."]


def same_names(figure: Figure) -> list[str]:
    """What is said of lines or groups that were given one name; nothing where each has its own."""
    named: dict[str, set[LineKey]] = {}
    for key, tuning in figure.texts:
        if key.role is Role.LINE and key.line is not None and tuning.words:
            named.setdefault(tuning.words, set()).add(key.line)
    twice = [words for words, lines in named.items() if len(lines) > 1]
    return [f"Several lines or groups are named {listed_some([f'“{words}”' for words in twice], 3)}."] if twice else []
