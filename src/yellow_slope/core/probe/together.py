"""Several comparisons of a group along a number: where their joint test, any, or every one of them is told apart."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from enum import Enum, auto
from itertools import pairwise
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.solve.scipylater import optimize
from yellow_slope.core.fit.solve.tails import f_p, f_quantile
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.regions import Region, Regions
from yellow_slope.core.probe.support import Support
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.values import dataclass

GRID = 401
"""Places at which the joint test is looked at before its boundaries are searched."""
MOST_TOGETHER = 24
"""Of more comparisons nobody asks at once, and each place would take a matrix of that size."""
RANK = 1e-10
"""Share of the largest below which a direction is none."""


class Together(Enum):
    """Of several comparisons."""

    JOINT = auto()
    """Their joint F test passes (Hayes & Montoya 2017)."""
    ANY = auto()
    """At least one of them is told apart from 0, each by itself."""
    EVERY = auto()
    """All of them are."""


@dataclass(frozen=True, slots=True)
class TogetherRegions:
    """Where several comparisons pass together; a region's sign is 1 where they do, and has no direction."""

    of: Together
    critical: float
    """The F of the joint test that must be passed; NaN of the others."""
    df1: int
    within: tuple[Region, ...]

    @property
    def boundaries(self) -> tuple[float, ...]:
        """The boundaries within the observed range."""
        return tuple(region.high for region in self.within if np.isfinite(region.high))


@dataclass(frozen=True, slots=True, eq=False)
class JointTest:
    """The F of several curves along the same number, as a function of u."""

    effects: FloatArray
    """Shape (k, degree + 1): g·b of each."""
    spread: FloatArray
    """Shape (k, r, degree + 1): root' g of each."""
    df1: int
    df2: int

    def f(self, u: FloatArray | float) -> FloatArray:
        """Shape (m,): F at places u (m,)."""
        powers = np.vander(np.atleast_1d(np.asarray(u, dtype=np.float64)), self.effects.shape[1], increasing=True)
        effect = powers @ self.effects.T  # (m, k)
        spread = np.einsum("md,krd->mkr", powers, self.spread)
        sizes = np.sqrt(np.einsum("mkr,mkr->mk", spread, spread))
        sizes[sizes == 0] = 1.0
        unit = spread / sizes[:, :, None]
        values, vectors = np.linalg.eigh(unit @ unit.transpose(0, 2, 1))
        known = values > RANK * values[:, -1:]
        turned = np.einsum("mkj,mk->mj", vectors, effect / sizes)
        found = np.sum(np.where(known, turned**2 / np.where(known, values, 1.0), 0.0), axis=1)
        rank = known.sum(axis=1)
        return np.asarray(np.where(rank > 0, found / np.maximum(rank, 1), np.nan))


def joint_test(curves: Sequence[Curve]) -> JointTest | None:
    """The joint F of curves; None where a case does not tell of one, it has no errors, or these are of draws, which
    give no F."""
    if curves[0].inference.draws is not None or any(not curve.has_errors for curve in curves):
        return None
    width = max(curve.g.shape[1] for curve in curves)
    gs = [np.pad(curve.g, ((0, 0), (0, width - curve.g.shape[1]))) for curve in curves]
    inference = curves[0].inference
    spread = np.stack([inference.root.T @ g for g in gs])
    middle = np.einsum("krd,d->kr", spread, 0.3 ** np.arange(width))
    rank = int(np.linalg.matrix_rank(middle, tol=None)) if np.any(middle) else 0
    if not rank or (inference.most_tested is not None and rank > inference.most_tested):
        return None
    return JointTest(np.stack([inference.solution @ g for g in gs]), spread, rank, inference.df)


def together_of(
    curves: Sequence[Curve], each: Sequence[Regions], rule: RegionRule, observed: FloatArray, support: Support
) -> tuple[TogetherRegions, ...]:
    """Where several comparisons pass: their joint test, any one, every one; none of more than can be followed along.
    observed: (n,) the moderator.

    The joint test passes its F quantile at each point; at all points at once Scheffé's over all that the curves span;
    for the false discovery rate as of a single effect, with its p.
    """
    found: list[TogetherRegions] = []
    if len(curves) > MOST_TOGETHER:
        return ()
    least, most = float(observed.min()), float(observed.max())
    test = joint_test(curves)
    if test is not None and least < most:
        critical = _critical(test, curves, rule, observed)
        places = _boundaries(test, curves[0], critical, least, most)
        at = _Passing(test, curves[0], critical)
        found.append(TogetherRegions(Together.JOINT, critical, test.df1, _within(places, at, least, most, support)))
    told = [[(r.low, r.high) for r in regions.within if r.sign] for regions in each]
    if all(regions.within for regions in each):
        edges = sorted({b for regions in each for b in regions.boundaries})
        for of in (Together.ANY, Together.EVERY):
            passes = _Of(of, told)
            found.append(
                TogetherRegions(of, float("nan"), test.df1 if test else 0, _within(edges, passes, least, most, support))
            )
    return tuple(found)


@dataclass(frozen=True, slots=True, eq=False)
class _Passing:
    test: JointTest
    along: Curve
    critical: float

    def __call__(self, w: float) -> bool:
        return bool(self.test.f(self.along.along.u(np.array([w])))[0] > self.critical)


@dataclass(frozen=True, slots=True, eq=False)
class _Of:
    of: Together
    told: Sequence[Sequence[tuple[float, float]]]

    def __call__(self, w: float) -> bool:
        there = [any(low <= w <= high for low, high in stretches) for stretches in self.told]
        match self.of:
            case Together.ANY:
                return any(there)
            case Together.EVERY | Together.JOINT:
                return all(there)
            case _:
                assert_never(self.of)


def _critical(test: JointTest, curves: Sequence[Curve], rule: RegionRule, observed: FloatArray) -> float:
    level, q, df = curves[0].level, test.df1, test.df2
    match rule:
        case RegionRule.POINTWISE:
            return f_quantile(level, q, df)
        case RegionRule.SIMULTANEOUS:
            k, r, d = test.spread.shape
            whole = int(np.linalg.matrix_rank(test.spread.transpose(0, 2, 1).reshape(k * d, r)))
            most = curves[0].inference.most_tested
            if most is not None and whole > most:
                return float("inf")
            return whole * f_quantile(level, whole, df) / q
        case RegionRule.FALSE_DISCOVERY:
            places = np.unique(observed)
            p = np.sort([f_p(float(f), q, df) for f in test.f(curves[0].along.u(places))])
            alpha, m = 1 - level, places.size
            passed = np.flatnonzero(p <= alpha * np.arange(1, m + 1) / m)
            return f_quantile(1 - alpha * (int(passed[-1]) + 1) / m, q, df) if passed.size else float("inf")
        case _:
            assert_never(rule)


def _boundaries(test: JointTest, curve: Curve, critical: float, least: float, most: float) -> list[float]:
    """Places within the observed range where F equals the critical value."""
    if not np.isfinite(critical):
        return []

    def over(u: float) -> float:
        return float(test.f(u)[0]) - critical

    grid = np.linspace(-1.0, 1.0, GRID)
    values = test.f(grid) - critical
    nodes = [float(u) for u in grid]
    for i in range(1, GRID - 1):  # an extremum between two places may pass where neither does
        a, b, c = values[i - 1], values[i], values[i + 1]
        if (b >= max(a, c) and b < 0) or (b <= min(a, c) and b > 0):
            way = -1.0 if b < 0 else 1.0
            best = optimize.minimize_scalar(
                lambda u, way=way: way * over(u), bounds=(grid[i - 1], grid[i + 1]), method="bounded"
            )
            nodes.append(float(best.x))
    nodes.sort()
    at = [over(u) for u in nodes]
    us = [
        float(optimize.brentq(over, low, high, xtol=1e-15, rtol=8.9e-16))
        for (low, high), (a, b) in zip(pairwise(nodes), pairwise(at))
        if (a > 0) != (b > 0)
    ]
    return [w for w in curve.places(us) if least < w < most]


def _within(
    edges: Sequence[float], passes: Callable[[float], bool], least: float, most: float, support: Support
) -> tuple[Region, ...]:
    """Regions between edges within the observed range; neighbours that say the same are one."""
    found: list[tuple[float, float, int]] = []
    inside = [e for e in edges if least < e < most]
    for low, high in pairwise([-np.inf, *inside, np.inf]):
        middle = (max(low, least) + min(high, most)) / 2
        sign = int(passes(middle))
        if found and found[-1][2] == sign:
            found[-1] = (found[-1][0], high, sign)
        else:
            found.append((low, high, sign))
    return tuple(Region(low, high, sign, support.between(low, high)) for low, high, sign in found)
