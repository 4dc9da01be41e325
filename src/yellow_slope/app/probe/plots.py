"""The two plots of Probe, with the shared handle drawn over them."""

from __future__ import annotations

from dataclasses import dataclass

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
)
from PyQt6.QtWidgets import QToolTip, QWidget

from yellow_slope.app import theme
from yellow_slope.app.session import StudySession
from yellow_slope.app.stories import handle_value
from yellow_slope.app.theme import colour, font
from yellow_slope.core.design import NumberBasis
from yellow_slope.core.numerals import fixed, place, spoken_decimals
from yellow_slope.core.probe import Probed
from yellow_slope.looks import LIGHT

GAP = 12
DPI = 100


@dataclass(frozen=True, slots=True)
class Frame:
    """Axes in pixels of the widget, and what they span."""

    area: QRectF
    x: tuple[float, float]
    y: tuple[float, float]

    def at(self, x: float, y: float) -> QPointF:
        """A data point in pixels."""
        (x0, x1), (y0, y1) = self.x, self.y
        return QPointF(
            self.area.x() + (x - x0) / (x1 - x0) * self.area.width(),
            self.area.bottom() - (y - y0) / (y1 - y0) * self.area.height(),
        )

    def value(self, pixel: float) -> float:
        """The x value at a pixel."""
        return self.x[0] + (pixel - self.area.x()) / self.area.width() * (self.x[1] - self.x[0])


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
        self._dragging = False
        session.on("results", self.update)
        session.on("desk", self.update)

    # ---- drawing the figures

    def _renew(self, probed: Probed) -> None:
        key = (id(probed), self.session.desk.focus, self.width(), self.height(), self.devicePixelRatioF())
        if key == self._key:
            return
        self._key = key
        self._probed = probed
        from yellow_slope.report.figures import ProbeFigures, figure_style, new_figure, rendered

        results = self.session.results
        assert results is not None
        assert results.evaluation.fit is not None
        draw = ProbeFigures(results.evaluation.study, results.evaluation.fit, probed, self.focus(probed))
        ratio = self.devicePixelRatioF()
        width, height = (self.width() - GAP) / 2, float(self.height())
        self.images, self.frames = [], []
        with figure_style(9.4):
            for side in (0, 1):
                figure = new_figure(width / DPI, height / DPI, DPI * ratio)
                bottom = 54 / height
                if side == 0:
                    left = 56 / width
                    tail = min(150.0, 16 + draw.longest_end() * 6.6) / width
                    ax = figure.add_axes((left, bottom, 1 - left - tail, 1 - bottom - 18 / height))
                    draw.interaction(ax)
                elif isinstance(probed.moderator, NumberBasis):
                    left, tail = 58 / width, 66 / height
                    box = (left, bottom + tail, 1 - left - 20 / width, 1 - bottom - tail - 24 / height)
                    ax = figure.add_axes(box)
                    below = figure.add_axes((left, bottom, box[2], tail * 0.88))
                    draw.effect(ax, below)
                else:
                    left = min(236.0, 26 + draw.longest_row() * 6.6) / width
                    ax = figure.add_axes((left, bottom, 1 - left - 20 / width, 1 - bottom - 18 / height))
                    draw.effect(ax, None)
                pixels, w, h = rendered(figure)
                image = QImage(pixels.tobytes(), w, h, 4 * w, QImage.Format.Format_RGBA8888).copy()
                image.setDevicePixelRatio(ratio)
                self.images.append(image)
                shift = side * (width + GAP)
                bounds = ax.get_position()
                area = QRectF(
                    shift + bounds.x0 * width, (1 - bounds.y1) * height, bounds.width * width, bounds.height * height
                )
                self.frames.append(Frame(area, ax.get_xlim(), ax.get_ylim()))

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
        self._renew(probed)
        width = (self.width() - GAP) / 2
        for side, image in enumerate(self.images):
            painter.drawImage(QPointF(side * (width + GAP), 0), image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if isinstance(probed.moderator, NumberBasis):
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
        self._key = None
        super().resizeEvent(event)


def reading_of(probed: Probed, value: float) -> str:
    """The handle's place, as typed."""
    assert isinstance(probed.moderator, NumberBasis)
    return place(value, probed.moderator.sd)
