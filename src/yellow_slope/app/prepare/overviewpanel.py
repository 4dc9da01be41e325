"""The groups themselves: means with intervals and cases, the omnibus test, every two levels against each other."""

from __future__ import annotations

from itertools import accumulate

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from yellow_slope import looks
from yellow_slope.app.prepare.zeropoints import Span
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.plaintext import show_tip
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.groups.overview import MOST_PAIRS, Overview
from yellow_slope.core.study.study import NO_STUDY, Study
from yellow_slope.core.words.sentences.comparisons import (
    omnibus_text,
    overview_note,
    pair_cells,
    pair_sentence,
    stated_values,
)
from yellow_slope.core.words.spelling.numerals import estimate_decimals, fixed, interval, level_text

ROW = 23
NAME = 130
PLOT = 330
"""Width of means with what is said of them, where the pairs stand beside."""
WIDEST = 640
SAID, COUNTS = 116, 52
"""Of that the room for mean and number of cases, and for the number alone."""
MOST_DRAWN = 12
UP_DOWN = (Qt.Key.Key_Up, Qt.Key.Key_Down)
MOST_DOTS = 4000
HEADS = ("difference", "CI", "p", "p Holm", "d", "CI of d")
INTERVAL = 1
"""The column whose head says the level."""
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
CENTER = Qt.AlignmentFlag.AlignCenter
WRAP = int(Qt.TextFlag.TextWordWrap)


class OverviewPanel(QWidget):
    """Paints an overview; a row of the table can be chosen."""

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The groups compared with each other")
        self.study = NO_STUDY
        self.found: Overview | None = None
        self.current: int | None = None
        self.room: int = 800
        self._top = 60.0
        self._plot = 250
        self._stacked, self._pairs_left, self._pairs_top, self._across = False, 0.0, 0.0, 200.0
        self._level = 30.0
        self._pair_edges = [0.0]
        """Where each pair's row begins below the first, and the last one ends."""

    def show_overview(self, study: Study, found: Overview | None, current: int | None) -> None:
        """Show an overview."""
        self.study, self.found, self.current = study, found, current
        self.lay_out()

    @property
    def lines(self) -> list[str]:
        """What stands above plot and table."""
        assert self.found is not None
        stated = stated_values(self.found, self.study)
        lines = [omnibus_text(self.found, self.study), overview_note(self.found, self.study)]
        if stated:
            lines.insert(1, f"Means {stated}.")
        return lines

    @property
    def is_drawn(self) -> bool:
        """Whether the means are drawn; of many levels they are a table."""
        return self.found is not None and len(self.found.levels) <= MOST_DRAWN

    def lay_out(self) -> None:
        """Find the sizes."""
        if self.found is None:
            self.setFixedSize(10, 10)
            return
        beside = NAME + PLOT + 40 + 150 + sum(self._widths())
        self._stacked = self.room < beside  # the table then stands below the plot
        spare = int(self.room) - beside - 150
        self._plot = (
            max(PLOT, int(self.room) - NAME - 40) if self._stacked else PLOT + max(0, min(WIDEST - PLOT, spare))
        )
        metrics = QFontMetrics(font(13))
        heights = [metrics.boundingRect(0, 0, self.room - 20, 900, WRAP, line).height() for line in self.lines]
        self._top = sum(heights) + 4.0 * len(heights) + 8
        names = QFontMetrics(font(13))
        labels = [self.study.variable(self.found.variable).level(code).label for code in self.found.levels]
        tall = max((names.boundingRect(0, 0, NAME - 10, 900, WRAP, text).height() for text in labels), default=16)
        self._level = max(34.0 if self.is_drawn else ROW, tall + 8.0)
        left = self._level * len(labels) + 50
        self._pairs_left = 0.0 if self._stacked else NAME + self._plot + 34.0
        self._pairs_top = self._top + (left if self._stacked else 0.0)
        self._across = max(124.0, self.room - self._pairs_left - 6 - sum(self._widths()))
        self._pair_edges = [0.0, *accumulate(self._pair_height(i) for i in range(len(self.found.pairs)))]
        right = self._pair_edges[-1] + 54
        whole = left + right if self._stacked else max(left, right)
        wide = int(self._pairs_left + 6 + 124 + sum(self._widths()))
        self.setFixedSize(max(self.room, wide), int(self._top + whole + 8))
        self.update()

    def _widths(self) -> tuple[int, ...]:
        return (60, 98, 46, 50, 44, 88) if self.found is not None and self.found.held is None else (76, 118, 60, 64)

    def _pair_height(self, index: int) -> float:
        assert self.found is not None
        text = pair_cells(self.found, self.study, index)[0]
        metrics = QFontMetrics(font(12))
        return max(float(ROW), metrics.boundingRect(0, 0, int(self._across) - 10, 900, WRAP, text).height() + 6.0)

    def pair_rect(self, index: int) -> QRectF:
        """Where a pair's row stands."""
        above, below = self._pair_edges[index : index + 2]
        left = self._pairs_left
        return QRectF(left, self._pairs_top + 24 + above, self.width() - left, below - above)

    # ---- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(p.panel))
        if self.found is None:
            return
        y = 4.0
        for i, line in enumerate(self.lines):
            painter.setFont(font(13, "medium" if i == 0 else "normal"))
            painter.setPen(colour(p.ink if i == 0 else p.soft_ink))
            height = QFontMetrics(font(13)).boundingRect(0, 0, self.room - 20, 900, WRAP, line).height()
            painter.drawText(QRectF(6, y, self.room - 16, height + 4), WRAP, line)
            y += height + 4
        self._paint_means(painter)
        self._paint_pairs(painter, QRectF(event.rect()) if event is not None else QRectF(self.rect()))

    def _paint_means(self, painter: QPainter) -> None:
        found, study, p = self.found, self.study, theme.palette()
        assert found is not None
        variable, outcome = study.variable(found.variable), study.variable(study.model.outcome or "")
        top = self._top + 22
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        title = QFontMetrics(painter.font()).elidedText(
            outcome.axis_label, Qt.TextElideMode.ElideRight, self._plot - SAID
        )
        painter.drawText(QRectF(NAME, self._top, self._plot - SAID, 16), CENTER, title)
        span = self._span() if self.is_drawn else None
        bottom = top + self._level * len(found.levels)
        if span is not None:
            for tick in span.ticks(54.0, 11.0):
                x = span.x(tick.value)
                painter.setPen(QPen(colour(p.line), 1))
                painter.drawLine(QPointF(x, top), QPointF(x, bottom))
                painter.setPen(colour(p.soft_ink))
                painter.drawText(QRectF(x - 30, bottom + 2, 60, 14), CENTER, tick.label)
            self._paint_cases(painter, span, top)
        for i, code in enumerate(found.levels):
            y = top + i * self._level
            mean, hue = found.means[i], colour(looks.group_hue(i, p))
            painter.setFont(font(13))
            painter.setPen(colour(p.ink))
            painter.drawText(QRectF(6, y, NAME - 10, self._level), int(LEFT) | WRAP, variable.level(code).label)
            if span is None:
                d = estimate_decimals(mean.se, mean.effect, mean.low, mean.high) if mean.exists else 2
                around = f" ({interval(mean.low, mean.high, d)})" if mean.low == mean.low else ""
                painter.drawText(
                    QRectF(NAME, y, self._plot, self._level),
                    LEFT,
                    f"{fixed(mean.effect, d)}{around}, n = {int(found.counts[i])}",
                )
                continue
            if not mean.exists:
                continue
            middle = y + self._level / 2
            if mean.low == mean.low:
                painter.setPen(QPen(hue, 2.4))
                painter.drawLine(
                    QPointF(span.x(max(span.low, mean.low)), middle), QPointF(span.x(min(span.high, mean.high)), middle)
                )
            painter.setPen(QPen(colour(p.panel), 1.4))
            painter.setBrush(hue)
            painter.drawEllipse(QPointF(span.x(mean.effect), middle), 5, 5)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setFont(font(11))
            painter.setPen(colour(p.ink))
            right = NAME + self._plot
            mean_said = QRectF(right - SAID, y, SAID - COUNTS, self._level)
            painter.drawText(
                mean_said, RIGHT, fixed(mean.effect, estimate_decimals(mean.se, mean.effect, mean.low, mean.high))
            )
            painter.drawText(QRectF(right - COUNTS, y, COUNTS, self._level), RIGHT, f"n = {int(found.counts[i])}")

    def _span(self) -> Span | None:
        found = self.found
        assert found is not None
        ends = [v for m in found.means if m.exists for v in ((m.low, m.high) if m.low == m.low else (m.effect,))]
        if not ends:
            return None
        low, high = min(ends), max(ends)
        if found.held is None:
            low, high = min(low, float(found.fit.y.min())), max(high, float(found.fit.y.max()))
        pad = 0.04 * ((high - low) or 1.0)
        return Span(low - pad, high + pad, NAME, self._plot - SAID)

    def _paint_cases(self, painter: QPainter, span: Span, top: float) -> None:
        """Every case as a dot beside its group's mean, shifted a little so that equal ones are seen."""
        found = self.found
        assert found is not None
        if found.held is not None or found.fit.y.size > MOST_DOTS:
            return
        positions = np.asarray(found.fit.values[found.variable], dtype=np.int64)
        shift = (np.arange(positions.size) * 0.618034) % 1.0 - 0.5
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour(theme.palette().shade, 0.55))
        for position, value, off in zip(positions, found.fit.y, shift):
            y = top + (position + 0.5 + 0.6 * off) * self._level
            painter.drawEllipse(QPointF(span.x(float(value)), y), 1.7, 1.7)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_pairs(self, painter: QPainter, seen: QRectF) -> None:
        """The pairs within what is seen."""
        found, study, p = self.found, self.study, theme.palette()
        assert found is not None
        left = self._pairs_left
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        if not found.pairs:
            n = len(found.levels)
            said = (
                f"{n} levels make {n * (n - 1) // 2:,} pairs: more than {MOST_PAIRS} levels are not compared pair by "
                "pair."
            )
            painter.drawText(QRectF(left + 4, self._pairs_top, 420, 60), WRAP, said)
            return
        widths = self._widths()
        level = level_text(study.model.level)
        x = left + self._across
        for i, (width, head) in enumerate(zip(widths, HEADS)):
            said = f"{level} {head}" if i == INTERVAL else head
            painter.drawText(QRectF(x, self._pairs_top + 2, width, 18), RIGHT, said)
            x += width
        for i in range(len(found.pairs)):
            area = self.pair_rect(i)
            if not area.intersects(seen):
                continue
            if i == self.current:
                painter.fillRect(area, colour(p.yellow, p.wash))
                if self.hasFocus():
                    painter.setPen(QPen(colour(p.yellow), 2))
                    painter.drawRect(area.adjusted(1, 1, -1, -1))
            name, *cells = pair_cells(found, study, i)
            painter.setFont(font(12))
            painter.setPen(colour(p.ink))
            painter.drawText(QRectF(left + 4, area.top(), self._across - 8, area.height()), int(LEFT) | WRAP, name)
            x = left + self._across
            for width, text in zip(widths, cells):
                painter.drawText(QRectF(x, area.top(), width, area.height()), RIGHT, text)
                x += width

    # ---- mouse and keys

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.found is None:
            return
        for i in range(len(self.found.pairs)):
            if self.pair_rect(i).contains(event.position()):
                self.chosen.emit(i)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and self.found is not None and self.found.pairs and event.key() in UP_DOWN:
            by = 1 if event.key() == Qt.Key.Key_Down else -1
            at = (self.current if self.current is not None else -by) + by
            self.chosen.emit(max(0, min(len(self.found.pairs) - 1, at)))
            return
        super().keyPressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and event.key() in UP_DOWN:
            event.accept()  # the strips around it use the same keys
            return True
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and self.found is not None:
            here = [i for i in range(len(self.found.pairs)) if self.pair_rect(i).contains(QPointF(event.pos()))]
            show_tip(event.globalPos(), pair_sentence(self.found, self.study, here[0]) if here else "", self)
            return True
        return super().event(event)
