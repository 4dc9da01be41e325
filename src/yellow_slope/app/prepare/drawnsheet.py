"""The drawing of the code sheet: levels down, comparisons across; each is a beam with levels hung on its two sides."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from yellow_slope import looks
from yellow_slope.app.prepare.zeropoints import Span
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.groups.codecard import CodeCard
from yellow_slope.core.study.coding import Planned
from yellow_slope.core.study.edits.questions import ONE, OTHER, questions_of, side_of
from yellow_slope.core.study.study import NO_STUDY, Study
from yellow_slope.core.words.sentences.comparisons import (
    comparison_title,
    effect_lines,
    independence,
    question_troubles,
)
from yellow_slope.core.words.spelling.numerals import MINUS, fixed, level_text

NAME, CASES, DOTS = 128, 44, 112
LEFT_PART = NAME + CASES + DOTS + 14
NARROW, WIDE = 116, 178
ROW = 32
BEAM = 34
CENTER = Qt.AlignmentFlag.AlignCenter
WRAP = int(Qt.TextFlag.TextWordWrap)
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
TOP = int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop) | WRAP


def weight_text(weight: float) -> str:
    """A weight as people write it: “+1/3”, “−1”, “+.67”; empty for 0."""
    if weight == 0:
        return ""
    sign = "+" if weight > 0 else MINUS
    part = Fraction(abs(weight)).limit_denominator(24)
    if abs(float(part) - abs(weight)) < 1e-9:
        return f"{sign}{part}"
    return sign + fixed(abs(weight), 2).removeprefix("0")


class DrawnSheet(QWidget):
    """Paints a code card and knows where everything on it stands."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Comparisons of the group's levels")
        self.study = NO_STUDY
        self.card: CodeCard | None = None
        self.as_columns = False
        self.current: int | None = None
        self.row = 0
        self.room = 600
        """Width there is without scrolling."""
        self._heads = 60.0
        self._heights: list[float] = []
        self._said = 40.0
        self._finds = 18.0

    # ---- what it shows

    def show_card(self, study: Study, card: CodeCard | None, as_columns: bool, current: int | None) -> None:
        """Show a card; `as_columns`: the columns of the model matrix instead of the weights."""
        self.study, self.card, self.as_columns, self.current = study, card, as_columns, current
        self.row = min(self.row, max(0, len(card.levels) - 1)) if card is not None else 0
        self.lay_out()

    @property
    def is_planned(self) -> bool:
        """Whether its questions are the analyst's own."""
        return self.card is not None and isinstance(self.card.basis.coding, Planned)

    @property
    def n_columns(self) -> int:
        """How many comparisons are shown, those that are only tested and those that are still empty included."""
        if self.card is None:
            return 0
        return len(self.card.comparisons) + len(self.empty())

    def empty(self) -> list[int]:
        """Planned questions without a column of their own yet, by their place."""
        if self.card is None or not self.is_planned:
            return []
        known = {c.key for c in self.card.comparisons if c.key}
        return [i for i in range(len(questions_of(self.study, self.card.variable))) if str(i) not in known]

    def place_of(self, column: int) -> int | None:
        """The planned question in a column; None where the program completed the set, or under another coding."""
        if self.card is None or not self.is_planned:
            return None
        if column < len(self.card.comparisons):
            key = self.card.comparisons[column].key
            return int(key) if key else None
        rest = self.empty()
        at = column - len(self.card.comparisons)
        return rest[at] if at < len(rest) else None

    def has_room(self) -> bool:
        """Whether a further question can be asked here."""
        return self.is_planned and not self.empty()

    # ---- geometry

    def lay_out(self) -> None:
        """Find the sizes: nothing is cut, so heads and rows grow with their names."""
        card, study = self.card, self.study
        if card is None:
            self.setFixedSize(10, 10)
            return
        n = self.n_columns + (1 if self.has_room() else 0)
        self._width = max(NARROW, min(WIDE, (self.room - LEFT_PART - 8) / max(1, n)))
        bold, small = QFontMetrics(font(12, "bold")), QFontMetrics(font(11))
        names = QFontMetrics(font(13))
        variable = study.variable(card.variable)
        self._heights = [
            max(ROW, names.boundingRect(0, 0, NAME - 6, 900, WRAP, variable.level(code).label).height() + 10.0)
            for code in card.levels
        ]
        inner = int(self._width) - 10
        heads = [bold.boundingRect(0, 0, inner, 900, WRAP, self.title(j)).height() for j in range(self.n_columns)]
        self._heads = max([*heads, 16]) + 22.0
        finds = [
            bold.boundingRect(0, 0, inner, 900, WRAP, line).height()
            for j in range(len(card.comparisons))
            for line in effect_lines(card, j, study)[:1]
        ]
        self._finds = max([*finds, 16]) + 2.0
        said = [small.boundingRect(0, 0, inner, 900, WRAP, self.remark(j)).height() for j in range(self.n_columns)]
        self._said = max([*said, 14]) + 8.0
        height = self._heads + BEAM + sum(self._heights) + 16 + self._finds + 18 + 46 + self._said + 6
        self.setFixedSize(int(LEFT_PART + self._width * n + 10), int(height))
        self.update()

    def title(self, column: int) -> str:
        """The head of a column."""
        assert self.card is not None
        if column < len(self.card.comparisons):
            return comparison_title(self.card, self.study, column)
        place = self.place_of(column)
        questions = questions_of(self.study, self.card.variable)
        return (questions[place].name if place is not None else "") or "a new question"

    def remark(self, column: int) -> str:
        """What is said of a column's independence, or what is the matter with its question."""
        assert self.card is not None
        place = self.place_of(column)
        trouble = question_troubles(self.study, self.card).get(place) if place is not None else None
        if trouble:
            return trouble
        if column >= len(self.card.comparisons):
            return ""
        if self.is_planned and place is None:
            return "added by the program, to complete the set"
        return independence(self.card, column)

    def column_left(self, column: int) -> float:
        """Left edge of a column."""
        return LEFT_PART + column * self._width

    def rows_top(self) -> float:
        """Top of the first level's row."""
        return self._heads + BEAM

    def cell(self, level: int, column: int) -> QRectF:
        """Where a level meets a comparison."""
        top = self.rows_top() + sum(self._heights[:level])
        return QRectF(self.column_left(column), top, self._width, self._heights[level])

    def level_rect(self, level: int) -> QRectF:
        """Where a level's name stands."""
        top = self.rows_top() + sum(self._heights[:level])
        return QRectF(0, top, NAME + CASES, self._heights[level])

    def head_rect(self, column: int) -> QRectF:
        """The head of a column with its beam; one past the last: where another question is asked."""
        return QRectF(self.column_left(column), 0, self._width, self._heads + BEAM)

    def _at(self, position: QPointF) -> tuple[int | None, int | None]:
        """Level and column at a place; None outside."""
        column = int((position.x() - LEFT_PART) // self._width) if position.x() >= LEFT_PART else None
        y, level = position.y() - self.rows_top(), None
        for i, height in enumerate(self._heights):
            if 0 <= y < height:
                level = i
                break
            y -= height
        return level, column

    # ---- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(p.panel))
        card, study = self.card, self.study
        if card is None:
            return
        if self.current is not None and self.current < self.n_columns:
            area = QRectF(self.column_left(self.current) + 2, 0, self._width - 4, self.height())
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour(p.yellow, p.wash))
            painter.drawRoundedRect(area, 6, 6)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        self._paint_levels(painter, study, card)
        for j in range(self.n_columns):
            self._paint_column(painter, j)
        if self.has_room():
            self._paint_another(painter)
        self._paint_labels(painter)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            here = self.cell(self.row, self.current or 0) if self.n_columns else self.level_rect(self.row)
            painter.drawRoundedRect(here.adjusted(3, 2, -3, -2), 4, 4)

    def _paint_levels(self, painter: QPainter, study: Study, card: CodeCard) -> None:
        p, variable = theme.palette(), study.variable(card.variable)
        outcome = study.variable(study.model.outcome or "")
        top = self.rows_top()
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        where = "the groups alone" if card.is_alone else f"adjusted in step {card.step + 1}"
        painter.drawText(
            QRectF(0, 0, LEFT_PART - 10, 34), int(Qt.AlignmentFlag.AlignRight) | WRAP, f"{outcome.label},\n{where}"
        )
        painter.drawText(QRectF(NAME, top - 18, CASES, 16), CENTER, "cases")
        span = self._means_span()
        known = [m for m in card.means if m.exists]
        if span is not None:
            for tick in span.ticks(36.0, 11.0):
                x = span.x(tick.value)
                painter.setPen(QPen(colour(p.line), 1))
                painter.drawLine(QPointF(x, top), QPointF(x, top + sum(self._heights)))
                painter.setPen(colour(p.soft_ink))
                painter.drawText(QRectF(x - 30, top - 18, 60, 16), CENTER, tick.label)
        reference = card.basis.reference
        for i, code in enumerate(card.levels):
            area = self.level_rect(i)
            painter.setPen(QPen(colour(p.line), 1))
            painter.drawLine(QPointF(0, area.top()), QPointF(self.width(), area.top()))
            is_reference = i == reference
            painter.setFont(font(13, "bold" if is_reference else "normal"))
            painter.setPen(colour(p.ink))
            painter.drawText(
                QRectF(6, area.top(), NAME - 6, area.height()), int(LEFT) | WRAP, variable.level(code).label
            )
            painter.setFont(font(12))
            painter.setPen(colour(p.soft_ink))
            painter.drawText(QRectF(NAME, area.top(), CASES, area.height()), CENTER, f"{int(card.counts[i])}")
            mean, hue = card.means[i], colour(looks.group_hue(i, p))
            if span is not None and mean.exists:
                y = area.center().y()
                if mean.low == mean.low:
                    painter.setPen(QPen(hue, 2))
                    painter.drawLine(
                        QPointF(max(span.left, span.x(mean.low)), y),
                        QPointF(min(span.left + span.width, span.x(mean.high)), y),
                    )
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(hue)
                painter.drawEllipse(QPointF(span.x(mean.effect), y), 4, 4)
                painter.setBrush(Qt.BrushStyle.NoBrush)
        bottom = top + sum(self._heights)
        painter.setPen(QPen(colour(p.line), 1))
        painter.drawLine(QPointF(0, bottom), QPointF(self.width(), bottom))
        zero = card.basis.zero_weights
        if span is not None and zero is not None and len(known) == len(card.means):
            level = float(zero @ np.array([m.effect for m in card.means]))
            x = span.x(level)
            painter.setPen(QPen(colour(p.soft_ink), 1.2, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, top), QPointF(x, bottom + 4))

    def _means_span(self) -> Span | None:
        assert self.card is not None
        ends = [
            v
            for m in self.card.means
            if m.exists
            for v in ((m.low, m.high) if m.low == m.low else (m.effect, m.effect))
        ]
        if not ends:
            return None
        centers = [m.effect for m in self.card.means if m.exists]
        low, high = min(ends), max(ends)
        reach = (max(centers) - min(centers)) or 1.0
        low, high = max(low, min(centers) - 2 * reach), min(high, max(centers) + 2 * reach)
        return Span(low, high if high > low else low + 1, NAME + CASES + 8, DOTS - 8)

    def _paint_column(self, painter: QPainter, j: int) -> None:
        card, p = self.card, theme.palette()
        assert card is not None
        left, width = self.column_left(j), self._width
        place = self.place_of(j)
        by_program = self.is_planned and place is None
        ink = colour(p.soft_ink if by_program else p.ink)
        painter.setFont(font(11))
        painter.setPen(colour(p.amber_ink if j == self.current else p.soft_ink))
        word = "question" if self.is_planned else "comparison"
        if card.basis.zero_weights is None:
            word = "level"
        painter.drawText(QRectF(left + 5, 0, width - 10, 16), TOP, f"{word} {j + 1}")
        painter.setFont(font(12, "normal" if by_program else "bold"))
        painter.setPen(ink)
        painter.drawText(QRectF(left + 5, 16, width - 10, self._heads - 16), TOP, self.title(j))
        weights = self.weights(j)
        if self.as_columns:
            self._paint_codes(painter, j)
        else:
            self._paint_beam(painter, j, weights, ink, place)
        if j < len(card.comparisons):
            self._paint_finding(painter, j)
        self._paint_remark(painter, j)

    def weights(self, column: int) -> np.ndarray:
        """Shape (levels,): the weights of a column; of a question that has only one side yet, those of that side."""
        card, study = self.card, self.study
        assert card is not None
        if column < len(card.comparisons):
            return card.comparisons[column].weights
        place = self.place_of(column)
        made = np.zeros(len(card.levels))
        if place is None:
            return made
        question = questions_of(study, card.variable)[place]
        sides = np.array([side_of(question, code) for code in card.levels])
        for side in (ONE, OTHER):
            here = sides == side
            if here.any():
                made[here] = side / here.sum()
        return made

    def _paint_beam(self, painter: QPainter, j: int, weights: np.ndarray, ink, place: int | None) -> None:  # type: ignore[no-untyped-def]
        p = theme.palette()
        left, width, y = self.column_left(j), self._width, self._heads + 14
        middle, arm = left + width / 2, max(14.0, min(36.0, width / 2 - 44))
        minus, plus = middle - arm, middle + arm
        painter.setPen(QPen(ink, 1.2))
        painter.setBrush(colour(p.yellow if j == self.current else p.panel))
        painter.drawPolygon(QPolygonF([QPointF(middle, y), QPointF(middle - 6, y - 9), QPointF(middle + 6, y - 9)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(ink, 2.4))
        painter.drawLine(QPointF(minus - 6, y), QPointF(plus + 6, y))
        painter.setFont(font(12, "bold"))
        painter.drawText(QRectF(minus - 26, y - 10, 16, 16), CENTER, MINUS)
        painter.drawText(QRectF(plus + 10, y - 10, 16, 16), CENTER, "+")
        largest = float(np.abs(weights).max()) or 1.0
        for x, side in ((minus, -1), (plus, 1)):
            hung = [i for i in range(len(weights)) if weights[i] * side > 0]
            if hung:
                painter.setPen(QPen(ink, 1.1))
                painter.drawLine(QPointF(x, y), QPointF(x, self.cell(hung[-1], j).center().y()))
        for i, weight in enumerate(weights):
            area = self.cell(i, j)
            center = area.center().y()
            painter.setFont(font(11))
            if weight == 0:
                painter.setPen(QPen(colour(p.faint_ink), 1.1))
                painter.drawEllipse(QPointF(middle, center), 3, 3)
                if place is not None and arm > 30:
                    painter.setPen(colour(p.soft_ink))
                    painter.drawText(QRectF(middle + 8, center - 9, 40, 18), LEFT, "out")
                continue
            x = plus if weight > 0 else minus
            radius = 5.0 + 4.0 * math.sqrt(abs(weight) / largest)
            painter.setPen(QPen(colour(p.panel), 1.5))
            painter.setBrush(colour(looks.group_hue(i, p)))
            painter.drawEllipse(QPointF(x, center), radius, radius)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(colour(p.ink))
            text = weight_text(float(weight))
            if weight > 0:
                painter.drawText(QRectF(x + 11, center - 9, left + width - x - 11, 18), LEFT, text)
            else:
                painter.drawText(
                    QRectF(left, center - 9, x - 11 - left, 18),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    text,
                )

    def _paint_codes(self, painter: QPainter, j: int) -> None:
        """The values of the model's column instead of the weights."""
        card, p = self.card, theme.palette()
        assert card is not None
        painter.setFont(font(12))
        for i in range(len(card.levels)):
            painter.setPen(colour(p.ink))
            said = "tested only" if j >= card.n_coded else _code_text(float(card.basis.codes[i, j]))
            painter.drawText(self.cell(i, j), CENTER, said if j < card.n_coded or i == 0 else "")

    def _paint_finding(self, painter: QPainter, j: int) -> None:
        card, p = self.card, theme.palette()
        assert card is not None
        left, width = self.column_left(j), self._width
        top = self.rows_top() + sum(self._heights) + 14
        size, around = effect_lines(card, j, self.study)
        painter.setFont(font(12, "bold"))
        painter.setPen(colour(p.ink))
        painter.drawText(QRectF(left + 5, top, width - 10, self._finds), TOP, size)
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        shown = QFontMetrics(painter.font()).elidedText(around, Qt.TextElideMode.ElideRight, int(width) - 6)
        painter.drawText(QRectF(left + 3, top + self._finds, width - 6, 16), CENTER, shown)
        span = self._effect_span(left)
        effect = card.effects[j]
        y = top + self._finds + 26
        if span is None or not effect.exists:
            return
        painter.setPen(QPen(colour(p.line), 1))
        painter.drawLine(QPointF(span.left, y), QPointF(span.left + span.width, y))
        if span.low <= 0 <= span.high:
            painter.setPen(QPen(colour(p.ink), 1))
            painter.drawLine(QPointF(span.x(0), y - 5), QPointF(span.x(0), y + 5))
            painter.setPen(colour(p.soft_ink))
            painter.setFont(font(10))
            painter.drawText(QRectF(span.x(0) - 20, y + 5, 40, 12), CENTER, "0")
        painter.setPen(QPen(colour(p.ink), 2))
        if effect.low == effect.low:
            painter.drawLine(
                QPointF(span.x(max(span.low, effect.low)), y), QPointF(span.x(min(span.high, effect.high)), y)
            )
        is_clear = effect.low == effect.low and (effect.low > 0 or effect.high < 0)
        painter.setBrush(colour(p.ink if is_clear else p.panel))
        painter.drawEllipse(QPointF(span.x(effect.effect), y), 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _effect_span(self, left: float) -> Span | None:
        """One axis for all comparisons."""
        assert self.card is not None
        ends = [v for e in self.card.effects if e.exists for v in ((e.low, e.high) if e.low == e.low else (e.effect,))]
        if not ends:
            return None
        low, high = min([*ends, 0.0]), max([*ends, 0.0])
        pad = 0.05 * ((high - low) or 1.0)
        return Span(low - pad, high + pad, left + 12, self._width - 24)

    def _paint_remark(self, painter: QPainter, j: int) -> None:
        p = theme.palette()
        top = self.height() - self._said
        place = self.place_of(j)
        assert self.card is not None
        wrong = place is not None and place in question_troubles(self.study, self.card)
        painter.setFont(font(11))
        painter.setPen(colour(p.amber_ink if wrong else p.soft_ink))
        painter.drawText(QRectF(self.column_left(j) + 5, top, self._width - 10, self._said), TOP, self.remark(j))

    def _paint_another(self, painter: QPainter) -> None:
        p = theme.palette()
        area = QRectF(self.column_left(self.n_columns) + 6, 2, self._width - 12, self.height() - 6)
        painter.setPen(QPen(colour(p.faint_ink), 1, Qt.PenStyle.DashLine))
        painter.drawRoundedRect(area, 6, 6)
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        text = "add another\nquestion"
        card = self.card
        if card is not None and card.basis.n_asked == len(card.levels) - 1:
            text += f"\n\nit is tested, not coded: {len(card.levels)} levels allow {len(card.levels) - 1}"
        painter.drawText(area.adjusted(8, 16, -8, -8), TOP, text)

    def _paint_labels(self, painter: QPainter) -> None:
        card, p = self.card, theme.palette()
        assert card is not None
        top = self.rows_top() + sum(self._heights) + 14
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        painter.drawText(QRectF(6, top, NAME + CASES, 16), LEFT, "estimate")
        painter.setFont(font(11))
        if any(effect.low == effect.low for effect in card.effects):
            interval = f"{level_text(self.study.model.level)} interval"
            painter.drawText(QRectF(6, top + self._finds, NAME + CASES, 16), LEFT, interval)
        painter.setFont(font(12))
        if card.n_coded > 1 and card.basis.zero_weights is not None:
            painter.drawText(QRectF(6, self.height() - self._said, LEFT_PART - 20, 18), LEFT, "is it independent?")


def _code_text(value: float) -> str:
    part = Fraction(value).limit_denominator(48)
    if abs(float(part) - value) < 1e-9:
        return str(part).replace("-", MINUS)
    return fixed(value, 3)
