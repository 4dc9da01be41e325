"""Intervals for R² and its change: from resamples where there are any, else from the noncentral F of classical
errors."""

from __future__ import annotations

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import NAN, FTest
from yellow_slope.core.fit.solve.tails import noncentral_f_interval
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import Bootstrap, Classical
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class R2Interval:
    """Ends, NaN where there is no interval; `why` says the reason."""

    low: float
    high: float
    why: Why | None = None


def r2_interval(fit: Fit, model: Model, step: int) -> R2Interval:
    """Of R² of a step: λ = n·R²/(1 - R²) under fixed predictors (Steiger & Fouladi 1997), or from the resamples."""
    found = fit.steps[step]
    if fit.resampled is not None:
        spread = fit.resampled.r2(step, found.r2, model.level)
        return R2Interval(float(spread.low[0]), float(spread.high[0]))
    return _formula(fit, model, step, found.whole, 0.0)


def change_interval(fit: Fit, model: Model, step: int) -> R2Interval:
    """Of what a step adds to R². By formula the R² of the step before is taken as it is: ΔR² = f²(1 - R²₀)/(1 + f²)."""
    found = fit.steps[step]
    if fit.resampled is not None:
        spread = fit.resampled.change(step, found.change.r2, model.level)
        return R2Interval(float(spread.low[0]), float(spread.high[0]))
    return _formula(fit, model, step, found.change.test, fit.steps[step - 1].r2 if step else 0.0)


def _formula(fit: Fit, model: Model, step: int, test: FTest, before: float) -> R2Interval:
    result = fit.steps[step]
    if isinstance(model.errors, Bootstrap):
        return R2Interval(NAN, NAN, result.inference.without)
    if not isinstance(model.errors, Classical):
        return R2Interval(NAN, NAN, Why.ROBUST)
    if test.why is not None:
        return R2Interval(NAN, NAN, test.why)
    if not result.about_mean:
        return R2Interval(NAN, NAN, Why.ABOUT_ZERO)
    low, high = (
        change_of(noncentrality / (test.df1 + test.df2 + 1), before)
        for noncentrality in noncentral_f_interval(test.f, test.df1, test.df2, model.level)
    )
    return R2Interval(low, high)


def change_of(f2: float, before: float) -> float:
    """The change in R² that an effect size f² is, after a step with R² `before` (Cohen 1988)."""
    return f2 * (1.0 - before) / (1.0 + f2)
