"""One plot of a diagnosis: the image of its page, headed by its question where it is small."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.figures.drawn import Drawn, Size
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.plaintext import show_tip
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.arrays import IntArray
from yellow_slope.core.fit.asked.diagnosis import Diagnosis
from yellow_slope.plots.checks import Check, residual_words

HEAD = 24
"""Height of a small plot's question."""


class CheckPlot(QWidget):
    """One plot; the small ones can be clicked."""

    clicked = pyqtSignal()
    resized = pyqtSignal()

    def __init__(self, check: Check, small: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.check, self.small, self.current = check, small, False
        self.drawn: Drawn | None = None
        self.said = ""
        """What stands in place of a plot."""
        self._diagnosis: Diagnosis | None = None
        self._rows: IntArray | None = None
        self.setAccessibleName(check.question if not small else f"Show: {check.question}")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if small else Qt.FocusPolicy.NoFocus)

    @property
    def size_of_plot(self) -> Size:
        """The room of the plot itself."""
        return Size(self.width(), self.height() - (HEAD if self.small else 0), self.devicePixelRatioF())

    def show_drawn(self, drawn: Drawn | None, diagnosis: Diagnosis | None, rows: IntArray | None) -> None:
        """Take the newest picture, and what it is a picture of."""
        self.drawn, self._diagnosis, self._rows, self.said = drawn, diagnosis, rows, ""
        self.update()

    def say(self, text: str) -> None:
        """Say why there is no plot."""
        self.drawn, self.said = None, text
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.fillRect(self.rect(), colour(p.panel))
        if self.small:
            painter.setFont(font(12, "bold"))
            painter.setPen(colour(p.ink))
            painter.drawText(
                QRectF(8, 2, self.width() - 12, HEAD - 2), Qt.AlignmentFlag.AlignVCenter, self.check.question
            )
        if self.drawn is not None:
            painter.drawImage(QPointF(0, HEAD if self.small else 0), self.drawn.image)
        elif not self.small:
            painter.setFont(font(14))
            painter.setPen(colour(p.soft_ink))
            flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
            painter.drawText(QRectF(self.rect()).adjusted(20, 0, -20, 0), flags, self.said)
        if self.current:
            painter.setPen(QPen(colour(p.yellow), 3))
            painter.drawLine(QPointF(1, 2), QPointF(1, self.height() - 2))
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resized.emit()

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
            show_tip(event.globalPos(), self.tip(event.pos().x(), event.pos().y()), self)
            return True
        return super().event(event)

    def tip(self, x: float, y: float) -> str:
        """The case that stands there, else what to look for; of a small plot its question."""
        if self.small or self.drawn is None or self._diagnosis is None or self._rows is None:
            return self.check.question
        hit = self.drawn.page.hit(x, y)
        if hit is not None and hit.case is not None:
            return residual_words(self._diagnosis, int(self._rows[hit.case]), hit.case)
        return self.check.advice
