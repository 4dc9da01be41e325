"""Regions of significance under a bootstrap are where the interval of the effect itself, read off the draws, leaves
out 0."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.seeds import few
from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.mattering import Size
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.probe import Probe, RegionRule, Smallest
from yellow_slope.core.study.standarderrors import Bootstrap, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.values import replace


def drawn(seed: int, way: IntervalWay) -> Study:
    rng = np.random.default_rng(seed)
    data = noise_world(seed, 70)
    data["y"] = data["y"] + 0.5 * data["x"] * data["w"] * rng.normal(1.0, 0.5) + data["x"] * rng.normal()
    return set_errors(study_of(data, "y", "x, w, g; x*w, g*w"), Bootstrap(way, 1000, seed))


@pytest.mark.parametrize("way", list(IntervalWay))
@pytest.mark.parametrize("seed", range(few(4, 8)))
@pytest.mark.parametrize("focal", ["x", "g"])
def test_a_region_is_where_the_interval_leaves_out_0(seed: int, way: IntervalWay, focal: str) -> None:
    study = drawn(seed, way)
    fit = fit_of(study)
    w = np.asarray(fit.values["w"])
    for focus in probe_fit(study, fit, Probe(focal, "w")).panels[0].foci:
        assert focus.curve is not None
        assert focus.regions is not None
        for place in np.linspace(w.min() + 1e-6, w.max() - 1e-6, 157):
            if any(abs(place - b) < 1e-6 for b in focus.regions.boundaries):
                continue
            effect = focus.curve.at(float(place))
            sign = 1 if effect.low > 0 else -1 if effect.high < 0 else 0
            (own,) = (r.sign for r in focus.regions.within if r.low <= place <= r.high)
            assert own == sign, (place, effect, focus.regions)
            low, high = focus.band(np.array([place]))
            assert (low[0], high[0]) == pytest.approx((effect.low, effect.high), rel=1e-9)
        assert focus.zero is None, "draws give no set of places where an effect is 0"


def test_the_false_discovery_rate_takes_the_p_of_the_draws() -> None:
    study = drawn(5, IntervalWay.PERCENTILE)
    fit = fit_of(study)
    (focus,) = probe_fit(study, fit, Probe("x", "w", rule=RegionRule.FALSE_DISCOVERY)).panels[0].foci
    assert focus.curve is not None
    assert focus.regions is not None
    places = np.unique(np.asarray(fit.values["w"]))
    p = np.sort([focus.curve.at(float(place)).p for place in places])
    passed = np.flatnonzero(p <= 0.05 * np.arange(1, p.size + 1) / p.size)
    assert passed.size
    level = 1 - 0.05 * (passed[-1] + 1) / p.size
    for place in places:
        effect = replace(focus.curve, level=float(level)).at(float(place))
        sign = 1 if effect.low > 0 else -1 if effect.high < 0 else 0
        near = [abs(place - b) < 1e-6 for b in focus.regions.boundaries]
        assert any(near) or any(r.low <= place <= r.high and r.sign == sign for r in focus.regions.within)


def test_what_draws_do_not_give_is_not_given() -> None:
    study = drawn(2, IntervalWay.BCA)
    fit = fit_of(study)
    probed = probe_fit(study, fit, Probe("x", "w", rule=RegionRule.SIMULTANEOUS))
    (focus,) = probed.panels[0].foci
    assert focus.regions is not None
    assert focus.regions.why is Why.DRAWS
    assert not focus.regions.tells
    assert probed.panels[0].crossing_set is None


def test_too_small_to_matter_is_within_the_looser_interval_of_the_draws() -> None:
    study = drawn(3, IntervalWay.PERCENTILE)
    fit = fit_of(study)
    (focus,) = probe_fit(study, fit, Probe("x", "w", smallest=Smallest(1.5))).panels[0].foci
    assert focus.curve is not None
    assert focus.mattering is not None
    loose = replace(focus.curve, level=0.9)
    w = np.asarray(fit.values["w"])
    seen = set()
    for place in np.linspace(w.min() + 1e-6, w.max() - 1e-6, 97):
        effect, close = focus.curve.at(float(place)), loose.at(float(place))
        size = Size.SMALL if close.low > -1.5 and close.high < 1.5 else Size.OPEN
        size = Size.ABOVE if effect.low > 1.5 else Size.BELOW if effect.high < -1.5 else size
        (own,) = (s.size for s in focus.mattering.within if s.low <= place < s.high)
        assert own is size, (place, effect, close)
        seen.add(size)
    assert len(seen) > 1
