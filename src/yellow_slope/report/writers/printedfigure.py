"""A figure on a page of the printed report: its marks as lines and letters; of very many points a picture."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import Any, assert_never

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.platypus import Flowable

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.letters import UNKNOWN
from yellow_slope.plots.marks import Area, Box, Ink, Line, Mark, Page, Points, Rect, Rects, Shape, Text, Weight
from yellow_slope.plots.measuring import has_letter
from yellow_slope.report.drawing import page_bytes

DPI = 250
MOST_POINTS = 4000
"""Points that are drawn one by one."""
FAR = 1e5


class DrawnPage(Flowable):  # type: ignore[misc]
    """A page of marks at a share of its size."""

    def __init__(self, page: Page, share: float) -> None:
        super().__init__()
        self.page, self.share = page, share
        self.width, self.height, self.hAlign = page.width * share, page.height * share, "LEFT"

    def wrap(self, *_room: float) -> tuple[float, float]:
        """What it takes of a page."""
        return self.width, self.height

    def draw(self) -> None:
        """The marks, or a picture of them."""
        canvas, page = self.canv, self.page
        if sum(m.points.shape[0] for m in page.marks if isinstance(m, Points)) > MOST_POINTS:
            picture = ImageReader(io.BytesIO(page_bytes(page, "png", DPI)))
            canvas.drawImage(picture, 0, 0, self.width, self.height)
            return
        canvas.saveState()
        canvas.scale(self.share, self.share)
        if page.ground:
            canvas.setFillColor(HexColor(page.ground))
            canvas.rect(0, 0, page.width, page.height, stroke=0, fill=1)
        for mark in page.marks:
            canvas.saveState()
            _draw(canvas, mark, page.height)
            canvas.restoreState()
        canvas.restoreState()


def _draw(canvas: Any, mark: Mark, height: float) -> None:
    """A mark on a page whose zero is below."""
    if isinstance(mark, Line | Area) and mark.clip is not None:
        _clip(canvas, mark.clip, height)
    match mark:
        case Line(points, ink, _, _):
            if ink.width > 0:
                _pen(canvas, ink, ink.opacity)
                for piece in _pieces(points):
                    canvas.drawPath(_path(canvas, piece, height), stroke=1, fill=0)
        case Area(points, colour, opacity, _, _, edge):
            drawn = points[np.all(np.isfinite(points), axis=1)]
            if drawn.shape[0] > 2:
                stroke = _fill(canvas, colour, opacity, edge)
                canvas.drawPath(_path(canvas, drawn, height, closed=True), stroke=stroke, fill=1)
        case Points(_, shape, size, colour, _, opacity, edge, _):
            stroke = _fill(canvas, colour, opacity, edge)
            for x, y in mark.drawn:
                _point(canvas, shape, float(x), height - float(y), size, stroke)
        case Rect(box, colour, _, opacity, edge, radius):
            stroke = _fill(canvas, colour, opacity, edge)
            below, wide, high = height - box.bottom, box.width, box.bottom - box.top
            if radius:
                canvas.roundRect(box.left, below, wide, high, min(radius, wide / 2, high / 2), stroke=stroke, fill=1)
            else:
                canvas.rect(box.left, below, wide, high, stroke=stroke, fill=1)
        case Rects(boxes, colour, _, opacity, edge):
            stroke = _fill(canvas, colour, opacity, edge)
            for left, top, right, bottom in boxes:
                canvas.rect(left, height - bottom, right - left, bottom - top, stroke=stroke, fill=1)
        case Text():
            _write(canvas, mark, height)
        case _:
            assert_never(mark)


def _clip(canvas: Any, box: Box, height: float) -> None:
    path = canvas.beginPath()
    path.rect(box.left, height - box.bottom, box.width, box.bottom - box.top)
    canvas.clipPath(path, stroke=0, fill=0)


def _pieces(points: FloatArray) -> Iterator[FloatArray]:
    """A line in the pieces between what is not finite."""
    there = np.all(np.isfinite(points), axis=1)
    ends = np.flatnonzero(np.diff(np.concatenate(([False], there, [False])).astype(int)))
    for begin, end in zip(ends[::2], ends[1::2]):
        if end - begin > 1:
            yield points[begin:end]


def _path(canvas: Any, points: FloatArray, height: float, closed: bool = False) -> Any:
    path = canvas.beginPath()
    near = np.clip(points, -FAR, FAR)
    path.moveTo(float(near[0, 0]), height - float(near[0, 1]))
    for x, y in near[1:]:
        path.lineTo(float(x), height - float(y))
    if closed:
        path.close()
    return path


def _pen(canvas: Any, ink: Ink, opacity: float) -> None:
    canvas.setStrokeColor(HexColor(ink.colour))
    canvas.setStrokeAlpha(opacity)
    canvas.setLineWidth(ink.width)
    if ink.dash:  # in widths of the line
        canvas.setDash([part * ink.width for part in ink.dash])


def _fill(canvas: Any, colour: str, opacity: float, edge: Ink | None) -> int:
    """Ready to fill; whether there is an edge to draw, too."""
    canvas.setFillColor(HexColor(colour))
    canvas.setFillAlpha(opacity)
    if edge is None or edge.width <= 0:
        return 0
    _pen(canvas, edge, opacity)
    return 1


def _point(canvas: Any, shape: Shape, x: float, y: float, size: float, stroke: int) -> None:
    half = size / 2
    match shape:
        case Shape.CIRCLE:
            canvas.circle(x, y, half, stroke=stroke, fill=1)
            return
        case Shape.SQUARE:
            corners = [(-half, -half), (half, -half), (half, half), (-half, half)]
        case Shape.TRIANGLE:
            corners = [(0.0, half), (half, -half), (-half, -half)]
        case Shape.DIAMOND:
            far = size / 2**0.5
            corners = [(0.0, far), (far, 0.0), (0.0, -far), (-far, 0.0)]
        case _:
            assert_never(shape)
    path = canvas.beginPath()
    path.moveTo(x + corners[0][0], y + corners[0][1])
    for across, up in corners[1:]:
        path.lineTo(x + across, y + up)
    path.close()
    canvas.drawPath(path, stroke=stroke, fill=1)


def _write(canvas: Any, mark: Text, height: float) -> None:
    """Letters from their left end along their baseline; those that the font lacks in another."""
    font = "SlopeSans-Bold" if mark.weight is Weight.BOLD else "SlopeSans-Italic" if mark.italic else "SlopeSans"
    canvas.setFillColor(HexColor(mark.colour))
    canvas.translate(mark.x, height - mark.y)
    if mark.upright:
        canvas.rotate(90)
    at = 0.0
    for text, lacks in in_fonts(mark.text.replace(UNKNOWN, "?")):
        name = "Second" if lacks else font
        canvas.setFont(name, mark.size)
        canvas.drawString(at, 0.0, text)
        at += stringWidth(text, name, mark.size)


def in_fonts(text: str) -> Iterator[tuple[str, bool]]:
    """Stretches of a text, each with whether the font lacks its letters."""
    begun = 0
    lacking = [not letter.isspace() and not has_letter(letter) for letter in text]
    if any(lacking):  # what the second font lacks too is marked: a page tells nothing of a glyph that is none
        second = pdfmetrics.getFont("Second").face.charToGlyph
        pairs = zip(text, lacking)
        text = "".join(UNKNOWN if lacks and ord(letter) not in second else letter for letter, lacks in pairs)
    for end in range(1, len(text) + 1):
        if end == len(text) or lacking[end] != lacking[begun]:
            yield text[begun:end], lacking[begun]
            begun = end
