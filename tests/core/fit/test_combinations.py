"""What goes wrong only together: each family drawn at random, and reckoned in exact arithmetic."""

from __future__ import annotations

import random
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from tests.support import oracle
from tests.support.worlds import fit_of, study_of, term
from yellow_slope.core.fit.asked.diagnosis import press_r2
from yellow_slope.core.fit.design.axis import Axis, axis_over
from yellow_slope.core.fit.design.design import Along
from yellow_slope.core.fit.fitted.inference import Inference
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.curve import Curve, FiellerKind
from yellow_slope.core.probe.places import Everywhere, NumberPlace
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.coding import Coding, Dummy, Effect, LevelMeans, WeightedEffect
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.edits.entries import set_coding, set_reference, treat
from yellow_slope.core.study.edits.models import set_constant, set_errors
from yellow_slope.core.study.probe import Probe, RegionRule, Second
from yellow_slope.core.study.standarderrors import HC, Cluster
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED, Transform, Treatment, WithinGroups
from yellow_slope.core.told.steps import step_figures
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.figures import probe_caption
from yellow_slope.core.words.sentences.regions import band_note
from yellow_slope.core.words.sentences.steps import headline
from yellow_slope.files.spec import study_from
from yellow_slope.files.specdocument import SpecDocument
from yellow_slope.files.study.typed import from_json
from yellow_slope.report.probetables import effects_table
from yellow_slope.values import replace

ONE = Fraction(1)


def exact(values: list[Fraction]) -> list[list[Fraction]]:
    return [[ONE, v] for v in values]


# ---- transformations after each other


RATIONAL = (Transform.SQUARE, Transform.RECIPROCAL, Transform.REVERSE, Transform.RANKS)
LOW, HIGH = 1, 7


def ranked(values: list[Fraction]) -> list[Fraction]:
    """Ranks, ties averaged: half the others that are as large, all that are smaller."""
    return [Fraction(sum(w < v for w in values)) + Fraction(sum(w == v for w in values) + 1, 2) for v in values]


def transformed(values: list[Fraction], chain: tuple[Transform, ...]) -> list[Fraction]:
    for transform in chain:
        if transform is Transform.SQUARE:
            values = [v * v for v in values]
        elif transform is Transform.RECIPROCAL:
            values = [1 / v for v in values]
        elif transform is Transform.REVERSE:
            values = [LOW + HIGH - v for v in values]
        else:
            values = ranked(values)
    return values


def number(study: Study, treatment: Treatment) -> Study:
    return treat(
        change_variable(study, replace(study.variable("x"), limits=(float(LOW), float(HIGH)))), ["x"], treatment
    )


def test_ranks_are_those_of_what_was_made_before() -> None:
    study = study_of({"x": [1, 1, 1, 2, 7, 3], "y": [1, 3, 2, 5, 4, 6]}, "y", "x")
    fit = fit_of(number(study, Treatment((Transform.REVERSE, Transform.RANKS))))
    assert fit.design.number("x").axis_mean == pytest.approx(3.5)
    assert fit.last.b[1] == pytest.approx(-25 / 31)


@pytest.mark.parametrize("seed", range(40))
def test_any_chain_of_transformations(seed: int) -> None:
    draw = random.Random(seed)
    n = draw.randint(6, 14)
    chain = tuple(draw.choice(RATIONAL) for _ in range(draw.randint(1, 3)))
    if Transform.RANKS not in chain:
        chain = (*chain, Transform.RANKS)
    while True:
        x = [Fraction(draw.randint(LOW, HIGH)) for _ in range(n)]
        try:
            made = transformed(x, chain)
        except ZeroDivisionError:
            chain = tuple(t for t in chain if t is not Transform.RECIPROCAL)
            continue
        if len(set(made)) > 1:
            break
    y = [Fraction(draw.randint(1, 9)) for _ in range(n)]
    study = number(study_of({"x": [int(v) for v in x], "y": [int(v) for v in y]}, "y", "x"), Treatment(chain))
    fit = fit_of(study)
    if len(set(y)) < 2:
        return
    solved = oracle.exact_fit(exact(made), y)
    assert fit.design.number("x").axis_mean == pytest.approx(float(sum(made, Fraction(0)) / n), rel=1e-12)
    np.testing.assert_allclose(fit.last.b, [float(b) for b in solved.b], rtol=1e-9, atol=1e-12)
    for value, wanted in zip(x, made):
        assert fit.design.number("x").axis.coordinate(float(value)) == pytest.approx(float(wanted), rel=1e-12)


# ---- robust standard errors of what has no residuals of its own


def test_a_cluster_that_is_a_group_tells_of_no_error_in_it() -> None:
    data = {
        "x": [1, 2, 3, 4] * 3,
        "g": list("aaaabbbbcccc"),
        "site": ["s1"] * 4 + ["s2"] * 2 + ["s3"] * 2 + ["s4"] * 4,
        "y": [3, 1, 4, 3, 2, 5, 3, 6, 4, 8, 7, 9],
    }
    study = set_errors(set_reference(study_of(data, "y", "x, g; x*g"), "g", "a"), Cluster("site"))
    fit = fit_of(study)
    slopes = probe_fit(study, fit, Probe("x", "g")).panels[0].foci[0]
    for effect in (*slopes.effects, *(d.effect for d in slopes.differences)):  # in the second group pairs cancel too
        assert effect.exists
        assert effect.why is Why.CANCELS
        assert np.isnan([effect.se, effect.t, effect.p, effect.low]).all()
    assert fit.last.why(0) is Why.CANCELS
    read = Reader(study, fit, study.model)
    assert "its standard error would be exactly 0" in read.coefficient(1, 0)


def test_one_case_alone_tells_of_no_error() -> None:
    study = set_reference(study_of({"g": list("abbbccc"), "y": [5, 1, 2, 4, 6, 7, 9]}, "y", "g"), "g", "a")
    fit = fit_of(set_errors(study, HC(1)))
    assert fit.last.b[0] == pytest.approx(5)
    assert fit.last.why(-1) is Why.CANCELS
    assert np.isnan(fit.last.low[0])


@pytest.mark.parametrize("scale", [1e-6, 1.0, 1e6])
@pytest.mark.parametrize("kind", [HC(0), HC(1)])
@pytest.mark.parametrize("seed", range(5))
def test_groups_that_a_line_fits_exactly(seed: int, kind: HC, scale: float) -> None:
    """Of groups of 2 to 6 cases, each with its own line, exactly those of two have no robust error."""
    rng = np.random.default_rng(seed)
    sizes = [2, *rng.integers(2, 7, 3)]
    g = np.repeat(list("abcd"), sizes)
    x = rng.permutation(np.arange(g.size) + 50.0)
    data = {"x": scale * x, "g": list(g), "y": scale * np.round(rng.normal(20, 5, g.size), 2)}
    study = set_errors(study_of(data, "y", "x, g; x*g"), kind)
    slopes = probe_fit(study, fit_of(study), Probe("x", "g")).panels[0].foci[0]
    for effect, size in zip(slopes.effects, sizes):
        assert (effect.why is Why.CANCELS) == (size == 2), (effect, size)


def test_all_points_at_once_are_refused_as_tests_are() -> None:
    rng = np.random.default_rng(4)
    data = {"x": rng.normal(size=40), "w": rng.normal(size=40), "y": rng.normal(size=40), "id": ["a"] * 17 + ["b"] * 23}
    study = set_errors(study_of(data, "y", "x, w; x*w"), Cluster("id"))
    fit = fit_of(study)
    probed = probe_fit(study, fit, Probe("x", "w", rule=RegionRule.SIMULTANEOUS))
    regions = probed.panels[0].foci[0].regions
    assert regions is not None
    assert np.isinf(regions.critical)
    assert not regions.tells
    assert "too few clusters" in band_note(regions, 0.95)
    assert fit.last.inference.test(np.eye(4)[1:3]).why is Why.CLUSTERS


# ---- a probe along itself, with another number held


def test_whether_an_effect_is_the_same_everywhere_is_asked_where_the_others_are_held() -> None:
    data = {"x": range(1, 11), "w": [2, 5, 1, 7, 3, 8, 4, 6, 10, 9], "y": [4, 3, 9, 2, 8, 1, 9, 9, 30, 24]}
    study = treat(study_of({k: list(v) for k, v in data.items()}, "y", "x, w, x*w, x*x*w"), ["x", "w"], CENTERED)
    fit = fit_of(study)
    probed = probe_fit(study, fit, Probe("x", "x", held=(("w", 9.0),)))
    (panel,) = probed.panels
    assert [type(place) for place in probed.places] == [NumberPlace] * 3
    b, w = fit.last.b, 9.0 - 5.5
    for place, effect in zip(probed.places, panel.foci[0].effects):
        assert isinstance(place, NumberPlace)
        assert effect.effect == pytest.approx(b[1] + b[3] * w + 2 * b[4] * w * (place.value - 5.5))
    at_mean = probe_fit(study, fit, Probe("x", "x"))
    assert [type(place) for place in at_mean.places] == [Everywhere]
    along = probe_fit(study, fit, Probe("x", "x", second=Second("w")))
    assert len(along.places) == 3
    assert along.panels[0].foci[0].effects[0].effect != along.panels[2].foci[0].effects[0].effect


# ---- what is held at its middle


WITHIN: dict[str, list[Any]] = {
    "x": [7.1, 9.3, 4.4, 12.2, 10.5, 8.7, 6.6, 11.9, 5.3, 13.8, 9.2, 7.4],
    "g": list("aabbccabcabc"),
    "y": [3, 5, 2, 8, 6, 4, 4, 7, 1, 9, 5, 3],
}


@pytest.mark.parametrize("far", [0.0, 1e3, 1e6])
def test_a_number_within_groups_is_held_at_0(far: float) -> None:
    data = {**WITHIN, "x": [v + far for v in WITHIN["x"]]}
    study = treat(study_of(data, "y", "x, g, x*g"), ["x"], Treatment(zero=WithinGroups("g")))
    fit = fit_of(study)
    rows = fit.design.rows_at_levels(fit.design.typical(), "g")
    assert np.all(rows[:, [j + 1 for j, c in enumerate(fit.design.columns) if "x" in c.term.variables]] == 0)
    probed = probe_fit(study, fit, Probe("g", "x"))
    for focus in probed.panels[0].foci:
        middle = focus.effects[1]
        assert middle.effect == pytest.approx(fit.last.b[2 + probed.panels[0].foci.index(focus)])


@pytest.mark.parametrize("seed", range(12))
def test_weighted_codes_are_0_at_the_shares(seed: int) -> None:
    rng = np.random.default_rng(seed)
    k = int(rng.integers(2, 9))
    g = np.repeat([f"g{i}" for i in range(k)], rng.integers(2, 9, k))
    x = rng.normal(size=g.size)
    study = study_of({"x": x, "g": list(g), "y": rng.normal(size=g.size)}, "y", "x, g, x*g")
    fit = fit_of(set_coding(study, "g", WeightedEffect()))
    row = fit.design.rows(fit.design.typical(), derive="x")[:, 0]
    assert row[1] == 1
    assert np.count_nonzero(row) == 1, "at the shares the slope is that of x alone"


# ---- columns that depend on each other


SUMS: dict[str, list[Any]] = {
    "a": [1.1, 2.3, 3.2, 4.8, 5.9, 6.1, 7.4, 8.8],
    "b": [2.2, 1.7, 3.9, 2.5, 4.4, 1.3, 3.1, 2.6],
    "y": [3, 5, 6, 9, 10, 9, 13, 14],
}
SUMS["total"] = [round(a + b, 1) for a, b in zip(SUMS["a"], SUMS["b"])]


@pytest.mark.parametrize("unit", [1e-9, 1e-3, 1.0, 1e5, 1e9])
@pytest.mark.parametrize("far", [0.0, 40.0])
def test_the_level_at_the_means_is_told_whatever_depends(unit: float, far: float) -> None:
    data = {k: [unit * (v + far) for v in values] if k != "y" else values for k, values in SUMS.items()}
    study = treat(study_of(data, "y", "a, b, total"), ["a", "b", "total"], CENTERED)
    fit = fit_of(study)
    assert fit.last.b[0] == pytest.approx(8.625)
    assert np.isnan(fit.last.b[1:]).all()
    raw = fit_of(study_of(data, "y", "a, b, total"))
    read = Reader(study, raw, study.model)
    for column in range(3):
        assert "separated from “" in read.coefficient(0, column) or "is omitted" in read.coefficient(0, column)
    told = raw.last.why(-1) is None
    assert told == (far == 0), "only where 0 of a and of b is 0 of their sum the level there hangs on no choice"


@pytest.mark.parametrize("seed", range(20))
def test_joint_tests_have_no_unit(seed: int) -> None:
    """x, w, their sum and a group, with products: joint tests are the same in every unit, and right."""
    rng = np.random.default_rng(seed)
    n = 24
    x, w = rng.integers(1, 9, n).astype(float), rng.integers(1, 9, n).astype(float)
    g = [str(v) for v in rng.permutation(np.repeat(list("abc"), n // 3))]
    y = [int(v) for v in rng.integers(1, 30, n)]
    units = 10.0 ** rng.integers(-9, 10, 3)
    found = []
    for scale in (np.ones(3), units):
        data = {"x": scale[0] * x, "w": scale[1] * w, "s": scale[2] * (x + w), "g": g, "y": y}
        fit = fit_of(study_of(data, "y", "x, w, s, g; x*g, s*g, w*g"))
        found.append(fit)
    one, other = (fit.last for fit in found)
    np.testing.assert_array_equal(one.estimable, other.estimable)
    for t in one.joint:
        assert (one.joint[t].df1, one.joint[t].df2) == (other.joint[t].df1, other.joint[t].df2), t
        np.testing.assert_allclose(one.joint[t].f, other.joint[t].f, rtol=1e-8)
    # One product alone is tested as without the sum: by the drop of the sum of squares, exactly.
    data = {"x": units[0] * x, "w": units[1] * w, "s": units[2] * (x + w), "g": g, "y": y}
    alone = fit_of(study_of(data, "y", "x, w, s, g; x*g")).last.joint[term("x*g")]
    exact_x, exact_w = ([Fraction(int(v)) for v in values] for values in (x, w))
    codes = [[Fraction(level == value) for level in "bc"] for value in g]
    plain = [[ONE, a, b, *c] for a, b, c in zip(exact_x, exact_w, codes)]
    full = [[*row, *(a * c for c in k)] for row, a, k in zip(plain, exact_x, codes)]
    small, large = (oracle.exact_fit(rows, [Fraction(v) for v in y]) for rows in (plain, full))
    assert (alone.df1, alone.df2) == (2, large.df)
    assert alone.f == pytest.approx(float((small.sse - large.sse) / 2 / (large.sse / large.df)), rel=1e-9)


# ---- products without their parts, squares beside them, boundaries far off


def hours(seed: int, n: int = 60) -> dict[str, Any]:
    rng = np.random.default_rng(seed)
    x, w = np.round(rng.normal(9, 2, n), 1), np.round(rng.uniform(2, 17, n), 1)
    g = ["uvw"[i] for i in rng.permutation(np.arange(n) % 3)]
    y = 0.1 * x * w + 0.2 * x * np.array(["uvw".index(k) for k in g]) + rng.normal(size=n)
    return {"x": x, "w": w, "g": g, "y": y}


@pytest.mark.parametrize("centered", [False, True])
@pytest.mark.parametrize("blocks", ["x*w", "x; x*w", "w; x*w", "g; x*g", "x; x*g", "x*g", "w, x, g; x*w*g"])
@pytest.mark.parametrize("seed", range(3))
def test_a_product_without_its_parts_claims_no_interaction(blocks: str, seed: int, centered: bool) -> None:
    study = study_of(hours(seed), "y", blocks)
    if centered:
        study = treat(study, [n for n in "xw" if n in blocks], CENTERED)
    fit = fit_of(study)
    read = Reader(study, fit, study.model)
    step = len(fit.steps) - 1
    product = study.model.terms[-1]
    if product in fit.last.joint:
        assert "they are not differences of slopes" in read.joint(step, product)
    names = product.variables[:2]
    for focal, moderator in (names, names[::-1]):
        probed = probe_fit(study, fit, Probe(focal, moderator))
        effects = EffectReader(study, probed, 0)
        assert "confound the interaction with what is missing" in probe_caption(effects, 0)
        assert "confound the interaction" in effects_table(study, probed).note
        for focus in probed.panels[0].foci:
            for region in focus.regions.within if focus.regions is not None else ():
                assert region.low < region.high
                assert region.n > 0
            if focus.zero is not None and focus.zero.kind is FiellerKind.FIXED:
                assert focus.curve is not None
                effect = focus.curve.at(focus.zero.at)
                assert effect.why is Why.FIXED or abs(effect.effect) < 1e-9


def test_a_place_that_the_model_fixes_has_no_set() -> None:
    study = treat(study_of(hours(3), "y", "w; x*w"), ["x", "w"], CENTERED)
    probed = probe_fit(study, fit_of(study), Probe("w", "x"))
    found = probed.panels[0].crossing_set
    assert found is not None
    assert found.kind is FiellerKind.FIXED
    assert EffectReader(study, probed, 0).crossing_set().startswith("fixed by the model")


def test_lines_meet_with_a_set_beside_a_square() -> None:
    data = hours(1)
    study = study_of(data, "y", "x, w; x*x; x*w")
    found = probe_fit(study, fit_of(study), Probe("x", "w")).panels[0]
    assert len(found.crossing) == 1
    assert found.crossing_set is not None
    # Two lines differ by (b_w + b_xw x) times a constant: zero and set are those of the slope of w along x.
    other = probe_fit(study, fit_of(study), Probe("w", "x")).panels[0].foci[0].zero
    assert other is not None
    assert (found.crossing_set.kind, found.crossing_set.at) == (other.kind, pytest.approx(other.at))
    assert (found.crossing_set.low, found.crossing_set.high) == pytest.approx((other.low, other.high))


def made_curve(effect: list[float], root: list[list[float]]) -> Curve:
    """A curve with that effect and that root of its variance, as polynomials in u over −1 to 1."""
    width = max(len(effect), *(len(r) for r in root))
    rows = np.array([np.pad(r, (0, width - len(r))) for r in [effect, *root]], dtype=float)
    size = len(rows)
    solution = np.zeros(size)
    solution[0] = 1.0
    spread = np.zeros((size, size - 1))
    spread[1:] = np.eye(size - 1)
    inference = Inference(solution, spread, 100, np.zeros((0, size - 1)), np.zeros(size - 1), np.ones(size))
    return Curve(rows, inference, 0.95, Along("w", 0.0, 1.0, Axis()))


def test_beyond_a_far_boundary_the_effect_is_told_apart() -> None:
    slope, c = 1e-10, 2.0
    curve = made_curve([1.0, slope], [[0.5, 0.0]])  # |1 + u/1e10| = 2·0.5 at 0 and at −2e10
    left, _, _ = curve.stretches(c, np.array([-1.0, 1.0])) if len(curve.boundaries(c)) == 2 else (None, None, None)
    assert left is not None
    assert left.high == pytest.approx(-2e10, rel=1e-6)
    assert left.sign == -1


@pytest.mark.parametrize("width", [1e-3, 1e-6, 1e-8])
def test_a_narrow_stretch_is_one(width: float) -> None:
    curve = made_curve([0.0, 1.0], [[width / 4]])  # |u| = 2·width/4
    found = curve.stretches(2.0, np.array([-1.0, 1.0]))
    assert [s.sign for s in found] == [-1, 0, 1]
    assert found[1].high - found[1].low == pytest.approx(width, rel=1e-6)


# ---- β


@pytest.mark.parametrize("unit", [1e-9, 1e-3, 1e3, 1e6, 1e9])
@pytest.mark.parametrize("blocks", ["x, p, x*p*p", "x; p; p*p*p, x*p", "p*p*p*x", "x, p, x*p"])
def test_beta_has_no_unit(blocks: str, unit: float) -> None:
    data = {
        "x": [3, 1, 4, 1, 5, 9, 2, 6, 5, 3],
        "p": [51, 23, 78, 41, 66, 12, 89, 35, 58, 47],
        "y": [2, 7, 1, 8, 2, 8, 1, 8, 2, 8],
    }
    here = fit_of(study_of(data, "y", blocks)).last.betas
    there = fit_of(study_of({**data, "p": [unit * v for v in data["p"]]}, "y", blocks)).last.betas
    assert not np.isnan(here.beta[1:]).any()
    for name in ("beta", "se", "p"):
        np.testing.assert_allclose(getattr(there, name), getattr(here, name), rtol=1e-7, atol=1e-12)


def test_beta_is_null_only_from_the_step_on_that_leaves_out_other_columns() -> None:
    """About 0 the third column repeats the second; about its mean it does not, so what is left out differs there."""
    rng = np.random.default_rng(2)
    x = rng.choice([0.0, 0.5], 40)
    data = {"x": x, "z": rng.normal(size=40), "y": rng.normal(size=40)}
    fit = fit_of(study_of(data, "y", "z; x; z*x*x, z*x"))
    assert not np.isnan(fit.steps[0].betas.beta[1:]).any()
    assert not np.isnan(fit.steps[1].betas.beta[1:]).any()


# ---- shares of R², and R² that is about zero


@pytest.mark.parametrize("small", [1, 10**3, 10**6, 10**9])
@pytest.mark.parametrize("seed", range(4))
def test_shares_keep_their_digits_where_nearly_all_is_explained(seed: int, small: int) -> None:
    draw = random.Random(seed)
    rows = [[ONE, Fraction(draw.randint(1, 40)), Fraction(draw.randint(1, 40))] for _ in range(14)]
    y = [3 * x + 2 * w + Fraction(draw.randint(-8, 8), 8 * small) for _, x, w in rows]
    data = {"x": [float(r[1]) for r in rows], "w": [float(r[2]) for r in rows], "y": [float(v) for v in y]}
    as_read = [Fraction(v) for v in data["y"]]
    whole = oracle.exact_fit(rows, as_read)
    step = fit_of(study_of(data, "y", "x, w")).last
    for j, kept in ((1, 2), (2, 1)):
        other = oracle.exact_fit([[row[0], row[kept]] for row in rows], as_read)
        assert step.sr2[j] == pytest.approx(
            float((other.sse - whole.sse) / whole.total), rel=1e-6 if small > 1e6 else 1e-9
        )


CODINGS: list[tuple[Coding, bool]] = [(LevelMeans(), False), (Dummy(), False), (Effect(), False), (Dummy(), True)]


@pytest.mark.parametrize(("coding", "constant"), CODINGS)
@pytest.mark.parametrize("seed", range(3))
def test_what_is_about_zero_says_so_and_shares_exist_only_where_they_are_shares(
    seed: int, coding: Coding, constant: bool
) -> None:
    rng = np.random.default_rng(seed)
    g, x = list(rng.permutation(list("aaaabbbbcccc"))), rng.integers(1, 9, 12).astype(float)
    study = study_of({"x": x, "g": g, "y": 50 + x + rng.integers(0, 9, 12)}, "y", "g, x")
    study = set_coding(set_constant(study, constant), "g", coding)
    fit = fit_of(study)
    step, read = fit.last, Reader(study, fit, study.model)
    levels = isinstance(coding, LevelMeans)
    assert step.about_mean == (constant or levels)
    assert ("about zero" in read.block(0)) == (not step.about_mean)
    assert ("about zero" in read.whole(0)) == (not step.about_mean)
    assert ("about zero" in " ".join(step_figures(read, 0))) == (not step.about_mean)
    k = step.n_columns - 1
    if levels:  # a mean is no difference: neither β nor a share of R² about the mean
        assert np.isnan(step.betas.beta[1 : k + 1]).all()
        assert np.isnan(step.sr2[1 : k + 1]).all()
        assert step.betas.beta[-1] == pytest.approx(step.b[-1] * x.std() / study.columns.numbers("y").std())
    else:
        assert np.isnan(step.betas.beta).all() == (not constant)
        assert np.nanmax(step.sr2) <= 1
    assert press_r2(fit, 0) <= step.r2
    if not step.about_mean:
        assert "higher" not in read.coefficient(0, 0)
        assert "Without an intercept, the model sets it to 0" in read.coefficient(0, 0)


def test_a_step_that_adds_nothing_is_said_apart() -> None:
    rng = np.random.default_rng(1)
    x, w = rng.normal(size=40), rng.normal(size=40)
    data = {"x": x, "w": w, "s": x + w, "y": 5 * x + 3 * w + rng.normal(size=40)}
    study = study_of(data, "y", "x; w; s")
    said = headline(Reader(study, fit_of(study), study.model))
    assert "Each step" not in said
    assert "Step 3 adds nothing beyond the earlier steps." in said
    study = study_of(data, "y", "x; w")
    assert headline(Reader(study, fit_of(study), study.model)).endswith(
        "Each step adds significantly to the one before."
    )


def test_a_further_model_may_have_a_constant_where_the_first_has_level_means(tmp_path: Path) -> None:
    (tmp_path / "t.csv").write_text("g,y\na,1\na,2\nb,4\nb,3\nc,6\nc,9\n")
    spec = {
        "outcome": "y",
        "blocks": [[["g"]]],
        "constant": False,
        "variables": {"g": {"coding": "level means"}},
        "models": [{"name": "compared", "constant": True}],
    }
    study = study_from(tmp_path / "t.csv", from_json(spec, SpecDocument, "spec"))
    first, second = study.models
    assert (first.constant, first.coding("g")) == (False, LevelMeans())
    assert (second.constant, second.coding("g")) == (True, Dummy())


@pytest.mark.parametrize("transforms", [(Transform.RANKS,), (Transform.REVERSE, Transform.RANKS)])
def test_no_value_has_a_rank_beyond_the_last(transforms: tuple[Transform, ...]) -> None:
    axis = axis_over(transforms, (0.0, 10.0), np.array([2.0, 3.0, 3.0, 7.0]))
    assert axis.preimages(1.0, 0.0, 10.0) == [7.0 if len(transforms) == 2 else 2.0]
    assert axis.preimages(0.9, 0.0, 10.0) == axis.preimages(4.1, 0.0, 10.0) == []
    assert axis.preimages(2.5, 0.0, 10.0) == [3.0]


def test_the_test_of_level_means_claims_that_they_are_not_0() -> None:
    rng = np.random.default_rng(8)
    table = {"g": ["a", "b", "c"] * 12, "x": rng.normal(size=36), "y": 40 + rng.normal(size=36)}
    study = set_coding(set_constant(study_of(table, "y", "g; g*x"), False), "g", LevelMeans())
    read = Reader(study, fit_of(study), study.model)
    assert read.joint(0, term("g")).startswith("Taken together, the means of y in the groups of g differ from 0: F(3, ")
    slopes = read.joint(1, term("g*x"))
    assert slopes.startswith(
        "Taken together, the slopes of x on y in the groups of g do not differ significantly from 0: F(3"
    )
