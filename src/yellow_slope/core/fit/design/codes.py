"""Codes for groups: comparisons among level means, and the code columns whose coefficients are those comparisons.

Codes are the inverse of [intercept row; comparisons] without its first column, so that each coefficient *is* its
comparison, orthogonal or not (Schad, Vasishth, Hohenstein & Kliegl 2020).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import assert_never

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
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class Comparison:
    """What one code column's coefficient asks: weights over the levels present."""

    weights: FloatArray
    """Shape (k,): sums to 0; for a level mean one 1."""
    name: str = ""
    """A name of its own; empty: named by its levels."""
    key: str = ""
    """What it is known by when it is given a name: the code of its level, the degree of its trend, the question's
    place."""


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
    follows: tuple[Comparison, ...] = ()
    """Planned questions that follow from those before: tested as contrasts, never coded."""
    n_asked: int | None = None
    """How many of the comparisons are planned questions; the program completed the set with the others."""


def codes_of(coding: Coding, levels: Sequence[str], counts: IntArray) -> Codes:
    """The codes over the levels present. levels: their codes in order; counts (k,): cases of each."""
    k = len(levels)
    named = {} if isinstance(coding, Planned) else dict(coding.names)
    if isinstance(coding, LevelMeans):
        unit = np.eye(k)
        made = tuple(Comparison(unit[i], named.get(levels[i], ""), levels[i]) for i in range(k))
        return Codes(made, unit, None, None)
    if k < 2:
        return Codes((), np.zeros((k, 0)), np.ones(k), 0 if isinstance(coding, Dummy) and k else None)
    intercept = np.full(k, 1.0 / k)
    keys, names = list(levels[1:]), [""] * (k - 1)
    reference: int | None = None
    follows: tuple[Comparison, ...] = ()
    n_asked: int | None = None
    match coding:
        case Dummy():
            reference = effective_reference(coding, levels)
            intercept = np.eye(k)[reference]
            rows, keys = _without(np.eye(k) - intercept, levels, reference)
        case Effect(without) | WeightedEffect(without):
            if isinstance(coding, WeightedEffect):
                intercept = counts / counts.sum()
            out = levels.index(without) if without in levels else k - 1
            rows, keys = _without(np.eye(k) - intercept, levels, out)
        case Adjacent():
            rows = np.eye(k)[1:] - np.eye(k)[:-1]
        case AgainstMean(later):
            rows = _against_mean(k, later)
            keys = list(levels[:-1] if later else levels[1:])
        case Trends():
            rows = _trends(coding, levels)
            degrees = ["linear", "quadratic", "cubic"]
            names = [f"{degrees[i] if i < 3 else f'degree {i + 1}'} trend" for i in range(k - 1)]
            keys = [str(i + 1) for i in range(k - 1)]
        case Planned():
            asked, follows = _planned(coding, levels)
            n_asked = len(asked)
            more = completion([c.weights for c in asked], k)
            rows = np.vstack([c.weights for c in asked] + more)
            names = [c.name for c in asked] + [""] * len(more)
            keys = [c.key for c in asked] + [""] * len(more)
        case _:
            assert_never(coding)
    square = np.vstack([intercept, rows])
    codes = np.linalg.inv(square)[:, 1:]
    whole = np.round(codes)
    codes = np.where(np.abs(codes - whole) < 1e-13, whole, codes)
    comparisons = tuple(
        Comparison(row, named.get(key) or name, key) for row, name, key in zip(rows, names, keys, strict=True)
    )
    return Codes(comparisons, codes, intercept, reference, follows, n_asked)


def _without(rows: FloatArray, levels: Sequence[str], out: int) -> tuple[FloatArray, list[str]]:
    """The rows but one, and the levels they are known by."""
    return np.delete(rows, out, axis=0), [code for i, code in enumerate(levels) if i != out]


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
        raise StudyError("Two levels of a trend are at the same place.")
    u = 2 * (at - at.min()) / np.ptp(at) - 1
    basis, r = np.linalg.qr(np.vander(u, k, increasing=True))
    rows = (basis * np.sign(np.diag(r)))[:, 1:].T
    highest = int(np.argmax(at))
    rows = rows * np.sign(rows[:, highest])[:, None]
    return np.where(np.abs(rows) < 1e-14, 0.0, rows)  # what is 0 in exact arithmetic has no side


def _planned(coding: Planned, levels: Sequence[str]) -> tuple[list[Comparison], tuple[Comparison, ...]]:
    """The questions that are coded, and those that follow from the ones before; empty ones are in neither."""
    asked: list[Comparison] = []
    follows: list[Comparison] = []
    span = _Span(len(levels))
    for place, question in enumerate(coding.questions):
        if question.why_not():
            raise StudyError(f"A planned question {question.why_not()}.")
        row = question_weights(question, levels)
        if row is not None:
            made = Comparison(row, question.name, str(place))
            (asked if span.takes(row) else follows).append(made)
    return asked, tuple(follows)


class _Span:
    """What some comparisons ask together, as orthonormal rows; it grows by what it does not hold yet."""

    def __init__(self, k: int) -> None:
        self._rows, self._n = np.zeros((k - 1, k)), 0

    def takes(self, row: FloatArray) -> bool:
        """Whether a comparison (k,) asks something that those taken before do not answer together; it then belongs to
        them."""
        if self._n == self._rows.shape[0]:
            return False
        rest = row / np.abs(row).max()
        rest = rest / np.linalg.norm(rest)
        known = self._rows[: self._n]
        for _ in range(2):  # the second time takes out what rounding left
            rest = rest - known.T @ (known @ rest)
        size = float(np.linalg.norm(rest))
        if size < 1e-9:
            return False
        self._rows[self._n] = rest / size
        self._n += 1
        return True


def completion(rows: Sequence[FloatArray], k: int) -> list[FloatArray]:
    """Comparisons (k,) that make a set of independent ones complete, each one mean of levels against another.

    Levels that no question tells apart yet are split first, the mean of the later ones against each; then the sets of
    levels that no question has brought together.
    """
    found: list[FloatArray] = []
    span = _Span(k)
    for row in rows:
        span.takes(row)

    def split(sets: list[list[int]]) -> None:
        for i, one in enumerate(sets[:-1]):
            later = [level for other in sets[i + 1 :] for level in other]
            row = np.zeros(k)
            row[one], row[later] = -1.0 / len(one), 1.0 / len(later)
            if span.takes(row):
                found.append(row)

    classes: dict[tuple[float, ...], list[int]] = {}
    for level in range(k):
        classes.setdefault(tuple(round(float(row[level]), 12) for row in rows), []).append(level)
    for alike in classes.values():
        split([[level] for level in alike])
    split(_met([*rows, *found], k))
    split([[level] for level in range(k)])
    return found


def _met(rows: Sequence[FloatArray], k: int) -> list[list[int]]:
    """The levels in sets: two are in one if a chain of comparisons brings them together."""
    home = list(range(k))
    for row in rows:
        here = [int(i) for i in np.flatnonzero(row)]
        homes = {home[i] for i in here}
        home = [min(homes) if h in homes else h for h in home]
    return [[i for i in range(k) if home[i] == h] for h in dict.fromkeys(home)]


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
