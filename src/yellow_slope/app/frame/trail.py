"""The trail: a line across the top with the six waypoints."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.looks import SIZES

STEP, NARROW = 92, 76

WAY = tuple(Waypoint)


class Trail(QWidget):
    """A line across the top with six waypoints; never locked."""

    gone_to = pyqtSignal(object)

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Trail: Data, Prepare, Blocks, Checks, Probe, Report")
        self.setToolTip("Go to a waypoint (Alt+1 to Alt+6, or Left and Right)")
        self.setMinimumWidth(NARROW * 6)
        session.on(self.update, Topic.WAYPOINT, Topic.THEME)

    def sizeHint(self) -> QSize:
        return QSize(STEP * 6, SIZES.header)

    def place_of(self, waypoint: Waypoint) -> QPointF:
        """Where a waypoint's dot stands."""
        return QPointF((WAY.index(waypoint) + 0.5) * self._step(), 21)

    def _step(self) -> float:
        return min(STEP, self.width() / len(WAY))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(p.line), 2))
        painter.drawLine(self.place_of(WAY[0]), self.place_of(WAY[-1]))
        for waypoint in WAY:
            at, here = self.place_of(waypoint), waypoint is self.session.desk.waypoint
            painter.setPen(QPen(colour(p.ink), 1.6))
            painter.setBrush(colour(p.yellow if here else p.panel))
            size = 7.5 if here else 5.5
            painter.drawEllipse(at, size, size)
            painter.setFont(font(13, "bold" if here else "normal"))
            painter.setPen(colour(p.ink if here else p.soft_ink))
            painter.drawText(QRectF(at.x() - STEP / 2, 32, STEP, 18), Qt.AlignmentFlag.AlignCenter, waypoint.title)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            at = self.place_of(self.session.desk.waypoint)
            painter.drawRoundedRect(QRectF(at.x() - self._step() / 2 + 4, 4, self._step() - 8, 48), 6, 6)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            index = int(event.position().x() // self._step())
            if 0 <= index < len(WAY):
                self.gone_to.emit(WAY[index])

    @action("go to the previous waypoint", "Go one waypoint back", "Left", scope=Scope.TRAIL)
    def back(self) -> None:
        """Go one waypoint back."""
        self._go(-1)

    @action("go to the next waypoint", "Go one waypoint on", "Right", scope=Scope.TRAIL)
    def on(self) -> None:
        """Go one waypoint on."""
        self._go(1)

    def _go(self, by: int) -> None:
        index = WAY.index(self.session.desk.waypoint) + by
        self.gone_to.emit(WAY[max(0, min(len(WAY) - 1, index))])
