"""A small picture that is laid out for the room it has, and painted at once."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QHelpEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.figures.drawn import screen_look
from yellow_slope.app.figures.painter import paint
from yellow_slope.app.widgets.plaintext import show_tip
from yellow_slope.looks import SIZES
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Page, Text
from yellow_slope.values import replace

Layout = Callable[[Look, float, float], Page]


class PageView(QWidget):
    """A page of few marks; a shortened name is told whole in its tooltip."""

    def __init__(
        self,
        layout: Layout,
        name: str,
        said: str,
        height: int,
        text: float = SIZES.small,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._layout, self._said, self._text = layout, said, text
        self._laid: tuple[object, Page] | None = None
        self.setFixedHeight(height)
        self.setAccessibleName(name)
        self.setToolTip(said)

    @property
    def page(self) -> Page:
        """The page as it is laid out for the room and the theme there are."""
        look = replace(screen_look(), text=self._text)
        key = (self.width(), self.height(), look)
        if self._laid is None or self._laid[0] != key:
            self._laid = key, self._layout(look, self.width(), self.height())
        return self._laid[1]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        paint(QPainter(self), self.page)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            hit = self.page.hit(event.pos().x(), event.pos().y())
            whole = hit.mark.whole if hit is not None and isinstance(hit.mark, Text) else ""
            show_tip(event.globalPos(), whole or self._said, self)
            return True
        return super().event(event)
