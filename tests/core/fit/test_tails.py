"""Noncentral F far in its tails, where the library knows no value."""

from __future__ import annotations

import numpy as np
import pytest

from yellow_slope.core.fit.solve.scipylater import special
from yellow_slope.core.fit.solve.tails import noncentral_f, noncentral_f_interval


@pytest.mark.parametrize("df2", [200.0, 1e4, 999_979.0])
@pytest.mark.parametrize(("f", "df1"), [(50.0, 19), (500.0, 1), (2500.0, 1), (20_000.0, 4)])
def test_it_falls_with_the_noncentrality_and_is_never_missing(f: float, df1: int, df2: float) -> None:
    grid = np.linspace(0.0, 6 * df1 * f, 300)
    found = np.array([noncentral_f(f, df1, df2, nc) for nc in grid])
    assert not np.isnan(found).any()
    assert np.all(np.diff(found) <= 1e-9)
    low, high = noncentral_f_interval(f, df1, df2, 0.95)
    assert 0 < low < df1 * f < high or low == 0.0
    assert noncentral_f(f, df1, df2, high) == pytest.approx(0.025, abs=1e-8)


def test_a_value_that_the_library_lacks_is_given() -> None:
    assert np.isnan(special.ncfdtr(19, 1e4, 3185.714285714286, 50.0))
    assert 0.0 <= noncentral_f(50.0, 19, 1e4, 3185.714285714286) < 1e-100
