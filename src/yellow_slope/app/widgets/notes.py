"""Notes that have no room where they belong: a link that opens all of them, by click or key."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QFrame, QLabel, QPushButton, QVBoxLayout, QWidget

WIDTH = 380


class MoreNotes(QPushButton):
    """“2 more …”: opens what a card has no room for, over it; Esc, or a click elsewhere, closes it."""

    def __init__(self, all_notes: Callable[[], Sequence[str]], parent: QWidget) -> None:
        super().__init__(parent)
        self._notes = all_notes
        self.opened: QFrame | None = None
        self.setObjectName("link")
        self.setAccessibleName("Show all notes")
        self.setToolTip("Show all notes of this card (Enter; Esc closes them)")
        self.clicked.connect(lambda _=False: self.open())
        self.hide()

    def say(self, left: int) -> None:
        """How many have no room; hidden where all have."""
        self.setText(f"{left} more …")
        self.setVisible(left > 0)

    def open(self) -> None:
        """Open them above the link."""
        frame = QFrame(self, Qt.WindowType.Popup)
        frame.setObjectName("popup")
        frame.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        frame.setAccessibleName("All notes")
        layout = QVBoxLayout(frame)
        layout.setContentsMargins(12, 10, 12, 10)
        layout.setSpacing(6)
        for note in self._notes():
            label = QLabel(note)
            label.setTextFormat(Qt.TextFormat.PlainText)
            label.setWordWrap(True)
            label.setFixedWidth(WIDTH)
            layout.addWidget(label)
        frame.adjustSize()
        corner = self.mapToGlobal(QPoint(0, 0))
        window = self.window()
        right = window.mapToGlobal(QPoint(window.width(), 0)).x() if window is not None else corner.x() + WIDTH
        frame.move(min(corner.x(), right - frame.width() - 8), max(0, corner.y() - frame.height() - 4))
        self.opened = frame
        frame.destroyed.connect(lambda: setattr(self, "opened", None))
        frame.show()
        frame.setFocus()
