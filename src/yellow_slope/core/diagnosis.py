"""Diagnosis of a step: residuals, leverage and what a normal distribution would expect."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import special
from scipy.linalg import solve_triangular

from yellow_slope.core.evaluate import Evaluation, Fit
from yellow_slope.core.numerals import bounded, fixed
from yellow_slope.core.table import FloatArray, IntArray


@dataclass(frozen=True, slots=True, eq=False)
class Diagnosis:
    """Per case of the model, each (n,)."""

    predicted: FloatArray
    residual: FloatArray
    leverage: FloatArray
    studentized: FloatArray
    """Internally studentized residuals; NaN where the leverage is 1."""
    normal: FloatArray
    """Normal quantile expected at each residual's rank (Blom's plotting positions)."""


def diagnose(fit: Fit, step: int) -> Diagnosis:
    """Residuals and leverages of a step."""
    result = fit.steps[step]
    predicted = fit.predicted(step)
    residual = fit.y - predicted
    m = result.rank - 1
    kept = fit.factored.kept[:m]
    unit = (fit.x[:, kept] - fit.factored.means[:m]) / fit.factored.lengths[:m]
    q = (
        solve_triangular(fit.factored.r[:m, :m], unit.T, trans="T", check_finite=False)
        if m
        else np.zeros((0, fit.y.size))
    )
    leverage = np.minimum(1.0, 1.0 / fit.y.size + np.einsum("ij,ij->j", q, q))
    with np.errstate(divide="ignore", invalid="ignore"):
        room = np.where(1.0 - leverage > 1e-12, 1.0 - leverage, np.nan)
        studentized = residual / np.sqrt(result.s2 * room)
    return Diagnosis(predicted, residual, leverage, studentized, normal_quantiles(studentized))


def normal_quantiles(values: FloatArray) -> FloatArray:
    """Shape (n,): the normal quantile at (rank - 3/8) / (n + 1/4) of each value."""
    order: IntArray = np.argsort(values, kind="stable")
    ranks = np.empty(values.size)
    ranks[order] = np.arange(1, values.size + 1)
    return np.asarray(special.ndtri((ranks - 0.375) / (values.size + 0.25)))


def residual_sentence(evaluation: Evaluation, found: Diagnosis) -> str:
    """The residuals in words: their spread, the largest one and its row, and who pulls most."""
    assert evaluation.fit is not None
    n = found.residual.size
    far = int(np.nanargmax(np.abs(found.studentized)))
    pull = int(np.argmax(found.leverage))
    rows = evaluation.sample.rows
    beyond = int(np.nansum(np.abs(found.studentized) > 3))
    return (
        f"Residuals have SD {fixed(float(found.residual.std(ddof=1)), 2)}. The largest studentized residual is "
        f"{fixed(float(found.studentized[far]), 2)}, in row {rows[far] + 1}; {beyond} of {n} lie beyond ±3. "
        f"The highest leverage is {bounded(float(found.leverage[pull]))}, in row {rows[pull] + 1} "
        f"(the average is {bounded(float(found.leverage.mean()))})."
    )


def running_median(x: FloatArray, y: FloatArray, parts: int = 9) -> tuple[FloatArray, FloatArray]:
    """Medians of y within parts of equal count along x: (centers, medians)."""
    order = np.argsort(x, kind="stable")
    pieces = [p for p in np.array_split(order, parts) if p.size]
    centers = np.array([float(np.median(x[p])) for p in pieces])
    return centers, np.array([float(np.nanmedian(y[p])) for p in pieces])
