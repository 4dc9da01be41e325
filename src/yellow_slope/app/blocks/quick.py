"""The quick line's field. What it describes stands pale in the ladder; below the field stand mistakes only."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.widgets.typedline import TypedLine
from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.quickline import Reading, complete, read_line
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import variables_of

SHORT_NAME = 24
"""Names up to this length make a readable example."""
LOOKED_AT, CASES, FEW = 40, 500, 7
"""Variables and cases by which an example's outcome is chosen, and values that make a code or a short scale."""


class QuickLine(QWidget):
    """Says what model a typed line describes."""

    accepted = pyqtSignal(object)
    left = pyqtSignal()
    read = pyqtSignal(object)
    """What is typed, read anew; None: nothing, or the field has no keyboard."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.line = TypedLine(
            "Quick line: type a model",
            "Type a model",
            "Type a model in one line and press Enter (Ctrl+L); it appears pale in the ladder while you type",
            self._read,
            self._words,
        )
        self.field, self.echo = self.line.field, self.line.echo
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.line)
        self.line.accepted.connect(self._accept)
        self.line.left.connect(self.left.emit)
        self.line.changed.connect(lambda _text: self._tell())
        self.line.focused.connect(lambda _has: self._tell())
        self._known: tuple[Study, str, Reading] | None = None
        session.on(self._renew_hint, Topic.STUDY)

    def _renew_hint(self) -> None:
        study = self.session.study
        metrics, room = self.field.fontMetrics(), self.width() - 26  # the field is as wide, but is told so later
        fitting = (text for text in examples(study) if metrics.horizontalAdvance(text) <= room)
        self.field.setPlaceholderText(next(fitting, examples(study)[-1]))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._renew_hint()

    def reading(self) -> Reading | None:
        """What the field says; None while there is no study."""
        return self._line(self.session.study, self.field.text()) if self.session.study else None

    def begin(self, text: str) -> None:
        """Take the keyboard; with a text, put it in to be changed."""
        self.line.begin(text)

    def _tell(self) -> None:
        is_typed = bool(self.field.text().strip()) and self.field.hasFocus()
        self.read.emit(self.reading() if is_typed else None)

    def _read(self, text: str) -> str | Mistake:
        study = self.session.study
        mistake = self._line(study, text).mistake
        return mistake if mistake is not None else ""

    def _line(self, study: Study, text: str) -> Reading:
        """What a line says: read once, though the field asks for its mistakes and the ladder for its terms."""
        if self._known is None or self._known[0] is not study or self._known[1] != text:
            self._known = (study, text, read_line(study, text))
        return self._known[2]

    def _words(self, text: str, cursor: int) -> tuple[int, list[str]]:
        return complete(self.session.study, text, cursor)

    def _accept(self, _text: str) -> None:
        reading = self.reading()
        if reading is not None:
            self.accepted.emit(reading)
            self.line.clear()


def _values(study: Study, variable: Variable) -> int:
    """How many different values a number has among the first cases."""
    values = study.columns.numbers(variable.name)[:CASES]
    return len(np.unique(values[np.isfinite(values)]))


def examples(study: Study) -> list[str]:
    """Examples of a line from the longest to the shortest, made of the study's own names."""
    used = variables_of(study.model.terms)
    candidates = sorted(
        (v for v in study.variables if v.kind.enters and v.name != study.model.outcome and len(v.label) <= SHORT_NAME),
        key=lambda v: v.name not in used,
    )
    numbers = [v for v in candidates if v.kind is Kind.NUMBER]
    groups = [v for v in candidates if v.kind is Kind.GROUP and len(v.levels) > 1]
    outcome = study.variable(study.model.outcome) if study.model.outcome else None
    if outcome is None and len(numbers) > 2:
        numbers = sorted(numbers[:LOOKED_AT], key=lambda v: _values(study, v) <= FEW)  # what is measured before codes
        outcome = max(numbers, key=lambda v: (_values(study, v), numbers.index(v)))
        numbers.remove(outcome)
    plain = ["Type a model: outcome = predictors; products", "Type a model"]
    if outcome is None or not numbers:
        return plain
    first = numbers[0]
    begin = f"Type a model:  {outcome.label} = "
    more = numbers[1].label if len(numbers) > 1 else ""
    found: list[str] = []
    if groups:
        group = groups[0]
        said = f"{first.label} centered, {group.label} from {group.levels[0].label}"
        product = f"{first.label} x {group.label}"
        found = [f"{more}; {said}; {product}"] if more else []
        found += [f"{said}; {product}", f"{first.label}, {group.label}; {product}"]
    elif more:
        found = [f"{first.label} centered, {more} centered; {first.label} x {more}", f"{first.label}, {more}"]
    return [*(begin + text for text in [*found, f"{first.label}, {first.label}²", first.label]), *plain]
