"""Where an effect's boundaries would be without each case, read off the fit that is there."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray
from yellow_slope.core.fit.asked.leftout import left_out
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.tails import t_p
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.regions import critical_of
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.values import dataclass

MOST_CASES = 5000
"""Of more cases the roots of each are not looked for."""
MOST_TESTS = 4_000_000
"""Of more places times cases the false discovery rate is not asked for without each."""


@dataclass(frozen=True, slots=True, eq=False)
class BoundariesWithoutEach:
    """For each case the boundaries within the observed range, rising; None where the model cannot be fitted without the
    case, or fits the others perfectly."""

    at: tuple[tuple[float, ...] | None, ...]

    @property
    def counts(self) -> tuple[int, ...]:
        """How many boundaries there can be, each number once."""
        return tuple(sorted({len(found) for found in self.at if found is not None}))

    def spans(self) -> tuple[tuple[float, float], ...]:
        """The range of each boundary over all fits, where their number is always the same."""
        told = [found for found in self.at if found is not None]
        if len(self.counts) != 1 or not told:
            return ()
        return tuple((min(values), max(values)) for values in zip(*told))


def boundaries_without_each(
    fit: Fit, step: int, curve: Curve, rule: RegionRule, observed: FloatArray
) -> BoundariesWithoutEach | Why:
    """Boundaries of an effect by a rule of regions, with the model's own errors, without each case; or why there are
    none. observed (n,): the number over the model's cases.

    (g·b)² - c²·variance is a polynomial along the number for each case (Johnson & Neyman 1936; `left_out`).
    """
    n = fit.y.size
    if n > MOST_CASES:
        return Why.TOO_MANY_CASES
    if not curve.is_estimable:
        return Why.NOT_ESTIMABLE
    if curve.is_level:
        return Why.NOTHING
    found = left_out(fit, step, curve.g.T)
    if found.why is not None:
        return found.why
    values, whose, times = np.unique(observed, return_inverse=True, return_counts=True)
    places = np.vander(curve.along.u(values), curve.g.shape[1], increasing=True)
    if rule.rests_on_all_p and n * places.shape[0] > MOST_TESTS:
        return Why.TOO_MANY_CASES
    at: list[tuple[float, ...] | None] = []
    dimension = curve.dimension
    told: BoolArray = np.asarray(np.isfinite(found.se).any(axis=1))
    for i, (effect, covariance, df) in enumerate(zip(found.effects, found.covariances, found.df)):
        if df < 1 or not told[i]:
            at.append(None)
            continue
        left = np.delete(places, whose[i], axis=0) if times[whose[i]] == 1 else places
        critical = _critical(rule, curve, dimension, df, effect, covariance, left)
        at.append(roots_between(effect, critical**2 * covariance, curve) if np.isfinite(critical) else ())
    return BoundariesWithoutEach(tuple(at))


def _critical(
    rule: RegionRule,
    curve: Curve,
    dimension: int,
    df: float,
    effect: FloatArray,
    covariance: FloatArray,
    places: FloatArray,
) -> float:
    """What |t| must pass without a case, whose effect is a polynomial with that covariance of its coefficients."""

    def p_values() -> FloatArray:
        se = np.sqrt(np.einsum("ma,ab,mb->m", places, covariance, places))
        with np.errstate(divide="ignore", invalid="ignore"):
            return t_p(places @ effect / se, df)

    most = curve.inference.most_tested
    return critical_of(rule, curve.level, df, dimension, most, p_values)


def roots_between(effect: FloatArray, spread: FloatArray, curve: Curve) -> tuple[float, ...]:
    """Places within the observed range at which the squared effect equals the spread."""
    polynomial = np.convolve(effect, effect)
    for j, row in enumerate(spread):
        polynomial[j : j + row.size] -= row
    size = float(np.abs(polynomial).max())
    while polynomial.size > 1 and abs(polynomial[-1]) <= 1e-12 * size:
        polynomial = polynomial[:-1]
    roots = np.roots(polynomial[::-1])
    real = np.sort(roots[np.abs(roots.imag) <= 1e-9].real)
    return curve.places([float(u) for u in real if -1.0 < u < 1.0])
