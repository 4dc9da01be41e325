"""What effects would be without each case, read off the fit that is there: n refits that nobody has to make.

Belsley, Kuh & Welsch (1980): without case i, b changes by (X'X)⁻¹ x_i e_i / (1 - h_i), the residual sum of squares by
e_i² / (1 - h_i), the residual of case j by h_ij e_i / (1 - h_i) and its leverage by h_ij² / (1 - h_i). Columns stay as
they are: zero points and codes are those of all cases. Errors are the model's own.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.factor import PERFECT
from yellow_slope.core.fit.solve.robust import FULL_LEVERAGE
from yellow_slope.core.fit.solve.tails import f_tails, t_p, t_quantile
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster
from yellow_slope.values import dataclass

LEAST_REST = 1e-11
"""Of the residual sum of squares: what is left of it without a case is rounding below this."""
MOST_ROBUST = 5000
"""Robust errors look at every case for each that is left out; of more cases they are not asked for."""
MOST_ENTRIES = 1 << 25
"""Of more cases times effects times effects no covariances are made."""
ENTRIES = 1 << 21
"""Pairs of cases held at once."""
LEAST_RANK = 1e-12
"""Share of the largest below which a direction of the covariance of effects is none."""
CANCELLED = 1e-20
"""Share of a classical variance below which a robust one is rounding."""


@dataclass(frozen=True, slots=True, eq=False)
class LeftOut:
    """q effects without each case of the model.

    NaN where the model cannot be fitted without the case (leverage 1), and, of the covariance, where the fit without it
    is perfect or has no such errors.
    """

    effects: FloatArray
    """Shape (n, q)."""
    covariances: FloatArray
    """Shape (n, q, q), by the model's own kind of errors."""
    classical: FloatArray
    """Shape (n, q): classical standard errors, by which rounding is told."""
    dfbetas: FloatArray
    """Shape (n, q): what the case adds to each effect, in its classical standard error without the case."""
    df: FloatArray
    """Shape (n,): what t and F use."""
    why: Why | None = None
    """Why there is no covariance at all."""

    @property
    def se(self) -> FloatArray:
        """Shape (n, q): standard errors; NaN also where they are nothing but rounding."""
        found = np.einsum("iaa->ia", self.covariances)
        return np.sqrt(np.where(found > CANCELLED * self.classical**2, found, np.nan))

    def by_df(self) -> Iterator[tuple[float, BoolArray]]:
        """Each degree of freedom there is, with the cases (n,) that have it."""
        for df in np.unique(self.df):
            yield float(df), self.df == df


@dataclass(frozen=True, slots=True, eq=False)
class _Bare:
    """What leaving each case out does to q effects, before it is said by which errors they are judged."""

    along: FloatArray
    """Shape (q, m + 1): the effects in the coordinates of the orthonormal basis."""
    basis: FloatArray
    """Shape (n, m + 1)."""
    reach: FloatArray
    """Shape (n, q): each case's row in the effects' coordinates."""
    leverage: FloatArray
    room: FloatArray
    """Shape (n,): 1 - h; NaN where the model cannot be fitted without the case."""
    residual: FloatArray
    effects: FloatArray
    """Shape (n, q)."""
    moved: FloatArray
    s2: FloatArray
    """Shape (n,): residual variance without the case; NaN where the fit is perfect then."""


def _bare_of(fit: Fit, step: int, rows: FloatArray) -> _Bare:
    result, factored = fit.steps[step], fit.factored
    n, m, solution = fit.y.size, factored.size(result.n_columns), result.inference.solution
    kept = np.concatenate([[0], factored.kept[:m] + 1])
    along = rows[:, kept] @ factored.root(m)
    basis = np.vstack([q for q, _, _ in factored.orthonormal(m)])
    reach, leverage = basis @ along.T, np.einsum("ij,ij->i", basis, basis)
    room = np.where(1.0 - leverage > FULL_LEVERAGE, 1.0 - leverage, np.nan)
    residual, df = fit.y - fit.predicted(step), result.df - 1
    moved = reach * (residual / room)[:, None]
    rest = result.sse - residual**2 / room
    noise = LEAST_REST * result.sse + n * (PERFECT * factored.noise(m, solution[kept[1:]])) ** 2
    s2 = np.where((rest > noise) & (df > 0), rest / max(df, 1), np.nan)
    return _Bare(along, basis, reach, leverage, room, residual, rows @ solution - moved, moved, s2)


def _why_not(fit: Fit, step: int, q: int) -> Why | None:
    """Why there are no covariances without each case."""
    if fit.steps[step].inference.why is not None:
        return fit.steps[step].inference.why
    if isinstance(fit.errors, Bootstrap):
        return Why.DRAWS
    n, robust = fit.y.size, not isinstance(fit.errors, Classical)
    return Why.TOO_MANY_CASES if (robust and n > MOST_ROBUST) or n * q * q > MOST_ENTRIES else None


def left_out(fit: Fit, step: int, rows: FloatArray) -> LeftOut:
    """Effects G b of a step, rows G (q, 1 + columns), the constant first, without each case.

    The cases must tell of them: `Inference.estimable`.
    """
    bare, result = _bare_of(fit, step, rows), fit.steps[step]
    n, q = bare.reach.shape
    lengths = np.einsum("ai,ai->a", bare.along, bare.along)
    with np.errstate(divide="ignore", invalid="ignore"):
        dfbetas = bare.moved / np.sqrt(bare.s2[:, None] * lengths)
    classical = np.sqrt((lengths + bare.reach**2 / bare.room[:, None]) * bare.s2[:, None])
    df = np.full(n, float(max(result.df - 1, 0)))
    why = _why_not(fit, step, q)
    if why is not None:
        nothing = np.broadcast_to(np.full((1, 1, 1), np.nan), (n, q, q))
        return LeftOut(bare.effects, nothing, classical, dfbetas, df, why)
    if isinstance(fit.errors, Classical):
        outer = bare.reach[:, :, None] * bare.reach[:, None, :] / bare.room[:, None, None]
        covariances = (bare.along @ bare.along.T + outer) * bare.s2[:, None, None]
    else:
        cases = _Cases(bare.basis, bare.reach, bare.leverage, bare.residual, bare.room)
        found, df = _robust(fit, cases, result.rank, fit.errors)
        covariances = np.where(np.isnan(bare.s2)[:, None, None], np.nan, found)
    return LeftOut(bare.effects, covariances, classical, dfbetas, df)


@dataclass(frozen=True, slots=True, eq=False)
class _Cases:
    basis: FloatArray
    reach: FloatArray
    """Shape (n, q): each case's row in the effects' coordinates."""
    leverage: FloatArray
    residual: FloatArray
    room: FloatArray

    def pieces(self) -> Iterator[tuple[slice, FloatArray, FloatArray, FloatArray, FloatArray]]:
        """By pieces of cases that are left out: which, h_ij / (1 - h_i), and without them residuals, leverages (piece,
        n), and rows (piece, n, q)."""
        n, q = self.reach.shape
        size = max(1, ENTRIES // (n * (q + 2)))
        for start in range(0, n, size):
            here = slice(start, start + size)
            h = self.basis[here] @ self.basis.T
            share = h / self.room[here, None]
            residual = self.residual + share * self.residual[here, None]
            leverage = self.leverage + share * h
            rows = self.reach + share[:, :, None] * self.reach[here, None, :]
            yield here, share, residual, leverage, rows


def _robust(fit: Fit, cases: _Cases, rank: int, errors: HC | Cluster | Bootstrap) -> tuple[FloatArray, FloatArray]:
    """Shape (n, q, q), (n,): the covariance without each case, and the degrees of freedom."""
    n, q = cases.reach.shape
    found, df = np.full((n, q, q), np.nan), np.full(n, float(n - 1 - rank))
    for here, _, residual, leverage, rows in cases.pieces():
        own = (np.arange(residual.shape[0]), np.arange(n)[here])
        residual[own] = leverage[own] = 0.0  # the case itself is not there
        match errors:
            case HC(kind):
                weighted = residual * weights_of(kind, leverage, n - 1, rank)
                scored = rows * weighted[:, :, None]
                found[here] = np.einsum("ija,ijb->iab", scored, scored)
            case Cluster():
                assert fit.clusters is not None
                found[here], df[here] = _clustered(fit.clusters, rows * residual[:, :, None], np.arange(n)[here], rank)
            case Bootstrap():
                pass
            case _:
                assert_never(errors)
    return found, df


def weights_of(kind: int, leverage: FloatArray, n: float, rank: int) -> FloatArray:
    """Root of how much a squared residual counts under HC0 to HC4; NaN where a case has leverage 1."""
    if kind < 2:
        return np.full_like(leverage, np.sqrt(n / (n - rank)) if kind == 1 else 1.0)
    room = np.where(1.0 - leverage > FULL_LEVERAGE, 1.0 - leverage, np.nan)
    power = np.minimum(4.0, n * leverage / rank) if kind == 4 else float(kind - 1)
    return np.asarray(room ** (-power / 2.0))


def _clustered(clusters: IntArray, scored: FloatArray, left: IntArray, rank: int) -> tuple[FloatArray, FloatArray]:
    """CR1 of scores (piece, n, q) without each of the cases `left`; a cluster that is left empty counts no more."""
    n, k = clusters.size, int(clusters.max()) + 1
    order = np.argsort(clusters, kind="stable")
    starts = np.searchsorted(clusters[order], np.arange(k))
    sums = np.add.reduceat(scored[:, order], starts, axis=1)
    counts = k - (np.bincount(clusters, minlength=k)[clusters[left]] == 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        factor = np.where(counts > 1, counts / (counts - 1) * (n - 2) / (n - 1 - rank), np.nan)
    return np.einsum("ija,ijb->iab", sums, sums) * factor[:, None, None], (counts - 1).astype(np.float64)


@dataclass(frozen=True, slots=True, eq=False)
class WithoutEach:
    """One effect per case of the model, each (n,). NaN where the model cannot be fitted without the case (leverage 1),
    where the cases tell nothing of the effect, and, of all but `effect`, where the fit without it is perfect or has no
    such errors."""

    effect: FloatArray
    se: FloatArray
    p: FloatArray
    low: FloatArray
    high: FloatArray
    change: FloatArray
    """DFBETAS: the change of the effect in its classical standard error without the case."""
    why: Why | None = None
    """Why there are no standard errors at all."""


def without_each(fit: Fit, step: int, g: FloatArray, level: float) -> WithoutEach:
    """The effect g·b of a step (g: 1 + columns, the constant first) without each case, with the model's own errors."""
    inference, none = fit.steps[step].inference, np.full(fit.y.size, np.nan)
    if not bool(inference.estimable(g)[0]):
        return WithoutEach(none, none, none, none, none, none, Why.NOT_ESTIMABLE)
    found = left_out(fit, step, g[None, :])
    effect, se = found.effects[:, 0], found.se[:, 0]
    p, width = np.full(se.size, np.nan), np.full(se.size, np.nan)
    for df, here in found.by_df():
        p[here], width[here] = t_p(effect[here] / se[here], df), t_quantile(level, df) * se[here]
    return WithoutEach(effect, se, p, effect - width, effect + width, found.dfbetas[:, 0], found.why)


@dataclass(frozen=True, slots=True, eq=False)
class SetWithoutEach:
    """Of several effects at once: their joint test without each case, each (n,)."""

    f: FloatArray
    p: FloatArray
    why: Why | None = None
    """Why there is no test at all."""


def set_without_each(fit: Fit, step: int, rows: FloatArray) -> SetWithoutEach:
    """The joint test of effects (q, 1 + columns) without each case, with the model's own errors. NaN where the model
    cannot be fitted without the case, where the effects depend on each other, where errors tell of fewer directions,
    and where the fit without it is perfect.
    """
    n, inference, q = fit.y.size, fit.steps[step].inference, rows.shape[0]
    none = np.full(n, np.nan)
    if not bool(inference.estimable(rows).all()):
        return SetWithoutEach(none, none, Why.NOT_ESTIMABLE)
    if isinstance(fit.errors, Classical) and inference.why is None:
        return _classical_set(fit, step, rows)
    found = left_out(fit, step, rows)
    if found.why is not None:
        return SetWithoutEach(none, none, found.why)
    sizes = found.se
    with np.errstate(divide="ignore", invalid="ignore"):
        unit = found.covariances / (sizes[:, :, None] * sizes[:, None, :])
    there: BoolArray = np.asarray(np.isfinite(unit).all(axis=(1, 2)))
    values, vectors = np.linalg.eigh(np.where(there[:, None, None], unit, np.eye(q)))
    whole: BoolArray = there & (values[:, 0] > LEAST_RANK * values[:, -1])
    turned = np.einsum("iab,ia->ib", vectors, np.where(whole[:, None], found.effects / sizes, 0.0))
    f = np.where(whole, np.sum(turned**2 / np.where(whole[:, None], values, 1.0), axis=1) / q, np.nan)
    p = none.copy()
    for df, here in found.by_df():
        if q <= df or not isinstance(fit.errors, Cluster):
            p[here] = f_tails(f[here], q, df)
    return SetWithoutEach(np.where(np.isnan(p), np.nan, f), p)


def _classical_set(fit: Fit, step: int, rows: FloatArray) -> SetWithoutEach:
    """Without case i the covariance over s² is C + u u' / (1 - h), u the case's row in the effects' coordinates: its
    inverse is C⁻¹ less one product."""
    bare, q, df = _bare_of(fit, step, rows), rows.shape[0], fit.steps[step].df - 1
    if np.linalg.matrix_rank(bare.along) < q:
        none = np.full(fit.y.size, np.nan)
        return SetWithoutEach(none, none, Why.NOT_ESTIMABLE)
    inner = np.linalg.inv(bare.along @ bare.along.T)
    with np.errstate(divide="ignore", invalid="ignore"):
        turned = bare.reach @ inner
        gap = bare.room + np.einsum("ij,ij->i", turned, bare.reach)
        length = np.einsum("ij,ij->i", bare.effects @ inner, bare.effects)
        length -= np.einsum("ij,ij->i", turned, bare.effects) ** 2 / gap
        f = np.maximum(length, 0.0) / (q * bare.s2)
    return SetWithoutEach(f, f_tails(f, q, df))


@dataclass(frozen=True, slots=True)
class LeftOutRange:
    """A product over all fits without one case. b is NaN of a set of columns, p where the errors have no such p."""

    low: float
    high: float
    least: float
    """The lowest and highest end of an interval."""
    most: float
    p_low: float
    p_high: float
    case: int
    """Who moves it most, by position among the model's cases."""
    turns: tuple[int, ...]
    """Cases without whom p is on the other side of the level, each alone; the one that moves p furthest first."""
    p_turned: float
    """p without the first of them; NaN where there is none."""
    alone: int
    """Cases without whom nothing can be told."""
    why: Why | None = None
    """Why there is no p."""


def left_out_range(fit: Fit, step: int, columns: Sequence[int], level: float) -> LeftOutRange | None:
    """The range of one column's b, or of the joint test of several; None where nothing can be told."""
    columns = [j for j in columns if np.isfinite(fit.steps[step].b[j + 1])]
    if not columns:
        return None
    asked = np.eye(fit.steps[step].n_columns + 1)[[j + 1 for j in columns]]
    if len(columns) == 1:
        one = without_each(fit, step, asked[0], level)
        p, moved, why = one.p, np.abs(one.change), one.why
        spans = (one.effect, one.effect, one.low, one.high)
    else:
        several = set_without_each(fit, step, asked)
        p, why = several.p, several.why
        moved = np.abs(several.f - np.nanmedian(several.f)) if np.isfinite(several.f).any() else several.f
        spans = (np.full(p.size, np.nan),) * 4
    tested = bool(np.isfinite(p).any())
    if not tested and not np.isfinite(spans[0]).any():
        return None
    alpha, of_all = 1.0 - level, fit.steps[step].inference.test(asked).p
    turned = np.isfinite(p) & ((p < alpha) != (of_all < alpha)) if np.isfinite(of_all) else np.zeros(p.size, dtype=bool)
    turns = np.flatnonzero(turned)
    turns = turns[np.argsort(p[turns] if of_all >= alpha else -p[turns], kind="stable")]
    alone = p if tested else spans[0]
    return LeftOutRange(
        *(_end(np.fmin, spans[0]), _end(np.fmax, spans[1]), _end(np.fmin, spans[2]), _end(np.fmax, spans[3])),
        _end(np.fmin, p),
        _end(np.fmax, p),
        int(np.nanargmax(moved)) if np.isfinite(moved).any() else 0,
        tuple(int(i) for i in turns),
        float(p[turns[0]]) if turns.size else float("nan"),
        int(np.isnan(alone).sum()),
        why if not tested else None,
    )


def _end(of: np.ufunc, values: FloatArray) -> float:
    """The least or the largest of values; NaN where there is none."""
    return float(of.reduce(values))
