"""The two plots of Probe, with the shared handle drawn over them."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QFontMetrics,
    QHelpEvent,
    QImage,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QShowEvent,
)
from PyQt6.QtWidgets import QToolTip, QWidget

from yellow_slope.app.figures.sketch import GAP, Frame, Sketch, Task, sketched
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.actions import HANDLE, action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.probed import Probed, range_of
from yellow_slope.core.probe.seen import Handle, Sight, inside
from yellow_slope.core.words.spelling.numerals import estimate_decimals, fixed, place
from yellow_slope.looks import LIGHT


class ProbePlots(QWidget):
    """Left the interaction plot, right the effect; a full redraw only when results change, the handle is laid over."""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._worker = session, worker
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Interaction plot and effect along the moderator, with a handle")
        self.setMinimumHeight(240)
        self.images: list[QImage] = []
        self.frames: list[Frame] = []
        self._key: object = None
        self._wanted: object = None
        self._dragging = False
        self._probed: Probed | None = None
        session.on("results", self._request)
        session.on("desk", self._request)

    # ---- drawing the figures

    def _request(self) -> None:
        """Have the figures drawn, off the interface thread, if what they show has changed."""
        probed, view = self.session.probed() if self.isVisible() else None, self.session.view
        if probed is None or view is None or self.width() < 200 or self.height() < 150:
            self.update()
            return
        size = (self.width(), self.height(), self.devicePixelRatioF())
        seen = self.session.desk.seen.of(probed)
        key = (probed, view.study.variables, seen.focus, seen.panel, *size)
        if key != self._wanted:
            self._wanted, self._probed = key, probed
            task = Task(key, view.study, probed, seen.focus, seen.panel, *size)
            self._worker.newest("figures", lambda job: sketched(task), self._drawn, self.session.say)
        self.update()

    @property
    def is_current(self) -> bool:
        """Whether the figures show the newest results."""
        return self._key == self._wanted

    def _drawn(self, sketch: Sketch) -> None:
        if sketch.key == self._wanted:
            self._key, self.images, self.frames = sketch.key, list(sketch.images), list(sketch.frames)
            self.update()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._request()

    def _sight(self, probed: Probed) -> Sight:
        return Sight.of(probed, self.session.desk.seen)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        probed = self.session.probed()
        if probed is None or self.width() < 200 or self.height() < 150:
            painter.setFont(font(14))
            painter.setPen(colour(p.soft_ink))
            text = (
                "There is no product to probe yet.\nMultiply two variables at Blocks: the slopes appear here at once."
            )
            if self.session.view is not None and self.session.view.refusal:
                text = self.session.view.refusal
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, text)
            return
        width = (self.width() - GAP) / 2
        if not self.images:
            for side in (0, 1):
                painter.fillRect(QRectF(side * (width + GAP), 0, width, self.height()), colour(p.panel))
        for side, image in enumerate(self.images):
            painter.drawImage(QPointF(side * (width + GAP), 0), image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if isinstance(probed.moderator, NumberBasis) and self.is_current:
            self._paint_handle(painter, probed, self._sight(probed).handle)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    # ---- the handle

    def _paint_handle(self, painter: QPainter, probed: Probed, value: float) -> None:
        left, right = self.frames
        found = self._sight(probed).focus
        if found.curve is None or not found.curve.is_estimable or not right.is_finite:
            return
        if isinstance(probed.focal, NumberBasis) and not probed.by_itself:
            self._paint_line(painter, probed, left, value)
        elif left.is_finite:
            x = left.at(value, 0).x()
            self._cased(painter, QPointF(x, left.area.top()), QPointF(x, left.area.bottom()))
            self._grip(painter, QPointF(x, left.area.bottom()))
        effect = float(found.curve.effect(np.array([value]))[0])
        at = right.at(value, effect)
        foot = self.height() - 54.0
        self._cased(painter, QPointF(at.x(), right.area.top()), QPointF(at.x(), foot))
        self._grip(painter, QPointF(at.x(), foot))
        painter.setPen(QPen(colour(LIGHT.ink), 1.4))
        painter.setBrush(colour(LIGHT.yellow))
        painter.drawEllipse(at, 4.5, 4.5)
        se = float(found.curve.se(np.array([value]))[0])
        self._label(painter, at, fixed(effect, estimate_decimals(se, effect)), right)

    def _paint_line(self, painter: QPainter, probed: Probed, frame: Frame, value: float) -> None:
        line = probed.line_at(value, self._sight(probed).seen.panel).curve
        if not line.is_estimable or not frame.is_finite:
            return
        steps = 2 if line.g.shape[1] <= 2 else 60
        xs = np.linspace(*frame.x, steps)
        path = QPainterPath()
        for i, (x, y) in enumerate(zip(xs, line.effect(xs))):
            point = frame.at(float(x), float(y))
            path.moveTo(point) if i == 0 else path.lineTo(point)
        painter.save()
        painter.setClipRect(frame.area)
        for pen in (QPen(colour(LIGHT.ink), 5), QPen(colour(LIGHT.yellow), 2.6)):
            painter.setPen(pen)
            painter.drawPath(path)
        painter.restore()
        self._name_line(painter, probed, frame, value, float(line.effect(xs[-1:])[0]))

    def _name_line(self, painter: QPainter, probed: Probed, frame: Frame, value: float, end: float) -> None:
        """The handle's own label at its line's end, moved where another line's label stands."""
        study = self.session.study
        if study is None:
            return
        x = frame.x[1]
        taken = [
            frame.at(x, float(other.curve.effect(np.array([x]))[0])).y() for other in self._sight(probed).panel.lines
        ]
        wanted = min(max(frame.at(x, end).y(), frame.area.top() + 8), frame.area.bottom() - 8)
        free = [wanted + d for d in (0, 16, -16, 32, -32) if all(abs(wanted + d - y) >= 15 for y in taken)]
        face = font(12, "bold")
        painter.setFont(face)
        painter.setPen(colour(LIGHT.ink))
        room = (self.width() - GAP) / 2 - frame.area.right() - 6
        metrics, reading = QFontMetrics(face), f" {reading_of(probed, value)}"
        short = study.variable(probed.moderator.variable).short
        left = int(room) - metrics.horizontalAdvance(reading)
        shown = metrics.elidedText(short, Qt.TextElideMode.ElideRight, left) + reading
        y = free[0] if free else wanted
        painter.drawText(QRectF(frame.area.right() + 6, y - 9, room, 18), Qt.AlignmentFlag.AlignVCenter, shown)

    def _cased(self, painter: QPainter, a: QPointF, b: QPointF) -> None:
        for pen in (QPen(colour(LIGHT.amber_ink), 3.4), QPen(colour(LIGHT.yellow), 1.8)):
            painter.setPen(pen)
            painter.drawLine(a, b)

    def _grip(self, painter: QPainter, at: QPointF) -> None:
        painter.setPen(QPen(colour(LIGHT.ink), 1.2))
        painter.setBrush(colour(LIGHT.yellow))
        painter.drawRoundedRect(QRectF(at.x() - 8, at.y() - 12, 16, 24), 4, 4)
        for dy in (-3, 2):
            painter.drawLine(QPointF(at.x() - 3, at.y() + dy), QPointF(at.x() + 3, at.y() + dy))

    def _label(self, painter: QPainter, at: QPointF, text: str, frame: Frame) -> None:
        face = font(12, "bold")
        width = QFontMetrics(face).horizontalAdvance(text) + 14
        x = at.x() + 10 if at.x() + 14 + width < frame.area.right() else at.x() - 10 - width
        y = min(max(at.y() - 24, frame.area.top() + 2), frame.area.bottom() - 22)
        painter.setBrush(colour(LIGHT.panel))
        painter.setPen(QPen(colour(LIGHT.ink), 1))
        painter.drawRoundedRect(QRectF(x, y, width, 20), 4, 4)
        painter.setFont(face)
        painter.drawText(QRectF(x, y, width, 20), Qt.AlignmentFlag.AlignCenter, text)

    # ---- mouse and keyboard

    def _frame_at(self, x: float) -> Frame | None:
        probed = self.session.probed()
        if probed is None or not isinstance(probed.moderator, NumberBasis) or len(self.frames) < 2:
            return None
        left, right = self.frames
        if right.area.left() - 10 <= x <= right.area.right() + 10:
            return right
        if not isinstance(probed.focal, NumberBasis) and left.area.left() - 10 <= x <= left.area.right() + 10:
            return left
        return None

    def put_handle(self, value: float) -> None:
        """Move the handle to a moderator value, kept within the observed range."""
        probed = self.session.probed()
        if probed is not None and isinstance(probed.moderator, NumberBasis):
            self.session.see(handle=inside(probed, value), place=Handle())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        frame = self._frame_at(event.position().x())
        if frame is not None:
            self._dragging = True
            self.put_handle(frame.value(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        frame = self._frame_at(event.position().x())
        if self._dragging and self.frames:
            self.put_handle((frame or self.frames[1]).value(event.position().x()))
        self.setCursor(Qt.CursorShape.SizeHorCursor if frame is not None else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._dragging = False

    @action("move the handle left", "Move the handle a step to lower values", "Left", scope=HANDLE)
    def left(self) -> None:
        """Move the handle a step to lower values."""
        self._nudge(-1 / 50)

    @action("move the handle right", "Move the handle a step to higher values", "Right", scope=HANDLE)
    def right(self) -> None:
        """Move the handle a step to higher values."""
        self._nudge(1 / 50)

    @action(
        "move the handle a little left", "Move the handle a tenth of a step to lower values", "Shift+Left", scope=HANDLE
    )
    def left_fine(self) -> None:
        """Move the handle a tenth of a step to lower values."""
        self._nudge(-1 / 500)

    @action(
        "move the handle a little right",
        "Move the handle a tenth of a step to higher values",
        "Shift+Right",
        scope=HANDLE,
    )
    def right_fine(self) -> None:
        """Move the handle a tenth of a step to higher values."""
        self._nudge(1 / 500)

    @action(
        "move the handle to the boundary before",
        "Move the handle to the boundary before, or to the lowest value",
        "Home",
        scope=HANDLE,
    )
    def boundary_before(self) -> None:
        """Move the handle to the boundary before."""
        self._to_boundary(-1)

    @action(
        "move the handle to the next boundary",
        "Move the handle to the next boundary, or to the highest value",
        "End",
        scope=HANDLE,
    )
    def boundary_after(self) -> None:
        """Move the handle to the next boundary."""
        self._to_boundary(1)

    def _nudge(self, by: float) -> None:
        probed = self.session.probed()
        if probed is not None and isinstance(probed.moderator, NumberBasis):
            span = probed.moderator.high - probed.moderator.low
            self.put_handle(self._sight(probed).handle + by * span)

    def _to_boundary(self, way: int) -> None:
        probed = self.session.probed()
        if probed is None or not isinstance(probed.moderator, NumberBasis):
            return
        low, high = range_of(probed.moderator)
        now, close = self._sight(probed).handle, 1e-9 * (high - low)
        regions = self._sight(probed).focus.regions
        bounds = regions.boundaries if regions is not None else ()
        if way < 0:
            self.put_handle(max([b for b in bounds if b < now - close], default=low))
        else:
            self.put_handle(min([b for b in bounds if b > now + close], default=high))

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            frame = self._frame_at(event.pos().x())
            text = "Drag to move the handle; arrow keys move it, Home and End go to boundaries." if frame else ""
            QToolTip.showText(event.globalPos(), text, self)
            return True
        return super().event(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._request()


def reading_of(probed: Probed, value: float) -> str:
    """The handle's place, as typed."""
    assert isinstance(probed.moderator, NumberBasis)
    return place(value, probed.moderator.sd)
