"""Sensitivity: the smallest change in R² that a block could have shown with a given power (Cohen 1988)."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from yellow_slope.core.fit.asked.r2intervals import change_of
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import NAN
from yellow_slope.core.fit.solve.tails import f_quantile, noncentral_f
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import Bootstrap, Classical
from yellow_slope.values import dataclass

POWERS = (0.80, 0.95)


@dataclass(frozen=True, slots=True)
class Smallest:
    """For one power: the noncentrality, f² and change in R² that the test of a block finds that often. NaN with
    `why`."""

    power: float
    noncentrality: float
    f2: float
    r2: float
    why: Why | None = None


def smallest_changes(fit: Fit, model: Model, step: int) -> tuple[Smallest, ...]:
    """What the block of a step could have shown, at the model's level; not under robust errors, nor by resamples."""
    result = fit.steps[step]
    test = result.change.test
    why = test.why
    if isinstance(model.errors, Bootstrap):
        why = Why.DRAWS
    elif not isinstance(model.errors, Classical):
        why = Why.ROBUST
    if why is not None:
        return tuple(Smallest(power, NAN, NAN, NAN, why) for power in POWERS)
    before = fit.steps[step - 1].r2 if step else 0.0
    found = []
    for power in POWERS:
        noncentrality = noncentrality_for(power, test.df1, test.df2, 1.0 - model.level)
        f2 = noncentrality / (test.df1 + test.df2 + 1)
        found.append(Smallest(power, noncentrality, f2, change_of(f2, before)))
    return tuple(found)


@lru_cache(maxsize=512)
def noncentrality_for(power: float, df1: int, df2: int, alpha: float) -> float:
    """λ at which F passes its critical value with that probability; λ = f²(df1 + df2 + 1)."""
    critical = f_quantile(1.0 - alpha, df1, df2)
    low, high = 0.0, 10.0
    while noncentral_f(critical, df1, df2, high) > 1.0 - power and high < 1e9:
        high *= 2.0
    for _ in range(200):
        middle = 0.5 * (low + high)
        if middle in (low, high):
            break
        if noncentral_f(critical, df1, df2, middle) > 1.0 - power:
            low = middle
        else:
            high = middle
    return float(np.float64(0.5 * (low + high)))
