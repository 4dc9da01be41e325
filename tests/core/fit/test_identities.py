"""Identities that hold whatever the data: shifts, scales, codings, pick points."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.fit.design.axis import Axis
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.design.design import Along
from yellow_slope.core.probe.curve import curve
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.regions import critical_value
from yellow_slope.core.study.edits.entries import set_reference, treat
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, RegionRule
from yellow_slope.core.study.treatment import CENTERED, READY, STANDARDIZED, Treatment

seeds = st.integers(0, 10_000)


@settings(max_examples=25, deadline=None)
@given(seeds, st.floats(-50, 50), st.floats(-50, 50))
def test_shifting_predictors_leaves_the_products_test(seed: int, a: float, b: float) -> None:
    world = noise_world(seed)
    plain = fit_of(study_of(world, "y", "x, w; x*w")).last
    world["x"], world["w"] = world["x"] + a, world["w"] + b
    moved = fit_of(study_of(world, "y", "x, w; x*w")).last
    assert moved.t[3] == pytest.approx(plain.t[3], rel=1e-7)
    assert moved.change.test.f == pytest.approx(plain.change.test.f, rel=1e-7)
    assert moved.r2 == pytest.approx(plain.r2, rel=1e-9)


@settings(max_examples=25, deadline=None)
@given(seeds)
def test_slope_at_a_pick_point_is_the_coefficient_after_centering_there(seed: int) -> None:
    world = noise_world(seed)
    study = study_of(world, "y", "x, w; x*w")
    value = float(np.quantile(world["w"], 0.8))
    found = (
        probe_fit(study, fit_of(study), Probe("x", "w", pick=PickPoints(PickRule.OWN, (value,))))
        .panels[0]
        .foci[0]
        .effects[0]
    )
    shifted = fit_of(study_of({**world, "w": world["w"] - value}, "y", "x, w; x*w")).last
    assert found.effect == pytest.approx(shifted.b[1], rel=1e-9)
    assert found.se == pytest.approx(shifted.se[1], rel=1e-9)


@pytest.mark.parametrize("reference", ["low", "mid", "top"])
def test_coding_leaves_fit_and_joint_tests(reference: str) -> None:
    study = study_of(noise_world(3), "y", "x, g; x*g")
    plain = fit_of(study).last
    other = fit_of(set_reference(study, "g", reference)).last
    assert other.sse == pytest.approx(plain.sse, rel=1e-12)
    assert other.joint[term("x*g")].f == pytest.approx(plain.joint[term("x*g")].f, rel=1e-10)


def test_each_dummy_coefficient_is_its_difference_of_means() -> None:
    world = noise_world(4)
    study = set_reference(study_of(world, "y", "g"), "g", "mid")
    step = fit_of(study).last
    means = {name: world["y"][world["g"] == name].mean() for name in ("low", "mid", "top")}
    assert step.b[0] == pytest.approx(means["mid"])
    assert step.b[1] == pytest.approx(means["low"] - means["mid"])
    assert step.b[2] == pytest.approx(means["top"] - means["mid"])
    assert step.change.test.f == pytest.approx(step.whole.f, rel=1e-12)


def test_centered_columns_average_zero_and_standardized_have_sd_1() -> None:
    world = noise_world(5)
    world["x"] = world["x"] + 1e6
    study = treat(study_of(world, "y", "x, w"), ["x"], CENTERED)
    study = treat(study, ["w"], STANDARDIZED)
    x = fit_of(study).x
    assert abs(x[:, 0].mean()) < 1e-9
    assert x[:, 0].std(ddof=1) == pytest.approx(world["x"].std(ddof=1), rel=1e-12)
    assert abs(x[:, 1].mean()) < 1e-14
    assert x[:, 1].std(ddof=1) == pytest.approx(1.0, abs=1e-14)


@pytest.mark.parametrize("treatment", READY)
def test_beta_is_the_coefficient_of_the_standardized_model(treatment: Treatment) -> None:
    """β of a product: everything standardized first, then multiplied, with the intercept kept."""
    world = noise_world(6)
    study = treat(study_of(world, "y", "x, w; x*w"), ["x", "w"], treatment)
    z = {k: (world[k] - world[k].mean()) / world[k].std(ddof=1) for k in ("x", "w", "y")}
    rows = np.column_stack([np.ones(z["x"].size), z["x"], z["w"], z["x"] * z["w"]])
    expected = np.linalg.lstsq(rows, z["y"], rcond=None)[0]
    np.testing.assert_allclose(fit_of(study).last.beta[1:], expected[1:], rtol=1e-9)


@settings(max_examples=20, deadline=None)
@given(seeds)
def test_signs_and_counts_of_regions_by_brute_force(seed: int) -> None:
    world = noise_world(seed)
    study = study_of(world, "y", "x, w, d; x*w; w*d")
    for probe in (Probe("x", "w"), Probe("d", "w")):
        probed = probe_fit(study, fit_of(study), probe)
        focus = probed.panels[0].foci[0]
        assert focus.curve is not None
        observed = np.asarray(probed.observed, dtype=np.float64)
        effect, se = focus.curve.effect(observed), focus.curve.se(observed)
        told = np.where(np.abs(effect) > focus.curve.pointwise * se, np.sign(effect), 0)
        assert focus.regions is not None
        assert sum(region.n for region in focus.regions.within) == observed.size
        for region in focus.regions.within:
            inside = (observed >= region.low) & (observed < region.high)
            assert np.all(told[inside] == region.sign)
            assert region.n == int(inside.sum())


def test_derivative_and_polynomial_agree_with_finite_differences() -> None:
    """Three-way, squared and coded products: one description, no special cases."""
    world = noise_world(8, 120)
    study = study_of(world, "y", "x, w, g, z; x*x, x*w, x*g, w*g; x*w*g, x*x*w")
    fit = fit_of(treat(study, ["x", "w"], CENTERED))
    design, b = fit.design, np.nan_to_num(fit.last.b)
    profile = design.typical().with_number("x", 6.1).with_number("w", 2.2)
    h = 1e-5

    def predicted(x: float, w: float) -> float:
        here = profile.with_number("x", x).with_number("w", w)
        return float(b @ design.rows(here)[:, 0])

    slope = float(b @ design.rows(profile, derive="x")[:, 0])
    assert slope == pytest.approx((predicted(6.1 + h, 2.2) - predicted(6.1 - h, 2.2)) / (2 * h), rel=1e-6)
    probed = probe_fit(study, fit_of(study), Probe("x", "w"))
    curve = probed.panels[0].foci[0].curve
    assert curve is not None
    basis = probed.moderator
    assert isinstance(basis, NumberBasis)
    raw = fit_of(study)
    for w in (basis.low, 2.2, basis.high):
        at = raw.design.typical().with_number("w", w)
        g = raw.design.rows(at, derive="x")[:, 0]
        assert float(curve.effect(np.array([w]))[0]) == pytest.approx(float(g @ raw.last.b), rel=1e-9)
        assert float(curve.se(np.array([w]))[0]) == pytest.approx(float(np.sqrt(g @ raw.last.covariance @ g)), rel=1e-8)


def test_boundaries_of_a_curved_effect_by_bracketing() -> None:
    """With the square of the moderator in the slope there can be four boundaries; each is found."""
    rng = np.random.default_rng(2)
    n = 400
    x, w = rng.normal(0, 1, n), rng.uniform(-3, 3, n)
    y = (w**2 - 3.5) * x + rng.normal(0, 3, n)
    study = study_of({"x": x, "w": w, "y": y}, "y", "x, w, w*w; x*w, x*w*w")
    curve = probe_fit(study, fit_of(study), Probe("x", "w")).panels[0].foci[0].curve
    assert curve is not None
    found = np.array(curve.boundaries())
    grid = np.linspace(-3, 3, 60001)
    excess = np.abs(curve.effect(grid)) - curve.pointwise * curve.se(grid)
    crossings = grid[:-1][np.sign(excess[:-1]) != np.sign(excess[1:])]
    inside = found[(found > -3) & (found < 3)]
    assert inside.size == crossings.size == 4
    np.testing.assert_allclose(inside, crossings, atol=2e-4)


def test_the_bands_of_all_points_at_once_are_wider() -> None:
    study = study_of(noise_world(9), "y", "x, w; x*w")
    curve = probe_fit(study, fit_of(study), Probe("x", "w")).panels[0].foci[0].curve
    assert curve is not None
    assert critical_value(RegionRule.SIMULTANEOUS, curve, np.zeros(0)) > curve.pointwise


def test_a_curve_is_of_no_higher_degree_than_its_rows() -> None:
    """Powers that stand nowhere are cut off, those between are kept."""
    fit = fit_of(study_of(noise_world(3), "y", "x, w; x*w"))
    along = Along("w", 3.0, 1.0, Axis())
    rows = np.zeros((4, 6))
    rows[3, 2] = 1.0
    assert curve(fit.last.inference, rows, along, 0.95).g.shape == (4, 3)
    assert curve(fit.last.inference, np.zeros((4, 6)), along, 0.95).g.shape == (4, 1)
