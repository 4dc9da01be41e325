"""Tail areas and quantiles of t and F."""

from __future__ import annotations

import numpy as np
from scipy import special

from yellow_slope.core.arrays import FloatArray


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
    return float(special.fdtrc(df1, df2, f)) if df1 >= 1 and df2 >= 1 else float("nan")


def f_quantile(level: float, df1: float, df2: float) -> float:
    """The value below which F stays with that probability."""
    return float(special.fdtri(df1, df2, level)) if df1 >= 1 and df2 >= 1 else float("nan")
