"""Small pictures on the card: a number's histogram, and the outcome by levels."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.data.table import number_text
from yellow_slope.core.fit.asked.summaries import LevelSummary, Portrait
from yellow_slope.core.words.spelling.numerals import MINUS, place

HEIGHT = 104
APART = 38
ROW = 22


class Histogram(QWidget):
    """Bars over the range, mean and SD above, quartiles below."""

    def __init__(self, portrait: Portrait, label: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.summary, self.apart = portrait.rest, portrait.apart
        summary = portrait.rest
        self.setFixedHeight(HEIGHT)
        self.setAccessibleName(f"Distribution of {label}")
        sd = summary.sd
        self.setToolTip(
            f"Mean {place(summary.mean, sd)} and SD {place(sd, sd)} above, quartiles below"
            if np.isfinite(sd)
            else "Where the values lie"
        )

    def sizeHint(self) -> QSize:
        return QSize(230, HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        s, p = self.summary, theme.palette()
        if not s.bars or s.n == 0:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left, top, bottom = 2.0, 20.0, HEIGHT - 26.0
        width = self.width() - 4.0 - APART * len(self.apart)
        span = s.high - s.low
        discrete = span > 0 and len(s.bars) == int(span) + 1
        if discrete:  # a bar stands over its value
            step = width / len(s.bars)

            def at(value: float) -> float:
                return float(left + step * (value - s.low + 0.5))
        else:

            def at(value: float) -> float:
                return float(left + (width * (value - s.low) / span if span > 0 else width / 2))

        tallest = max(*s.bars, *(count for _, count in self.apart), 1)
        part = width / len(s.bars)
        for i, count in enumerate(s.bars):
            height = (bottom - top) * count / tallest
            painter.fillRect(
                QRectF(left + i * part + 0.5, bottom - height, max(1.0, part - 1), height), colour(p.faint_ink)
            )
        painter.setPen(QPen(colour(p.line), 1))
        painter.drawLine(QPointF(left, bottom), QPointF(left + width, bottom))
        if np.isfinite(s.sd) and s.sd > 0:
            painter.setPen(QPen(colour(p.ink), 1.4))
            low, high = at(max(s.low, s.mean - s.sd)), at(min(s.high, s.mean + s.sd))
            painter.drawLine(QPointF(low, 10), QPointF(high, 10))
            painter.drawLine(QPointF(at(s.mean), 5), QPointF(at(s.mean), bottom))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour(p.soft_ink))
        for quartile in s.quartiles:
            x = at(quartile)
            painter.drawPolygon(QPointF(x, bottom + 3), QPointF(x - 3.5, bottom + 9), QPointF(x + 3.5, bottom + 9))
        painter.setPen(colour(p.soft_ink))
        painter.setFont(font(11))
        sd = s.sd if np.isfinite(s.sd) else 1.0
        box = QRectF(left, HEIGHT - 16, width, 14)
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft, place(s.low, sd))
        painter.drawText(box, Qt.AlignmentFlag.AlignRight, place(s.high, sd))
        for i, (value, count) in enumerate(self.apart):
            self._paint_apart(painter, left + width + APART * i, value, (bottom - top) * count / tallest, count)

    def _paint_apart(self, painter: QPainter, left: float, value: float, height: float, count: int) -> None:
        """A value far from all others: its bar stands beyond a break of the axis."""
        p, bottom = theme.palette(), HEIGHT - 26.0
        painter.setPen(QPen(colour(p.soft_ink), 1))
        for x in (left + 5, left + 9):
            painter.drawLine(QPointF(x - 2, bottom + 4), QPointF(x + 2, bottom - 4))
        painter.setPen(QPen(colour(p.ink), 1))
        painter.setBrush(colour(p.yellow))
        painter.drawRect(QRectF(left + 17, bottom - max(2.0, height), 12, max(2.0, height)))
        painter.setFont(font(11, "bold"))
        painter.setPen(colour(p.amber_ink))
        box = QRectF(left + 8, HEIGHT - 18, 30, 16)
        painter.drawText(box, Qt.AlignmentFlag.AlignHCenter, number_text(value).replace("-", MINUS))
        painter.drawText(
            QRectF(left + 8, bottom - max(2.0, height) - 16, 30, 14), Qt.AlignmentFlag.AlignHCenter, str(count)
        )


class OutcomeByLevel(QWidget):
    """The outcome's mean in each level with its interval, on one axis."""

    def __init__(
        self, names: list[str], levels: tuple[LevelSummary, ...], outcome: str, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.names, self.levels = names, levels
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(ROW * len(names) + 18)
        self.setAccessibleName(f"Mean of {outcome} by level")
        told = [f"{n}: {place(x.mean, 1.0)}" for n, x in zip(names, levels) if np.isfinite(x.mean)]
        self.setToolTip(f"Mean of {outcome} with its interval from the level's own cases\n" + "\n".join(told))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p = theme.palette()
        ends = [v for x in self.levels for v in (x.low, x.high, x.mean) if np.isfinite(v)]
        if not ends:
            return
        low, high = min(ends), max(ends)
        span = (high - low) or 1.0
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(12))
        metrics = QFontMetrics(painter.font())
        text = min(0.42 * self.width(), max(metrics.horizontalAdvance(n) for n in self.names) + 8)
        left, width = text + 6, self.width() - text - 14
        for i, (name, level) in enumerate(zip(self.names, self.levels)):
            middle = ROW * i + ROW / 2
            painter.setPen(colour(p.ink))
            shown = metrics.elidedText(name, Qt.TextElideMode.ElideRight, int(text))
            painter.drawText(
                QRectF(0, ROW * i, text, ROW), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, shown
            )
            if not np.isfinite(level.mean):
                continue
            if np.isfinite(level.low):
                painter.setPen(QPen(colour(p.soft_ink), 1.6))
                painter.drawLine(
                    QPointF(left + width * (level.low - low) / span, middle),
                    QPointF(left + width * (level.high - low) / span, middle),
                )
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour(p.ink))
            painter.drawEllipse(QPointF(left + width * (level.mean - low) / span, middle), 3.6, 3.6)
        painter.setPen(colour(p.soft_ink))
        painter.setFont(font(11))
        box = QRectF(left, self.height() - 15, width, 14)
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft, place(low, span / 4))
        painter.drawText(box, Qt.AlignmentFlag.AlignRight, place(high, span / 4))
