"""The ladder's sheet as plain values: rows, what stands in them, what is to come, and the common axis."""

from __future__ import annotations

from enum import Enum, auto
from typing import assert_never

import numpy as np

from yellow_slope.app.state.desk import Cell
from yellow_slope.app.state.view import View
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.asked.lowtohigh import low_to_high
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags import Flag
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.groups import against
from yellow_slope.core.words.names.terms import INTERCEPT, column_name, label, short_column_name
from yellow_slope.core.words.sentences.nointercept import no_intercept_row
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.values import dataclass, field, replace, settle


class RowKind(Enum):
    """What a row of the sheet shows."""

    BLOCK = auto()
    TERM = auto()
    HEAD = auto()
    """A term of several columns, which follow."""
    COMPARISON = auto()
    """One of several columns of a term."""
    CONSTANT = auto()


class RowChange(Enum):
    """What a typed line would do to a row."""

    COMES = auto()
    LEAVES = auto()

    @property
    def word(self) -> str:
        """What stands behind the row's name."""
        match self:
            case RowChange.COMES:
                return "comes"
            case RowChange.LEAVES:
                return "leaves"
            case _:
                assert_never(self)


@dataclass(frozen=True, slots=True)
class Row:
    """One row of the sheet."""

    kind: RowKind
    cell: Cell
    text: str
    whole: str
    """The text with all that it belongs to, for the tooltip."""
    block: int
    flags: tuple[FlagKey, ...] = ()
    step: int | None = 0
    """The step from which on it is entered; None while its block is off, or once it has left."""
    change: RowChange | None = None
    """What a typed line would do to it."""
    is_unnamed: bool = False
    """A block that nobody has given a name."""

    @property
    def is_of_a_term(self) -> bool:
        """Whether it stands for a term, or for the head of its columns."""
        return self.cell.term is not None and self.kind is not RowKind.COMPARISON


@dataclass(frozen=True, slots=True, eq=False)
class Sheet:
    """Rows in order; `scale` turns b of each column into the change from low to high."""

    rows: tuple[Row, ...]
    scale: FloatArray
    """Shape (columns,)."""
    limit: float
    """The common axis runs from -limit to limit, in outcome units."""
    _by_cell: dict[Cell, int] = field(init=False, repr=False)
    _by_term: dict[Term, int] = field(init=False, repr=False)

    def __post_init__(self) -> None:
        by_cell: dict[Cell, int] = {}
        by_term: dict[Term, int] = {}
        for index, row in enumerate(self.rows):
            by_cell.setdefault(row.cell, index)
            if row.cell.term is not None:
                by_term.setdefault(row.cell.term, index)
        settle(self, "_by_cell", by_cell)
        settle(self, "_by_term", by_term)

    def row_of(self, cell: Cell | None) -> int | None:
        """Index of the row that shows the cell."""
        if cell is None:
            return None
        found = self._by_cell.get(cell)
        return found if found is not None or cell.term is None else self._by_term.get(cell.term)


MOST_ROWS = 40
"""Of a term with more columns only the head is shown."""


def sheet_of(study: Study, view: View | None) -> Sheet:
    """The sheet of a study; without a fit its structure alone."""
    fit = view.fit if view is not None else None
    return _sheet(study, fit, _rows(study, fit, view.flags if view is not None else ()))


def coming_sheet(now: Study, coming: Study, fit: Fit | None) -> Sheet:
    """The sheet that a typed line describes, with what leaves the present one still in its place."""
    there = set(now.model.terms)
    rows = [replace(row, change=RowChange.COMES) if _is_new(row, there) else row for row in _rows(coming, fit, ())]
    known = {block.id for block in now.model.blocks}
    ids = [block.id for block in coming.model.blocks]
    rows = [
        replace(row, change=RowChange.COMES) if row.kind is RowKind.BLOCK and ids[row.block] not in known else row
        for row in rows
    ]
    staying = set(coming.model.terms)
    for index, block in enumerate(now.model.blocks):
        gone = [term for term in block.terms if term not in staying]
        if not gone:
            continue
        at = _end_of(rows, ids.index(block.id)) if block.id in ids else _after(rows, ids, now, index)
        leaving = [_leaving(now, term, index) for term in gone]
        if block.id not in ids:
            leaving.insert(
                0, Row(RowKind.BLOCK, Cell(block=index), block.name, block.name, index, (), None, RowChange.LEAVES)
            )
        rows[at:at] = leaving
    return _sheet(coming, fit, rows)


def _sheet(study: Study, fit: Fit | None, rows: list[Row]) -> Sheet:
    scale = low_to_high(fit) if fit else np.zeros(0)
    return Sheet(tuple(rows), scale, _limit(fit, scale) if fit else 1.0)


def _is_new(row: Row, there: set[Term]) -> bool:
    return row.cell.term is not None and row.cell.term not in there


def _leaving(now: Study, term: Term, block: int) -> Row:
    text = label(now, term)
    return Row(RowKind.TERM, Cell(block, term), text, text, block, (), None, RowChange.LEAVES)


def _end_of(rows: list[Row], block: int) -> int:
    """Behind the last row of a block."""
    return max(
        (i + 1 for i, row in enumerate(rows) if row.block == block and row.kind is not RowKind.CONSTANT), default=0
    )


def _after(rows: list[Row], ids: list[str], now: Study, index: int) -> int:
    """Where a block that goes whole stood: behind the last block before it that stays."""
    for earlier in reversed(now.model.blocks[:index]):
        if earlier.id in ids:
            return _end_of(rows, ids.index(earlier.id))
    return 0


def _rows(study: Study, fit: Fit | None, flags: tuple[Flag, ...]) -> list[Row]:
    rows: list[Row] = []
    model = study.model
    by_term, by_variable = _keys(flags)
    for index, block in enumerate(model.blocks):
        step = model.step_index(block.id) if block.on else None
        name = (block.name or "name this block") + ("" if block.on else " (off)")
        rows.append(Row(RowKind.BLOCK, Cell(block=index), name, name, index, (), step, is_unnamed=not block.name))
        for term in block.terms:
            shown = fit if step is not None else None
            keys = by_term.get(term, ())
            if len(term.variables) == 1:
                keys = (*keys, *by_variable.get(term.variables[0], ()))
            rows.extend(replace(row, step=step) for row in _term_rows(study, shown, term, index, keys))
    if model.blocks:
        last, title = len(model.blocks) - 1, INTERCEPT if model.constant else no_intercept_row(study, fit)
        keys = tuple(flag.key for flag in flags if flag.key.kind is FlagKind.NO_INTERCEPT)
        rows.append(Row(RowKind.CONSTANT, Cell(column=-1), title, title, last, keys, 0))
    return rows


def _keys(flags: tuple[Flag, ...]) -> tuple[dict[Term, tuple[FlagKey, ...]], dict[str, tuple[FlagKey, ...]]]:
    """Flags by their term, and for single variables those of the variable."""
    by_term: dict[Term, tuple[FlagKey, ...]] = {}
    by_variable: dict[str, tuple[FlagKey, ...]] = {}
    for flag in flags:
        if flag.term is not None:
            by_term[flag.term] = (*by_term.get(flag.term, ()), flag.key)
        if flag.variable is not None:
            by_variable[flag.variable] = (*by_variable.get(flag.variable, ()), flag.key)
    return by_term, by_variable


def _term_rows(study: Study, fit: Fit | None, term: Term, block: int, flags: tuple[FlagKey, ...]) -> list[Row]:
    columns = fit.design.columns_of(term) if fit else ()
    if fit is None or not columns:
        whole = label(study, term)
        return [Row(RowKind.TERM, Cell(block=block, term=term), whole, whole, block, flags)]
    if len(columns) == 1:
        title = column_name(study, fit, columns[0])
        return [Row(RowKind.TERM, Cell(block, term, columns[0]), title, title, block, flags)]
    bases = [b for n in dict.fromkeys(term.variables) if isinstance(b := fit.design.bases[n], GroupBasis)]
    whole, asked = label(study, term), ", ".join(against(study, basis) for basis in bases)
    if len(columns) > MOST_ROWS:
        asked += f" ({counted(len(columns), 'column')}, not listed)"
    rows = [Row(RowKind.HEAD, Cell(block, term), f"{whole}, {asked}", f"{whole}, {asked}", block, flags)]
    for column in columns if len(columns) <= MOST_ROWS else ():
        name = short_column_name(study, fit, column)
        rows.append(Row(RowKind.COMPARISON, Cell(block, term, column), name, column_name(study, fit, column), block))
    return rows


def _limit(fit: Fit, scale: FloatArray) -> float:
    """Wide enough for nine tenths of the interval ends of every step."""
    widest = 0.0
    for step in fit.steps:
        f = scale[: step.n_columns]
        ends = np.concatenate([step.low[1:] * f, step.high[1:] * f])
        reach = np.abs(ends[np.isfinite(ends)])
        if reach.size:
            widest = max(widest, float(np.quantile(reach, 0.9)))
    return widest * 1.08 or 1.0
