"""Where the strip for a part of a figure stands: beside the part, over as little as can be."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import product

from PyQt6.QtCore import QPointF, QRectF, QSizeF

GAP = 9.0
"""Pixels between part and strip."""
PART, TITLE, TEXT = 1000.0, 60.0, 8.0
"""How bad it is to cover a pixel of each."""


def beside(
    strip: QSizeF, part: QRectF, titles: Iterable[QRectF], texts: Iterable[QRectF], figure: QRectF, room: QRectF
) -> QPointF:
    """The upper left corner of the strip: where it covers neither the part nor the title of an axis, of other texts the
    fewest, and is nearest; where it always covers something, the least of it. All within one area of coordinates."""
    middle = part.center()
    xs = (middle.x() - strip.width() / 2, part.right() + GAP, part.left() - GAP - strip.width(), room.left())
    ys = (
        part.bottom() + GAP,
        part.top() - GAP - strip.height(),
        middle.y() - strip.height() / 2,
        figure.bottom() + 2,
        figure.top() - strip.height() - 2,
        room.bottom() - strip.height(),
        room.top(),
    )
    kept = [(part, PART), *((one, TITLE) for one in titles), *((one, TEXT) for one in texts)]

    def cost(at: QPointF) -> float:
        box = QRectF(at, strip)
        away = box.center() - middle
        covered = 0.0
        for one, weight in kept:
            both = box.intersected(one)
            covered += weight * max(0.0, both.width()) * max(0.0, both.height())
        return covered + abs(away.x()) / 2 + abs(away.y())

    def within(x: float, y: float) -> QPointF:
        right, low = max(room.left(), room.right() - strip.width()), max(room.top(), room.bottom() - strip.height())
        return QPointF(min(max(x, room.left()), right), min(max(y, room.top()), low))

    return min((within(x, y) for x, y in product(xs, ys)), key=cost)
