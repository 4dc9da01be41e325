"""What an effect would be without each case, read off the fit that is there: n refits that nobody has to make.

Belsley, Kuh & Welsch (1980): without case i, b changes by (X'X)⁻¹ x_i e_i / (1 - h_i) and the residual sum of squares
by e_i² / (1 - h_i). Columns stay as they are: zero points and codes are those of all cases.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.factor import PERFECT
from yellow_slope.core.fit.solve.robust import FULL_LEVERAGE
from yellow_slope.core.fit.solve.tails import t_p, t_quantile

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
