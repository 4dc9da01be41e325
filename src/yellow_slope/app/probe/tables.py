"""Below the plots: the pick-points table and the card of regions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum, auto
from math import isnan
from typing import assert_never

from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen
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
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Apart, AtPlace, Handle, Spot
from yellow_slope.core.study.standarderrors import Bootstrap
from yellow_slope.core.words.sentences.effects import effect_decimals, near_figures
from yellow_slope.core.words.sentences.regions import band_note
from yellow_slope.core.words.spelling.numerals import fixed, interval, level_text, p_value, padded, percent, place
from yellow_slope.core.words.spelling.reasons import DASH, reason
from yellow_slope.looks import SIZES
from yellow_slope.plots.look import group_look, place_look

RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
LONGEST_CHOICE = 40
"""Characters of each of the two sides of a comparison in the chip, beside that of their variable."""
TIGHT, TIGHT_CARD = 620, 350
"""Below these widths table and card use their shortest words."""


class EffectColumn(Enum):
    """What the table of effects tells, from left to right."""

    EFFECT = auto()
    INTERVAL = auto()
    SE = auto()
    T = auto()
    P = auto()
    HOLM = auto()
    CASES = auto()

    @property
    def least(self) -> int:
        """The least width, in pixels."""
        match self:
            case EffectColumn.INTERVAL:
                return 96
            case EffectColumn.EFFECT | EffectColumn.P | EffectColumn.HOLM | EffectColumn.T:
                return 54
            case EffectColumn.SE | EffectColumn.CASES:
                return 46
            case _:
                assert_never(self)

    def title(self, probed: Probed, tight: bool) -> str:
        """What stands above it."""
        match self:
            case EffectColumn.EFFECT:
                return "slope" if isinstance(probed.focal, NumberBasis) else "difference"
            case EffectColumn.INTERVAL:
                return f"{level_text(probed.level)} CI"
            case EffectColumn.SE:
                return "SE"
            case EffectColumn.T:
                return f"t({probed.fit.steps[probed.step].inference.df})"
            case EffectColumn.P:
                return "p"
            case EffectColumn.HOLM:
                return "p Holm"
            case EffectColumn.CASES:
                return ("near" if tight else "cases near") if isinstance(probed.moderator, NumberBasis) else "cases"
            case _:
                assert_never(self)

    def text(self, row: EffectRow, most: int) -> str:
        """What it says of an effect; a dash where there is no such number. most: the decimals that the column has room
        for."""
        e = row.effect
        if self is EffectColumn.CASES:
            return row.near
        if self is EffectColumn.HOLM:
            return "" if row.p_holm is None else DASH if isnan(row.p_holm) else p_value(row.p_holm)
        if not e.exists or (e.why is not None and self is not EffectColumn.EFFECT):
            return DASH
        decimals = effect_decimals(e)
        room = max(0, most - decimals)
        match self:
            case EffectColumn.EFFECT:
                return padded(fixed(e.effect, decimals), room)
            case EffectColumn.INTERVAL:
                return padded(interval(e.low, e.high, decimals), room)
            case EffectColumn.SE:
                return padded(fixed(e.se, decimals), room)
            case EffectColumn.T:
                return fixed(e.t, 2)
            case EffectColumn.P:
                return p_value(e.p)
            case _:
                assert_never(self)


@dataclass(frozen=True, slots=True)
class EffectRow:
    """One row: what stands at the left, the effect, and the cases near."""

    value: str
    name: str
    effect: ConditionalEffect
    near: str
    line: int | None
    """Which line of the interaction plot it belongs to."""
    spot: Spot
    """What choosing it makes the chosen place."""
    cases: str = ""
    """The cases near in words, where several groups are compared."""
    short: str = ""
    """The name where there is less room."""
    p_holm: float | None = None
    """Holm's adjusted p of a difference that is one of a family."""


def columns_of(rows: Sequence[EffectRow]) -> list[EffectColumn]:
    """The columns that these rows fill."""
    holm = any(row.p_holm is not None for row in rows)
    return [column for column in EffectColumn if holm or column is not EffectColumn.HOLM]


def effect_rows(session: StudySession) -> list[EffectRow]:
    """The rows of the table: the handle first, then pick points; or levels, then differences between them."""
    sight, read = session.sight(), session.effects()
    if sight is None or read is None:
        return []
    probed, found = sight.probed, sight.focus
    lines = isinstance(probed.focal, NumberBasis) and not probed.by_itself
    rows: list[EffectRow] = []
    if isinstance(probed.moderator, NumberBasis):
        assert found.curve is not None
        here, near = place(sight.handle, probed.moderator.sd), found.support.near(sight.handle)
        effect = found.curve.at(sight.handle)
        rows.append(EffectRow(here, "handle", effect, near_figures(near), None, Handle(), read.near(near)))
    for i, (where, effect, near) in enumerate(zip(probed.places, found.effects, found.near)):
        value = ""
        if isinstance(where, NumberPlace) and isinstance(probed.moderator, NumberBasis):
            value = place(where.value, probed.moderator.sd)
        name, short = read.place_name(i) or read.what(sight.seen.focus), read.place_name(i, short=True)
        line, figures = i if lines else None, near_figures(near)
        rows.append(EffectRow(value, name, effect, figures, line, AtPlace(i), read.near(near), short))
    apart = found.differences if isinstance(probed.moderator, GroupBasis) else ()
    family = any(not isnan(d.p_holm) for d in apart)
    for i, d in enumerate(apart):
        name = f"{read.place_name(d.of)} minus {read.place_name(d.minus)}"
        rows.append(EffectRow("", name, d.effect, "", None, Apart(i), p_holm=d.p_holm if family else None))
    return rows


class EffectTable(Follows, PaintedRows):
    """“worry at | slope | 95% CI | SE | t | p | cases near”."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__("Conditional effects at the handle and at pick points", SIZES.row, SIZES.row, parent)
        self.session = session
        self.setToolTip("Choose a row to read it in words below")
        self.setMinimumHeight(5 * SIZES.row + 2)
        self._key: object = None
        self._rows: list[EffectRow] = []
        self.follow(session, Topic.RESULTS, Topic.SEEN, Topic.THEME)

    def rows(self) -> list[EffectRow]:
        """What the table shows."""
        key = (self.session.view, self.session.desk.seen)
        if key != self._key:
            self._key, self._rows = key, effect_rows(self.session)
        return self._rows

    def renew(self) -> None:
        self.fit_scroll()

    def whole_height(self) -> int:
        """Height of all rows together."""
        return len(self.rows()) * SIZES.row

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self.viewport()), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        probed = self.session.probed()
        if probed is None or self.session.study is None:
            return
        width = self.viewport().width()
        study = self.session.view.study if self.session.view else self.session.study
        number = isinstance(probed.moderator, NumberBasis)
        moderator = study.variable(probed.moderator.variable).label
        rows = self.rows()
        still = [row.effect for row in rows if not isinstance(row.spot, Handle) and row.effect.exists]
        most = max((effect_decimals(e) for e in still), default=2)  # what moves the handle moves no column
        columns = columns_of(rows)
        titles = [column.title(probed, width < TIGHT) for column in columns]
        cells = [[column.text(row, most) for column in columns] for row in rows]
        widths = self._widths(columns, titles, cells)
        x = width - sum(widths)
        painter.setPen(colour(p.soft_ink))
        painter.setFont(font(12))
        head = f"{moderator} at" if number else moderator
        head = QFontMetrics(painter.font()).elidedText(head, Qt.TextElideMode.ElideRight, x - 12)
        painter.drawText(QRectF(4, 0, x, SIZES.row), LEFT, head)
        for column, title, w in zip(columns, titles, widths):
            painter.setFont(font(12, italic=column is EffectColumn.P))
            painter.drawText(QRectF(x, 0, w - 8, SIZES.row), RIGHT, title)
            x += w
        painter.setPen(QPen(colour(p.soft_ink, 0.6), 1))
        painter.drawLine(0, SIZES.row - 1, width, SIZES.row - 1)
        painter.setClipRect(0, SIZES.row, width, self.viewport().height())
        for i, (row, texts) in enumerate(zip(rows, cells)):
            if not 0 <= self.row_top(i) < self.viewport().height():
                continue
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
        if row.line is not None:
            looked = place_look(row.line, len(probed.places), p) if number else group_look(row.line, p)
            pen = QPen(colour(looked.colour), 2.2)
            if looked.dash:
                pen.setDashPattern(list(looked.dash))
            painter.setPen(pen)
            painter.drawLine(QPointF(6, top + SIZES.row / 2), QPointF(32, top + SIZES.row / 2))
        painter.setPen(colour(p.ink))
        painter.setFont(font(12))
        x = width - sum(wide for _, _, wide in cells)
        left = 38
        if number:
            painter.drawText(QRectF(36, top, 46, SIZES.row), RIGHT, row.value)
            left = 90
        metrics, room = QFontMetrics(painter.font()), int(x - left - 4)
        fits = metrics.horizontalAdvance(row.name) <= room
        name = row.name if fits else row.short or row.name
        name = metrics.elidedText(name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(left, top, x - left, SIZES.row), LEFT, name)
        for column, text, w in cells:
            painter.setFont(font(12, "bold" if column is EffectColumn.EFFECT else "normal"))
            painter.drawText(QRectF(x, top, w - 8, SIZES.row), RIGHT, text)
            x += w

    def _widths(self, columns: list[EffectColumn], titles: list[str], cells: list[list[str]]) -> list[int]:
        """Each column at least as wide as its texts."""
        metrics = QFontMetrics(font(12, "bold"))
        widths: list[int] = []
        for k, column in enumerate(columns):
            texts = [titles[k], *(texts[k] for texts in cells)]
            widths.append(max(column.least, *(metrics.horizontalAdvance(text) + 14 for text in texts)))
        return widths

    def choose(self, index: int) -> None:
        """Choose a row."""
        rows = self.rows()
        if 0 <= index < len(rows):
            self.session.see(place=rows[index].spot)

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


@dataclass(frozen=True, slots=True)
class RegionLine:
    """A region in the card: its bounds, what it says, and the cases that live there; each with a shorter form."""

    bounds: str
    words: str
    cases: str
    is_told: bool
    """Whether the effect is told apart from 0 in it."""
    short_bounds: str
    short_cases: str

    @property
    def text(self) -> str:
        """All of it."""
        return f"{self.bounds} {self.words} {self.cases}"


class RegionCard(Follows, QWidget):
    """Regions with their words and cases; for a group moderator the joint test."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setAccessibleName("Region of significance")
        self.setToolTip("Where along the moderator the effect is told apart from zero, and how many cases live there")
        self._seen: object = None
        self._lines: list[RegionLine] = []
        self._notes: list[str] = []
        self.follow(session, Topic.RESULTS, Topic.SEEN, Topic.THEME)

    def lines(self) -> list[RegionLine]:
        """A line for each region within the observed range."""
        sight, read = self.session.sight(), self.session.effects()
        if sight is None or read is None or sight.focus.regions is None:
            return []
        slope, found = isinstance(sight.probed.focal, NumberBasis), list[RegionLine]()
        for region in sight.focus.regions.within:
            share = percent(region.share) if slope else near_figures(region.cases)
            found.append(
                RegionLine(
                    read.bounds(region.low, region.high),
                    read.region(sight.seen.focus, region.sign),
                    f"{region.n:,} cases ({share})",
                    region.sign != 0,
                    read.bounds(region.low, region.high, short=True),
                    f"{region.n:,} ({share})",
                )
            )
        return found

    def notes(self) -> list[str]:
        """The tests by their names, where the lines meet, boundaries outside the data."""
        sight, read = self.session.sight(), self.session.effects()
        if sight is None or read is None:
            return []
        probed, focus = sight.probed, sight.seen.focus
        said = [*([read.caveat()] if read.caveat() else []), *read.tests(focus)]
        if isinstance(probed.model.errors, Bootstrap) and isinstance(probed.moderator, NumberBasis):
            kind = "classical" if probed.model.errors.cluster is None else "clustered"
            said.append(f"band and region by {kind} standard errors, the table by resamples")
        if sight.focus.regions is not None:
            said.append(band_note(sight.focus.regions, probed.level))
        said += [read.crossing(), read.crossing_set(), read.not_drawn(), read.outside(focus)]
        return [text for text in said if text]

    def cases(self) -> list[str]:
        """The cases of each region, of every group that is compared; empty for a slope."""
        sight, read = self.session.sight(), self.session.effects()
        if sight is None or read is None or sight.focus.regions is None or isinstance(sight.probed.focal, NumberBasis):
            return []
        return [f"{read.bounds(r.low, r.high)}: {read.near(r.cases)}" for r in sight.focus.regions.within]

    def renew(self) -> None:
        probed, desk = self.session.probed(), self.session.desk
        key = (self.session.view, desk.seen.panel, desk.seen.focus, desk.dark)
        if probed is None or key == self._seen:
            return
        self._seen = key
        self._lines, self._notes = self.lines(), self.notes()
        told = [*(line.text for line in self._lines), *self.cases(), *self._notes]
        self.setAccessibleDescription("; ".join(told))
        self.setToolTip("\n".join(told))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        probed = self.session.probed()
        if probed is None:
            return
        width = self.width()
        painter.setFont(font(12, "bold"))
        painter.setPen(colour(p.ink))
        lines = self._lines
        title = "Region of significance" if lines else "Is it an interaction?"
        painter.drawText(QRectF(4, 0, width, SIZES.row), LEFT, title)
        painter.setPen(QPen(colour(p.soft_ink, 0.6), 1))
        painter.drawLine(0, SIZES.row - 1, width, SIZES.row - 1)
        top = SIZES.row + 2
        for line in lines:
            bounds = line.short_bounds if width < TIGHT_CARD else line.bounds
            words, cases = line.words, line.cases
            if line.is_told:
                painter.fillRect(QRectF(0, top + 2, 3, SIZES.row - 4), colour(p.yellow))
            painter.setPen(colour(p.ink))
            painter.setFont(font(12, "bold"))
            painter.drawText(QRectF(10, top, width, SIZES.row), LEFT, bounds)
            wide = max(112, QFontMetrics(font(12, "bold")).horizontalAdvance(bounds) + 20)
            painter.setFont(font(12))
            metrics = QFontMetrics(painter.font())
            if wide + metrics.horizontalAdvance(words) + metrics.horizontalAdvance(cases) + 10 > width:
                cases = line.short_cases
            room = int(width - wide - metrics.horizontalAdvance(cases) - 8)
            words = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QRectF(wide, top, width, SIZES.row), LEFT, words)
            painter.setPen(colour(p.soft_ink))
            painter.drawText(QRectF(0, top, width - 2, SIZES.row), RIGHT, cases)
            top += SIZES.row
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        for note, tall in self._fitting(top):
            painter.drawText(QRectF(4, top + 1, width - 6, tall), Qt.TextFlag.TextWordWrap, note)
            top += tall + 3

    def _fitting(self, top: float) -> list[tuple[str, int]]:
        """The notes that have room below, each with its height; where some have none, their number stands last."""
        metrics, width = QFontMetrics(font(12)), self.width() - 6

        def height_of(text: str) -> int:
            return metrics.boundingRect(QRect(0, 0, width, 1000), Qt.TextFlag.TextWordWrap, text).height() + 3

        heights = [height_of(note) for note in self._notes]
        room = self.height() - top
        n = len(heights)
        while n and sum(heights[:n]) + (height_of("and 1 more") if n < len(heights) else 0) > room:
            n -= 1
        shown = [(note, height - 3) for note, height in zip(self._notes[:n], heights)]
        left = len(heights) - n
        return [*shown, (f"and {left} more: point here", height_of("and 1 more") - 3)] if left else shown


def comparison_choices(session: StudySession) -> list[tuple[int, str]]:
    """The comparisons of a group focal predictor, to choose from."""
    read = session.effects()
    if read is None or not isinstance(read.probed.focal, GroupBasis):
        return []
    return [(i, read.focus_name(i, LONGEST_CHOICE)) for i in range(len(read.shown.foci))]
