"""The waypoint Data: how the file was read, the table, and the chosen variable's card."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, QPoint, QRectF, Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QTableView, QToolButton, QVBoxLayout, QWidget

from yellow_slope.app.data.card import VariableCard
from yellow_slope.app.data.cases import CasesStrip
from yellow_slope.app.data.derive import DeriveLine
from yellow_slope.app.data.findbar import FindBar
from yellow_slope.app.data.firstrows import HEIGHT, FirstRows
from yellow_slope.app.data.grid import ColumnHeads, TableGrid
from yellow_slope.app.data.readas import ReadAsStrip
from yellow_slope.app.data.tableactions import TableActions
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.kinds import Kinds
from yellow_slope.app.widgets.following import Bench
from yellow_slope.core.arrays import IntArray
from yellow_slope.core.data.finding import sorted_rows
from yellow_slope.core.data.source import ReadAs
from yellow_slope.core.data.table import Table
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.study.terms import Term
from yellow_slope.looks import SIZES

MOST_FITTED = 200
"""Columns beyond these have one width."""
EVEN_WIDTH = 110


class DataBench(Bench):
    """The table is never changed here."""

    menu_wanted = pyqtSignal(QPoint)

    def __init__(
        self,
        session: StudySession,
        kinds: Kinds,
        worker: Worker,
        file: Callable[[], Path | None],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(session, worker, Lane.SORTING, parent)
        self._at_file = file
        self._fitted: list[int] = []
        self._chosen: str | None = None
        self._beside: tuple[Term, ...] = ()
        self._sorted: tuple[object, ...] = ()
        self._looking = 0
        self.read_as = ReadAsStrip(session, lambda: file() is not None)
        self.read_as.looked_at.connect(self._preview)
        self.cases = CasesStrip(session, kinds.dialogs, worker)
        self.codes = self._codes_button()
        self.grid = TableGrid(session)
        self.view = QTableView()
        self.view.setModel(self.grid)
        self.heads = ColumnHeads(session, self.grid, self.view)
        self._dress_view()
        self.finder = FindBar(session, worker, self.grid.place_of_row)
        self.finder.left.connect(self.focus)
        self.card = VariableCard(session, kinds, worker)
        self.derive = DeriveLine(session, worker)
        self.derive.left.connect(self.focus)
        self.card.change_wanted.connect(self.derive.begin)
        self.verbs = TableActions(session, kinds.dialogs, self.view, self.grid, self.finder, self.derive)
        self.finder.wanted.connect(self.verbs.show_cell)
        self.first_rows = FirstRows(self)
        self._lay_out()
        self.follow(session, Topic.STUDY, Topic.RESULTS)
        session.on(self._desk, Topic.TABLE, Topic.CHOICE, Topic.WAYPOINT, Topic.THEME)
        session.on(self._light, Topic.LIT)
        session.on(self._opened, Topic.OPENED)
        self.view.selectionModel().currentColumnChanged.connect(self._current_changed)  # type: ignore[union-attr]

    def _codes_button(self) -> QToolButton:
        codes = QToolButton()
        codes.setText("show codes")
        codes.setObjectName("chip")
        codes.setCheckable(True)
        codes.setAccessibleName("Show codes")
        codes.toggled.connect(lambda on: self.session.look(codes=on))
        return codes

    def _dress_view(self) -> None:
        view = self.view
        view.setHorizontalHeader(self.heads)
        view.setAccessibleName("The table")
        view.setToolTip("The table as it was read; tinted columns are computed")
        view.setWordWrap(False)
        view.setHorizontalScrollMode(QTableView.ScrollMode.ScrollPerPixel)
        view.setSelectionBehavior(QTableView.SelectionBehavior.SelectItems)
        rows = view.verticalHeader()
        assert rows is not None
        rows.setDefaultSectionSize(SIZES.row)
        rows.setMinimumWidth(44)
        rows.setSectionResizeMode(rows.ResizeMode.Fixed)
        self.heads.sectionClicked.connect(self._head_clicked)
        view.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        view.customContextMenuRequested.connect(
            lambda at: self.menu_wanted.emit(view.viewport().mapToGlobal(at))  # type: ignore[union-attr]
        )

    def _lay_out(self) -> None:
        top = QHBoxLayout()
        top.addWidget(self.read_as, 1)
        top.addWidget(self.codes)
        body = QHBoxLayout()
        body.setSpacing(SIZES.margin)
        body.addWidget(self.view, 1)
        body.addWidget(self.card)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 6)
        layout.setSpacing(6)
        layout.addLayout(top)
        layout.addWidget(self.cases)
        layout.addWidget(self.derive)
        layout.addLayout(body, 1)
        layout.addWidget(self.finder)

    @property
    def main_part(self) -> QWidget:
        return self.view

    def renew(self) -> None:
        row = max(0, self.view.currentIndex().row())
        self.grid.renew()
        self._sort()
        self._widths()
        self._keep_current(row)
        self._show_beside()

    def _light(self) -> None:
        """Show which cases are lit."""
        ground = self.view.viewport()
        if ground is not None:
            ground.update()

    def _opened(self) -> None:
        """Nothing that was typed about another table stays."""
        self.cases.line.clear()
        self.derive.line.clear()
        self.derive.hide()
        self.finder.hide()
        self.first_rows.hide()

    def _keep_current(self, row: int) -> None:
        """After another look of the table the current cell is in the same row, at the chosen variable."""
        model, place = self.view.selectionModel(), self.grid.place_of(self.session.desk.variable)
        if model is not None and not model.currentIndex().isValid() and place is not None and self.grid.rowCount():
            row = min(row, self.grid.rowCount() - 1)
            model.setCurrentIndex(self.grid.index(row, place), QItemSelectionModel.SelectionFlag.NoUpdate)

    def _sort(self) -> None:
        """Show the cases in the order that is wanted; worked out by the worker."""
        study, sort = self.session.study, self.session.desk.sort
        key = (study.table, sort and study.variable(sort[0]), sort, study.derived if sort else ())
        if key == self._sorted:
            return
        self._sorted = key
        if sort is None:
            self.grid.set_order(None)
            return

        def work(job: Job) -> IntArray:
            return sorted_rows(study.columns, study.table, *sort)

        self.worker.newest(self.lane, work, self.grid.set_order)

    def _widths(self) -> None:
        """Widths that fit title and values; set only where they differ, and not one by one in a very wide table."""
        wanted = [self.grid.width(j) for j in range(min(MOST_FITTED, self.grid.columnCount()))]
        if wanted == self._fitted:
            return
        self._fitted = wanted
        self.heads.setDefaultSectionSize(EVEN_WIDTH)
        for j, width in enumerate(wanted):
            self.view.setColumnWidth(j, width)

    def _desk(self) -> None:
        if not self.isVisible():
            self._missed = True
            return
        self.codes.setChecked(self.session.desk.codes)
        before, row = self.grid.columnCount(), max(0, self.view.currentIndex().row())
        self.grid.renew()
        self._keep_current(row)
        if self.grid.columnCount() != before:
            self._widths()
        self._show_beside()
        self._sort()
        self._show_chosen()
        self.heads.viewport().update()  # type: ignore[union-attr]

    def _show_beside(self) -> None:
        """A term's columns that were asked for come into sight: with their sources where there is room for both."""
        beside = self.session.desk.beside
        if beside == self._beside or not self.isVisible():
            return
        added = len(beside) > len(self._beside)
        place = self.grid.last_of(beside[-1]) if added else None
        if added and place is None:
            return  # its results are still to come
        self._beside = beside
        bar, viewport = self.view.horizontalScrollBar(), self.view.viewport()
        if place is None or bar is None or viewport is None:
            return
        self.view.updateGeometries()
        end = self.heads.sectionPosition(place) + self.heads.sectionSize(place)
        source = self.grid.first_source(beside[-1])
        begin = self.heads.sectionPosition(source) if source is not None else end
        bar.setValue(begin if end - begin <= viewport.width() else end - viewport.width())

    def _show_chosen(self) -> None:
        """The column chosen in the roster comes into sight."""
        name, model = self.session.desk.variable, self.view.selectionModel()
        if name == self._chosen or not self.isVisible() or model is None:
            return
        self._chosen = name
        if self.grid.variable_at(model.currentIndex().column()) == name and model.currentIndex().isValid():
            return
        place = self.grid.place_of(name)
        if place is not None:
            left, width = self.heads.sectionPosition(place), self.heads.sectionSize(place)
            bar, viewport = self.view.horizontalScrollBar(), self.view.viewport()
            if bar is None or viewport is None:
                return
            if not bar.value() <= left <= left + width <= bar.value() + viewport.width():
                bar.setValue(left)

    def _current_changed(self, now: QModelIndex, _before: QModelIndex) -> None:
        if self.isVisible():
            name = self.grid.variable_at(now.column())
            if name is not None:
                self.session.look(variable=name)

    def _head_clicked(self, column: int) -> None:
        name = self.grid.variable_at(column)
        if name is not None:
            keys, desk = QApplication.keyboardModifiers(), self.session.desk
            if keys & Qt.KeyboardModifier.ShiftModifier:
                order = [n for j in range(self.grid.columnCount()) if (n := self.grid.variable_at(j)) is not None]
                self.session.look(variable=name, **desk.spanning(order, name))
            else:
                add = bool(keys & Qt.KeyboardModifier.ControlModifier)
                self.session.look(variable=name, **desk.clicking(Term((name,)), add, keep=False))
            model = self.view.selectionModel()
            if model is not None:
                model.setCurrentIndex(self.grid.index(0, column), QItemSelectionModel.SelectionFlag.NoUpdate)

    def focus(self) -> None:
        """Put the keyboard on the table."""
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)

    def _preview(self, way: ReadAs | None) -> None:
        """Show the first rows as another way of reading would have them; nothing is changed by looking."""
        path = self._at_file()
        if way is None or path is None or way == self.read_as.way():
            self._looking += 1
            self.first_rows.hide()
            return
        self._looking += 1
        looking = self._looking

        def work(job: Job) -> tuple[Table | None, str]:
            from yellow_slope.files.opening import first_rows

            try:
                return first_rows(path, way), ""
            except YellowSlopeError as error:
                return None, str(error)

        def read(found: tuple[Table | None, str]) -> None:
            if looking == self._looking and (found[0] is not None or found[1]):
                # low enough to lie below the menu that is open
                top = self.view.mapTo(self, QPoint(0, self.view.height())).y() - HEIGHT
                self.first_rows.show_table("As it would be read", *found, QRectF(8, top, self.width() - 16, 0))

        self.worker.newest(Lane.FIRST_ROWS, work, read)
