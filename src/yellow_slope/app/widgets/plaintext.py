"""Every text of the window is plain: names come from files, and may look like markup that loads other files."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from html import escape

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QHeaderView, QLabel, QToolTip, QWidget


def plain(text: str) -> str:
    """The text for a place that would read markup: there it shows as it is."""
    return f'<p style="white-space:pre-wrap">{escape(text)}</p>' if "<" in text else text


def show_tip(at: QPoint, text: str, widget: QWidget) -> None:
    """Show a tooltip as it is written."""
    QToolTip.showText(at, plain(text), widget)


class PlainTexts(QObject):
    """Sees to it that no label and no tooltip of the program reads a text as markup."""

    def watch(self, app: QApplication) -> None:
        """Look after all widgets there will be."""
        app.installEventFilter(self)

    @contextmanager
    def at_rest(self) -> Iterator[None]:
        """While nothing is shown that is new: every widget that is there is told of another style."""
        app = QApplication.instance()
        if app is not None:
            app.removeEventFilter(self)
        try:
            yield
        finally:
            if app is not None:
                app.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is None:
            return False
        kind = event.type()
        if kind == QEvent.Type.Polish and isinstance(watched, QLabel):
            if watched.textFormat() == Qt.TextFormat.AutoText:
                watched.setTextFormat(Qt.TextFormat.PlainText)
        elif kind == QEvent.Type.ToolTip and isinstance(watched, QWidget) and isinstance(event, QHelpEvent):
            text = tip_of(watched, event.pos())
            if "<" in text:
                show_tip(event.globalPos(), text, watched)
                return True
        return False


PLAIN_TEXTS = PlainTexts()
"""The one that looks after the window."""


def tip_of(widget: QWidget, at: QPoint) -> str:
    """What the toolkit itself would show at a place of a widget: that of the cell or head there, else the widget's."""
    view = widget.parent()
    said: object = None
    if isinstance(view, QHeaderView) and view.viewport() is widget and (model := view.model()) is not None:
        place = view.logicalIndexAt(at)
        said = model.headerData(place, view.orientation(), Qt.ItemDataRole.ToolTipRole) if place >= 0 else None
    elif isinstance(view, QAbstractItemView) and view.viewport() is widget:
        index = view.indexAt(at)
        said = index.data(Qt.ItemDataRole.ToolTipRole) if index.isValid() else None
    return said if isinstance(said, str) and said else widget.toolTip()
