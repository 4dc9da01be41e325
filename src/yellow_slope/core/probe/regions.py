"""Regions of significance: by which rule an effect is told apart from 0, where, and how many cases live there."""

from __future__ import annotations

from collections.abc import Callable
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.solve.tails import f_quantile, t_quantile
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.support import Near, Support
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Region:
    """A stretch of the moderator within the observed range. Sign +1 or -1: told apart from 0 on that side; 0: not."""

    low: float
    """-inf where it begins with the data."""
    high: float
    """inf where it ends with them."""
    sign: int
    cases: tuple[Near, ...]
    """Cases in it, of each group that is compared; of a slope of all."""

    @property
    def n(self) -> int:
        """Cases in it, of all groups that are compared."""
        return sum(near.cases for near in self.cases)

    @property
    def share(self) -> float:
        """Share of the cases that are compared."""
        return self.n / (sum(near.of for near in self.cases) or 1)


@dataclass(frozen=True, slots=True)
class Regions:
    """The regions of one effect by one rule."""

    rule: RegionRule
    critical: float
    """What |t| must pass; infinite where the rule lets no place pass."""
    within: tuple[Region, ...] = ()
    """Clipped to the observed range."""
    outside: tuple[float, ...] = ()
    """Boundaries outside the observed range, about which nothing is claimed."""
    why: Why | None = None
    """Why the rule bounds nothing with these standard errors."""

    @property
    def boundaries(self) -> tuple[float, ...]:
        """The boundaries within the observed range."""
        return tuple(region.high for region in self.within if np.isfinite(region.high))

    @property
    def tells(self) -> bool:
        """Whether the effect is told apart from 0 anywhere in the data."""
        return any(region.sign for region in self.within)


def critical_value(rule: RegionRule, curve: Curve, observed: FloatArray) -> float:
    """What |t| must pass by a rule. observed: (n,) the moderator over the model's cases.

    Draws do not bound all points at once: infinite there.
    """
    if rule.is_at_once and curve.inference.draws is not None:
        return float("inf")
    df, most = curve.inference.df, curve.inference.most_tested
    return critical_of(rule, curve.level, df, curve.dimension, most, lambda: curve.p(np.unique(observed)))


def critical_of(
    rule: RegionRule, level: float, df: float, dimension: int, most: int | None, p_values: Callable[[], FloatArray]
) -> float:
    """What |t| must pass by a rule, for an effect that spans a dimension. p_values: at the distinct observed places.

    Pointwise t; for all points at once √(q·F(q, df)), q the dimension (Potthoff 1964); for the false discovery rate
    over the m distinct observed places the t quantile at level kα/m, k the largest i with p₍ᵢ₎ ≤ iα/m; infinite if k is
    0 (Benjamini & Hochberg 1995; Esarey & Sumner 2018). most: dimensions that clusters tell of at once.
    """
    match rule:
        case RegionRule.POINTWISE:
            return t_quantile(level, df)
        case RegionRule.SIMULTANEOUS:
            if most is not None and dimension > most:
                return float("inf")
            return float(np.sqrt(dimension * f_quantile(level, dimension, df)))
        case RegionRule.FALSE_DISCOVERY:
            p = np.sort(np.nan_to_num(p_values(), nan=1.0))
            alpha, m = 1 - level, p.size
            passed = np.flatnonzero(p <= alpha * np.arange(1, m + 1) / m)
            return t_quantile(1 - alpha * (int(passed[-1]) + 1) / m, df) if passed.size else float("inf")
        case _:
            assert_never(rule)


def regions_of(curve: Curve, rule: RegionRule, observed: FloatArray, support: Support) -> Regions:
    """The regions of an effect by a rule, clipped to the observed range. observed: (n,)."""
    if not curve.has_errors:
        return Regions(rule, float("nan"))
    critical = critical_value(rule, curve, observed)
    why = None
    if rule.is_at_once and np.isinf(critical):
        why = Why.CLUSTERS if curve.inference.draws is None else Why.DRAWS
    if curve.is_level:
        return Regions(rule, critical, why=why)
    least, most = float(observed.min()), float(observed.max())
    stretches = curve.stretches(critical, observed)
    within: list[Region] = []
    for stretch in stretches:
        if stretch.high <= least or stretch.low >= most:
            continue
        low = stretch.low if stretch.low > least else -np.inf
        high = stretch.high if stretch.high < most else np.inf
        within.append(Region(low, high, stretch.sign, support.between(low, high)))
    bounds = [stretch.high for stretch in stretches[:-1]]
    return Regions(rule, critical, tuple(within), tuple(b for b in bounds if not least < b < most), why)
