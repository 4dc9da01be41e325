"""The product and its rivals, a row each, as they are laid out on a page; one row is chosen."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent

from yellow_slope.app.figures.drawn import Drawn, Size
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.paintedrows import PaintedRows
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.study.checks import Check
from yellow_slope.core.words.sentences.checks import advice, check_title
from yellow_slope.plots.marks import OfRival, Rect, Text
from yellow_slope.plots.rivals import rival_at, row_box

STEP = 24


class StandTable(PaintedRows):
    """Shows the page, scrolled where it is taller than the room; says which row was chosen."""

    resized = pyqtSignal()
    row_chosen = pyqtSignal(int)
    """-1: the product as it stands."""
    adopted = pyqtSignal(bool)
    """The chosen row is wanted; whether as a second model."""

    def __init__(self) -> None:
        super().__init__(check_title(Check.STAND), STEP)
        self.setToolTip(advice(Check.STAND))
        self.drawn: Drawn | None = None
        self.said = ""
        self.chosen: int | None = None

    @property
    def size_of_plot(self) -> Size:
        """The room of the page."""
        return Size(max(1, self.viewport().width()), max(1, self.viewport().height()), self.devicePixelRatioF())

    def show_drawn(self, drawn: Drawn) -> None:
        """Take the newest picture."""
        self.drawn, self.said = drawn, ""
        self.fit_scroll()

    def say(self, text: str) -> None:
        """Say why there is none."""
        self.drawn, self.said = None, text
        self.fit_scroll()

    def whole_height(self) -> int:
        """Height of the page."""
        return int(self.drawn.page.height) if self.drawn is not None else 0

    @property
    def order(self) -> list[int]:
        """The rows from top to bottom."""
        if self.drawn is None:
            return []
        boxes = [m for m in self.drawn.page.marks if isinstance(m, Rect) and isinstance(m.about, OfRival)]
        rows = [m for m in boxes if m.box.left == 0.0]
        return [m.about.index for m in sorted(rows, key=lambda m: m.box.top) if isinstance(m.about, OfRival)]

    def choose(self, index: int) -> None:
        """Choose a row and bring it into view."""
        self.show_chosen(index)
        self.row_chosen.emit(index)

    def show_chosen(self, index: int | None) -> None:
        """Show a row as the chosen one."""
        self.chosen = index
        if index is None:
            self.viewport().update()
            return
        box = row_box(self.drawn.page, index) if self.drawn is not None else None
        bar = self.verticalScrollBar()
        if box is not None and not bar.value() <= box.top <= box.bottom <= bar.value() + self.viewport().height():
            bar.setValue(int(box.top - self.viewport().height() / 2))
        self.viewport().update()

    # ---- drawing

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self.viewport()), theme.palette()
        painter.fillRect(self.viewport().rect(), colour(p.panel))
        if self.drawn is None:
            painter.setFont(font(14))
            painter.setPen(colour(p.soft_ink))
            flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
            painter.drawText(QRectF(self.viewport().rect()).adjusted(20, 0, -20, 0), flags, self.said)
        else:
            painter.drawImage(QPointF(0, -self.scrolled), self.drawn.image)
            box = row_box(self.drawn.page, self.chosen) if self.chosen is not None else None
            if box is not None:
                area = QRectF(0, box.top - self.scrolled, self.viewport().width(), box.height)
                painter.fillRect(area, colour(p.yellow, p.wash))
                painter.fillRect(QRectF(0, area.top(), 3, area.height()), colour(p.yellow))
        if self.hasFocus():
            painter.setPen(colour(p.yellow))
            painter.drawRect(self.viewport().rect().adjusted(1, 1, -2, -2))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resized.emit()

    def tip_at(self, position: QPoint) -> str:
        """The whole of a shortened text; else how to use the table."""
        if self.drawn is not None:
            hit = self.drawn.page.text_at(position.x(), position.y() + self.scrolled)
            if isinstance(hit, Text) and hit.whole:
                return hit.whole
        return self.toolTip()

    # ---- choosing

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.drawn is None:
            return
        index = rival_at(self.drawn.page, event.position().y() + self.scrolled)
        if index is not None:
            self.choose(index)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        order, key = self.order, event.key()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.adopted.emit(bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
            return
        at = order.index(self.chosen) if self.chosen in order else -1
        moves = {Qt.Key.Key_Up: at - 1, Qt.Key.Key_Down: at + 1, Qt.Key.Key_Home: 0, Qt.Key.Key_End: len(order) - 1}
        if order and key in moves:
            self.choose(order[min(max(moves[Qt.Key(key)], 0), len(order) - 1)])
            return
        super().keyPressEvent(event)
