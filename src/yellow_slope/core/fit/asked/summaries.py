"""One variable over all cases of the table: where its values lie, and the outcome by its levels."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.missingcodes import suspects
from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.fit.asked.histograms import Bars, bars_of
from yellow_slope.core.fit.solve.tails import t_quantile
from yellow_slope.core.study.study import Study
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class NumberSummary:
    """A number's values. SD with n - 1; skewness as the third standardized moment over n; NaN where too few values."""

    n: int
    gaps: int
    mean: float
    sd: float
    low: float
    quartiles: tuple[float, float, float]
    """First quartile, median, third quartile, by linear interpolation."""
    high: float
    skewness: float


@dataclass(frozen=True, slots=True)
class Portrait:
    """A number as it stands, and without the values that may be codes for missing."""

    whole: NumberSummary
    rest: NumberSummary
    bars: Bars | None
    """Of the rest; None without a value."""
    apart: tuple[tuple[float, int], ...] = ()
    """Values that may be codes for missing, and their cases."""


@dataclass(frozen=True, slots=True)
class LevelSummary:
    """One level: its cases, its share of the cases with a level, and the outcome's mean with its interval."""

    count: int
    share: float
    mean: float
    low: float
    high: float


def portrait_of(study: Study, name: str) -> Portrait:
    """The number of that name over all cases of the table."""
    values = study.columns.numbers(name)
    whole, apart = number_summary(values), codes_apart(study, name)
    if not apart:
        return Portrait(whole, whole, bars_of(values))
    rest = without_codes(values, apart)
    return Portrait(whole, number_summary(rest), bars_of(rest), apart)


def codes_apart(study: Study, name: str) -> tuple[tuple[float, int], ...]:
    """The values of a number that may be codes for missing, with their cases in the table: where its values are drawn,
    they are drawn without these."""
    column = study.table.column(name) if name in study.table else None
    if not isinstance(column, NumberColumn):
        return ()
    return tuple((s.value, s.count) for s in suspects(column, study.variable(name).missing))


def without_codes(values: FloatArray, apart: tuple[tuple[float, int], ...]) -> FloatArray:
    """The values with NaN in place of such codes; shape as they are."""
    return np.where(np.isin(values, [v for v, _ in apart]), np.nan, values) if apart else values


def number_summary(values: FloatArray) -> NumberSummary:
    """Values: shape (rows,), NaN where missing."""
    here = values[~np.isnan(values)]
    n = int(here.size)
    if not n:
        nan = float("nan")
        return NumberSummary(0, int(values.size), nan, nan, nan, (nan, nan, nan), nan, nan)
    low, high = float(here.min()), float(here.max())
    first, middle, third = (float(q) for q in np.percentile(here, (25, 50, 75)))
    mean = float(here.mean())
    rest = here - mean
    size = float(np.abs(rest).max())
    sd = (
        size * float(np.sqrt(np.sum((rest / size) ** 2) / (n - 1)))
        if n > 1 and size > 0
        else (0.0 if n > 1 else float("nan"))
    )
    unit = rest / (sd or 1.0)
    moment = float(np.sqrt(np.mean(unit**2)))
    skewness = float(np.mean(unit**3)) / moment**3 if n > 2 and moment > 0 else float("nan")
    return NumberSummary(n, int(values.size) - n, mean, sd, low, (first, middle, third), high, skewness)


def level_summaries(
    positions: np.ndarray, k: int, outcome: FloatArray | None, level: float
) -> tuple[LevelSummary, ...]:
    """Each of k levels. positions: shape (rows,), -1 where missing; outcome: shape (rows,), NaN where missing.

    Intervals rest on the level's own cases: its own SD, n - 1 degrees of freedom.
    """
    total = max(1, int(np.count_nonzero(positions >= 0)))
    found: list[LevelSummary] = []
    for i in range(k):
        here = positions == i
        count = int(np.count_nonzero(here))
        nan = float("nan")
        mean = low = high = nan
        if outcome is not None:
            values = outcome[here]
            values = values[~np.isnan(values)]
            if values.size:
                mean = float(values.mean())
            if values.size > 1:
                half = t_quantile(level, values.size - 1) * float(values.std(ddof=1)) / float(np.sqrt(values.size))
                low, high = mean - half, mean + half
        found.append(LevelSummary(count, count / total, mean, low, high))
    return tuple(found)
