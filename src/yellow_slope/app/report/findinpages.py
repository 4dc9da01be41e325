"""Under the pages: find a text in the report."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QWidget

from yellow_slope.app.report.pages import Pages
from yellow_slope.app.widgets.field import Field
from yellow_slope.core.words.spelling.numerals import counted


class FindInPages(QWidget):
    """Enter goes to the next place, Shift+Enter to the one before, Esc back to the pages."""

    def __init__(self, pages: Pages, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pages = pages
        label = QLabel("Find")
        label.setObjectName("soft")
        self.field = _Field()
        self.field.setFixedWidth(240)
        self.field.setPlaceholderText("a word or a number")
        self.field.setAccessibleName("Find in the report")
        self.field.setToolTip("Enter: the next place; Shift+Enter: the one before; Esc: back to the pages")
        self.said = QLabel()
        self.said.setObjectName("soft")
        self.said.setAccessibleName("What was found in the report")
        shut = QToolButton()
        shut.setText("×")
        shut.setAccessibleName("Close the find bar of the report")
        shut.setToolTip("Back to the pages (Esc)")
        shut.clicked.connect(self.leave)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(label)
        layout.addWidget(self.field)
        layout.addWidget(self.said, 1)
        layout.addWidget(shut)
        self.field.textChanged.connect(self._typed)
        self.field.stepped.connect(self._go)
        self.field.escaped.connect(self.leave)
        self.hide()

    def begin(self) -> None:
        """Take the keyboard."""
        self.show()
        self.field.setFocus()
        self.field.selectAll()
        self._typed(self.field.text())

    def leave(self) -> None:
        """Close, and give the keyboard back to the pages."""
        self.hide()
        self._pages.find_all("")
        self._pages.setFocus()

    def _typed(self, text: str) -> None:
        n = self._pages.find_all(text.strip())
        self.said.setText("" if not text.strip() else counted(n, "place") if n else "nowhere in the report")

    def _go(self, step: int) -> None:
        at = self._pages.find_next(step)
        if at:
            n = self._pages.find_count
            self.said.setText(f"{at} of {counted(n, 'place')}")


class _Field(Field):
    stepped = pyqtSignal(int)
    escaped = pyqtSignal()

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.stepped.emit(-1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.escaped.emit()
                return True
        return super().event(event)
