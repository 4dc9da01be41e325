"""The ladder: the triangular sheet of terms by block and steps across, drawn and worked by mouse and keyboard."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPoint, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.blocks.beside import Beside
from yellow_slope.app.blocks.drawing import INDENT, TAIL, LadderDrawing, row_metrics
from yellow_slope.app.blocks.figures import Figures
from yellow_slope.app.blocks.layout import HEAD, StepColumn, steps_across
from yellow_slope.app.blocks.preview import Coming
from yellow_slope.app.blocks.sheet import Row, RowKind, Sheet, coming_sheet, sheet_of
from yellow_slope.app.state.carrying import Carry, Entered, Landing, Multiplied
from yellow_slope.app.state.desk import Cell, Looking
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.paintedrows import PaintedRows
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.terms import Term
from yellow_slope.core.told.steps import step_figures
from yellow_slope.core.words.sentences.steps import is_quick
from yellow_slope.core.words.spelling.shortening import told_apart
from yellow_slope.looks import SIZES

NOTHING = Sheet((), np.zeros(0), 1.0)


class Ladder(Follows, PaintedRows):
    """Draws the newest results of a session; chooses cells; takes terms that are carried to it."""

    flag_chosen = pyqtSignal(object)
    begin_block = pyqtSignal()
    menu_wanted = pyqtSignal(QPoint)
    carried = pyqtSignal(object, QPoint, Carry)
    """A term that is carried by the mouse: term, global position, and what is done with it."""
    name_wanted = pyqtSignal(int)

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__("Ladder: terms by block, steps across", SIZES.row, HEAD, parent)
        self.session = session
        self.setMouseTracking(True)
        self.viewport().setMouseTracking(True)
        self.sheet = NOTHING
        self.coming: Coming | None = None
        """What a typed line would make; it stands pale in the sheet."""
        self.beside: Beside | None = None
        """The kept model that is drawn beside this one."""
        self.pale: frozenset[int] = frozenset()
        """Steps that a typed line would change."""
        self._longest = 0
        self._figures: Figures | None = None
        self._named: tuple[Sheet, int, list[str]] | None = None
        self._to_show, self._shown_cell = False, None  # type: tuple[bool, Cell | None]
        self.over: tuple[Term, QPoint] | None = None
        self._pressed: tuple[Row, QPoint] | None = None
        self.follow(session, Topic.RESULTS)
        session.on(self._study_changed, Topic.STUDY)
        session.on(self._desk_changed, Topic.ROW, Topic.LADDER, Topic.CHOICE, Topic.FLAG, Topic.THEME)

    # ---- state

    def renew(self) -> None:
        """Take the newest results, or what a typed line would make of them."""
        view = self.session.view
        study = view.study if view else self.session.study
        if self.coming is not None:
            self.sheet = coming_sheet(self.coming.now, self.coming.study, self.coming.fit)
            self.pale = self.coming.changed_steps(view.fit if view is not None else None)
        else:
            self.sheet = sheet_of(study, view)
            self.pale = frozenset()
        self.beside = self._found_beside()
        self._longest = max((self._wanted(row) for row in self.sheet.rows), default=0)
        self.fit_scroll()
        if self.coming is None:
            self._show_cell()

    def _found_beside(self) -> Beside | None:
        return Beside.of(self.session, self.coming.fit if self.coming is not None else None)

    def _wanted(self, row: Row) -> int:
        """The width that a row's name needs; a block's name may run on below the steps before its own."""
        if row.kind is RowKind.BLOCK:
            return 0
        tail = 60 if row.change else 0
        return INDENT[row.kind] + row_metrics(row).horizontalAdvance(row.text) + SIZES.gutter + 8 + tail

    def show_coming(self, coming: Coming | None) -> None:
        """Show what a typed line would make, pale; None: what there is."""
        self.coming = coming
        self.renew()
        changed = [i for i, row in enumerate(self.sheet.rows) if row.change]
        if changed:
            self.show_row(changed[-1])
            self.show_row(changed[0])

    def _study_changed(self) -> None:
        if not self.session.view:
            self._told()

    def _desk_changed(self) -> None:
        if not self.isVisible():
            self._missed = True
            return
        beside = self._found_beside()
        if (beside and beside.model) != (self.beside and self.beside.model):
            self.beside = beside
        if self.coming is None:
            self._show_cell()
        self.viewport().update()

    def _show_cell(self) -> None:
        """Scroll to the chosen cell once it has its row."""
        cell = self.session.desk.cell
        self._to_show = self._to_show or cell != self._shown_cell
        row = self.sheet.row_of(cell)
        if row is None:
            return
        self.setAccessibleDescription(f"step {self.open_step() + 1}, {self.sheet.rows[row].whole}")
        if self._to_show:
            self.show_row(row)
            self._to_show = not self.session.is_settled
            self._shown_cell = cell

    @property
    def fit(self) -> Fit | None:
        """The fit that is drawn: the newest, or that of a typed line."""
        if self.coming is not None:
            return self.coming.fit
        return self.session.view.fit if self.session.view else None

    @property
    def model(self) -> Model | None:
        """The model that is drawn."""
        if self.coming is not None:
            return self.coming.study.model
        return self.session.view.study.model if self.session.view else None

    def open_step(self) -> int:
        """The step that shows its figures; of a typed line the last."""
        view = self.session.view
        if self.coming is not None:
            return len(self.coming.fit.steps) - 1 if self.coming.fit is not None else 0
        return self.session.desk.step(view.study.model) if view is not None and view.fit is not None else 0

    # ---- geometry

    def whole_height(self) -> int:
        """Height of all rows and of the strip that begins a block."""
        return (len(self.sheet.rows) + 1) * SIZES.row + 10

    def columns(self) -> list[StepColumn]:
        """The steps across, right-aligned."""
        fit = self.fit
        if fit is None:
            return []
        figures = self.figures()
        width = figures.width if figures is not None else 0
        return steps_across(self.viewport().width(), len(fit.steps), self.open_step(), self._longest, width)

    def figures(self) -> Figures | None:
        """The texts of the open step in the density that was chosen."""
        fit, wanted = self.fit, self.session.desk.density
        if fit is None:
            return None
        if self._figures is None or self._figures.fit is not fit or self._figures.density is not wanted:
            self._figures = Figures(fit, wanted)
        return self._figures

    def row_at(self, y: int) -> int | None:
        """The row at a height of the viewport; len(rows) is the strip that begins a block."""
        if y < HEAD:
            return None
        index = (y - HEAD + self.scrolled) // SIZES.row
        return index if index <= len(self.sheet.rows) else None

    def rect_of(self, cell: Cell) -> QRectF | None:
        """Where a cell's row stands, for tests and for what is laid over it."""
        row = self.sheet.row_of(cell)
        return None if row is None else QRectF(0, self.row_top(row), self.viewport().width(), SIZES.row)

    def names_width(self) -> int:
        """Width of the names at the left."""
        columns = self.columns()
        return columns[0].x if columns else self.viewport().width()

    def name_of(self, index: int, names: int) -> str:
        """A row's name as the width of names has it: whole, or so that it can be told apart from the others."""
        if self._named is None or self._named[0] is not self.sheet or self._named[1] != names:
            rows = self.sheet.rows
            texts = told_apart([row.text for row in rows], [self._fitting(row, names) for row in rows])
            self._named = (self.sheet, names, texts)
        return self._named[2][index]

    def _fitting(self, row: Row, names: int) -> Callable[[str], bool]:
        metrics = row_metrics(row)
        room = (
            names
            - INDENT[row.kind]
            - SIZES.gutter
            - 2
            - (TAIL if row.change and row.kind is not RowKind.COMPARISON else 0)
        )
        return lambda text: metrics.horizontalAdvance(text) <= room

    # ---- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        LadderDrawing(self, painter).draw()

    # ---- mouse and keyboard

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.coming is not None:
            return
        position = event.position().toPoint()
        index = self.row_at(position.y())
        if index is None:
            step = self.step_at(position.x())
            if step is not None:
                self.session.look(open_step=step, cell=None, flag=None)
            return
        if index == len(self.sheet.rows):
            self.begin_block.emit()
            return
        row = self.sheet.rows[index]
        self._pressed = (row, position)
        names = self.names_width()
        if row.flags and names - SIZES.gutter - 4 <= position.x() <= names:
            self.flag_chosen.emit(row.flags[0])
            return
        step = self.step_at(position.x())
        changes: Looking = {"cell": row.cell, "flag": None}
        if row.cell.term is not None and row.is_of_a_term:
            adds = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            clicked = self.session.desk.clicking(row.cell.term, adds, keep=not adds)
            changes["chosen"], changes["clicked"] = clicked["chosen"], clicked["clicked"]
        if step is not None and row.step is not None and step >= row.step and row.kind is not RowKind.BLOCK:
            changes["open_step"] = step
        self.session.look(**changes)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.coming is not None:
            return
        index = self.row_at(event.position().toPoint().y())
        if index is not None and index < len(self.sheet.rows) and self.sheet.rows[index].kind is RowKind.BLOCK:
            self.name_wanted.emit(self.sheet.rows[index].block)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        row, start = self._pressed
        if row.cell.term is not None and (event.position().toPoint() - start).manhattanLength() > 8:
            self.carried.emit(row.cell.term, event.globalPosition().toPoint(), Carry.MOVE)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._pressed is not None and self.over is not None:
            term = self._pressed[0].cell.term
            self.carried.emit(term, event.globalPosition().toPoint(), Carry.DROP)
        self._pressed = None

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None:
            self.menu_wanted.emit(event.globalPos())

    def step_at(self, x: int) -> int | None:
        """The step across at a place of the viewport."""
        for column in self.columns():
            if column.x <= x < column.x + column.width:
                return column.step
        return None

    @action("choose the row above", "Go to the row above", "Up", scope=Scope.LADDER)
    def up(self) -> None:
        """Go to the row above."""
        self._step(-1)

    @action("choose the row below", "Go to the row below", "Down", scope=Scope.LADDER)
    def down(self) -> None:
        """Go to the row below."""
        self._step(1)

    @action("open the previous step", "Open the previous step", "Left", scope=Scope.LADDER)
    def step_back(self) -> None:
        """Show the figures of the step before."""
        self._open(-1)

    @action("open the next step", "Open the next step", "Right", scope=Scope.LADDER)
    def step_on(self) -> None:
        """Show the figures of the next step."""
        self._open(1)

    def _step(self, by: int) -> None:
        rows = self.sheet.rows
        if not rows:
            return
        now = self.sheet.row_of(self.session.desk.cell)
        to = 0 if now is None else max(0, min(len(rows) - 1, now + by))
        self.session.look(cell=rows[to].cell, flag=None)

    def _open(self, by: int) -> None:
        if self.fit is not None:
            self.session.look(open_step=min(len(self.fit.steps) - 1, max(0, self.open_step() + by)))

    def tip_at(self, position: QPoint) -> str:
        """What the tooltip says there."""
        index = self.row_at(position.y())
        step = self.step_at(position.x())
        read = self.session.view.reader if self.session.view and self.coming is None else None
        if index is None:
            if step is None or read is None:
                return ""
            return "\n".join([f"Step {step + 1}", *step_figures(read, step, is_quick(read)), "Click to open it."])
        if index == len(self.sheet.rows):
            return "Enter what is chosen as a new block."
        row = self.sheet.rows[index]
        flags = [f.title for key in row.flags if (f := self.session.flag(key)) is not None]
        said = ""
        column = row.cell.column
        if read is not None and step is not None and column is not None and column < read.fit.steps[step].n_columns:
            said = read.coefficient(step, column)
        return "\n".join([row.whole, *flags, said]).strip()

    # ---- carrying terms

    def drop_row(self) -> int | None:
        """The row that a carried term is over; below and above all rows the strip that begins a block."""
        if self.over is None:
            return None
        index = self.row_at(self.over[1].y())
        return len(self.sheet.rows) if index is None else index

    def carry_over(self, term: Term, position: QPoint | None) -> None:
        """A term is carried over this place of the viewport (None: elsewhere)."""
        self.over = (term, position) if position is not None else None
        self.viewport().update()

    def landing(self) -> Landing | None:
        """What dropping here would do."""
        index = self.drop_row()
        if self.over is None or index is None:
            return None
        if index >= len(self.sheet.rows):
            return Entered(len(self.session.study.model.blocks) if self.session.study else 0)
        row = self.sheet.rows[index]
        if row.cell.term is not None and self.over[1].x() >= self.viewport().width() - 44:
            return Multiplied(row.cell.term)
        return Entered(row.block)
