"""Codes for groups: comparisons among level means, and the code columns whose coefficients are those comparisons.

Codes are the inverse of [intercept row; comparisons] without its first column, so that each coefficient *is* its
comparison, orthogonal or not (Schad, Vasishth, Hohenstein & Kliegl 2020).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Question,
    Trends,
    WeightedEffect,
)


@dataclass(frozen=True, slots=True, eq=False)
class Comparison:
    """What one code column's coefficient asks: weights over the levels present."""

    weights: FloatArray
    """Shape (k,): sums to 0; for a level mean one 1."""
    name: str = ""
    """A name of its own; empty: named by its levels."""


@dataclass(frozen=True, slots=True, eq=False)
class Codes:
    """Comparisons, code columns and where the levels stand when all codes are 0."""

    comparisons: tuple[Comparison, ...]
    codes: FloatArray
    """Shape (k, columns)."""
    zero_weights: FloatArray | None
    """Shape (k,): level weights where all codes are 0; None for level means."""
    reference: int | None
    """Position of the reference level of dummy coding."""


def codes_of(coding: Coding, levels: Sequence[str], counts: IntArray) -> Codes:
    """The codes over the levels present. levels: their codes in order; counts (k,): cases of each."""
    k = len(levels)
    if isinstance(coding, LevelMeans):
        unit = np.eye(k)
        return Codes(tuple(Comparison(unit[i]) for i in range(k)), unit, None, None)
    if k < 2:
        return Codes((), np.zeros((k, 0)), np.ones(k), 0 if isinstance(coding, Dummy) and k else None)
    intercept = np.full(k, 1.0 / k)
    names: list[str] = [""] * (k - 1)
    reference: int | None = None
    if isinstance(coding, Dummy):
        reference = effective_reference(coding, levels)
        intercept = np.eye(k)[reference]
        rows = np.delete(np.eye(k) - intercept, reference, axis=0)
    elif isinstance(coding, Effect | WeightedEffect):
        if isinstance(coding, WeightedEffect):
            intercept = counts / counts.sum()
        out = levels.index(coding.without) if coding.without in levels else k - 1
        rows = np.delete(np.eye(k) - intercept, out, axis=0)
    elif isinstance(coding, Adjacent):
        rows = np.eye(k)[1:] - np.eye(k)[:-1]
    elif isinstance(coding, AgainstMean):
        rows = _against_mean(k, coding.later)
    elif isinstance(coding, Trends):
        rows = _trends(coding, levels)
        degrees = ["linear", "quadratic", "cubic"]
        names = [f"{degrees[i] if i < 3 else f'degree {i + 1}'} trend" for i in range(k - 1)]
    else:
        rows, names = _planned(coding, levels)
    square = np.vstack([intercept, rows])
    codes = np.linalg.inv(square)[:, 1:]
    whole = np.round(codes)
    codes = np.where(np.abs(codes - whole) < 1e-13, whole, codes)
    comparisons = tuple(Comparison(row, name) for row, name in zip(rows, names))
    return Codes(comparisons, codes, intercept, reference)


def effective_reference(coding: Dummy, levels: Sequence[str]) -> int:
    """The reference's position among the levels present: the chosen one, else the first. The one rule for it."""
    return levels.index(coding.reference) if coding.reference in levels else 0


def _against_mean(k: int, later: bool) -> FloatArray:
    rows = np.zeros((k - 1, k))
    for i in range(k - 1):
        if later:
            rows[i, i], rows[i, i + 1 :] = 1.0, -1.0 / (k - 1 - i)
        else:
            rows[i, i + 1], rows[i, : i + 1] = 1.0, -1.0 / (i + 1)
    return rows


def _trends(coding: Trends, levels: Sequence[str]) -> FloatArray:
    """Orthogonal polynomials: unit length, highest level positive."""
    k = len(levels)
    spacing = dict(coding.spacing)
    at = np.array([spacing.get(code, float(i)) for i, code in enumerate(levels)])
    if spacing and not set(levels) <= set(spacing):
        raise StudyError("The spacing of a trend must name a place for every level.")
    if np.unique(at).size < k:
        raise StudyError("Two levels of a trend stand at the same place.")
    u = 2 * (at - at.min()) / np.ptp(at) - 1
    basis, r = np.linalg.qr(np.vander(u, k, increasing=True))
    rows = (basis * np.sign(np.diag(r)))[:, 1:].T
    highest = int(np.argmax(at))
    return np.asarray(rows * np.sign(rows[:, highest])[:, None])


def _planned(coding: Planned, levels: Sequence[str]) -> tuple[FloatArray, list[str]]:
    k = len(levels)
    rows: list[FloatArray] = []
    names: list[str] = []
    for question in coding.questions:
        if question.why_not():
            raise StudyError(f"A planned question {question.why_not()}.")
        row = question_weights(question, levels)
        if row is None:
            continue
        rows.append(row)
        names.append(question.name)
    if len(rows) > k - 1:
        raise StudyError(f"{k} levels have room for {k - 1} questions, not {len(rows)}.")
    given = np.vstack([np.full(k, 1.0 / k), *rows])
    if np.linalg.matrix_rank(given, tol=1e-9) < given.shape[0]:
        raise StudyError("One of the planned questions already follows from the others.")
    missing = k - given.shape[0]
    if missing:
        _, _, v = np.linalg.svd(given)
        rest = v[given.shape[0] :]
        rows += [row / np.abs(row).max() for row in rest]
        names += [f"rest {i + 1}" for i in range(missing)]
    return np.vstack(rows), names


def question_weights(question: Question, levels: Sequence[str]) -> FloatArray | None:
    """Shape (k,): a question's weights over the levels present; None where a side of it has no level left."""
    row = np.zeros(len(levels))
    if question.weights:
        for code, weight in question.weights:
            if code in levels:
                row[levels.index(code)] = weight
            elif weight:
                return None
        return row if np.any(row) else None
    one = [levels.index(code) for code in question.one if code in levels]
    other = [levels.index(code) for code in question.other if code in levels]
    if not one or not other:
        return None
    row[one], row[other] = 1.0 / len(one), -1.0 / len(other)
    return row
