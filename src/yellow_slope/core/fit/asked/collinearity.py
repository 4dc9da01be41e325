"""Collinearity of a step: generalized variance inflation of sets, condition indices with variance proportions."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.terms import Term


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
    r = fit.factored.r[:m, :m]

    def log_det(columns: FloatArray) -> float:
        return 2.0 * float(np.sum(np.log(np.abs(np.diag(np.linalg.qr(columns, mode="r"))))))

    rest = log_det(r[:, ~own]) if (~own).any() else 0.0
    return float(np.exp(log_det(r[:, own]) + rest - 2.0 * np.sum(np.log(np.abs(np.diag(r))))))


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
    end = fit.steps[step].n_columns
    factored = fit.factored
    m = factored.size(end)
    n = factored.n
    r = factored.r[:m, :m] * factored.lengths[:m]
    whole = np.zeros((m + 1, m + 1))
    whole[1:, 1:] = r
    if factored.constant:
        whole[0, 0], whole[0, 1:] = np.sqrt(n), np.sqrt(n) * factored.means[:m]
    else:
        whole = whole[1:, 1:]
    lengths = np.sqrt(np.einsum("ij,ij->j", whole, whole))
    _, s, v = np.linalg.svd(whole / lengths)
    parts = (v / s[:, None]) ** 2
    return Conditions(s[0] / s, parts / parts.sum(axis=0), factored.kept[:m])
