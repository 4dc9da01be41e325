"""The table for the view: cells made when they are looked at, so that a million cells cost nothing."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QHeaderView, QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.kindmarks import paint_mark
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.data.columns import computed_column
from yellow_slope.core.data.conditions import holds
from yellow_slope.core.data.derived import sources_of
from yellow_slope.core.data.missingcodes import suspects
from yellow_slope.core.data.table import NumberColumn, Table, number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import AS_IS
from yellow_slope.core.words.names.numbers import treatment_name
from yellow_slope.core.words.names.terms import column_name
from yellow_slope.core.words.spelling.numerals import MINUS, fixed, percent, place_decimals
from yellow_slope.looks import blended
from yellow_slope.values import dataclass, replace

MOST_LOOKED_AT = 50_000
"""Rows: a look at all of a million takes longer than a frame."""
MOST_BESIDE = 12
MOST_MEASURED = 30
"""Of a term with more columns only so many are shown beside its sources."""


GAP = "–"


@dataclass(frozen=True, slots=True)
class Marks:
    """What stands out in a column: labels by code, strays by row, values that may be codes for missing."""

    labels: dict[str, str]
    strays: dict[int, str]
    suspects: frozenset[float]


NOTHING = Marks({}, {}, frozenset())


@dataclass(frozen=True, slots=True)
class ShownColumn:
    """One column of the view: a variable, or a computed column beside it."""

    variable: str | None
    title: str
    computed: FloatArray | None = None
    """Shape (rows,), NaN where the case does not count."""
    decimals: int = 2
    term: Term | None = None
    """The term that a computed column is of."""


class TableGrid(QAbstractTableModel):
    """Read only."""

    def __init__(self, session: StudySession) -> None:
        super().__init__()
        self.session = session
        self._shown: list[ShownColumn] = []
        self._key: object = None
        self._table: Table | None = None
        self._gaps: dict[tuple[object, ...], float] = {}
        self._places: dict[str, int] = {}
        self._marks: dict[str, Marks] = {}
        self._outside: BoolArray | None = None
        self._aside: dict[int, str] = {}
        self._lit_rows: tuple[tuple[int, ...], frozenset[int]] = (), frozenset()
        self._rows = 0
        self._order: IntArray | None = None
        self._place: IntArray | None = None

    # ---- the order in which cases are shown

    def set_order(self, order: IntArray | None) -> None:
        """Show the cases in that order of their row numbers; None: as in the file."""
        self.layoutAboutToBeChanged.emit()
        self._order, self._place = order, None
        if order is not None:
            self._place = np.empty_like(order)
            self._place[order] = np.arange(order.size)
        self.layoutChanged.emit()

    def row_at(self, place: int) -> int:
        """The table's row that is shown at a place of the view."""
        return int(self._order[place]) if self._order is not None and place < self._order.size else place

    def place_of_row(self, row: int) -> int:
        """Where a row of the table is shown."""
        return int(self._place[row]) if self._place is not None and row < self._place.size else row

    def renew(self) -> None:
        """Take the newest study, and the computed columns that are wanted."""
        study, view, desk = self.session.study, self.session.view, self.session.desk
        if self._table is not study.table:
            self._table, self._gaps, self._places = study.table, {}, {}
            self._order = self._place = None
        beside = desk.beside if view is not None else ()
        key = (
            study.table if study else None,
            study.variables if study else (),
            study.derived if study else (),
            beside,
            view if beside else None,
            desk.codes,
            study.samples if study else (),
            study.model.sample if study else None,
        )
        if key == self._key:
            return
        self._key = key
        before = [(c.variable, c.title) for c in self._shown], self._rows
        shown = self._columns_of(study, beside)
        same = before == ([(c.variable, c.title) for c in shown], study.table.n_rows if study else 0)
        if not same:
            self.beginResetModel()
        self._shown, self._marks, self._rows = shown, {}, study.table.n_rows if study else 0
        for name in [d.name for d in study.derived] if study else []:
            self._places.pop(name, None)
        self._look_at_sample(study)
        if not same:
            self.endResetModel()
        elif self._rows and self._shown:  # what is chosen stays chosen
            self.dataChanged.emit(self.index(0, 0), self.index(self._rows - 1, len(self._shown) - 1))

    def _columns_of(self, study: Study, beside: tuple[Term, ...]) -> list[ShownColumn]:
        """What is asked for beside its sources stands first with them, the other columns after it in table order."""
        after: dict[str, list[ShownColumn]] = {}
        for name, computed in self._computed(beside):
            after.setdefault(name, []).append(computed)
        sources = {name for term in beside for name in term.variables}
        shown: list[ShownColumn] = []
        for variable in sorted(table_order(study), key=lambda v: v.name not in sources):
            shown += [ShownColumn(variable.name, variable.label), *after.get(variable.name, ())]
        return shown

    def _look_at_sample(self, study: Study) -> None:
        """Which rows are outside the model's sample, and which are set aside and why."""
        self._outside, self._aside = None, {}
        sample = study.sample_of(study.model)
        if sample is None:
            return
        if sample.rule is not None:
            self._outside = ~holds(sample.rule, study.columns)
        self._aside = {row: aside.reason for aside in sample.aside for row in aside.rows}

    def _computed(self, terms: tuple[Term, ...]) -> list[tuple[str, ShownColumn]]:
        """Model columns of the terms, each after the last of its sources in table order; parts that are treated too."""
        view, study = self.session.view, self.session.study
        fit = view.fit if view else None
        if not terms or fit is None or view is None:
            return []
        order = {v.name: i for i, v in enumerate(table_order(study))}
        found: list[tuple[str, ShownColumn]] = []
        wanted = list(dict.fromkeys([t for term in terms for t in (*term.parts(), term)]))
        for term in wanted:
            treatment = view.study.model.treatment(term.variables[0])
            single = len(term.variables) == 1
            number = single and view.study.variable(term.variables[0]).kind is Kind.NUMBER
            if number and treatment == AS_IS:
                continue
            after = max(term.variables, key=lambda name: order[name])
            for j in fit.design.columns_of(term)[:MOST_BESIDE]:
                values = fit.design.column(fit.values, j)
                title = column_name(view.study, fit, j)
                if number:
                    title += f" {treatment_name(view.study, treatment)}"
                found.append((after, replace(self._shown_column(study, fit.cases.rows, values, title), term=term)))
        return found

    def _shown_column(self, study: Study, rows: IntArray, values: FloatArray, title: str) -> ShownColumn:
        whole = np.full(study.table.n_rows, np.nan)
        whole[rows] = values
        even = bool(np.all(values == np.round(values)))
        return ShownColumn(None, title, whole, 0 if even else min(4, place_decimals(float(values.std())) + 1))

    def first_source(self, term: Term) -> int | None:
        """The first column of the view that the term is made of."""
        places = [j for j, c in enumerate(self._shown) if c.variable in term.variables]
        return places[0] if places else None

    def last_of(self, term: Term) -> int | None:
        """The last column of the view that shows the term itself."""
        return next((j for j, c in reversed(list(enumerate(self._shown))) if c.term == term), None)

    def shown(self, column: int) -> ShownColumn:
        """The column of the view."""
        return self._shown[column]

    def place_of(self, name: str | None) -> int | None:
        """The column of the view that shows a variable."""
        return next((j for j, c in enumerate(self._shown) if c.variable == name), None) if name is not None else None

    def variable_at(self, column: int) -> str | None:
        """The variable that a column of the view shows."""
        return self._shown[column].variable if 0 <= column < len(self._shown) else None

    def width(self, column: int) -> int:
        """A width that fits title and values."""
        metrics, shown = QFontMetrics(font(12, "bold")), self._shown[column]
        around = 36 if shown.variable is not None else 17  # a variable's head has the glyph of its kind
        return min(210, max(76, metrics.horizontalAdvance(shown.title) + around, self._widest_level(shown)))

    def _widest_level(self, shown: ShownColumn) -> int:
        """The width that a group's levels need to be read; of many the first ones'."""
        study = self.session.study
        variable = study.variable(shown.variable) if shown.variable is not None else None
        if variable is None or variable.kind is not Kind.GROUP:
            return 0
        metrics = QFontMetrics(font(13))
        texts = [x.code if self.session.desk.codes else x.label for x in variable.levels[:MOST_MEASURED]]
        return max(map(metrics.horizontalAdvance, texts), default=0) + 12

    def gaps(self, column: int) -> float:
        """Share of cases without a value."""
        study, shown = self.session.study, self._shown[column]
        if shown.variable is None:
            return 0.0
        variable = study.variable(shown.variable)
        key = (variable, *(() if variable.name in study.table else (study.variables, study.derived)))
        if key not in self._gaps:
            here = study.columns.present(variable.name)
            self._gaps[key] = 1.0 - float(here.mean()) if here.size else 0.0
        return self._gaps[key]

    # ---- the model

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return self.session.study.table.n_rows if self.session.study and not parent.isValid() else 0

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return len(self._shown) if not parent.isValid() else 0

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        study = self.session.study
        if not index.isValid():
            return None
        shown, row = self._shown[index.column()], self.row_at(index.row())
        if role == Qt.ItemDataRole.DisplayRole:
            if shown.computed is not None:
                value = float(shown.computed[row])
                return "" if np.isnan(value) else fixed(value, shown.decimals)
            return self._text(row, shown.variable or "")
        if role == Qt.ItemDataRole.TextAlignmentRole:
            number = shown.computed is not None or study.variable(shown.variable or "").kind is Kind.NUMBER
            side = Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        return self._look(row, shown, role)

    def _look(self, row: int, shown: ShownColumn, role: int) -> Any:
        """Tint, ink, font and tooltip of a cell: gaps, strays and suspects are seen, cases that do not count are
        pale."""
        p = theme.palette()
        marks = self._marks_of(shown.variable) if shown.variable is not None else NOTHING
        stray = marks.strays.get(row)
        if role == Qt.ItemDataRole.BackgroundRole:
            study = self.session.study
            if shown.variable is not None and shown.variable not in study.table:
                return colour(blended(p.shade, p.panel, 0.22))
            if shown.computed is not None:
                return colour(blended(p.yellow, p.panel, 0.13))
            if row in self._lit():
                return colour(blended(p.yellow, p.panel, 0.45))
            if stray is not None or (marks.suspects and self._number_at(row, shown) in marks.suspects):
                return colour(blended(p.yellow, p.panel, 0.3))
        if role == Qt.ItemDataRole.ForegroundRole:
            if stray is not None:
                return colour(p.amber_ink)
            if row in self._aside or (self._outside is not None and self._outside[row]):
                return colour(p.faint_ink)
        if role == Qt.ItemDataRole.FontRole and row in self._aside:
            struck = font(13)
            struck.setStrikeOut(True)
            return struck
        if role == Qt.ItemDataRole.ToolTipRole:
            if stray is not None:
                return f"“{stray}” is not a number: it counts as missing until it is given a value"
            if marks.suspects and self._number_at(row, shown) in marks.suspects:
                return "Perhaps a code for missing"
            if row in self._aside:
                return f"Set aside: {self._aside[row]}"
        return None

    def _lit(self) -> frozenset[int]:
        """The rows that are lit at Checks."""
        lit = self.session.desk.lit
        if self._lit_rows[0] is not lit:
            self._lit_rows = lit, frozenset(lit)
        return self._lit_rows[1]

    def _number_at(self, row: int, shown: ShownColumn) -> float:
        study = self.session.study
        column = study.table.column(shown.variable or "")
        return float(column.numbers[row]) if isinstance(column, NumberColumn) else float("nan")

    def _marks_of(self, name: str) -> Marks:
        """What stands out in a column; looked for once, so that no painted cell costs more in a wide or long table."""
        if name not in self._marks:
            study = self.session.study
            variable = study.variable(name)
            column = study.table.column(name) if name in study.table else None
            labels = {code: level.label for level in variable.levels for code in level.codes}
            strays: dict[int, str] = {}
            apart: frozenset[float] = frozenset()
            if isinstance(column, NumberColumn) and variable.kind.enters:
                given = dict(variable.given)
                strays = {s.row: s.text for s in column.stray if s.text not in given}
            if isinstance(column, NumberColumn) and variable.kind is Kind.NUMBER:
                dismissed = {d.flag for d in study.dismissals if d.flag.kind is FlagKind.MISSING_CODE}
                apart = frozenset(
                    s.value
                    for s in suspects(column, variable.missing)
                    if not any(f.code == number_text(s.value) and name in f.about for f in dismissed)
                )
            self._marks[name] = Marks(labels, strays, apart)
        return self._marks[name]

    def _text(self, row: int, name: str) -> str:
        study = self.session.study
        variable = study.variable(name)
        if name not in study.table:
            return self._computed_text(study, variable, row)
        column = study.table.column(name)
        marks = self._marks_of(name)
        if isinstance(column, NumberColumn):
            if variable.kind is Kind.NUMBER:
                value = float(column.numbers[row])
                return marks.strays.get(row, GAP) if np.isnan(value) else fixed(value, self._decimals(column))
            code = number_text(float(column.numbers[row]))
        else:
            code = column.text(row)
        if not code:
            return marks.strays.get(row, GAP)
        if variable.kind is Kind.GROUP and not self.session.desk.codes and code in marks.labels:
            return marks.labels[code]
        return code.replace("-", MINUS) if isinstance(column, NumberColumn) else code

    def _computed_text(self, study: Study, variable: Variable, row: int) -> str:
        values = study.columns.numbers(variable.name)
        value = float(values[row])
        if np.isnan(value):
            return GAP
        if variable.kind is Kind.GROUP:
            code = number_text(value)
            return code if self.session.desk.codes else self._marks_of(variable.name).labels.get(code, code)
        return fixed(value, self._decimals(computed_column(variable.name, values)))

    def _decimals(self, column: NumberColumn) -> int:
        """Decimals that show the first values of a column of numbers as they were read, at most 6."""
        if column.name not in self._places:
            head = column.numbers[:MOST_LOOKED_AT]
            some = head[np.isfinite(head)]
            places = 0
            while places < 6 and np.any(np.abs(np.round(some, places) - some) > 1e-9 * (1 + np.abs(some))):
                places += 1
            self._places[column.name] = places
        return self._places[column.name]

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.DisplayRole:
            return (
                self._shown[section].title
                if orientation is Qt.Orientation.Horizontal
                else str(self.row_at(section) + 1)
            )
        if role == Qt.ItemDataRole.ToolTipRole and orientation is Qt.Orientation.Horizontal:
            shown = self._shown[section]
            if shown.computed is not None:
                return f"{shown.title}: computed for the model's cases, never stored in the table"
            return f"{shown.title} ({shown.variable}): {percent(self.gaps(section), 1)} without a value"
        return None


class ColumnHeads(QHeaderView):
    """Column heads with a mark for the kind and a thin bar of gaps."""

    def __init__(self, session: StudySession, grid: TableGrid, parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self.session, self.grid = session, grid
        self.setSectionsClickable(True)
        self.setAccessibleName("Column heads")
        self.setFixedHeight(36)

    def sizeHint(self) -> QSize:
        return QSize(100, 36)  # the table asks for the height alone; the width would be that of every head

    def paintSection(self, painter: QPainter | None, rect: QRect, logicalIndex: int) -> None:
        study = self.session.study
        if painter is None or logicalIndex >= self.grid.columnCount():
            return
        p, shown = theme.palette(), self.grid.shown(logicalIndex)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        desk = self.session.desk
        current = shown.variable is not None and shown.variable == desk.variable
        chosen = shown.variable is not None and Term((shown.variable,)) in desk.chosen
        ground = blended(p.yellow, p.paper, 0.25) if current or chosen or shown.computed is not None else p.paper
        painter.fillRect(rect, colour(ground))
        if chosen:
            painter.fillRect(QRect(rect.x(), rect.y(), rect.width(), 3), colour(p.yellow))
        painter.setPen(QPen(colour(p.line), 1))
        painter.drawLine(rect.topRight(), rect.bottomRight())
        painter.drawLine(rect.bottomLeft(), rect.bottomRight())
        left = rect.x() + 8
        painter.setPen(QPen(colour(p.ink), 1.3))
        if shown.variable is not None:
            variable = study.variable(shown.variable)
            paint_mark(painter, variable, left - 1, rect.y() + 8, variable.name not in study.table)
            share = self.grid.gaps(logicalIndex)
            bar = QRectF(left, rect.bottom() - 6, rect.width() - 16, 3)
            painter.fillRect(bar, colour(p.shade))
            if share > 0:
                gap = max(3.0, bar.width() * share)
                painter.fillRect(QRectF(bar.right() - gap, bar.y() - 1, gap, 5), colour(p.amber_ink))
        face = font(12, "bold")
        painter.setFont(face)
        indent = 18 if shown.variable is not None else 0
        room = rect.width() - 16 - indent
        sort = self.session.desk.sort
        if shown.variable is not None and sort is not None and sort[0] == shown.variable:
            room -= 12
            x, y, up = rect.right() - 14, rect.y() + 15, -1 if sort[1] else 1
            painter.setBrush(colour(p.ink))
            painter.drawPolygon(
                QPolygonF([QPointF(x - 4, y + 3 * up), QPointF(x + 4, y + 3 * up), QPointF(x, y - 4 * up)])
            )
        title = QFontMetrics(face).elidedText(shown.title, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(left + indent, rect.y() + 3, room, 24), Qt.AlignmentFlag.AlignVCenter, title)
        painter.restore()


def table_order(study: Study) -> list[Variable]:
    """The columns of the file in their order, each computed one after the last of its sources."""
    order = [v for v in study.variables if v.name in study.table]
    computed = {d.name for d in study.derived}
    for made in study.derived:
        sources = set(sources_of(made.expression))
        place = max((i for i, v in enumerate(order) if v.name in sources), default=len(order) - 1) + 1
        while place < len(order) and order[place].name in computed:
            place += 1
        order.insert(place, study.variable(made.name))
    return order
