"""Codes for groups: comparisons among level means, and the code columns whose coefficients are those comparisons."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.errors import StudyError
from yellow_slope.core.table import FloatArray


def dummy_comparisons(k: int, reference: int) -> FloatArray:
    """Shape (k - 1, k): each level but the reference, minus the reference, in level order."""
    rows = np.eye(k)
    rows[:, reference] -= 1.0
    return np.delete(rows, reference, axis=0)


def reference_row(k: int, reference: int) -> FloatArray:
    """Shape (k,): the intercept row of dummy coding, which picks the reference."""
    row = np.zeros(k)
    row[reference] = 1.0
    return row


def codes_of(comparisons: FloatArray, intercept: FloatArray) -> FloatArray:
    """Shape (k, k - 1): code columns for k levels, so that each coefficient is its comparison.

    Codes are the inverse of [intercept row; comparisons] without its first column (Schad, Vasishth, Hohenstein &
    Kliegl 2020). StudyError if the comparisons depend on each other or a row does not sum to 0.
    """
    k = comparisons.shape[1]
    if comparisons.shape[0] != k - 1:
        raise StudyError(f"{k} levels need {k - 1} comparisons, not {comparisons.shape[0]}.")
    if not np.allclose(comparisons.sum(axis=1), 0.0, atol=1e-12):
        raise StudyError("The weights of a comparison must sum to 0.")
    square = np.vstack([intercept, comparisons])
    if np.linalg.matrix_rank(square) < k:
        raise StudyError("The comparisons depend on each other.")
    codes = np.linalg.inv(square)[:, 1:]
    whole = np.round(codes)
    return np.asarray(np.where(np.abs(codes - whole) < 1e-14, whole, codes), dtype=np.float64)


def dummy_codes(k: int, reference: int) -> FloatArray:
    """Shape (k, k - 1): 0/1 indicators of every level but the reference."""
    return codes_of(dummy_comparisons(k, reference), reference_row(k, reference))
