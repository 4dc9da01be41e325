"""Resamples of a step and what is read off them, written once more: least squares of each by its own QR, quantiles,
bias-corrected and accelerated bounds and p by search, all in the coordinates of a basis that was made in 60 digits."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist
from typing import Any

import mpmath
import numpy as np

from tests.support.described import Row, Step
from yellow_slope.core.study.standarderrors import Bootstrap, IntervalWay

NORMAL = NormalDist()
LOST = 1e-9
"""A sum of the basis of length 1 that is shorter (squared) in a resample is lost there."""
BATCH = 250


@dataclass(frozen=True)
class Read:
    """What the draws say of one quantity."""

    se: float
    p: tuple[float, float]
    """Between which it lies where the draws may be off by their rounding."""
    low: float
    high: float


class Resamples:
    """Of the last step of a model; the first columns of its basis are those of the steps before."""

    def __init__(self, step: Step, errors: Bootstrap, ids: Sequence[str] | None, order: Sequence[str] = ()) -> None:
        self.errors, self.made = errors, [weights for _, weights in step.basis]
        self.q = np.array([[float(v) for v in unit] for unit, _ in step.basis]).T
        self.y = np.array([float(v) for v in step.y])
        named = [one for one in order if one in set(ids)] if ids is not None else []
        of = ids if ids is not None else range(self.y.size)
        self.rows = [np.flatnonzero([one == unit for one in of]) for unit in (named or range(self.y.size))]
        self.kept = 1.0
        """The share of resamples that lose no column."""
        self.triangles, self.projected = self._drawn(self.y.size if not named else len(named))
        self.left = self._left() if errors.way is IntervalWay.BCA and len(self.triangles) == errors.draws else None
        """For each unit that can be left out the triangle and projection without it; None where one cannot."""

    def _drawn(self, units: int) -> tuple[Any, Any]:
        rng = np.random.default_rng(self.errors.seed)
        triangles: list[Any] = []
        projected: list[Any] = []
        asked = 0
        while len(triangles) < self.errors.draws:
            if asked > 1000 and len(triangles) < asked / 10:
                break
            for chosen in rng.integers(0, units, size=(BATCH, units)):
                found = self._factored(np.concatenate([self.rows[unit] for unit in chosen]))
                asked += 1
                if found is not None and len(triangles) < self.errors.draws:
                    triangles.append(found[0])
                    projected.append(found[1])
            self.kept = len(triangles) / asked
        return np.array(triangles), np.array(projected)

    def _factored(self, rows: Any) -> tuple[Any, Any] | None:
        if rows.size < self.q.shape[1]:
            return None
        unit, triangle = np.linalg.qr(self.q[rows])
        varies = np.ptp(self.y[rows]) > 0
        told = np.linalg.svd(triangle, compute_uv=False)[-1] ** 2 > LOST
        return (triangle, unit.T @ self.y[rows]) if varies and told else None

    def _left(self) -> tuple[Any, Any] | None:
        every = np.arange(self.y.size)
        found = [self._factored(np.setdiff1d(every, rows)) for rows in self.rows]
        if any(one is None for one in found):
            return None
        return np.array([one[0] for one in found if one]), np.array([one[1] for one in found if one])

    def of(self, gs: Sequence[Row]) -> tuple[Any, Any]:
        """Shape (draws, k) and (units, k): of the combinations g of a step's columns, which come first among all."""
        size = sum(1 for weights in self.made if all(v == 0 for v in weights[len(gs[0]) :]))
        h = np.array(
            [[float(mpmath.fdot(w[: len(g)], g)) for w in self.made[:size]] for g in gs]
        ).T  # of each vector of the basis
        return self._times(self.triangles, self.projected, h), (
            self._times(*self.left, h) if self.left is not None else None
        )

    @staticmethod
    def _times(triangles: Any, projected: Any, h: Any) -> Any:
        size = h.shape[0]
        return np.linalg.solve(triangles[:, :size, :size], projected[:, :size, None])[:, :, 0] @ h

    def read(self, g: Row, estimate: float, level: float, off: float) -> Read:
        """What the draws say of g·b, which may be off by so much."""
        drawn, left = self.of([g])
        values = np.sort(drawn[:, 0])
        se, without = float(values.std(ddof=1)), left[:, 0] if left is not None else None
        slack = off + 1e-6 * se
        ps = [_Bounds(values + shift, estimate + shift, without).p() for shift in (-slack, 0.0, slack)]
        return Read(se, (min(ps), max(ps)), *_Bounds(values, estimate, without).at(level))

    def joint_p(self, gs: Sequence[Row], estimates: Sequence[float]) -> tuple[float, float]:
        """The share of resamples at least as far from the estimates as 0 is, the sample itself among them; between
        which it lies where distances may be off by rounding."""
        drawn, _ = self.of(gs)
        b = np.array(estimates)
        sizes = drawn.std(axis=0, ddof=1)
        inner = np.linalg.inv(np.cov((drawn / sizes).T))
        far = np.einsum("ij,jk,ik->i", (drawn - b) / sizes, inner, (drawn - b) / sizes)
        zero = float((b / sizes) @ inner @ (b / sizes))
        least, most = (np.count_nonzero(far >= zero * (1 + slack)) for slack in (1e-7, -1e-7))
        return (1 + least) / (far.size + 1), (1 + most) / (far.size + 1)


class _Bounds:
    def __init__(self, values: Any, estimate: float, left: Any | None) -> None:
        self.values, self.shift, self.bend = values, 0.0, 0.0
        middle = float(np.subtract(*np.percentile(values, [75, 25])))
        same = np.abs(values - estimate) < 1e-7 * middle  # the sample itself, drawn by chance
        below = (np.count_nonzero((values < estimate) & ~same) + np.count_nonzero(same) / 2) / values.size
        if left is not None and 0 < below < 1:
            self.shift = NORMAL.inv_cdf(below)
            d = left.mean() - left
            size = float((d**2).sum())
            self.bend = float((d**3).sum() / (6 * size**1.5)) if size > 0 else 0.0

    def _end(self, p: float) -> float:
        z = self.shift + NORMAL.inv_cdf(p)
        under = 1 - self.bend * z
        at = NORMAL.cdf(self.shift + z / under) if under > 0 else float(z > 0)
        place = at * (self.values.size - 1)
        low = min(math.floor(place), self.values.size - 2)
        return float(self.values[low] + (place - low) * (self.values[low + 1] - self.values[low]))

    def at(self, level: float) -> tuple[float, float]:
        return self._end((1 - level) / 2), self._end((1 + level) / 2)

    def p(self) -> float:
        """The level of the interval of which 0 is an end, from 1: found by halving."""
        least = float(2 / (self.values.size + 1))
        if self.values[0] > 0 or self.values[-1] < 0:
            return least
        low, high = least, 1.0
        for _ in range(60):
            p = (low + high) / 2
            begin, end = self._end(p / 2), self._end(1 - p / 2)
            low, high = (low, p) if begin > 0 or end < 0 else (p, high)
        return high
