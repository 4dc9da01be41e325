"""The small marks for what a column is: a rising line, a tile with the number of levels, a leaf of a calendar, …"""

from __future__ import annotations

from typing import assert_never

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.data.variable import Kind, Variable

SIDE = 15


def paint_mark(painter: QPainter, variable: Variable, left: float, top: float, computed: bool = False) -> None:
    """Draw the mark into a square of 15 px. A computed column has an equals sign below it."""
    p = theme.palette()
    painter.save()
    painter.setPen(QPen(colour(p.ink), 1.4))
    match variable.kind:
        case Kind.NUMBER:
            painter.drawLine(QPointF(left + 1, top + 12), QPointF(left + 13, top + 3))
        case Kind.GROUP:
            _tile(painter, variable, left, top)
        case Kind.DATE:
            painter.drawRect(QRectF(left + 2, top + 3, 11, 10))
            painter.drawLine(QPointF(left + 2, top + 6), QPointF(left + 13, top + 6))
        case Kind.IDENTIFIER:
            painter.setFont(font(13, "medium"))
            painter.drawText(QRectF(left, top, SIDE, SIDE), Qt.AlignmentFlag.AlignCenter, "#")
        case Kind.TEXT:
            painter.setPen(QPen(colour(p.soft_ink), 1.2))
            for dy in (3, 7, 11):
                painter.drawLine(QPointF(left + 1, top + dy), QPointF(left + (13 if dy < 11 else 8), top + dy))
        case _:
            assert_never(variable.kind)
    if computed:
        painter.setPen(QPen(colour(p.amber_ink), 1.4))
        below = SIDE + 2 if variable.kind is Kind.GROUP else SIDE
        for dy in (below, below + 3):
            painter.drawLine(QPointF(left + 3, top + dy), QPointF(left + 11, top + dy))
    painter.restore()


def _tile(painter: QPainter, variable: Variable, left: float, top: float) -> None:
    """A tile with the number of levels; of ordered ones on three steps."""
    painter.drawRoundedRect(QRectF(left, top, SIDE, SIDE), 3, 3)
    painter.setFont(font(10))
    painter.drawText(QRectF(left, top, SIDE, SIDE), Qt.AlignmentFlag.AlignCenter, str(len(variable.levels)))
    if variable.ordered:
        painter.setPen(QPen(painter.pen().color(), 1.6))
        for i in range(3):
            x, y = left + 1 + 5 * i, top + SIDE + 4.5 - 1.5 * i
            painter.drawLine(QPointF(x, y), QPointF(x + 4, y))
