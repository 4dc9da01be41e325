"""A variable's figures against exact arithmetic; levels with their intervals."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.worlds import study_of
from yellow_slope.core.fit.asked.histograms import bars_of
from yellow_slope.core.fit.asked.summaries import level_summaries, number_summary, portrait_of

VALUES = [2.5, 4.0, 4.0, 7.25, 1.0, 9.5, 3.0]


@pytest.mark.parametrize("shift", [0.0, 1e6])
def test_a_number_in_figures(shift: float) -> None:
    found = number_summary(np.array([*(v + shift for v in VALUES), np.nan]))
    exact = [Fraction(v) for v in VALUES]
    mean = sum(exact, Fraction(0)) / 7
    squares = sum(((v - mean) ** 2 for v in exact), Fraction(0))
    cubes = sum(((v - mean) ** 3 for v in exact), Fraction(0))
    assert (found.n, found.gaps, found.low, found.high) == (7, 1, 1.0 + shift, 9.5 + shift)
    assert found.mean == pytest.approx(float(mean) + shift, rel=1e-14)
    assert found.sd == pytest.approx(float(mpmath.sqrt(oracle.mp(squares / 6))), rel=1e-9)
    assert found.skewness == pytest.approx(
        float(oracle.mp(cubes / 7) / mpmath.sqrt(oracle.mp(squares / 7)) ** 3), rel=1e-8
    )
    assert found.quartiles == pytest.approx((2.75 + shift, 4.0 + shift, 5.625 + shift))
    bars = bars_of(np.array([*(v + shift for v in VALUES), np.nan]))
    assert bars is not None
    assert bars.counts.sum() == 7


def test_bars_are_counts_of_equal_parts_or_of_whole_numbers() -> None:
    def counts(values: list[float] | np.ndarray) -> tuple[float, ...]:
        bars = bars_of(np.array(values))
        assert bars is not None
        return tuple(bars.counts.tolist())

    assert counts([1.0, 1, 2, 5, 5, 5]) == (2, 1, 0, 0, 3)
    assert counts([0.5, 0.6, 2.9, 5.5]) == (2, 0, 1, 0, 1)
    assert counts([3.0, 3.0]) == (2,)
    assert counts([0.25, 0.25, 0.25, 1.5, 1.5, 40.0] * 2) == (6, 4, 2), "at each value of a number that has few"
    assert counts([0.5, 1.25, 7.0] * 2) == (2, 2, 2), "each twice is enough"
    assert counts([-1e308, 0.5, 1e308]) == (1, 0, 1, 0, 1)
    many = counts(np.linspace(0, 1, 1001))
    assert len(many) == 24
    assert max(many) - min(many) <= 1


def test_too_few_values() -> None:
    none, one, same = (number_summary(np.array(v)) for v in ([np.nan], [2.0], [2.0, 2.0, 2.0]))
    assert (none.n, none.gaps, bars_of(np.array([np.nan]))) == (0, 1, None)
    assert (one.mean, np.isnan(one.sd), np.isnan(one.skewness)) == (2.0, True, True)
    two = number_summary(np.array([3.0, 5.0]))
    assert (two.mean, two.sd) == (4.0, pytest.approx(2**0.5))
    assert (same.sd, np.isnan(same.skewness)) == (0.0, True)


def test_levels_with_the_outcome() -> None:
    groups = np.array([0, 0, 0, 1, 1, -1, 2])
    outcome = np.array([1.0, 2, 6, 4, np.nan, 9, np.nan])
    first, second, third = level_summaries(groups, 3, outcome, 0.9)
    assert [(x.count, x.share) for x in (first, second, third)] == [(3, 0.5), (2, 1 / 3), (1, 1 / 6)]
    sd = np.sqrt(((1 - 3) ** 2 + (2 - 3) ** 2 + (6 - 3) ** 2) / 2)
    half = float(oracle.t_quantile("0.90", 2)) * sd / np.sqrt(3)
    assert (first.mean, first.low, first.high) == pytest.approx((3.0, 3 - half, 3 + half), rel=1e-9)
    assert (second.mean, np.isnan(second.low)) == (4.0, True)
    assert np.isnan(third.mean)
    assert np.isnan(level_summaries(groups, 3, None, 0.9)[0].mean)


def test_a_portrait_without_what_may_be_missing() -> None:
    x = np.array([*np.tile([1.0, 2, 3, 4, 5], 10), 99, 99])
    portrait = portrait_of(study_of({"x": x, "y": np.arange(52.0)}, "y", "x"), "x")
    assert portrait.apart == ((99.0, 2),)
    assert (portrait.whole.n, portrait.rest.n, portrait.rest.gaps, portrait.rest.mean) == (52, 50, 2, 3.0)
