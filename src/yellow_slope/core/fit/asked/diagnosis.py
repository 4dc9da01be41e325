"""Diagnosis of a step: residuals, leverage, influence, distance, and what a normal distribution would expect."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.design.design import Values
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.factor import factor
from yellow_slope.core.fit.solve.robust import FULL_LEVERAGE, leverages
from yellow_slope.core.fit.solve.scipylater import special
from yellow_slope.core.study.terms import variables_of
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class Diagnosis:
    """Per case of the model, each (n,). NaN where something does not exist: leverage 1, or a perfect fit."""

    predicted: FloatArray
    residual: FloatArray
    leverage: FloatArray
    studentized: FloatArray
    """Internally studentized residuals."""
    deleted: FloatArray
    """Externally studentized residuals."""
    cook: FloatArray
    """Cook's (1977) distance."""
    dffits: FloatArray
    """DFFITS (Belsley, Kuh & Welsch 1980)."""
    normal: FloatArray
    """Normal quantile expected at each studentized residual's rank (Blom's plotting positions)."""


def diagnose(fit: Fit, step: int) -> Diagnosis:
    """Residuals, leverages and influence of a step, from the classical s²."""
    result = fit.steps[step]
    predicted = fit.predicted(step)
    residual = fit.y - predicted
    leverage = leverages(fit.factored, fit.factored.size(result.n_columns))
    room = np.where(1.0 - leverage > FULL_LEVERAGE, 1.0 - leverage, np.nan)
    s2 = np.nan if result.is_perfect else result.s2
    with np.errstate(divide="ignore", invalid="ignore"):
        studentized = residual / np.sqrt(s2 * room)
        rest = result.df - studentized**2
        deleted = studentized * np.sqrt((result.df - 1) / np.where(rest > 0, rest, np.nan))
        cook = studentized**2 * leverage / (room * result.rank)
        dffits = deleted * np.sqrt(leverage / room)
    return Diagnosis(predicted, residual, leverage, studentized, deleted, cook, dffits, normal_quantiles(studentized))


def raw_columns(fit: Fit, groups: bool = True) -> int:
    """How many columns the raw predictors are: numbers as they are, groups as indicators, those that others say left
    out."""
    columns = raw_predictors(fit, fit.values, groups)
    return int(factor(columns, fit.y).kept.size) if columns.shape[1] else 0


def mahalanobis(fit: Fit, groups: bool = True) -> FloatArray:
    """Shape (n,): D² = (n - 1)(h - 1/n) of the raw predictors, numbers as they are, groups as indicators, no
    products. groups: whether groups count."""
    columns, n = raw_predictors(fit, fit.values, groups), fit.y.size
    if not columns.shape[1]:
        return np.zeros(n)
    found = factor(columns, fit.y)
    return np.maximum(0.0, (n - 1) * (leverages(found, found.kept.size) - 1.0 / n))


def raw_predictors(fit: Fit, given: Values, groups: bool) -> FloatArray:
    """Shape (n, columns): the model's raw predictors of some cases, by their values (groups by position)."""
    columns: list[FloatArray] = []
    n = fit.y.size
    for name in variables_of(column.term for column in fit.design.columns):
        basis, values = fit.design.bases[name], given[name]
        n = values.size
        if not isinstance(basis, GroupBasis):
            columns.append(np.asarray(values, dtype=np.float64))
        elif groups:
            columns += [(values == i).astype(np.float64) for i in range(1, len(basis.levels))]
    return np.column_stack(columns) if columns else np.zeros((n, 0))


def press_r2(fit: Fit, step: int) -> float:
    """1 - Σ(e/(1 - h))² / SST, SST as that of R²: about the mean, or about zero; NaN where a case has leverage 1."""
    result = fit.steps[step]
    leverage, total = leverages(fit.factored, fit.factored.size(result.n_columns)), result.total
    if np.any(leverage > 1 - FULL_LEVERAGE) or not total > 0:
        return float("nan")
    left = (fit.y - fit.predicted(step)) / (1.0 - leverage)
    return 1.0 - float(left @ left) / total


def normal_quantiles(values: FloatArray) -> FloatArray:
    """Shape (n,): the normal quantile at (rank - 3/8) / (n + 1/4) of each value that exists; NaN elsewhere."""
    here = np.flatnonzero(np.isfinite(values))
    out = np.full(values.size, np.nan)
    order: IntArray = np.argsort(values[here], kind="stable")
    ranks = np.empty(here.size)
    ranks[order] = np.arange(1, here.size + 1)
    out[here] = special.ndtri((ranks - 0.375) / (here.size + 0.25))
    return out


def running_median(x: FloatArray, y: FloatArray, parts: int = 9) -> tuple[FloatArray, FloatArray]:
    """Medians of the finite y within parts of equal count along x: (centers, medians)."""
    here = np.isfinite(x) & np.isfinite(y)
    x, y = x[here], y[here]
    order = np.argsort(x, kind="stable")
    pieces = [p for p in np.array_split(order, parts) if p.size]
    return np.array([float(np.median(x[p])) for p in pieces]), np.array([float(np.median(y[p])) for p in pieces])
