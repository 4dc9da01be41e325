"""The lit cases: who they are, and how far out."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent

from yellow_slope.app.widgets.figuretable import FigureColumn, FigureRow, FigureTable
from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.stand.checked import Checked
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.core.words.sentences.checks import asked_label
from yellow_slope.core.words.spelling.numerals import counted, fixed, p_value, place_decimals
from yellow_slope.values import dataclass

MOST_LISTED = 60
"""Cases: nobody reads more one by one."""


@dataclass(frozen=True, slots=True, eq=False)
class CaseColumn:
    """A column of the table: its title, what it says, and a value and a text for each case of the model."""

    title: str
    note: str
    values: FloatArray
    text: Callable[[int], str]


def case_columns(found: Checked) -> list[CaseColumn]:
    """The model's variables, then what is computed of each case."""
    study, fit, d = found.study, found.fit, found.diagnosis
    columns: list[CaseColumn] = []

    def add(title: str, note: str, values: FloatArray, decimals: int) -> None:
        columns.append(CaseColumn(title, note, values, lambda i: fixed(float(values[i]), decimals)))

    outcome = study.variable(study.model.outcome or "")
    sd = float(np.std(fit.y))
    add(outcome.short, f"{outcome.label}, the outcome", fit.y, place_decimals(sd))
    for name, basis in fit.design.bases.items():
        variable, values = study.variable(name), np.asarray(fit.values[name], dtype=np.float64)
        if isinstance(basis, GroupBasis):
            labels = [variable.level(code).label for code in basis.levels]
            columns.append(CaseColumn(variable.short, variable.label, values, partial(_label_at, values, labels)))
        else:
            add(variable.short, variable.label, values, place_decimals(float(np.std(values))))
    places = place_decimals(sd)
    add("predicted", "What the step predicts", d.predicted, places)
    add("residual", "Outcome minus predicted", d.residual, places)
    add("leverage", "Leverage: how unusual the case's predictors are, from 0 to 1", d.leverage, 3)
    misses = "Externally studentized residual: by how many SDs the model without the case misses it"
    add("studentized", misses, d.deleted, 2)
    add("Cook's", "Cook's distance: how much all coefficients change without the case", d.cook, 3)
    add("DFFITS", "By how many SEs the predicted value of the case changes without it", d.dffits, 2)
    add("D²", "Mahalanobis distance in the raw predictors", found.away.d2, 1)
    p = found.away.p
    columns.append(
        CaseColumn(
            "p of D²", "Tail probability of D² in the chi-square distribution", p, lambda i: p_value(float(p[i]))
        )
    )
    if found.moves is not None:
        add("DFBETAS", f"By how many SEs {asked_label(found)} changes without the case", found.moves, 2)
    return columns


def _label_at(values: FloatArray, labels: list[str], case: int) -> str:
    return labels[int(values[case])]


class CasesTable(FigureTable):
    """Lists the lit cases; a click on a title sorts by it, Enter goes to the case at Data."""

    wanted = pyqtSignal(int)
    """A row of the table, from 0."""

    def __init__(self) -> None:
        super().__init__(
            "Selected cases", "The selected cases; a click on a heading sorts, Enter goes to the case at Data"
        )
        self.sorted_by: tuple[str, bool] | None = None
        """A title, and whether the largest come first."""
        self.listed: list[int] = []
        """Rows of the table, in the order shown."""
        self._columns: list[CaseColumn] = []
        self._found: Checked | None = None
        self._lit: IntArray = np.zeros(0, dtype=np.int64)
        self._elsewhere: tuple[int, ...] = ()
        self.column_chosen.connect(self._sort)

    def show_cases(self, found: Checked, lit: IntArray, elsewhere: tuple[int, ...]) -> None:
        """Show cases by their positions in the model. elsewhere: rows that are lit but not in the model."""
        if found is not self._found:
            self._columns = case_columns(found)
        self._found, self._lit, self._elsewhere = found, lit, elsewhere
        self._fill()

    def _fill(self) -> None:
        found = self._found
        if found is None:
            return
        lit = self._lit
        if self.sorted_by is not None:
            title, largest = self.sorted_by
            column = next((c for c in self._columns if c.title == title), None)
            if column is not None:
                values = column.values[lit]
                lit = lit[np.argsort(-values if largest else values, kind="stable")]
        shown = lit[:MOST_LISTED]
        numbers = [int(row) for row in found.fit.cases.rows[shown]]
        rows = [
            FigureRow(case_name(found.study, row), tuple(c.text(int(i)) for c in self._columns))
            for i, row in zip(shown, numbers)
        ]
        self.listed = numbers
        for row in self._elsewhere[: max(0, MOST_LISTED - len(rows))]:
            rows.append(FigureRow(f"{case_name(found.study, row)}, not in the model", ("",) * len(self._columns)))
            self.listed.append(row)
        left = lit.size + len(self._elsewhere) - len(rows)
        if left > 0:
            rows.append(FigureRow(f"{counted(left, 'case')} more, selected but not listed"))
        self.show_rows(
            tuple(self._titles()), tuple(rows), counted(int(lit.size) + len(self._elsewhere), "selected case")
        )

    def _titles(self) -> list[FigureColumn]:
        by = self.sorted_by
        return [
            FigureColumn(f"{c.title} {'↓' if by[1] else '↑'}" if by and by[0] == c.title else c.title, c.note)
            for c in self._columns
        ]

    def _sort(self, column: int) -> None:
        title = self._columns[column].title
        self.sorted_by = (
            (title, not self.sorted_by[1]) if self.sorted_by and self.sorted_by[0] == title else (title, True)
        )
        self._fill()

    def as_text(self) -> str:
        """The table with tabs, for the clipboard."""
        lines = ["\t".join([self.corner, *(c.title for c in self._columns)])]
        lines += ["\t".join([row.name, *row.cells]) for row in self.rows]
        return "\n".join(lines)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.chosen is not None:
            if self.chosen < len(self.listed):
                self.wanted.emit(self.listed[self.chosen])
        elif event.key() == Qt.Key.Key_C and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            clipboard = QGuiApplication.clipboard()
            if clipboard is not None:
                clipboard.setText(self.as_text())
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.go(1 if event.key() == Qt.Key.Key_Down else -1)
        else:
            super().keyPressEvent(event)
