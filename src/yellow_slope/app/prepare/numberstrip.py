"""A number's strip: its zero point is dragged, or moved by keys from place to place."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.prepare.drawnnumber import DrawnNumber
from yellow_slope.app.prepare.zeropoints import nearest, next_point
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.treatment import At
from yellow_slope.core.words.spelling.numerals import number_or_place, place_decimals
from yellow_slope.values import replace

SNAP = 6.0
"""Pixels within which the zero point snaps."""


class NumberStrip(DrawnNumber):
    """The handle is the zero point."""

    def __init__(self, session: StudySession, name: str, parent: QWidget | None = None) -> None:
        super().__init__(session, name, parent)
        self._dragged = False
        self.setMouseTracking(True)

    def can_move(self) -> bool:
        """Whether there is a zero to move: not of a number centered within groups."""
        self.compute()
        return self.is_open and self.values.size > 1 and not self.basis.is_within

    def move_zero(self, at: float) -> None:
        """Look at a zero point without choosing it yet."""
        self.session.look(zero=(self.name, at))

    def put_zero(self, at: float) -> None:
        """Choose a zero point; a named one is chosen by its name."""
        span = self.span()
        point = nearest(self.points, at, SNAP * (span.high - span.low) / span.width)
        zero = point.zero if point is not None else At(at)
        variable, treatment = self.variable, replace(self.treatment, zero=zero)
        self.session.look(zero=None)
        if variable is None:
            return
        where = point.name if point is not None else number_or_place(at)
        self.session.edit(f"zero of {variable.label} at {where}", lambda s: treat(s, [self.name], treatment))

    def turn(self, by: int) -> None:
        """Put the zero point at the next place that has a name or is whole."""
        if self.can_move():
            point = next_point(self.points, self.basis.center, by)
            if point is not None:
                treatment, variable = replace(self.treatment, zero=point.zero), self.variable
                label = variable.label if variable is not None else self.name
                self.session.edit(f"zero of {label} at {point.name}", lambda s: treat(s, [self.name], treatment))

    def _snapped(self, x: float) -> float:
        span = self.span()
        at = span.value(min(span.left + span.width, max(span.left, x)))
        point = nearest(self.points, at, SNAP * (span.high - span.low) / span.width)
        if point is not None:
            return point.at
        digits = place_decimals(self.basis.axis_sd)
        return round(at, digits)

    def _near_handle(self, position: QPointF) -> bool:
        return self.can_move() and abs(position.x() - self.zero_x()) <= 9 and 4 <= position.y() <= 96

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._near_handle(event.position()):
            self._dragged = True
            self._drag_span = self.span()
            self.setFocus()
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._dragged:
            self.move_zero(self._snapped(event.position().x()))
        else:
            over = self._near_handle(event.position())
            self.setCursor(Qt.CursorShape.SizeHorCursor if over else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragged:
            self._dragged = False
            moved = self.session.desk.zero
            if moved is not None and moved[0] == self.name:
                self.put_zero(moved[1])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape and self._dragged:
            self._dragged = False
            self.session.look(zero=None)
            return
        super().keyPressEvent(event)
