"""Boundaries without each case, against n fits without it."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.seeds import few
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.leftbounds import BoundariesWithoutEach, boundaries_without_each
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.study.probe import Probe, RegionRule
from yellow_slope.core.study.standarderrors import HC, Classical, Cluster, Errors
from yellow_slope.core.study.treatment import At, Transform, Treatment

ERRORS: list[Errors] = [Classical(), *(HC(kind) for kind in range(5)), Cluster("id")]
RULES = [RegionRule.POINTWISE, RegionRule.POINTWISE, RegionRule.SIMULTANEOUS, RegionRule.FALSE_DISCOVERY]


@pytest.mark.parametrize("seed", range(few(20, 112)))
def test_against_refits(seed: int) -> None:
    """By the model's own errors and the rule of its regions, whatever these are."""
    errors, rule = ERRORS[seed % len(ERRORS)], RULES[seed % len(RULES)]
    rng = np.random.default_rng(seed)
    n = int(rng.integers(12, 30))
    made = {"x": rng.normal(3, 1, n), "w": np.round(rng.uniform(1, 9, n), 1)}
    made["y"] = 1 + made["x"] * (0.6 - 0.15 * made["w"]) + rng.normal(size=n) * 0.8
    groups = ["left" if k % 2 else "right" for k in range(n)]
    if seed % 5 == 0:
        groups = ["right"] * n
        groups[3] = "left"
    if seed % 7 == 0:
        made["y"] = 1 + made["x"] - 0.2 * made["x"] * made["w"]
        made["y"][4] += 2
    focal = "g" if seed % 3 == 0 else "x"
    ids = [f"k{k % 7}" for k in range(n)]
    study = study_of({**made, "g": groups, "id": ids}, "y", "x, w, g; x*w, g*w" if seed % 2 else f"x, w, g; {focal}*w")
    zero = Treatment((Transform.LOG,), At(1.0)) if seed % 4 == 1 else Treatment(zero=At(2.0))
    study = set_errors(treat(study, ["w"], zero), errors)
    fit = fit_of(study)
    step = len(fit.steps) - 1
    probe = Probe(focal, "w", rule=rule)
    curve = probe_fit(study, fit, probe).panels[0].foci[0].curve
    assert curve is not None
    found = boundaries_without_each(fit, step, curve, rule, np.asarray(fit.values["w"]))
    if isinstance(found, Why):
        assert not curve.is_estimable or fit.last.inference.why is not None
        return
    for i, bounds in enumerate(found.at):
        less = set_aside(study, [i], "out")
        try:
            other = fit_of(less)
        except AssertionError:
            continue
        if len(other.design.columns) < len(fit.design.columns):
            assert bounds is None, "a level that only this case is in"
            continue
        focus = probe_fit(less, other, probe).panels[0].foci[0]
        rest = focus.curve
        assert rest is not None
        assert focus.regions is not None
        assert (bounds is None) is (not rest.has_errors)
        if bounds is not None:
            low, high = sorted(rest.ends())
            expected = [w for w in rest.boundaries(focus.regions.critical) if low < w < high]
            assert [w for w in bounds if low < w < high] == pytest.approx(expected, rel=1e-6, abs=1e-8)


def test_spans_are_those_of_all_fits() -> None:
    found = BoundariesWithoutEach(((1.0, 5.0), (1.5, 4.0), None, (0.5, 4.5)))
    assert found.spans() == ((0.5, 1.5), (4.0, 5.0))
    assert found.counts == (2,)
    assert BoundariesWithoutEach(((1.0,), (1.0, 2.0))).spans() == ()
    assert BoundariesWithoutEach(()).spans() == ()
