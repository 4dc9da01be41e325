"""Inference: the one door to standard errors, tests and intervals of a step, whatever kind of errors was chosen.

What no case tells of is not given: an effect g·b is estimable if g is orthogonal to every null vector of the step's
model matrix. A quantity that does not exist is NaN and comes with the reason.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.solve.draws import Draws
from yellow_slope.core.fit.solve.scipylater import linalg
from yellow_slope.core.fit.solve.tails import f_p, t_p, t_quantile
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.values import dataclass

NAN = float("nan")
NOISE = 1e-12
"""Share of an effect, in columns of unit length, below which a part of it is rounding."""


@dataclass(frozen=True, slots=True)
class FTest:
    """A test of one or several hypotheses at once; p is NaN where it does not exist, `why` says the reason.

    Errors that come from draws give a p without an F: then f is NaN.
    """

    f: float
    df1: int
    df2: int
    p: float
    why: Why | None = None

    @property
    def exists(self) -> bool:
        """Whether there is a test at all."""
        return not np.isnan(self.p)

    @property
    def has_f(self) -> bool:
        """Whether it is an F; one that is read off draws is none."""
        return not np.isnan(self.f)


def no_test(df1: int, df2: int, why: Why) -> FTest:
    """A test that does not exist."""
    return FTest(NAN, df1, df2, NAN, why)


@dataclass(frozen=True, slots=True)
class ConditionalEffect:
    """An effect with its test and interval. NaN where something does not exist; `why` says the reason."""

    effect: float
    """Outcome units per treated unit of a focal number, or outcome units between two groups."""
    se: float
    t: float
    p: float
    low: float
    high: float
    df: int
    why: Why | None = None

    @property
    def exists(self) -> bool:
        """Whether there is an effect at all."""
        return not np.isnan(self.effect)


@dataclass(frozen=True, slots=True, eq=False)
class Estimates:
    """Several effects, each array (m,): NaN where an effect is not estimable, or has no standard error."""

    effect: FloatArray
    se: FloatArray
    t: FloatArray
    """NaN throughout where the errors come from draws."""
    p: FloatArray
    low: FloatArray
    high: FloatArray


@dataclass(frozen=True, slots=True, eq=False)
class Rounding:
    """How large a robust standard error may be by rounding alone, where the residuals that it is made of cancel."""

    bare: FloatArray
    """Shape (1 + columns, r): L with L L' = Cov(b) / s² if all errors were alike."""
    residuals: float
    terms: float

    def lengths(self, rows: FloatArray) -> FloatArray:
        """Shape (m,): standard errors of rows g (m, 1 + columns), over s, if all errors were alike."""
        spread = rows @ self.bare
        found: FloatArray = np.sqrt(np.einsum("ij,ij->i", spread, spread))
        return found

    def of(self, rows: FloatArray) -> FloatArray:
        """Shape (m,): what a standard error must pass to be more than rounding."""
        sizes = np.abs(rows) @ np.sqrt(np.einsum("ij,ij->i", self.bare, self.bare))
        found: FloatArray = self.residuals * self.lengths(rows) + self.terms * sizes
        return found


@dataclass(frozen=True, slots=True, eq=False)
class Inference:
    """What a step's b is worth. Arrays run over the constant and all columns of the step."""

    solution: FloatArray
    """Shape (1 + columns,): 0 where a column was left out."""
    root: FloatArray
    """Shape (1 + columns, r): L with Cov(b) = L L'; rows of left-out columns are 0."""
    df: int
    nulls: FloatArray
    """Shape (nulls, columns): null vectors of the step's mean-shifted matrix."""
    means: FloatArray
    """Shape (columns,): the shift; zeros without a constant."""
    lengths: FloatArray
    """Shape (1 + columns,): the length of every column, the constant first; what is asked of them has no unit then."""
    why: Why | None = None
    """Why there are no standard errors."""
    most_tested: int | None = None
    """The most coefficients that one test can hold (clusters minus 1); None: any number."""
    draws: Draws | None = None
    """Resamples, from which single effects get their standard error, interval and p."""
    rounding: Rounding | None = None
    """Of robust errors and of draws: when a standard error is nothing but rounding."""
    awaits: Why | None = None
    """Why single effects have no standard errors, although there are tests and regions."""

    @property
    def without(self) -> Why | None:
        """Why a single effect has no standard error; None where it has one."""
        return self.why or self.awaits

    def estimable(self, g: FloatArray) -> BoolArray:
        """For rows g (m, 1 + columns) or one row: whether the cases tell of g·b."""
        return np.asarray(~np.any(self.hangs_on(np.atleast_2d(g)), axis=1))

    def hangs_on(self, rows: FloatArray) -> BoolArray:
        """Shape (m, nulls): which null vectors change g·b of rows g (m, 1 + columns)."""
        if not self.nulls.size:
            return np.zeros((rows.shape[0], 0), dtype=bool)
        shifted, nulls = self._of_units(rows), self._unit_nulls()
        sums, sizes = np.abs(shifted[:, 1:] @ nulls.T), np.abs(shifted[:, 1:]) @ np.abs(nulls.T)
        whole = np.abs(shifted).max(axis=1, initial=0.0)[:, None]
        rounding = (np.abs(rows[:, 1:]) + np.abs(rows[:, :1] * self.means)) / self.lengths[1:] @ np.abs(nulls.T)
        return np.asarray(sums > 1e-7 * sizes + 1e-11 * rounding + NOISE * whole)

    def _of_units(self, rows: FloatArray) -> FloatArray:
        """Rows g (m, 1 + columns) of columns about their means and of unit length; the constant first."""
        shifted = np.hstack([rows[:, :1], rows[:, 1:] - rows[:, :1] * self.means])
        return np.asarray(shifted / self.lengths)

    def _unit_nulls(self) -> FloatArray:
        """The null vectors of columns of unit length, the largest weight of each 1."""
        unit = self.nulls * self.lengths[1:]
        return np.asarray(unit / np.abs(unit).max(axis=1, keepdims=True))

    def cancels(self, rows: FloatArray, se: FloatArray) -> BoolArray:
        """Shape (m,): where the standard error of g·b is 0 though the model does not fix g·b. rows g: (m, 1 +
        columns)."""
        if self.rounding is None:
            return np.zeros(se.size, dtype=bool)
        return np.asarray((se <= self.rounding.of(rows)) & (self.rounding.lengths(rows) > 0))

    def estimates(self, g: FloatArray | None, level: float) -> Estimates:
        """Effects g·b of rows g (m, 1 + columns) with their tests and intervals; None: the coefficients themselves."""
        rows = None if g is None else np.atleast_2d(g)
        effect = self.solution if rows is None else rows @ self.solution
        if self.nulls.size:
            told = self.estimable(np.eye(self.solution.size) if rows is None else rows)
            effect = np.where(told, effect, np.nan)
        else:
            effect = effect.copy()
        spread = self.root if rows is None else rows @ self.root
        se = np.sqrt(np.einsum("ij,ij->i", spread, spread))
        whole = np.eye(self.solution.size) if rows is None else rows
        nothing = np.full(effect.size, np.nan)
        if self.draws is not None:
            fixed = se == 0
            effect[fixed & ~np.isnan(effect)] = 0.0
            if self.without is not None:
                return Estimates(effect, nothing, nothing, nothing, nothing, nothing)
            found = self.draws.spread(rows, effect, level)
            gone = np.isnan(effect) | fixed | self.cancels(whole, found.se)
            kept = [np.where(gone, np.nan, v) for v in (found.se, found.p, found.low, found.high)]
            return Estimates(effect, kept[0], nothing, *kept[1:])
        lost = self.cancels(whole, se)
        fixed = (se == 0) & ~lost
        effect[fixed & ~np.isnan(effect)] = 0.0
        gone = np.isnan(effect) | fixed | lost
        if self.without is not None:
            return Estimates(effect, nothing, nothing, nothing, nothing, nothing)
        se[gone] = np.nan
        t = effect / se
        half = self.critical(level) * se
        return Estimates(effect, se, t, t_p(t, self.df), effect - half, effect + half)

    def estimate(self, g: FloatArray, level: float) -> ConditionalEffect:
        """g·b with its test and interval. g: (1 + columns,)."""
        return self.estimate_all(g[None, :], level)[0]

    def estimate_all(self, rows: Sequence[FloatArray] | FloatArray, level: float) -> tuple[ConditionalEffect, ...]:
        """Each g·b of rows g (m, 1 + columns) with its test and interval, as `estimate` gives them one by one."""
        if not len(rows):
            return ()
        gs = np.atleast_2d(np.asarray(rows, dtype=np.float64))
        told = self.estimable(gs)
        spread = gs @ self.root
        sizes = np.sqrt(np.einsum("ij,ij->i", spread, spread))
        fixed = ~np.any(gs, axis=1) | (sizes == 0)
        if self.without is None and self.draws is None:
            fixed &= ~self.cancels(gs, sizes)
        found = self.estimates(gs, level)
        made = []
        for i in range(gs.shape[0]):
            if not told[i]:
                made.append(ConditionalEffect(NAN, NAN, NAN, NAN, NAN, NAN, self.df, Why.NOT_ESTIMABLE))
            elif fixed[i]:
                made.append(conditional(0.0, 0.0, self.df, level, is_fixed=True))
            elif self.without is not None:
                made.append(conditional(float(found.effect[i]), NAN, self.df, level, self.without))
            else:
                figures = (float(v[i]) for v in (found.effect, found.se, found.t, found.p, found.low, found.high))
                effect, se, t, p, low, high = figures
                why = (Why.CANCELS if self.rounding is not None else Why.NO_CASES) if np.isnan(se) else None
                made.append(ConditionalEffect(effect, se, t, p, low, high, self.df, why))
        return tuple(made)

    def test(self, g: FloatArray) -> FTest:
        """Joint F of the testable part of the hypotheses G b = 0; of draws a p alone. g: (q, 1 + columns).

        Where errors tell of fewer directions than the columns do there is no test of fewer in its place.
        """
        rows = self._testable(np.atleast_2d(g))
        q = rows.shape[0]
        if q == 0:
            return no_test(0, self.df, Why.NOT_ESTIMABLE)
        if self.df < 1:
            return no_test(q, self.df, Why.NO_CASES)
        if self.without is not None:
            return no_test(q, self.df, self.without)
        if self.most_tested is not None and q > self.most_tested:
            return no_test(q, self.df, Why.CLUSTERS)
        spread = rows @ self.root
        sizes = np.sqrt(np.einsum("ij,ij->i", spread, spread))
        if self.draws is None and self.rounding is not None and np.any(self.cancels(rows, sizes)):
            return no_test(q, self.df, Why.CANCELS)
        triangle, order = _pivoted(spread, sizes)
        q = _rank(triangle)
        # How many hypotheses there are the columns tell, not the errors; where these tell of all, they are as many.
        if self.rounding is not None and (self.draws is not None or q < rows.shape[0]):
            bare, by_columns = _pivoted(rows @ self.rounding.bare, self.rounding.lengths(rows))
            if self.draws is not None:
                q, order = _rank(bare), by_columns
            elif 0 < q < _rank(bare):
                return no_test(q, self.df, Why.CANCELS)
        if q == 0:
            return no_test(0, self.df, Why.FIXED)
        if self.draws is not None:
            return self._drawn_test(rows[order[:q]])
        sizes = np.where(sizes == 0, 1.0, sizes)
        effects = ((rows @ self.solution) / sizes)[order[:q]]
        z = linalg.solve_triangular(triangle[:q, :q], effects, trans="T", check_finite=False)
        f = float(z @ z) / q
        return FTest(f, q, self.df, f_p(f, q, self.df))

    def _drawn_test(self, rows: FloatArray) -> FTest:
        """The test of independent hypotheses by the draws: of one by inverting its interval, of several by their
        distance."""
        assert self.draws is not None
        q, effects = rows.shape[0], rows @ self.solution
        found = self.draws.spread(rows, effects, 0.95)
        if np.any(self.cancels(rows, found.se)):
            return no_test(q, self.df, Why.CANCELS)
        p = float(found.p[0]) if q == 1 else self.draws.joint_p(rows, effects)
        return no_test(q, self.df, Why.CANCELS) if np.isnan(p) else FTest(NAN, q, self.df, p)

    def _testable(self, rows: FloatArray) -> FloatArray:
        """The rows, or where not all are estimable a basis of their combinations that are."""
        if not self.nulls.size or bool(np.all(self.estimable(rows))):
            return rows
        unit = self._of_units(rows)
        whole = np.abs(unit).max(axis=1, keepdims=True)
        whole[whole == 0] = 1.0
        u, s, _ = np.linalg.svd((unit / whole)[:, 1:] @ self._unit_nulls().T)
        return np.asarray(u[:, int(np.sum(s > 1e-8)) :].T @ (rows / whole))

    def critical(self, level: float) -> float:
        """The t that a two-sided interval uses."""
        return t_quantile(level, self.df)


def _pivoted(spread: FloatArray, sizes: FloatArray) -> tuple[FloatArray, IntArray]:
    """The triangle of rows of unit length, the longest rest first, and their order."""
    unit = spread / np.where(sizes == 0, 1.0, sizes)[:, None]
    triangle, order = linalg.qr(unit.T, mode="r", pivoting=True, check_finite=False)
    return triangle, order


def _rank(triangle: FloatArray) -> int:
    diagonal = np.abs(np.diag(triangle))
    return int(np.sum(diagonal > 1e-10 * diagonal[0])) if diagonal.size else 0


def conditional(
    effect: float, se: float, df: int, level: float, why: Why | None = None, is_fixed: bool = False
) -> ConditionalEffect:
    """An effect with its test and interval; of one that the model fixes at 0 neither t nor p exist."""
    if is_fixed:
        return ConditionalEffect(0.0, 0.0, NAN, NAN, 0.0, 0.0, df, Why.FIXED)
    if why is not None or not se > 0:
        return ConditionalEffect(effect, NAN, NAN, NAN, NAN, NAN, df, why or Why.NO_CASES)
    t = effect / se
    half = t_quantile(level, df) * se
    return ConditionalEffect(effect, se, t, float(t_p(t, df)), effect - half, effect + half, df)
