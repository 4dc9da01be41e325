"""The waypoint Data: how the file was read, the table, and the chosen variable's card."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QTableView, QToolButton, QVBoxLayout, QWidget

from yellow_slope.app.data.card import VariableCard
from yellow_slope.app.data.grid import ColumnHeads, TableGrid
from yellow_slope.app.data.readas import ReadAsStrip
from yellow_slope.app.modelactions import ModelActions
from yellow_slope.app.session import StudySession
from yellow_slope.app.worker import Worker
from yellow_slope.core.words.samples import sample_sentence
from yellow_slope.looks import SIZES

MOST_FITTED = 200
"""Columns beyond these have one width."""
EVEN_WIDTH = 110


class DataBench(QWidget):
    """The table is never changed here."""

    def __init__(
        self,
        session: StudySession,
        modelactions: ModelActions,
        worker: Worker,
        at_hand: Callable[[], bool],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.session = session
        self.read_as = ReadAsStrip(session, at_hand)
        self.sample = QLabel()
        self.sample.setObjectName("soft")
        self.sample.setWordWrap(True)
        self.sample.setTextFormat(Qt.TextFormat.PlainText)
        self.sample.setAccessibleName("Which cases count")
        self.codes = QToolButton()
        self.codes.setText("codes instead of labels")
        self.codes.setObjectName("chip")
        self.codes.setCheckable(True)
        self.codes.setAccessibleName("Show codes instead of labels")
        self.codes.toggled.connect(lambda on: session.look(codes=on))
        self.grid = TableGrid(session)
        self._fitted: list[int] = []
        self._chosen: str | None = None
        self.view = QTableView()
        self.view.setModel(self.grid)
        self.heads = ColumnHeads(session, self.grid, self.view)
        self.view.setHorizontalHeader(self.heads)
        self.view.setAccessibleName("The table")
        self.view.setToolTip("The table as it was read; tinted columns are computed")
        self.view.setWordWrap(False)
        self.view.setHorizontalScrollMode(QTableView.ScrollMode.ScrollPerPixel)
        self.view.setSelectionBehavior(QTableView.SelectionBehavior.SelectItems)
        rows = self.view.verticalHeader()
        assert rows is not None
        rows.setDefaultSectionSize(SIZES.row)
        rows.setMinimumWidth(44)
        rows.setSectionResizeMode(rows.ResizeMode.Fixed)
        self.heads.sectionClicked.connect(self._head_clicked)
        self.card = VariableCard(session, modelactions, worker)
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
        layout.addWidget(self.sample)
        layout.addLayout(body, 1)
        session.on("study", self._renew)
        session.on("results", self._renew)
        session.on("desk", self._desk)
        self.view.selectionModel().currentColumnChanged.connect(self._current_changed)  # type: ignore[union-attr]

    def _renew(self) -> None:
        study, view = self.session.study, self.session.view
        if study is None:
            return
        if view is not None:
            self.sample.setText(
                sample_sentence(view.evaluation)
                if study.model.outcome
                else f"{study.table.n_rows:,} cases, {len(study.variables)} variables. Choose an outcome to begin: press Y on a number, or type a model (Ctrl+L)."
            )
        self.grid.renew()
        self._widths()

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
        self.codes.setChecked(self.session.desk.codes)
        before = self.grid.columnCount()
        self.grid.renew()
        if self.grid.columnCount() != before:
            self._widths()
            source = self.grid.first_source(self.session.desk.beside[-1]) if self.session.desk.beside else None
            bar = self.view.horizontalScrollBar()
            if source is not None and bar is not None:
                bar.setValue(self.heads.sectionPosition(source))
        self._show_chosen()
        self.heads.viewport().update()  # type: ignore[union-attr]

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
            self.session.look(variable=name)
            model = self.view.selectionModel()
            if model is not None:
                model.setCurrentIndex(self.grid.index(0, column), QItemSelectionModel.SelectionFlag.NoUpdate)

    def focus(self) -> None:
        """Put the keyboard on the table."""
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)
