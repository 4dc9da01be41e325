"""Below the plots: the pick-points table and the card of regions."""

from __future__ import annotations

from collections.abc import Sequence
from math import isnan
from typing import assert_never

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen, QRegion
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.paintedrows import PaintedRows
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.places import NumberPlace, Point
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Across, Apart, AtPlace, Handle, InPanel, Sight, Spot
from yellow_slope.core.probe.support import Near
from yellow_slope.core.told.cells import Role
from yellow_slope.core.told.effects import EffectColumn, ToldEffect, cases_of
from yellow_slope.core.words.names.numbers import scale_name
from yellow_slope.core.words.sentences.effects import EffectReader, decimals_below, most_decimals
from yellow_slope.core.words.spelling.numerals import padded, place
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.looks import SIZES
from yellow_slope.plots.curves import panel_look, panel_name
from yellow_slope.plots.look import LineLook, group_look, place_look
from yellow_slope.plots.marks import About, OfDifference, OfLine, OfPanel, OfPlace
from yellow_slope.values import dataclass, replace

RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
LONGEST_CHOICE = 40
"""Characters of each of the two sides of a comparison in the chip, beside that of their variable."""
TIGHT = 620
"""Below this width the table uses its shortest words."""
LEAST_NAMES = 180
"""Pixels that the names of rows have at least, before columns go."""
SAMPLE = 38
"""Pixels that samples of lines take before the names."""


def least_width(column: EffectColumn) -> int:
    """The least width of a column, in pixels."""
    match column:
        case EffectColumn.INTERVAL:
            return 96
        case EffectColumn.EFFECT | EffectColumn.P | EffectColumn.HOLM | EffectColumn.T:
            return 54
        case EffectColumn.SE | EffectColumn.CASES:
            return 46
        case _:
            assert_never(column)


def text_of(column: EffectColumn, row: EffectRow, most: int) -> str:
    """What a column says of an effect; most: the decimals that it has room for."""
    cell = column.cell(row.told, most)
    if cell.role not in (Role.ESTIMATE, Role.INTERVAL) or not cell.numbers:
        return cell.text
    return padded(cell.text, max(0, most - decimals_below(row.effect, most)))


@dataclass(frozen=True, slots=True)
class EffectRow:
    """One row: what stands at the left, the effect, and the cases near."""

    value: str
    name: str
    told: ToldEffect
    line: int | None
    """Which line of the interaction plot it belongs to."""
    spot: Spot
    """What choosing it makes the chosen place."""
    cases: str = ""
    """The cases near in words, where several groups are compared."""
    short: str = ""
    """The name where there is less room."""
    panel: int | None = None
    """The panel in whose look it stands."""
    is_alone: bool = False
    """Whether no case is near, or the place lies outside the data."""

    @property
    def effect(self) -> ConditionalEffect:
        """The effect that it tells of."""
        return self.told.effect


def columns_of(rows: Sequence[EffectRow], width: float = 1000) -> list[EffectColumn]:
    """The columns that these rows fill; in a narrow table without those that the foot tells of the chosen row."""
    holm = any(row.told.p_holm is not None for row in rows)
    found = [column for column in EffectColumn if holm or column is not EffectColumn.HOLM]
    for column in (EffectColumn.SE, EffectColumn.T, EffectColumn.CASES):
        if width - sum(least_width(c) for c in found) < LEAST_NAMES:
            found.remove(column)
    return found


def handle_rows(sight: Sight, read: EffectReader) -> list[EffectRow]:
    """The effect where the handle stands; none of a group moderator."""
    probed, found = sight.probed, sight.focus
    if not isinstance(probed.moderator, NumberBasis):
        return []
    assert found.curve is not None
    handle = Sight(probed, replace(sight.seen, place=Handle()))
    here, near, curve = place(sight.handle, probed.moderator.sd), handle.near(), handle.curve
    effect = (curve or found.curve).at(sight.handle)
    name = "handle"
    if handle.second is not None and probed.second is not None:
        name = f"handle, {EffectReader(read.study, probed, read.panel, handle.second).second_name()}"
    return [EffectRow(here, name, ToldEffect(effect, cases_of(near)), None, Handle(), read.near(near), "handle")]


def still_rows(sight: Sight, read: EffectReader) -> list[EffectRow]:
    """The effects at pick points or in levels."""
    probed, found = sight.probed, sight.focus
    lines = isinstance(probed.focal, NumberBasis) and not probed.by_itself
    rows: list[EffectRow] = []
    for i, (where, effect, near) in enumerate(zip(probed.places, found.effects, found.near)):
        value = ""
        if isinstance(where, NumberPlace) and isinstance(probed.moderator, NumberBasis):
            value = place(where.value, probed.moderator.sd)
        name, short = read.place_name(i) or read.what(sight.seen.focus), read.place_name(i, short=True)
        line, told = i if lines else None, ToldEffect(effect, cases_of(near))
        alone = isinstance(where, NumberPlace) and is_alone(probed, where.value, near)
        rows.append(EffectRow(value, name, told, line, AtPlace(i), read.near(near), short, is_alone=alone))
    return rows


def apart_rows(sight: Sight, read: EffectReader) -> list[EffectRow]:
    """The differences between places, and between places of both moderators."""
    probed, rows = sight.probed, list[EffectRow]()
    apart = sight.focus.differences if isinstance(probed.moderator, GroupBasis) else ()
    family = any(not isnan(d.p_holm) for d in apart)
    for i, d in enumerate(apart):
        name = f"{read.place_name(d.of)} minus {read.place_name(d.minus)}"
        rows.append(EffectRow("", name, ToldEffect(d.effect, p_holm=d.p_holm if family else None), None, Apart(i)))
    if sight.seen.focus < len(probed.across):
        for i, x in enumerate(probed.across[sight.seen.focus]):
            name = _across_text(sight, read, x.of, x.minus)
            rows.append(EffectRow("", name, ToldEffect(x.effect, p_holm=x.p_holm), None, Across(i)))
    return rows


def is_alone(probed: Probed, value: float, near: Sequence[Near]) -> bool:
    """Whether a place lies outside the data, or a side that is compared has no case near it."""
    moderator = probed.moderator
    assert isinstance(moderator, NumberBasis)
    return not moderator.low <= value <= moderator.high or not all(one.cases for one in near)


def other_panels(sight: Sight, read: EffectReader) -> list[EffectRow]:
    """The effect at the handle's place in the other panels."""
    probed, found = sight.probed, list[EffectRow]()
    if len(probed.panels) < 2 or not isinstance(probed.moderator, NumberBasis):
        return []
    for k, panel in enumerate(probed.panels):
        focus = panel.foci[sight.seen.focus]
        if k == sight.seen.panel or focus.curve is None:
            continue
        near = focus.support.near(sight.handle)
        name = panel_name(read.study, sight, k)
        at = place(sight.handle, probed.moderator.sd)
        told = ToldEffect(focus.curve.at(sight.handle), cases_of(near))
        found.append(EffectRow(at, name, told, None, InPanel(k), panel=k))
    return found


def _across_text(sight: Sight, read: EffectReader, of: tuple[int, int], minus: tuple[int, int]) -> str:
    """“high − low, one-to-one”, “one-to-one − none, at high”, “high in one-to-one − low in none”."""
    (panel, at), (other_panel, other_at) = of, minus
    panels = [panel_name(read.study, sight, k) for k in (panel, other_panel)]
    places = [_place_text(sight, read, i) for i in (at, other_at)]
    if panel == other_panel:
        return f"{places[0]} − {places[1]}, {panels[0]}"
    if at == other_at:
        return f"{panels[0]} − {panels[1]}, at {places[0]}"
    return f"{places[0]}, {panels[0]} − {places[1]}, {panels[1]}"


def _place_text(sight: Sight, read: EffectReader, index: int) -> str:
    where, moderator = sight.probed.places[index], sight.probed.moderator
    if isinstance(where, NumberPlace) and where.point in (Point.OWN, Point.OBSERVED):
        assert isinstance(moderator, NumberBasis)
        return place(where.value, moderator.sd)
    return read.place_name(index, short=True)


class EffectTable(Follows, PaintedRows):
    """“worry at | slope | 95% CI | SE | t | p | cases near”."""

    lights = pyqtSignal(object)
    """What in the plots the row under the mouse belongs to: a tuple."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__("Conditional effects at the handle and at pick points", SIZES.row, SIZES.row, parent)
        self.session = session
        self.setToolTip("Choose a row to read it in words below")
        self.setMinimumHeight(5 * SIZES.row + 2)
        self._key: object = None
        self._rows: list[EffectRow] = []
        self._lit: EffectRow | None = None
        self._laid: tuple[list[EffectRow], int, tuple[list[EffectColumn], list[str], list[int], int]] | None = None
        self._drawn_key: object = None
        self._drawn: object = None
        self._still_key: object = None
        self._still: tuple[list[EffectRow], list[EffectRow]] = ([], [])
        self._texts: dict[tuple[int, tuple[EffectColumn, ...], int], list[str]] = {}
        viewport = self.viewport()
        if viewport is not None:
            viewport.setMouseTracking(True)
        self.setMouseTracking(True)
        self.follow(session, Topic.RESULTS, Topic.SEEN, Topic.THEME)

    def rows(self) -> list[EffectRow]:
        """What the table shows."""
        key = (self.session.view, self.session.desk.seen)
        if key != self._key:
            self._key, self._rows = key, self._newest()
        return self._rows

    def _newest(self) -> list[EffectRow]:
        """The rows; those that the handle does not move are made once for what is seen."""
        sight, read = self.session.sight(), self.session.effects()
        if sight is None or read is None:
            return []
        key = (self.session.view, sight.seen.panel, sight.seen.focus)
        if key != self._still_key:
            plain = EffectReader(read.study, read.probed, read.panel)
            self._still_key, self._texts = key, {}
            self._still = still_rows(sight, plain), apart_rows(sight, plain)
        still, apart = self._still
        return [*handle_rows(sight, read), *still, *other_panels(sight, read), *apart]

    def _cells(self, row: EffectRow, columns: Sequence[EffectColumn], most: int) -> list[str]:
        """What the columns say of a row; of one that the handle does not move it is kept."""
        kept = not isinstance(row.spot, Handle | InPanel)
        key = (id(row), tuple(columns), most)
        if kept and key in self._texts:
            return self._texts[key]
        found = [text_of(column, row, most) for column in columns]
        if kept:
            self._texts[key] = found
        return found

    def renew(self) -> None:
        """Draw what is new: while the handle is moved only the rows that it moves."""
        sight = self.session.sight()
        if sight is None:
            self.fit_scroll()
            return
        seen, rows = sight.seen, self.rows()
        key = (self.session.view, seen.panel, seen.focus, seen.place, self.session.desk.dark, len(rows))
        laid = self._laid_out(sight.probed, rows)
        if key != self._drawn_key or laid != self._drawn:
            self._drawn_key, self._drawn = key, laid
            self.fit_scroll()
            return
        viewport = self.viewport()
        for i, row in enumerate(rows):
            if isinstance(row.spot, Handle | InPanel) and viewport is not None:
                viewport.update(0, self.row_top(i), viewport.width(), SIZES.row)

    def _laid_out(self, probed: Probed, rows: list[EffectRow]) -> tuple[list[EffectColumn], list[str], list[int], int]:
        """The columns with their titles and widths, and the decimals they have room for; made once for rows and
        width."""
        width = self.viewport().width()
        if self._laid is not None and self._laid[0] is rows and self._laid[1] == width:
            return self._laid[2]
        moved = (Handle, InPanel)
        still = [row.effect for row in rows if not isinstance(row.spot, moved) and row.effect.exists]
        most = most_decimals(still)  # what moves the handle moves no column
        columns = columns_of(rows, width)
        titles = [column.head(probed, width < TIGHT) for column in columns]
        cells = [self._cells(row, columns, most) for row in rows]
        found = columns, titles, self._widths(columns, titles, cells), most
        self._laid = rows, width, found
        return found

    def whole_height(self) -> int:
        """Height of all rows together."""
        return len(self.rows()) * SIZES.row

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self.viewport()), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        probed = self.session.probed()
        if probed is None:
            return
        width = self.viewport().width()
        study = self.session.view.study if self.session.view else self.session.study
        basis = probed.moderator
        number = isinstance(basis, NumberBasis)
        moderator = scale_name(study, basis) if isinstance(basis, NumberBasis) else study.variable(basis.variable).label
        rows = self.rows()
        columns, titles, widths, most = self._laid_out(probed, rows)
        new = event.region() if event is not None else QRegion(self.viewport().rect())
        x = width - sum(widths)
        painter.setPen(colour(p.soft_ink))
        painter.setFont(font(12))
        head = f"{moderator} at" if number else moderator
        sight = Sight.of(probed, self.session.desk.seen)
        where = panel_name(study, sight, sight.seen.panel)
        head = f"{head}, {where}" if where else head
        head = QFontMetrics(painter.font()).elidedText(head, Qt.TextElideMode.ElideRight, x - 12)
        painter.drawText(QRectF(4, 0, x, SIZES.row), LEFT, head)
        for column, title, w in zip(columns, titles, widths):
            painter.setFont(font(12, italic=column is EffectColumn.P))
            painter.drawText(QRectF(x, 0, w - 8, SIZES.row), RIGHT, title)
            x += w
        painter.setPen(QPen(colour(p.soft_ink, 0.6), 1))
        painter.drawLine(0, SIZES.row - 1, width, SIZES.row - 1)
        painter.setClipRect(0, SIZES.row, width, self.viewport().height())
        for i, row in enumerate(rows):
            top = self.row_top(i)
            if not 0 <= top < self.viewport().height() or not new.intersects(QRect(0, top, width, SIZES.row)):
                continue
            texts = self._cells(row, columns, most)
            self._paint_row(painter, row, self.row_top(i), probed, list(zip(columns, texts, widths)))
        painter.setClipping(False)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.drawRect(self.viewport().rect().adjusted(1, 1, -1, -1))

    def _paint_row(
        self, painter: QPainter, row: EffectRow, top: int, probed: Probed, cells: list[tuple[EffectColumn, str, int]]
    ) -> None:
        number = isinstance(probed.moderator, NumberBasis)
        p, width = theme.palette(), self.viewport().width()
        if row.spot == self.session.desk.seen.of(probed).place:
            painter.fillRect(QRectF(0, top, width, SIZES.row), colour(p.yellow, p.wash))
            painter.fillRect(QRectF(0, top, 3, SIZES.row), colour(p.yellow))
        if row == self._lit:
            painter.fillRect(QRectF(0, top, width, SIZES.row), colour(p.pressed))
        if row.line is not None or row.panel is not None:
            looked = self._look_of(row, probed)
            pen = QPen(colour(looked.colour), 2.2)
            if looked.dash:
                pen.setDashPattern(list(looked.dash))
            painter.setPen(pen)
            painter.drawLine(QPointF(6, top + SIZES.row / 2), QPointF(32, top + SIZES.row / 2))
        painter.setPen(colour(p.ink))
        painter.setFont(font(12))
        x = width - sum(wide for _, _, wide in cells)
        left = SAMPLE if any(other.line is not None or other.panel is not None for other in self.rows()) else 12
        if number and row.value:
            painter.drawText(QRectF(36, top, 46, SIZES.row), RIGHT, row.value)
            left = 90
        metrics, room = QFontMetrics(painter.font()), int(x - left - 4)
        fits = metrics.horizontalAdvance(row.name) <= room
        name = row.name if fits else row.short or row.name
        name = metrics.elidedText(name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(left, top, x - left, SIZES.row), LEFT, name)
        for column, text, w in cells:
            alone = column is EffectColumn.CASES and row.is_alone
            painter.setPen(colour(p.amber_ink if alone else p.ink))
            painter.setFont(font(12, "bold" if column is EffectColumn.EFFECT else "normal"))
            painter.drawText(QRectF(x, top, w - 8, SIZES.row), RIGHT, text)
            x += w

    def _look_of(self, row: EffectRow, probed: Probed) -> LineLook:
        """How the row's line, or its panel's curve, looks in the plots."""
        p = theme.palette()
        if row.panel is not None:
            return panel_look(Sight.of(probed, self.session.desk.seen), row.panel, p)
        if isinstance(probed.moderator, NumberBasis):
            return place_look(row.line or 0, len(probed.places), p)
        return group_look(row.line or 0, p)

    def light(self, about: About | None) -> None:
        """Light the row that belongs to what the mouse is on in the plots."""
        found = next((row for row in self.rows() if about is not None and about in self.abouts(row)), None)
        if found != self._lit:
            self._lit = found
            viewport = self.viewport()
            if viewport is not None:
                viewport.update()

    def abouts(self, row: EffectRow) -> tuple[About, ...]:
        """What in the plots a row belongs to, the nearest first."""
        probed = self.session.probed()
        match row.spot:
            case AtPlace(index):
                lines = probed.panels[self.session.desk.seen.of(probed).panel].lines if probed is not None else ()
                line = next((i for i, one in enumerate(lines) if one.place == index), None)
                return (*((OfLine(line),) if line is not None else ()), OfPlace(index))
            case Apart(index):
                return (OfDifference(index),)
            case InPanel(panel):
                return (OfPanel(panel),)
        return ()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        super().mouseMoveEvent(event)
        if event is None:
            return
        index = int((event.position().y() - SIZES.row + self.scrolled) // SIZES.row)
        rows = self.rows()
        row = rows[index] if 0 <= index < len(rows) and event.position().y() > SIZES.row else None
        found = self.abouts(row) if row is not None else ()
        if row != self._lit:
            self._lit = row if found else None
            self.lights.emit(found)
            viewport = self.viewport()
            if viewport is not None:
                viewport.update()

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        self._lit = None
        self.lights.emit(())

    def _widths(self, columns: list[EffectColumn], titles: list[str], cells: list[list[str]]) -> list[int]:
        """Each column at least as wide as its texts."""
        metrics = QFontMetrics(font(12, "bold"))
        widths: list[int] = []
        for k, column in enumerate(columns):
            # Digits are all as wide as each other, so that the longest text is the widest.
            longest = sorted({titles[k], *(texts[k] for texts in cells)}, key=len)[-3:]
            widths.append(max(least_width(column), *(metrics.horizontalAdvance(text) + 14 for text in longest)))
        return widths

    def choose(self, index: int) -> None:
        """Choose a row."""
        rows = self.rows()
        if not 0 <= index < len(rows):
            return
        spot = rows[index].spot
        if isinstance(spot, InPanel):
            self.session.see(panel=spot.panel, place=Handle())
        else:
            self.session.see(place=spot)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            y = event.position().y() - SIZES.row + self.scrolled
            if event.position().y() > SIZES.row:
                self.choose(int(y // SIZES.row))

    def tip_at(self, position: QPoint) -> str:
        """Why a row has no number; else how to use the table."""
        index = (position.y() - SIZES.row + self.scrolled) // SIZES.row
        rows = self.rows()
        if not 0 <= index < len(rows):
            return self.toolTip()
        row = rows[index]
        said = [f"{row.name}: {reason(row.effect.why)}" if row.effect.why is not None else ""]
        said.append(f"Cases near: {row.cases}" if row.cases else "")
        return "\n".join(text for text in said if text) or self.toolTip()

    @action("choose the effect above", "Go to the row above", "Up", scope=Scope.EFFECTS)
    def up(self) -> None:
        """Go to the row above."""
        self._step(-1)

    @action("choose the effect below", "Go to the row below", "Down", scope=Scope.EFFECTS)
    def down(self) -> None:
        """Go to the row below."""
        self._step(1)

    def _step(self, by: int) -> None:
        rows = self.rows()
        probed = self.session.probed()
        chosen = self.session.desk.seen.of(probed).place if probed is not None else Handle()
        now = next((i for i, r in enumerate(rows) if r.spot == chosen), -1)
        to = max(0, min(len(rows) - 1, now + by))
        self.choose(to)
        self.show_row(to)


def comparison_choices(session: StudySession) -> list[tuple[int, str]]:
    """The comparisons of a group focal predictor, to choose from."""
    read = session.effects()
    if read is None or not isinstance(read.probed.focal, GroupBasis):
        return []
    return [(i, read.focus_name(i, LONGEST_CHOICE)) for i in range(len(read.shown.foci))]
