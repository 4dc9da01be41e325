"""A sum of coefficients as a polynomial along a number: effect, interval, and where it is significant."""

from __future__ import annotations

import itertools
from enum import StrEnum

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.design.design import Along
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, Inference
from yellow_slope.core.fit.solve.draws import Spread
from yellow_slope.core.fit.solve.factor import EPS
from yellow_slope.core.fit.solve.scipylater import optimize
from yellow_slope.core.fit.solve.tails import CLOSE, t_p, t_quantile
from yellow_slope.values import dataclass

TINY = 1e-300
"""A boundary at 0 is found this closely."""
PLACES = 161
"""At so many places over the observed range draws are asked before boundaries are searched between them."""
CLEAN = 1e-12
"""A sum of terms is 0 when it is smaller than this share of its terms' sizes."""


@dataclass(frozen=True, slots=True)
class Stretch:
    """A stretch of the moderator. Sign +1 or -1: told apart from 0 on that side; 0: not told apart."""

    low: float
    """-inf where nothing bounds it."""
    high: float
    sign: int


class FiellerKind(StrEnum):
    """The shapes that Fieller's set can have."""

    BOUNDED = "bounded"
    TWO_RAYS = "two rays"
    WHOLE_LINE = "whole line"
    FIXED = "fixed by the model"
    """No set: the model has no term that could move the place."""


@dataclass(frozen=True, slots=True)
class Crossover:
    """Where an effect is 0, with Fieller's (1954) set of places at which it may be."""

    at: float
    kind: FiellerKind
    low: float
    """Lower end; of two rays the end of the lower one. -inf on the whole line."""
    high: float


@dataclass(frozen=True, slots=True, eq=False)
class Curve:
    """g(w)·b with g a polynomial in u, coordinate of w = middle + half·u."""

    g: FloatArray
    """Shape (1 + columns of the step, degree + 1), lowest power first."""
    inference: Inference
    level: float
    along: Along
    less: float = 0.0
    """What is taken off the effect, to ask where it passes another size than 0."""

    @property
    def is_estimable(self) -> bool:
        """Whether the cases tell of it everywhere along the number."""
        return not self.inference.nulls.size or bool(np.all(self.inference.estimable(self.g.T)))

    @property
    def has_errors(self) -> bool:
        """Whether it has standard errors."""
        return self.inference.without is None and self.is_estimable and not self.cancels

    @property
    def cancels(self) -> bool:
        """Whether its robust standard error is 0 everywhere, though the model does not fix it."""
        if self.inference.rounding is None:
            return False
        powers = np.vander(np.linspace(-1.0, 1.0, 5), self.g.shape[1], increasing=True)
        rows = (self.g @ powers.T).T
        if self.inference.draws is not None:
            se = self._drawn(powers, self.level).se
        else:
            spread = rows @ self.inference.root
            se = np.sqrt(np.einsum("ij,ij->i", spread, spread))
        return bool(np.all(self.inference.cancels(rows, se)))

    def _drawn(self, powers: FloatArray, level: float) -> Spread:
        """What the draws say of the effect, less what is taken off, at powers of u (m, degree + 1)."""
        assert self.inference.draws is not None
        return self.inference.draws.of(self.g).spread(powers, powers @ self.effect_polynomial, level, self.less)

    def level_of(self, critical: float) -> float:
        """The level of the intervals that a critical t gives."""
        return 1.0 - float(t_p(critical, self.inference.df))

    @property
    def effect_polynomial(self) -> FloatArray:
        """Shape (degree + 1,): g·b in u, less what is taken off."""
        found = np.asarray(self.inference.solution @ self.g)
        if self.less:
            found = found.copy()
            found[0] -= self.less
        return found

    @property
    def is_level(self) -> bool:
        """Whether it is the same everywhere."""
        return not np.any(self.g[:, 1:])

    def _powers(self, w: FloatArray) -> FloatArray:
        u = self.along.u(np.atleast_1d(w))
        return np.vander(u, self.g.shape[1], increasing=True)

    def effect(self, w: FloatArray) -> FloatArray:
        """Shape (m,): g·b at places w (m,); NaN where no case tells of it."""
        effect: FloatArray = self._powers(w) @ self.effect_polynomial
        return effect if self.is_estimable else np.full_like(effect, np.nan)

    def se(self, w: FloatArray) -> FloatArray:
        """Shape (m,): sqrt of g Cov(b) g'; NaN where there are no standard errors."""
        if self.inference.draws is not None and self.has_errors:
            return self._drawn(self._powers(w), self.level).se
        spread = self._powers(w) @ (self.inference.root.T @ self.g).T
        found = np.asarray(np.sqrt(np.einsum("ij,ij->i", spread, spread)))
        return found if self.has_errors else np.full_like(found, np.nan)

    def p(self, w: FloatArray) -> FloatArray:
        """Shape (m,): p of the effect at places w (m,); NaN where it has no standard error."""
        if self.inference.draws is not None and self.has_errors:
            return self._drawn(self._powers(w), self.level).p
        with np.errstate(divide="ignore", invalid="ignore"):
            return t_p(self.effect(w) / self.se(w), self.inference.df)

    def band(self, w: FloatArray, critical: float | None = None) -> tuple[FloatArray, FloatArray]:
        """Effect -/+ a critical value times its standard error: low and high, each (m,). None: each point by itself.

        Of draws the interval of the level that the critical value has.
        """
        if self.inference.draws is not None and self.has_errors:
            found = self._drawn(self._powers(w), self.level if critical is None else self.level_of(critical))
            return found.low, found.high
        c = self.pointwise if critical is None else critical
        effect, half = self.effect(w), c * self.se(w)
        return effect - half, effect + half

    def row(self, w: float) -> FloatArray:
        """Shape (1 + columns,): g at a place, sums that cancel being exactly 0."""
        powers = self._powers(np.array([w]))[0]
        g = self.g @ powers
        g[np.abs(g) <= CLEAN * (np.abs(self.g) @ np.abs(powers))] = 0.0
        return np.asarray(g)

    def at(self, w: float) -> ConditionalEffect:
        """The effect at one place."""
        return self.inference.estimate(self.row(w), self.level)

    def minus(self, other: Curve) -> Curve:
        """The difference of two curves along the same number."""
        width = max(self.g.shape[1], other.g.shape[1])
        mine, theirs = (np.pad(c.g, ((0, 0), (0, width - c.g.shape[1]))) for c in (self, other))
        apart = mine - theirs
        apart[np.abs(apart) <= CLEAN * (np.abs(mine) + np.abs(theirs))] = 0.0
        while apart.shape[1] > 1 and not np.any(apart[:, -1]):
            apart = apart[:, :-1]
        return Curve(apart, self.inference, self.level, self.along)

    # ---- regions

    @property
    def dimension(self) -> int:
        """How many dimensions g spans along the number, whatever clusters tell of them."""
        rounding = self.inference.rounding
        root = self.inference.root if rounding is None else rounding.bare
        return int(np.linalg.matrix_rank(root.T @ self.g))

    @property
    def pointwise(self) -> float:
        """The t that each point by itself must pass."""
        return t_quantile(self.level, self.inference.df)

    def boundaries(self, critical: float | None = None) -> tuple[float, ...]:
        """Places where |t| equals a critical value, by default that of each point (Johnson & Neyman 1936; Bauer &
        Curran 2005)."""
        if not self.has_errors:
            return ()
        return self.places(self._bounds(self.pointwise if critical is None else critical))

    def _bounds(self, c: float) -> list[float]:
        """u where |t| equals c; of draws where the interval ends at 0, within the observed range."""
        if not np.isfinite(c):
            return []
        if self.inference.draws is not None:
            return self._drawn_bounds(c)
        effect = self.effect_polynomial
        spread = self.inference.root.T @ self.g
        variance = np.sum([np.convolve(row, row) for row in spread], axis=0)
        return self._crossings(np.convolve(effect, effect) - c * c * variance, c)

    def _drawn_bounds(self, c: float) -> list[float]:
        grid = np.linspace(-1.0, 1.0, PLACES)
        margins = self._margins(grid, c)
        signs = margins > 0
        return [
            float(optimize.brentq(lambda u: float(self._margins(np.array([u]), c)[0]), low, high, xtol=1e-10))
            for low, high, a, b in zip(grid, grid[1:], signs, signs[1:])
            if a != b
        ]

    def _margins(self, u: FloatArray, c: float) -> FloatArray:
        """Shape (m,): how far the interval of a critical value leaves 0 out; below 0 where it holds it."""
        powers = np.vander(u, self.g.shape[1], increasing=True)
        if self.inference.draws is not None:
            found = self._drawn(powers, self.level_of(c))
            return np.asarray(np.maximum(found.low, -found.high))
        spread = powers @ (self.inference.root.T @ self.g).T
        return np.asarray(np.abs(powers @ self.effect_polynomial) - c * np.sqrt(np.einsum("ij,ij->i", spread, spread)))

    def places(self, us: list[float]) -> tuple[float, ...]:
        """The places of values of u, in rising order."""
        low, high = self.ends()
        found: list[float] = []
        for u in us:
            coordinate = self.along.middle + self.along.half * u
            if abs(coordinate) <= 4 * EPS * (abs(self.along.middle) + abs(self.along.half * u)):
                coordinate = 0.0
            found += self.along.axis.preimages(coordinate, low, high)
        return tuple(sorted(found))

    def ends(self) -> tuple[float, float]:
        """The places of u = -1 and 1, the ends of the observed range."""
        axis, ends = self.along.axis, (self.along.middle - self.along.half, self.along.middle + self.along.half)
        if axis.is_identity:
            return ends
        back = [x for c in ends for x in axis.preimages(c, -np.inf, np.inf)]
        return (min(back), max(back)) if back else ends

    def _crossings(self, polynomial: FloatArray, c: float) -> list[float]:
        fixed = np.array(self._fixed_us())
        near = _real_roots(polynomial, 1e-6)
        near = np.array([u for u in near if not np.any(np.abs(u - fixed) <= 1e-5 * (1 + abs(u)))])
        if not near.size:
            return []
        between = [near[0] - 1 - abs(near[0]), *((near[:-1] + near[1:]) / 2), near[-1] + 1 + abs(near[-1])]
        found: list[float] = []
        for low, high in itertools.pairwise(between):
            if (self._excess(low, c) > 0) != (self._excess(high, c) > 0):
                found.append(float(optimize.brentq(self._excess, low, high, args=(c,), xtol=TINY, rtol=CLOSE)))
        return found

    def _excess(self, u: float, c: float) -> float:
        return float(self._margins(np.array([u]), c)[0])

    def stretches(self, critical: float, observed: FloatArray) -> tuple[Stretch, ...]:
        """The stretches between boundaries with their sign. observed (n,): of a transformed number only what lies
        between them.

        A stretch also ends where the effect changes its sign without passing through one that is not told apart from 0.
        """
        if not self.has_errors or (self.is_level and not np.any(self.inference.root.T @ self.g)):
            return ()
        if not np.isfinite(critical):
            return (Stretch(-np.inf, np.inf, 0),)
        edges = self._bounds(critical)
        turns = [u for u in self._fixed_us() if self._turns(u, critical)]
        least, most = float(observed.min()), float(observed.max())
        places = list(self.places([*edges, *turns]))
        if not self.along.axis.is_identity:
            places = [w for w in places if least < w < most]
        found: list[Stretch] = []
        for low, high in itertools.pairwise([-np.inf, *places, np.inf]):
            w = self._inside(low, high, least, most)
            sign = 0 if not self._margins(self.along.u(w), critical)[0] > 0 else int(np.sign(self.effect(w)[0]))
            found.append(Stretch(low, high, sign))
        return tuple(found)

    def _turns(self, u: float, c: float) -> bool:
        step = 1e-6
        powers = [(u + side * step) ** np.arange(self.g.shape[1]) for side in (-1, 1)]
        left, right = (float(self.effect_polynomial @ p) for p in powers)
        return left * right < 0 and self._excess(u - step, c) > 0 and self._excess(u + step, c) > 0

    def _inside(self, low: float, high: float, least: float, most: float) -> FloatArray:
        """Shape (1,): a place inside a stretch; of a transformed number, and of draws, inside the observed range as
        well."""
        if self.along.axis.is_identity and self.inference.draws is None:
            reach = self.along.half
            if np.isinf(low) and np.isinf(high):
                w = self.along.middle
            elif np.isinf(low):
                w = high - max(reach, abs(high - self.along.middle))
            elif np.isinf(high):
                w = low + max(reach, abs(low - self.along.middle))
            else:
                w = (low + high) / 2
        else:
            w = (max(low, least) + min(high, most)) / 2
        return np.array([w])

    # ---- zeros

    def _zero_us(self) -> list[float]:
        return [float(u) for u in _real_roots(self.effect_polynomial, 1e-9)]

    def _fixed_us(self) -> list[float]:
        """Where the effect is 0 without any error: the model has no term that could move the place."""
        spread = self.inference.root.T @ self.g
        usual = max(float(np.linalg.norm(spread @ (u ** np.arange(self.g.shape[1])))) for u in (-1.0, 0.0, 1.0))
        sizes = [(u, float(np.linalg.norm(spread @ (u ** np.arange(self.g.shape[1]))))) for u in self._zero_us()]
        return [u for u, size in sizes if size <= 1e-9 * usual * (1 + abs(u)) ** (self.g.shape[1] - 1)]

    def zeros(self) -> tuple[float, ...]:
        """Where the effect itself is 0."""
        return self.places(self._zero_us()) if self.is_estimable else ()

    def zero(self) -> Crossover | None:
        """The one place where a linear effect is 0, with Fieller's set: the complement of its pointwise region.

        None of draws: they give no such set.
        """
        if (
            not self.has_errors
            or self.inference.draws is not None
            or self.g.shape[1] != 2
            or not self.along.axis.is_identity
        ):
            return None
        zeros, bounds = self.zeros(), self.boundaries()
        if len(zeros) != 1:
            return None
        if self._fixed_us():
            return Crossover(zeros[0], FiellerKind.FIXED, -np.inf, np.inf)
        if len(bounds) == 1:
            return None
        if not bounds:  # at the zero nothing is significant, and so nowhere
            return Crossover(zeros[0], FiellerKind.WHOLE_LINE, -np.inf, np.inf)
        low, high = bounds
        kind = FiellerKind.BOUNDED if low <= zeros[0] <= high else FiellerKind.TWO_RAYS
        return Crossover(zeros[0], kind, low, high)


def _real_roots(polynomial: FloatArray, tolerance: float) -> FloatArray:
    """The real roots in rising order; a leading coefficient below 1e-12 of the largest drops the degree."""
    largest = np.abs(polynomial).max() if polynomial.size else 0.0
    if not largest > 0:
        return np.zeros(0)
    while polynomial.size > 1 and abs(polynomial[-1]) < 1e-12 * largest:
        polynomial = polynomial[:-1]
    if polynomial.size < 2:
        return np.zeros(0)
    roots = np.polynomial.polynomial.polyroots(polynomial)
    return np.asarray(np.sort(roots.real[np.abs(roots.imag) <= tolerance * (1 + np.abs(roots))]))


def curve(inference: Inference, rows: FloatArray, along: Along, level: float) -> Curve:
    """A curve from the design's rows (1 + all columns, degree + 1); columns beyond the step are cut off."""
    here = rows[: inference.solution.size]
    while here.shape[1] > 1 and not np.any(here[:, -1]):
        here = here[:, :-1]
    return Curve(here, inference, level, along)
