"""Strips: one line for each variable; that of a group shows its levels."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from yellow_slope import looks
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.kindmarks import paint_mark
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.design.codes import effective_reference
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits.entries import set_reference
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.words.names.study import treated_as

LINE = 30
"""Height of a strip that is folded."""
OPEN = 132
NAME = 210
FIGURES = 292
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
MIDDLE = Qt.AlignmentFlag.AlignCenter
WRAP = int(Qt.TextFlag.TextWordWrap)


class Strip(QWidget):
    """A strip that can be chosen by mouse and keyboard."""

    def __init__(self, session: StudySession, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.name = session, name
        self.order: list[str] = []
        """All strips from above to below, for choosing several."""
        self.setFixedHeight(LINE)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    @property
    def variable(self) -> Variable | None:
        """The variable, if the study still has it."""
        study = self.session.study
        found = [v for v in study.variables if v.name == self.name] if study else []
        return found[0] if found else None

    @property
    def is_open(self) -> bool:
        """Whether it shows all it has: it is the current variable's."""
        return self.session.desk.variable == self.name

    def renew(self) -> None:
        """Take the newest study."""
        if self.variable is not None:
            self.setAccessibleName(f"Strip of {self.variable.label}")
        self.update()

    def choose(self, add: bool, span: bool = False) -> None:
        """Make this the current variable; with `add` choose it beside others, with `span` all up to here."""
        desk = self.session.desk
        changes = desk.spanning(self.order, self.name) if span else desk.clicking(Term((self.name,)), add)
        self.session.look(variable=self.name, **changes)

    def turn(self, by: int) -> None:
        """Move what the strip is about one on (1) or back (-1): the reference, or the zero point."""

    @property
    def basis_now(self) -> NumberBasis | GroupBasis | None:
        """How the variable enters the model that is shown; None where it is in none."""
        view = self.session.view
        fit = view.fit if view is not None and self.session.is_settled else None
        return fit.design.bases.get(self.name) if fit is not None else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            keys = event.modifiers()
            self.choose(
                bool(keys & Qt.KeyboardModifier.ControlModifier), bool(keys & Qt.KeyboardModifier.ShiftModifier)
            )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Space:
            self.choose(True)
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.choose(False)
        else:
            super().keyPressEvent(event)

    def _where(self) -> str:
        study = self.session.study
        home = study.model.block_of(Term((self.name,)))
        used = self.name in variables_of(study.model.terms)
        return f"in block {home + 1}" if home is not None else ("in a product only" if used else "not in the model")

    def _treated(self, variable: Variable) -> str:
        study = self.session.study
        return treated_as(study, variable, self.basis_now, with_use=False)

    def _ground(self, painter: QPainter) -> None:
        p, desk = theme.palette(), self.session.desk
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(p.panel))
        chosen = Term((self.name,)) in desk.chosen
        if chosen:
            painter.fillRect(0, 0, self.width(), min(self.height(), OPEN), colour(p.yellow, p.wash))
        if chosen or self.is_open:
            painter.fillRect(0, 0, 3, self.height(), colour(p.yellow))
        variable, study = self.variable, self.session.study
        if variable is None:
            return
        paint_mark(painter, variable, 10, 8, variable.name not in study.table)
        face = font(13, "bold")
        painter.setFont(face)
        painter.setPen(colour(p.ink))
        mark = "✓ " if chosen else ""
        if self.height() > LINE:
            painter.drawText(QRectF(32, 7, NAME - 38, 400), WRAP, mark + variable.label)
            return
        name = QFontMetrics(face).elidedText(mark + variable.label, Qt.TextElideMode.ElideRight, NAME - 40)
        painter.drawText(QRectF(32, 0, NAME - 38, LINE), LEFT, name)

    def _paint_words(self, painter: QPainter, words: str, room: float) -> None:
        face = font(12)
        painter.setFont(face)
        painter.setPen(colour(theme.palette().soft_ink))
        shown = QFontMetrics(face).elidedText(words, Qt.TextElideMode.ElideRight, int(room))
        painter.drawText(QRectF(NAME, 0, room, LINE), LEFT, shown)

    def _focus_frame(self, painter: QPainter) -> None:
        if self.hasFocus():
            painter.setPen(QPen(colour(theme.palette().yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))


class GroupStrip(Strip):
    """A group in one line: how it is coded, and its levels with their cases. Its card stands below the current one."""

    def renew(self) -> None:
        super().renew()
        variable, study = self.variable, self.session.study
        if variable is None:
            return
        indices = study.columns.levels(self.name)
        view = self.session.view
        if view is not None and self.basis_now is not None:
            indices = indices[view.evaluation.cases.rows]
        self.counts = np.bincount(indices[indices >= 0], minlength=len(variable.levels))
        said = ", ".join(f"{x.label} {n}" for x, n in zip(variable.levels[:12], self.counts))
        self.setToolTip(f"{variable.label}: {self._treated(variable)}. Cases: {said}")

    def _treated(self, variable: Variable) -> str:
        study = self.session.study
        if not variable.levels:
            return "no levels"
        coding = study.model.coding(self.name)
        unchosen = isinstance(coding, Dummy) and coding.reference is None
        return super()._treated(variable) + (" (not chosen)" if unchosen else "")

    def reference(self) -> int | None:
        """Position among the variable's levels of the reference that serves; None where the coding has none."""
        study, variable = self.session.study, self.variable
        if variable is None or not variable.levels:
            return None
        coding, basis = study.model.coding(self.name), self.basis_now
        if not isinstance(coding, Dummy):
            return None
        codes = [level.code for level in variable.levels]
        if isinstance(basis, GroupBasis) and basis.reference is not None:
            return codes.index(basis.levels[basis.reference])
        return effective_reference(coding, codes)

    def turn(self, by: int) -> None:
        """Take the level before or after as the reference."""
        variable = self.variable
        if variable is None or not variable.levels:
            return
        to = (self.reference() or 0) + by
        if 0 <= to < len(variable.levels):
            level = variable.levels[to]
            self.session.edit(f"use {level.label} as the reference", lambda s: set_reference(s, self.name, level.code))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        self._ground(painter)
        variable = self.variable
        if variable is None:
            return
        room = self.width() - NAME - FIGURES - 20
        self._paint_words(painter, f"{self._treated(variable)}, {self._where()}", room + 30)
        area = QRectF(self.width() - FIGURES + 20, 6, FIGURES - 40, LINE - 12)
        total, x = max(1, int(self.counts.sum())), area.x()
        for i, count in enumerate(self.counts):
            width = area.width() * float(count) / total
            painter.fillRect(
                QRectF(x, area.y(), max(0.0, width - 1.5), area.height()), colour(looks.group_hue(i, p), 0.55)
            )
            x += width
        self._focus_frame(painter)
