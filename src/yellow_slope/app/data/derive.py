"""A line for a computed column: a new name, =, and how it is computed; says at once what would come out."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.widgets.typedline import TypedLine
from yellow_slope.core.data.conditiontext import completions
from yellow_slope.core.data.derived import Expression, values_of
from yellow_slope.core.data.formula import FUNCTIONS, expression_text, find_mistake
from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.computed import derive, redefine, split_line, taken_name, usable_in
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.examples import column_examples
from yellow_slope.core.words.spelling.numerals import counted, place


class DeriveLine(QWidget):
    """Hidden until it is wanted; Enter makes or changes the column, Esc leaves."""

    left = pyqtSignal()

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._worker = session, worker
        self._changing: str | None = None
        self.label = QLabel("New column")
        self.label.setObjectName("soft")
        self.line = TypedLine(
            "Compute a column",
            "",
            "A new name, =, and how it is computed; Enter adds the column, Esc cancels",
            self._read,
            self._words,
        )
        first = QHBoxLayout()
        first.setSpacing(6)
        first.addWidget(self.label)
        first.addWidget(self.line.field, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(1)
        layout.addLayout(first)
        layout.addWidget(self.line.echo)
        self.line.accepted.connect(self._accept)
        self.line.left.connect(self.leave)
        self.hide()

    def begin(self, name: str | None = None) -> None:
        """Take the keyboard, for a new column or to change the computed one of that name."""
        study = self.session.study
        self._changing = name
        self.line.field.setPlaceholderText("      ".join(column_examples(study)))
        self.show()
        text = ""
        if name is not None:
            known = {v.name: v for v in study.variables}
            expression = next(d.expression for d in study.derived if d.name == name)
            text = f"{study.variable(name).label} = {expression_text(expression, known, stored=False)}"
        self.label.setText("New column" if name is None else "Computed as")
        self.line.clear()
        self.line.begin(text)

    def leave(self) -> None:
        """Close, and give the keyboard back."""
        self.line.clear()
        self.hide()
        self.left.emit()

    def _found(self, study: Study, text: str) -> tuple[str, str, Expression] | Mistake:
        """Name, expression as typed, and what it says; or the first mistake."""
        try:
            name, typed, begin = split_line(text)
        except StudyError as error:
            return Mistake(len(text.rstrip()), 1, str(error))
        if self._changing is None:
            taken = taken_name(study, name)
            if taken:
                return Mistake(0, len(name), taken)
        found = find_mistake(typed, self._usable(study), study.columns.is_numeric)
        if isinstance(found, Mistake):
            return Mistake(found.position + begin, found.length, found.message)
        return name, typed, found

    def _usable(self, study: Study) -> tuple[Variable, ...]:
        """The variables that the column may be computed from."""
        return usable_in(study, self._changing)

    def _read(self, text: str) -> str | Mistake:
        study = self.session.study
        found = self._found(study, text)
        if isinstance(found, Mistake):
            return found
        name, _, expression = found

        def work(job: Job) -> str:
            return _outlook(study, expression)

        self._worker.newest(Lane.DERIVING, work, lambda said: self.line.add_to_echo(f"{name}: {said}"))
        return f"{name}: …"

    def _words(self, text: str, cursor: int) -> tuple[int, list[str]]:
        study = self.session.study
        if "=" not in text[:cursor]:
            return 0, []
        return formula_words(study, text, cursor)

    def _accept(self, text: str) -> None:
        study = self.session.study
        found = self._found(study, text)
        if isinstance(found, Mistake):
            return
        name, typed, _ = found
        changing = self._changing

        def edit(s: Study) -> Study:
            if changing is None:
                return derive(s, name, typed)
            return describe(redefine(s, changing, typed), changing, label=name)

        def work(job: Job) -> Study:
            return edit(study)

        def computed(new: Study) -> None:
            # what was edited in the meantime stays: the edit is then done anew
            otherwise = f"compute {name}" + (" otherwise" if changing is not None else "")
            done = self.session.edit(otherwise, lambda s: new if s is study else edit(s))
            if done:
                self.session.look(variable=name if changing is None else changing)
            if done or changing is not None:
                self.leave()

        self._worker.in_order(f"computing {name}", work, computed, self.session.say)


def formula_words(study: Study, text: str, cursor: int) -> tuple[int, list[str]]:
    """Where the word under the cursor begins, and what would finish it: names, functions, conditions."""
    typed = text[:cursor]
    begin = max((typed.rfind(mark) for mark in "=+-−*×/(,"), default=-1) + 1
    for words in (" of ", " by ", " else ", "reversed ", " ... "):
        place_of = typed.rfind(words)
        begin = max(begin, place_of + len(words)) if place_of >= 0 else begin
    condition = typed.rfind(" if ")
    if condition > typed.rfind(" else "):
        return completions(study.variables, text, cursor)
    rest = typed[begin:]
    start = begin + len(rest) - len(rest.lstrip())
    rest = rest.strip().casefold()
    if not rest:
        return start, []
    found = [word for word in FUNCTIONS if word.startswith(rest)]
    at, names = completions(study.variables, typed[start:], cursor - start)
    return start, found + (names if at == 0 else [])


def _outlook(study: Study, expression: Expression) -> str:
    """What would come out, in a line."""
    try:
        values = values_of(expression, study.columns)
    except StudyError as error:
        return str(error)
    here = values[~np.isnan(values)]
    if not here.size:
        return "no case would have a value"
    some = f"{counted(int(here.size), 'value')}, {counted(int(values.size - here.size), 'case')} without"
    if here.size < 2 or here.min() == here.max():
        return f"{some}; always {place(float(here[0]), abs(float(here[0])) or 1.0)}"
    sd = float(here.std(ddof=1))
    low, high = place(float(here.min()), sd), place(float(here.max()), sd)
    return f"{some}; mean {place(float(here.mean()), sd)}, SD {place(sd, sd)}, from {low} to {high}"
