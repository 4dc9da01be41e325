"""The table for the view: cells made when they are looked at, so that a million cells cost nothing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPen
from PyQt6.QtWidgets import QHeaderView, QWidget

from yellow_slope.app import theme
from yellow_slope.app.session import StudySession
from yellow_slope.app.theme import colour, font
from yellow_slope.core.numerals import MINUS, fixed, place_decimals
from yellow_slope.core.table import Column, FloatArray, number_text
from yellow_slope.core.terms import Term
from yellow_slope.core.variable import Kind, Treatment, present_values
from yellow_slope.looks import blended


@dataclass(frozen=True, slots=True)
class Shown:
    """One column of the view: a variable, or a computed column beside it."""

    variable: str | None
    title: str
    computed: FloatArray | None = None
    """Shape (rows,), NaN where the case does not count."""
    decimals: int = 2


class TableGrid(QAbstractTableModel):
    """Read only."""

    def __init__(self, session: StudySession) -> None:
        super().__init__()
        self.session = session
        self._shown: list[Shown] = []
        self._key: object = None
        self._gaps: dict[tuple[int, object], float] = {}
        self._places: dict[int, int] = {}

    def renew(self) -> None:
        """Take the newest study, and the computed columns that are wanted."""
        study, results, desk = self.session.study, self.session.results, self.session.desk
        beside = desk.beside if results is not None else ()
        key = (
            id(study.table) if study else 0,
            study.variables if study else (),
            beside,
            id(results) if beside else 0,
            desk.codes,
        )
        if key == self._key:
            return
        self._key = key
        self.beginResetModel()
        self._shown = []
        if study is not None:
            columns = self._computed(beside)
            for variable in study.variables:
                self._shown.append(Shown(variable.name, variable.label))
                self._shown.extend(c for after, c in columns if after == variable.name)
        self.endResetModel()

    def _computed(self, terms: tuple[Term, ...]) -> list[tuple[str, Shown]]:
        """Model columns of the terms, each after the last of its sources in table order; parts that are treated too."""
        results, study = self.session.results, self.session.study
        fit = results.evaluation.fit if results else None
        read = results.reader if results else None
        if fit is None or results is None or study is None or read is None:
            return []
        order = {v.name: i for i, v in enumerate(study.variables)}
        found: list[tuple[str, Shown]] = []
        wanted = list(dict.fromkeys([t for term in terms for t in (*term.parts(), term)]))
        for term in wanted:
            if len(term.variables) == 1:
                variable = study.variable(term.variables[0])
                if variable.kind is Kind.NUMBER and variable.treatment is Treatment.AS_IS:
                    continue
            for j in fit.design.columns_of(term):
                values = np.full(study.table.n_rows, np.nan)
                values[results.evaluation.sample.rows] = fit.x[:, j]
                title = read.term_name(j)
                if len(term.variables) == 1 and fit.design.columns[j].atoms[0].comparison is None:
                    title += f" {study.variable(term.variables[0]).treatment}"
                sd = float(fit.x[:, j].std())
                whole = bool(np.all(fit.x[:, j] == np.round(fit.x[:, j])))
                after = max(term.variables, key=lambda name: order[name])
                found.append((after, Shown(None, title, values, 0 if whole else min(4, place_decimals(sd) + 1))))
        return found

    def first_source(self, term: Term) -> int | None:
        """The first column of the view that the term is made of."""
        places = [j for j, c in enumerate(self._shown) if c.variable in term.variables]
        return places[0] if places else None

    def shown(self, column: int) -> Shown:
        """The column of the view."""
        return self._shown[column]

    def variable_at(self, column: int) -> str | None:
        """The variable that a column of the view shows."""
        return self._shown[column].variable if 0 <= column < len(self._shown) else None

    def width(self, column: int) -> int:
        """A width that fits title and values."""
        metrics = QFontMetrics(font(12, "bold"))
        return min(210, max(86, metrics.horizontalAdvance(self._shown[column].title) + 44))

    def gaps(self, column: int) -> float:
        """Share of cases without a value."""
        study, shown = self.session.study, self._shown[column]
        if study is None or shown.variable is None:
            return 0.0
        variable = study.variable(shown.variable)
        key = (id(study.table), (variable.name, variable.missing))
        if key not in self._gaps:
            self._gaps[key] = 1.0 - float(present_values(study.table.column(variable.name), variable).mean())
        return self._gaps[key]

    # ---- the model

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return self.session.study.table.n_rows if self.session.study and not parent.isValid() else 0

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(self._shown) if not parent.isValid() else 0

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        study = self.session.study
        if study is None or not index.isValid():
            return None
        shown = self._shown[index.column()]
        if role == Qt.ItemDataRole.DisplayRole:
            if shown.computed is not None:
                value = float(shown.computed[index.row()])
                return "" if np.isnan(value) else fixed(value, shown.decimals)
            return self._text(index.row(), shown.variable or "")
        if role == Qt.ItemDataRole.TextAlignmentRole:
            number = shown.computed is not None or study.variable(shown.variable or "").kind is Kind.NUMBER
            side = Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        p = theme.palette()
        if role == Qt.ItemDataRole.BackgroundRole and shown.computed is not None:
            return colour(blended(p.yellow, p.panel, 0.13))
        return None

    def _text(self, row: int, name: str) -> str:
        study = self.session.study
        assert study is not None
        variable, column = study.variable(name), study.table.column(name)
        if column.numbers is not None:
            value = float(column.numbers[row])
            if variable.kind is Kind.NUMBER:
                return "" if np.isnan(value) else fixed(value, self._decimals(column))
            code = number_text(value)
        else:
            code = column.text(row)
        if variable.kind is Kind.GROUP and not self.session.desk.codes:
            for level in variable.levels:
                if level.code == code:
                    return level.label
        return code.replace("-", MINUS) if column.numbers is not None else code

    def _decimals(self, column: Column) -> int:
        """Decimals that show every value of a column of numbers as it was read, at most 6."""
        key = id(column)
        if key not in self._places:
            numbers = column.numbers if column.numbers is not None else np.zeros(0)
            some = numbers[np.isfinite(numbers)][:20000]
            places = 0
            while places < 6 and np.any(np.abs(np.round(some, places) - some) > 1e-9 * (1 + np.abs(some))):
                places += 1
            self._places[key] = places
        return self._places[key]

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.DisplayRole:
            return self._shown[section].title if orientation is Qt.Orientation.Horizontal else str(section + 1)
        if role == Qt.ItemDataRole.ToolTipRole and orientation is Qt.Orientation.Horizontal:
            shown = self._shown[section]
            if shown.computed is not None:
                return f"{shown.title}: computed for the model's cases, never stored in the table"
            return f"{shown.title} ({shown.variable}): {100 * self.gaps(section):.1f} percent without a value"
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
        return QSize(super().sizeHint().width(), 36)

    def paintSection(self, painter: QPainter | None, rect: QRect, logicalIndex: int) -> None:
        study = self.session.study
        if painter is None or study is None or logicalIndex >= self.grid.columnCount():
            return
        p, shown = theme.palette(), self.grid.shown(logicalIndex)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        current = shown.variable is not None and shown.variable == self.session.desk.variable
        ground = blended(p.yellow, p.paper, 0.25) if current or shown.computed is not None else p.paper
        painter.fillRect(rect, colour(ground))
        painter.setPen(QPen(colour(p.line), 1))
        painter.drawLine(rect.topRight(), rect.bottomRight())
        painter.drawLine(rect.bottomLeft(), rect.bottomRight())
        left = rect.x() + 8
        painter.setPen(QPen(colour(p.ink), 1.3))
        if shown.variable is not None:
            variable = study.variable(shown.variable)
            if variable.kind is Kind.NUMBER:
                painter.drawLine(QPointF(left, rect.y() + 19), QPointF(left + 11, rect.y() + 11))
            elif variable.kind is Kind.GROUP:
                painter.drawRoundedRect(QRectF(left - 1, rect.y() + 8, 14, 14), 3, 3)
                painter.setFont(font(10))
                painter.drawText(
                    QRectF(left - 1, rect.y() + 8, 14, 14), Qt.AlignmentFlag.AlignCenter, str(len(variable.levels))
                )
            share = self.grid.gaps(logicalIndex)
            bar = QRectF(left, rect.bottom() - 6, rect.width() - 16, 3)
            painter.fillRect(bar, colour(p.shade))
            if share > 0:
                gap = max(3.0, bar.width() * share)
                painter.fillRect(QRectF(bar.right() - gap, bar.y() - 1, gap, 5), colour(p.amber_ink))
        face = font(12, "bold")
        painter.setFont(face)
        room = rect.width() - 34
        title = QFontMetrics(face).elidedText(shown.title, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(left + 18, rect.y() + 3, room, 24), Qt.AlignmentFlag.AlignVCenter, title)
        painter.restore()
