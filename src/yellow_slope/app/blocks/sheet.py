"""The ladder's sheet as plain values: rows, what stands in them, and the common axis."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yellow_slope.app.desk import Cell
from yellow_slope.app.session import Results
from yellow_slope.core.design import NumberBasis
from yellow_slope.core.evaluate import Fit
from yellow_slope.core.flags import Flag
from yellow_slope.core.study import Study
from yellow_slope.core.table import FloatArray
from yellow_slope.core.terms import Term

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
    flags: tuple[str, ...] = ()


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


def sheet_of(study: Study, results: Results | None) -> Sheet:
    """The sheet of a study; without a fit its structure alone."""
    fit = results.evaluation.fit if results is not None else None
    flags = results.flags if results is not None else ()
    rows: list[Row] = []
    for index, block in enumerate(study.blocks):
        name = block.name or "name this block"
        rows.append(Row("block", Cell(block=index), name, name, index))
        for term in block.terms:
            rows.extend(_term_rows(study, results, fit, term, index, _keys(flags, term)))
    if study.blocks:
        text = "level at the zero points (constant)"
        rows.append(Row("constant", Cell(column=-1), text, text, len(study.blocks) - 1))
    scale = low_to_high(fit) if fit else np.zeros(0)
    return Sheet(tuple(rows), scale, _limit(fit, scale) if fit else 1.0)


def _keys(flags: tuple[Flag, ...], term: Term) -> tuple[str, ...]:
    """Flags of the term itself, and for a single variable those of the variable."""
    own = [f.key for f in flags if f.term == term]
    if len(term.variables) == 1:
        own += [f.key for f in flags if f.variable == term.variables[0]]
    return tuple(own)


def _term_rows(
    study: Study, results: Results | None, fit: Fit | None, term: Term, block: int, flags: tuple[str, ...]
) -> list[Row]:
    label = study.label(term)
    short = " × ".join(study.variable(name).short for name in term.variables)
    columns = fit.design.columns_of(term) if fit else ()
    read = results.reader if results else None
    if read is None or fit is None or not columns:
        return [Row("term", Cell(block=block, term=term), short, label, block, flags)]
    if len(columns) == 1:
        title = read.term_name(columns[0])
        compared = title[len(label) :]
        return [Row("term", Cell(block, term, columns[0]), short + compared, title, block, flags)]
    groups = [n for n in term.variables if not isinstance(fit.design.bases[n], NumberBasis)]
    references = ", ".join(fit.design.group(n).levels[fit.design.group(n).reference].label for n in groups)
    rows = [
        Row("head", Cell(block, term), f"{short}, each vs {references}", f"{label}, each vs {references}", block, flags)
    ]
    for column in columns:
        name = read.comparison_name(column, short=True)
        rows.append(Row("comparison", Cell(block, term, column), name, read.term_name(column), block))
    return rows


def low_to_high(fit: Fit) -> FloatArray:
    """Shape (columns,): 2 SD for a number, 1 for a comparison, multiplied for a product (Gelman 2008)."""
    factors = np.ones(len(fit.design.columns))
    for j, column in enumerate(fit.design.columns):
        for atom in column.atoms:
            basis = fit.design.bases[atom.variable]
            if isinstance(basis, NumberBasis):
                factors[j] *= 2 * basis.sd / basis.scale
    return factors


def _limit(fit: Fit, scale: FloatArray) -> float:
    """Wide enough for nine tenths of the interval ends of every step."""
    widest = 0.0
    for step in fit.steps:
        f = scale[: step.n_columns]
        ends = np.concatenate([(step.b[1:] - step.half_width[1:]) * f, (step.b[1:] + step.half_width[1:]) * f])
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
