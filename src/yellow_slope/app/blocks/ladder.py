"""The ladder: the triangular sheet of terms by block and steps across, drawn and worked by mouse and keyboard."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QFontMetrics,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
)
from PyQt6.QtWidgets import QAbstractScrollArea, QToolTip, QWidget

from yellow_slope.app import theme
from yellow_slope.app.blocks.sheet import Row, Sheet, sheet_of, tick
from yellow_slope.app.desk import Cell
from yellow_slope.app.session import StudySession
from yellow_slope.app.theme import colour, font
from yellow_slope.core.evaluate import Fit
from yellow_slope.core.numerals import bounded, estimate_decimals, fixed, interval, p_value
from yellow_slope.core.steps import StepResult
from yellow_slope.core.terms import Term
from yellow_slope.core.variable import shortened
from yellow_slope.looks import SIZES

HEAD = 58
AXIS = 118
FIGURES = (("b", 62), ("CI", 126), ("β", 48), ("p", 60), ("VIF", 48))
OPEN_FIGURES = sum(width for _, width in FIGURES)
CLOSED = 104
PAD = 8
ALIGN_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
ALIGN_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
ALIGN_MIDDLE = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter


@dataclass(frozen=True, slots=True)
class StepColumn:
    """Where a step stands across."""

    step: int
    x: int
    axis: int
    """Width of the interval part."""
    is_open: bool

    @property
    def width(self) -> int:
        """Whole width."""
        return self.axis + (OPEN_FIGURES if self.is_open else 0)


class Ladder(QAbstractScrollArea):
    """Draws the newest results of a session; chooses cells; takes terms that are carried to it."""

    flag_chosen = pyqtSignal(str)
    begin_block = pyqtSignal()
    menu_wanted = pyqtSignal(QPoint)
    carried = pyqtSignal(object, QPoint, str)
    """A term that is carried by the mouse: term, global position, “move”, “drop” or “cancel”."""
    name_wanted = pyqtSignal(int)

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.viewport().setMouseTracking(True)
        self.setAccessibleName("Ladder: terms by block, steps across")
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.sheet = Sheet((), np.zeros(0), 1.0)
        self._over: tuple[Term, QPoint] | None = None
        self._pressed: tuple[Row, QPoint] | None = None
        session.on("results", self.renew)
        session.on("study", self._study_changed)
        session.on("desk", self._desk_changed)

    # ---- state

    def renew(self) -> None:
        """Take the newest results."""
        results = self.session.results
        study = results.evaluation.study if results else self.session.study
        self.sheet = sheet_of(study, results) if study is not None else Sheet((), np.zeros(0), 1.0)
        self._fit_scroll()
        self.viewport().update()

    def _study_changed(self) -> None:
        if not self.session.results:
            self.renew()

    def _desk_changed(self) -> None:
        row = self.sheet.row_of(self.session.desk.cell)
        if row is not None:
            top = row * SIZES.row - self.verticalScrollBar().value()
            if top < 0:
                self.verticalScrollBar().setValue(row * SIZES.row)
            elif top + SIZES.row > self._body_height():
                self.verticalScrollBar().setValue((row + 1) * SIZES.row - self._body_height())
        self.viewport().update()

    @property
    def fit(self) -> Fit | None:
        """The newest fit."""
        return self.session.results.evaluation.fit if self.session.results else None

    def open_step(self) -> int:
        """The step that shows its figures."""
        fit = self.fit
        last = len(fit.steps) - 1 if fit else 0
        chosen = self.session.desk.open_step
        return last if chosen is None else min(chosen, last)

    # ---- geometry

    def _body_height(self) -> int:
        return self.viewport().height() - HEAD

    def _fit_scroll(self) -> None:
        whole = (len(self.sheet.rows) + 1) * SIZES.row + 10
        self.verticalScrollBar().setRange(0, max(0, whole - self._body_height()))
        self.verticalScrollBar().setPageStep(self._body_height())
        self.verticalScrollBar().setSingleStep(SIZES.row)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._fit_scroll()
        super().resizeEvent(event)

    def columns(self) -> list[StepColumn]:
        """The steps across, right-aligned; wide windows open up to three."""
        fit = self.fit
        if fit is None:
            return []
        width, n, chosen = self.viewport().width(), len(fit.steps), self.open_step()
        opened = {chosen}
        for other in [*range(chosen - 1, -1, -1), *range(chosen + 1, n)]:
            if (
                len(opened) < 3
                and width - 250 - (len(opened) + 1) * (AXIS + OPEN_FIGURES) - (n - len(opened) - 1) * CLOSED >= 0
            ):
                opened.add(other)
        room = width - 236 - len(opened) * (AXIS + OPEN_FIGURES)
        closed = min(CLOSED, max(44, room // max(1, n - len(opened))))
        axis = AXIS if room >= 0 else max(60, AXIS + room)
        whole = sum(axis + OPEN_FIGURES if s in opened else closed for s in range(n))
        x = width - whole - 4
        found: list[StepColumn] = []
        for step in range(n):
            is_open = step in opened
            column = StepColumn(step, x, axis if is_open else closed, is_open)
            found.append(column)
            x += column.width
        return found

    def row_top(self, index: int) -> int:
        """Top of a row in the viewport."""
        return HEAD + index * SIZES.row - self.verticalScrollBar().value()

    def row_at(self, y: int) -> int | None:
        """The row at a height of the viewport; len(rows) is the strip that begins a block."""
        if y < HEAD:
            return None
        index = (y - HEAD + self.verticalScrollBar().value()) // SIZES.row
        return index if index <= len(self.sheet.rows) else None

    def rect_of(self, cell: Cell) -> QRectF | None:
        """Where a cell's row stands, for tests and for what is laid over it."""
        row = self.sheet.row_of(cell)
        return None if row is None else QRectF(0, self.row_top(row), self.viewport().width(), SIZES.row)

    def _names_width(self) -> int:
        columns = self.columns()
        return columns[0].x if columns else self.viewport().width()

    # ---- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = theme.palette()
        painter.fillRect(self.viewport().rect(), colour(p.paper))
        columns = self.columns()
        for column in columns:
            if column.is_open:
                painter.fillRect(column.x, 0, column.width + 4, self.viewport().height(), colour(p.panel))
        painter.save()
        painter.setClipRect(0, HEAD, self.viewport().width(), self._body_height())
        for index, row in enumerate(self.sheet.rows):
            top = self.row_top(index)
            if top > HEAD - SIZES.row and top < self.viewport().height():
                self._paint_row(painter, row, top, columns)
        self._paint_begin(painter)
        painter.restore()
        self._paint_heads(painter, columns)
        if self._over is not None:
            self._paint_carried(painter)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            current = self.rect_of(self.session.desk.cell) if self.session.desk.cell else None
            painter.drawRect((current or QRectF(self.viewport().rect())).adjusted(1, 0, -2, 0))

    def _paint_heads(self, painter: QPainter, columns: list[StepColumn]) -> None:
        p, fit = theme.palette(), self.fit
        painter.setPen(QPen(colour(p.soft_ink, 0.6), 1))
        painter.drawLine(0, HEAD - 1, self.viewport().width(), HEAD - 1)
        if fit is None:
            return
        for column in columns:
            step = fit.steps[column.step]
            inner = column.axis - 12
            painter.setFont(font(12, "bold"))
            painter.setPen(colour(p.ink))
            name = f"step {column.step + 1}" if inner >= 84 else f"{column.step + 1}"
            painter.drawText(QRectF(column.x + 4, 2, inner, 20), ALIGN_LEFT, name)
            painter.setFont(font(12))
            painter.drawText(
                QRectF(column.x + 4, 2, inner, 20),
                ALIGN_RIGHT,
                f"R² {bounded(step.r2)}" if inner >= 60 else bounded(step.r2),
            )
            self._paint_r2(painter, QRectF(column.x + 4, 25, inner, 7), step)
            limit = self.sheet.limit
            mark = tick(limit)
            painter.setFont(font(11))
            painter.setPen(colour(p.soft_ink))
            for value in (-mark, 0.0, mark) if not self.session.desk.own_scales else (0.0,):
                x = column.x + 4 + inner * (value / limit + 1) / 2
                text = fixed(value, 0 if mark >= 1 else 2)
                painter.drawText(QRectF(x - 30, 37, 60, 16), ALIGN_MIDDLE, f"+{text}" if value > 0 else text)
            if column.is_open:
                x = column.x + column.axis
                for title, width in FIGURES:
                    painter.setFont(font(12, "bold", italic=title in "bp"))
                    said = (
                        f"{round(100 * self.session.study.level)}% CI"
                        if title == "CI" and self.session.study
                        else title
                    )
                    painter.drawText(QRectF(x, 36, width - PAD, 18), ALIGN_RIGHT, said)
                    x += width

    def _paint_r2(self, painter: QPainter, bar: QRectF, step: StepResult) -> None:
        p = theme.palette()
        painter.fillRect(bar, colour(p.line))
        if np.isnan(step.r2):
            return
        before = bar.width() * max(0.0, step.r2 - step.change.r2)
        painter.fillRect(QRectF(bar.x(), bar.y(), before, bar.height()), colour(p.soft_ink))
        added = QRectF(bar.x() + before, bar.y(), max(2.0, bar.width() * step.change.r2), bar.height())
        painter.setPen(QPen(colour(p.ink), 1))
        painter.setBrush(colour(p.yellow))
        painter.drawRect(added)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_row(self, painter: QPainter, row: Row, top: int, columns: list[StepColumn]) -> None:
        p, desk, width = theme.palette(), self.session.desk, self.viewport().width()
        area = QRectF(0, top, width, SIZES.row)
        is_chosen = desk.cell is not None and row.cell == desk.cell
        if is_chosen:
            painter.fillRect(area, colour(p.yellow, p.wash))
            painter.fillRect(QRectF(0, top, 3, SIZES.row), colour(p.yellow))
        elif row.cell.term is not None and row.cell.term in desk.chosen:
            painter.fillRect(area, colour(p.yellow, p.wash / 2))
        if row.kind in ("block", "constant"):
            painter.setPen(QPen(colour(p.line), 1))
            painter.drawLine(0, top, width, top)
        names = self._names_width()
        indent = {"block": 8, "comparison": 36}.get(row.kind, 22)
        weight = "bold" if row.kind in ("block", "head") else "normal"
        ink = p.soft_ink if row.kind == "constant" or (row.kind == "block" and row.text == "name this block") else p.ink
        face = font(13, weight, italic=row.kind == "block" and row.text == "name this block")
        painter.setFont(face)
        painter.setPen(colour(ink))
        left = indent
        if row.kind == "block":
            painter.drawText(QRectF(left, top, 20, SIZES.row), ALIGN_LEFT, str(row.block + 1))
            left += 16
        if row.cell.term is not None and row.cell.term in desk.chosen and row.kind != "comparison":
            painter.drawText(QRectF(left - 15, top, 14, SIZES.row), ALIGN_LEFT, "✓")
        room = (columns[row.block].x if row.kind == "block" and columns else names) - left - SIZES.gutter - 2
        painter.drawText(QRectF(left, top, room, SIZES.row), ALIGN_LEFT, _elided(face, row.text, int(room)))
        if row.flags:
            self._paint_pennant(painter, QPointF(names - SIZES.gutter, top + 5))
        for column in columns:
            self._paint_cell(painter, row, top, column)

    def _paint_cell(self, painter: QPainter, row: Row, top: int, column: StepColumn) -> None:
        fit = self.fit
        if fit is None or (column.step < row.block and row.kind != "constant"):
            return
        step = fit.steps[column.step]
        if row.kind == "block":
            if column.step == row.block:
                self._paint_tread(painter, top, column, step)
            return
        if row.kind == "constant":
            if column.is_open:
                self._paint_figures(painter, row, top, column, step)
            return
        if row.cell.column is None:
            if column.is_open and row.cell.term in step.joint:
                self._paint_joint(painter, row, top, column, step)
            return
        if row.cell.column < step.n_columns:
            self._paint_interval(painter, row, top, column, step)
            if column.is_open:
                self._paint_figures(painter, row, top, column, step)

    def _paint_tread(self, painter: QPainter, top: int, column: StepColumn, step: StepResult) -> None:
        p, test = theme.palette(), step.change.test
        gain = bounded(step.change.r2)
        text = f"+{gain}   F({test.df1}, {test.df2}) = {fixed(test.f, 1)}   p {_p(test.p)}"
        face = font(12, "medium")
        painter.setFont(face)
        wanted = QFontMetrics(face).horizontalAdvance(text) + 16
        x = min(column.x, self.viewport().width() - wanted - 6)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour(p.yellow, 0.32))
        painter.drawRoundedRect(QRectF(x, top + 2, wanted, SIZES.row - 4), 3, 3)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(colour(p.ink))
        painter.drawText(QRectF(x + 8, top, wanted, SIZES.row), ALIGN_LEFT, text)

    def _paint_joint(self, painter: QPainter, row: Row, top: int, column: StepColumn, step: StepResult) -> None:
        assert row.cell.term is not None
        test = step.joint[row.cell.term]
        painter.setFont(font(12))
        painter.setPen(colour(theme.palette().soft_ink))
        text = f"joint  F({test.df1}, {test.df2}) = {fixed(test.f, 1)},  p {_p(test.p)}"
        painter.drawText(QRectF(column.x, top, column.width - PAD, SIZES.row), ALIGN_RIGHT, text)

    def _paint_interval(self, painter: QPainter, row: Row, top: int, column: StepColumn, step: StepResult) -> None:
        p, j = theme.palette(), row.cell.column
        assert j is not None
        i, middle = j + 1, top + SIZES.row / 2
        inner, left = column.axis - 12, column.x + 4
        painter.setPen(QPen(colour(p.line), 1.4))
        painter.drawLine(QPointF(left + inner / 2, top + 2), QPointF(left + inner / 2, top + SIZES.row - 2))
        if step.is_left_out(j):
            painter.setFont(font(11))
            painter.setPen(colour(p.amber_ink))
            painter.drawText(QRectF(left, top, inner, SIZES.row), ALIGN_MIDDLE, "left out")
            return
        factor = float(self.sheet.scale[j])
        limit = self._row_limit(j) if self.session.desk.own_scales else self.sheet.limit
        b, half = float(step.b[i]) * factor, float(step.half_width[i]) * factor
        place = [inner * (value / limit + 1) / 2 for value in (b - half, b, b + half)]
        low, at, high = (left + min(inner, max(0.0, x)) for x in place)
        painter.setPen(QPen(colour(p.ink), 1.6))
        painter.drawLine(QPointF(low, middle), QPointF(high, middle))
        for x, cut, way in ((low, place[0] < 0, -1), (high, place[2] > inner, 1)):
            if cut:
                tip, base = x + way * 6, x
                arrow = [QPointF(tip, middle), QPointF(base, middle - 4), QPointF(base, middle + 4)]
                painter.setBrush(colour(p.ink))
                painter.drawPolygon(QPolygonF(arrow))
        if 0 <= place[1] <= inner:
            told_apart = step.p[i] < 1 - self._level()
            painter.setBrush(colour(p.ink) if told_apart else colour(p.panel))
            painter.setPen(QPen(colour(p.ink), 1.4))
            painter.drawEllipse(QPointF(at, middle), 3.8, 3.8)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        read = self.session.results.reader if self.session.results else None
        if read is not None and row.cell.term is not None and read.meaning_changed(column.step, row.cell.term):
            self._paint_notch(painter, QPointF(column.x - 1, middle))

    def _row_limit(self, j: int) -> float:
        assert self.fit is not None
        reach = 0.0
        for step in self.fit.steps:
            if j < step.n_columns and not step.is_left_out(j):
                reach = max(reach, abs(float(step.b[j + 1])) + float(step.half_width[j + 1]))
        return (reach * float(self.sheet.scale[j]) * 1.08) or 1.0

    def _level(self) -> float:
        return self.session.study.level if self.session.study else 0.95

    def _paint_notch(self, painter: QPainter, at: QPointF) -> None:
        p = theme.palette()
        painter.setPen(QPen(colour(p.amber_ink), 1))
        painter.setBrush(colour(p.yellow))
        shape = [QPointF(at.x() - 1, at.y() - 5), QPointF(at.x() + 5, at.y()), QPointF(at.x() - 1, at.y() + 5)]
        painter.drawPolygon(QPolygonF(shape))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_pennant(self, painter: QPainter, at: QPointF) -> None:
        p = theme.palette()
        painter.setPen(QPen(colour(p.amber_ink), 1.4))
        painter.drawLine(at, QPointF(at.x(), at.y() + 14))
        painter.setBrush(colour(p.yellow))
        painter.setPen(QPen(colour(p.amber_ink), 1))
        painter.drawPolygon(QPolygonF([at, QPointF(at.x() + 11, at.y() + 4), QPointF(at.x(), at.y() + 8)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_figures(self, painter: QPainter, row: Row, top: int, column: StepColumn, step: StepResult) -> None:
        p, j = theme.palette(), row.cell.column
        assert j is not None
        if step.is_left_out(j):
            return
        found = step.coefficient(j)
        decimals = estimate_decimals(found.se)
        texts = [fixed(found.b, decimals), interval(found.low, found.high, decimals)]
        texts += ["", "", ""] if j < 0 else [bounded(found.beta, 2), p_value(found.p), fixed(found.vif, 1)]
        x = column.x + column.axis
        for (title, width), text in zip(FIGURES, texts):
            painter.setFont(font(12, "bold" if title == "b" and j >= 0 else "normal"))
            painter.setPen(colour(p.ink if j >= 0 else p.soft_ink))
            painter.drawText(QRectF(x, top, width - PAD, SIZES.row), ALIGN_RIGHT, text)
            x += width

    def _paint_begin(self, painter: QPainter) -> None:
        p, study = theme.palette(), self.session.study
        if study is None:
            return
        top = self.row_top(len(self.sheet.rows)) + 4
        area = QRectF(4, top, self.viewport().width() - 12, SIZES.row - 2)
        pen = QPen(colour(p.soft_ink), 1, Qt.PenStyle.DashLine)
        painter.setPen(pen)
        if self._over is not None and self._drop_row() == len(self.sheet.rows):
            painter.setBrush(colour(p.yellow, p.wash))
        painter.drawRoundedRect(area, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        n = len(study.blocks) + 1
        text = f"begin block {n}    drop a variable here, choose variables and press Enter, or type a line above"
        painter.drawText(area.adjusted(12, 0, -8, 0), ALIGN_LEFT, text)

    # ---- mouse and keyboard

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        position = event.position().toPoint()
        index = self.row_at(position.y())
        if index is None:
            step = self.step_at(position.x())
            if step is not None:
                self.session.look(open_step=step)
            return
        if index == len(self.sheet.rows):
            self.begin_block.emit()
            return
        row = self.sheet.rows[index]
        self._pressed = (row, position)
        names = self._names_width()
        if row.flags and names - SIZES.gutter - 4 <= position.x() <= names:
            self.flag_chosen.emit(row.flags[0])
            return
        step = self.step_at(position.x())
        changes = {"cell": row.cell, "flag": None}
        if step is not None and step >= row.block and row.kind != "block":
            self.session.look(open_step=step, **changes)
        else:
            self.session.look(**changes)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        index = self.row_at(event.position().toPoint().y())
        if index is not None and index < len(self.sheet.rows) and self.sheet.rows[index].kind == "block":
            self.name_wanted.emit(self.sheet.rows[index].block)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        row, start = self._pressed
        if row.cell.term is not None and (event.position().toPoint() - start).manhattanLength() > 8:
            self.carried.emit(row.cell.term, event.globalPosition().toPoint(), "move")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._pressed is not None and self._over is not None:
            term = self._pressed[0].cell.term
            self.carried.emit(term, event.globalPosition().toPoint(), "drop")
        self._pressed = None

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None:
            self.menu_wanted.emit(event.globalPos())

    def step_at(self, x: int) -> int | None:
        """The step across at a place of the viewport."""
        for column in self.columns():
            if column.x <= x < column.x + column.width:
                return column.step
        return None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, rows = event.key(), self.sheet.rows
        now = self.sheet.row_of(self.session.desk.cell)
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up) and not event.modifiers() and rows:
            step = 1 if key == Qt.Key.Key_Down else -1
            to = 0 if now is None else min(len(rows) - 1, max(0, now + step))
            self.session.look(cell=rows[to].cell, flag=None)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and not event.modifiers() and self.fit:
            to = self.open_step() + (1 if key == Qt.Key.Key_Right else -1)
            self.session.look(open_step=min(len(self.fit.steps) - 1, max(0, to)))
        elif key == Qt.Key.Key_F2 and self.session.desk.cell is not None and self.session.desk.cell.block is not None:
            self.name_wanted.emit(self.session.desk.cell.block)
        else:
            super().keyPressEvent(event)

    def viewportEvent(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            QToolTip.showText(event.globalPos(), self.tip_at(event.pos()), self.viewport())
            return True
        return super().viewportEvent(event)

    def tip_at(self, position: QPoint) -> str:
        """What the tooltip says there."""
        index = self.row_at(position.y())
        step = self.step_at(position.x())
        if index is None:
            return "Open this step to see its figures." if step is not None else ""
        if index == len(self.sheet.rows):
            return "Enter what is chosen as a new block."
        row = self.sheet.rows[index]
        flags = [f.title for key in row.flags if (f := self.session.flag(key)) is not None]
        read = self.session.results.reader if self.session.results else None
        said = ""
        column = row.cell.column
        if read is not None and step is not None and column is not None and column < read.fit.steps[step].n_columns:
            said = read.coefficient(step, column)
        return "\n".join([row.whole, *flags, said]).strip()

    # ---- carrying terms

    def _drop_row(self) -> int | None:
        if self._over is None:
            return None
        return self.row_at(self._over[1].y())

    def carry_over(self, term: Term, position: QPoint | None) -> None:
        """A term is carried over this place of the viewport (None: elsewhere)."""
        self._over = (term, position) if position is not None else None
        self.viewport().update()

    def landing(self) -> tuple[str, int, Term | None]:
        """What dropping here would do: (“enter”, block, None), (“multiply”, block, with term) or (“”, 0, None)."""
        index = self._drop_row()
        if self._over is None or index is None:
            return "", 0, None
        if index >= len(self.sheet.rows):
            return "enter", len(self.session.study.blocks) if self.session.study else 0, None
        row = self.sheet.rows[index]
        if row.cell.term is not None and self._over[1].x() >= self.viewport().width() - 44:
            return "multiply", row.block, row.cell.term
        return "enter", row.block, None

    def _paint_carried(self, painter: QPainter) -> None:
        assert self._over is not None
        p, study = theme.palette(), self.session.study
        what, block, partner = self.landing()
        for index, row in enumerate(self.sheet.rows):
            if row.cell.term is None or row.kind == "comparison":
                continue
            pad = QRectF(self.viewport().width() - 40, self.row_top(index) + 2, 32, SIZES.row - 4)
            painter.setPen(QPen(colour(p.soft_ink), 1))
            painter.setBrush(colour(p.yellow) if partner == row.cell.term else colour(p.panel))
            painter.drawRoundedRect(pad, 4, 4)
            painter.setFont(font(13, "bold"))
            painter.setPen(colour(p.ink))
            painter.drawText(pad, ALIGN_MIDDLE, "×")
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if study is None or not what:
            return
        name = study.label(self._over[0])
        said = f"{study.label(partner.times(self._over[0]))}" if partner else f"{name} into block {block + 1}"
        face = font(12, "bold")
        at = self._over[1]
        width = QFontMetrics(face).horizontalAdvance(said) + 20
        x = min(at.x() + 14, self.viewport().width() - width - 50)
        label = QRectF(x, at.y() + 8, width, 24)
        painter.setPen(QPen(colour(p.ink), 1))
        painter.setBrush(colour(p.panel))
        painter.drawRoundedRect(label, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(face)
        painter.drawText(label, ALIGN_MIDDLE, said)


def _p(p: float) -> str:
    text = p_value(p)
    return text if text.startswith("<") else f"= {text}"


def _elided(face, text: str, room: int) -> str:  # type: ignore[no-untyped-def]
    return (
        QFontMetrics(face).elidedText(text, Qt.TextElideMode.ElideRight, max(0, room))
        if room < 4000
        else shortened(text)
    )
