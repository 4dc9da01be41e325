"""The code sheet: what is clicked and pressed on it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent

from yellow_slope.app.prepare.drawnsheet import DrawnSheet
from yellow_slope.app.widgets.plaintext import show_tip
from yellow_slope.core.study.coding import Dummy, Effect, WeightedEffect
from yellow_slope.core.study.edits.questions import ONE, OTHER, OUT

ARROWS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right)


class CodeSheet(DrawnSheet):
    """A click or a key puts a level of a planned question on a side, or takes a reference."""

    chosen = pyqtSignal(int)
    """A comparison, by its column."""
    level_taken = pyqtSignal(str)
    """A level whose name was clicked."""
    stood = pyqtSignal(int, str, int)
    """Question, level, side."""
    asked_another = pyqtSignal()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.card is None:
            return
        level, column = self._at(event.position())
        if column is None:
            if level is not None:
                self.row = level
                self.level_taken.emit(self.card.levels[level])
            return
        if column == self.n_columns and self.has_room():
            self.asked_another.emit()
            return
        if column >= self.n_columns:
            return
        if level is not None:
            self.row = level
            if self.place_of(column) is not None and not self.as_columns:
                middle = self.column_left(column) + self._width / 2
                near = 12.0
                x = event.position().x()
                side = OTHER if x < middle - near else ONE if x > middle + near else OUT
                self.stand(column, side)
        self.chosen.emit(column)

    def stand(self, column: int, side: int) -> None:
        """Put the current level on a side of a question."""
        place = self.place_of(column)
        if place is not None and self.card is not None:
            self.stood.emit(place, self.card.levels[self.row], side)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self.card is None:
            return
        if event.key() == Qt.Key.Key_Up:
            self.row = max(0, self.row - 1)
        elif event.key() == Qt.Key.Key_Down:
            self.row = min(len(self.card.levels) - 1, self.row + 1)
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            by = 1 if event.key() == Qt.Key.Key_Right else -1
            self.chosen.emit(max(0, min(self.n_columns - 1, (self.current if self.current is not None else -by) + by)))
        else:
            super().keyPressEvent(event)
            return
        self.update()

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and event.key() in ARROWS:
            event.accept()  # the strips around it use the same keys
            return True
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            show_tip(event.globalPos(), self.tip_at(QPointF(event.pos())), self)
            return True
        return super().event(event)

    def tip_at(self, position: QPointF) -> str:
        """What the tooltip says at a place."""
        card, study = self.card, self.study
        if card is None:
            return ""
        level, column = self._at(position)
        variable = study.variable(card.variable)
        if column is None and level is not None:
            name = variable.level(card.levels[level]).label
            if isinstance(card.basis.coding, Dummy):
                return f"{name}: click to make it the reference group (R)"
            if isinstance(card.basis.coding, Effect | WeightedEffect):
                return f"{name}: click to make it the level without its own comparison (R)"
            return f"{name}: {int(card.counts[level])} cases"
        if column is None:
            return ""
        if column >= self.n_columns:
            return "Add a question: a column without levels appears" if self.has_room() else ""
        if level is not None and self.place_of(column) is not None:
            name = variable.level(card.levels[level]).label
            return f"{name}: click left of the middle for −, right for +, in the middle for out (keys −, + and 0)"
        return self.title(column)

    def sizeHint(self) -> QSize:
        return self.size()
