"""Descriptives and correlations over the model's cases."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.scipylater import special
from yellow_slope.core.fit.solve.tails import t_p
from yellow_slope.core.study.model import Model
from yellow_slope.values import dataclass

MOST_DESCRIBED = 60
"""More columns than this are not described one by one: nobody could read them."""


SAME_LINE = 1.0 - 1e-12
"""A correlation of this size is 1 but for rounding."""


@dataclass(frozen=True, slots=True, eq=False)
class Described:
    """Columns described; mean, SD, least, most of each (k,); correlations and their p (k, k)."""

    columns: tuple[tuple[str, str | None], ...]
    """(variable, level code or None): a number, or the indicator of a level."""
    n: int
    mean: FloatArray
    sd: FloatArray
    low: FloatArray
    high: FloatArray
    r: FloatArray
    p: FloatArray


def described(fit: Fit, model: Model) -> Described | None:
    """Outcome, numbers and group indicators of the model; None where there are too many to read."""
    assert model.outcome is not None
    wanted: list[tuple[str, str | None]] = [(model.outcome, None)]
    for name, basis in fit.design.bases.items():
        if isinstance(basis, GroupBasis):
            out = (
                basis.reference
                if basis.reference is not None
                else (len(basis.levels) - 1 if len(basis.levels) == 2 else -1)
            )
            wanted += [(name, code) for i, code in enumerate(basis.levels) if i != out]
        else:
            wanted.append((name, None))
    if len(wanted) > MOST_DESCRIBED:
        return None
    columns: list[FloatArray] = [fit.y]
    for name, code in wanted[1:]:
        values, basis = fit.values[name], fit.design.bases[name]
        if isinstance(basis, GroupBasis):
            columns.append((values == basis.levels.index(code or "")).astype(np.float64))
        else:
            columns.append(np.asarray(values, dtype=np.float64))
    x = np.column_stack(columns)
    mean = x.mean(axis=0)
    return Described(
        tuple(wanted), x.shape[0], mean, x.std(axis=0, ddof=1), x.min(axis=0), x.max(axis=0), *correlations(x)
    )


def correlation_interval(r: FloatArray, n: int, level: float) -> tuple[FloatArray, FloatArray]:
    """Ends of the intervals of correlations, same shape, by Fisher's z; NaN with fewer than four cases, or where two
    columns are the same line."""
    if n < 4:
        return np.full_like(r, np.nan), np.full_like(r, np.nan)
    with np.errstate(divide="ignore", invalid="ignore"):
        z = np.where(np.abs(r) < SAME_LINE, np.arctanh(r), np.nan)
    half = float(special.ndtri(0.5 + level / 2.0)) / np.sqrt(n - 3.0)
    return np.tanh(z - half), np.tanh(z + half)


def correlations(x: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Correlations of the columns of x (n, k) and their two-sided p, each (k, k); NaN for a constant column.

    Of a column with itself, and of two that are the same line, r is 1 or −1 and there is no p.
    """
    n = x.shape[0]
    centered = x - x.mean(axis=0)
    lengths = np.sqrt(np.einsum("ij,ij->j", centered, centered))
    with np.errstate(divide="ignore", invalid="ignore"):
        unit = centered / lengths
        r = np.clip(unit.T @ unit, -1.0, 1.0)
        r[np.abs(r) >= SAME_LINE] = np.sign(r[np.abs(r) >= SAME_LINE])
        t = r * np.sqrt((n - 2) / (1.0 - r * r)) if n > 2 else np.full_like(r, np.nan)
    return r, np.where(np.abs(r) < 1.0, t_p(t, n - 2), np.nan)
