"""A coding on offer, with a drawing of which levels stand against which."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QPushButton

from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.fit.design.codes import codes_of
from yellow_slope.core.study.coding import Coding, Dummy, Planned, Question


class AskButton(QPushButton):
    """A coding on offer, with a drawing of which levels stand against which."""

    def __init__(self, coding: Coding, text: str, help: str) -> None:
        super().__init__(text)
        self._rows = _drawing(coding)
        self.setCheckable(True)
        self.setAccessibleName(help)
        self.setToolTip(f"Ask {help}")
        self.setFixedHeight(40)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.isChecked() or self.hasFocus() or self.underMouse():
            painter.setPen(QPen(colour(p.yellow), 2) if self.hasFocus() else QPen(colour(p.line), 1))
            painter.setBrush(colour(p.yellow, 0.3) if self.isChecked() else colour(p.panel))
            painter.drawRoundedRect(self.rect().adjusted(1, 1, -1, -1), 6, 6)
        step = 28.0 / max(1, len(self._rows))
        for i, row in enumerate(self._rows):
            y = 6 + step * (i + 0.5)
            here = [j for j, weight in enumerate(row) if weight]
            if not here:
                continue
            painter.setPen(QPen(colour(p.soft_ink), 1))
            painter.drawLine(QPointF(12 + 13 * here[0], y), QPointF(12 + 13 * here[-1], y))
            for j in here:
                painter.setPen(QPen(colour(p.ink), 1.1))
                painter.setBrush(colour(p.ink if row[j] > 0 else p.panel))
                painter.drawEllipse(QPointF(12 + 13 * j, y), 3, 3)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(colour(p.ink))
        painter.setFont(font(12, "bold" if self.isChecked() else "normal"))
        painter.drawText(self.rect().adjusted(64, 0, -2, 0), Qt.AlignmentFlag.AlignVCenter, self.text())


def _drawing(coding: Coding) -> list[list[float]]:
    """Weights over four levels, one row for each comparison."""
    shown = coding
    if isinstance(coding, Planned):
        shown = Planned((Question("", ("b", "c", "d"), ("a",)), Question("", ("d",), ("b", "c"))))
    if isinstance(coding, Dummy):
        shown = Dummy("a")
    made = codes_of(shown, tuple("abcd"), np.ones(4, dtype=np.int64))
    rows = [[float(w) if abs(w) > 1e-9 else 0.0 for w in c.weights] for c in made.comparisons]
    return rows[:2] if isinstance(coding, Planned) else rows
