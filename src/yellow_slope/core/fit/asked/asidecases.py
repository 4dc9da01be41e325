"""Cases that were set aside, as the model that was fitted without them sees them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import WithinGroups


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
    values: dict[str, FloatArray]
    """Of every predictor."""


def aside_cases(study: Study, fit: Fit, step: int) -> AsideCases:
    """The cases of the model's sample that are set aside and have a value on every variable of the model.

    With h' = x (X'X)⁻¹ x' and e' = y - x b of a case outside, its leverage inside is h'/(1 + h') and its externally
    studentized residual e'/(s √(1 + h')).
    """
    sample = study.sample_of(study.model)
    rows = sorted({row for part in sample.aside for row in part.rows}) if sample is not None else []
    here = np.array([row for row in rows if row < study.table.n_rows], dtype=np.int64)
    values, known = _values(study, fit, here)
    outcome = study.columns.numbers(study.model.outcome or "")[here]
    keep = known & np.isfinite(outcome)
    here, outcome = here[keep], outcome[keep]
    values = {name: column[keep] for name, column in values.items()}
    result, factored = fit.steps[step], fit.factored
    m = factored.size(result.n_columns)
    x = fit.design.matrix(values, 0, here.size)[:, : result.n_columns] if here.size else np.zeros((0, result.n_columns))
    b = result.inference.solution
    predicted = x @ b[1:] + b[0]
    residual = outcome - predicted
    ones = np.full((here.size, 1), 1.0 if factored.constant else 0.0)
    spread = np.hstack([ones, x[:, factored.kept[:m]]]) @ factored.root(m)
    outside = np.einsum("ij,ij->i", spread, spread)
    s = float(np.sqrt(result.s2)) if not result.is_perfect and result.df > 0 else float("nan")
    with np.errstate(divide="ignore", invalid="ignore"):
        deleted = residual / (s * np.sqrt(1.0 + outside))
    numbers = {name: np.asarray(column, dtype=np.float64) for name, column in values.items()}
    return AsideCases(here, predicted, residual, outside / (1.0 + outside), deleted, numbers)


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
