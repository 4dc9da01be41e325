"""How the ladder's sheet is drawn."""

from __future__ import annotations

from typing import Protocol

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QFontMetrics, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from yellow_slope.app import theme
from yellow_slope.app.blocks.sheet import FIGURES, HEAD, Row, Sheet, StepColumn, tick
from yellow_slope.app.desk import Cell
from yellow_slope.app.session import StudySession
from yellow_slope.app.theme import colour, font
from yellow_slope.core.fit.evaluate import Fit
from yellow_slope.core.fit.inference import FTest, Why
from yellow_slope.core.fit.steps import StepResult
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names import label
from yellow_slope.core.words.numerals import (
    bounded,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    p_relation,
    p_value,
    padded,
)
from yellow_slope.core.words.reasons import DASH
from yellow_slope.looks import SIZES

PAD = 8
ALIGN_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
ALIGN_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
ALIGN_MIDDLE = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter


class Drawn(Protocol):
    """What is drawn: the ladder, as far as the drawing knows it."""

    session: StudySession
    sheet: Sheet
    over: tuple[Term, QPoint] | None

    @property
    def fit(self) -> Fit | None: ...
    def viewport(self) -> QWidget: ...
    def hasFocus(self) -> bool: ...
    def columns(self) -> list[StepColumn]: ...
    def row_top(self, index: int) -> int: ...
    def rect_of(self, cell: Cell) -> QRectF | None: ...
    def names_width(self) -> int: ...
    def drop_row(self) -> int | None: ...
    def landing(self) -> tuple[str, int, Term | None]: ...


class LadderDrawing:
    """One drawing of a ladder; it lives as long as one paint event."""

    def __init__(self, ladder: Drawn, painter: QPainter) -> None:
        self.ladder, self.painter = ladder, painter
        self._most: dict[int, int] = {}

    def draw(self) -> None:
        """Draw everything."""
        p, painter, ladder = theme.palette(), self.painter, self.ladder
        height, width = ladder.viewport().height(), ladder.viewport().width()
        painter.fillRect(ladder.viewport().rect(), colour(p.paper))
        columns = ladder.columns()
        for column in columns:
            if column.is_open:
                painter.fillRect(column.x, 0, column.width + 4, height, colour(p.panel))
        painter.save()
        painter.setClipRect(0, HEAD, width, height - HEAD)
        for index, row in enumerate(ladder.sheet.rows):
            top = ladder.row_top(index)
            if HEAD - SIZES.row < top < height:
                self._paint_row(painter, row, top, columns)
        self._paint_begin(painter)
        painter.restore()
        self._paint_heads(painter, columns)
        if ladder.over is not None:
            self._paint_carried(painter)
        if ladder.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            current = ladder.rect_of(ladder.session.desk.cell) if ladder.session.desk.cell else None
            painter.drawRect((current or QRectF(ladder.viewport().rect())).adjusted(1, 0, -2, 0))

    def _paint_heads(self, painter: QPainter, columns: list[StepColumn]) -> None:
        p, fit = theme.palette(), self.ladder.fit
        painter.setPen(QPen(colour(p.soft_ink, 0.6), 1))
        painter.drawLine(0, HEAD - 1, self.ladder.viewport().width(), HEAD - 1)
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
            limit = self.ladder.sheet.limit
            mark = tick(limit)
            painter.setFont(font(11))
            painter.setPen(colour(p.soft_ink))
            for value in (-mark, 0.0, mark) if not self.ladder.session.desk.own_scales else (0.0,):
                x = column.x + 4 + inner * (value / limit + 1) / 2
                text = fixed(value, 0 if mark >= 1 else 2)
                painter.drawText(QRectF(x - 30, 37, 60, 16), ALIGN_MIDDLE, f"+{text}" if value > 0 else text)
            if column.is_open:
                x = column.x + column.axis
                for title, width in FIGURES:
                    painter.setFont(font(12, "bold", italic=title in "bp"))
                    said = f"{level_text(self._confidence())} CI" if title == "CI" else title
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
        p, desk, width = theme.palette(), self.ladder.session.desk, self.ladder.viewport().width()
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
        names = self.ladder.names_width()
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
        room = (
            (columns[row.step].x if row.kind == "block" and columns and row.step is not None else names)
            - left
            - SIZES.gutter
            - 2
        )
        painter.drawText(QRectF(left, top, room, SIZES.row), ALIGN_LEFT, _elided(face, row.text, int(room)))
        if row.flags:
            self._paint_pennant(painter, QPointF(names - SIZES.gutter, top + 5))
        for column in columns:
            self._paint_cell(painter, row, top, column)

    def _paint_cell(self, painter: QPainter, row: Row, top: int, column: StepColumn) -> None:
        fit = self.ladder.fit
        if fit is None or row.step is None or (column.step < row.step and row.kind != "constant"):
            return
        step = fit.steps[column.step]
        if row.kind == "block":
            if column.step == row.step:
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
        text = f"+{gain}   {_test_text(test, '   ')}"
        face = font(12, "medium")
        painter.setFont(face)
        wanted = QFontMetrics(face).horizontalAdvance(text) + 16
        x = min(column.x, self.ladder.viewport().width() - wanted - 6)
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
        text = f"joint  {_test_text(test, ',  ')}"
        painter.drawText(QRectF(column.x, top, column.width - PAD, SIZES.row), ALIGN_RIGHT, text)

    def _paint_interval(self, painter: QPainter, row: Row, top: int, column: StepColumn, step: StepResult) -> None:
        p, j = theme.palette(), row.cell.column
        assert j is not None
        i, middle = j + 1, top + SIZES.row / 2
        inner, left = column.axis - 12, column.x + 4
        painter.setPen(QPen(colour(p.line), 1.4))
        painter.drawLine(QPointF(left + inner / 2, top + 2), QPointF(left + inner / 2, top + SIZES.row - 2))
        if not np.isfinite(step.low[i]):
            painter.setFont(font(11))
            painter.setPen(colour(p.amber_ink))
            painter.drawText(QRectF(left, top, inner, SIZES.row), ALIGN_MIDDLE, _absence(step, j))
            return
        factor = float(self.ladder.sheet.scale[j])
        limit = self._row_limit(j) if self.ladder.session.desk.own_scales else self.ladder.sheet.limit
        ends = (float(v[i]) * factor for v in (step.low, step.b, step.high))
        place = [inner * (value / limit + 1) / 2 for value in ends]
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
        read = self.ladder.session.view.reader if self.ladder.session.view else None
        if read is not None and row.cell.term is not None and read.meaning_changed(column.step, row.cell.term):
            self._paint_notch(painter, QPointF(column.x - 1, middle))

    def _row_limit(self, j: int) -> float:
        assert self.ladder.fit is not None
        reach = 0.0
        for step in self.ladder.fit.steps:
            if j < step.n_columns and np.isfinite(step.low[j + 1]):
                reach = max(reach, abs(float(step.low[j + 1])), abs(float(step.high[j + 1])))
        return (reach * float(self.ladder.sheet.scale[j]) * 1.08) or 1.0

    def _level(self) -> float:
        return self._confidence()

    def _confidence(self) -> float:
        """The confidence level of what is shown."""
        return self.ladder.fit.last.level if self.ladder.fit is not None else 0.95

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
        found = step.coefficient(j)
        if np.isnan(found.b):
            painter.setFont(font(12))
            painter.setPen(colour(p.soft_ink))
            painter.drawText(QRectF(column.x + column.axis, top, FIGURES[0][1] - PAD, SIZES.row), ALIGN_RIGHT, DASH)
            return
        decimals = _decimals_of(step, j + 1)
        room = self._decimals(step) - decimals
        texts = [padded(fixed(found.b, decimals), room), padded(interval(found.low, found.high, decimals), room)]
        texts += ["", "", ""] if j < 0 else [bounded(found.beta, 2), p_value(found.p), fixed(found.vif, 1)]
        if found.why is not None:
            texts[1:4] = [DASH, DASH, DASH]
        x = column.x + column.axis
        for (title, width), text in zip(FIGURES, texts):
            painter.setFont(font(12, "bold" if title == "b" and j >= 0 else "normal"))
            painter.setPen(colour(p.ink if j >= 0 else p.soft_ink))
            painter.drawText(QRectF(x, top, width - PAD, SIZES.row), ALIGN_RIGHT, text)
            x += width

    def _decimals(self, step: StepResult) -> int:
        """Decimals of the coefficient that has most."""
        if step.index not in self._most:
            here = np.flatnonzero(np.isfinite(step.b))
            shown = here if here.size <= 200 else here[:200]
            self._most[step.index] = max((_decimals_of(step, int(i)) for i in shown), default=2)
        return self._most[step.index]

    def _paint_begin(self, painter: QPainter) -> None:
        p, study = theme.palette(), self.ladder.session.study
        if study is None:
            return
        top = self.ladder.row_top(len(self.ladder.sheet.rows)) + 4
        area = QRectF(4, top, self.ladder.viewport().width() - 12, SIZES.row - 2)
        pen = QPen(colour(p.soft_ink), 1, Qt.PenStyle.DashLine)
        painter.setPen(pen)
        if self.ladder.over is not None and self.ladder.drop_row() == len(self.ladder.sheet.rows):
            painter.setBrush(colour(p.yellow, p.wash))
        painter.drawRoundedRect(area, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        n = len(study.model.blocks) + 1
        text = f"begin block {n}    drop a variable here, choose variables and press Enter, or type a line above"
        painter.drawText(area.adjusted(12, 0, -8, 0), ALIGN_LEFT, text)

    def _paint_carried(self, painter: QPainter) -> None:
        assert self.ladder.over is not None
        p, study = theme.palette(), self.ladder.session.study
        what, block, partner = self.ladder.landing()
        for index, row in enumerate(self.ladder.sheet.rows):
            if row.cell.term is None or row.kind == "comparison":
                continue
            pad = QRectF(self.ladder.viewport().width() - 40, self.ladder.row_top(index) + 2, 32, SIZES.row - 4)
            painter.setPen(QPen(colour(p.soft_ink), 1))
            painter.setBrush(colour(p.yellow) if partner == row.cell.term else colour(p.panel))
            painter.drawRoundedRect(pad, 4, 4)
            painter.setFont(font(13, "bold"))
            painter.setPen(colour(p.ink))
            painter.drawText(pad, ALIGN_MIDDLE, "×")
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if study is None or not what:
            return
        name = label(study, self.ladder.over[0])
        said = f"{label(study, partner.times(self.ladder.over[0]))}" if partner else f"{name} into block {block + 1}"
        face = font(12, "bold")
        at = self.ladder.over[1]
        width = QFontMetrics(face).horizontalAdvance(said) + 20
        x = min(at.x() + 14, self.ladder.viewport().width() - width - 50)
        tag = QRectF(x, at.y() + 8, width, 24)
        painter.setPen(QPen(colour(p.ink), 1))
        painter.setBrush(colour(p.panel))
        painter.drawRoundedRect(tag, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(face)
        painter.drawText(tag, ALIGN_MIDDLE, said)


def _elided(face: QFont, text: str, room: int) -> str:
    return QFontMetrics(face).elidedText(text, Qt.TextElideMode.ElideRight, max(0, room))


def _decimals_of(step: StepResult, i: int) -> int:
    return estimate_decimals(*(float(v[i]) for v in (step.se, step.b, step.low, step.high)))


def _test_text(test: FTest, gap: str) -> str:
    """A test as it stands on a tread, or a dash."""
    if np.isnan(test.f):
        return f"F {DASH}"
    return f"F({test.df1}, {test.df2}) = {fixed(test.f, 1)}{gap}p {p_relation(test.p)}"


def _absence(step: StepResult, column: int) -> str:
    """Why no interval is drawn, in a word or two."""
    words = {Why.LEFT_OUT: "left out", Why.NOT_ESTIMABLE: "not told apart", Why.PERFECT: "perfect fit"}
    why = step.why(column)
    return words.get(why, "no interval") if why is not None else "no interval"
