"""Cases that were set aside, as the model that was fitted without them sees them."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.asked.diagnosis import raw_predictors
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.design.design import Values
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.factor import Factorization, factor
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import WithinGroups
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class AsideCases:
    """Each (m,); NaN where the model cannot tell of a case."""

    rows: IntArray
    """Rows of the table, from 0."""
    predicted: FloatArray
    residual: FloatArray
    leverage: FloatArray
    """x (X'X)⁻¹ x' of a case outside, as h/(1 - h) of one inside: brought to what it would be inside."""
    deleted: FloatArray
    """Externally studentized: what it would be inside."""
    d2: FloatArray
    """Mahalanobis D² from the model's cases."""
    moves: FloatArray
    """DFBETAS that it would have of the asked column; NaN without one."""
    own: tuple[FloatArray, FloatArray]
    """What of the asked column and of the outcome the other columns leave."""
    values: dict[str, FloatArray]
    """Of every predictor."""


def aside_cases(study: Study, fit: Fit, step: int, column: int | None = None, groups: bool = True) -> AsideCases:
    """The cases of the model's sample that are set aside and have a value on every variable of the model. column: the
    one that is asked; groups: whether D² counts groups.

    With h' = x (X'X)⁻¹ x' and e' = y - x b of a case outside, its leverage inside is h'/(1 + h') and its externally
    studentized residual e'/(s √(1 + h')); with it an effect g·b changes by u e'/(1 + h'), u = g (X'X)⁻¹ x'.
    """
    sample = study.sample_of(study.model)
    rows = sorted({row for part in sample.aside for row in part.rows}) if sample is not None else []
    here = np.array([row for row in rows if row < study.table.n_rows], dtype=np.int64)
    values, known = _values(study, fit, here)
    outcome = study.columns.numbers(study.model.outcome or "")[here]
    keep = known & np.isfinite(outcome)
    here, outcome = here[keep], outcome[keep]
    values = {name: column_[keep] for name, column_ in values.items()}
    result, factored = fit.steps[step], fit.factored
    m = factored.size(result.n_columns)
    x = fit.design.matrix(values, 0, here.size)[:, : result.n_columns] if here.size else np.zeros((0, result.n_columns))
    b = result.inference.solution
    predicted = x @ b[1:] + b[0]
    residual = outcome - predicted
    spread = _spread(factored, m, x)
    outside = np.einsum("ij,ij->i", spread, spread)
    s = float(np.sqrt(result.s2)) if not result.is_perfect else float("nan")
    none = np.full(here.size, np.nan)
    moves, own = none, (none, none)
    if column is not None and column in factored.kept[:m]:
        g = np.zeros(result.n_columns + 1)
        g[column + 1] = 1.0
        along = factored.root(m).T @ g[np.concatenate([[0], factored.kept[:m] + 1])]
        reach, whole = spread @ along, float(along @ along)
        with np.errstate(divide="ignore", invalid="ignore"):
            with_it = np.sqrt(whole - reach**2 / (1.0 + outside))
            moves = reach * residual / (1.0 + outside) / (s * with_it)
        own = reach / whole, residual + float(b[column + 1]) * reach / whole
    with np.errstate(divide="ignore", invalid="ignore"):
        deleted = residual / (s * np.sqrt(1.0 + outside))
    numbers = {name: np.asarray(values_, dtype=np.float64) for name, values_ in values.items()}
    d2 = _distance(fit, values, here.size, groups)
    return AsideCases(here, predicted, residual, outside / (1.0 + outside), deleted, d2, moves, own, numbers)


def _spread(factored: Factorization, m: int, x: FloatArray) -> FloatArray:
    """Shape (rows, m + 1): other rows of the matrix in the coordinates of its orthonormal basis."""
    ones = np.full((x.shape[0], 1), 1.0 if factored.constant else 0.0)
    return np.asarray(np.hstack([ones, x[:, factored.kept[:m]]]) @ factored.root(m))


def _distance(fit: Fit, values: Values, n: int, groups: bool) -> FloatArray:
    """Shape (n,): D² of other cases from the mean of the model's, in the model's covariance."""
    columns = raw_predictors(fit, fit.values, groups)
    if not columns.shape[1] or not n:
        return np.full(n, np.nan)
    found = factor(columns, fit.y)
    spread = _spread(found, found.kept.size, raw_predictors(fit, values, groups))
    size = fit.y.size
    return np.asarray((size - 1) * (np.einsum("ij,ij->i", spread, spread) - 1.0 / size))


def _values(study: Study, fit: Fit, rows: IntArray) -> tuple[dict[str, FloatArray | IntArray], np.ndarray]:
    """What the design multiplies, of other rows; and which of them it can take."""
    values: dict[str, FloatArray | IntArray] = {}
    known = np.ones(rows.size, dtype=bool)
    for name, basis in fit.design.bases.items():
        if isinstance(basis, GroupBasis):
            variable = study.variable(name)
            lookup = np.array([basis.levels.index(x.code) if x.code in basis.levels else -1 for x in variable.levels])
            at = study.columns.levels(name)[rows]
            places = np.where(at >= 0, lookup[at], -1) if lookup.size else np.full(rows.size, -1)
            values[name] = places.astype(np.int64)
            known &= places >= 0
            continue
        numbers = study.columns.numbers(name)[rows]
        zero = study.model.treatment(name).zero
        if isinstance(zero, WithinGroups):
            numbers = np.full(rows.size, np.nan)  # a place from the mean of a group that the case is not in
        known &= np.isfinite(numbers)
        if known.any():
            known &= np.isfinite(basis.treated(np.asarray(numbers, dtype=np.float64)))
        values[name] = np.where(known, numbers, 0.0)
    for name, column in values.items():
        if column.dtype == np.int64:
            values[name] = np.where(known, column, 0)
    return values, known
