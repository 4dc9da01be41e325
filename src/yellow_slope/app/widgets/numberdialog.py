"""Asks for one number. It is read as everywhere: a point and a comma mean the same, whatever the machine's language."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QLabel, QVBoxLayout, QWidget

from yellow_slope.app.widgets.answers import answers
from yellow_slope.app.widgets.field import Field
from yellow_slope.core.typed import typed_number, typed_whole
from yellow_slope.core.words.spelling.numerals import exact
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which number is asked for: between two ends, both allowed."""

    low: float
    high: float
    whole: bool = False

    def read(self, text: str) -> float | str:
        """The number that a text says; or why it is none of those."""
        value = typed_whole(text) if self.whole else typed_number(text)
        if value is None:
            return f"“{text.strip()[:40]}” is not a {'whole number' if self.whole else 'number'}."
        if not self.low <= value <= self.high:
            return f"The number must be between {exact(self.low)} and {exact(self.high)}, not {exact(value)}."
        return float(value)


class NumberDialog(QDialog):
    """`number()` says what was typed; what cannot be meant is said below the field and nothing is closed."""

    def __init__(self, title: str, question: str, begin: float, wanted: Wanted, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setMinimumWidth(380)
        self._wanted = wanted
        asked = QLabel(question)
        asked.setWordWrap(True)
        self.field = Field(exact(begin))
        self.field.setAccessibleName(title)
        self.field.setToolTip(f"{question} From {exact(wanted.low)} to {exact(wanted.high)}; Enter accepts it")
        self.trouble = QLabel()
        self.trouble.setObjectName("amber")
        self.trouble.setWordWrap(True)
        self.trouble.setAccessibleName("What is wrong with the number")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 16)
        layout.setSpacing(10)
        layout.addWidget(asked)
        layout.addWidget(self.field)
        layout.addWidget(self.trouble)
        layout.addLayout(answers(self, "Use it", "Use this number (Enter)", self._take))
        self.field.setFocus()
        self.field.selectAll()

    def number(self) -> float | None:
        """What was typed; None where it is no number that can be meant."""
        found = self._wanted.read(self.field.text())
        return None if isinstance(found, str) else found

    def _take(self) -> None:
        found = self._wanted.read(self.field.text())
        if isinstance(found, str):
            self.trouble.setText(found)
            self.field.setFocus()
            self.field.selectAll()
            return
        self.accept()
