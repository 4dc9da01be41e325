"""Where an effect's boundaries would be without each case, read off the fit that is there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.asked.leftout import LEAST_REST
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.factor import PERFECT
from yellow_slope.core.fit.solve.robust import FULL_LEVERAGE
from yellow_slope.core.fit.solve.tails import t_quantile
from yellow_slope.core.probe.curve import Curve

MOST_CASES = 5000
"""Of more cases the roots of each are not looked for."""


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


def boundaries_without_each(fit: Fit, step: int, curve: Curve) -> BoundariesWithoutEach | None:
    """Boundaries of an effect (Johnson & Neyman 1936), pointwise and with classical errors, without each case; None of
    too many cases, or where the cases tell nothing of it.

    (g·b)² - t²·variance is a polynomial along the number for each case: b changes as in `without_each`, the covariance
    over s² gains u u' / (1 - h).
    """
    result, factored = fit.steps[step], fit.factored
    n, inference = fit.y.size, result.inference
    if n > MOST_CASES or not curve.is_estimable or curve.is_level:
        return None
    m = factored.size(result.n_columns)
    rows = curve.g.T[:, np.concatenate([[0], factored.kept[:m] + 1])]  # (degree + 1, 1 + kept)
    along = rows @ factored.root(m)
    reach, leverage = np.empty((n, rows.shape[0])), np.empty(n)
    start = 0
    for q, _, _ in factored.orthonormal(m):
        here = slice(start, start + q.shape[0])
        reach[here], leverage[here] = q @ along.T, np.einsum("ij,ij->i", q, q)
        start += q.shape[0]
    room = np.where(1.0 - leverage > FULL_LEVERAGE, 1.0 - leverage, np.nan)
    residual, df = fit.y - fit.predicted(step), result.df - 1
    effects = curve.g.T @ inference.solution - reach * (residual / room)[:, None]
    rest = result.sse - residual**2 / room
    rounding = PERFECT * factored.noise(m, inference.solution[factored.kept[:m] + 1])
    noise = LEAST_REST * result.sse + n * rounding**2
    critical = t_quantile(curve.level, df)
    bare = along @ along.T
    found: list[tuple[float, ...] | None] = []
    for i in range(n):
        if df < 1 or not rest[i] > noise:
            found.append(None)
            continue
        spread = (bare + np.outer(reach[i], reach[i]) / room[i]) * (rest[i] / df)
        found.append(roots_between(effects[i], critical**2 * spread, curve))
    return BoundariesWithoutEach(tuple(found))


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
