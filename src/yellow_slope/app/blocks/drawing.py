"""How the ladder's sheet is drawn; only what is visible is."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from types import MappingProxyType
from typing import Protocol, assert_never

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QFontMetrics, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.blocks.beside import Beside
from yellow_slope.app.blocks.figures import PAD, SIZE, Figures
from yellow_slope.app.blocks.layout import HEAD, StepColumn
from yellow_slope.app.blocks.preview import Coming
from yellow_slope.app.blocks.sheet import Row, RowChange, RowKind, Sheet
from yellow_slope.app.state.carrying import Entered, Landing, Multiplied
from yellow_slope.app.state.desk import Cell
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font, pen
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.terms import Term
from yellow_slope.core.told.coefficients import CoefficientColumn
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.numerals import bounded, fixed
from yellow_slope.core.words.spelling.reasons import DASH
from yellow_slope.core.words.spelling.shortening import begun
from yellow_slope.core.words.spelling.testtexts import written_test
from yellow_slope.looks import SIZES
from yellow_slope.plots.scales import one_mark, signed

ALIGN_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
ALIGN_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
ALIGN_MIDDLE = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter
INDENT: Mapping[RowKind, int] = MappingProxyType(
    {RowKind.BLOCK: 8, RowKind.COMPARISON: 36, RowKind.TERM: 22, RowKind.HEAD: 22, RowKind.CONSTANT: 22}
)
SLANTED = (CoefficientColumn.B, CoefficientColumn.P, CoefficientColumn.T)
"""Heads that are statistical symbols."""
TAIL = 52
"""Room for what a typed line does to a row."""


class Drawable(Protocol):
    """What is drawn: the ladder, as far as the drawing knows it."""

    session: StudySession
    sheet: Sheet
    coming: Coming | None
    beside: Beside | None
    pale: frozenset[int]
    over: tuple[Term, QPoint] | None

    @property
    def fit(self) -> Fit | None: ...
    @property
    def model(self) -> Model | None: ...
    def figures(self) -> Figures | None: ...
    def viewport(self) -> QWidget: ...
    def hasFocus(self) -> bool: ...
    def columns(self) -> list[StepColumn]: ...
    def row_top(self, index: int) -> int: ...
    def rect_of(self, cell: Cell) -> QRectF | None: ...
    def name_of(self, index: int, names: int) -> str: ...
    def drop_row(self) -> int | None: ...
    def landing(self) -> Landing | None: ...


def row_font(row: Row) -> QFont:
    """The face of a row's name."""
    return _faced(*_face_of(row))[0]


def row_metrics(row: Row) -> QFontMetrics:
    """How wide letters of a row's name are."""
    return _faced(*_face_of(row))[1]


def _face_of(row: Row) -> tuple[bool, bool, bool]:
    return row.kind in (RowKind.BLOCK, RowKind.HEAD), row.is_unnamed, row.change is RowChange.LEAVES


@cache
def _faced(bold: bool, italic: bool, struck: bool) -> tuple[QFont, QFontMetrics]:
    """One face for thousands of rows: making one takes longer than measuring a name with it."""
    face = font(13, "bold" if bold else "normal", italic=italic)
    face.setStrikeOut(struck)
    return face, QFontMetrics(face)


class LadderDrawing:
    """One drawing of a ladder; it lives as long as one paint event."""

    def __init__(self, ladder: Drawable, painter: QPainter) -> None:
        self.ladder, self.painter = ladder, painter
        self.columns = ladder.columns()
        self.names = self.columns[0].x if self.columns else ladder.viewport().width()
        self.figures = ladder.figures()
        self.reader = ladder.session.view.reader if ladder.session.view and ladder.coming is None else None

    def draw(self) -> None:
        """Draw everything."""
        p, painter, ladder = theme.palette(), self.painter, self.ladder
        height, width = ladder.viewport().height(), ladder.viewport().width()
        painter.fillRect(ladder.viewport().rect(), colour(p.paper))
        for column in self.columns:
            if column.is_open:
                painter.fillRect(column.x, 0, column.width + 4, height, colour(p.panel))
        painter.save()
        painter.setClipRect(0, HEAD, width, height - HEAD)
        first = max(0, -(ladder.row_top(0) - HEAD) // SIZES.row)
        last = min(len(ladder.sheet.rows), first + (height - HEAD) // SIZES.row + 2)
        for index in range(first, last):
            self._paint_row(ladder.sheet.rows[index], ladder.row_top(index), index)
        self._paint_begin()
        painter.restore()
        self._paint_heads()
        if ladder.over is not None:
            self._paint_carried(range(first, last))
        if ladder.hasFocus():
            painter.setPen(pen(p.yellow, 2))
            current = ladder.rect_of(ladder.session.desk.cell) if ladder.session.desk.cell else None
            painter.drawRect((current or QRectF(ladder.viewport().rect())).adjusted(1, 0, -2, 0))

    # ---- heads

    def _paint_heads(self) -> None:
        p, fit, painter = theme.palette(), self.ladder.fit, self.painter
        painter.setPen(pen(p.soft_ink, 1, 0.6))
        painter.drawLine(0, HEAD - 1, self.ladder.viewport().width(), HEAD - 1)
        self._paint_summary()
        if fit is None:
            return
        for column in self.columns:
            self._paint_head(column, fit.steps[column.step])

    def _paint_summary(self) -> None:
        """What a typed line would do, the number of columns first."""
        coming, painter, p = self.ladder.coming, self.painter, theme.palette()
        if coming is None:
            return
        room = QRectF(8, 2, self.names - 16, HEAD - 8)
        painter.setFont(font(13, "bold"))
        painter.setPen(colour(p.ink))
        flags = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap)
        said = coming.summary
        painter.drawText(room, flags, said.columns or said.rest)
        painter.setFont(font(12))
        painter.setPen(colour(p.amber_ink if coming.problem else p.soft_ink))
        below = coming.problem or (said.rest if said.columns else "Enter accepts the line, Esc discards it")
        lines = room.adjusted(0, 18, 0, 0)

        def fits(text: str) -> bool:
            return painter.boundingRect(lines, flags, text).height() <= lines.height()

        painter.drawText(lines, flags, below if fits(below) else begun(below, fits))

    def _paint_head(self, column: StepColumn, step: StepResult) -> None:
        p, painter, model = theme.palette(), self.painter, self.ladder.model
        is_pale = column.step in self.ladder.pale
        inner = column.axis - 12
        ink = p.soft_ink if is_pale else p.ink
        if column.is_folded:
            painter.setFont(font(12, "bold"))
            painter.setPen(colour(ink))
            painter.drawText(QRectF(column.x, 2, column.width, 20), ALIGN_MIDDLE, str(column.step + 1))
            self._paint_r2(QRectF(column.x + 4, 25, column.width - 8, 7), step, is_pale)
            return
        painter.setFont(font(12, "bold"))
        painter.setPen(colour(ink))
        reported = model is not None and len(model.steps) > 1 and model.reported_step == column.step
        name = f"step {column.step + 1}" if inner >= 84 else f"{column.step + 1}"
        if is_pale and column.is_open:
            name += " to come"
        elif reported and column.is_open and model is not None and model.reported is not None:
            name += ", reported"
        width = column.width - 12 if column.is_open else inner
        painter.drawText(QRectF(column.x + 4, 2, width, 20), ALIGN_LEFT, name)
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink if is_pale else p.ink))
        name_of = "R²" if step.about_mean else "R² about 0" if inner >= 120 else "R₀²"
        r2 = f"{name_of} {bounded(step.r2)}" if inner >= 60 else bounded(step.r2)
        painter.drawText(QRectF(column.x + 4, 2, width - (PAD - 4 if column.is_open else 0), 20), ALIGN_RIGHT, r2)
        self._paint_r2(QRectF(column.x + 4, 25, inner, 7), step, is_pale)
        self._paint_ticks(column, inner)
        if column.is_open and self.figures is not None:
            x = column.x + column.axis
            for (figure, _), wide in zip(self.figures.figures, self.figures.widths):
                painter.setFont(font(SIZE, "bold", italic=figure in SLANTED))
                painter.setPen(colour(p.soft_ink))
                painter.drawText(QRectF(x, 36, wide - PAD, 18), ALIGN_RIGHT, self.figures.title(figure))
                x += wide

    def _paint_ticks(self, column: StepColumn, inner: int) -> None:
        p, painter = theme.palette(), self.painter
        limit = self.ladder.sheet.limit
        mark = one_mark(limit)
        face = font(11)
        painter.setFont(face)
        painter.setPen(colour(p.soft_ink))
        apart = inner * (mark.value / limit) / 2
        crowded = QFontMetrics(face).horizontalAdvance(f"+{mark.label}") / 2 + 10 > apart
        signs = (0,) if self.ladder.session.desk.own_scales or crowded else (-1, 0, 1)
        for sign in signs:
            x = column.x + 4 + inner * (sign * mark.value / limit + 1) / 2
            painter.drawText(QRectF(x - 30, 37, 60, 16), ALIGN_MIDDLE, signed(mark, sign))

    def _paint_r2(self, bar: QRectF, step: StepResult, is_pale: bool) -> None:
        p, painter = theme.palette(), self.painter
        painter.fillRect(bar, colour(p.line))
        if np.isnan(step.r2):
            return
        before = bar.width() * max(0.0, step.r2 - step.change.r2)
        painter.fillRect(QRectF(bar.x(), bar.y(), before, bar.height()), colour(p.soft_ink, 0.5 if is_pale else 1.0))
        added = QRectF(bar.x() + before, bar.y(), max(2.0, bar.width() * step.change.r2), bar.height())
        painter.setPen(QPen(colour(p.soft_ink if is_pale else p.ink), 1))
        painter.setBrush(colour(p.yellow, 0.5 if is_pale else 1.0))
        painter.drawRect(added)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    # ---- rows

    def _paint_row(self, row: Row, top: int, index: int) -> None:
        p, desk, painter = theme.palette(), self.ladder.session.desk, self.painter
        width = self.ladder.viewport().width()
        area = QRectF(0, top, width, SIZES.row)
        if self.ladder.coming is None:
            if desk.cell is not None and row.cell == desk.cell:
                painter.fillRect(area, colour(p.yellow, p.wash))
                painter.fillRect(QRectF(0, top, 3, SIZES.row), colour(p.yellow))
            elif row.cell.term is not None and row.cell.term in desk.chosen:
                painter.fillRect(area, colour(p.yellow, p.wash / 2))
        if row.kind in (RowKind.BLOCK, RowKind.CONSTANT):
            painter.setPen(QPen(colour(p.line), 1, Qt.PenStyle.DashLine if row.change else Qt.PenStyle.SolidLine))
            painter.drawLine(0, top, width, top)
        self._paint_name(row, top, index)
        if row.flags and self.ladder.coming is None:
            self._paint_pennant(QPointF(self.names - SIZES.gutter, top + 5))
        if row.change is RowChange.LEAVES:
            return
        for column in self.columns:
            self._paint_cell(row, top, column)

    def _paint_name(self, row: Row, top: int, index: int) -> None:
        p, desk, painter = theme.palette(), self.ladder.session.desk, self.painter
        left = INDENT[row.kind]
        soft = row.kind is RowKind.CONSTANT or row.change or (row.is_unnamed)
        face = row_font(row)
        painter.setFont(face)
        painter.setPen(colour(p.soft_ink if soft else p.ink))
        if row.kind is RowKind.BLOCK:
            painter.drawText(QRectF(left, top, 24, SIZES.row), ALIGN_LEFT, str(row.block + 1))
            left += 16 if row.block < 9 else 24
        if row.cell.term is not None and row.cell.term in desk.chosen and row.kind is not RowKind.COMPARISON:
            painter.drawText(QRectF(left - 15, top, 14, SIZES.row), ALIGN_LEFT, "✓")
        begins = (
            self.columns[row.step].x
            if row.kind is RowKind.BLOCK and self.columns and row.step is not None
            else self.names
        )
        tail = row.change.word if row.change is not None and row.kind is not RowKind.COMPARISON else ""
        room = begins - left - SIZES.gutter - 2 - (TAIL if tail else 0)
        if row.kind is RowKind.BLOCK:
            text = QFontMetrics(face).elidedText(row.text, Qt.TextElideMode.ElideRight, max(0, room))
        else:
            text = self.ladder.name_of(index, self.names)
        painter.drawText(QRectF(left, top, room + 4, SIZES.row), ALIGN_LEFT, text)
        if tail:
            x = left + QFontMetrics(face).horizontalAdvance(text) + 8
            painter.setFont(font(11))
            painter.setPen(colour(p.amber_ink))
            painter.drawText(QRectF(x, top, 56, SIZES.row), ALIGN_LEFT, tail)

    def _paint_cell(self, row: Row, top: int, column: StepColumn) -> None:
        fit = self.ladder.fit
        if fit is None or row.step is None or (column.step < row.step and row.kind is not RowKind.CONSTANT):
            return
        step = fit.steps[column.step]
        if row.kind is RowKind.BLOCK:
            if column.step == row.step:
                self._paint_tread(top, column, step)
            return
        if row.kind is RowKind.CONSTANT:
            if column.is_open:
                self._paint_figures(row, top, column, step)
            return
        if row.cell.column is None:
            if column.is_open and row.cell.term in step.joint:
                self._paint_joint(row, top, column, step)
            return
        if row.cell.column < step.n_columns:
            if column.is_folded:
                self._paint_place(row, top, column, step)
                return
            self._paint_interval(row, top, column, step)
            if column.is_open:
                self._paint_figures(row, top, column, step)

    def _paint_tread(self, top: int, column: StepColumn, step: StepResult) -> None:
        p, painter, test = theme.palette(), self.painter, step.change.test
        is_pale = column.step in self.ladder.pale
        text = f"+{bounded(step.change.r2)}   {figures_of_test(test, '   ')}"
        if is_pale:
            text = f"if taken:  {text}"
        face = font(12, "medium")
        painter.setFont(face)
        wanted = QFontMetrics(face).horizontalAdvance(text) + 16
        x = min(column.x, self.ladder.viewport().width() - wanted - 6)
        if is_pale:
            painter.setPen(pen(p.amber_ink, 1, dashed=True))
            painter.setBrush(colour(p.yellow, 0.1))
        else:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour(p.yellow, 0.32))
        painter.drawRoundedRect(QRectF(x, top + 2, wanted, SIZES.row - 4), 3, 3)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(colour(p.ink))
        painter.drawText(QRectF(x + 8, top, wanted, SIZES.row), ALIGN_LEFT, text)

    def _paint_joint(self, row: Row, top: int, column: StepColumn, step: StepResult) -> None:
        assert row.cell.term is not None
        if self.figures is None or not self.figures.figures:
            return
        painter = self.painter
        text = f"joint  {figures_of_test(step.joint[row.cell.term], ',  ')}"
        if self.figures.figures[-1][0] is CoefficientColumn.SEMIPARTIAL:
            text += f",  generalized VIF {fixed(self.figures.gvif(step, row.cell.term), 1)}"
        painter.setFont(font(12))
        painter.setPen(colour(theme.palette().soft_ink))
        painter.drawText(QRectF(column.x, top, column.width - PAD, SIZES.row), ALIGN_RIGHT, text)

    def _paint_place(self, row: Row, top: int, column: StepColumn, step: StepResult) -> None:
        """In a folded step only where the coefficient stands: how it moves over the steps is still seen."""
        p, painter, j = theme.palette(), self.painter, row.cell.column
        assert j is not None
        middle, inner, left = top + SIZES.row / 2, column.width - 8, column.x + 4
        painter.setPen(pen(p.line, 1))
        painter.drawLine(QPointF(left + inner / 2, top + 4), QPointF(left + inner / 2, top + SIZES.row - 4))
        if not np.isfinite(step.b[j + 1]):
            return
        limit = self._row_limit(j) if self.ladder.session.desk.own_scales else self.ladder.sheet.limit
        x = inner * (float(step.b[j + 1]) * float(self.ladder.sheet.scale[j]) / limit + 1) / 2
        self._dot(QPointF(left + min(inner, max(0.0, x)), middle), bool(step.p[j + 1] < 1 - step.level), 2.4)

    def _paint_interval(self, row: Row, top: int, column: StepColumn, step: StepResult) -> None:
        p, painter, j = theme.palette(), self.painter, row.cell.column
        assert j is not None
        i, middle = j + 1, top + SIZES.row / 2
        inner, left = column.axis - 12, column.x + 4
        painter.setPen(pen(p.line, 1.4))
        painter.drawLine(QPointF(left + inner / 2, top + 2), QPointF(left + inner / 2, top + SIZES.row - 2))
        other = self._beside(column.step, j, left, inner, middle)
        if not np.isfinite(step.low[i]):
            painter.setFont(font(11))
            painter.setPen(colour(p.amber_ink))
            said = QFontMetrics(painter.font()).elidedText(_absence(step, j), Qt.TextElideMode.ElideRight, inner + 8)
            painter.drawText(QRectF(left - 4, top, inner + 8, SIZES.row), ALIGN_MIDDLE, said)
            return
        if other:
            middle -= 3.5
        factor = float(self.ladder.sheet.scale[j])
        ends = [float(v[i]) * factor for v in (step.low, step.b, step.high)]
        is_pale = column.step in self.ladder.pale
        at = self._line(ends, j, left, inner, middle, pen(p.soft_ink if is_pale else p.ink, 1.6, dashed=is_pale))
        if at is not None:
            self._dot(QPointF(at, middle), bool(step.p[i] < 1 - step.level), 3.8 if not other else 3.4, is_pale)
        if (
            self.reader is not None
            and row.cell.term is not None
            and self.reader.meaning_changed(column.step, row.cell.term)
        ):
            self._paint_notch(QPointF(column.x - 1, top + SIZES.row / 2))

    def _line(self, ends: list[float], j: int, left: float, inner: float, middle: float, line: QPen) -> float | None:
        """An interval with an arrowhead where it goes on beyond the axis; where its middle stands, if that is on it."""
        painter = self.painter
        limit = self._row_limit(j) if self.ladder.session.desk.own_scales else self.ladder.sheet.limit
        place = [inner * (value / limit + 1) / 2 for value in ends]
        low, at, high = (left + min(inner, max(0.0, x)) for x in place)
        painter.setPen(line)
        painter.drawLine(QPointF(low, middle), QPointF(high, middle))
        for x, cut, way in ((low, place[0] < 0, -1), (high, place[2] > inner, 1)):
            if cut:
                painter.setPen(QPen(line.color(), 1.2))
                arrow = [QPointF(x + way * 6, middle), QPointF(x, middle - 4), QPointF(x, middle + 4)]
                painter.setBrush(line.color())
                painter.drawPolygon(QPolygonF(arrow))
                painter.setBrush(Qt.BrushStyle.NoBrush)
        return at if 0 <= place[1] <= inner else None

    def _beside(self, step: int, j: int, left: float, inner: float, middle: float) -> bool:
        """The kept model's interval, thicker and paler, below the line; whether it has one."""
        beside = self.ladder.beside
        found = beside.interval(step, j) if beside is not None else None
        if found is None or not np.isfinite(found).all():
            return False
        p, painter = theme.palette(), self.painter
        thick = QPen(colour(p.shade), 3.2)
        thick.setCapStyle(Qt.PenCapStyle.FlatCap)
        at = self._line(list(found), j, left, inner, middle + 4.5, thick)
        if at is not None:
            painter.setPen(pen(p.soft_ink, 1))
            painter.setBrush(colour(p.panel))
            painter.drawRect(QRectF(at - 2.6, middle + 4.5 - 2.6, 5.2, 5.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        return True

    def _dot(self, at: QPointF, filled: bool, size: float, is_pale: bool = False) -> None:
        p, painter = theme.palette(), self.painter
        ink = p.soft_ink if is_pale else p.ink
        painter.setBrush(colour(ink if filled else p.panel))
        painter.setPen(pen(ink, 1.4 if size > 3 else 1.0))
        painter.drawEllipse(at, size, size)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _row_limit(self, j: int) -> float:
        assert self.ladder.fit is not None
        reach = 0.0
        for step in self.ladder.fit.steps:
            if j < step.n_columns and np.isfinite(step.low[j + 1]):
                reach = max(reach, abs(float(step.low[j + 1])), abs(float(step.high[j + 1])))
        return (reach * float(self.ladder.sheet.scale[j]) * 1.08) or 1.0

    def _paint_notch(self, at: QPointF) -> None:
        p, painter = theme.palette(), self.painter
        painter.setPen(pen(p.amber_ink, 1))
        painter.setBrush(colour(p.yellow))
        shape = [QPointF(at.x() - 1, at.y() - 5), QPointF(at.x() + 5, at.y()), QPointF(at.x() - 1, at.y() + 5)]
        painter.drawPolygon(QPolygonF(shape))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_pennant(self, at: QPointF) -> None:
        p, painter = theme.palette(), self.painter
        painter.setPen(pen(p.amber_ink, 1.4))
        painter.drawLine(at, QPointF(at.x(), at.y() + 14))
        painter.setBrush(colour(p.yellow))
        painter.setPen(pen(p.amber_ink, 1))
        painter.drawPolygon(QPolygonF([at, QPointF(at.x() + 11, at.y() + 4), QPointF(at.x(), at.y() + 8)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_figures(self, row: Row, top: int, column: StepColumn, step: StepResult) -> None:
        p, painter, j = theme.palette(), self.painter, row.cell.column
        assert j is not None
        if self.figures is None:
            return
        is_pale = column.step in self.ladder.pale or j < 0
        x = column.x + column.axis
        for (figure, _), width, text in zip(self.figures.figures, self.figures.widths, self.figures.texts(step, j)):
            x += width
            face, wide, up = self.figures.placed(text, figure is CoefficientColumn.B and j >= 0)
            painter.setFont(face)
            painter.setPen(colour(p.soft_ink if is_pale or text == DASH else p.ink))
            painter.drawText(QPointF(x - PAD - wide, top + SIZES.row / 2 + up), text)

    # ---- below the rows, and what is carried over them

    def _paint_begin(self) -> None:
        p, painter, study = theme.palette(), self.painter, self.ladder.session.study
        if self.ladder.coming is not None:
            return
        top = self.ladder.row_top(len(self.ladder.sheet.rows)) + 4
        area = QRectF(4, top, self.ladder.viewport().width() - 12, SIZES.row - 2)
        painter.setPen(pen(p.soft_ink, 1, dashed=True))
        if self.ladder.over is not None and self.ladder.drop_row() == len(self.ladder.sheet.rows):
            painter.setBrush(colour(p.yellow, p.wash))
        painter.drawRoundedRect(area, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        n = len(study.model.blocks) + 1
        text = f"begin block {n}    drop a variable here, choose variables and press Enter, or type a line above"
        painter.drawText(area.adjusted(12, 0, -8, 0), ALIGN_LEFT, text)

    def _paint_carried(self, shown: range) -> None:
        assert self.ladder.over is not None
        p, painter, study = theme.palette(), self.painter, self.ladder.session.study
        landing = self.ladder.landing()
        for index in shown:
            row = self.ladder.sheet.rows[index]
            if row.cell.term is None or row.kind is RowKind.COMPARISON:
                continue
            pad = QRectF(self.ladder.viewport().width() - 40, self.ladder.row_top(index) + 2, 32, SIZES.row - 4)
            painter.setPen(pen(p.soft_ink, 1))
            painter.setBrush(
                colour(p.yellow) if isinstance(landing, Multiplied) and landing.by == row.cell.term else colour(p.panel)
            )
            painter.drawRoundedRect(pad, 4, 4)
            painter.setFont(font(13, "bold"))
            painter.setPen(colour(p.ink))
            painter.drawText(pad, ALIGN_MIDDLE, "×")
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if landing is None:
            return
        term = self.ladder.over[0]
        match landing:
            case Multiplied(by):
                said = label(study, by.times(term))
            case Entered(block):
                said = f"{label(study, term)} into block {block + 1}"
            case _:
                assert_never(landing)
        face = font(12, "bold")
        at = self.ladder.over[1]
        width = QFontMetrics(face).horizontalAdvance(said) + 20
        x = min(at.x() + 14, self.ladder.viewport().width() - width - 50)
        tag = QRectF(x, at.y() + 8, width, 24)
        painter.setPen(pen(p.ink, 1))
        painter.setBrush(colour(p.panel))
        painter.drawRoundedRect(tag, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(face)
        painter.drawText(tag, ALIGN_MIDDLE, said)


def figures_of_test(test: FTest, gap: str) -> str:
    """A test as it stands on a tread, or a dash."""
    return written_test(test, between=gap, decimals=1) or f"F {DASH}"


def _absence(step: StepResult, column: int) -> str:
    """Why no interval is drawn, in a word or two."""
    words = {
        Why.LEFT_OUT: "omitted",
        Why.NOT_ESTIMABLE: "not estimable",
        Why.PERFECT: "perfect fit",
        Why.RESAMPLING: "resampling …",
        Why.SINGULAR: "no resamples",
        Why.TOO_WIDE: "no resamples",
    }
    why = step.why(column)
    return words.get(why, "no interval") if why is not None else "no interval"
