"""Under the table: find what stands in a cell, or go to a case."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QWidget

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.widgets.field import Field
from yellow_slope.core.data.finding import Finds, find_cells
from yellow_slope.core.study.study import Study
from yellow_slope.core.typed import typed_whole
from yellow_slope.core.words.spelling.numerals import counted

FIND, CASE = "find", "case"


class FindBar(QWidget):
    """Enter goes to the next cell, Shift+Enter to the one before, Esc back to the table."""

    left = pyqtSignal()
    wanted = pyqtSignal(int, str)
    """A row of the table from 0, and a variable; an empty one: any."""

    def __init__(self, session: StudySession, worker: Worker, place_of_row: Callable[[int], int]) -> None:
        super().__init__()
        self.session, self._worker, self._place_of_row = session, worker, place_of_row
        self.mode = FIND
        self.label = QLabel("Find")
        self.label.setObjectName("soft")
        self.field = _Field()
        self.field.setAccessibleName("Find in the table")
        self.field.setToolTip("Enter: the next one; Shift+Enter: the one before; Esc: back to the table")
        self.said = QLabel()
        self.said.setObjectName("soft")
        self.said.setAccessibleName("What was found")
        shut = QToolButton()
        shut.setText("×")
        shut.setAccessibleName("Close the find bar")
        shut.setToolTip("Back to the table (Esc)")
        shut.clicked.connect(self.leave)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        for widget in (self.label, self.field):
            layout.addWidget(widget)
        layout.addWidget(self.said, 1)
        layout.addWidget(shut)
        self.field.setFixedWidth(240)
        self.field.entered.connect(self._go)
        self.field.escaped.connect(self.leave)
        self._key: tuple[object, ...] = ()
        self._cells: list[tuple[int, int, str]] = []
        """View row, table row, variable."""
        self._at, self._n = -1, 0
        self.hide()

    def begin(self, mode: str) -> None:
        """Take the keyboard, to find something or to go to a case."""
        self.mode = mode
        self.label.setText("Find" if mode == FIND else "Case")
        self.field.setPlaceholderText("a text or a number" if mode == FIND else "its row number")
        self.field.setAccessibleName("Find in the table" if mode == FIND else "Row number of the case")
        self.said.setText("")
        self.show()
        self.field.setFocus()
        self.field.selectAll()

    def leave(self) -> None:
        """Close, and give the keyboard back to the table."""
        self.hide()
        self.left.emit()

    def _go(self, step: int) -> None:
        study, text = self.session.study, self.field.text().strip()
        if not text:
            return
        if self.mode == CASE:
            self._go_to_case(study, text)
            return
        key = (study.table, study.variables, text)
        if key == self._key:
            self._show(step)
            return

        def work(job: Job) -> tuple[Finds, ...]:
            return find_cells(study.columns, study.table, study.variables, text)

        def found(finds: tuple[Finds, ...]) -> None:
            self._key = key
            self._cells = sorted(
                (self._place_of_row(int(row)), int(row), one.variable) for one in finds for row in one.rows[:MOST]
            )
            self._at = -1 if step > 0 else 0
            self._n = sum(int(one.rows.size) for one in finds)
            if not self._n:
                self.said.setText(f"No cell contains “{text}”")
                return
            self._show(step)

        self.said.setText("looking …")
        self._worker.newest(Lane.FINDING, work, found)

    def _show(self, step: int) -> None:
        if not self._cells:
            return
        self._at = (self._at + step) % len(self._cells)
        _, row, variable = self._cells[self._at]
        label = self.session.study.variable(variable).label
        self.said.setText(f"{self._at + 1:,} of {counted(self._n, 'cell')}: case {row + 1:,}, {label}")
        self.wanted.emit(row, variable)

    def _go_to_case(self, study: Study, text: str) -> None:
        n = study.table.n_rows
        number = typed_whole(text.casefold().replace("case", ""))
        if number is None or not 1 <= number <= n:
            self.said.setText(f"The table has cases 1 to {n:,}")
            return
        self.said.setText("")
        self.wanted.emit(number - 1, "")


MOST = 100_000
"""Cells of a column that can be gone through one by one."""


class _Field(Field):
    entered = pyqtSignal(int)
    escaped = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            back = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.entered.emit(-1 if back else 1)
            return
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.escaped.emit()
            return
        super().keyPressEvent(event)
