"""What stands beside what is seen is about it: its panel, its test, its place, the cases of the groups that are
compared."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.probe.places import LevelPlace, NumberPlace
from yellow_slope.core.probe.probed import Probed, TestOf
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.regions import critical_value
from yellow_slope.core.probe.seen import Apart, AtPlace, Handle, Seen, Sight, Whole
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits.entries import set_coding, treat
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, RegionRule, Second
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import At, Treatment
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.figures import probe_caption

THREE = "x, w, g, d; x*w, x*g, w*g, x*d; x*w*g"


def world(seed: int = 41, blocks: str = THREE) -> Study:
    return study_of(noise_world(seed, 120), "y", blocks)


def own(probed: Probed, panel: int, focus: int = 0) -> tuple[float, int, float]:
    tested = probed.tests(panel, focus)[0]
    assert tested.of is TestOf.EFFECT
    return tested.test.f, tested.test.df1, tested.test.p


@pytest.mark.parametrize("seed", [41, 42, 43])
def test_the_test_of_a_panel_is_the_products_coefficient_with_that_level_as_reference(seed: int) -> None:
    study = world(seed)
    probed = probe_fit(study, fit_of(study), Probe("x", "w", second=Second("g")))
    for k, panel in enumerate(probed.panels):
        assert isinstance(panel.second, LevelPlace)
        there = fit_of(set_coding(study, "g", Dummy(panel.second.code)))
        (j,) = there.design.columns_of(term("x*w"))
        assert own(probed, k) == pytest.approx((there.last.t[j + 1] ** 2, 1, there.last.p[j + 1]), rel=1e-8)
    assert len({own(probed, k)[0] for k in range(3)}) == 3, "it moves with the panel"
    joint, product = probed.tests(0, 0)[1:]
    assert (joint.of, joint.test.df1) == (TestOf.COLUMNS, 3)
    assert (product.of, product.term) == (TestOf.PRODUCT, term("x*w*g"))
    assert product.test.f == pytest.approx(fit_of(study).last.joint[term("x*w*g")].f)


@pytest.mark.parametrize("place", [-2.0, 0.7, 6.0])
def test_the_test_moves_with_where_a_number_is_held(place: float) -> None:
    study = world(44, "x, w, z; x*w, x*z, w*z; x*w*z")
    probed = probe_fit(study, fit_of(study), Probe("x", "w", held=(("z", place),)))
    there = fit_of(treat(study, ["z"], Treatment(zero=At(place))))
    (j,) = there.design.columns_of(term("x*w"))
    assert own(probed, 0) == pytest.approx((there.last.t[j + 1] ** 2, 1, there.last.p[j + 1]), rel=1e-8)


def test_each_comparison_has_its_own_test_and_all_together_that_of_the_set() -> None:
    study = set_coding(world(45, "x, g; x*g"), "g", Dummy("low"))
    fit = fit_of(study)
    for probe in (Probe("g", "x"), Probe("x", "g")):
        probed = probe_fit(study, fit, probe)
        tests = probed.tests(0, 0)
        whole = fit.last.joint[term("x*g")]
        if probe.focal == "x":
            assert [t.of for t in tests] == [TestOf.EFFECT]
            assert (tests[0].test.f, tests[0].test.df1) == (pytest.approx(whole.f), 2)
            continue
        assert [t.of for t in tests] == [TestOf.EFFECT, TestOf.EFFECTS]
        assert (tests[1].test.f, tests[1].test.df1) == (pytest.approx(whole.f), 2)
        for focus, column in enumerate(fit.design.columns_of(term("x*g"))):
            assert own(probed, 0, focus)[0] == pytest.approx(fit.last.t[column + 1] ** 2)


def test_cases_near_and_in_regions_are_those_of_each_group_that_is_compared() -> None:
    study = world(46, "x, w, g, d; x*g, x*d, g*d; x*g*d")
    fit = fit_of(study)
    probed = probe_fit(study, fit, Probe("g", "x", second=Second("d")))
    x, g, d = (np.asarray(fit.values[name]) for name in ("x", "g", "d"))
    near = 0.25 * x.std(ddof=1)
    for panel in probed.panels:
        assert isinstance(panel.second, LevelPlace)
        there = d == panel.second.index
        for focus in panel.foci:
            assert focus.comparison is not None
            sides = [int(np.flatnonzero(focus.comparison.weights * sign > 0)[0]) for sign in (1, -1)]
            for i, place in enumerate(probed.places):
                assert isinstance(place, NumberPlace)
                counts = [int(np.sum(there & (g == s) & (np.abs(x - place.value) <= near))) for s in sides]
                assert [n.cases for n in focus.near[i]] == counts
                assert [n.of for n in focus.near[i]] == [int(np.sum(there & (g == s))) for s in sides]
            assert focus.regions is not None
            for region in focus.regions.within:
                inside = there & (x >= region.low) & (x < region.high)
                assert [n.cases for n in region.cases] == [int(np.sum(inside & (g == s))) for s in sides]
    held = probe_fit(study, fit, Probe("x", "g", held=(("d", "yes"),))).panels[0].foci[0]
    assert [n[0].cases for n in held.near] == [int(np.sum((g == k) & (d == 1))) for k in range(3)]


@pytest.mark.parametrize("rule", list(RegionRule))
def test_regions_end_with_the_data_and_the_band_is_the_rules(rule: RegionRule) -> None:
    outside = 0
    for seed in range(25):
        study = study_of(noise_world(seed, 40), "y", "z, w; z*w")
        probed = probe_fit(study, fit_of(study), Probe("z", "w", rule=rule))
        focus, observed = probed.panels[0].foci[0], np.asarray(probed.observed, dtype=np.float64)
        assert focus.regions is not None
        assert focus.curve is not None
        low, high = observed.min(), observed.max()
        assert all(low < b < high for b in focus.regions.boundaries)
        assert not any(low < b < high for b in focus.regions.outside)
        assert sum(r.n for r in focus.regions.within) == observed.size
        outside += len(focus.regions.outside)
        c = critical_value(rule, focus.curve, observed)
        assert focus.critical == c
        if np.isfinite(c):
            lower, upper = focus.band(observed)
            told = (lower > 0) | (upper < 0)
            for region in focus.regions.within:
                inside = (observed >= region.low) & (observed < region.high)
                assert np.all(told[inside] == (region.sign != 0)), "band and region tell the same"
    assert outside > 0 or rule is not RegionRule.POINTWISE


def test_what_is_wanted_follows_to_the_nearest_that_there_is() -> None:
    study = world()
    fit = fit_of(study)
    wide = probe_fit(study, fit, Probe("x", "w", second=Second("g")))
    wanted = Seen(panel=2, focus=0, place=AtPlace(1), handle=1e9)
    assert wanted.of(wide) == Seen(2, 0, AtPlace(1), wide.moderator.high)  # type: ignore[union-attr]
    narrow = probe_fit(study, fit, Probe("x", "w"))
    assert wanted.of(narrow).panel == 0
    by = probe_fit(study, fit, Probe("x", "g"))
    assert wanted.of(by) == Seen(0, 0, AtPlace(1), None)
    assert Seen(place=Handle()).of(by).place == Whole()
    assert Seen(place=Apart(2)).of(by).place == Apart(2)
    assert Seen(place=Apart(2)).of(narrow).place == Handle()
    groups = probe_fit(study, fit, Probe("g", "x"))
    assert Seen(focus=9).of(groups).focus == 1
    assert Sight.of(narrow, Seen(place=AtPlace(0))).value == narrow.places[0].value  # type: ignore[union-attr]
    assert Sight.of(narrow, Seen()).handle == pytest.approx(narrow.moderator.mean)  # type: ignore[union-attr]


def test_a_reader_belongs_to_its_panel() -> None:
    study = world(47, "x, w, z; x*w, x*z, w*z; x*w*z")
    second = Second("z", PickPoints(PickRule.OWN, (-1.0, 0.5, 2.0)))
    probed = probe_fit(study, fit_of(study), Probe("x", "w", second=second))
    for k, at in enumerate(("−1.00", "0.50", "2.00")):
        read = EffectReader(study, probed, k)
        said = read.effect(0, read.shown.foci[0].effects[0], probed.places[0])
        assert f"at z {at}" in said
        assert f"at z {at}" in probe_caption(read, 0).replace("At z", "at z")
        assert f"at z {at}" in read.tests(0)[0]
    steps = [d.effect.effect for d in probed.across[0]]
    (first, *_) = probed.across[0]
    one, other = (probed.panels[k].foci[0].effects[i].effect for k, i in (first.of, first.minus))
    assert steps[0] == pytest.approx(one - other)
