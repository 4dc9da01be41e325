"""A field for a line of a small notation: reads back while typing, completes words, points at a mistake under its
character."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.field import Field
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.app.widgets.wholeline import WholeLine
from yellow_slope.core.data.scanner import Mistake

ECHO = 18
"""Height of the line below the field."""
OFFERED = 4


class Echo(QWidget):
    """One line below the field: the reading, or the mistake with a mark under its character."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.text, self.at, self.wrong = "", 0, False
        self.setFixedHeight(ECHO)
        self.setAccessibleName("What the typed line means")

    def sizeHint(self) -> QSize:
        return QSize(300, ECHO)

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


Read = Callable[[str], "str | Mistake"]
Complete = Callable[[str, int], tuple[int, list[str]]]


class TypedLine(QWidget):
    """The field and its echo. `accepted` tells a line without a mistake; `left`: Esc was pressed."""

    accepted = pyqtSignal(str)
    left = pyqtSignal()
    changed = pyqtSignal(str)
    focused = pyqtSignal(bool)
    """The keyboard came or went."""

    def __init__(self, name: str, hint: str, help: str, read: Read, complete: Complete) -> None:
        super().__init__()
        self._read, self._complete_words = read, complete
        self.field = _Field()
        self.field.setPlaceholderText(hint)
        self.field.setAccessibleName(name)
        self.field.setToolTip(help)
        self.whole = WholeLine(self.field)
        self.echo = Echo()
        self._start = 0
        self._words: list[str] = []
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(1)
        layout.addWidget(self.field)
        layout.addWidget(self.echo)
        self.field.textEdited.connect(self._edited)
        self.field.returnPressed.connect(self._enter)
        self.field.escaped.connect(self.left.emit)
        self.field.focused.connect(self.focused.emit)
        self.field.tabbed.connect(self._finish_word)

    def begin(self, text: str = "") -> None:
        """Take the keyboard; with a text, put it in to be changed."""
        self.field.setFocus()
        if text:
            self.field.setText(text)
            self._edited(text)
        else:
            self.field.selectAll()

    def clear(self) -> None:
        """Nothing is typed any longer."""
        self.field.clear()
        self.echo.show_text("")
        self.changed.emit("")

    def add_to_echo(self, text: str) -> None:
        """Say more about what is typed, once it is known."""
        if not self.echo.wrong and self.field.text().strip():
            self.echo.show_text(text)
            self.whole.say(text)

    def _edited(self, text: str) -> None:
        if not text.strip():
            self.echo.show_text("")
            self.changed.emit("")
            return
        self._start, self._words = self._complete_words(text, self.field.cursorPosition())
        self.show_reading()
        self.changed.emit(text)

    def show_reading(self) -> None:
        """Read the line back, or point at its mistake."""
        reading = self._read(self.field.text())
        self._show_below(reading)
        is_wrong = not isinstance(reading, str) and self.echo.wrong
        self.whole.say(self.echo.text, (reading.position, reading.length) if is_wrong else (0, 0))  # type: ignore[union-attr]

    def _show_below(self, reading: str | Mistake) -> None:
        if isinstance(reading, str):
            self.echo.show_text(reading + self._offer())
            return
        metrics = QFontMetrics(self.field.font())
        begin = self.field.cursorRect().center().x() - metrics.horizontalAdvance(
            self.field.text()[: self.field.cursorPosition()]
        )
        apart = self.field.mapToGlobal(QPoint(0, 0)).x() - self.echo.mapToGlobal(QPoint(0, 0)).x()
        at = apart + begin + metrics.horizontalAdvance(self.field.text()[: reading.position]) + 3
        unfinished = bool(self._words) and reading.position >= self._start
        self.echo.show_text(self._offer().strip() if unfinished else reading.message, at, not unfinished)

    def _offer(self) -> str:
        """Words that would finish what is typed; Tab takes the first."""
        more = " …" if len(self._words) > OFFERED else ""
        return f"   Tab: {' · '.join(word.strip() for word in self._words[:OFFERED])}{more}" if self._words else ""

    def _finish_word(self) -> None:
        if self._words:
            self._complete(self._words[0])

    def _complete(self, word: str) -> None:
        text, cursor = self.field.text(), self.field.cursorPosition()
        self.field.setText(text[: self._start] + word + text[cursor:])
        self.field.setCursorPosition(self._start + len(word))
        self._edited(self.field.text())

    def _enter(self) -> None:
        text = self.field.text()
        if not text.strip():
            return
        if not isinstance(self._read(text), str):
            self.show_reading()
            return
        self.accepted.emit(text)


class _Field(Field):
    escaped = pyqtSignal()
    tabbed = pyqtSignal()
    focused = pyqtSignal(bool)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.focused.emit(True)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.focused.emit(False)

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
