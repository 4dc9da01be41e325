"""What can be done in the table at Data: cases set aside, another order, finding, computed columns."""

from __future__ import annotations

from PyQt6.QtWidgets import QTableView

from yellow_slope.app.data.derive import DeriveLine
from yellow_slope.app.data.findbar import CASE, FIND, FindBar
from yellow_slope.app.data.grid import TableGrid
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.requests import Request
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Menu, Scope, action
from yellow_slope.app.verbs.asides import ask_to_set_aside, let_back
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.study.edits.computed import is_derived, remove_derived


class TableActions:
    """The verbs of the table."""

    def __init__(
        self,
        session: StudySession,
        dialogs: Dialogs,
        view: QTableView,
        grid: TableGrid,
        finder: FindBar,
        derive: DeriveLine,
    ) -> None:
        self.session, self._dialogs = session, dialogs
        self._view, self._grid, self._finder, self._derive = view, grid, finder, derive

    # ---- cases

    def chosen_rows(self) -> list[int]:
        """The table's rows of the cells that are chosen, from 0."""
        model = self._view.selectionModel()
        rows: set[int] = set()
        if model is not None:
            for part in list(model.selection()):  # type: ignore[call-overload]
                rows |= {self._grid.row_at(place) for place in range(part.top(), part.bottom() + 1)}
            if not rows and model.currentIndex().isValid():
                rows = {self._grid.row_at(model.currentIndex().row())}
        return sorted(rows)

    @action(
        "set the cases aside",
        "Exclude the chosen cases, with a reason; they stay in the table",
        "Delete",
        scope=Scope.TABLE,
        menu=Menu.CASE,
        available="session.is_open",
    )
    def set_aside(self) -> None:
        """Set the chosen cases aside; the reason is asked for."""
        ask_to_set_aside(self.session, self._dialogs, self.chosen_rows())

    @action(
        "include the cases again",
        "Include the chosen cases again",
        "Shift+Delete",
        scope=Scope.TABLE,
        menu=Menu.CASE,
        available="session.is_open",
    )
    def take_back(self) -> None:
        """Let the chosen cases take part again."""
        let_back(self.session, self.chosen_rows())

    @action(
        "sort by the column",
        "Show the cases in the order of the chosen column; again: the largest first, then as in the file",
        "S",
        scope=Scope.TABLE,
        menu=Menu.CASE,
        available="session.is_open",
    )
    def sort_by(self) -> None:
        """Sort the view by the chosen column: rising, falling, not at all. The file and the study stay as they are."""
        name, now = self.session.desk.variable, self.session.desk.sort
        if name is None:
            return
        following = {None: (name, False), (name, False): (name, True), (name, True): None}
        self.session.look(sort=following.get(now, (name, False)))
        study, sort = self.session.study, self.session.desk.sort
        if self.session.is_open:
            label = study.variable(name).label
            said = f"Shown by {label}, {'largest' if sort and sort[1] else 'smallest'} first; the file stays as it is."
            self.session.say(said if sort else "Shown as in the file.")

    @action(
        "find in the table",
        "Find a text or a number in the cells; at Report in its pages",
        "Ctrl+Shift+F",
        menu=Menu.CASE,
        available="session.is_open",
    )
    def find_in_table(self) -> None:
        """Open the find bar of the table, or of the report where that is looked at."""
        if self.session.desk.waypoint is Waypoint.REPORT and self.session.desk.figure is None:
            self.session.ask(Request.FIND_IN_REPORT)
            return
        self.session.look(waypoint=Waypoint.DATA)
        self._finder.begin(FIND)

    @action("go to a case", "Go to a case by its row number", "Ctrl+G", menu=Menu.CASE, available="session.is_open")
    def go_to_case(self) -> None:
        """Open the find bar for a row number."""
        self.session.look(waypoint=Waypoint.DATA)
        self._finder.begin(CASE)

    # ---- computed columns

    @action(
        "compute a column",
        "A new column computed from others, typed on one line",
        "Ctrl+Shift+N",
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def compute(self) -> None:
        """Open the line for a computed column."""
        self.session.look(waypoint=Waypoint.DATA)
        self._derive.begin()

    def is_computed(self) -> bool:
        """Whether the chosen variable is computed."""
        study, name = self.session.study, self.session.desk.variable
        return name is not None and is_derived(study, name)

    @action(
        "change the computed column",
        "Change how the chosen computed column is made",
        menu=Menu.VARIABLE,
        available="is_computed",
    )
    def compute_otherwise(self) -> None:
        """Open the line with the chosen computed column."""
        self.session.look(waypoint=Waypoint.DATA)
        self._derive.begin(self.session.desk.variable)

    @action(
        "remove the computed column",
        "Remove the chosen computed column, and its terms from the models",
        menu=Menu.VARIABLE,
        available="is_computed",
    )
    def remove_computed(self) -> None:
        """Take the chosen computed column away."""
        name = self.session.desk.variable
        if name is not None:
            self.session.edit("remove a computed column", lambda s: remove_derived(s, name))

    def show_cell(self, row: int, variable: str) -> None:
        """Make a cell the current one and bring it into sight."""
        column = self._grid.place_of(variable) if variable else self._view.currentIndex().column()
        cell = self._grid.index(self._grid.place_of_row(row), max(0, column or 0))
        self._view.setCurrentIndex(cell)
        self._view.scrollTo(cell, QTableView.ScrollHint.PositionAtCenter)
