"""One plot of a question: the image of its page, headed by the question and with its answer where it is small; the
cases that are lit are drawn over it, and a large one is brushed."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.figures.drawn import Drawn, Size
from yellow_slope.app.figures.painter import MANY, paint
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.plaintext import show_tip
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.stand.checked import Checked
from yellow_slope.core.study.checks import Check
from yellow_slope.core.words.sentences.checks import advice, check_title
from yellow_slope.plots.checks import residual_words
from yellow_slope.plots.marks import Frame, Ink, OfCases, Page, Points, Shape, Text
from yellow_slope.values import dataclass

HEAD, TAIL = 22, 18
"""Heights of a small plot's question and answer."""
FEW_MOVED = 4
"""Pixels: a mouse that moved less has clicked."""
REACH = 9.0


@dataclass(frozen=True, slots=True, eq=False)
class _Pixels:
    """In which pixel of a plot each case stands: its place in a grid, -1 where it has none."""

    width: int
    height: int
    at: IntArray

    @classmethod
    def of(cls, points: FloatArray, width: int, height: int) -> _Pixels:
        """Of points (n, 2)."""
        with np.errstate(invalid="ignore"):
            inside = np.all((points >= 0) & (points <= (width - 1, height - 1)), axis=1)
        x, y = np.rint(np.where(inside[:, None], points, 0.0)).astype(np.int64).T
        return cls(width, height, np.where(inside, y * width + x, -1))


@dataclass(frozen=True, slots=True, eq=False)
class Placed:
    """A picture of a question, and where the model's cases stand in it."""

    check: Check
    drawn: Drawn
    points: FloatArray | None
    """Shape (n, 2), in pixels; NaN of a case that has no place. None where the plot is none of cases."""
    pixels: _Pixels | None
    answer: str
    """In figures."""

    @classmethod
    def of(cls, check: Check, drawn: Drawn, points: FloatArray | None, answer: str) -> Placed:
        """With the pixels of the cases."""
        page = drawn.page
        pixels = _Pixels.of(points, int(page.width), int(page.height)) if points is not None else None
        return cls(check, drawn, points, pixels, answer)

    @property
    def frame(self) -> Frame | None:
        """The frame of its axes."""
        return self.drawn.page.frames[0] if self.drawn.page.frames else None


def _cloud(pixels_of: _Pixels, cases: IntArray, radius: float, hue: str, edge: str) -> tuple[QImage, QPointF]:
    """Very many points as one image, and where it stands: each pixel near one of them in a colour, with an edge around
    all together."""
    pad, at = math.ceil(radius) + 2, pixels_of.at[cases]
    whole = np.zeros(pixels_of.width * pixels_of.height, dtype=bool)
    whole[at[at >= 0]] = True
    there = np.pad(whole.reshape(pixels_of.height, pixels_of.width), pad)
    height, width = there.shape
    pixels = np.zeros((height, width), dtype=np.uint32)
    pixels[_grown(there, radius + 1.0)] = colour(edge).rgba()
    pixels[_grown(there, radius)] = colour(hue).rgba()
    image = QImage(pixels.tobytes(), width, height, 4 * width, QImage.Format.Format_ARGB32_Premultiplied)
    return image.copy(), QPointF(-pad, -pad)


def _grown(there: BoolArray, radius: float) -> BoolArray:
    """The pixels within a radius of those there."""
    reach, (height, width) = math.ceil(radius), there.shape
    out = there.copy()
    for dy in range(-reach, reach + 1):
        for dx in range(-reach, reach + 1):
            if (dx or dy) and dx * dx + dy * dy <= radius * radius:
                to = (slice(max(0, dy), height + min(0, dy)), slice(max(0, dx), width + min(0, dx)))
                source = (slice(max(0, -dy), height + min(0, -dy)), slice(max(0, -dx), width + min(0, -dx)))
                out[to] |= there[source]
    return out


class CheckPlot(QWidget):
    """One plot; the small ones can be clicked, the large one is brushed."""

    clicked = pyqtSignal()
    resized = pyqtSignal()
    brushed = pyqtSignal(object, bool)
    """Positions of cases among the model's, and whether they are added to those that are lit."""

    def __init__(self, check: Check, small: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.check, self.small, self.current = check, small, False
        self.placed: Placed | None = None
        self.answer = ""
        self.said = ""
        """What stands in place of a plot."""
        self.lit: IntArray = np.zeros(0, dtype=np.int64)
        """Positions of the lit cases among the model's."""
        self._found: Checked | None = None
        self._begun: QPointF | None = None
        self._now: QPointF | None = None
        self._cursor: int | None = None
        """The case that the arrow keys are on."""
        self._name()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def _name(self) -> None:
        self.setAccessibleName(f"Show: {check_title(self.check)}" if self.small else check_title(self.check))

    @property
    def drawn(self) -> Drawn | None:
        """The picture."""
        return self.placed.drawn if self.placed is not None else None

    @property
    def size_of_plot(self) -> Size:
        """The room of the plot itself."""
        around = HEAD + TAIL if self.small else 0
        return Size(max(1, self.width()), max(1, self.height() - around), self.devicePixelRatioF())

    def become(self, check: Check) -> None:
        """Show another question."""
        if check is not self.check:
            self.check, self.placed, self.said, self._cursor = check, None, "", None
            self._name()
            self.update()

    def show_placed(self, placed: Placed, found: Checked) -> None:
        """Take the newest picture, and what it is a picture of."""
        self.placed, self._found, self.said, self.answer = placed, found, "", placed.answer
        if self.small:
            self.setAccessibleDescription(placed.answer)
        self.update()

    def say(self, text: str) -> None:
        """Say why there is no plot."""
        self.placed, self.said, self.answer = None, text, ""
        if self.small:
            self.setAccessibleDescription(text)
        self.update()

    # ---- drawing

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.fillRect(self.rect(), colour(p.panel))
        top = HEAD if self.small else 0
        if self.small:
            self._paint_frame(painter)
        if self.drawn is not None:
            painter.drawImage(QPointF(0, top), self.drawn.image)
            self._paint_lit(painter, top)
        else:
            side = 8 if self.small else 20
            painter.setFont(font(11 if self.small else 14))
            painter.setPen(colour(p.soft_ink))
            place = (
                Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop if self.small else Qt.AlignmentFlag.AlignCenter
            )
            room = QRectF(self.rect()).adjusted(side, top, -side, 0)
            painter.drawText(room, int(place | Qt.TextFlag.TextWordWrap), self.said)
        if self._begun is not None and self._now is not None:
            painter.setPen(QPen(colour(p.ink), 1, Qt.PenStyle.DashLine))
            painter.setBrush(colour(p.yellow, p.wash))
            painter.drawRect(QRectF(self._begun, self._now).normalized())
        if self.current:
            painter.setPen(QPen(colour(p.yellow), 3))
            painter.drawLine(QPointF(1, 2), QPointF(1, self.height() - 2))
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def _paint_frame(self, painter: QPainter) -> None:
        """Question above, answer below."""
        p, middle = theme.palette(), int(Qt.AlignmentFlag.AlignVCenter)
        painter.setFont(font(12 if self.width() > 130 else 11, "bold"))
        painter.setPen(colour(p.ink))
        metrics = painter.fontMetrics()
        room = self.width() - 12
        said = check_title(self.check)
        shown = metrics.elidedText(said, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(8, 1, room, HEAD - 1), middle, shown)
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        answer = painter.fontMetrics().elidedText(self.answer, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(8, self.height() - TAIL - 1, room, TAIL), middle, answer)

    def _paint_lit(self, painter: QPainter, top: int) -> None:
        """Rings around the lit cases."""
        p = theme.palette()
        points = self.placed.points if self.placed is not None else None
        if points is None:
            return
        radius = 3.0 if self.small else 5.0
        pixels = self.placed.pixels if self.placed is not None else None
        if self.lit.size > MANY and pixels is not None:  # edges of very many would take seconds
            cloud, corner = _cloud(pixels, self.lit, radius - 1.5, p.yellow, p.ink)
            painter.drawImage(corner + QPointF(0, top), cloud)
        else:
            here = points[self.lit]
            here = here[np.isfinite(here).all(axis=1)] + (0.0, top)
            rings = Points(here, Shape.CIRCLE, 2 * radius, p.yellow, OfCases(self.lit), edge=Ink(p.ink, 1.2))
            paint(painter, Page(self.width(), self.height(), (rings,)))
        if self._cursor is not None and not self.small and self.hasFocus():
            x, y = points[self._cursor]
            if np.isfinite(x) and np.isfinite(y):
                painter.setPen(QPen(colour(p.ink), 1.6))
                painter.drawEllipse(QPointF(x, y), radius + 4, radius + 4)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resized.emit()

    # ---- brushing

    def within(self, area: QRectF) -> IntArray:
        """Positions of the cases in a rectangle, or the nearest to it where it is but a point."""
        points = self.placed.points if self.placed is not None else None
        if points is None:
            return np.zeros(0, dtype=np.int64)
        x, y = points[:, 0], points[:, 1]
        if area.width() < FEW_MOVED and area.height() < FEW_MOVED:
            gaps = np.hypot(x - area.center().x(), y - area.center().y())
            nearest = int(np.nanargmin(gaps)) if np.isfinite(gaps).any() else 0
            found = np.array([nearest]) if gaps.size and gaps[nearest] <= REACH else np.zeros(0)
            return np.asarray(found, dtype=np.int64)
        with np.errstate(invalid="ignore"):
            inside = (x >= area.left()) & (x <= area.right()) & (y >= area.top()) & (y <= area.bottom())
        return np.flatnonzero(inside)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if self.small:
            self.clicked.emit()
        elif event is not None and event.button() == Qt.MouseButton.LeftButton and self.placed is not None:
            self._begun = self._now = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._begun is not None:
            self._now = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._begun is None:
            return
        area = QRectF(self._begun, event.position()).normalized()
        self._begun = self._now = None
        adds = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        found = self.within(area)
        if found.size:
            self._cursor = int(found[0])
        self.brushed.emit(found, adds)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if self.small and event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.clicked.emit()
        elif not self.small and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            adds = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.walk(1 if event.key() == Qt.Key.Key_Right else -1, adds)
        else:
            super().keyPressEvent(event)

    def walk(self, by: int, adds: bool) -> None:
        """Light the next case along the plot, from left to right."""
        points = self.placed.points if self.placed is not None else None
        if points is None:
            return
        order = np.lexsort((points[:, 1], points[:, 0]))
        order = order[np.isfinite(points[order]).all(axis=1)]
        if not order.size:
            return
        at = np.flatnonzero(order == self._cursor) if self._cursor is not None else np.zeros(0, dtype=np.int64)
        place = int(at[0]) + by if at.size else (0 if by > 0 else order.size - 1)
        self._cursor = int(order[min(max(place, 0), order.size - 1)])
        if self._found is not None:
            self.setAccessibleDescription(residual_words(self._found, self._cursor))
        self.brushed.emit(np.array([self._cursor]), adds)

    # ---- tooltips

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            show_tip(event.globalPos(), self.tip(event.pos().x(), event.pos().y()), self)
            return True
        return super().event(event)

    def tip(self, x: float, y: float) -> str:
        """The case that stands there, else what to look for; of a small plot its question and answer."""
        if self.small:
            return f"{check_title(self.check)}  {self.answer or self.said}".strip()
        if self.drawn is None or self._found is None:
            return advice(self.check)
        hit = self.drawn.page.hit(x, y)
        if hit is not None and hit.case is not None:
            return residual_words(self._found, hit.case)
        if hit is not None and isinstance(hit.mark, Text) and hit.mark.whole:
            return hit.mark.whole
        return advice(self.check)
