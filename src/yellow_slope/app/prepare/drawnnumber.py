"""The drawing of a number's strip: before and after on one axis with two scales, figures, what centering changes."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app import theme
from yellow_slope.app.prepare.strips import FIGURES, LEFT, LINE, MIDDLE, NAME, OPEN, RIGHT, WRAP, Strip
from yellow_slope.app.prepare.zeropoints import Span, ZeroPoint, zero_points
from yellow_slope.app.session import StudySession
from yellow_slope.app.theme import colour, font
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.bases import NumberBasis, looked_at
from yellow_slope.core.fit.summaries import number_summary
from yellow_slope.core.study.treatment import AS_IS, Base, Treatment
from yellow_slope.core.words.names import transformed_name, treatment_name
from yellow_slope.core.words.numerals import fixed, number_or_place, place, place_decimals
from yellow_slope.core.words.zeros import CenteringRow, mean_at_full

ROW = 19
HEAD = 26
BARS = 130
BINS = 24


class DrawnNumber(Strip):
    """A number: one line; as the current variable its distribution before and after, and what centering changes."""

    def __init__(self, session: StudySession, name: str, parent: QWidget | None = None) -> None:
        super().__init__(session, name, parent)
        self.values: FloatArray = np.zeros(0)
        self.basis = NumberBasis(name, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0)
        self.treatment: Treatment = AS_IS
        self.points: list[ZeroPoint] = []
        self.changes: tuple[str, str, list[CenteringRow], int] | None = None
        """What centering changes in this model: the two heads, the lines, and how many are not listed."""
        self._after: FloatArray = np.zeros(0)
        self._figures: list[tuple[str, str, str, str]] = []
        self._stale = True

    def renew(self) -> None:
        self._stale = True
        super().renew()
        self.fit_height()

    def fit_height(self) -> None:
        """One line, or room for all it shows."""
        heights = self.row_heights()
        extra = HEAD + sum(heights) + 6 if heights else 0
        wanted = int(OPEN + self._name_extra() + extra) if self.is_open else LINE
        if wanted != self.height():
            self.setFixedHeight(wanted)

    def _name_extra(self) -> float:
        """How much taller than one line the name and the words below it are than the room there is."""
        variable = self.variable
        if variable is None:
            return 0.0
        return max(0.0, self._name_height() + 2 * self._word_height() - (OPEN - 12))

    def _name_height(self) -> float:
        variable = self.variable
        text = variable.label if variable is not None else ""
        return max(
            22.0, float(QFontMetrics(font(13, "bold")).boundingRect(0, 0, NAME - 40, 900, WRAP, text).height()) + 8
        )

    def _word_height(self) -> float:
        variable = self.variable
        text = self._treated(variable) if variable is not None else ""
        return float(QFontMetrics(font(12)).boundingRect(0, 0, NAME - 24, 900, WRAP, text).height()) + 4

    def row_heights(self) -> list[float]:
        """Heights of the lines of what centering changes: long names go on in the next line."""
        if self.changes is None:
            return []
        metrics, room = QFontMetrics(font(12)), int(self._first() - 100)
        return [
            max(float(ROW), metrics.boundingRect(0, 0, room, 900, WRAP, row.what).height() + 4.0)
            for row in self.changes[2]
        ]

    def _first(self) -> float:
        """Where the first column of figures of what centering changes begins."""
        return NAME + max(200.0, (self.width() - NAME) * 0.34)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.fit_height()

    # ---- what it shows

    def compute(self) -> None:
        """Values and basis of the newest study; only when they are looked at."""
        variable, study = self.variable, self.session.study
        if not self._stale or variable is None or study is None:
            return
        self._stale = False
        view, basis = self.session.view, self.basis_now
        self.treatment = study.model.treatment(self.name)
        values = view.fit.values[self.name] if view is not None and view.fit is not None and basis is not None else None
        self.values, self.basis = looked_at(
            study, self.name, basis, None if values is None else np.asarray(values, dtype=np.float64)
        )
        after = self.basis.treated(self.values)
        self._after = after[np.isfinite(after)]
        base = None
        if self.treatment.base is Base.ALL:
            every = study.columns.numbers(self.name)
            base = every[np.isfinite(every)]
        self.points = [] if self.basis.is_within else zero_points(variable, self.basis, self.values, base)
        self._figures = self._lines()
        how = treatment_name(study, self.treatment)
        self.setToolTip(f"{variable.label}: {how}. {self.figures()}")

    @property
    def is_treated(self) -> bool:
        """Whether anything is done to it."""
        return self.treatment != AS_IS

    def _lines(self) -> list[tuple[str, str, str, str]]:
        if self.values.size < 2:
            return []
        raw, b = number_summary(self.values), self.basis
        rows = [("before", place(b.mean, b.sd), place(b.sd, b.sd), _skew(raw.skewness))]
        if self.is_treated and self._after.size > 1:
            made = number_summary(self._after)
            rows.append(("after", _tiny(made.mean, made.sd), _tiny(made.sd, made.sd), _skew(made.skewness)))
        return rows

    def figures(self) -> str:
        """Mean, SD and skewness of both, in words; the mean after treatment at full precision."""
        self.compute()
        if self.values.size < 2:
            return "too few values to draw"
        said = [f"{name}: mean {mean}, SD {sd}, skewness {skew}" for name, mean, sd, skew in self._figures]
        return "; ".join(said) + (f"; {self.mean_note()}" if self.is_treated else "")

    def mean_note(self) -> str:
        """The mean after treatment at full precision."""
        return f"mean after: {mean_at_full(self.basis, float(self._after.mean()))}" if self._after.size else ""

    # ---- the axis

    def _area(self) -> QRectF:
        return QRectF(NAME, 12, max(80.0, self.width() - NAME - FIGURES - 20), 62)

    def span(self) -> Span:
        """The axis of coordinates, wide enough for the zero point where it is not far off."""
        area = self._area()
        coordinates = self.basis.axis.forward(self.values)
        coordinates = coordinates[np.isfinite(coordinates)]
        low, high = float(coordinates.min()), float(coordinates.max())
        reach = (high - low) or max(1.0, abs(high))
        zero = self._zero_at()
        if low - reach <= zero <= high + reach:
            low, high = min(low, zero), max(high, zero)
        pad = 0.03 * ((high - low) or reach)
        return Span(low - pad, high + pad, area.x(), area.width())

    def _zero_at(self) -> float:
        moved = self.session.desk.zero
        return moved[1] if moved is not None and moved[0] == self.name else self.basis.center

    def zero_x(self) -> float:
        """Where the handle stands, at the edge where zero lies beyond it."""
        span = self.span()
        return min(span.left + span.width, max(span.left, span.x(self._zero_at())))

    # ---- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        self._ground(painter)
        variable = self.variable
        if variable is None:
            return
        self.compute()
        if self.is_open and self.values.size > 1:
            self._paint_open(painter, variable)
        else:
            words = f"{self._treated(variable)}, {self._where()}"
            room = self.width() - NAME - FIGURES - 20
            bars = min(BARS, room * 0.4)
            self._paint_words(painter, words, room - bars - 10)
            if self.values.size > 1:
                self._paint_mini(painter, QRectF(NAME + room - bars, 5, bars, LINE - 10))
                self._paint_line_figures(painter)
        self._focus_frame(painter)

    def _paint_mini(self, painter: QPainter, area: QRectF) -> None:
        p, values = theme.palette(), self._after
        if values.size < 2 or values.max() == values.min():
            return
        low, high = min(0.0, float(values.min())), max(0.0, float(values.max()))
        if low == 0.0 < float(values.min()) - (high - float(values.min())) or high == 0.0:
            low, high = float(values.min()), float(values.max())
        span = Span(low, high, area.x(), area.width())
        _hump(painter, area, values, span, None, colour(p.yellow if self.is_treated else p.shade))
        if low <= 0 <= high:
            painter.setPen(QPen(colour(p.ink), 1.2))
            painter.drawLine(QPointF(span.x(0), area.top() - 2), QPointF(span.x(0), area.bottom() + 2))

    def _paint_line_figures(self, painter: QPainter) -> None:
        if not self._figures:
            return
        name, mean, sd, _ = self._figures[-1]
        p, x = theme.palette(), self.width() - FIGURES
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        painter.drawText(QRectF(x, 0, 60, LINE), LEFT, name)
        for left, word, text in ((52, "mean", mean), (160, "SD", sd)):
            painter.setPen(colour(p.soft_ink))
            painter.setFont(font(11))
            painter.drawText(QRectF(x + left, 0, 34, LINE), RIGHT, word)
            painter.setPen(colour(p.ink))
            painter.setFont(font(12))
            painter.drawText(QRectF(x + left + 30, 0, 72, LINE), RIGHT, text)

    def _paint_open(self, painter: QPainter, variable: Variable) -> None:
        p, area, span = theme.palette(), self._area(), self.span()
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        top = 6 + self._name_height()
        painter.drawText(QRectF(14, top, NAME - 24, 200), WRAP, f"{self._treated(variable)},\n{self._where()}")
        coordinates = self.basis.axis.forward(self.values)
        coordinates = coordinates[np.isfinite(coordinates)]
        if not self.basis.axis.is_identity:
            raw = self.values[np.isfinite(self.values)]
            low, high = float(raw.min()), float(raw.max())
            inner = Span(
                low,
                high,
                span.x(float(coordinates.min())),
                max(1.0, span.x(float(coordinates.max())) - span.x(float(coordinates.min()))),
            )
            _hump(painter, area, raw, inner, colour(p.soft_ink), None)
        _hump(
            painter,
            area,
            coordinates,
            span,
            colour(p.ink if self.is_treated else p.soft_ink),
            colour(p.yellow if self.is_treated else p.shade, 0.75),
        )
        painter.setPen(QPen(colour(p.ink), 1))
        painter.drawLine(QPointF(area.x(), area.bottom()), QPointF(area.right(), area.bottom()))
        self._paint_marks(painter, area, span)
        self._paint_scales(painter, variable, area, span)
        self._paint_handle(painter, area)
        self._paint_figures(painter)
        if self.changes is not None:
            self._paint_changes(painter)

    def _paint_marks(self, painter: QPainter, area: QRectF, span: Span) -> None:
        """Quartiles, median and mean as ticks below the axis line."""
        p = theme.palette()
        painter.setFont(font(10))
        named = {"the first quartile": "¼", "the median": "½", "the third quartile": "¾"}
        for point in self.points:
            if point.name in named or point.name == "the mean":
                x = span.x(point.at)
                painter.setPen(QPen(colour(p.ink), 1.4))
                painter.drawLine(QPointF(x, area.bottom() - 4), QPointF(x, area.bottom() + 4))
                if point.name in named and abs(x - self.zero_x()) > 12:
                    painter.setPen(colour(p.soft_ink))
                    painter.drawText(QRectF(x - 8, area.bottom() - 17, 16, 12), MIDDLE, named[point.name])

    def _paint_scales(self, painter: QPainter, variable: Variable, area: QRectF, span: Span) -> None:
        """The values as they stand in the file, and below them as they enter."""
        p, b = theme.palette(), self.basis
        zero, scale = self._zero_at(), b.scale
        below = Span((span.low - zero) / scale, (span.high - zero) / scale, span.left, span.width)
        study = self.session.study
        assert study is not None
        name = transformed_name(variable, self.treatment)
        unit = variable.many if b.axis.is_identity else name
        rows: list[tuple[float, Span, str, bool]] = [
            (area.bottom() + 13, span, unit if unit != "units" else "values", False)
        ]
        if self.is_treated or zero:
            rows.append(
                (area.bottom() + 36, below, "as it enters" if self.session.desk.zero is None else "would enter", True)
            )
        for top, scale_span, title, is_after in rows:
            painter.setFont(font(11, "bold" if is_after else "normal"))
            painter.setPen(colour(p.ink if is_after else p.soft_ink))
            taken = area.x() - 1e9
            for tick in scale_span.ticks():
                text, x = number_or_place(round(tick, 10) + 0.0), scale_span.x(tick)
                width = QFontMetrics(painter.font()).horizontalAdvance(text)
                if x - width / 2 > taken + 8:
                    painter.drawText(QRectF(x - 50, top, 100, 15), MIDDLE, text)
                    taken = x + width / 2
            painter.setFont(font(11))
            painter.setPen(colour(p.soft_ink))
            room = FIGURES - 200
            shown = QFontMetrics(painter.font()).elidedText(title, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QRectF(area.right() + 8, top, room, 15), LEFT, shown)

    def _paint_handle(self, painter: QPainter, area: QRectF) -> None:
        if self.basis.is_within:
            return
        p, x = theme.palette(), self.zero_x()
        painter.setPen(QPen(colour(p.ink), 1.4))
        painter.drawLine(QPointF(x, area.top() - 4), QPointF(x, area.bottom()))
        painter.setBrush(colour(p.yellow))
        y = area.bottom()
        painter.drawPolygon(QPolygonF([
            QPointF(x, y + 2), QPointF(x + 6, y + 9), QPointF(x + 6, y + 18), QPointF(x - 6, y + 18), QPointF(x - 6, y + 9),
        ]))  # fmt: skip
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_figures(self, painter: QPainter) -> None:
        p, x = theme.palette(), self.width() - FIGURES + 36
        columns = ((50, "mean"), (122, "SD"), (186, "skewness"))
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        for left, title in columns:
            painter.drawText(QRectF(x + left, 8, 62, 18), RIGHT, title)
        for i, (name, *cells) in enumerate(self._figures):
            top = 27 + i * 20
            painter.setFont(font(12, "bold" if name == "after" else "normal"))
            painter.setPen(colour(p.ink))
            painter.drawText(QRectF(x, top, 50, 20), LEFT, name)
            for (left, _), text in zip(columns, cells):
                painter.drawText(QRectF(x + left - 20, top, 82, 20), RIGHT, text)
        if self.is_treated:
            painter.setFont(font(11))
            painter.setPen(colour(p.soft_ink))
            painter.drawText(QRectF(x - 30, 70, FIGURES - 30, 16), RIGHT, self.mean_note())

    def _paint_changes(self, painter: QPainter) -> None:
        """What centering changes in this model, and what it leaves."""
        assert self.changes is not None
        p = theme.palette()
        raw, centered, rows, left = self.changes
        top = float(OPEN) + self._name_extra()
        first = self._first()
        each = (self.width() - first - 20) / 2
        painter.setPen(QPen(colour(p.line), 1))
        painter.drawLine(QPointF(14, top), QPointF(self.width() - 14, top))
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        title = "What centering changes" + (f" ({left} more columns)" if left else "")
        painter.drawText(QRectF(14, top + 4, first - 20, 18), LEFT, title)
        for i, text in enumerate((raw, centered)):
            painter.drawText(QRectF(first + i * each, top + 4, each - 8, 18), LEFT, text)
        y = top + HEAD
        for row, height in zip(rows, self.row_heights()):
            painter.setPen(colour(p.ink))
            painter.drawText(QRectF(14, y, first - 100, height), int(LEFT) | WRAP, row.what)
            painter.setPen(colour(p.soft_ink))
            painter.drawText(QRectF(first - 84, y, 72, height), RIGHT, "stays" if row.stays else "")
            painter.setPen(colour(p.soft_ink if row.stays else p.ink))
            for j, text in enumerate((row.raw, row.centered)):
                painter.drawText(QRectF(first + j * each, y, each - 8, height), LEFT, text)
            y += height


def _hump(
    painter: QPainter, area: QRectF, values: FloatArray, span: Span, line: QColor | None, fill: QColor | None
) -> None:
    """A histogram over a stretch of the axis; without a fill it is dashed."""
    least, most = float(values.min()), float(values.max())
    if most == least:
        x = span.x(least)
        painter.setPen(QPen(line or fill or colour(theme.palette().ink), 2))
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
        return
    whole = most - least < BINS and bool((np.rint(values) == values).all())
    bins, ends = (int(most - least) + 1, (least - 0.5, most + 0.5)) if whole else (BINS, (least, most))
    counts, edges = np.histogram(values, bins, ends)
    tall = area.height() / max(1, int(counts.max()))
    points = [QPointF(span.x(edges[0]), area.bottom())]
    for count, left, right in zip(counts, edges[:-1], edges[1:]):
        y = area.bottom() - count * tall
        points += [QPointF(span.x(left), y), QPointF(span.x(right), y)]
    points.append(QPointF(span.x(edges[-1]), area.bottom()))
    pen = (
        QPen(Qt.PenStyle.NoPen)
        if line is None
        else QPen(line, 1.2, Qt.PenStyle.SolidLine if fill is not None else Qt.PenStyle.DashLine)
    )
    painter.setPen(pen)
    painter.setBrush(fill if fill is not None else Qt.BrushStyle.NoBrush)
    painter.drawPolygon(QPolygonF(points))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _tiny(value: float, sd: float) -> str:
    """A mean or SD after treatment; rounding of the last bits is shown as the whole number it stands for."""
    if abs(value - round(value)) < 1e-12:
        return fixed(float(round(value)), place_decimals(sd) if sd > 0 else 2)
    return place(value, sd if sd > 0 else abs(value) or 1.0)


def _skew(value: float) -> str:
    return fixed(value, 2)
