"""One model per group: coefficients down, groups across, all intervals on one scale; and whether they differ."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.paintedrows import PaintedRows
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.asked.bygroup import GroupFit
from yellow_slope.core.fit.asked.lowtohigh import low_to_high
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.words.names.terms import INTERCEPT
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.spelling.numerals import bounded, counted, estimate_decimals, fixed, interval, p_relation
from yellow_slope.core.words.spelling.reasons import DASH
from yellow_slope.plots.scales import one_mark, signed

ROW, HEAD = 42, 58
NAMES, MOST_NAMES = 150, 330
GROUP, DIFFER = 158, 118
"""Least width of a group's column; width of the column of tests."""
PAD = 10
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
MIDDLE = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter


class GroupsSheet(Follows, PaintedRows):
    """Rows are the coefficients of the last step without the group's own, the intercept, and R². Arrow keys move."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__("One model per group: coefficients down, groups across", ROW, HEAD, parent)
        self.session = session
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setToolTip("One model per group: choose a cell to read what it says")
        self._scale: FloatArray = np.zeros(0)
        self._limit = 1.0
        self.follow(session, Topic.RESULTS)
        session.on(self._desk, Topic.ROW, Topic.THEME)

    # ---- state

    @property
    def read(self) -> GroupReader | None:
        """The newest models of the groups."""
        return self.session.view.groups if self.session.view is not None else None

    def renew(self) -> None:
        """Take the newest results."""
        read = self.read
        if read is not None:
            kept = [j for j, c in enumerate(read.fit.design.columns) if read.found.variable not in c.term.variables]
            self._scale = low_to_high(read.fit)[kept]
            ends = [
                abs(v)
                for group in read.found.groups
                if group.fit is not None
                for v in self._ends(group).ravel()
                if np.isfinite(v)
            ]
            self._limit = float(np.quantile(ends, 0.95)) * 1.08 if ends else 1.0
            self._limit = self._limit or 1.0
        self.fit_scroll()

    def _ends(self, group: GroupFit) -> FloatArray:
        """Shape (columns, 2): ends of the intervals on the common scale."""
        assert group.fit is not None
        step = group.fit.last
        return np.column_stack([step.low[1:] * self._scale, step.high[1:] * self._scale])

    def n_coefficients(self) -> int:
        """Rows that hold a coefficient, the intercept not counted."""
        return self._scale.size

    def rows(self) -> list[int]:
        """Columns of the groups' models, from 0; -1 for the intercept; -2 for R²."""
        read = self.read
        if read is None:
            return []
        return [*range(self.n_coefficients()), *([-1] if read.found.model.constant else []), -2]

    def _desk(self) -> None:
        chosen = self.session.desk.group_cell
        rows = self.rows()
        if chosen is not None and chosen[0] in rows:
            self.show_row(rows.index(chosen[0]))
            self._show_group(chosen[1])
        self.viewport().update()

    def _show_group(self, group: int | None) -> None:
        """Scroll as little as brings a group's column, or that of the tests, into view."""
        read, bar = self.read, self.horizontalScrollBar()
        if read is None or bar is None:
            return
        names, each = self._widths()
        n = len(read.found.groups)
        begin = each * (n if group is None else min(group, n))
        end = begin + (DIFFER if group is None else each)
        room = self.viewport().width() - names
        bar.setValue(min(begin, max(bar.value(), end - room)))

    def row_name(self, row: int) -> str:
        """What stands at the left of a row."""
        read = self.read
        if row < 0 or read is None:
            return INTERCEPT if row == -1 else "R²"
        first = next((g for g in read.found.groups if g.fit is not None), None)
        reader = read.reader(first) if first is not None else None
        return reader.column_name(row) if reader is not None else ""

    # ---- geometry

    def whole_height(self) -> int:
        return len(self.rows()) * ROW

    def _widths(self) -> tuple[int, int]:
        """Width of the names and of each group."""
        read = self.read
        n = max(1, len(read.found.groups)) if read is not None else 1
        whole = self.viewport().width()
        metrics = QFontMetrics(font(13))
        wanted = max((metrics.horizontalAdvance(self.row_name(r)) + 28 for r in self.rows()), default=NAMES)
        names = min(MOST_NAMES, max(NAMES, wanted), max(NAMES, whole - DIFFER - n * GROUP))
        return names, max(GROUP, (whole - names - DIFFER) // n)

    def fit_scroll(self) -> None:
        super().fit_scroll()
        read, bar = self.read, self.horizontalScrollBar()
        if bar is not None and read is not None:
            names, each = self._widths()
            bar.setRange(0, max(0, names + each * len(read.found.groups) + DIFFER - self.viewport().width()))
            bar.setSingleStep(each)
            bar.setPageStep(self.viewport().width())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.fit_scroll()

    def _left(self, place: int) -> int:
        """Left end of a group's column, or of the tests after the last."""
        names, each = self._widths()
        bar = self.horizontalScrollBar()
        return names + each * place - (bar.value() if bar is not None else 0)

    # ---- drawing

    def paintEvent(self, event: QPaintEvent | None) -> None:
        read = self.read
        painter, p = QPainter(self.viewport()), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.viewport().rect(), colour(p.paper))
        if read is None:
            return
        names, each = self._widths()
        groups, rows, height = read.found.groups, self.rows(), self.viewport().height()
        painter.setPen(QPen(colour(p.line), 1))
        for i in range(len(rows)):
            if self.row_top(i) + ROW > HEAD:
                painter.drawLine(0, self.row_top(i) + ROW, self.viewport().width(), self.row_top(i) + ROW)
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        painter.drawText(
            QRectF(14, 22, names - 20, 34), LEFT, f"zero points and scales\nof all {read.fit.cases.n:,} cases"
        )
        painter.setClipRect(names, 0, self.viewport().width() - names, height)
        for place, group in enumerate(groups):
            self._paint_head(painter, read, group, self._left(place), each)
            for i, row in enumerate(rows):
                top = self.row_top(i)
                if HEAD - ROW < top < height:
                    painter.save()
                    painter.setClipRect(names, HEAD, self.viewport().width() - names, height - HEAD)
                    self._paint_cell(painter, group, row, QRectF(self._left(place), top, each, ROW))
                    painter.restore()
        self._paint_tests(painter, read, rows, self._left(len(groups)), names)
        painter.setClipping(False)
        painter.setClipRect(0, HEAD, names, height - HEAD)
        chosen = self.session.desk.group_cell
        for i, row in enumerate(rows):
            top = self.row_top(i)
            painter.setPen(colour(p.soft_ink if row < 0 else p.ink))
            face = font(13, "bold" if chosen is not None and chosen[0] == row else "normal")
            painter.setFont(face)
            text = QFontMetrics(face).elidedText(self.row_name(row), Qt.TextElideMode.ElideRight, names - 24)
            painter.drawText(QRectF(14, top, names - 20, ROW), LEFT, text)
        painter.setClipping(False)
        painter.setPen(QPen(colour(p.soft_ink, 0.6), 1))
        painter.drawLine(0, HEAD - 1, self.viewport().width(), HEAD - 1)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.drawRect(QRectF(self.viewport().rect()).adjusted(1, 1, -1, -1))

    def _paint_head(self, painter: QPainter, read: GroupReader, group: GroupFit, left: int, width: int) -> None:
        p = theme.palette()
        face = font(13, "bold")
        painter.setFont(face)
        painter.setPen(colour(p.ink))
        name = QFontMetrics(face).elidedText(read.level_label(group), Qt.TextElideMode.ElideRight, width - 2 * PAD)
        painter.drawText(QRectF(left + PAD, 2, width - 2 * PAD, 20), LEFT, name)
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        painter.drawText(QRectF(left + PAD, 20, width - 2 * PAD, 18), LEFT, counted(group.n, "case"))
        mark, inner = one_mark(self._limit), width - 2 * PAD
        painter.setFont(font(11))
        for sign in (-1, 0, 1):
            x = left + PAD + inner * (sign * mark.value / self._limit + 1) / 2
            painter.drawText(QRectF(x - 30, 38, 60, 16), MIDDLE, signed(mark, sign))

    def _paint_cell(self, painter: QPainter, group: GroupFit, row: int, area: QRectF) -> None:
        p, chosen = theme.palette(), self.session.desk.group_cell
        read = self.read
        if read is not None and chosen == (row, read.found.groups.index(group)):
            painter.fillRect(area.adjusted(2, 1, -2, 0), colour(p.yellow, p.wash))
            painter.fillRect(QRectF(area.x() + 2, area.y() + 1, 3, area.height() - 1), colour(p.yellow))
        inner = area.adjusted(PAD, 0, -PAD, 0)
        painter.setFont(font(12))
        painter.setPen(colour(p.ink))
        if group.fit is None:
            painter.setPen(colour(p.amber_ink))
            if row == self.rows()[0]:
                painter.drawText(inner, MIDDLE, group.said)
            else:
                painter.drawText(inner, MIDDLE, DASH)
            return
        step = group.fit.last
        if row == -2:
            painter.drawText(inner, MIDDLE, bounded(step.r2))
            return
        found = step.coefficient(row)
        if np.isnan(found.b) or found.why in (Why.LEFT_OUT, Why.NOT_ESTIMABLE):
            painter.setPen(colour(p.amber_ink))
            painter.drawText(inner, MIDDLE, f"{DASH} not estimable")
            return
        decimals = estimate_decimals(found.se, found.b, found.low, found.high)
        said = fixed(found.b, decimals)
        whole = f"{said}  [{interval(found.low, found.high, decimals)}]" if found.why is None else said
        face = font(11)
        painter.setFont(face)
        low = QRectF(inner.x(), area.y() + 23, inner.width(), 16) if row >= 0 else inner
        fits = QFontMetrics(face).horizontalAdvance(whole) <= area.width() - 4  # no number is ever cut
        painter.drawText(low.adjusted(-8, 0, 8, 0), MIDDLE, whole if fits else said)
        if row >= 0:
            self._paint_interval(painter, group, row, QRectF(inner.x(), area.y() + 4, inner.width(), 18), found.p)

    def _paint_interval(self, painter: QPainter, group: GroupFit, row: int, area: QRectF, p_found: float) -> None:
        assert group.fit is not None
        p, step, factor = theme.palette(), group.fit.last, float(self._scale[row])
        middle = area.center().y()
        painter.setPen(QPen(colour(p.line), 1.4))
        painter.drawLine(QPointF(area.center().x(), area.top()), QPointF(area.center().x(), area.bottom()))
        ends = [float(v[row + 1]) * factor for v in (step.low, step.b, step.high)]
        if not np.isfinite(ends).all():
            return
        places = [area.x() + area.width() * (v / self._limit + 1) / 2 for v in ends]
        low, at, high = (min(area.right(), max(area.left(), x)) for x in places)
        painter.setPen(QPen(colour(p.ink), 1.6))
        painter.drawLine(QPointF(low, middle), QPointF(high, middle))
        for x, cut, way in ((low, places[0] < area.left(), -1), (high, places[2] > area.right(), 1)):
            if cut:
                painter.drawLine(QPointF(x, middle), QPointF(x - way * 5, middle - 4))
                painter.drawLine(QPointF(x, middle), QPointF(x - way * 5, middle + 4))
        if area.left() <= places[1] <= area.right():
            told = p_found < 1 - step.level
            painter.setBrush(colour(p.ink) if told else colour(p.panel))
            painter.setPen(QPen(colour(p.ink), 1.4))
            painter.drawEllipse(QPointF(at, middle), 3.8, 3.8)
            painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_tests(self, painter: QPainter, read: GroupReader, rows: list[int], left: int, names: int) -> None:
        p = theme.palette()
        painter.setFont(font(13, "bold"))
        painter.setPen(colour(p.ink))
        painter.drawText(QRectF(left, 2, DIFFER - PAD, 20), RIGHT, "do they differ?")
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        painter.drawText(QRectF(left, 20, DIFFER - PAD, 18), RIGHT, "p unadjusted")
        painter.setClipRect(names, HEAD, self.viewport().width() - names, self.viewport().height() - HEAD)
        chosen = self.session.desk.group_cell
        for i, row in enumerate(rows):
            if row < 0:
                continue
            area = QRectF(left, self.row_top(i), DIFFER - PAD, ROW)
            if chosen == (row, None):
                painter.fillRect(area.adjusted(0, 1, PAD - 2, 0), colour(p.yellow, p.wash))
            test = read.test_of(row)
            painter.setFont(font(12, "medium"))
            painter.setPen(colour(p.ink))
            said = DASH if test is None or np.isnan(test.p) else f"p {p_relation(test.p)}"
            painter.drawText(area.adjusted(0, 3, 0, -20), RIGHT, said)
            if test is not None and test.has_f:
                painter.setFont(font(11))
                painter.setPen(colour(p.soft_ink))
                painter.drawText(area.adjusted(0, 20, 0, -2), RIGHT, f"F = {fixed(test.f, 2)}")

    # ---- mouse and keyboard

    def cell_at(self, at: QPoint) -> tuple[int, int | None] | None:
        """Row and group at a place of the viewport; no group: the column of tests."""
        read, rows = self.read, self.rows()
        i = (at.y() - HEAD + self.scrolled) // ROW
        if read is None or at.y() < HEAD or not 0 <= i < len(rows):
            return None
        _, each = self._widths()
        place = max(0, at.x() - self._left(0)) // each
        return rows[i], int(place) if place < len(read.found.groups) else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.setFocus()
            self.session.look(group_cell=self.cell_at(event.position().toPoint()), flag=None)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        read, rows = self.read, self.rows()
        moves = {Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0), Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1)}
        if (
            event is None
            or read is None
            or event.key() not in moves
            or event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        ):
            super().keyPressEvent(event)
            return
        down, across = moves[Qt.Key(event.key())]
        row, group = self.session.desk.group_cell or (rows[0], 0)
        n = len(read.found.groups)
        place = n if group is None else group
        i = rows.index(row) if row in rows else 0
        if self.session.desk.group_cell is not None:
            i = min(len(rows) - 1, max(0, i + down))
            place = min(n, max(0, place + across))
        self.session.look(group_cell=(rows[i], None if place == n else place), flag=None)

    def tip_at(self, position: QPoint) -> str:
        """The sentence of the cell below the mouse."""
        read, cell = self.read, self.cell_at(position)
        return read.cell(*cell) if read is not None and cell is not None else self.toolTip()
