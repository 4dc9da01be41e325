"""Intervals for R² and its change, and what a block could have shown, against the noncentral F as a sum."""

from __future__ import annotations

import math

import pytest

from tests.support import oracle
from tests.support.exactdesigns import columns
from tests.support.seeds import few
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.fit.asked.r2intervals import change_interval, r2_interval
from yellow_slope.core.fit.asked.sensitivity import noncentrality_for, smallest_changes
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.edits.models import set_constant, set_errors, set_level
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Cluster


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", range(few(1, 3)))
@pytest.mark.parametrize("level", [0.90, 0.95])
def test_bounds_are_noncentralities(seed: int, level: float) -> None:
    study = set_level(study_of(columns(seed), "y", "x, w; x*w, c; g"), level)
    fit = fit_of(study)
    n = fit.y.size
    for step in range(3):
        result = fit.steps[step]
        before = fit.steps[step - 1].r2 if step else 0.0
        whole, change = r2_interval(fit, study.model, step), change_interval(fit, study.model, step)
        assert whole.low <= result.r2 <= whole.high
        for bound, p in ((whole.low, (1 + level) / 2), (whole.high, (1 - level) / 2)):
            if bound > 0:
                cdf = oracle.noncentral_f_cdf(
                    result.whole.f, result.whole.df1, result.whole.df2, n * bound / (1 - bound)
                )
                assert float(cdf) == pytest.approx(p, abs=1e-6)
        test = result.change.test
        for bound, p in ((change.low, (1 + level) / 2), (change.high, (1 - level) / 2)):
            if bound > 0:
                f2 = bound / (1 - before - bound)
                cdf = oracle.noncentral_f_cdf(test.f, test.df1, test.df2, f2 * (test.df1 + test.df2 + 1))
                assert float(cdf) == pytest.approx(p, abs=1e-6)
    assert whole.high < 1
    first = change_interval(fit, study.model, 0)
    assert (first.low, first.high) == pytest.approx(
        (r2_interval(fit, study.model, 0).low, r2_interval(fit, study.model, 0).high)
    )


def test_where_there_is_no_interval_the_reason_stands() -> None:
    plain = study_of(columns(0), "y", "x, w; x*w")
    for errors in (HC(3), Cluster("id")):
        study = set_errors(plain, errors)
        found = change_interval(fit_of(study), study.model, 1)
        assert math.isnan(found.low)
        assert found.why is Why.ROBUST
        assert all(x.why is Why.ROBUST and math.isnan(x.r2) for x in smallest_changes(fit_of(study), study.model, 1))
    without = set_constant(plain, False)
    assert r2_interval(fit_of(without), without.model, 1).why is Why.ABOUT_ZERO
    data = columns(0)
    data["y"] = [2 * int(v) + 1 for v in data["x"]]
    perfect = study_of(data, "y", "x")
    assert r2_interval(fit_of(perfect), perfect.model, 0).why is Why.PERFECT
    assert smallest_changes(fit_of(perfect), perfect.model, 0)[0].why is Why.PERFECT


@pytest.mark.parametrize(("df1", "df2", "power", "wanted"), [(3, 212, 0.80, 11.10552)])
def test_the_known_noncentrality(df1: int, df2: int, power: float, wanted: float) -> None:
    found = noncentrality_for(power, df1, df2, 0.05)
    assert found == pytest.approx(wanted, abs=5e-6)
    assert found / (df1 + df2 + 1) == pytest.approx(0.0514145, abs=5e-8)


def test_the_smallest_change_is_found_that_often() -> None:
    study = study_of(columns(2), "y", "x, w; x*w")
    drawn = set_errors(study, Bootstrap(draws=1000))
    assert all(x.why is Why.DRAWS for x in smallest_changes(fit_of(drawn), drawn.model, 1))
    fit = fit_of(study)
    test, before = fit.last.change.test, fit.steps[0].r2
    found = smallest_changes(fit, study.model, 1)
    assert [x.power for x in found] == [0.80, 0.95]
    critical = oracle.t_quantile("0.95", test.df2) ** 2  # of one coefficient F is t²
    for x in found:
        f2 = x.r2 / (1 - before - x.r2)
        assert f2 == pytest.approx(x.f2)
        assert f2 * (test.df1 + test.df2 + 1) == pytest.approx(x.noncentrality)
        missed = oracle.noncentral_f_cdf(critical, test.df1, test.df2, x.noncentrality)
        assert float(missed) == pytest.approx(1 - x.power, abs=1e-8)
