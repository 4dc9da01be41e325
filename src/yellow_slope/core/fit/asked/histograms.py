"""Histograms: cases in equal parts of a range, or at each value of a number that has few."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray, distinct
from yellow_slope.values import dataclass

MOST_BARS = 24
"""Whole numbers of a smaller range get a bar each; others are put into at most so many parts."""
FEW = 12
"""A number with no more different values than this has a bar at each, if there are two cases for each."""
FIRST = 200
"""Of so many values it is seen whether they are few."""
LEAST_BARS = 5
WIDE = 0.76
"""The share of the room between two values that a bar at a value takes."""


@dataclass(frozen=True, slots=True, eq=False)
class Bars:
    """Bars from their left to their right edges, rising, with the cases of each; all shape (bars,)."""

    left: FloatArray
    right: FloatArray
    counts: FloatArray
    at_values: bool
    """Whether each bar stands at one value."""

    @property
    def low(self) -> float:
        """The lowest edge."""
        return float(self.left[0])

    @property
    def high(self) -> float:
        """The highest edge."""
        return float(self.right[-1])

    def moved(self, by: float) -> Bars:
        """The same bars elsewhere."""
        return Bars(self.left + by, self.right + by, self.counts, self.at_values)


def level_bars(positions: IntArray, k: int) -> Bars | None:
    """A bar for each of the first k levels. positions: shape (n,), -1 where missing. None without a case."""
    counts = np.bincount(positions[positions >= 0], minlength=k)[:k]
    edges = np.arange(k + 1, dtype=np.float64) - 0.5
    return Bars(edges[:-1], edges[1:], counts.astype(np.float64), False) if counts.sum() else None


def bars_of(values: FloatArray, most: int = MOST_BARS) -> Bars | None:
    """The bars of the finite ones of some values (n,); None without one. A constant has one bar around it."""
    with np.errstate(over="ignore"):  # the range of huge numbers may be larger than any number
        return _bars(values[np.isfinite(values)], most)


def _bars(here: FloatArray, most: int) -> Bars | None:
    if not here.size:
        return None
    low, high = np.float64(here.min()), np.float64(here.max())
    if high <= low:
        reach = 0.5 * max(1.0, abs(low))
        return Bars(np.array([low - reach]), np.array([low + reach]), np.array([float(here.size)]), True)
    if high - low < most and bool(np.all(here == np.rint(here))):
        counts = np.bincount((here - low).astype(np.int64))
        return _at(low + np.arange(counts.size), counts)
    if np.unique(here[:FIRST]).size <= FEW:  # values without end are not sorted
        found, where = distinct(here)
        if found.size <= FEW and 2 * found.size <= here.size:
            return _at(found, np.bincount(where, minlength=found.size))
    parts = int(min(most, max(LEAST_BARS, round(1.5 * np.sqrt(here.size)))))
    size = max(abs(low), abs(high))
    share = (here / size - low / size) / (high / size - low / size)
    counts = np.bincount(np.minimum((share * parts).astype(np.int64), parts - 1), minlength=parts)
    steps = np.linspace(0.0, 1.0, parts + 1)
    edges = low * (1.0 - steps) + high * steps
    return Bars(edges[:-1], edges[1:], counts.astype(np.float64), False)


def _at(values: np.ndarray, counts: np.ndarray) -> Bars:
    half = 0.5 * WIDE * float(np.diff(values).min())
    return Bars(values - half, values + half, counts.astype(np.float64), True)
