"""How the boundaries of an effect and the place where the lines meet move: without any one case, and over resamples."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.asked.leftout import without_each
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.tails import t_quantile
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.leftbounds import boundaries_without_each, roots_between
from yellow_slope.core.probe.seen import Sight

DRAWS = 1000
SEED = 1
MOST_CASES = 20_000
"""Of more cases no resamples are drawn here."""
WIDE = 400
"""Of a step with more columns neither."""
BATCH = 50


@dataclass(frozen=True, slots=True, eq=False)
class Moved:
    """Where boundaries and the crossing stand in each of many fits, within the observed range."""

    boundaries: tuple[tuple[float, ...] | None, ...]
    """Of each fit, rising; None where the model could not be fitted."""
    crossings: tuple[float, ...]
    """Those that lie within the observed range."""
    most: tuple[int, float, float] | None
    """Of leaving out cases: the one (by its position) that moves a boundary most, that boundary, and where to."""
    fits: int
    resampled: bool

    @property
    def places(self) -> tuple[float, ...]:
        """All boundaries of all fits."""
        return tuple(place for found in self.boundaries if found is not None for place in found)

    @property
    def without(self) -> int:
        """Fits that have another number of boundaries than most."""
        counts = [len(found) for found in self.boundaries if found is not None]
        if not counts:
            return 0
        usual = max(set(counts), key=counts.count)
        return sum(count != usual for count in counts)

    def spans(self, share: float = 1.0) -> tuple[tuple[float, float], ...]:
        """The range of each boundary over the fits with the usual number of them: of all, or of a middle share."""
        told = [found for found in self.boundaries if found is not None]
        counts = [len(found) for found in told]
        if not counts:
            return ()
        usual = max(set(counts), key=counts.count)
        each = zip(*(found for found in told if len(found) == usual))
        rest = (1.0 - share) / 2
        return tuple(
            (float(np.quantile(values, rest)), float(np.quantile(values, 1 - rest))) for values in map(np.array, each)
        )


def crossing_curve(sight: Sight) -> Curve | None:
    """The difference of the first two lines of the interaction plot, which is 0 where they meet; None where they do not
    meet in one place."""
    lines = sight.panel.lines
    if len(lines) < 2 or not sight.panel.crossing:
        return None
    apart = lines[1].curve.minus(lines[0].curve)
    return apart if apart.g.shape[1] == 2 and apart.along.axis.is_identity and apart.is_estimable else None


def without_any_one(sight: Sight) -> Moved | None:
    """Without each case, with classical errors, read off the fit; None where there are no boundaries to move, or too
    many cases."""
    fit, step, curve = sight.probed.fit, sight.probed.step, sight.focus.curve
    if curve is None:
        return None
    found = boundaries_without_each(fit, step, curve)
    if found is None:
        return None
    most: tuple[int, float, float] | None = None
    now = sight.focus.regions.boundaries if sight.focus.regions is not None else ()
    for i, places in enumerate(found.at):
        if places is None or len(places) != len(now):
            continue
        for before, after in zip(now, places):
            if most is None or abs(after - before) > abs(most[2] - most[1]):
                most = (i, before, after)
    apart = crossing_curve(sight)
    crossings: tuple[float, ...] = ()
    if apart is not None:
        level = sight.probed.level
        constant, slope = (without_each(fit, step, apart.g[:, k], level).effect for k in (0, 1))
        crossings = _zeros(apart, constant, slope)
    return Moved(found.at, crossings, most, len(found.at), False)


def over_resamples(
    sight: Sight, draws: int = DRAWS, seed: int = SEED, go_on: Callable[[float], None] = lambda share: None
) -> Moved | None:
    """In resamples of the cases, each with classical errors of its own; None where there are no boundaries, or too many
    cases or columns."""
    fit, step, curve = sight.probed.fit, sight.probed.step, sight.focus.curve
    if curve is None or not curve.is_estimable or curve.is_level or fit.y.size > MOST_CASES:
        return None
    work = _resampling(fit, step)
    if work.q.shape[1] > WIDE or fit.y.size <= work.q.shape[1]:
        return None
    along, critical = work.rows(curve), t_quantile(curve.level, fit.y.size - work.q.shape[1])
    apart = crossing_curve(sight)
    apart_rows = work.rows(apart) if apart is not None else None
    found: list[tuple[float, ...] | None] = []
    ends: list[FloatArray] = []
    rng, n = np.random.default_rng(seed), fit.y.size
    for start in range(0, draws, BATCH):
        go_on(start / draws)
        for _ in range(min(BATCH, draws - start)):
            weights = np.bincount(rng.integers(0, n, n), minlength=n).astype(np.float64)
            drawn = work.fitted(weights)
            if drawn is None:
                found.append(None)
                continue
            solution, inverse, s2 = drawn
            spread = critical**2 * s2 * (along @ inverse @ along.T)
            found.append(roots_between(along @ solution, spread, curve))
            if apart_rows is not None:
                ends.append(apart_rows @ solution)
    crossings: tuple[float, ...] = ()
    if apart is not None and ends:
        both = np.stack(ends)
        crossings = _zeros(apart, both[:, 0], both[:, 1])
    return Moved(tuple(found), crossings, None, draws, True)


def _zeros(apart: Curve, constant: FloatArray, slope: FloatArray) -> tuple[float, ...]:
    """Where lines constant + slope·u are 0, within the observed range."""
    with np.errstate(divide="ignore", invalid="ignore"):
        u = -constant / slope
    here = np.isfinite(u) & (np.abs(u) <= 1.0)
    return tuple(float(v) for v in apart.along.middle + apart.along.half * u[here])


@dataclass(frozen=True, slots=True, eq=False)
class _Resampling:
    q: FloatArray
    """Shape (n, m): the orthonormal basis of the step."""
    y: FloatArray
    root: FloatArray
    """Shape (1 + columns of the step, m): b = root Q'y."""

    def rows(self, curve: Curve) -> FloatArray:
        """Shape (degree + 1, m): the effect's polynomial in the coordinates of the basis."""
        return np.asarray(curve.g.T @ self.root)

    def fitted(self, weights: FloatArray) -> tuple[FloatArray, FloatArray, float] | None:
        """Solution (m,), (Q'WQ)⁻¹ and s² of cases counted so often; None where they do not tell all columns apart."""
        weighted = self.q * weights[:, None]
        crossed = self.q.T @ weighted
        values, vectors = np.linalg.eigh(crossed)
        if not values[0] > 1e-9 * values[-1]:
            return None
        inverse = (vectors / values) @ vectors.T
        solution = inverse @ (weighted.T @ self.y)
        rest = self.y - self.q @ solution
        return solution, inverse, float(weights @ rest**2) / (self.y.size - self.q.shape[1])


def _resampling(fit: Fit, step: int) -> _Resampling:
    result, factored = fit.steps[step], fit.factored
    m = factored.size(result.n_columns)
    q = np.vstack([part for part, _, _ in factored.orthonormal(m)])
    kept = np.concatenate([[0], factored.kept[:m] + 1])
    root = np.zeros((result.n_columns + 1, m + 1))
    root[kept] = factored.root(m)
    first = 0 if factored.constant else 1
    return _Resampling(q[:, first:], fit.y, root[:, first:])
