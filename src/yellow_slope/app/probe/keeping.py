"""The field in which a probe gets the name under which it is kept."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QWidget

from yellow_slope.core.study.probe import LONGEST_NAME


class KeepField(QWidget):
    """“keep as …”: shown while a name is asked for; Enter keeps, Esc does not."""

    def __init__(self, keep: Callable[[str], object], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        label = QLabel("keep as")
        label.setObjectName("soft")
        self.field = QLineEdit()
        self.field.setMaxLength(LONGEST_NAME)
        self.field.setAccessibleName("Name of the probe")
        self.field.setToolTip("The name under which the probe is kept; Enter keeps it, Esc does not")
        self.field.returnPressed.connect(self._entered)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label)
        row.addWidget(self.field)
        row.addStretch(1)
        self.field.setFixedSize(320, 30)
        self._keep = keep
        self.hide()

    def ask(self, suggested: str) -> None:
        """Ask for a name."""
        self.field.setText(suggested)
        self.show()
        self.field.setFocus()
        self.field.selectAll()

    def _entered(self) -> None:
        self.hide()
        self._keep(self.field.text())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.hide()
            return
        super().keyPressEvent(event)
