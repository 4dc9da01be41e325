"""Does it stand: a product and its rivals, a row each, as intervals on one scale with their figures."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.stand.rivals import Family, family_of
from yellow_slope.core.stand.standing import Row, Stand, Standing
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.rivals import (
    OTHER_UNITS,
    asked_name,
    base_cells,
    family_name,
    rival_name,
    row_cells,
    stand_decimals,
    t_text,
    why_text,
)
from yellow_slope.core.words.spelling.numerals import level_text
from yellow_slope.plots.axes import ground, span
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import (
    Area,
    Box,
    Frame,
    Ink,
    Line,
    Mark,
    OfRival,
    Page,
    Part,
    Plot,
    Points,
    Rect,
    Shape,
    Text,
    Weight,
    page_of,
)
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.plots.nulls import fill
from yellow_slope.plots.placing import fitted_names
from yellow_slope.plots.scales import across
from yellow_slope.values import dataclass, replace

LINE = 1.92
"""Height of a row, in sizes of letters."""
HEAD = 2.3
APART = 0.62
"""From one comparison of a set to the next."""
LEAST_SCALE = 11.0
"""A scale narrower than so many sizes of letters gives its room up for none of the figures but the interval's text."""
WIDEST = 5.0
"""Intervals beyond so many times that of the product as it stands run to the edge."""
GAP = 0.9
MOST_WIDER = 1.28
"""Rows stand further apart where there is room, up to so many times."""
HEADING = "in the model, and in each check"


@dataclass(frozen=True, slots=True)
class _Line:
    """A line of the table: a heading, or a row by its position."""

    index: int | None
    name: str
    cells: tuple[str, str, str, str] = ("", "", "", "")
    height: float = LINE


def stand_page(study: Study, fit: Fit, stand: Stand, look: Look, width: float, height: float) -> Page:
    """The table on a page of at least that height: taller where the rows need it."""
    lines = _lines(study, fit, stand)
    size, pad = look.text, look.of(6)
    rows = sum(line.height for line in lines)
    wider = min(MOST_WIDER, max(1.0, ((height - 2 * pad) / size - HEAD) / rows))
    lines = [replace(line, height=line.height * wider) for line in lines]
    needed = (HEAD + rows * wider) * size + 2 * pad
    tall = max(height, needed)
    room = Box(0.0, 0.0, width, tall)
    columns = _columns(stand, lines, look, width)
    area = Box(columns.scale[0], (HEAD + 0.2) * size, columns.scale[1], (HEAD + sum(x.height for x in lines)) * size)
    low, high = _spanned(stand)
    frame = Frame(area, (low, high), (0.0, 1.0), Pane.RIVALS, room)
    marks: list[Mark] = [ground(look, room)]
    marks += _head(stand, look, frame, columns, width)
    top = HEAD * size
    names = iter(_names(lines, look, columns.names))
    for line in lines:
        marks += _row(stand, look, frame, columns, line, next(names), top)
        top += line.height * size
    return page_of(width, tall, [Plot((frame,), tuple(marks))])


def rival_at(page: Page, y: float) -> int | None:
    """The row at a height of the page; -1: the product as it stands."""
    for mark in page.marks:
        if isinstance(mark, Rect) and isinstance(mark.about, OfRival) and mark.box.top <= y < mark.box.bottom:
            return mark.about.index
    return None


def row_box(page: Page, index: int) -> Box | None:
    """Where a row stands on a page."""
    found = (m.box for m in page.marks if isinstance(m, Rect) and m.about == OfRival(index))
    return next(found, None)


def _lines(study: Study, fit: Fit, stand: Stand) -> list[_Line]:
    """The product as it stands, then the rivals under the names of their families."""
    digits = stand_decimals(stand)
    name = f"{asked_name(study, fit, stand.asked)}, in the model"
    lines = [_Line(-1, name, base_cells(stand, digits), _height(stand.base))]
    for family in Family:
        rows = [(i, row) for i, row in enumerate(stand.rows) if family_of(row.rival) is family]
        if rows:
            lines.append(_Line(None, family_name(family), height=LINE * 1.12))
        for i, row in rows:
            lines.append(_Line(i, rival_name(study, row.rival), row_cells(stand, row, digits), _height(row.standing)))
    return lines


def _height(standing: Standing) -> float:
    """Of a set as tall as its comparisons need."""
    is_drawn = standing.test is not None and not standing.why and not standing.is_waiting
    return max(LINE, APART * len(standing.columns) + 0.6) if is_drawn else LINE


@dataclass(frozen=True, slots=True)
class _Columns:
    """Where things stand across: the names' room, both ends of the scale, the right ends of the figures (None: not
    shown)."""

    names: float
    scale: tuple[float, float]
    ends: tuple[float | None, float | None, float | None, float | None]


def _columns(stand: Stand, lines: Sequence[_Line], look: Look, width: float) -> _Columns:
    size = look.text
    heads = _titles(stand)
    widths = [
        max([text_width(head, size), *(text_width(line.cells[k], size, k == 0) for line in lines)]) + GAP * size
        for k, head in enumerate(heads)
    ]
    indent = 2.4 * size
    wanted = max(text_width(line.name, size, line.index == -1) for line in lines) + indent + 1.2 * size
    shown = [True] * 4
    names = min(wanted, 0.42 * width)
    if width - names - sum(widths) < LEAST_SCALE * size:
        shown[1] = False
        names = min(wanted, 0.36 * width)
        if names < wanted:  # a name says more than the number of cases
            shown[3] = False
            names = min(wanted, 0.46 * width)
    right = width - 0.6 * size
    ends: list[float | None] = []
    for k in range(3, -1, -1):
        ends.insert(0, right if shown[k] else None)
        right -= widths[k] if shown[k] else 0.0
    return _Columns(names, (names, max(names + 1.0, right - 0.4 * size)), (ends[0], ends[1], ends[2], ends[3]))


def _titles(stand: Stand) -> tuple[str, str, str, str]:
    if stand.base.test is not None:
        return "F", "df", "p", "n"
    return "b", f"{level_text(stand.level)} CI", "p", "n"


def _names(lines: Sequence[_Line], look: Look, room: float) -> list[str]:
    """Names in their room, told apart."""
    indent = [1.0 if line.index is None or line.index < 0 else 2.0 for line in lines]
    size = look.text
    rest = room - (max(indent) + 0.8) * size
    return fitted_names([line.name for line in lines], rest, size, True)


def _spanned(stand: Stand) -> tuple[float, float]:
    """What the scale spans: 0, the product's interval, and those of the rivals as far as they do not dwarf it."""
    values = [0.0]
    base = [x for c in stand.base.columns for x in (c.b, c.low, c.high) if math.isfinite(x)]
    values += base
    reach = WIDEST * (max(base) - min(base)) if base else math.inf
    for row in stand.rows:
        if not row.has_units:
            continue
        for x in (x for c in row.standing.columns for x in (c.b, c.low, c.high)):
            if math.isfinite(x) and (not base or min(base) - reach <= x <= max(base) + reach):
                values.append(x)
        if row.range is not None:
            values += [x for x in (row.range.low, row.range.high) if math.isfinite(x)]
    return span(min(values), max(values), 0.06)


def _head(stand: Stand, look: Look, frame: Frame, columns: _Columns, width: float) -> list[Mark]:
    size, soft = look.text, look.palette.soft_ink
    baseline = (HEAD / 2 + (ASCENT - DESCENT) / 2) * size
    marks: list[Mark] = [Text(HEADING, 1.0 * size, baseline, size, soft, Part.TITLE)]
    if text_width(HEADING, size) > columns.names - 2 * size:
        marks = []
    for end, title in zip(columns.ends, _titles(stand)):
        if end is not None:
            x = end - text_width(title, size, italic=title in ("b", "p", "F"))
            marks.append(Text(title, x, baseline, size, soft, Part.TITLE, italic=title in ("b", "p", "F", "n")))
    for tick in across(*frame.x, frame.area.width, size).ticks:
        at = float(frame.at_x(tick.value))
        x = at - text_width(tick.label, size) / 2
        if frame.area.left - size <= x and x + text_width(tick.label, size) <= frame.area.right + 0.4 * size:
            marks.append(Text(tick.label, x, baseline, size, soft, Part.AXIS_X))
    y = HEAD * size - look.of(1)
    marks.append(Line(np.array([[0.0, y], [width, y]]), look.ink(look.palette.line, 1.2), Part.REFERENCE))
    x0 = float(frame.at_x(0.0))
    zero = np.array([[x0, y], [x0, frame.area.bottom]])
    marks.append(Line(zero, look.ink(look.palette.line, 1.4), Part.ZERO))
    one = stand.base.one
    if one is not None and math.isfinite(one.b):
        x1 = float(frame.at_x(one.b))
        through = np.array([[x1, y], [x1, frame.area.bottom]])
        marks.append(Line(through, look.ink(look.palette.yellow, 1.2, (1.5, 2.0)), Part.REFERENCE))
    return marks


def _row(stand: Stand, look: Look, frame: Frame, columns: _Columns, line: _Line, name: str, top: float) -> list[Mark]:
    size, p = look.text, look.palette
    middle = top + line.height * size / 2
    baseline = middle + (ASCENT - DESCENT) / 2 * size
    cut = line.name if name != line.name else ""
    if line.index is None:
        return [Text(name, 1.0 * size, baseline, look.small, p.soft_ink, Part.TITLE, whole=cut)]
    row = stand.rows[line.index] if line.index >= 0 else None
    standing = row.standing if row is not None else stand.base
    about = OfRival(line.index)
    marks: list[Mark] = [Rect(Box(0.0, top, frame.room.right, top + line.height * size), p.panel, about, 0.0)]
    turned = row is not None and stand.same_conclusion(row) is False
    faint = row is not None and (standing.is_waiting or bool(row.why))
    ink = p.soft_ink if faint else p.ink
    bold = Weight.BOLD if row is None else Weight.NORMAL
    marks.append(Text(name, (1.0 if row is None else 2.0) * size, baseline, size, ink, about, bold, whole=cut))
    if turned:
        marks.append(_pennant(look, 0.62 * size, middle))
    marks += _drawn(look, frame, row, standing, middle, about)
    for k, (end, text) in enumerate(zip(columns.ends, line.cells)):
        if end is None or not text:
            continue
        heavy = k == 0 or (k == 2 and turned)
        hue = p.amber_ink if k == 2 and turned else p.soft_ink if faint or k == 3 else p.ink
        x = end - text_width(text, size, heavy)
        weight = Weight.BOLD if heavy else Weight.NORMAL
        marks.append(Text(text, x, baseline, size, hue, about, weight))
    return marks


def _drawn(look: Look, frame: Frame, row: Row | None, standing: Standing, middle: float, about: OfRival) -> list[Mark]:
    """The intervals of a row, or what stands in their place."""
    size, p = look.text, look.palette
    left = frame.area.left
    if row is not None and (row.why or standing.is_waiting or (not row.has_units and standing.test is None)):
        room, t = frame.area.width - 0.4 * size, t_text(standing)
        if not row.has_units and not row.why:
            text = f"{OTHER_UNITS}: {t}" if t else OTHER_UNITS
            text = t if t and text_width(text, look.small) > room else text
        else:
            text = "being resampled" if standing.is_waiting else why_text(standing)
        shown = fitted_names([text], room, look.small)[0]
        at = middle + (ASCENT - DESCENT) / 2 * look.small
        cut = text if shown != text else ""
        return _on_ground(look, Text(shown, left + 0.2 * size, at, look.small, p.soft_ink, about, whole=cut))
    if row is not None and row.range is not None:
        return _range_marks(look, frame, row, middle, about)
    marks: list[Mark] = []
    count = len(standing.columns)
    if row is not None and not row.has_units:
        shown = fitted_names([OTHER_UNITS], frame.area.width, look.small)[0]
        at = middle + (ASCENT - DESCENT) / 2 * look.small
        return _on_ground(look, Text(shown, left + 0.2 * size, at, look.small, p.soft_ink, about))
    for i, one in enumerate(standing.columns):
        y = middle + (i - (count - 1) / 2) * APART * size
        if not math.isfinite(one.b):
            continue
        heavy = 2.4 if row is None else 1.3
        if math.isfinite(one.low):
            marks += _interval(look, frame, one.low, one.high, y, look.ink(p.ink, heavy), about)
        x = float(frame.at_x(one.b))
        if frame.area.left - 1 <= x <= frame.area.right + 1:
            small = 0.42 if count > 1 else 0.62
            marks.append(
                Points(
                    np.array([[x, y]]),
                    Shape.CIRCLE,
                    small * size * (1.15 if row is None else 1.0),
                    fill(look, p.ink, one.low, one.high),
                    about,
                    edge=look.ink(p.ink, 1.2),
                )
            )
    return marks


def _on_ground(look: Look, text: Text) -> list[Mark]:
    """A text that hides the lines behind it."""
    return [Rect(text.box, look.palette.panel, Part.GROUND), text]


def _interval(look: Look, frame: Frame, low: float, high: float, y: float, ink: Ink, about: OfRival) -> list[Mark]:
    """A bar, and a wedge where it runs beyond the scale."""
    area = frame.area
    x0, x1 = float(frame.at_x(low)), float(frame.at_x(high))
    if x1 < area.left or x0 > area.right:
        return []
    begin, end = max(x0, area.left), min(x1, area.right)
    marks: list[Mark] = [Line(np.array([[begin, y], [end, y]]), ink, about)]
    reach = look.of(4)
    for beyond, x, sign in ((x0 < area.left - 0.5, begin, 1.0), (x1 > area.right + 0.5, end, -1.0)):
        if beyond:
            wedge = np.array([[x, y], [x + sign * reach, y - reach * 0.7], [x + sign * reach, y + reach * 0.7]])
            marks.append(Area(wedge, ink.colour, 1.0, about))
    return marks


def _range_marks(look: Look, frame: Frame, row: Row, middle: float, about: OfRival) -> list[Mark]:
    """Least and most of b without any one case as a box, the outermost ends of the intervals as a thin bar."""
    found = row.range
    assert found is not None
    if not math.isfinite(found.low):
        return []
    p, half = look.palette, look.of(4.2)
    marks = _interval(look, frame, found.least, found.most, middle, look.ink(p.soft_ink, 1.0), about)
    x0, x1 = (float(x) for x in frame.at_x(np.array([found.low, found.high])))
    box = Box(
        min(x0, (x0 + x1) / 2 - look.of(1.5)), middle - half, max(x1, (x0 + x1) / 2 + look.of(1.5)), middle + half
    )
    marks.append(Rect(box, p.panel, about, 1.0, look.ink(p.ink, 1.2), look.of(2)))
    return marks


def _pennant(look: Look, x: float, y: float) -> Mark:
    """The mark of a changed conclusion, in the gutter."""
    half = look.of(4)
    points = np.array([[x - half / 2, y - half], [x + half, y - half / 4], [x - half / 2, y + half / 2]])
    return Area(points, look.palette.yellow, 1.0, Part.NOTE, edge=look.ink(look.palette.amber_ink, 0.9))


def small_stand(stand: Stand, look: Look, width: float, height: float) -> Page:
    """The product and its rivals as bars alone, for a plot beside others."""
    room = Box(0.0, 0.0, width, height)
    low, high = _spanned(stand)
    area = Box(look.of(6), look.of(5), width - look.of(6), height - look.of(4))
    frame = Frame(area, (low, high), (0, 1), Pane.RIVALS, room)
    marks: list[Mark] = [ground(look, room)]
    x0 = float(frame.at_x(0.0))
    zero = np.array([[x0, frame.area.top], [x0, frame.area.bottom]])
    marks.append(Line(zero, look.ink(look.palette.line, 1.2), Part.ZERO))
    drawn = [(None, stand.base), *((row, row.standing) for row in stand.rows if row.has_units and row.standing.columns)]
    each = frame.area.height / max(1, len(drawn))
    for i, (row, standing) in enumerate(drawn):
        middle = frame.area.top + (i + 0.5) * each
        count = len(standing.columns)
        for k, one in enumerate(standing.columns):
            if not math.isfinite(one.b):
                continue
            y = middle + (k - (count - 1) / 2) * each / (count + 1)
            about = OfRival(-1 if row is None else stand.rows.index(row))
            if math.isfinite(one.low):
                heavy = 1.9 if row is None else 1.0
                marks += _interval(look, frame, one.low, one.high, y, look.ink(look.palette.ink, heavy), about)
            point = frame.at([one.b], [0.0])
            point[0, 1] = y
            hue = fill(look, look.palette.ink, one.low, one.high)
            size = min(look.of(4), each / count)
            edge = look.ink(look.palette.ink, 0.8)
            marks.append(Points(point, Shape.CIRCLE, size, hue, about, edge=edge, clip=frame.area))
    return page_of(width, height, [Plot((frame,), tuple(marks))])
