"""What no case tells of is not printed; what is printed is the same whatever is left out and compared with."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest

from tests.support import oracle
from tests.support.seeds import few
from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.fit.asked.diagnosis import diagnose
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.factor import factor
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.curve import _real_roots
from yellow_slope.core.probe.places import LevelPlace
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.blocks import leave_out_first
from yellow_slope.core.study.edits.entries import set_reference, treat
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Mean, Treatment

N_DESIGNS = few(24, 100)


def holey(seed: int) -> dict[str, list[int] | list[str]]:
    """Two groups with empty cells and cells of one case, a number, and an outcome."""
    rng = np.random.default_rng(3000 + seed)
    n = int(rng.integers(14, 26))
    cells = [(g, h) for g in "abc" for h in "uvw" if rng.random() < 0.65] or [("a", "u"), ("b", "v")]
    picks = [cells[i] for i in rng.integers(0, len(cells), n)]
    x = rng.integers(-4, 5, n)
    if seed % 3 == 0:  # in one group x never changes
        x = np.where([g == "c" for g, _ in picks], 2, x)
    return {
        "g": [g for g, _ in picks],
        "h": [h for _, h in picks],
        "x": x.tolist(),
        "y": (x + rng.integers(-6, 7, n)).tolist(),
    }


def rank(rows: list[list[Fraction]]) -> int:
    """Rank by elimination without rounding."""
    work, found = [list(row) for row in rows], 0
    for j in range(len(work[0])):
        pivot = next((i for i in range(found, len(work)) if work[i][j] != 0), None)
        if pivot is None:
            continue
        work[found], work[pivot] = work[pivot], work[found]
        for i in range(len(work)):
            if i != found and work[i][j] != 0:
                factor_ = work[i][j] / work[found][j]
                work[i] = [a - factor_ * b for a, b in zip(work[i], work[found])]
        found += 1
    return found


def printed(study: Study) -> dict[str, tuple[float, float]]:
    """Every conditional effect, cell mean and difference of the model, by what it says, with its standard error."""
    fit = fit_of(study)
    out: dict[str, tuple[float, float]] = {}
    for focal, moderator in (("x", "g"), ("g", "h")):
        try:
            probed = probe_fit(study, fit, Probe(focal, moderator))
        except Exception:
            continue
        codes = [p.code for p in probed.places if isinstance(p, LevelPlace)]
        if focal == "x":
            for code, e in zip(codes, probed.panels[0].foci[0].effects):
                out[f"slope in {code}"] = (e.effect, e.se)
            for d in probed.panels[0].foci[0].differences:
                assert d.minus is not None
                names = sorted([str(codes[d.of]), str(codes[d.minus])])
                sign = 1 if codes[d.of] == names[1] else -1
                out[f"slopes {names}"] = (sign * d.effect.effect, d.effect.se)
        else:
            for code, row in zip(probed.focal.levels, probed.panels[0].means):  # type: ignore[union-attr]
                for place, e in zip(codes, row):
                    out[f"mean {code} {place}"] = (e.effect, e.se)
    return out


@pytest.mark.parametrize("seed", range(N_DESIGNS))
def test_the_same_whatever_is_left_out_or_compared_with(seed: int) -> None:
    study = study_of(holey(seed), "y", "x, g, h; x*g, g*h")
    if not isinstance(evaluate(study).of(), Fit):
        pytest.skip("too few cases for the model")
    first = printed(study)
    assert first
    others = [leave_out_first(study, t) for t in study.model.terms]
    for name in "gh":
        present = fit_of(study).design.group(name).levels
        others += [set_reference(study, name, code) for code in present[1:]]
    for other in others:
        found = printed(other)
        assert set(found) == set(first)
        for key, (effect, se) in first.items():
            assert np.isnan(effect) == np.isnan(found[key][0]), key
            if np.isfinite(effect):
                assert found[key][0] == pytest.approx(effect, rel=1e-7, abs=1e-7), key
                assert found[key][1] == pytest.approx(se, rel=1e-6, nan_ok=True), key


@pytest.mark.parametrize("seed", range(0, N_DESIGNS, 4))
def test_estimable_is_what_the_rows_of_the_matrix_span(seed: int) -> None:
    """Against exact rational rank: g is estimable if it adds nothing to the row space of [1 X]."""
    study = study_of(holey(seed), "y", "x, g, h; x*g, g*h")
    if not isinstance(evaluate(study).of(), Fit):
        pytest.skip("too few cases for the model")
    fit = fit_of(study)
    rows = [[Fraction(1), *(Fraction(int(v)) for v in row)] for row in fit.x]
    whole = rank(rows)
    for j in range(fit.last.n_columns + 1):
        g = [Fraction(int(i == j)) for i in range(fit.last.n_columns + 1)]
        assert bool(fit.last.estimable[j]) == (rank([*rows, g]) == whole)
    assert fit.last.rank == whole


def test_one_case_in_a_group_tells_of_no_slope() -> None:
    data = {"g": list("aaaabbbbc"), "x": [1, 2, 3, 4, 1, 2, 3, 4, 3], "y": [2, 3, 5, 4, 5, 5, 4, 3, 9]}
    for reference in "abc":
        study = set_reference(study_of(data, "y", "x, g; x*g"), "g", reference)
        probed = probe_fit(study, fit_of(study), Probe("x", "g"))
        lone = probed.panels[0].foci[0].effects[2]
        assert lone.why is Why.NOT_ESTIMABLE
        assert np.isnan(lone.effect)
        assert len(probed.panels[0].lines) == 2, "no line either"
        along = probe_fit(study, fit_of(study), Probe("g", "x"))
        assert any(
            not f.curve.is_estimable and f.regions is not None and f.regions.within == ()
            for f in along.panels[0].foci
            if f.curve is not None
        )


def test_an_empty_cell_has_no_mean_and_no_difference() -> None:
    cells = study_of({"s": list("mmmmff"), "t": list("xxzzxx"), "y": [1, 2, 5, 7, 4, 6]}, "y", "s, t; s*t")
    study = set_reference(set_reference(cells, "s", "m"), "t", "x")
    probed = probe_fit(study, fit_of(study), Probe("s", "t"))
    at_x, at_z = probed.panels[0].foci[0].effects
    assert at_x.effect == pytest.approx(3.5)
    assert np.isnan(at_z.effect)
    assert at_z.why is Why.NOT_ESTIMABLE
    assert np.isnan(probed.panels[0].foci[0].differences[0].effect.effect)
    by_code = dict(zip(probed.focal.levels, probed.panels[0].means))  # type: ignore[union-attr]
    assert np.isnan(by_code["f"][1].effect)


def test_coefficients_that_depend_on_a_choice_are_not_given() -> None:
    world = noise_world(25)
    world["sum"] = world["x"] + world["w"]
    step = fit_of(study_of(world, "y", "x, w, sum, z")).last
    assert np.isnan(step.b[1:4]).all()
    assert np.isfinite(step.b[[0, 4]]).all()
    assert [step.why(j) for j in range(4)] == [Why.NOT_ESTIMABLE, Why.NOT_ESTIMABLE, Why.LEFT_OUT, None]
    cov = step.covariance
    assert np.isnan(cov[1]).all()
    assert np.isnan(cov[:, 1]).all(), "columns as well as rows"
    assert np.isfinite(cov[4, 4])


# ---- sums are seen


@pytest.mark.parametrize("decimals", [0, 1, 2, 4, 6])
@pytest.mark.parametrize("far", [1e2, 1e3, 1e4, 1e6, 1e8, 1e9])
@pytest.mark.parametrize("parts", [2, 3, 6])
def test_an_exact_sum_is_seen_wherever_the_mean_lies(far: float, decimals: int, parts: int) -> None:
    rng = np.random.default_rng(int(far) % 1000 + parts + decimals)
    sd = 1.0 if decimals else 40.0
    columns = [np.round(rng.normal(far * sd, sd, 120), decimals) for _ in range(parts)]
    total = np.round(sum(columns), decimals)
    y = rng.normal(size=120)
    world = {f"v{i}": c for i, c in enumerate(columns)} | {"total": total, "y": y}
    names = ", ".join(f"v{i}" for i in range(parts))
    raw = study_of(world, "y", f"{names}, total")
    fit = fit_of(raw)
    assert [out.column for out in fit.left_out] == [parts]
    weights = dict(fit.left_out[0].on)
    assert sorted(weights) == list(range(parts))
    np.testing.assert_allclose(list(weights.values()), 1.0, atol=1e-4)
    centered = treat(raw, [f"v{i}" for i in range(parts)], Treatment(zero=Mean()))
    assert [out.column for out in fit_of(centered).left_out] == [parts], "centered columns carry their rounding along"


@pytest.mark.parametrize("far", [1e2, 1e4, 1e6, 1e8])
def test_what_is_not_a_sum_stays_in(far: float) -> None:
    rng = np.random.default_rng(3)
    a, b = (np.round(rng.normal(far, 1, 120), 2) for _ in range(2))
    off = a + b + 0.01 * rng.integers(0, 2, 120)
    assert not fit_of(study_of({"a": a, "b": b, "off": off, "y": rng.normal(size=120)}, "y", "a, b, off")).left_out
    x = np.column_stack([a, a + 1e-3 * rng.normal(size=120)])
    assert factor(x, rng.normal(size=120)).kept.size == 2


# ---- what does not exist


def test_a_perfect_fit_has_no_errors() -> None:
    for scale, shift in ((1.0, 0.0), (0.1, 3.3), (1e6, 1e9)):
        x = np.arange(1.0, 30.0) * scale + shift
        step = fit_of(study_of({"x": x, "y": 2 * x + 1}, "y", "x")).last
        assert step.is_perfect
        assert step.b[1] == pytest.approx(2.0, rel=1e-6)
        for values in (step.se, step.t, step.p, step.low, step.high):
            assert np.isnan(values).all()
        assert np.isnan(step.change.test.f)
        assert step.change.test.why is Why.PERFECT
        assert np.isnan(step.aic)
        assert step.r2 == 1.0
    near = np.arange(1.0, 30.0)
    assert not fit_of(study_of({"x": near, "y": 2 * near + 1e-9 * np.cos(near)}, "y", "x")).last.is_perfect


def test_an_effect_that_the_model_fixes_has_no_test() -> None:
    study = study_of(noise_world(31), "y", "z; x*w")
    probed = probe_fit(study, fit_of(study), Probe("x", "w", pick=PickPoints(PickRule.OWN, (0.0, 2.0))))
    fixed, other = probed.panels[0].foci[0].effects
    assert (fixed.effect, fixed.se, fixed.why) == (0.0, 0.0, Why.FIXED)
    assert np.isnan(fixed.t)
    assert np.isnan(fixed.p)
    assert other.why is None
    curve = probed.panels[0].foci[0].curve
    assert curve is not None
    stretches = curve.stretches(curve.pointwise, np.asarray(probed.observed))
    signs = [s.sign for s in stretches]
    assert 1 in signs or signs == [0]
    if 1 in signs:
        assert signs == [-1, 1], "the effect changes its sign where the partner is 0"
        assert stretches[0].high == pytest.approx(0.0, abs=1e-9)


def test_a_square_is_probed_along_itself() -> None:
    world = noise_world(32)
    study = study_of(world, "y", "x, w; x*x")
    fit = fit_of(study)
    probed = probe_fit(study, fit, Probe("x", "x", pick=PickPoints(PickRule.OWN, (2.0, 6.0))))
    b = fit.last.b
    assert [e.effect for e in probed.panels[0].foci[0].effects] == pytest.approx([b[1] + 4 * b[3], b[1] + 12 * b[3]])
    assert probed.joint.f == pytest.approx(float(fit.last.t[3] ** 2), rel=1e-9)
    assert probed.joint.df1 == 1


def test_joint_tests_are_what_a_term_adds_to_all_others() -> None:
    """With columns that depend on each other: the drop of SSE and rank when the term is taken out, in exact
    arithmetic."""
    data = holey(4)
    study = study_of(data, "y", "x, g, h; g*h")
    fit = fit_of(study)
    product = term("g*h")
    assert set(fit.last.joint) == {t for t in study.model.terms if len(fit.design.columns_of(t)) > 1}
    assert term("x") not in fit.last.joint
    rows = [[Fraction(1), *(Fraction(int(v)) for v in row)] for row in fit.x]
    own = [j + 1 for j in fit.design.columns_of(product)]
    y = [Fraction(int(v)) for v in data["y"]]

    def sse(columns: list[int]) -> tuple[Fraction, int]:
        kept: list[int] = []
        for j in columns:
            if rank([[row[i] for i in [*kept, j]] for row in rows]) > len(kept):
                kept.append(j)
        return oracle.exact_fit([[row[i] for i in kept] for row in rows], y).sse, len(kept)

    whole, full = sse(list(range(len(rows[0]))))
    without, less = sse([j for j in range(len(rows[0])) if j not in own])
    test = fit.last.joint[product]
    assert test.df1 == full - less
    expected = ((without - whole) / (full - less)) / (whole / (len(y) - full))
    assert test.f == pytest.approx(float(expected), rel=1e-8)


def test_a_part_that_the_model_fixes_takes_nothing_from_a_joint_test() -> None:
    """Without the number itself its slope in the reference group is 0 by the model: nothing to test there."""
    study = study_of(noise_world(9), "y", "g; x*g")
    inference = fit_of(study).last.inference
    own = np.eye(inference.solution.size)[[3, 4]]
    alone = inference.test(own)
    with_fixed = inference.test(np.vstack([np.zeros(own.shape[1]), own]))
    assert alone.f > 0
    assert with_fixed.f == pytest.approx(alone.f, rel=1e-12)
    assert (with_fixed.df1, with_fixed.df2) == (alone.df1, alone.df2) == (2, 75)
    assert inference.test(np.zeros((1, own.shape[1]))).why is Why.FIXED


def test_roots_of_polynomials_that_lose_their_leading_term() -> None:
    assert list(_real_roots(np.array([-1.0, 1.0, 0.0]), 1e-9)) == pytest.approx([1.0])
    assert list(_real_roots(np.array([-6.0, 1.0, 1.0, 1e-14, 0.0]), 1e-9)) == pytest.approx([-3.0, 2.0])
    assert _real_roots(np.array([1.0, 0.0, 0.0]), 1e-9).size == 0
    assert _real_roots(np.array([1.0, 0.0, 1.0]), 1e-9).size == 0


def test_one_degree_of_freedom_is_enough_for_errors() -> None:
    x, y = [1, 2, 4], [2, 3, 9]
    step = fit_of(study_of({"x": x, "y": y}, "y", "x")).last
    exact = oracle.exact_fit([[Fraction(1), Fraction(v)] for v in x], [Fraction(v) for v in y])
    assert step.df == 1
    assert step.se[1] == pytest.approx(float(exact.variance([Fraction(0), Fraction(1)])) ** 0.5, rel=1e-12)
    assert step.p[1] == pytest.approx(
        float(oracle.t_p(oracle.mp(exact.b[1]) / exact.variance([Fraction(0), Fraction(1)]) ** 0.5, 1)), rel=1e-9
    )


def test_a_sum_of_numbers_centered_within_groups_is_seen_far_from_zero() -> None:
    from yellow_slope.core.study.treatment import WithinGroups

    rng = np.random.default_rng(5)
    a, b = (np.round(rng.normal(1e8, 1, 90), 2) for _ in range(2))
    world = {
        "a": a,
        "b": b,
        "total": np.round(a + b, 2),
        "g": [("u", "v", "w")[i % 3] for i in range(90)],
        "y": rng.normal(size=90),
    }
    study = treat(study_of(world, "y", "a, b, total, g"), ["a", "b", "total"], Treatment(zero=WithinGroups("g")))
    assert [out.column for out in fit_of(study).left_out] == [2]


def test_a_perfect_fit_has_no_information_criteria_and_a_case_of_leverage_1_no_studentized_residual() -> None:
    rng = np.random.default_rng(12)
    x = rng.normal(size=40) + 7
    perfect = fit_of(study_of({"x": x, "y": 2.3 * x + 1.1}, "y", "x")).steps[-1]
    assert perfect.is_perfect
    assert np.isnan([perfect.aic, perfect.bic]).all()
    groups = ["alone"] + [f"g{i % 3}" for i in range(39)]
    found = diagnose(fit_of(study_of({"x": x, "g": groups, "y": rng.normal(size=40)}, "y", "x, g")), 0)
    for values in (found.studentized, found.deleted, found.cook, found.dffits):
        assert np.isnan(values[0])
        assert np.isfinite(values[1:]).all()
