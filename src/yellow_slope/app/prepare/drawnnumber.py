"""The drawing of a number's strip: before and after on one axis with two scales, figures, what centering changes."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.figures.drawn import screen_look
from yellow_slope.app.figures.painter import paint
from yellow_slope.app.prepare.lookedat import LookedAt, concern, look_at, nothing
from yellow_slope.app.prepare.strips import FIGURES, LEFT, LINE, NAME, OPEN, RIGHT, WRAP, Strip
from yellow_slope.app.prepare.zeropoints import Mark, Span, ZeroPoint
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.study.treatment import AS_IS, Treatment
from yellow_slope.core.words.names.numbers import transformed_name, treatment_name
from yellow_slope.core.words.sentences.columns import drawn_without
from yellow_slope.core.words.sentences.zeros import CenteringRow, mean_at_full
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Area, Box, Page, Part
from yellow_slope.plots.strip import BeforeAndAfter, Noted, Scaled, mini_outline, strip_page
from yellow_slope.values import replace

ROW = 19
STRIP_TEXT = 12.5
SIGNS = {Mark.FIRST_QUARTILE: "¼", Mark.MEDIAN: "½", Mark.THIRD_QUARTILE: "¾", Mark.MEAN: ""}
"""Places that are marked on the axis, and their signs."""
HEAD = 26
BARS = 130
MOST_AT_ONCE = 20_000
"""Of more cases a strip is computed off the interface thread."""


class DrawnNumber(Strip):
    """A number: one line; as the current variable its distribution before and after, and what centering changes."""

    later = pyqtSignal(object)
    """This strip is to be computed off the interface thread: its values are many."""

    def __init__(self, session: StudySession, name: str, parent: QWidget | None = None) -> None:
        super().__init__(session, name, parent)
        self.looked = nothing(name)
        self.changes: tuple[str, str, list[CenteringRow], int] | None = None
        """What centering changes in this model: the two heads, the lines, and how many are not listed."""
        self._concern: tuple[object, ...] | None = None
        """What `looked` rests on."""
        self._stale = True

    @property
    def values(self) -> FloatArray:
        """The values that are drawn."""
        return self.looked.values

    @property
    def basis(self) -> NumberBasis:
        """How they enter."""
        return self.looked.basis

    @property
    def treatment(self) -> Treatment:
        """How they are treated."""
        return self.looked.treatment

    @property
    def points(self) -> tuple[ZeroPoint, ...]:
        """Where zero can be put."""
        return self.looked.points

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
        """Look at the newest study, if something that concerns this number has changed."""
        wanted = self._changed()
        if wanted is not None:
            study, variable = self.session.study, self.variable
            assert variable is not None
            self.take(wanted, look_at(study, self.session.view, variable))

    def ask(self) -> tuple[object, ...] | None:
        """What a look at the newest study would rest on; None where none is needed."""
        return self._changed()

    def _changed(self) -> tuple[object, ...] | None:
        """What a new look would rest on; None where the old one still holds, or the results are not there yet."""
        variable, study = self.variable, self.session.study
        if not self._stale or variable is None:
            return None
        if not self.session.is_settled and self._concern is not None:
            return None
        self._stale = False
        wanted = concern(study, self.session.view, variable)
        return None if wanted == self._concern else wanted

    def take(self, rests_on: tuple[object, ...], looked: LookedAt) -> None:
        """Show what was found."""
        variable, study = self.variable, self.session.study
        self._concern, self.looked = rests_on, looked
        if variable is not None:
            how = treatment_name(study, looked.treatment)
            self.setToolTip(f"{variable.label}: {how}. {self.figures()}")
        self.update()

    def _treated(self, variable: Variable) -> str:
        """How it is treated, and without which values it is drawn."""
        return ", ".join(text for text in (super()._treated(variable), drawn_without(self.looked.apart)) if text)

    @property
    def is_treated(self) -> bool:
        """Whether anything is done to it."""
        return self.treatment != AS_IS

    def figures(self) -> str:
        """Mean, SD and skewness of both, in words; the mean after treatment at full precision."""
        self.compute()
        if self.values.size < 2:
            return "too few values to draw"
        said = [f"{name}: mean {mean}, SD {sd}, skewness {skew}" for name, mean, sd, skew in self.looked.figures]
        return "; ".join(said) + (f"; {self.mean_note()}" if self.is_treated else "")

    def mean_note(self) -> str:
        """The mean after treatment at full precision."""
        mean = self.looked.after_mean
        return f"mean after: {mean_at_full(self.basis, mean)}" if mean == mean else ""

    # ---- the axis

    def _area(self) -> QRectF:
        return QRectF(NAME, 12, max(80.0, self.width() - NAME - FIGURES - 20), 62)

    def span(self) -> Span:
        """The axis of coordinates, wide enough for the zero point where it is not far off."""
        area = self._area()
        shown = self.looked.coordinates
        low, high = (shown.low, shown.high) if shown is not None else (0.0, 0.0)
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
        if self._many():
            self.later.emit(self)
        else:
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

    def _many(self) -> bool:
        """Whether the values are so many that nobody should wait for them here."""
        study = self.session.study
        return self._stale and study.table.n_rows > MOST_AT_ONCE

    def _paint_mini(self, painter: QPainter, area: QRectF) -> None:
        p, bars = theme.palette(), self.looked.treated
        if bars is None:
            return
        low, high = min(0.0, bars.low), max(0.0, bars.high)
        if low == 0.0 < bars.low - (high - bars.low) or high == 0.0:
            low, high = bars.low, bars.high
        span = Span(low, high, area.x(), area.width())
        outline = mini_outline(bars, Box(area.left(), area.top(), area.right(), area.bottom()), low, high)
        hump = Area(outline, p.yellow if self.is_treated else p.shade, 1.0, Part.DISTRIBUTION)
        paint(painter, Page(self.width(), self.height(), (hump,)))
        if low <= 0 <= high:
            painter.setPen(QPen(colour(p.ink), 1.2))
            painter.drawLine(QPointF(span.x(0), area.top() - 2), QPointF(span.x(0), area.bottom() + 2))

    def _paint_line_figures(self, painter: QPainter) -> None:
        if not self.looked.figures:
            return
        name, mean, sd, _ = self.looked.figures[-1]
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
        p = theme.palette()
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        top = 6 + self._name_height()
        painter.drawText(QRectF(14, top, NAME - 24, 200), WRAP, f"{self._treated(variable)},\n{self._where()}")
        paint(
            painter,
            strip_page(self.strip(variable), self._look(), self.width() - FIGURES + 80, self.height(), self._box()),
        )
        self._paint_figures(painter)
        if self.changes is not None:
            self._paint_changes(painter)

    def _look(self) -> Look:
        return replace(screen_look(), text=STRIP_TEXT)

    def _box(self) -> Box:
        area = self._area()
        return Box(area.left(), area.top(), area.right(), area.bottom())

    def strip(self, variable: Variable) -> BeforeAndAfter:
        """What is drawn of the number: its bars, its quartiles, and its scales."""
        span, zero, basis = self.span(), self._zero_at(), self.basis
        unit = variable.many if basis.axis.is_identity else transformed_name(variable, self.treatment)
        scales = [Scaled(0.0, 1.0, unit if variable.unit or not basis.axis.is_identity else "values", is_after=False)]
        if self.is_treated or zero:
            title = "as it enters" if self.session.desk.zero is None else "would enter"
            scales.append(Scaled(zero, basis.scale, title, is_after=True))
        return BeforeAndAfter(
            span.low,
            span.high,
            self.looked.coordinates,
            None if basis.axis.is_identity else self.looked.raw,
            self.is_treated,
            tuple(Noted(p.at, SIGNS[p.mark]) for p in self.points if p.mark in SIGNS),
            tuple(scales),
            None if basis.is_within else zero,
        )

    def _paint_figures(self, painter: QPainter) -> None:
        p, x = theme.palette(), self.width() - FIGURES + 36
        columns = ((50, "mean"), (122, "SD"), (186, "skewness"))
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        for left, title in columns:
            painter.drawText(QRectF(x + left, 8, 62, 18), RIGHT, title)
        for i, (name, *cells) in enumerate(self.looked.figures):
            top = 27 + i * 20
            painter.setFont(font(12, "bold" if i else "normal"))
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
