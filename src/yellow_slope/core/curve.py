"""A sum of coefficients as a polynomial along a number: effect, interval, and where it is told apart from zero."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from yellow_slope.core.design import Along
from yellow_slope.core.steps import StepResult
from yellow_slope.core.table import FloatArray
from yellow_slope.core.tails import f_quantile, t_p, t_quantile


@dataclass(frozen=True, slots=True)
class ConditionalEffect:
    """An effect at one place."""

    effect: float
    """Outcome units per treated unit of a focal number, or outcome units between two groups."""
    se: float
    t: float
    p: float
    low: float
    high: float
    df: int


@dataclass(frozen=True, slots=True)
class Region:
    """A stretch of the moderator. Sign +1 or -1: told apart from zero on that side; 0: not told apart."""

    low: float
    """-inf where nothing bounds it."""
    high: float
    sign: int
    cases: int
    share: float
    low_is_outside: bool
    """Whether a finite lower bound lies outside the observed range."""
    high_is_outside: bool


@dataclass(frozen=True, slots=True, eq=False)
class Curve:
    """g(w)·b with g a polynomial in u, w = middle + half·u."""

    g: FloatArray
    """Shape (coefficients, degree + 1), lowest power first."""
    b: FloatArray
    root: FloatArray
    """Shape (coefficients, rank): L with Cov(b) = s² L L'."""
    s2: float
    df: int
    level: float
    along: Along

    @property
    def effect_polynomial(self) -> FloatArray:
        """Shape (degree + 1,): g·b in u."""
        return self.b @ self.g

    def _powers(self, w: FloatArray) -> FloatArray:
        u = (np.asarray(w, dtype=np.float64) - self.along.middle) / self.along.half
        return np.vander(np.atleast_1d(u), self.g.shape[1], increasing=True)

    def effect(self, w: FloatArray) -> FloatArray:
        """Shape (m,): g·b at moderator values w (m,)."""
        effect: FloatArray = self._powers(w) @ self.effect_polynomial
        return effect

    def se(self, w: FloatArray) -> FloatArray:
        """Shape (m,): sqrt of g Cov(b) g'."""
        spread = self._powers(w) @ (self.root.T @ self.g).T
        return np.asarray(np.sqrt(self.s2 * np.einsum("ij,ij->i", spread, spread)))

    def band(self, w: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Pointwise interval: low and high, each (m,)."""
        effect, half = self.effect(w), t_quantile(self.level, self.df) * self.se(w)
        return effect - half, effect + half

    def at(self, w: float) -> ConditionalEffect:
        """The effect at one moderator value."""
        place = np.array([w])
        return conditional(float(self.effect(place)[0]), float(self.se(place)[0]), self.df, self.level)

    def critical(self, rule: str = "each point") -> float:
        """What |t| must pass: pointwise t, or for all points at once √(q·F(q, df)) (Potthoff 1964)."""
        if rule == "all points at once":
            q = int(np.linalg.matrix_rank(self.root.T @ self.g))
            return float(np.sqrt(q * f_quantile(self.level, q, self.df)))
        return t_quantile(self.level, self.df)

    def boundaries(self, rule: str = "each point") -> tuple[float, ...]:
        """Moderator values where |t| equals its critical value (Johnson & Neyman 1936; Bauer & Curran 2005)."""
        c = self.critical(rule)
        effect = self.effect_polynomial
        spread = self.root.T @ self.g
        variance = np.sum([np.convolve(row, row) for row in spread], axis=0)
        polynomial = np.convolve(effect, effect) - c * c * self.s2 * variance
        return tuple(self.along.middle + self.along.half * u for u in self._crossings(polynomial, c))

    def _crossings(self, polynomial: FloatArray, c: float) -> list[float]:
        largest = np.abs(polynomial).max()
        while polynomial.size > 1 and abs(polynomial[-1]) < 1e-12 * largest:
            polynomial = polynomial[:-1]
        if polynomial.size < 2:
            return []
        roots = np.polynomial.polynomial.polyroots(polynomial)
        near = np.sort(roots.real[np.abs(roots.imag) <= 1e-6 * (1 + np.abs(roots))])
        if near.size == 0:
            return []
        between = [near[0] - 1 - abs(near[0]), *((near[:-1] + near[1:]) / 2), near[-1] + 1 + abs(near[-1])]
        found: list[float] = []
        for low, high in itertools.pairwise(between):
            if (self._excess(low, c) > 0) != (self._excess(high, c) > 0):
                found.append(self._bisected(low, high, c))
        return found

    def _excess(self, u: float, c: float) -> float:
        powers = u ** np.arange(self.g.shape[1])
        spread = (self.root.T @ self.g) @ powers
        return abs(float(self.effect_polynomial @ powers)) - c * float(np.sqrt(self.s2 * (spread @ spread)))

    def _bisected(self, low: float, high: float, c: float) -> float:
        rising = self._excess(high, c) > 0
        for _ in range(200):
            middle = (low + high) / 2
            if middle in (low, high):
                break
            if (self._excess(middle, c) > 0) == rising:
                high = middle
            else:
                low = middle
        return (low + high) / 2

    def regions(self, observed: FloatArray, rule: str = "each point") -> tuple[Region, ...]:
        """The stretches between boundaries with their sign and the cases of `observed` (n,) in them."""
        c = self.critical(rule)
        edges = [-np.inf, *self.boundaries(rule), np.inf]
        least, most = float(observed.min()), float(observed.max())
        found: list[Region] = []
        for low, high in itertools.pairwise(edges):
            w = self._inside(low, high)
            effect, se = float(self.effect(np.array([w]))[0]), float(self.se(np.array([w]))[0])
            sign = 0 if abs(effect) <= c * se else (1 if effect > 0 else -1)
            cases = int(np.sum((observed >= low) & (observed < high)))
            found.append(
                Region(
                    low,
                    high,
                    sign,
                    cases,
                    cases / observed.size,
                    bool(np.isfinite(low) and not least <= low <= most),
                    bool(np.isfinite(high) and not least <= high <= most),
                )  # fmt: skip
            )
        return tuple(found)

    def _inside(self, low: float, high: float) -> float:
        if np.isinf(low) and np.isinf(high):
            return self.along.middle
        if np.isinf(low):
            return high - self.along.half
        return low + self.along.half if np.isinf(high) else (low + high) / 2

    def zeros(self) -> tuple[float, ...]:
        """Where the effect itself is 0."""
        polynomial = self.effect_polynomial
        largest = np.abs(polynomial).max()
        while polynomial.size > 1 and abs(polynomial[-1]) < 1e-12 * largest:
            polynomial = polynomial[:-1]
        if polynomial.size < 2:
            return ()
        roots = np.polynomial.polynomial.polyroots(polynomial)
        real = np.sort(roots.real[np.abs(roots.imag) <= 1e-9 * (1 + np.abs(roots))])
        return tuple(float(self.along.middle + self.along.half * u) for u in real)


def curve(step: StepResult, rows: FloatArray, along: Along, level: float) -> Curve:
    """A curve of a step from the design's rows (1 + all columns, degree + 1); columns beyond the step are cut off."""
    here = rows[: step.n_columns + 1]
    return Curve(here, np.nan_to_num(step.b), step.root, step.s2, step.df, level, along)


def combination(step: StepResult, g: FloatArray, level: float) -> ConditionalEffect:
    """g·b with its standard error. g: (1 + all columns,)."""
    here = g[: step.n_columns + 1]
    spread = here @ step.root
    effect = float(here @ np.nan_to_num(step.b))
    return conditional(effect, float(np.sqrt(step.s2 * (spread @ spread))), step.df, level)


def conditional(effect: float, se: float, df: int, level: float) -> ConditionalEffect:
    """An effect with its test and interval."""
    with np.errstate(divide="ignore", invalid="ignore"):
        t = float(np.divide(effect, se))
    half = t_quantile(level, df) * se
    return ConditionalEffect(effect, se, t, float(t_p(t, df)), effect - half, effect + half, df)
