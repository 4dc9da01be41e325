"""Rows that are painted, scrolled and explained by tooltips: what roster, ladder and the table of effects share."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QHelpEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QScrollBar, QWidget

from yellow_slope.app.widgets.plaintext import show_tip


class PaintedRows(QAbstractScrollArea):
    """Rows of one height below a head that does not scroll."""

    def __init__(self, name: str, row: int, head: int = 0, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._row, self._head = row, head
        self._kept = 0  # the row last brought into view; it stays there when the area gets lower
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(name)

    def viewport(self) -> QWidget:
        """The widget that the rows are painted on; it is always there."""
        found = super().viewport()
        assert found is not None
        return found

    def verticalScrollBar(self) -> QScrollBar:
        """The scroll bar of the rows; it is always there."""
        found = super().verticalScrollBar()
        assert found is not None
        return found

    def whole_height(self) -> int:
        """Height of all rows together."""
        raise NotImplementedError

    def tip_at(self, position: QPoint) -> str:
        """What the tooltip says at a place of the viewport."""
        return self.toolTip()

    @property
    def scrolled(self) -> int:
        """How far down the rows are scrolled."""
        return self.verticalScrollBar().value()

    @property
    def room(self) -> int:
        """Height below the head."""
        return self.viewport().height() - self._head

    def row_top(self, index: int) -> int:
        """Top of a row in the viewport."""
        return self._head + index * self._row - self.scrolled

    def fit_scroll(self) -> None:
        """Fit the scroll bar to the rows, and draw."""
        bar = self.verticalScrollBar()
        bar.setRange(0, max(0, -((self.room - self.whole_height()) // self._row) * self._row))  # whole rows
        bar.setPageStep(self.room)
        bar.setSingleStep(self._row)
        self.viewport().update()

    def show_row(self, index: int) -> None:
        """Scroll as little as brings the row into view, by whole rows."""
        self._kept = index
        top, at = index * self._row, self.scrolled
        if not at <= top <= at + self.room - self._row:
            self.verticalScrollBar().setValue(min(top, -((self.room - self._row - top) // self._row) * self._row))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        before = 0 if event is None else event.oldSize().height()
        in_sight = self._head <= self.row_top(self._kept) <= before - self._row
        self.fit_scroll()
        if in_sight:
            self.show_row(self._kept)
        super().resizeEvent(event)

    def viewportEvent(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            show_tip(event.globalPos(), self.tip_at(event.pos()), self.viewport())
            return True
        return super().viewportEvent(event)
