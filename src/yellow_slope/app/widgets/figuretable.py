"""A painted table of figures: names at the left stay while the rest scrolls, a second line may stand below a figure."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.paintedrows import PaintedRows
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.values import dataclass

RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
LINE, HEAD = 26, 28
PAD = 14
LEAST_NAMES, MOST_NAMES = 150, 460


@dataclass(frozen=True, slots=True)
class FigureRow:
    """A row: its name, its figures, and what stands below them in small type."""

    name: str
    cells: tuple[str, ...] = ()
    below: tuple[str, ...] = ()
    strong: bool = False
    """A heading, or what is chosen beyond the table."""
    notes: tuple[str, ...] = ()
    """For each figure what its tooltip says; empty: nothing."""
    whole: str = ""
    """What the row says in a sentence."""
    second: str = ""
    """What stands below the name in small type."""


@dataclass(frozen=True, slots=True)
class FigureColumn:
    """A column's title, and what its tooltip says."""

    title: str
    note: str = ""
    strong: bool = False


class FigureTable(PaintedRows):
    """Shows rows; says which was chosen by mouse or keys."""

    row_chosen = pyqtSignal(int)
    column_chosen = pyqtSignal(int)
    """A click on the title of a column."""

    def __init__(self, name: str, help: str, parent: QWidget | None = None) -> None:
        super().__init__(name, LINE, HEAD, parent)
        self.setToolTip(help)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setMouseTracking(True)
        self.rows: tuple[FigureRow, ...] = ()
        self.head: tuple[FigureColumn, ...] = ()
        self.corner = ""
        """What stands over the names."""
        self.chosen: int | None = None
        self.is_chosen: Callable[[int], bool] = lambda index: index == self.chosen
        self._widths: tuple[int, ...] = ()
        self._names = LEAST_NAMES

    def show_rows(self, head: tuple[FigureColumn, ...], rows: tuple[FigureRow, ...], corner: str = "") -> None:
        """Show these; what was chosen stays chosen where it is still there."""
        self.head, self.rows, self.corner = head, rows, corner
        self._row = LINE + (16 if any(row.below or row.second for row in rows) else 0)
        if self.chosen is not None and self.chosen >= len(rows):
            self.chosen = None
        self._measure()
        self.fit_scroll()

    def _measure(self) -> None:
        bold, plain, small = QFontMetrics(font(12, "bold")), QFontMetrics(font(12)), QFontMetrics(font(11))
        widths = [bold.horizontalAdvance(column.title) + PAD for column in self.head]
        for row in self.rows:
            metrics = bold if row.strong else plain
            for k, text in enumerate(row.cells):
                widths[k] = max(widths[k], metrics.horizontalAdvance(text) + PAD)
            for k, text in enumerate(row.below):
                widths[k] = max(widths[k], small.horizontalAdvance(text) + PAD)
        self._widths = tuple(widths)
        wanted = max((bold.horizontalAdvance(row.name) + 24 for row in self.rows), default=0)
        wanted = max([wanted, *(small.horizontalAdvance(row.second) + 36 for row in self.rows)])
        spare = self.viewport().width() - sum(widths)
        self._names = max(min(wanted, MOST_NAMES, max(spare, LEAST_NAMES)), LEAST_NAMES)

    # ---- geometry

    def whole_height(self) -> int:
        """Height of all rows together."""
        return len(self.rows) * self._row

    @property
    def wanted_height(self) -> int:
        """Height at which nothing scrolls."""
        return HEAD + self.whole_height() + 4

    def fit_scroll(self) -> None:
        super().fit_scroll()
        bar = self.horizontalScrollBar()
        if bar is not None:
            bar.setRange(0, max(0, self._names + sum(self._widths) - self.viewport().width()))
            bar.setSingleStep(60)
            bar.setPageStep(self.viewport().width())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._measure()
        super().resizeEvent(event)
        self.fit_scroll()

    def _left(self, column: int) -> int:
        """Left end of a figure's column; figures stand at the right where there is room."""
        bar = self.horizontalScrollBar()
        scrolled = bar.value() if bar is not None else 0
        begin = max(self._names, self.viewport().width() - sum(self._widths))
        return begin + sum(self._widths[:column]) - scrolled

    def column_at(self, x: int) -> int | None:
        """The figure's column at a place of the viewport."""
        if x < self._names:
            return None
        for k, width in enumerate(self._widths):
            if self._left(k) <= x < self._left(k) + width:
                return k
        return None

    def row_at(self, y: int) -> int | None:
        """The row at a height of the viewport."""
        index = (y - HEAD + self.scrolled) // self._row
        return index if y >= HEAD and 0 <= index < len(self.rows) else None

    # ---- drawing

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self.viewport()), theme.palette()
        width, height = self.viewport().width(), self.viewport().height()
        painter.fillRect(self.viewport().rect(), colour(p.panel))
        names = max(self._names, 0)
        painter.setPen(colour(p.soft_ink))
        painter.setFont(font(12))
        painter.drawText(QRectF(10, 0, names - 14, HEAD), LEFT, _elided(painter, self.corner, names - 14))
        painter.setClipRect(names, 0, width - names, height)
        for k, column in enumerate(self.head):
            painter.setFont(font(12, "bold" if column.strong else "normal", italic=column.title in ("b", "p")))
            painter.setPen(colour(p.ink if column.strong else p.soft_ink))
            painter.drawText(QRectF(self._left(k), 0, self._widths[k] - 6, HEAD), RIGHT, column.title)
        painter.setClipping(False)
        painter.setPen(QPen(colour(p.soft_ink, 0.6), 1))
        painter.drawLine(0, HEAD - 1, width, HEAD - 1)
        painter.setClipRect(0, HEAD, width, height - HEAD)
        first = max(0, self.scrolled // self._row)
        for index in range(first, min(len(self.rows), first + height // self._row + 2)):
            self._paint_row(painter, index, self.row_top(index), names)
        painter.setClipping(False)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.drawRect(self.viewport().rect().adjusted(1, 1, -1, -1))

    def _paint_row(self, painter: QPainter, index: int, top: int, names: int) -> None:
        p, row, width = theme.palette(), self.rows[index], self.viewport().width()
        if self.is_chosen(index):
            painter.fillRect(QRectF(0, top, width, self._row), colour(p.yellow, p.wash))
            painter.fillRect(QRectF(0, top, 3, self._row), colour(p.yellow))
        face = font(12, "bold" if row.strong else "normal")
        painter.setFont(face)
        painter.setPen(colour(p.ink))
        room = names - 14 if row.cells else width - 20
        painter.drawText(QRectF(10, top, room, LINE), LEFT, _elided(painter, row.name, room))
        if row.second:
            painter.setFont(font(11))
            painter.setPen(colour(p.soft_ink))
            painter.drawText(QRectF(24, top + 17, room - 14, LINE), LEFT, _elided(painter, row.second, room - 14))
        painter.setPen(QPen(colour(p.line), 1))
        painter.drawLine(0, top + self._row - 1, width, top + self._row - 1)
        painter.save()
        painter.setClipRect(names, HEAD, width - names, self.viewport().height() - HEAD)
        for k, text in enumerate(row.cells):
            painter.setFont(face)
            painter.setPen(colour(p.ink))
            area = QRectF(self._left(k), top, self._widths[k] - 6, LINE)
            painter.drawText(area, RIGHT, text)
            if k < len(row.below) and row.below[k]:
                painter.setFont(font(11))
                painter.setPen(colour(p.soft_ink))
                painter.drawText(area.translated(0, 17), RIGHT, row.below[k])
        painter.restore()

    # ---- choosing

    def choose(self, index: int) -> None:
        """Choose a row."""
        if 0 <= index < len(self.rows):
            self.chosen = index
            self.show_row(index)
            row = self.rows[index]
            self.setAccessibleDescription(row.whole or ", ".join((row.name, *row.cells)))
            self.row_chosen.emit(index)
            self.viewport().update()

    def go(self, by: int) -> None:
        """Go that many rows on."""
        now = -1 if self.chosen is None else self.chosen
        self.choose(max(0, min(len(self.rows) - 1, now + by)))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        x, y = int(event.position().x()), int(event.position().y())
        if y < HEAD:
            column = self.column_at(x)
            if column is not None:
                self.column_chosen.emit(column)
            return
        index = self.row_at(y)
        if index is not None:
            self.choose(index)

    def tip_at(self, position: QPoint) -> str:
        """What a title or a figure says; else how to use the table."""
        column, index = self.column_at(position.x()), self.row_at(position.y())
        if index is None:
            return self.head[column].note or self.toolTip() if column is not None else self.toolTip()
        row = self.rows[index]
        if column is not None and column < len(row.notes) and row.notes[column]:
            return row.notes[column]
        return row.whole or row.name


def _elided(painter: QPainter, text: str, room: int) -> str:
    return QFontMetrics(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, max(0, room))
