"""A field for a line of text that leaves undo and redo to the study where nothing typed is left to take back."""

from __future__ import annotations

from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QLineEdit


class Field(QLineEdit):
    """A toolkit's field takes the keys for undo even when it has nothing to undo."""

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            undo = event.matches(QKeySequence.StandardKey.Undo) and not self.isUndoAvailable()
            redo = event.matches(QKeySequence.StandardKey.Redo) and not self.isRedoAvailable()
            if undo or redo:
                event.ignore()
                return False
        return super().event(event)


class NamesField(Field):
    """Takes the names of all levels at once."""
