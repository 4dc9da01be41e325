"""Collinearity of a step: generalized variance inflation of sets, condition indices with variance proportions."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.scipylater import linalg
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass


def generalized_vif(fit: Fit, step: int, term: Term) -> float:
    """|R₁₁||R₂₂| / |R| for the term's columns, from the correlations without the constant (Fox & Monette 1992).

    NaN where the term has no column that is estimated.
    """
    end = fit.steps[step].n_columns
    m = fit.factored.size(end)
    kept = fit.factored.kept[:m]
    own = np.isin(kept, fit.design.columns_of(term))
    if not own.any():
        return float("nan")
    r, unit = fit.factored.r[:m, :m], np.eye(m)[:, own]
    # |R| / |R₂₂| is one over the determinant of R⁻¹ at the term's columns, of which R⁻¹ = r⁻¹r⁻ᵀ needs its rows alone.
    rows = linalg.solve_triangular(r, unit, trans="T", check_finite=False)
    return float(np.exp(_log_det(r[:, own]) + _log_det(rows)))


def _log_det(columns: FloatArray) -> float:
    """Of the products of columns with each other."""
    return 2.0 * float(np.sum(np.log(np.abs(np.diag(np.linalg.qr(columns, mode="r"))))))


@dataclass(frozen=True, slots=True, eq=False)
class Conditions:
    """Condition indices (k,), rising, and the share of each coefficient's variance (k, columns) that goes with each.

    Columns: the constant first (if the model has one), then the kept columns of the step (positions in `kept`).
    """

    indices: FloatArray
    shares: FloatArray
    kept: IntArray


def conditions(fit: Fit, step: int) -> Conditions:
    """Of the columns scaled to unit length, the constant among them, not centered (Belsley, Kuh & Welsch 1980)."""
    _, s, v = np.linalg.svd(_scaled(fit, step))
    parts = (v / s[:, None]) ** 2
    m = fit.factored.size(fit.steps[step].n_columns)
    return Conditions(s[0] / s, parts / parts.sum(axis=0), fit.factored.kept[:m])


def largest_index(fit: Fit, step: int) -> float:
    """The largest condition index alone."""
    s = np.linalg.svd(_scaled(fit, step), compute_uv=False)
    return float(s[0] / s[-1])


def _scaled(fit: Fit, step: int) -> FloatArray:
    """A triangle of the columns at unit length, the constant first if the model has one."""
    factored = fit.factored
    m = factored.size(fit.steps[step].n_columns)
    r = factored.r[:m, :m] * factored.lengths[:m]
    whole = np.zeros((m + 1, m + 1))
    whole[1:, 1:] = r
    if factored.constant:
        whole[0, 0], whole[0, 1:] = np.sqrt(factored.n), np.sqrt(factored.n) * factored.means[:m]
    else:
        whole = whole[1:, 1:]
    return np.asarray(whole / np.sqrt(np.einsum("ij,ij->j", whole, whole)))
