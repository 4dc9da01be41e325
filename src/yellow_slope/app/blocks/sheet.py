"""The ladder's sheet as plain values: rows, what stands in them, and the common axis."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from yellow_slope.app.desk import Cell
from yellow_slope.app.view import View
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.evaluate import Fit
from yellow_slope.core.flags import Flag
from yellow_slope.core.study.study import FlagKey, Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names import INTERCEPT, against, column_name, label, short_column_name, short_label
from yellow_slope.core.words.numerals import counted

HEAD = 58
"""Pixels of the steps' heads; the other widths below are pixels too."""
AXIS, WIDEST_AXIS = 118, 210
NAMES = 300
"""What the names get before the axis grows."""
FIGURES = (("b", 62), ("CI", 126), ("β", 48), ("p", 60), ("VIF", 48))
OPEN_FIGURES = sum(width for _, width in FIGURES)
CLOSED = 104


@dataclass(frozen=True, slots=True)
class Row:
    """One row of the sheet. Kinds: block, term, head (of several columns), comparison, constant."""

    kind: str
    cell: Cell
    text: str
    whole: str
    """The text unshortened, for the tooltip."""
    block: int
    flags: tuple[FlagKey, ...] = ()
    step: int | None = 0
    """The step from which on it is entered; None while its block is off."""


@dataclass(frozen=True, slots=True)
class StepColumn:
    """Where a step stands across."""

    step: int
    x: int
    axis: int
    """Width of the interval part."""
    is_open: bool

    @property
    def width(self) -> int:
        """Whole width."""
        return self.axis + (OPEN_FIGURES if self.is_open else 0)


@dataclass(frozen=True, slots=True, eq=False)
class Sheet:
    """Rows in order; `scale` turns b of each column into the change from low to high."""

    rows: tuple[Row, ...]
    scale: FloatArray
    """Shape (columns,)."""
    limit: float
    """The common axis runs from -limit to limit, in outcome units."""

    def row_of(self, cell: Cell | None) -> int | None:
        """Index of the row that shows the cell."""
        for index, row in enumerate(self.rows):
            if cell is not None and row.cell == cell:
                return index
        if cell is not None and cell.term is not None:
            for index, row in enumerate(self.rows):
                if row.cell.term == cell.term:
                    return index
        return None


MOST_ROWS = 40
"""Of a term with more columns only the head is shown."""


def sheet_of(study: Study, view: View | None) -> Sheet:
    """The sheet of a study; without a fit its structure alone."""
    fit = view.fit if view is not None else None
    flags = view.flags if view is not None else ()
    rows: list[Row] = []
    model = study.model
    for index, block in enumerate(model.blocks):
        step = model.step_index(block.id) if block.on else None
        name = (block.name or "name this block") + ("" if block.on else " (off)")
        rows.append(Row("block", Cell(block=index), name, name, index, (), step))
        for term in block.terms:
            shown = fit if step is not None else None
            rows.extend(replace(row, step=step) for row in _term_rows(study, shown, term, index, _keys(flags, term)))
    if model.blocks and model.constant:
        last = len(model.blocks) - 1
        rows.append(Row("constant", Cell(column=-1), INTERCEPT, INTERCEPT, last, (), 0))
    scale = low_to_high(fit) if fit else np.zeros(0)
    return Sheet(tuple(rows), scale, _limit(fit, scale) if fit else 1.0)


def _keys(flags: tuple[Flag, ...], term: Term) -> tuple[FlagKey, ...]:
    """Flags of the term itself, and for a single variable those of the variable."""
    own = [f.key for f in flags if f.term == term]
    if len(term.variables) == 1:
        own += [f.key for f in flags if f.variable == term.variables[0]]
    return tuple(own)


def _term_rows(study: Study, fit: Fit | None, term: Term, block: int, flags: tuple[FlagKey, ...]) -> list[Row]:
    whole, short = label(study, term), short_label(study, term)
    columns = fit.design.columns_of(term) if fit else ()
    if fit is None or not columns:
        return [Row("term", Cell(block=block, term=term), short, whole, block, flags)]
    if len(columns) == 1:
        title = column_name(study, fit, columns[0])
        return [Row("term", Cell(block, term, columns[0]), short + title[len(whole) :], title, block, flags)]
    bases = [b for n in dict.fromkeys(term.variables) if isinstance(b := fit.design.bases[n], GroupBasis)]
    asked = ", ".join(against(study, basis) for basis in bases)
    if len(columns) > MOST_ROWS:
        asked += f" ({counted(len(columns), 'column')}, not listed)"
    rows = [Row("head", Cell(block, term), f"{short}, {asked}", f"{whole}, {asked}", block, flags)]
    for column in columns if len(columns) <= MOST_ROWS else ():
        name = short_column_name(study, fit, column)
        rows.append(Row("comparison", Cell(block, term, column), name, column_name(study, fit, column), block))
    return rows


def low_to_high(fit: Fit) -> FloatArray:
    """Shape (columns,): 2 SD for a number, 1 for a comparison, multiplied for a product (Gelman 2008)."""
    factors = np.ones(len(fit.design.columns))
    for j, column in enumerate(fit.design.columns):
        for atom in column.atoms:
            basis = fit.design.bases[atom.variable]
            if isinstance(basis, NumberBasis):
                factors[j] *= 2 * basis.axis_sd / basis.scale
    return factors


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


def tick(limit: float) -> float:
    """A round number at which an axis from -limit to limit is marked on either side."""
    if not limit > 0:
        return 1.0
    power = 10.0 ** np.floor(np.log10(limit))
    for step in (5.0, 2.0, 1.0, 0.5):
        if step * power <= 0.75 * limit:
            return float(step * power)
    return float(0.5 * power)
