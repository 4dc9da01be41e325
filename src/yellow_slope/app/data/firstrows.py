"""The first rows of a file as another way of reading would have them, shown while a choice is looked at."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QWidget

from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.data.table import NumberColumn, Table
from yellow_slope.core.words.spelling.numerals import counted

ROWS, ROW, CELL, HEAD = 6, 20, 112, 44
HEIGHT = HEAD + ROWS * ROW + 10


class FirstRows(QFrame):
    """Lies over the table; takes no keyboard and no mouse."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("popup")
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("The first rows as they would be read")
        self.title, self._table, self.trouble = "", None, ""  # type: tuple[str, Table | None, str]
        self.hide()

    def show_table(self, title: str, table: Table | None, trouble: str, area: QRectF) -> None:
        """Show the first rows there, or why the file cannot be read so."""
        self.title, self._table, self.trouble = title, table, trouble
        self.setGeometry(area.toRect())
        self.setFixedHeight(HEIGHT)
        self.setAccessibleDescription(f"{title}. {trouble or self.text()}")
        self.raise_()
        self.show()
        self.update()

    def text(self) -> str:
        """Names and first cells in one line."""
        table = self._table
        if table is None:
            return ""
        first = [f"{c.name} {c.text(0)}".strip() for c in table.columns[:8]] if table.n_rows else list(table.names[:8])
        return f"{counted(len(table.columns), 'column')}: {', '.join(first)}"

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter, p = QPainter(self), theme.palette()
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        said = self.title
        if self._table is not None:
            n, room = len(self._table.columns), max(1, (self.width() - 24) // CELL)
            said += f": {counted(n, 'column')}" + (f", the first {room} of them" if n > room else "")
        painter.drawText(QRectF(12, 4, self.width() - 24, 18), Qt.AlignmentFlag.AlignVCenter, said)
        if self.trouble or self._table is None:
            painter.setPen(colour(p.amber_ink))
            wrapped = int(Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap)
            painter.drawText(QRectF(12, 26, self.width() - 24, self.height() - 30), wrapped, self.trouble)
            return
        shown = self._table.columns[: max(1, (self.width() - 24) // CELL)]
        each = max(CELL, min(3 * CELL, (self.width() - 24) // len(self._table.columns)))
        each = self.width() - 24 if len(self._table.columns) == 1 else each
        for j, column in enumerate(shown):
            left = 12 + j * each
            self._cell(painter, column.name, QRectF(left, 22, each - 8, ROW), True, column.is_numeric)
            strays = {s.row: s.text for s in column.stray} if isinstance(column, NumberColumn) else {}
            for row in range(min(ROWS, self._table.n_rows)):
                area = QRectF(left, HEAD + row * ROW, each - 8, ROW)
                self._cell(painter, strays.get(row) or column.text(row) or "–", area, False, column.is_numeric)
        painter.setPen(QPen(colour(p.line), 1))
        painter.drawLine(12, HEAD - 1, self.width() - 12, HEAD - 1)

    def _cell(self, painter: QPainter, text: str, area: QRectF, is_name: bool, is_number: bool) -> None:
        face = font(12, "bold" if is_name else "normal")
        painter.setFont(face)
        painter.setPen(colour(theme.palette().ink))
        side = Qt.AlignmentFlag.AlignRight if is_number else Qt.AlignmentFlag.AlignLeft
        shown = QFontMetrics(face).elidedText(text.replace("\n", " "), Qt.TextElideMode.ElideRight, int(area.width()))
        painter.drawText(area, side | Qt.AlignmentFlag.AlignVCenter, shown)
