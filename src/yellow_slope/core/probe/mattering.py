"""Where along a moderator an effect matters, is too small to matter, or leaves that open (Schuirmann 1987)."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum, auto
from itertools import pairwise

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.probe.curve import Curve, Stretch
from yellow_slope.core.probe.regions import critical_value
from yellow_slope.core.probe.support import Near, Support
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.values import dataclass, replace


class Size(Enum):
    """How large an effect is shown to be."""

    ABOVE = auto()
    """It matters, and is above 0: its interval lies beyond the smallest that matters."""
    BELOW = auto()
    """It matters, and is below 0."""
    SMALL = auto()
    """It is too small to matter: two one-sided tests say that it lies between minus and plus the smallest."""
    OPEN = auto()
    """Neither is shown."""


@dataclass(frozen=True, slots=True)
class Sized:
    """A stretch of the moderator within the observed range, and how large the effect is shown to be in it."""

    low: float
    """-inf where it begins with the data."""
    high: float
    size: Size
    cases: tuple[Near, ...]


@dataclass(frozen=True, slots=True)
class Mattering:
    """The stretches of one effect for a smallest effect that matters."""

    smallest: float
    """In the unit of the effect."""
    critical: float
    """What |t| of the distance from the smallest must pass to matter; infinite where the rule lets nothing pass."""
    critical_small: float
    """What both one-sided t must pass to be too small: that of each point by itself, or of all points at once."""
    within: tuple[Sized, ...] = ()
    outside: tuple[float, ...] = ()
    """Boundaries outside the observed range."""

    @property
    def boundaries(self) -> tuple[float, ...]:
        """The boundaries within the observed range."""
        return tuple(stretch.high for stretch in self.within if np.isfinite(stretch.high))


def mattering_of(
    curve: Curve, smallest: float, rule: RegionRule, observed: FloatArray, support: Support
) -> Mattering | None:
    """Where an effect matters, is too small, or leaves it open; None where it has no standard errors. observed: (n,).

    Matters: the interval of the level lies beyond ± the smallest. Too small: two one-sided tests at 1 - level. By the
    rule of all points at once both are taken at all points; the false discovery rate has no such form, there each point
    stands by itself.
    """
    if not curve.has_errors:
        return None
    rule, loose = rule.of_sizes, max(0.0, 2 * curve.level - 1)
    critical = critical_value(rule, curve, observed)
    small = critical_value(rule, replace(curve, level=loose), observed)
    above, below = replace(curve, less=smallest), replace(curve, less=-smallest)
    found = [
        (above.stretches(critical, observed), 1, Size.ABOVE),
        (below.stretches(critical, observed), -1, Size.BELOW),
    ]
    under, over = above.stretches(small, observed), below.stretches(small, observed)
    least, most = float(observed.min()), float(observed.max())
    bounds = sorted({s.high for stretches, _, _ in found for s in stretches} | {s.high for s in (*under, *over)})
    edges = [-np.inf, *(b for b in bounds if np.isfinite(b)), np.inf]
    sized: list[tuple[float, float, Size]] = []
    for low, high in pairwise(edges):
        middle = _between(low, high)
        size = next((size for stretches, sign, size in found if _sign(stretches, middle) == sign), Size.OPEN)
        if size is Size.OPEN and _sign(under, middle) == -1 and _sign(over, middle) == 1:
            size = Size.SMALL
        if sized and sized[-1][2] is size:
            sized[-1] = (sized[-1][0], high, size)
        else:
            sized.append((low, high, size))
    within: list[Sized] = []
    for low, high, size in sized:
        if high <= least or low >= most:
            continue
        low, high = low if low > least else -np.inf, high if high < most else np.inf
        within.append(Sized(low, high, size, support.between(low, high)))
    outside = tuple(high for _, high, _ in sized[:-1] if not least < high < most)
    return Mattering(smallest, critical, small, tuple(within), outside)


def _between(low: float, high: float) -> float:
    """A place inside a stretch."""
    if np.isinf(low) and np.isinf(high):
        return 0.0
    if np.isinf(low):
        return high - 1.0 - abs(high)
    return low + 1.0 + abs(low) if np.isinf(high) else (low + high) / 2


def _sign(stretches: Sequence[Stretch], at: float) -> int:
    """The sign of the stretch that holds a place; 0 without one."""
    return next((s.sign for s in stretches if s.low <= at <= s.high), 0)
