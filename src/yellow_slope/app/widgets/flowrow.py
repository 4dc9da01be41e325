"""A row of widgets that goes on in the next line where there is no more room, as words do."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QLabel, QWidget


class FlowRow(QWidget):
    """Places its widgets one after the other; as tall as the lines need."""

    def __init__(self, gap: int = 6, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._gap = gap
        self._widgets: list[QWidget] = []

    def add(self, widget: QWidget) -> None:
        """Put a widget behind the others."""
        widget.setParent(self)
        self._widgets.append(widget)

    def take(self, widget: QWidget) -> None:
        """Take a widget out of the row; it stays where it is until the next arrangement."""
        self._widgets.remove(widget)

    def arrange(self) -> None:
        """Place what is to be seen, and take the height it needs."""
        lines: list[list[tuple[QWidget, int]]] = [[]]
        x = 0
        shown = [widget for widget in self._widgets if not widget.isHidden()]
        for i, widget in enumerate(shown):
            width = min(self._wide(widget), max(60, self.width()))
            after = shown[i + 1] if isinstance(widget, QLabel) and i + 1 < len(shown) else None
            needed = width + (self._gap + self._wide(after) if after is not None else 0)
            if x and x + needed > self.width():  # a word goes with what it names
                lines.append([])
                x = 0
            lines[-1].append((widget, width))
            x += width + self._gap
        y = 0
        for line in lines:
            tall = max(
                (max(w.minimumHeight(), w.sizeHint().height() if w.minimumHeight() == 0 else 0) for w, _ in line),
                default=0,
            )
            x = 0
            for widget, width in line:
                widget.setGeometry(x, y, width, tall)
                x += width + self._gap
            y += tall + self._gap
        if self.height() != y - self._gap:
            self.setFixedHeight(max(1, y - self._gap))

    @staticmethod
    def _wide(widget: QWidget) -> int:
        return max(widget.minimumWidth(), min(widget.sizeHint().width(), widget.maximumWidth()))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.arrange()

    def sizeHint(self) -> QSize:
        return QSize(400, self.height())
