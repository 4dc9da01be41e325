"""What an effect would be without each case, read off the fit that is there: n refits that nobody has to make.

Belsley, Kuh & Welsch (1980): without case i, b changes by (X'X)⁻¹ x_i e_i / (1 - h_i) and the residual sum of squares
by e_i² / (1 - h_i). Columns stay as they are: zero points and codes are those of all cases.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.factor import PERFECT
from yellow_slope.core.fit.solve.robust import FULL_LEVERAGE
from yellow_slope.core.fit.solve.tails import f_p, f_tails, t_p, t_quantile

LEAST_REST = 1e-11
"""Of the residual sum of squares: what is left of it without a case is rounding below this."""


@dataclass(frozen=True, slots=True, eq=False)
class WithoutEach:
    """Per case of the model, each (n,). NaN where the model cannot be fitted without the case (leverage 1), where the
    cases tell nothing of the effect, and, of all but `effect`, where the fit without it is perfect."""

    effect: FloatArray
    se: FloatArray
    p: FloatArray
    low: FloatArray
    high: FloatArray
    change: FloatArray
    """DFBETAS: the change of the effect in its standard error without the case."""
    p_of_all: float
    """With all cases, and classical errors too."""


def without_each(fit: Fit, step: int, g: FloatArray, level: float) -> WithoutEach:
    """The effect g·b of a step (g: 1 + columns, the constant first) without each case, with classical errors."""
    result, factored = fit.steps[step], fit.factored
    n, inference = fit.y.size, result.inference
    m = factored.size(result.n_columns)
    kept = np.concatenate([[0], factored.kept[:m] + 1])
    if not bool(inference.estimable(g)[0]):
        none = np.full(n, np.nan)
        return WithoutEach(none, none, none, none, none, none, float("nan"))
    along = factored.root(m).T @ g[kept]  # the effect in the coordinates of the orthonormal basis
    reach, leverage = np.empty(n), np.empty(n)
    start = 0
    for q, _, _ in factored.orthonormal(m):
        here = slice(start, start + q.shape[0])
        reach[here], leverage[here] = q @ along, np.einsum("ij,ij->i", q, q)
        start += q.shape[0]
    room = np.where(1.0 - leverage > FULL_LEVERAGE, 1.0 - leverage, np.nan)
    residual = fit.y - fit.predicted(step)
    effect = float(g @ inference.solution) - reach * residual / room
    df = result.df - 1
    with np.errstate(divide="ignore", invalid="ignore"):
        rest = result.sse - residual**2 / room
        rounding = PERFECT * factored.noise(m, inference.solution[kept[1:]])
        noise = LEAST_REST * result.sse + n * rounding**2
        s = np.sqrt(np.where((rest > noise) & (df > 0), rest / max(df, 1), np.nan))
        length = np.sqrt(float(along @ along) + reach**2 / room)
        se = np.where(length > 0, s * length, np.nan)
        p = t_p(effect / se, df)
        change = reach * residual / room / (s * np.sqrt(float(along @ along)))
        all_se = np.sqrt(result.s2 * float(along @ along)) if not result.is_perfect else np.nan
        p_of_all = float(t_p(float(g @ inference.solution) / all_se, result.df))
    width = t_quantile(level, df) * se
    return WithoutEach(effect, se, p, effect - width, effect + width, change, p_of_all)


@dataclass(frozen=True, slots=True, eq=False)
class SetWithoutEach:
    """Of several effects at once: their joint test without each case, each (n,)."""

    f: FloatArray
    p: FloatArray
    p_of_all: float


def set_without_each(fit: Fit, step: int, rows: FloatArray) -> SetWithoutEach:
    """The joint test of effects (q, 1 + columns) without each case, with classical errors. NaN where the model cannot
    be fitted without the case, where the effects depend on each other, and where the fit without it is perfect.

    Without case i their covariance over s² is C + u u' / (1 - h), u = A q the case's row in the effects' coordinates
    (Belsley, Kuh & Welsch 1980).
    """
    result, factored = fit.steps[step], fit.factored
    n, inference, q = fit.y.size, result.inference, rows.shape[0]
    none = np.full(n, np.nan)
    if not bool(inference.estimable(rows).all()):
        return SetWithoutEach(none, none, float("nan"))
    m = factored.size(result.n_columns)
    along = rows[:, np.concatenate([[0], factored.kept[:m] + 1])] @ factored.root(m)
    whole = along @ along.T
    if np.linalg.matrix_rank(along) < q:
        return SetWithoutEach(none, none, float("nan"))
    bare = np.linalg.inv(whole)
    reach, leverage = np.empty((n, q)), np.empty(n)
    start = 0
    for part, _, _ in factored.orthonormal(m):
        here = slice(start, start + part.shape[0])
        reach[here], leverage[here] = part @ along.T, np.einsum("ij,ij->i", part, part)
        start += part.shape[0]
    room = np.where(1.0 - leverage > FULL_LEVERAGE, 1.0 - leverage, np.nan)
    residual, df = fit.y - fit.predicted(step), result.df - 1
    effects = rows @ inference.solution
    with np.errstate(divide="ignore", invalid="ignore"):
        without = effects - reach * (residual / room)[:, None]
        rest = result.sse - residual**2 / room
        rounding = PERFECT * factored.noise(m, inference.solution[factored.kept[:m] + 1])
        noise = LEAST_REST * result.sse + n * rounding**2
        s2 = np.where((rest > noise) & (df > 0), rest / max(df, 1), np.nan)
        turned = reach @ bare
        gap = room + np.einsum("ij,ij->i", turned, reach)
        length = np.einsum("ij,ij->i", without @ bare, without)
        length -= np.einsum("ij,ij->i", turned, without) ** 2 / gap
        f = np.maximum(length, 0.0) / (q * s2)
        of_all = float(effects @ bare @ effects) / (q * result.s2) if not result.is_perfect else float("nan")
    return SetWithoutEach(f, f_tails(f, q, df), f_p(of_all, q, result.df))


@dataclass(frozen=True, slots=True)
class LeftOutRange:
    """A product over all fits without one case. b is NaN of a set of columns."""

    low: float
    high: float
    least: float
    """The lowest and highest end of an interval."""
    most: float
    p_low: float
    p_high: float
    p_of_all: float
    """With all cases, and classical errors too."""
    case: int
    """Who moves it most, by position among the model's cases."""
    turns: tuple[int, ...]
    """Cases without whom p is on the other side of the level, each alone."""
    alone: int
    """Cases without whom nothing can be told."""


def left_out_range(fit: Fit, step: int, columns: Sequence[int], level: float) -> LeftOutRange | None:
    """The range of one column's b, or of the joint test of several; None where nothing can be told."""
    columns = [j for j in columns if np.isfinite(fit.steps[step].b[j + 1])]
    if not columns:
        return None
    asked = np.eye(fit.steps[step].n_columns + 1)[[j + 1 for j in columns]]
    if len(columns) == 1:
        one = without_each(fit, step, asked[0], level)
        p, of_all, moved = one.p, one.p_of_all, np.abs(one.change)
        spans = (one.effect, one.effect, one.low, one.high)
    else:
        several = set_without_each(fit, step, asked)
        p, of_all = several.p, several.p_of_all
        moved = np.abs(several.f - np.nanmedian(several.f)) if np.isfinite(several.f).any() else several.f
        spans = (np.full(p.size, np.nan),) * 4
    if not np.isfinite(p).any():
        return None
    alpha = 1.0 - level
    turns = np.flatnonzero(np.isfinite(p) & ((p < alpha) != (of_all < alpha)))
    nothing = np.full(1, np.nan)
    low, high, first, last = (x if np.isfinite(x).any() else nothing for x in spans)
    with np.errstate(invalid="ignore"):
        return LeftOutRange(
            float(np.fmin.reduce(low)),
            float(np.fmax.reduce(high)),
            float(np.fmin.reduce(first)),
            float(np.fmax.reduce(last)),
            float(np.nanmin(p)),
            float(np.nanmax(p)),
            of_all,
            int(np.nanargmax(moved)),
            tuple(int(i) for i in turns),
            int(np.isnan(p).sum()),
        )
