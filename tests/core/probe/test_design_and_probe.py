"""Columns as products of atoms, profiles, pick points, cell means and where lines meet."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.design.design import Along
from yellow_slope.core.probe.asking import default_probe, first_step, probeable
from yellow_slope.core.probe.maps import line_at
from yellow_slope.core.probe.places import NumberPlace, pick_points
from yellow_slope.core.probe.probed import along_of
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.coding import Adjacent, Coding, Dummy, Effect, LevelMeans
from yellow_slope.core.study.edits.blocks import enter, take_out
from yellow_slope.core.study.edits.entries import set_coding, set_reference, treat
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, Second
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED, STANDARDIZED
from yellow_slope.values import replace


def rich(seed: int = 91) -> Study:
    study = study_of(noise_world(seed, 96), "y", "x, w, g, d; x*w, x*g, g*d; x*g*d")
    return treat(study, ["x"], CENTERED)


def test_a_term_has_one_column_for_each_combination_of_comparisons() -> None:
    design = fit_of(rich()).design
    counts = {name: len(design.columns_of(term(name))) for name in ("x", "g", "d", "x*w", "x*g", "g*d", "x*g*d")}
    assert counts == {"x": 1, "g": 2, "d": 1, "x*w": 1, "x*g": 2, "g*d": 2, "x*g*d": 2}
    assert design.ends == (5, 10, 12)


def test_the_matrix_is_what_it_says() -> None:
    world = noise_world(91, 96)
    fit = fit_of(rich())
    x, top, yes = world["x"] - world["x"].mean(), world["g"] == "top", world["d"] == "yes"
    last = fit.design.columns_of(term("x*g*d"))[-1]
    np.testing.assert_allclose(fit.x[:, last], x * top * yes, atol=1e-12)


def test_a_profile_at_a_case_is_the_cases_row() -> None:
    fit = fit_of(rich())
    for case in (0, 17, 60):
        profile = fit.design.typical()
        for name, basis in fit.design.bases.items():
            value = fit.values[name][case]
            if isinstance(basis, NumberBasis):
                profile = profile.with_number(name, float(value))
            else:
                profile = profile.with_level(name, int(value))
        np.testing.assert_allclose(fit.design.rows(profile)[1:, 0], fit.x[case], atol=1e-12)


def test_shares_are_the_mean_of_the_indicators() -> None:
    fit = fit_of(rich())
    row = fit.design.rows(fit.design.typical())[1:, 0]
    for j in fit.design.columns_of(term("g")):
        assert row[j] == pytest.approx(fit.x[:, j].mean())


def test_a_polynomial_along_a_number_passes_through_every_value() -> None:
    fit = fit_of(enter(rich(), [term("x*x")]))
    along = Along("x", 5.0, 3.0)
    rows = fit.design.rows(fit.design.typical(), along)
    assert rows.shape[1] == 3
    for u in (-1.0, 0.3, 1.0):
        direct = fit.design.rows(fit.design.typical().with_number("x", 5 + 3 * u))[:, 0]
        np.testing.assert_allclose(rows @ u ** np.arange(3), direct, atol=1e-10)


def test_a_level_absent_among_the_cases_yields_no_column() -> None:
    world = noise_world(92)
    world["x"][world["g"] == "mid"] = np.nan
    fit = fit_of(study_of(world, "y", "x, g"))
    basis = fit.design.bases["g"]
    assert isinstance(basis, GroupBasis)
    assert list(basis.levels) == ["low", "top"]
    assert len(fit.design.columns) == 2


def test_a_reference_that_is_absent_gives_way_to_the_first_level_present() -> None:
    world = noise_world(93)
    world["x"][world["g"] == "low"] = np.nan
    study = set_reference(study_of(world, "y", "x, g"), "g", "low")
    basis = fit_of(study).design.group("g")
    assert basis.levels[basis.reference or 0] == "mid"


@pytest.mark.parametrize(
    ("rule", "expected"),
    [
        ("mean and SD", lambda v: [v.mean() - v.std(ddof=1), v.mean(), v.mean() + v.std(ddof=1)]),
        ("percentiles", lambda v: [np.percentile(v, q) for q in (16, 50, 84)]),
        (PickRule.QUARTILES, lambda v: [np.percentile(v, q) for q in (25, 50, 75)]),
        (PickRule.EXTREMES, lambda v: [v.min(), v.mean(), v.max()]),
    ],
)
def test_pick_points(rule: PickRule, expected) -> None:  # type: ignore[no-untyped-def]
    world = noise_world(94)
    fit = fit_of(study_of(world, "y", "x, w; x*w"))
    found = pick_points(fit.design.number("w"), world["w"], PickPoints(rule))
    assert [place.value for place in found] == pytest.approx(expected(world["w"]))


def test_cases_near_a_place_are_those_within_a_quarter_sd() -> None:
    world = noise_world(95)
    study = study_of(world, "y", "x, w; x*w")
    probed = probe_fit(study, fit_of(study), Probe("x", "w"))
    w, sd = world["w"], world["w"].std(ddof=1)
    for i, place in enumerate(probed.places):
        assert isinstance(place, NumberPlace)
        assert [near.cases for near in probed.panels[0].foci[0].near[i]] == [
            int(np.sum(np.abs(w - place.value) <= sd / 4))
        ]


def test_the_interaction_test_is_the_change_of_its_block() -> None:
    study = study_of(noise_world(96), "y", "x, g; x*g")
    fit = fit_of(study)
    probed = probe_fit(study, fit, Probe("x", "g"))
    assert probed.joint.f == pytest.approx(fit.last.change.test.f, rel=1e-9)
    assert probed.joint.p == pytest.approx(fit.last.change.test.p, rel=1e-8)


def test_two_groups_give_cell_means() -> None:
    world = noise_world(97)
    study = study_of(world, "y", "g, d; g*d")
    probed = probe_fit(study, fit_of(study), Probe("g", "d"))
    assert not probed.panels[0].lines
    for i, g in enumerate(("low", "mid", "top")):
        for j, d in enumerate(("no", "yes")):
            cell = world["y"][(world["g"] == g) & (world["d"] == d)]
            assert probed.panels[0].means[i][j].effect == pytest.approx(cell.mean())
    difference = probed.panels[0].foci[1].differences[0].effect.effect
    expected = (probed.panels[0].means[2][1].effect - probed.panels[0].means[0][1].effect) - (
        probed.panels[0].means[2][0].effect - probed.panels[0].means[0][0].effect
    )
    assert difference == pytest.approx(expected)


def test_lines_meet_where_all_have_the_same_height() -> None:
    study = study_of(noise_world(98), "y", "x, w; x*w")
    fit = fit_of(study)
    probed = probe_fit(study, fit, Probe("x", "w"))
    (at,) = probed.panels[0].crossing
    heights = [float(line.curve.effect(np.array([at]))[0]) for line in probed.panels[0].lines]
    assert np.ptp(heights) < 1e-8 * abs(heights[0])
    b = fit.last.b
    assert at == pytest.approx(-b[2] / b[3])


def test_lines_of_three_groups_need_not_meet_in_one_place() -> None:
    study = study_of(noise_world(99), "y", "x, g; x*g")
    assert probe_fit(study, fit_of(study), Probe("x", "g")).panels[0].crossing == ()


def test_another_group_can_be_held_at_a_level() -> None:
    study = study_of(noise_world(100), "y", "x, w, d; x*w, x*d")
    fit = fit_of(study)
    shares = probe_fit(study, fit, Probe("x", "w")).panels[0].foci[0].effects[1].effect
    yes = probe_fit(study, fit, Probe("x", "w", held=(("d", "yes"),))).panels[0].foci[0].effects[1].effect
    no = probe_fit(study, fit, Probe("x", "w", held=(("d", "no"),))).panels[0].foci[0].effects[1].effect
    share = fit.design.group("d").shares[1]
    assert shares == pytest.approx(share * yes + (1 - share) * no)
    assert yes - no == pytest.approx(fit.last.b[-1])


def test_the_handles_line_is_the_line_of_its_place() -> None:
    study = study_of(noise_world(101), "y", "x, w; x*w")
    probed = probe_fit(study, fit_of(study), Probe("x", "w"))
    grid, w = np.linspace(2, 8, 5), probed.places[2]
    assert isinstance(w, NumberPlace)
    np.testing.assert_allclose(
        line_at(probed, w.value, 0).effect(grid), probed.panels[0].lines[2].curve.effect(grid), rtol=1e-10
    )


def test_earlier_steps_can_be_probed_but_not_before_the_product() -> None:
    study = study_of(noise_world(102), "y", "x, w; x*w; z")
    fit = fit_of(study)
    probe = Probe("x", "w")
    assert first_step(study, probe) == 1
    assert probe_fit(study, fit, replace(probe, step=study.model.steps[1].id)).step == 1
    assert probe_fit(study, fit, probe).step == 2
    with pytest.raises(StudyError, match="step 2 is the first"):
        probe_fit(study, fit, replace(probe, step=study.model.steps[0].id))
    with pytest.raises(StudyError, match="No term multiplies"):
        first_step(study, Probe("x", "z"))


def test_what_can_be_probed_and_what_is_probed_first() -> None:
    study = study_of(noise_world(103), "y", "x, w, d; x*w; w*d*x")
    assert probeable(study) == (("x", "w"), ("w", "d"), ("d", "x"))
    assert default_probe(study, None) == Probe("w", "x", second=Second("d"))
    chosen = put_probe(study, Probe("w", "x"))
    assert default_probe(chosen, None) == Probe("w", "x")
    assert default_probe(take_out(chosen, study.model.terms), None) is None


def test_a_slope_of_a_standardized_predictor_is_per_sd() -> None:
    study = study_of(noise_world(104), "y", "x, w; x*w")
    plain = probe_fit(study, fit_of(study), Probe("x", "w")).panels[0].foci[0].effects[0]
    other = treat(study, ["x"], STANDARDIZED)
    scaled = probe_fit(other, fit_of(other), Probe("x", "w")).panels[0].foci[0].effects[0]
    sd = noise_world(104)["x"].std(ddof=1)
    assert scaled.effect == pytest.approx(plain.effect * sd)
    assert scaled.t == pytest.approx(plain.t)


def test_places_stay_in_raw_units_whatever_the_treatment_of_the_moderator() -> None:
    study = study_of(noise_world(105), "y", "x, w; x*w")
    curve = probe_fit(study, fit_of(study), Probe("x", "w")).panels[0].foci[0].curve
    other = treat(study, ["w"], STANDARDIZED)
    same = probe_fit(other, fit_of(other), Probe("x", "w")).panels[0].foci[0].curve
    assert curve is not None
    assert same is not None
    assert same.boundaries() == pytest.approx(curve.boundaries(), rel=1e-9)


@pytest.mark.parametrize("derive", [None, "x"])
def test_rows_at_all_levels_are_the_rows_at_each(derive: str | None) -> None:
    study = set_coding(study_of(noise_world(3), "y", "x, w, g; x*g, w*g, x*w; x*x*g, x*w*g"), "g", Effect())
    design = fit_of(study).design
    profile = design.typical()
    for along in (None, along_of(design.number("w"))):
        whole = design.rows_at_levels(profile, "g", along, derive)
        for i in range(3):
            one = design.rows(profile.with_level("g", i), along, derive)
            np.testing.assert_allclose(whole[i][:, : one.shape[1]], one, rtol=1e-14, atol=1e-14)
            assert not np.any(whole[i][:, one.shape[1] :])


@pytest.mark.parametrize("coding", [Dummy("b"), Dummy("c"), Effect("a"), LevelMeans(), Adjacent()])
def test_a_group_along_itself_has_one_place_whatever_its_reference(coding: Coding) -> None:
    study = study_of(noise_world(4) | {"g": np.array(list("abcb") * 20)}, "y", "x; g")
    if isinstance(coding, LevelMeans):
        study = set_constant(study, False)
    study = set_coding(study, "g", coding)
    probed = probe_fit(study, fit_of(study), Probe("g", "g"))
    assert len(probed.places) == 1
    assert all(not focus.differences for focus in probed.panels[0].foci)
    assert len(probed.panels[0].means) == 3
