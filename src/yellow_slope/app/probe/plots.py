"""The two plots of Probe, with the shared handle drawn over them."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QFontMetrics,
    QHelpEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QShowEvent,
)
from PyQt6.QtWidgets import QToolTip, QWidget

from yellow_slope.app import theme
from yellow_slope.app.probe.sketch import GAP, Frame, Sketch, Sketcher, Task
from yellow_slope.app.session import StudySession
from yellow_slope.app.stories import handle_value
from yellow_slope.app.theme import colour, font
from yellow_slope.core.design import NumberBasis
from yellow_slope.core.numerals import fixed, place, spoken_decimals
from yellow_slope.core.probe import Probed
from yellow_slope.looks import LIGHT


class ProbePlots(QWidget):
    """Left the interaction plot, right the effect; a full redraw only when results change, the handle is laid over."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Interaction plot and effect along the moderator, with a handle")
        self.setMinimumHeight(240)
        self.images: list[QImage] = []
        self.frames: list[Frame] = []
        self._key: object = None
        self._wanted: object = None
        self._dragging = False
        self._sketcher = Sketcher(self)
        self._sketcher.done.connect(self._drawn)
        session.on("results", self._request)
        session.on("desk", self._request)

    # ---- drawing the figures

    def _request(self) -> None:
        """Have the figures drawn, off the interface thread, if what they show has changed."""
        probed, results = self.session.probed() if self.isVisible() else None, self.session.results
        fit = results.evaluation.fit if results is not None else None
        if probed is None or results is None or fit is None or self.width() < 200 or self.height() < 150:
            self.update()
            return
        key = (id(probed), self.session.desk.focus, self.width(), self.height(), self.devicePixelRatioF())
        if key != self._wanted:
            self._wanted, self._probed = key, probed
            task = Task(key, results.evaluation.study, fit, probed, self.focus(probed), *key[2:])
            self._sketcher.draw(task)
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

    def focus(self, probed: Probed) -> int:
        """Which comparison is shown."""
        return min(self.session.desk.focus, len(probed.foci) - 1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        probed = self.session.probed()
        if probed is None or self.width() < 200 or self.height() < 150:
            painter.setFont(font(14))
            painter.setPen(colour(p.soft_ink))
            text = (
                "There is no product to probe yet.\nMultiply two variables at Blocks: the slopes appear here at once."
            )
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
            self._paint_handle(painter, probed, handle_value(self.session, probed))
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    # ---- the handle

    def _paint_handle(self, painter: QPainter, probed: Probed, value: float) -> None:
        left, right = self.frames
        found = probed.foci[self.focus(probed)]
        assert found.curve is not None
        if isinstance(probed.focal, NumberBasis):
            self._paint_line(painter, probed, left, value)
        else:
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
        self._label(painter, at, fixed(effect, max(2, spoken_decimals(se))), right)

    def _paint_line(self, painter: QPainter, probed: Probed, frame: Frame, value: float) -> None:
        line = probed.line_of.at(value).curve
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
        taken = [frame.at(x, float(other.curve.effect(np.array([x]))[0])).y() for other in probed.lines]
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
            inside = min(probed.moderator.high, max(probed.moderator.low, value))
            self.session.look(handle=inside, place=None, flag=None)

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

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        probed = self.session.probed()
        if event is None or probed is None or not isinstance(probed.moderator, NumberBasis):
            return super().keyPressEvent(event)
        now = handle_value(self.session, probed)
        span = probed.moderator.high - probed.moderator.low
        fine = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        curve = probed.foci[self.focus(probed)].curve
        assert curve is not None
        bounds = [
            b
            for b in curve.boundaries(self.session.desk.region_rule)
            if probed.moderator.low <= b <= probed.moderator.high
        ]
        key = event.key()
        if key == Qt.Key.Key_Left:
            self.put_handle(now - span / 50 / fine)
        elif key == Qt.Key.Key_Right:
            self.put_handle(now + span / 50 / fine)
        elif key == Qt.Key.Key_Home:
            self.put_handle(max([b for b in bounds if b < now - 1e-9 * span], default=probed.moderator.low))
        elif key == Qt.Key.Key_End:
            self.put_handle(min([b for b in bounds if b > now + 1e-9 * span], default=probed.moderator.high))
        else:
            super().keyPressEvent(event)
        return None

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
