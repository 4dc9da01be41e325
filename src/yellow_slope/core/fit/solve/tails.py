"""Tail areas and quantiles of t and F, also noncentral."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.solve.scipylater import elementwise, optimize, special

CLOSE = 8.9e-16
"""Bounds are found this closely, as a share of themselves: four times the step from 1 to the next number."""
MANY_DF = 10_000.0
"""From so many residual degrees of freedom on F is a chi-square over its own to four digits."""


def t_p(t: FloatArray | float, df: float) -> FloatArray:
    """Two-sided p of t; NaN where df < 1."""
    if df < 1:
        return np.full(np.shape(t), np.nan)
    return np.asarray(2.0 * special.stdtr(df, -np.abs(t)), dtype=np.float64)


def t_quantile(level: float, df: float) -> float:
    """The t that a two-sided interval of that level uses; NaN where df < 1."""
    return float(special.stdtrit(df, 0.5 + level / 2.0)) if df >= 1 else float("nan")


def f_p(f: float, df1: float, df2: float) -> float:
    """Upper tail of F; NaN where a df is below 1."""
    return float(f_tails(np.float64(f), df1, df2))


def f_tails(f: FloatArray | np.float64, df1: float, df2: float) -> FloatArray:
    """Upper tails of F; NaN where a df is below 1."""
    if df1 < 1 or df2 < 1:
        return np.full(np.shape(f), np.nan)
    return np.asarray(special.fdtrc(df1, df2, f), dtype=np.float64)


def f_quantile(level: float, df1: float, df2: float) -> float:
    """The value below which F stays with that probability."""
    return float(special.fdtri(df1, df2, level)) if df1 >= 1 and df2 >= 1 else float("nan")


def noncentral_t_interval(t: FloatArray, df: float, level: float) -> tuple[FloatArray, FloatArray]:
    """Shape of t each: the noncentralities under which t would be just that small or large; NaN where df < 1.

    The interval of d is this one over √ñ (Steiger & Fouladi 1997).
    """
    t = np.asarray(t, dtype=np.float64)
    if df < 1:
        return np.full(t.shape, np.nan), np.full(t.shape, np.nan)
    tail = (1.0 - level) / 2.0
    reach = 12.0 + np.abs(t)

    def below(nc: FloatArray, t: FloatArray) -> FloatArray:
        found = special.nctdtr(df, nc, t)
        # SciPy knows no value far from t; there it is 1 or 0
        return np.asarray(np.where(np.isnan(found) & ~np.isnan(t), nc < t, found))

    return (_falling(below, t, 1.0 - tail, t - reach, t + reach), _falling(below, t, tail, t - reach, t + reach))


def noncentral_f(f: float, df1: float, df2: float, nc: float) -> float:
    """P(F' ≤ f) of a noncentral F.

    SciPy 1.17.1 knows no value for some noncentralities of thousands, with very many cases: there it is that of the
    noncentral chi-square that F' then is, else of the central F with the same mean and variance of its numerator
    (Patnaik 1949).
    """
    found = float(special.ncfdtr(df1, df2, nc, f))
    if np.isnan(found) and df2 > MANY_DF:
        found = float(special.chndtr(df1 * f, df1, nc))
    if np.isnan(found):
        alike = (df1 + nc) ** 2 / (df1 + 2.0 * nc)
        found = float(special.fdtr(alike, df2, df1 * f / (df1 + nc)))
    return found


@lru_cache(maxsize=512)
def noncentral_f_interval(f: float, df1: float, df2: float, level: float) -> tuple[float, float]:
    """The noncentralities under which F would be just that small or large; a bound that does not exist is 0."""
    if df1 < 1 or df2 < 1 or np.isnan(f):
        return float("nan"), float("nan")
    tail = (1.0 - level) / 2.0

    def beyond(nc: float, p: float) -> float:
        return noncentral_f(f, df1, df2, nc) - p

    bounds = []
    for p in (1.0 - tail, tail):
        if beyond(0.0, p) <= 0:
            bounds.append(0.0)
            continue
        most = 50.0 + 4.0 * df1 * (f + 1.0) * (1.0 + 10.0 / df2)
        while beyond(most, p) > 0:
            most *= 2.0
        bounds.append(float(optimize.brentq(beyond, 0.0, most, args=(p,), xtol=1e-12, rtol=CLOSE)))
    return bounds[0], bounds[1]


def _falling(
    g: Callable[[FloatArray, FloatArray], FloatArray], at: FloatArray, p: float, low: FloatArray, high: FloatArray
) -> FloatArray:
    """Where g(x, at), falling in x, takes the value p between low and high; the end nearest to it where it does not."""

    def beyond(x: FloatArray, at: FloatArray) -> FloatArray:
        return np.asarray(g(x, at) - p)

    found = elementwise.find_root(beyond, (low, high), args=(at,), tolerances={"xatol": 0.0, "xrtol": CLOSE})
    ends = np.where(np.abs(beyond(low, at)) <= np.abs(beyond(high, at)), low, high)
    return np.asarray(np.where(found.success, found.x, ends))
