"""The quick line's field: reads back while typing and points at a mistake under its character."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, QStringListModel, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QCompleter, QLineEdit, QVBoxLayout, QWidget

from yellow_slope.app import theme
from yellow_slope.app.session import StudySession
from yellow_slope.app.theme import colour, font
from yellow_slope.core.quickline import Reading, complete, read_line

HINT = "Type a model:  control = age, balance; practice centered, coaching from none; practice x coaching"


class Echo(QWidget):
    """One line below the field: the reading, or the mistake with a mark under its character."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.text, self.at, self.wrong = "", 0, False
        self.setFixedHeight(18)
        self.setAccessibleName("What the typed line means")

    def sizeHint(self) -> QSize:
        return QSize(300, 18)

    def show_text(self, text: str, at: int = 0, wrong: bool = False) -> None:
        """Show a reading, or a mistake at that distance from the left."""
        self.text, self.at, self.wrong = text, at, wrong
        self.setToolTip(text)
        self.setAccessibleDescription(text)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        face = font(12)
        painter.setFont(face)
        left = 10
        if self.wrong:
            painter.setPen(QPen(colour(p.amber_ink), 1))
            painter.setBrush(colour(p.yellow))
            x = min(self.at, self.width() - 12)
            painter.drawPolygon(QPolygonF([QPointF(x, 1), QPointF(x - 4, 8), QPointF(x + 4, 8)]))
            wanted = QFontMetrics(face).horizontalAdvance(self.text) + 8
            left = max(4, min(x + 8, self.width() - wanted))
        painter.setPen(colour(p.amber_ink if self.wrong else p.soft_ink))
        room = self.width() - left - 4
        text = QFontMetrics(face).elidedText(self.text, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(left, 0, room, 19), Qt.AlignmentFlag.AlignVCenter, text)


class QuickLine(QWidget):
    """The field and its echo."""

    accepted = pyqtSignal(object)
    left = pyqtSignal()

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.field = _Field()
        self.field.setPlaceholderText(HINT)
        self.field.setAccessibleName("Quick line: type a model")
        self.field.setToolTip("Type a model in one line and press Enter (Ctrl+L)")
        self.echo = Echo()
        self._model = QStringListModel()
        self._completer = QCompleter(self._model, self)
        self._completer.setCompletionMode(QCompleter.CompletionMode.UnfilteredPopupCompletion)
        self._completer.setWidget(self.field)
        self._completer.activated.connect(self._complete)
        self._start = 0
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(1)
        layout.addWidget(self.field)
        layout.addWidget(self.echo)
        self.field.textEdited.connect(self._edited)
        self.field.returnPressed.connect(self._enter)
        self.field.escaped.connect(self.left.emit)
        self.field.tabbed.connect(self._finish_word)
        self._words: list[str] = []

    def reading(self) -> Reading | None:
        """What the field says; None while there is no study."""
        return read_line(self.session.study, self.field.text()) if self.session.study else None

    def begin(self, text: str) -> None:
        """Take the keyboard; with a text, put it in to be changed."""
        self.field.setFocus()
        if text:
            self.field.setText(text)
            self._edited(text)
        else:
            self.field.selectAll()

    def _edited(self, text: str) -> None:
        if not text.strip() or self.session.study is None:
            self.echo.show_text("")
            return
        self._start, self._words = complete(self.session.study, text, self.field.cursorPosition())
        self._show_reading()

    def _show_reading(self) -> None:
        reading, study = self.reading(), self.session.study
        if reading is None or study is None:
            return
        if reading.mistake is None:
            hint = f"   Tab: {self._words[0]}" if len(self._words) == 1 else ""
            self.echo.show_text(reading.echo(study) + hint)
            return
        metrics = QFontMetrics(self.field.font())
        begin = self.field.cursorRect().center().x() - metrics.horizontalAdvance(
            self.field.text()[: self.field.cursorPosition()]
        )
        at = begin + metrics.horizontalAdvance(self.field.text()[: reading.mistake.position]) + 3
        self.echo.show_text(reading.mistake.message, at, True)

    def _finish_word(self) -> None:
        if self._words:
            self._complete(self._words[0])

    def _complete(self, word: str) -> None:
        text, cursor = self.field.text(), self.field.cursorPosition()
        self.field.setText(text[: self._start] + word + text[cursor:])
        self.field.setCursorPosition(self._start + len(word))
        self._edited(self.field.text())

    def _enter(self) -> None:
        reading = self.reading()
        if reading is None:
            return
        if reading.mistake is not None:
            self._show_reading()
            return
        self.accepted.emit(reading)
        self.field.clear()
        self.echo.show_text("")


class _Field(QLineEdit):
    escaped = pyqtSignal()
    tabbed = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.escaped.emit()
            return
        super().keyPressEvent(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        if forward and self.text().strip() and self.cursorPosition() == len(self.text()):
            before = self.text()
            self.tabbed.emit()
            if self.text() != before:
                return True
        return super().focusNextPrevChild(forward)
