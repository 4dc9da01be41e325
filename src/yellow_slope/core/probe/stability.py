"""How the boundaries of an effect and the place where the lines meet move: without any one case, and over resamples."""

from __future__ import annotations

from collections.abc import Callable
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.asked.leftout import left_out, weights_of
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.robust import FULL_LEVERAGE
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.leftbounds import boundaries_without_each, roots_between
from yellow_slope.core.probe.regions import critical_of
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, analytic
from yellow_slope.values import dataclass

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


def without_any_one(sight: Sight) -> Moved | Why:
    """Without each case, with the model's own errors and by the probe's rule, read off the fit; or why there is
    nothing to tell."""
    fit, step, curve = sight.probed.fit, sight.probed.step, sight.focus.curve
    if curve is None:
        return Why.NOTHING
    found = boundaries_without_each(fit, step, curve, sight.probed.probe.rule, _observed(sight))
    if isinstance(found, Why):
        return found
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
        effects = left_out(fit, step, apart.g.T).effects
        crossings = _zeros(apart, effects[:, 0], effects[:, 1])
    return Moved(found.at, crossings, most, len(found.at), False)


def _observed(sight: Sight) -> FloatArray:
    return np.asarray(sight.probed.fit.values[sight.probed.probe.moderator], dtype=np.float64)


def over_resamples(
    sight: Sight, draws: int = DRAWS, seed: int = SEED, go_on: Callable[[float], None] = lambda share: None
) -> Moved | Why:
    """In resamples of the cases, or of whole clusters where errors go by them, with errors of the model's kind and by
    the probe's rule; or why there are none."""
    fit, step, curve = sight.probed.fit, sight.probed.step, sight.focus.curve
    if curve is None or curve.is_level:
        return Why.NOTHING
    if not curve.is_estimable:
        return Why.NOT_ESTIMABLE
    if isinstance(fit.errors, Bootstrap):
        return Why.DRAWS
    if fit.y.size > MOST_CASES:
        return Why.TOO_MANY_CASES
    if sight.probed.probe.rule.rests_on_all_p:
        return Why.NO_RULE
    work = _resampling(fit, step)
    if work.q.shape[1] > WIDE:
        return Why.TOO_WIDE
    if fit.y.size <= work.q.shape[1]:
        return Why.NO_CASES
    along, most = work.rows(curve), curve.inference.most_tested
    critical = critical_of(sight.probed.probe.rule, curve.level, work.df, curve.dimension, most, lambda: np.zeros(0))
    apart = crossing_curve(sight)
    apart_rows = work.rows(apart) if apart is not None else None
    found: list[tuple[float, ...] | None] = []
    ends: list[FloatArray] = []
    rng = np.random.default_rng(seed)
    for start in range(0, draws, BATCH):
        go_on(start / draws)
        for _ in range(min(BATCH, draws - start)):
            drawn = work.fitted(work.counts(rng), along)
            if drawn is None:
                found.append(None)
                continue
            solution, covariance = drawn
            inside = np.isfinite(critical)
            found.append(roots_between(along @ solution, critical**2 * covariance, curve) if inside else ())
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
    errors: Classical | HC | Cluster
    clusters: IntArray | None
    n_clusters: int

    @property
    def df(self) -> int:
        """What t and F use: of clusters those that are drawn less 1."""
        return self.y.size - self.q.shape[1] if self.clusters is None else self.n_clusters - 1

    def rows(self, curve: Curve) -> FloatArray:
        """Shape (degree + 1, m): the effect's polynomial in the coordinates of the basis."""
        return np.asarray(curve.g.T @ self.root)

    def counts(self, rng: np.random.Generator) -> IntArray:
        """Shape (n,): how often each case, or its cluster, is drawn."""
        n = self.y.size if self.clusters is None else self.n_clusters
        drawn = np.bincount(rng.integers(0, n, n), minlength=n)
        return np.asarray(drawn if self.clusters is None else drawn[self.clusters], dtype=np.int64)

    def fitted(self, counts: IntArray, along: FloatArray) -> tuple[FloatArray, FloatArray] | None:
        """Solution (m,) and the covariance of the effects along (k, m) of cases counted so often; None where they do
        not tell all columns apart, or have no such errors."""
        weights = counts.astype(np.float64)
        weighted = self.q * weights[:, None]
        crossed = self.q.T @ weighted
        values, vectors = np.linalg.eigh(crossed)
        if not values[0] > 1e-9 * values[-1]:
            return None
        inverse = (vectors / values) @ vectors.T
        solution = inverse @ (weighted.T @ self.y)
        rest, turned = self.y - self.q @ solution, along @ inverse
        n, m = float(weights.sum()), self.q.shape[1]
        if n <= m:
            return None
        match self.errors:
            case Classical():
                s2 = float(weights @ rest**2) / (n - m)
                return solution, s2 * (turned @ along.T)
            case HC(kind):
                leverage = np.einsum("ij,ij->i", self.q @ inverse, self.q)
                if kind >= 2 and bool(np.any((counts > 0) & (leverage > 1 - FULL_LEVERAGE))):
                    return None
                sized = rest * weights_of(kind, np.where(counts > 0, leverage, 0.0), n, m)
                scored = (self.q @ turned.T) * (sized * np.sqrt(weights))[:, None]
                return solution, scored.T @ scored
            case Cluster():
                assert self.clusters is not None
                own = np.zeros((self.n_clusters, along.shape[0]))
                np.add.at(own, self.clusters, (self.q @ turned.T) * rest[:, None])
                times = np.zeros(self.n_clusters)
                times[self.clusters] = weights
                k = self.n_clusters
                return solution, (own.T * times) @ own * (k / (k - 1) * (n - 1) / (n - m))
            case _:
                assert_never(self.errors)


def _resampling(fit: Fit, step: int) -> _Resampling:
    result, factored = fit.steps[step], fit.factored
    m = factored.size(result.n_columns)
    q = np.vstack([part for part, _, _ in factored.orthonormal(m)])
    kept = np.concatenate([[0], factored.kept[:m] + 1])
    root = np.zeros((result.n_columns + 1, m + 1))
    root[kept] = factored.root(m)
    first = 0 if factored.constant else 1
    return _Resampling(q[:, first:], fit.y, root[:, first:], analytic(fit.errors), fit.clusters, fit.n_clusters or 0)
