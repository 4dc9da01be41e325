"""Pages of marks drawn with the painter, on screen or into an image off the interface thread."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import assert_never

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QImage, QPainter, QPainterPath, QPen, QPolygonF

from yellow_slope import looks
from yellow_slope.app.widgets.theme import colour
from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.plots.marks import Area, Box, Ink, Line, Mark, Page, Points, Rect, Rects, Shape, Text, Weight
from yellow_slope.values import dataclass

UIntArray = npt.NDArray[np.uint32]
FAR = 1e6
"""Coordinates beyond this are drawn as far as this: the painter's own arithmetic ends not much later."""


MANY = 400
"""From so many points on they are put into an image at once."""
PARTS = 4
"""A pixel is told apart into so many parts each way when a point is put into it."""
FAINT = 0.3
"""The rim of an area that is no stronger than this needs no smoothing."""


def image_of(page: Page, ratio: float = 1.0) -> QImage:
    """The page as an image; `ratio`: device pixels for each of its units."""
    image = QImage(
        max(1, math.ceil(page.width * ratio)),
        max(1, math.ceil(page.height * ratio)),
        QImage.Format.Format_ARGB32_Premultiplied,
    )
    image.setDevicePixelRatio(ratio)
    image.fill(colour(page.ground) if page.ground else Qt.GlobalColor.transparent)
    painter = QPainter(image)
    paint(painter, page)
    painter.end()
    return image


def paint(painter: QPainter, page: Page) -> None:
    """Draw all marks of a page, in their order."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for mark in page.marks:
        clip = mark.clip if isinstance(mark, Line | Area) else None
        if clip is not None:
            painter.save()
            painter.setClipRect(_rect(clip))
        _draw(painter, mark)
        if clip is not None:
            painter.restore()


def _draw(painter: QPainter, mark: Mark) -> None:
    match mark:
        case Line(points, ink, _, _):
            bar = _bar(points, ink)
            if bar is not None:
                painter.fillRect(bar, colour(ink.colour, ink.opacity))
                return
            painter.setPen(_pen(ink))
            for part in _unbroken(points):
                if _is_straight(part):
                    (x0, y0), (x1, y1) = np.clip(part[[0, -1]], -FAR, FAR).tolist()
                    painter.drawLine(QPointF(x0, y0), QPointF(x1, y1))
                else:
                    painter.drawPolyline(_polygon(part))
        case Area(points, hue, opacity, _, _, edge):
            painter.setPen(_pen(edge) if edge is not None else QPen(Qt.PenStyle.NoPen))
            painter.setBrush(colour(hue, opacity))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, opacity > FAINT)
            painter.drawPolygon(_polygon(points[np.all(np.isfinite(points), axis=1)]))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        case Points():
            _draw_points(painter, mark)
        case Rect(box, hue, _, opacity, edge, radius):
            if edge is None and not radius:
                painter.fillRect(_rect(box), colour(hue, opacity))
                return
            painter.setPen(_pen(edge) if edge is not None else QPen(Qt.PenStyle.NoPen))
            painter.setBrush(colour(hue, opacity))
            painter.drawRoundedRect(_rect(box), radius, radius)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        case Rects(boxes, hue, _, opacity, edge):
            painter.setPen(_pen(edge) if edge is not None else QPen(Qt.PenStyle.NoPen))
            painter.setBrush(colour(hue, opacity))
            if boxes.size:
                painter.drawRects(*(QRectF(x, y, right - x, bottom - y) for x, y, right, bottom in boxes.tolist()))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        case Text():
            _draw_text(painter, mark)
        case _:
            assert_never(mark)


def _draw_points(painter: QPainter, mark: Points) -> None:
    there = mark.drawn
    if mark.edge is None and there.shape[0] > MANY:
        _stamp(painter, mark, there)
        return
    if mark.shape is Shape.CIRCLE and mark.edge is None:
        pen = QPen(colour(mark.colour, mark.opacity), mark.size)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        painter.drawPoints(_polygon(there))
        return
    path = QPainterPath()
    for x, y in np.clip(there, -FAR, FAR).tolist():
        _add(path, mark.shape, x, y, mark.size / 2)
    painter.setPen(_pen(mark.edge) if mark.edge is not None else QPen(Qt.PenStyle.NoPen))
    painter.setBrush(colour(mark.colour, mark.opacity))
    painter.drawPath(path)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _stamp(painter: QPainter, mark: Points, there: FloatArray) -> None:
    """Very many points, put into an image at once: where several lie upon each other their colour adds up."""
    device = painter.device()
    ratio = device.devicePixelRatioF() if device is not None else 1.0
    if not there.shape[0]:
        return
    stamp = _stamp_of(mark.shape, mark.size * ratio, mark.opacity)
    pixels, left, top = _stamped(there * ratio, stamp, colour(mark.colour))
    down, across = pixels.shape
    image = QImage(pixels.tobytes(), across, down, 4 * across, QImage.Format.Format_ARGB32_Premultiplied)
    painter.drawImage(QRectF(left / ratio, top / ratio, across / ratio, down / ratio), image)


@dataclass(frozen=True, slots=True, eq=False)
class _Stamp:
    """A point's own pixels: (k, 2) steps right and down, and what each leaves of the ground, as its logarithm.

    left: shape (PARTS * PARTS, k), a row for each part of a pixel in which the point's middle may lie.
    """

    steps: IntArray
    left: FloatArray

    @property
    def reach(self) -> int:
        """The largest step."""
        return int(np.abs(self.steps).max())


@lru_cache(maxsize=64)
def _stamp_of(shape: Shape, size: float, opacity: float) -> _Stamp:
    """The stamp of a point of a size in pixels."""
    half = size / 2
    reach = math.ceil(half * (math.sqrt(2) if shape is Shape.DIAMOND else 1.0) + 0.5)
    steps = np.arange(-reach, reach + 1)
    right, below = (grid.ravel() for grid in np.meshgrid(steps, steps))
    inside = (np.arange(PARTS) + 0.5) / PARTS
    part_x, part_y = (grid.ravel() for grid in np.meshgrid(inside, inside, indexing="ij"))
    dx = right[None, :] + 0.5 - part_x[:, None]
    dy = below[None, :] + 0.5 - part_y[:, None]
    match shape:
        case Shape.CIRCLE:
            away = half - np.hypot(dx, dy)
        case Shape.SQUARE:
            away = half - np.maximum(np.abs(dx), np.abs(dy))
        case Shape.DIAMOND:
            away = half * math.sqrt(2) - (np.abs(dx) + np.abs(dy))
        case Shape.TRIANGLE:
            away = np.minimum(half - dy, 0.447 * (half + dy) - 0.894 * np.abs(dx))
        case _:
            assert_never(shape)
    left = np.log1p(-np.minimum(np.clip(away + 0.5, 0.0, 1.0) * opacity, 0.999))
    covered = np.any(left < 0, axis=0)
    return _Stamp(np.column_stack([right, below])[covered], np.ascontiguousarray(left[:, covered]))


def _stamped(spots: FloatArray, stamp: _Stamp, hue: QColor) -> tuple[UIntArray, int, int]:
    """Premultiplied pixels (down, across) of points at spots (n, 2) in pixels, and where their left top corner lies."""
    parts = np.floor(spots * PARTS).astype(np.int64)
    base, part = parts // PARTS, parts % PARTS
    corner = base.min(axis=0) - stamp.reach
    across, down = (base.max(axis=0) + stamp.reach + 1 - corner).tolist()
    first = (base[:, 1] - corner[1]) * across + base[:, 0] - corner[0]
    places = first[:, None] + (stamp.steps[:, 1] * across + stamp.steps[:, 0])[None, :]
    weights = stamp.left[part[:, 0] * PARTS + part[:, 1]]
    gone = np.bincount(places.ravel(), weights.ravel(), minlength=across * down)
    touched = np.flatnonzero(gone < 0.0)
    alpha = np.arange(256, dtype=np.uint32)
    inks = alpha << 24
    for value, shift in ((hue.red(), 16), (hue.green(), 8), (hue.blue(), 0)):
        inks |= (alpha * value + 127) // 255 << shift
    pixels = np.zeros(across * down, dtype=np.uint32)
    pixels[touched] = inks[np.rint(255.0 * (1.0 - np.exp(gone[touched]))).astype(np.intp)]
    return pixels.reshape(down, across), int(corner[0]), int(corner[1])


def _add(path: QPainterPath, shape: Shape, x: float, y: float, half: float) -> None:
    """One point's outline."""
    match shape:
        case Shape.CIRCLE:
            path.addEllipse(QPointF(x, y), half, half)
        case Shape.SQUARE:
            path.addRect(QRectF(x - half, y - half, 2 * half, 2 * half))
        case Shape.TRIANGLE:
            path.addPolygon(QPolygonF([QPointF(x, y - half), QPointF(x + half, y + half), QPointF(x - half, y + half)]))
            path.closeSubpath()
        case Shape.DIAMOND:
            far = half * math.sqrt(2)
            path.addPolygon(
                QPolygonF([QPointF(x, y - far), QPointF(x + far, y), QPointF(x, y + far), QPointF(x - far, y)])
            )
            path.closeSubpath()
        case _:
            assert_never(shape)


def _draw_text(painter: QPainter, mark: Text) -> None:
    painter.setPen(colour(mark.colour))
    painter.setFont(_font(painter, mark))
    if not mark.upright:
        painter.drawText(QPointF(mark.x, mark.y), mark.text)
        return
    painter.save()
    painter.translate(mark.x, mark.y)
    painter.rotate(-90)
    painter.drawText(QPointF(0, 0), mark.text)
    painter.restore()


def _font(painter: QPainter, mark: Text) -> QFont:
    """The bundled font at the text's size."""
    device = painter.device()
    dots = device.logicalDpiY() if device is not None else 96
    return _face(mark.size * 72 / dots, mark.weight, mark.italic)


@lru_cache(maxsize=64)
def _face(points: float, weight: Weight, italic: bool) -> QFont:
    """The bundled font, its letters as wide as they are measured."""
    made = QFont(looks.FONT_FAMILY)
    made.setPointSizeF(points)
    made.setBold(weight is Weight.BOLD)
    made.setItalic(italic)
    made.setKerning(False)
    made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return made


@lru_cache(maxsize=256)
def _pen(ink: Ink) -> QPen:
    pen = QPen(colour(ink.colour, ink.opacity), ink.width)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    if ink.dash:
        pen.setDashPattern(list(ink.dash))
    return pen


def _rect(box: Box) -> QRectF:
    return QRectF(box.left, box.top, box.width, box.height)


def _polygon(points: FloatArray) -> QPolygonF:
    return QPolygonF([QPointF(x, y) for x, y in np.clip(points, -FAR, FAR).tolist()])


def _bar(points: FloatArray, ink: Ink) -> QRectF | None:
    """An unbroken level or upright line as the rectangle it is; None for any other line."""
    if ink.dash or points.shape[0] != 2:
        return None
    (x0, y0), (x1, y1) = points.tolist()
    half = ink.width / 2
    if y0 == y1 and abs(y0) < FAR and max(abs(x0), abs(x1)) < FAR:
        return QRectF(min(x0, x1), y0 - half, abs(x1 - x0), ink.width)
    if x0 == x1 and abs(x0) < FAR and max(abs(y0), abs(y1)) < FAR:
        return QRectF(x0 - half, min(y0, y1), ink.width, abs(y1 - y0))
    return None


def _is_straight(points: FloatArray) -> bool:
    """Whether a line needs its two ends only."""
    if points.shape[0] < 3:
        return True
    away, along = points - points[0], points[-1] - points[0]
    length = float(np.hypot(*along))
    return bool(length > 0 and np.abs(away[:, 0] * along[1] - away[:, 1] * along[0]).max() < 0.05 * length)


def _unbroken(points: FloatArray) -> list[FloatArray]:
    """The parts of a line between what is not finite."""
    there = np.all(np.isfinite(points), axis=1)
    if there.all():
        return [points]
    edges = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]]).astype(np.int8)))
    return [points[a:b] for a, b in edges.reshape(-1, 2) if b - a > 1]
