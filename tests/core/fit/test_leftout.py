"""What an effect would be without each case, against n refits in exact arithmetic."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
import pytest

from tests.support.oracle import exact_fit, mp, t_p, t_quantile
from tests.support.seeds import few
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.fit.asked.leftout import without_each
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.values import replace

SEEDS = few(10, 60)


def small_fit(seed: int) -> Fit:
    """A small model with a product; every fifth has a cell of one case, every seventh fits all cases but one."""
    rng = np.random.default_rng(seed)
    n = int(rng.integers(9, 16))
    x, w = np.round(rng.normal(3, 2, n), 1), np.round(rng.normal(size=n), 1)
    g = np.where(np.arange(n) % 2 == 0, "one", "two").astype(object)
    if seed % 5 == 0:
        g[:] = "one"
        g[3] = "two"
    y = np.round(2 + x - 0.5 * w + rng.normal(size=n), 1)
    if seed % 7 == 0:
        y = 1 + 2 * x - w + 0.5 * x * w
        y[4] += 3
    blocks = "x, w; x*w" if seed % 2 else "x, w, g; x*w"
    return fit_of(study_of({"y": y, "x": x, "w": w, "g": [str(v) for v in g]}, "y", blocks))


@pytest.mark.parametrize("seed", range(SEEDS))
def test_against_refits(seed: int) -> None:
    fit = small_fit(seed)
    last = len(fit.steps) - 1
    rows = [[Fraction(1), *(Fraction(float(v)) for v in row)] for row in fit.x]
    y = [Fraction(float(v)) for v in fit.y]
    whole = exact_fit(rows, y)
    for column in range(len(rows[0])):
        g = [Fraction(int(j == column)) for j in range(len(rows[0]))]
        found = without_each(fit, last, np.array([float(v) for v in g]), 0.95)
        for i in range(len(y)):
            try:
                left = exact_fit(rows[:i] + rows[i + 1 :], y[:i] + y[i + 1 :])
            except ZeroDivisionError:
                assert math.isnan(found.effect[i])
                assert math.isnan(found.p[i])
                continue
            effect = float(left.effect(g))
            assert found.effect[i] == pytest.approx(effect, rel=1e-8, abs=1e-9)
            if left.df < 1 or left.sse <= whole.sse * Fraction(1, 10**11):
                assert math.isnan(found.se[i])
                continue
            se = math.sqrt(left.variance(g))
            assert found.se[i] == pytest.approx(se, rel=1e-8)
            t = mp(left.effect(g)) / mp(Fraction(se))
            assert found.p[i] == pytest.approx(float(t_p(t, left.df)), rel=1e-6, abs=1e-12)
            width = float(t_quantile("0.95", left.df)) * se
            assert found.low[i] == pytest.approx(effect - width, rel=1e-7, abs=1e-8)
            s = math.sqrt(left.sse / left.df)
            scaled = float(whole.effect(g) - left.effect(g)) / (s * math.sqrt(whole.inverse[column][column]))
            assert found.change[i] == pytest.approx(scaled, rel=1e-6, abs=1e-8)


def test_what_no_case_tells_of_has_no_figures() -> None:
    x = np.arange(10.0)
    fit = fit_of(study_of({"y": np.sin(x), "x": x, "w": 2 * x}, "y", "x, w"))
    found = without_each(fit, 0, np.array([0.0, 0.0, 1.0]), 0.95)
    assert np.isnan(found.effect).all()


def test_without_a_constant() -> None:
    rng = np.random.default_rng(0)
    n = 14
    study = study_of({name: rng.normal(5, 1, n) for name in ("y", "x", "w")}, "y", "x, w; x*w")
    fit = fit_of(study.with_model(replace(study.model, constant=False)))
    found = without_each(fit, len(fit.steps) - 1, np.array([0.0, 0.0, 0.0, 1.0]), 0.95)
    rows = [[Fraction(float(v)) for v in row] for row in fit.x]
    y = [Fraction(float(v)) for v in fit.y]
    g = [Fraction(0), Fraction(0), Fraction(1)]
    for i in range(n):
        left = exact_fit(rows[:i] + rows[i + 1 :], y[:i] + y[i + 1 :])
        assert found.effect[i] == pytest.approx(float(left.effect(g)), rel=1e-8)
        assert found.se[i] == pytest.approx(math.sqrt(left.variance(g)), rel=1e-8)
