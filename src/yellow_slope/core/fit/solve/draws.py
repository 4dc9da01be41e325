"""Draws: standard errors, intervals and p read off resamples, by percentiles or bias-corrected and accelerated
(BCa)."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.solve.scipylater import special
from yellow_slope.core.study.standarderrors import IntervalWay
from yellow_slope.values import dataclass

ALIKE = 1e-7
"""Draws that lie closer to the estimate than this share of the distance between their quartiles are the estimate."""
SURE = 1e-15
"""A share that is as good as 0."""
HELD = 1 << 22
"""Values of quantities in draws that are held at once."""


@dataclass(frozen=True, slots=True, eq=False)
class Spread:
    """What the draws say of k quantities, each array (k,)."""

    se: FloatArray
    p: FloatArray
    """Two-sided, by inverting the interval: the level at which 0 is its end. At least 2 in (draws + 1)."""
    low: FloatArray
    high: FloatArray


@dataclass(frozen=True, slots=True, eq=False)
class Draws:
    """Coefficients of one step in every resample, and what leaving out a case (or cluster) does to them."""

    way: IntervalWay
    solutions: FloatArray
    """Shape (draws, 1 + columns), constant first; 0 where a column was left out."""
    left: FloatArray | None
    """Shape (units, 1 + columns): b without a case (or cluster) minus b; None where one cannot be left out."""

    def of(self, g: FloatArray) -> Draws:
        """Draws of the combinations g (1 + columns, k) in place of the coefficients."""
        return Draws(self.way, self.solutions @ g, None if self.left is None else self.left @ g)

    def spread(self, rows: FloatArray | None, estimates: FloatArray, level: float, less: float = 0.0) -> Spread:
        """Of combinations rows (k, 1 + columns) with their estimates (k,); None: of the coefficients themselves.

        less: what was taken off the estimates.
        """
        size = max(1, HELD // self.solutions.shape[0])
        if rows is not None and rows.shape[0] > size:
            pieces = [slice(i, i + size) for i in range(0, rows.shape[0], size)]
            parts = [self.spread(rows[piece], estimates[piece], level, less) for piece in pieces]
            return Spread(*(np.concatenate(c) for c in zip(*((s.se, s.p, s.low, s.high) for s in parts))))
        # Laid out alike either way, so that sums over them are the same to the last digit.
        values = np.ascontiguousarray(self.solutions.T) if rows is None else rows @ self.solutions.T
        if less:
            values = values - less
        left = self.left if self.way is IntervalWay.BCA else None
        if left is not None:
            left = np.ascontiguousarray(left.T) if rows is None else rows @ left.T
        return spread_of(np.sort(values, axis=1), estimates, left, level)

    def joint_p(self, rows: FloatArray, estimates: FloatArray) -> float:
        """p that several combinations rows (k, 1 + columns) with estimates (k,) are all 0: how many draws lie as far
        from the estimates as 0 does, by the distance that the draws' own covariance gives (Davison & Hinkley 1997,
        section 5.8). At least 1 in (draws + 1); NaN where the draws tell of fewer than k.
        """
        away = rows @ self.solutions.T - estimates[:, None]
        sizes = away.std(axis=1, ddof=1)
        if not np.all(sizes > 0):
            return float("nan")
        unit = away / sizes[:, None]
        values, vectors = np.linalg.eigh(np.cov(unit))
        if not values[0] > 1e-10 * values[-1]:
            return float("nan")
        turn = vectors / np.sqrt(values)
        far = np.square(turn.T @ unit).sum(axis=0)
        zero = float(np.square(turn.T @ (estimates / sizes)).sum())
        return (1 + int(np.count_nonzero(far >= zero))) / (int(far.size) + 1)


def spread_of(values: FloatArray, estimates: FloatArray, left: FloatArray | None, level: float) -> Spread:
    """SE, p and interval of quantities from their sorted draws (k, draws) and estimates (k,).

    left (k, units): the quantity without a unit minus the quantity. With it bounds are bias-corrected and accelerated
    (Efron 1987), a = Σd³/(6(Σd²)^1.5) with d = jackknife mean - value; percentiles where it is None, or where all draws
    lie on one side of the estimate. Quantiles by linear interpolation at 1 + (draws - 1)p.
    """
    k, n = values.shape
    se = values.std(axis=1, ddof=1) if n > 1 else np.full(k, np.nan)
    shift, bend = np.zeros(k), np.zeros(k)
    if left is not None:
        alike = ALIKE * (values[:, (3 * n) // 4] - values[:, n // 4])
        below = np.array([_share_below(values[i], estimates[i], alike[i]) for i in range(k)])
        inside = (below > 0) & (below < 1)
        shift[inside] = special.ndtri(below[inside])
        d = left.mean(axis=1, keepdims=True) - left
        size = np.einsum("ij,ij->i", d, d)
        with np.errstate(divide="ignore", invalid="ignore"):
            found = np.einsum("ij,ij,ij->i", d, d, d) / (6.0 * size**1.5)
        bend = np.where(inside & (size > 0), found, 0.0)
    tail = (1.0 - level) / 2.0
    bounds = []
    for p in (tail, 1.0 - tail):
        z = shift + special.ndtri(p)
        at = special.ndtr(shift + _bent(z, bend))
        bounds.append(np.array([_quantile(values[i], float(at[i])) for i in range(k)]))
    at_zero = np.array([_level_of(values[i], 0.0) for i in range(k)])
    normal = special.ndtr(_bent(special.ndtri(at_zero) - shift, -bend) - shift)
    least = 2.0 / (n + 1)
    p_values = np.maximum(2.0 * np.minimum(normal, 1.0 - normal), least)
    # Where 0 is beyond all draws every interval leaves it out, however much the ends are moved.
    p_values[(values[:, 0] > 0) | (values[:, -1] < 0)] = least
    return Spread(se, np.minimum(p_values, 1.0), bounds[0], bounds[1])


def _bent(z: FloatArray, bend: FloatArray) -> FloatArray:
    """z / (1 - bend z), infinite from where the denominator would change its sign; with -bend its inverse."""
    under = 1.0 - bend * z
    return np.where(under > 0, z / np.where(under > 0, under, 1.0), np.sign(z) * np.inf)


def _share_below(values: FloatArray, at: float, alike: float) -> float:
    """Share of the sorted draws below a value, ties counted half: a resample that draws every unit once is the sample
    itself, and lies beside it by rounding only."""
    left = np.searchsorted(values, at - alike, "left")
    return float(left + np.searchsorted(values, at + alike, "right")) / (2.0 * values.size)


def _quantile(values: FloatArray, p: float) -> float:
    place = p * (values.size - 1)
    low = min(int(place), values.size - 1)
    high = min(low + 1, values.size - 1)
    return float(values[low] + (place - low) * (values[high] - values[low]))


def _level_of(values: FloatArray, at: float) -> float:
    """The p whose quantile is the value; never 0 or 1."""
    n = values.size
    least = 1.0 / (n + 1)
    high = int(np.searchsorted(values, at, "right"))
    if high == 0 or at < values[0]:
        return least
    if high == n:
        return 1.0 - least
    low = high - 1
    width = float(values[high] - values[low])
    place = low + ((at - float(values[low])) / width if width > 0 else 0.5)
    return min(1.0 - SURE, max(SURE, place / (n - 1)))
