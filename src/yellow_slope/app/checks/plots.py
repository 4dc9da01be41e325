"""Plots of a diagnosis, headed by the question they answer."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QToolTip, QWidget

from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.asked.diagnosis import Diagnosis, running_median
from yellow_slope.core.words.spelling.numerals import fixed

SPREAD = "Is the spread even?"
NORMAL = "Are the residuals normal?"
QUESTIONS = (SPREAD, NORMAL)
MIDDLE = Qt.AlignmentFlag.AlignCenter


class CheckPlot(QWidget):
    """One plot; the small ones can be clicked."""

    clicked = pyqtSignal()

    def __init__(self, question: str, small: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.question, self.small, self.current = question, small, False
        self._outcome = ""
        self.diagnosis: Diagnosis | None = None
        self.rows: IntArray | None = None
        self.setAccessibleName(question if not small else f"Show: {question}")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if small else Qt.FocusPolicy.NoFocus)
        self._places: FloatArray = np.zeros((0, 2))

    def show_diagnosis(self, diagnosis: Diagnosis | None, rows: IntArray | None, outcome: str = "") -> None:
        """Take the newest diagnosis."""
        self.diagnosis, self.rows, self._outcome = diagnosis, rows, outcome
        self.update()

    def _can_be_drawn(self, d: Diagnosis) -> bool:
        xs, ys = self._points(d)
        return bool(np.sum(np.isfinite(xs) & np.isfinite(ys)) >= 2)

    def _points(self, d: Diagnosis) -> tuple[FloatArray, FloatArray]:
        if self.question == SPREAD:
            return d.predicted, d.studentized
        return d.normal, d.studentized

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(p.panel))
        if self.diagnosis is None or not self._can_be_drawn(self.diagnosis):
            painter.setFont(font(12 if self.small else 14))
            painter.setPen(colour(p.soft_ink))
            said = "Enter a model at Blocks; its residuals appear here."
            if self.diagnosis is not None:
                said = "Residuals cannot be studentized: the fit is perfect, or every case has leverage 1."
            self._places = np.zeros((0, 2))
            painter.drawText(QRectF(self.rect()), MIDDLE, "" if self.small else said)
            return
        head = 24 if self.small else 8
        area = (
            QRectF(34, head + 4, self.width() - 46, self.height() - head - 28)
            if self.small
            else QRectF(64, 18, self.width() - 90, self.height() - 74)
        )
        if self.small:
            painter.setFont(font(12, "bold"))
            painter.setPen(colour(p.ink))
            painter.drawText(QRectF(8, 2, self.width() - 12, 22), Qt.AlignmentFlag.AlignVCenter, self.question)
        self._paint_axes(painter, area)
        if self.current:
            painter.setPen(QPen(colour(p.yellow), 3))
            painter.drawLine(QPointF(1, 2), QPointF(1, self.height() - 2))
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def _paint_axes(self, painter: QPainter, area: QRectF) -> None:
        p, d = theme.palette(), self.diagnosis
        assert d is not None
        xs, ys = self._points(d)
        low, high = float(np.nanmin(xs)), float(np.nanmax(xs))
        reach = max(3.2, float(np.nanmax(np.abs(ys))) * 1.06)
        span = (high - low) or 1.0
        low, high = low - 0.03 * span, high + 0.03 * span

        def at(x: float, y: float) -> QPointF:
            return QPointF(
                area.x() + (x - low) / (high - low) * area.width(), area.center().y() - y / reach * area.height() / 2
            )

        painter.setPen(QPen(colour(p.line), 1))
        for level in (-2, 2):
            painter.drawLine(at(low, level), at(high, level))
        painter.setPen(QPen(colour(p.soft_ink), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.drawLine(area.topLeft(), area.bottomLeft())
        painter.setPen(QPen(colour(p.ink), 1.2))
        if self.question == SPREAD:
            painter.drawLine(at(low, 0), at(high, 0))
        else:
            a, b = max(low, -reach), min(high, reach)
            painter.drawLine(at(a, a), at(b, b))
        spots = np.column_stack(
            [area.x() + (xs - low) / (high - low) * area.width(), area.center().y() - ys / reach * area.height() / 2]
        )
        self._places = spots
        self._paint_spots(painter, spots, np.abs(ys) > 3)
        if self.question == SPREAD and xs.size > 30:
            self._paint_trend(painter, xs, ys, at)
        self._paint_ticks(painter, area, low, high, reach, at)

    def _paint_spots(self, painter: QPainter, spots: FloatArray, far: BoolArray) -> None:
        p, size = theme.palette(), 3.2 if self.small else 5.4
        seen = np.all(np.isfinite(spots), axis=1)
        near, far = spots[~far & seen], far & seen
        near = near[_thinned(near.shape[0], 1200 if self.small else 4000)]
        painter.setPen(QPen(colour(p.ink, 0.42), size, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawPoints(QPolygonF([QPointF(x, y) for x, y in near.tolist()]))
        painter.setBrush(colour(p.yellow))
        painter.setPen(QPen(colour(p.ink), 1) if not self.small else Qt.PenStyle.NoPen)
        for x, y in spots[far].tolist():
            painter.drawEllipse(QPointF(x, y), 0.75 * size, 0.75 * size)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_trend(
        self, painter: QPainter, xs: FloatArray, ys: FloatArray, at: Callable[[float, float], QPointF]
    ) -> None:
        centers, medians = running_median(xs, np.abs(ys))
        for sign in (-1, 1):
            both = [(float(x), float(y)) for x, y in zip(centers, medians) if np.isfinite(x) and np.isfinite(y)]
            line = QPolygonF([at(x, sign * y) for x, y in both])
            for pen in (QPen(colour(theme.palette().amber_ink), 3), QPen(colour(theme.palette().yellow), 1.6)):
                painter.setPen(pen)
                painter.drawPolyline(line)

    def _paint_ticks(
        self, painter: QPainter, area: QRectF, low: float, high: float, reach: float,
        at: Callable[[float, float], QPointF],
    ) -> None:  # fmt: skip
        p = theme.palette()
        painter.setFont(font(10 if self.small else 12))
        painter.setPen(colour(p.soft_ink))
        for y in (-2, 0, 2):
            point = at(low, y)
            painter.drawText(
                QRectF(area.x() - 40, point.y() - 9, 34, 18),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                fixed(y, 0),
            )
        for x in _round_ticks(low, high, 3 if self.small else 6):
            point = at(x, 0)
            painter.drawText(
                QRectF(point.x() - 30, area.bottom() + 3, 60, 16), MIDDLE, fixed(x, 0 if abs(high - low) > 8 else 1)
            )
        if self.small:
            return
        below = f"{self._outcome}, predicted" if self.question == SPREAD else "expected of a normal distribution (SD)"
        painter.setFont(font(13))
        painter.setPen(colour(p.ink))
        painter.drawText(QRectF(area.x(), area.bottom() + 24, area.width(), 22), MIDDLE, below)
        painter.save()
        painter.translate(16, area.center().y())
        painter.rotate(-90)
        painter.drawText(QRectF(-140, -10, 280, 20), MIDDLE, "studentized residual")
        painter.restore()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if self.small:
            self.clicked.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.clicked.emit()
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            QToolTip.showText(event.globalPos(), self._tip(event.pos().x(), event.pos().y()), self)
            return True
        return super().event(event)

    def _tip(self, x: float, y: float) -> str:
        if self.small or self.diagnosis is None or self.rows is None or not self._places.size:
            return self.question
        distance = np.hypot(self._places[:, 0] - x, self._places[:, 1] - y)
        if np.all(np.isnan(distance)) or np.nanmin(distance) > 8:
            return {
                SPREAD: "Points should form a band of even height; the yellow lines follow its typical half-height.",
                NORMAL: "Points should follow the line; ends that leave it are heavier or lighter tails.",
            }[self.question]
        i = int(np.nanargmin(distance))
        d = self.diagnosis
        return f"row {self.rows[i] + 1}: predicted {fixed(float(d.predicted[i]), 1)}, studentized residual {fixed(float(d.studentized[i]), 2)}"


def _thinned(n: int, most: int) -> IntArray:
    """Which of n points are drawn; all of them unless there are very many."""
    return np.arange(n) if n <= most else np.linspace(0, n - 1, most).astype(np.int64)


def _round_ticks(low: float, high: float, wanted: int) -> list[float]:
    raw = (high - low) / wanted
    power = 10.0 ** np.floor(np.log10(raw)) if raw > 0 else 1.0
    step = next(s * power for s in (1, 2, 5, 10) if s * power >= raw)
    first = np.ceil(low / step) * step
    return [float(x) for x in np.arange(first, high + 1e-9 * step, step)]
