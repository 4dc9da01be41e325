"""β: coefficients with outcome and numbers standardized, products formed from the standardized parts.

(Friedrich 1982; Aiken & West 1991.) Where the standardized columns span the same space as the columns that were
fitted, β is a combination of b: no second factorization is needed, and its standard error comes from the same
inference.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy import linalg

from yellow_slope.core.arrays import BoolArray, FloatArray
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.design.design import Atom, Design
from yellow_slope.core.fit.fitted.inference import Inference
from yellow_slope.values import dataclass

LEVEL = 0.95
"""Of intervals that nobody reads: SE and p do not depend on it."""
MOST_SHIFTED = 10
"""Products of more shifted factors are fitted anew instead of multiplied out."""


@dataclass(frozen=True, slots=True, eq=False)
class Betas:
    """Coefficients, SE and p of a step with outcome and numbers standardized; constant first."""

    beta: FloatArray
    se: FloatArray
    p: FloatArray

    @classmethod
    def none(cls, size: int) -> Betas:
        """No β exists."""
        gone = np.full(size, np.nan)
        return cls(gone, gone, gone)

    def without(self, mask: BoolArray) -> Betas:
        """The same, but for those that do not exist."""
        return Betas(*(np.where(mask, np.nan, values) for values in (self.beta, self.se, self.p)))

    @classmethod
    def of(cls, inference: Inference, rows: FloatArray | None = None, level: float = 0.0, sd: float = 1.0) -> Betas:
        """β of combinations of an inference's coefficients (default: the coefficients themselves), minus level, over
        sd."""
        if rows is None:
            rows = np.eye(inference.solution.size)
        beta = rows @ inference.solution
        beta[0] -= level
        gone = ~inference.estimable(rows) | ~np.any(np.abs(rows @ inference.root) > 0, axis=1)
        beta[gone] = np.nan
        found = inference.estimates(rows, LEVEL)
        se, p = np.where(gone, np.nan, found.se), np.where(gone, np.nan, found.p)
        p[0] = np.nan
        return cls(beta / sd, se / sd, p)


def betas_of(design: Design, inferences: Sequence[Inference], y_mean: float, y_sd: float) -> tuple[Betas, ...] | None:
    """β of every step by a change of basis; None where the standardized model is another fit."""
    change = _change_of_basis(design)
    if change is None:
        return None
    if not y_sd > 0:
        return tuple(Betas.none(end + 1) for end in design.ends)
    out: list[Betas] = []
    for end, inference in zip(design.ends, inferences):
        here = change[: end + 1, : end + 1]
        diagonal = np.diag(here)
        is_plain = np.count_nonzero(here) == np.count_nonzero(diagonal)
        rows = np.diag(1.0 / diagonal) if is_plain else _inverse(here)
        out.append(Betas.of(inference, rows, y_mean if design.constant else 0.0, y_sd))
    return tuple(out)


def _inverse(change: FloatArray) -> FloatArray:
    """The inverse of a change of basis; parts mostly come before what is made of them."""
    if np.array_equal(change, np.triu(change)):
        return np.asarray(linalg.solve_triangular(change, np.eye(len(change)), check_finite=False), dtype=np.float64)
    return np.asarray(np.linalg.inv(change), dtype=np.float64)


def _change_of_basis(design: Design) -> FloatArray | None:
    """Shape (1 + columns, 1 + columns): each standardized column as a sum of the fitted ones, the constant first.

    None where a part that the sum needs is not in the model, or enters later.
    """
    where = {tuple(sorted(column.atoms, key=_order)): j for j, column in enumerate(design.columns)}
    out = np.zeros((1 + len(design.columns), 1 + len(design.columns)))
    out[0, 0] = 1.0
    for j, column in enumerate(design.columns):
        sums: dict[tuple[Atom, ...], float] = {(): 1.0}
        shifted = 0
        for atom in sorted(column.atoms, key=_order):
            basis = design.bases[atom.variable]
            if not isinstance(basis, NumberBasis):
                sums = {(*atoms, atom): weight for atoms, weight in sums.items()}
                continue
            sd = basis.axis_sd or 1.0
            factor, shift = basis.scale / sd, (basis.center - basis.axis_mean) / sd
            grown = {(*atoms, atom): weight * factor for atoms, weight in sums.items()}
            if shift != 0:
                shifted += 1
                if shifted > MOST_SHIFTED:
                    return None
                for atoms, weight in sums.items():
                    grown[atoms] = grown.get(atoms, 0.0) + weight * shift
            sums = grown
        for atoms, weight in sums.items():
            if not atoms:
                if not design.constant and weight != 0:
                    return None
                out[0, j + 1] = weight
                continue
            part = where.get(tuple(sorted(atoms, key=_order)))
            if part is None or design.columns[part].step > column.step:
                return None
            out[part + 1, j + 1] = weight
    return out


def _order(atom: Atom) -> tuple[str, int]:
    return atom.variable, -1 if atom.comparison is None else atom.comparison
