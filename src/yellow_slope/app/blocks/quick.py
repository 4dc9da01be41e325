"""The quick line's field."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from yellow_slope.app.session import StudySession
from yellow_slope.app.typedline import TypedLine
from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.quickline import Reading, complete, read_line

HINT = "Type a model:  control = age, balance; practice centered, coaching from none; practice x coaching"


class QuickLine(QWidget):
    """Says what model a typed line describes."""

    accepted = pyqtSignal(object)
    left = pyqtSignal()

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.line = TypedLine(
            "Quick line: type a model",
            HINT,
            "Type a model in one line and press Enter (Ctrl+L)",
            self._read,
            self._words,
        )
        self.field, self.echo = self.line.field, self.line.echo
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.line)
        self.line.accepted.connect(self._accept)
        self.line.left.connect(self.left.emit)

    def reading(self) -> Reading | None:
        """What the field says; None while there is no study."""
        return read_line(self.session.study, self.field.text()) if self.session.study else None

    def begin(self, text: str) -> None:
        """Take the keyboard; with a text, put it in to be changed."""
        self.line.begin(text)

    def _read(self, text: str) -> str | Mistake:
        study = self.session.study
        if study is None:
            return ""
        reading = read_line(study, text)
        return reading.mistake if reading.mistake is not None else reading.summary(study)

    def _words(self, text: str, cursor: int) -> tuple[int, list[str]]:
        return complete(self.session.study, text, cursor) if self.session.study is not None else (0, [])

    def _accept(self, _text: str) -> None:
        reading = self.reading()
        if reading is not None:
            self.accepted.emit(reading)
            self.line.clear()
