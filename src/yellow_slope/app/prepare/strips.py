"""Strips: a predictor before and after its treatment, on one axis, with mean and SD of both; groups with their codes."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QToolTip, QWidget

from yellow_slope import looks
from yellow_slope.app import theme
from yellow_slope.app.session import StudySession
from yellow_slope.app.theme import colour, font
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.bases import GroupBasis, NumberBasis, number_basis
from yellow_slope.core.fit.codes import effective_reference
from yellow_slope.core.study import edits
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.study.treatment import AS_IS
from yellow_slope.core.words.names import treated_as, treatment_name
from yellow_slope.core.words.numerals import counted, fixed, place

HEIGHT = 74
MOST_BOXES = 12
"""Of more levels only the first are drawn; the card at Data lists more."""
NAME = 210
FIGURES = 250
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
MIDDLE = Qt.AlignmentFlag.AlignCenter


class Strip(QWidget):
    """A strip that can be chosen by mouse and keyboard."""

    def __init__(self, session: StudySession, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.name = session, name
        self.setFixedHeight(HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    @property
    def variable(self) -> Variable | None:
        """The variable, if the study still has it."""
        study = self.session.study
        found = [v for v in study.variables if v.name == self.name] if study else []
        return found[0] if found else None

    def renew(self) -> None:
        """Take the newest study."""
        if self.variable is not None:
            self.setAccessibleName(f"Strip of {self.variable.label}")
        self.update()

    def choose(self, add: bool) -> None:
        """Make this the current variable; with `add` choose it beside others."""
        self.session.look(variable=self.name, **self.session.desk.clicking(Term((self.name,)), add))

    @property
    def basis_now(self) -> NumberBasis | GroupBasis | None:
        """How the variable enters the model that is shown; None where it is in none."""
        view = self.session.view
        fit = view.fit if view is not None and self.session.is_settled else None
        return fit.design.bases.get(self.name) if fit is not None else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.choose(bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Space:
            self.choose(True)
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.choose(False)
        else:
            super().keyPressEvent(event)

    def _ground(self, painter: QPainter) -> None:
        p, desk = theme.palette(), self.session.desk
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(p.panel))
        chosen = Term((self.name,)) in desk.chosen
        if chosen or (desk.variable == self.name and not desk.chosen):
            painter.fillRect(self.rect(), colour(p.yellow, p.wash))
            painter.fillRect(0, 0, 3, self.height(), colour(p.yellow))
        variable, study = self.variable, self.session.study
        if variable is None or study is None:
            return
        face = font(14, "bold")
        painter.setFont(face)
        painter.setPen(colour(p.ink))
        mark = "✓ " if chosen else ""
        name = QFontMetrics(face).elidedText(mark + variable.label, Qt.TextElideMode.ElideRight, NAME - 24)
        painter.drawText(QRectF(14, 12, NAME - 20, 22), LEFT, name)
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        home = study.model.block_of(Term((self.name,)))
        used = self.name in variables_of(study.model.terms)
        where = f"in block {home + 1}" if home is not None else ("in a product only" if used else "not in the model")
        words = f"{self._treated(variable)}, {where}"
        shown = QFontMetrics(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, NAME - 24)
        painter.drawText(QRectF(14, 36, NAME - 20, 20), LEFT, shown)

    def _treated(self, variable: Variable) -> str:
        study = self.session.study
        return treatment_name(study, study.model.treatment(variable.name)) if study is not None else ""

    def _focus_frame(self, painter: QPainter) -> None:
        if self.hasFocus():
            painter.setPen(QPen(colour(theme.palette().yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))


class NumberStrip(Strip):
    """Before (outline) and after (filled) as distributions on one axis."""

    values: FloatArray
    basis: NumberBasis
    is_treated = False
    _stale = True

    def renew(self) -> None:
        self._stale = True
        super().renew()

    def _compute(self) -> None:
        """Values and basis of the newest study; only when they are looked at."""
        variable, study = self.variable, self.session.study
        if not self._stale or variable is None or study is None:
            return
        self._stale = False
        view, basis = self.session.view, self.basis_now
        treatment = study.model.treatment(self.name)
        if view is not None and view.fit is not None and isinstance(basis, NumberBasis):
            self.values, self.basis = np.asarray(view.fit.values[self.name], dtype=np.float64), basis
        else:
            values = study.columns.numbers(self.name)
            self.values = values[np.isfinite(values)]
            self.basis = number_basis(self.name, self.values, treatment)
        self.is_treated = treatment != AS_IS
        self.setToolTip(f"{variable.label}: {treatment_name(study, treatment)}. {self.figures()}")

    def figures(self) -> str:
        """Mean and SD of both, in words."""
        self._compute()
        b = self.basis
        if self.values.size < 2:
            return "too few values to draw"
        after = b.treated(self.values)
        return (
            f"before: mean {place(b.mean, b.sd)}, SD {place(b.sd, b.sd)}; "
            f"after: mean {_tiny(float(after.mean()))}, SD {_tiny(float(after.std(ddof=1)))}"
        )

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        self._ground(painter)
        variable = self.variable
        self._compute()
        if variable is None or self.values.size < 2:
            return
        b: NumberBasis = self.basis
        area = QRectF(NAME, 8, self.width() - NAME - FIGURES - 16, HEIGHT - 28)
        after = b.treated(self.values)
        after = after[np.isfinite(after)]
        if after.size < 2:
            return
        low = min(float(self.values.min()), float(after.min()))
        high = max(float(self.values.max()), float(after.max()))
        low, high = min(low, 0.0), max(high, 0.0)
        span = (high - low) or 1.0
        self._hump(painter, area, self.values, low, span, colour(p.soft_ink), None)
        if self.is_treated:
            self._hump(painter, area, after, low, span, colour(p.ink), colour(p.yellow, 0.75))
        zero = area.x() + area.width() * (0 - low) / span
        painter.setPen(QPen(colour(p.ink), 1))
        painter.drawLine(QPointF(area.x(), area.bottom()), QPointF(area.right(), area.bottom()))
        painter.drawLine(QPointF(zero, area.bottom()), QPointF(zero, area.bottom() + 4))
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        painter.drawText(QRectF(zero - 20, area.bottom() + 3, 40, 15), MIDDLE, "0")
        if abs(area.x() + area.width() * (b.mean - low) / span - zero) > 40:
            x = area.x() + area.width() * (b.mean - low) / span
            painter.drawText(QRectF(x - 40, area.bottom() + 3, 80, 15), MIDDLE, f"mean {place(b.mean, b.sd)}")
        self._paint_figures(painter, variable, b, after)
        self._focus_frame(painter)

    def _hump(
        self,
        painter: QPainter,
        area: QRectF,
        values: FloatArray,
        low: float,
        span: float,
        line: QColor,
        fill: QColor | None,
    ) -> None:
        least, most = float(values.min()), float(values.max())
        if most == least:
            return
        counts, edges = np.histogram(values, 16, (least, most))
        tall = area.height() / counts.max()
        points = [QPointF(area.x() + area.width() * (edges[0] - low) / span, area.bottom())]
        for count, left, right in zip(counts, edges[:-1], edges[1:]):
            y = area.bottom() - count * tall
            points.append(QPointF(area.x() + area.width() * (left - low) / span, y))
            points.append(QPointF(area.x() + area.width() * (right - low) / span, y))
        points.append(QPointF(area.x() + area.width() * (edges[-1] - low) / span, area.bottom()))
        painter.setPen(QPen(line, 1.2, Qt.PenStyle.SolidLine if fill is not None else Qt.PenStyle.DashLine))
        painter.setBrush(fill if fill is not None else Qt.BrushStyle.NoBrush)
        painter.drawPolygon(QPolygonF(points))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_figures(self, painter: QPainter, variable: Variable, b: NumberBasis, after: FloatArray) -> None:
        p = theme.palette()
        x = self.width() - FIGURES
        rows = [("before", place(b.mean, b.sd), place(b.sd, b.sd))]
        if self.is_treated:
            rows.append(("after", _tiny(float(after.mean())), _tiny(float(after.std(ddof=1)))))
        painter.setFont(font(11))
        painter.setPen(colour(p.soft_ink))
        painter.drawText(QRectF(x + 70, 6, 76, 18), RIGHT, "mean")
        painter.drawText(QRectF(x + 156, 6, 76, 18), RIGHT, "SD")
        for i, (name, mean, sd) in enumerate(rows):
            top = 24 + i * 20
            painter.setFont(font(12, "bold" if name == "after" else "normal"))
            painter.setPen(colour(p.ink))
            painter.drawText(QRectF(x + 14, top, 70, 20), LEFT, name)
            painter.drawText(QRectF(x + 70, top, 76, 20), RIGHT, mean)
            painter.drawText(QRectF(x + 156, top, 76, 20), RIGHT, sd)


def _tiny(value: float) -> str:
    """A mean or SD after treatment; rounding of the last bits is shown as the whole number it stands for."""
    if abs(value - round(value)) < 1e-12:
        return fixed(value, 0)
    return place(value, abs(value) or 1.0)


class GroupStrip(Strip):
    """Levels with their cases; a click makes one the reference, and the comparisons are shown."""

    def renew(self) -> None:
        super().renew()
        variable, study = self.variable, self.session.study
        if variable is None or study is None:
            return
        indices = study.columns.levels(self.name)
        view = self.session.view
        if view is not None and self.basis_now is not None:
            indices = indices[view.evaluation.cases.rows]
        self.counts = np.bincount(indices[indices >= 0], minlength=len(variable.levels))

    def _treated(self, variable: Variable) -> str:
        study = self.session.study
        if not variable.levels or study is None:
            return "no levels"
        coding = study.model.coding(self.name)
        unchosen = isinstance(coding, Dummy) and coding.reference is None
        return treated_as(study, variable, self.basis_now) + (" (not chosen)" if unchosen else "")

    def _reference(self, variable: Variable) -> int | None:
        """Position among the variable's levels of the reference that serves; None where the coding has none."""
        study = self.session.study
        if study is None or not variable.levels:
            return None
        coding, basis = study.model.coding(self.name), self.basis_now
        if not isinstance(coding, Dummy):
            return None
        codes = [level.code for level in variable.levels]
        if isinstance(basis, GroupBasis) and basis.reference is not None:
            return codes.index(basis.levels[basis.reference])
        return effective_reference(coding, codes)

    def _boxes(self) -> list[tuple[QRectF, int]]:
        variable = self.variable
        if variable is None:
            return []
        room = self.width() - NAME - 16
        n = max(1, len(variable.levels))
        width = min(170.0, room / min(n, MOST_BOXES))
        shown = min(n, MOST_BOXES)
        return [(QRectF(NAME + i * width, 10, width - 8, HEIGHT - 20), i) for i in range(shown)]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        self._ground(painter)
        variable = self.variable
        if variable is None:
            return
        reference = self._reference(variable)
        most = max(1, int(self.counts.max())) if self.counts.size else 1
        for box, i in self._boxes():
            level = variable.levels[i]
            is_reference = i == reference
            painter.setPen(QPen(colour(p.ink if is_reference else p.line), 1.4 if is_reference else 1))
            painter.setBrush(colour(p.yellow, 0.5) if is_reference else colour(p.panel))
            painter.drawRoundedRect(box, 5, 5)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            face = font(12, "bold" if is_reference else "normal")
            painter.setFont(face)
            painter.setPen(colour(p.ink))
            name = QFontMetrics(face).elidedText(level.label, Qt.TextElideMode.ElideRight, int(box.width() - 12))
            painter.drawText(box.adjusted(8, 3, -4, -28), LEFT, name)
            painter.setFont(font(11))
            painter.setPen(colour(p.soft_ink))
            said = "reference" if is_reference else ("vs reference" if reference is not None else "")
            cases = counted(int(self.counts[i]), "case")
            whole = f"{cases}, {said}" if said else cases
            fits = QFontMetrics(painter.font()).horizontalAdvance(whole) <= box.width() - 14
            # Where there is no room for both, the fill and the frame tell the reference.
            painter.drawText(box.adjusted(8, 21, -6, -12), LEFT, whole if fits else cases)
            bar = QRectF(box.x() + 8, box.bottom() - 9, (box.width() - 16) * self.counts[i] / most, 4)
            painter.fillRect(bar, colour(looks.group_hue(i, p)))
        self._focus_frame(painter)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        super().mousePressEvent(event)
        for box, i in self._boxes():
            if box.contains(event.position()):
                self.take(i)

    def take(self, index: int) -> None:
        """Make a level the reference."""
        variable = self.variable
        if variable is not None:
            level = variable.levels[index]
            self.session.edit(
                f"take {level.label} as the reference", lambda s: edits.set_reference(s, self.name, level.code)
            )

    def turn(self, by: int) -> None:
        """Take the level before or after as the reference."""
        variable = self.variable
        if variable is None or not variable.levels:
            return
        to = (self._reference(variable) or 0) + by
        if 0 <= to < len(variable.levels):
            self.take(to)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and self.variable is not None:
            text = "Click a level to make it the reference group (Left and Right do the same)."
            for box, i in self._boxes():
                if box.contains(event.pos().toPointF()):
                    text = f"{self.variable.levels[i].label}: click to make it the reference group"
            QToolTip.showText(event.globalPos(), text, self)
            return True
        return super().event(event)
