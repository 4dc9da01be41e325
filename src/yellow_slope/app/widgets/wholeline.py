"""A typed line that is longer than its field, whole: the field grows over what is below it, to three lines, then to the
right, then further down."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QTextCharFormat, QTextLayout, QTextOption
from PyQt6.QtWidgets import QLineEdit, QWidget

from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour

LINES, MOST_LINES = 3, 7
"""Lines to which the field grows before it grows to the right, and after that; of more those are seen among which the
cursor is."""
MARGIN, EDGE = 10.0, 5.0
"""Pixels at the sides, above and below."""
BESIDE = 12
"""Pixels that stay free at the right edge of the window."""


class WholeLine(QWidget):
    """Lies over a field while what is typed has no room; the field keeps the keyboard, a click sets its cursor."""

    def __init__(self, field: QLineEdit) -> None:
        super().__init__(field)
        self.field = field
        self._wide = field.width()
        self.note, self.mistake = "", (0, 0)
        """What is said of the line, and where and how long its mistake is; length 0: none."""
        self.setAccessibleName("The whole line that is typed")
        self.setToolTip(field.toolTip())
        self.setCursor(Qt.CursorShape.IBeamCursor)
        self.hide()
        for signal in (field.textChanged, field.cursorPositionChanged, field.selectionChanged):
            signal.connect(self.renew)
        field.installEventFilter(self)

    def say(self, note: str, mistake: tuple[int, int] = (0, 0)) -> None:
        """What is said of the line."""
        self.note, self.mistake = note, mistake
        self.renew()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        followed = (QEvent.Type.FocusIn, QEvent.Type.FocusOut, QEvent.Type.Resize, QEvent.Type.Move, QEvent.Type.Hide)
        if event is not None and event.type() in followed:
            self.renew()
        return super().eventFilter(watched, event)

    @property
    def is_wanted(self) -> bool:
        """Whether what is typed is wider than the field."""
        field = self.field
        return (
            field.hasFocus()
            and field.isVisible()
            and field.fontMetrics().horizontalAdvance(field.text()) > field.width() - 2 * MARGIN
        )

    def renew(self, *_: object) -> None:
        """Show it, as it is now; or no longer."""
        if not self.is_wanted:
            self.hide()
            return
        host = self.field.window()
        if self.parentWidget() is not host:
            self.setParent(host)
        high = self.field.fontMetrics().height()
        at = self.field.mapTo(host, QPoint(0, 0)) if host is not None else QPoint(0, 0)
        self._wide = self.field.width()
        if host is not None and self._laid().lineCount() > LINES:  # over what stands at its right as well
            self._wide = max(self._wide, host.width() - at.x() - BESIDE)
        lines = min(MOST_LINES, self._laid().lineCount()) + bool(self.note)
        tall = max(self.field.height(), round(lines * high + 2 * EDGE))
        self.setGeometry(at.x(), at.y(), self._wide, tall)
        self.show()
        self.raise_()
        self.update()

    def _laid(self) -> QTextLayout:
        layout = QTextLayout(self.field.text(), self.field.font())
        option = QTextOption()
        option.setWrapMode(QTextOption.WrapMode.WrapAtWordBoundaryOrAnywhere)
        layout.setTextOption(option)
        layout.beginLayout()
        high, y = float(self.field.fontMetrics().height()), 0.0
        while (line := layout.createLine()).isValid():
            line.setLineWidth(self._wide - 2 * MARGIN)
            line.setPosition(QPointF(0.0, y))
            y += high
        layout.endLayout()
        return layout

    def _first(self, layout: QTextLayout) -> int:
        """The first line that is seen."""
        at = layout.lineForTextPosition(self.field.cursorPosition()).lineNumber()
        return max(0, min(at - MOST_LINES + 1, layout.lineCount() - MOST_LINES))

    def shown(self) -> str:
        """The text that is seen."""
        layout, text = self._laid(), self.field.text()
        first = self._first(layout)
        lines = [layout.lineAt(i) for i in range(first, min(layout.lineCount(), first + MOST_LINES))]
        return "".join(text[line.textStart() : line.textStart() + line.textLength()] for line in lines)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p, field = QPainter(self), theme.palette(), self.field
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(p.yellow), 2))
        painter.setBrush(colour(p.panel))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 5, 5)
        layout, high = self._laid(), float(field.fontMetrics().height())
        origin = QPointF(MARGIN, EDGE - self._first(layout) * high)
        formats = []
        if field.hasSelectedText():
            formats.append(self._range(field.selectionStart(), len(field.selectedText()), chosen=True))
        if self.mistake[1]:
            formats.append(self._range(*self.mistake, chosen=False))
        painter.setFont(field.font())
        painter.setPen(colour(p.ink))
        lines = min(MOST_LINES, layout.lineCount())
        painter.setClipRect(QRectF(0, EDGE, self.width(), lines * high))
        layout.draw(painter, origin, formats)
        layout.drawCursor(painter, origin, field.cursorPosition(), 1)
        painter.setClipping(False)
        if self.note:
            painter.setPen(colour(p.amber_ink if self.mistake[1] else p.soft_ink))
            room = QRectF(MARGIN, EDGE + lines * high, self.width() - 2 * MARGIN, high)
            said = field.fontMetrics().elidedText(self.note, Qt.TextElideMode.ElideRight, round(room.width()))
            painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, said)

    @staticmethod
    def _range(start: int, length: int, chosen: bool) -> QTextLayout.FormatRange:
        found, how, p = QTextLayout.FormatRange(), QTextCharFormat(), theme.palette()
        if chosen:
            how.setBackground(colour(p.yellow))
        else:
            how.setUnderlineStyle(QTextCharFormat.UnderlineStyle.SingleUnderline)
            how.setUnderlineColor(colour(p.amber_ink))
        found.start, found.length, found.format = start, length, how
        return found

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        layout, high = self._laid(), float(self.field.fontMetrics().height())
        row = int((event.position().y() - EDGE) // high) + self._first(layout)
        line = layout.lineAt(min(max(row, 0), layout.lineCount() - 1))
        self.field.setCursorPosition(line.xToCursor(event.position().x() - MARGIN))
