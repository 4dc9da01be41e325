"""The figures of a step and of a coefficient, each by its name against an independent value; samples, no constant."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.exactdesigns import close, columns, fractions
from tests.support.worlds import blocks_of, fit_of, noise_world, study_of, term
from yellow_slope.core.data.conditions import All, Any, AtLeast, AtMost, Between, Is, Missing, Not, OneOf, Rule
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.collinearity import conditions, generalized_vif
from yellow_slope.core.fit.asked.diagnosis import diagnose, mahalanobis, press_r2
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.solve.tails import f_p, f_quantile, t_quantile
from yellow_slope.core.study.edits.blocks import enter, name_block, set_blocks, switch_block, take_out
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.entries import set_reference
from yellow_slope.core.study.edits.models import keep_model, make_current, rename_study, set_constant, set_level
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.edits.samples import put_sample, set_aside, set_sample
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.rules import Sample, SetAside
from yellow_slope.core.study.study import Study
from yellow_slope.files.written.results import results_document

ONE = Fraction(1)


def both(seed: int = 0) -> tuple[Study, oracle.Exact, list[oracle.Row], oracle.Row]:
    data = columns(seed, n=28)
    rows = [
        [ONE, Fraction(int(c)), Fraction(int(x)), Fraction(int(w)), Fraction(int(x) * int(w))]
        for c, x, w in zip(data["c"], data["x"], data["w"])
    ]
    y = fractions(data["y"])
    return study_of(data, "y", "c; x, w; x*w"), oracle.exact_fit(rows, y), rows, y


def r2_without(rows: list[oracle.Row], y: oracle.Row, j: int) -> Fraction:
    exact = oracle.exact_fit([row[:j] + row[j + 1 :] for row in rows], y)
    return 1 - exact.sse / exact.total


@pytest.mark.parametrize("seed", range(3))
def test_each_figure_of_a_step(seed: int) -> None:
    study, exact, _rows, _ = both(seed)
    step = fit_of(study).last
    n, p = 28, 5
    assert (step.n, step.rank, step.df) == (n, p, n - p)
    assert close(step.sse, oracle.mp(exact.sse))
    assert close(step.s2, oracle.mp(exact.sse / (n - p)))
    assert close(step.total, oracle.mp(exact.total))
    r2 = 1 - exact.sse / exact.total
    assert close(step.r2, oracle.mp(r2))
    adjusted = 1 - (1 - r2) * Fraction(n - 1, n - p)
    assert close(step.adjusted_r2, oracle.mp(adjusted))
    before = oracle.exact_fit([row[:4] for row in _rows], fractions(columns(seed, n=28)["y"]))
    f2 = (before.sse - exact.sse) / exact.sse
    assert close(step.change.f2, oracle.mp(f2))
    whole = ((exact.total - exact.sse) / 4) / (exact.sse / (n - p))
    assert close(step.whole.f, oracle.mp(whole))
    assert close(step.whole.p, oracle.f_p(oracle.mp(whole), 4, n - p))
    mean_error = oracle.mp(exact.sse) / n
    aic = n * mpmath.log(2 * mpmath.pi * mean_error) + n + 2 * (p + 1)
    assert close(step.aic, aic)
    assert close(step.bic, aic + (p + 1) * (mpmath.log(n) - 2))


@pytest.mark.parametrize("seed", range(3))
def test_each_figure_of_a_coefficient(seed: int) -> None:
    study, exact, rows, y = both(seed)
    step = fit_of(study).last
    r2 = 1 - exact.sse / exact.total
    for j in range(1, 5):
        c = step.coefficient(j - 1)
        own = r2 - r2_without(rows, y, j)
        assert close(c.sr2, oracle.mp(own)), "squared semipartial: what R² loses"
        partial2 = own / (own + 1 - r2)
        sign = 1 if exact.b[j] > 0 else -1
        assert close(c.partial_r, sign * mpmath.sqrt(oracle.mp(partial2)))
        column = [row[j] for row in rows]
        others = oracle.exact_fit([row[:j] + row[j + 1 :] for row in rows], column)
        assert close(c.vif, oracle.mp(others.total / others.sse))
        mx, my = sum(column, Fraction(0)) / 28, sum(y, Fraction(0)) / 28
        xy = sum(((a - mx) * (b - my) for a, b in zip(column, y)), Fraction(0))
        xx, yy = (sum(((a - m) ** 2 for a in v), Fraction(0)) for v, m in ((column, mx), (y, my)))
        assert close(c.r, oracle.mp(xy) / mpmath.sqrt(oracle.mp(xx * yy)))
    assert np.isnan(step.coefficient(-1).sr2)


@pytest.mark.parametrize("missing_part", [False, True])
@pytest.mark.parametrize("seed", range(3))
def test_beta_its_standard_error_and_p(seed: int, missing_part: bool) -> None:
    """The standardized model in high precision; with a part missing it is another fit than the raw one."""
    data = columns(seed, n=28)
    blocks = "c; x; x*w" if missing_part else "c; x, w; x*w"
    step = fit_of(study_of(data, "y", blocks)).last
    z: dict[str, list[mpmath.mpf]] = {}
    for name in "cxwy":
        values = [mpmath.mpf(int(v)) for v in data[name]]
        mean = mpmath.fsum(values) / 28
        sd = mpmath.sqrt(mpmath.fsum((v - mean) ** 2 for v in values) / 27)
        z[name] = [(v - mean) / sd for v in values]
    parts = [
        [mpmath.mpf(1)] * 28,
        z["c"],
        z["x"],
        *([] if missing_part else [z["w"]]),
        [a * b for a, b in zip(z["x"], z["w"])],
    ]
    x, y = mpmath.matrix(parts).T, mpmath.matrix(z["y"])
    inverse = (x.T * x) ** -1
    beta = inverse * (x.T * y)
    rest = y - x * beta
    df = 28 - len(parts)
    s2 = (rest.T * rest)[0] / df
    for j in range(1, len(parts)):
        se = mpmath.sqrt(s2 * inverse[j, j])
        assert close(step.betas.beta[j], beta[j], se)
        assert close(step.betas.se[j], se)
        assert abs(float(step.betas.p[j]) - oracle.t_p(beta[j] / se, df)) < mpmath.mpf("1e-9")
    assert close(step.betas.beta[0], beta[0], mpmath.mpf(1)), "the constant has its β in both kinds of fit"


def test_collinearity_of_sets_and_condition_indices() -> None:
    data = columns(2)
    fit = fit_of(study_of(data, "y", "x, w, g"))
    r = np.asarray(np.corrcoef(fit.x.T))
    for name, own in (("x", [0]), ("g", [2, 3, 4])):
        rest = [j for j in range(5) if j not in own]
        expected = np.linalg.det(r[np.ix_(own, own)]) * np.linalg.det(r[np.ix_(rest, rest)]) / np.linalg.det(r)
        assert generalized_vif(fit, 0, term(name)) == pytest.approx(expected, rel=1e-9)
    assert generalized_vif(fit, 0, term("x")) == pytest.approx(fit.last.vif[1])
    whole = np.column_stack([np.ones(36), fit.x])
    unit = whole / np.sqrt((whole**2).sum(axis=0))
    eigenvalues, vectors = np.linalg.eigh(unit.T @ unit)
    found = conditions(fit, 0)
    np.testing.assert_allclose(found.indices, np.sqrt(eigenvalues.max() / eigenvalues[::-1]), rtol=1e-8)
    shares = vectors**2 / eigenvalues
    shares = (shares / shares.sum(axis=1, keepdims=True)).T[::-1]
    np.testing.assert_allclose(found.shares, shares, atol=1e-8)
    np.testing.assert_allclose(found.shares.sum(axis=0), 1.0)


def test_influence_by_leaving_each_case_out() -> None:
    study, _, _, _ = both(1)
    fit = fit_of(study)
    x, y = np.column_stack([np.ones(28), fit.x]), fit.y
    found = diagnose(fit, 2)
    b = np.linalg.lstsq(x, y, rcond=None)[0]
    press = 0.0
    for i in range(28):
        rest = np.arange(28) != i
        other = np.linalg.lstsq(x[rest], y[rest], rcond=None)[0]
        s2 = float(((y[rest] - x[rest] @ other) ** 2).sum()) / (27 - 5)
        shift = x @ (b - other)
        assert found.cook[i] == pytest.approx(float(shift @ shift) / (5 * fit.last.s2), rel=1e-7)
        h = float(found.leverage[i])
        assert found.deleted[i] == pytest.approx(float(found.residual[i]) / np.sqrt(s2 * (1 - h)), rel=1e-8)
        assert found.dffits[i] == pytest.approx(shift[i] / np.sqrt(s2 * h), rel=1e-7)
        press += float(y[i] - x[i] @ other) ** 2
    assert press_r2(fit, 2) == pytest.approx(1 - press / float(((y - y.mean()) ** 2).sum()), rel=1e-9)


def test_press_does_not_exist_where_a_case_has_leverage_1() -> None:
    # The last case alone is in group c: it is predicted by itself, and without it nothing predicts it.
    study = study_of({"y": [1.0, 3, 2, 5, 8], "g": list("aabbc")}, "y", "g")
    assert np.isnan(press_r2(fit_of(study), 0))


def test_mahalanobis_distance_of_the_raw_predictors() -> None:
    data = columns(3)
    fit = fit_of(study_of(data, "y", "x, w, g; x*w"))
    indicators = [np.array([h == level for h in data["g"]], dtype=float) for level in "bcd"]
    raw = np.column_stack([data["x"], data["w"], *indicators]).astype(float)
    apart = raw - raw.mean(axis=0)
    expected = np.einsum("ij,jk,ik->i", apart, np.linalg.inv(np.cov(raw.T)), apart)
    np.testing.assert_allclose(mahalanobis(fit), expected, rtol=1e-9)


# ---- no constant


def test_without_a_constant_r2_is_about_zero() -> None:
    data = columns(1)
    study = set_constant(study_of(data, "y", "x; w"), False)
    rows = [[Fraction(int(x)), Fraction(int(w))] for x, w in zip(data["x"], data["w"])]
    y = fractions(data["y"])
    exact = oracle.exact_fit(rows, y)
    total = sum((v * v for v in y), Fraction(0))
    step = fit_of(study).last
    assert not step.about_mean
    assert close(step.r2, oracle.mp(1 - exact.sse / total))
    assert close(step.adjusted_r2, oracle.mp(1 - exact.sse / total * Fraction(36, 34)))
    assert close(step.b[1], oracle.mp(exact.b[0]), mpmath.mpf(1))
    assert close(step.se[2], mpmath.sqrt(oracle.mp(exact.variance([Fraction(0), ONE]))))
    assert close(step.whole.f, oracle.mp((total - exact.sse) / 2 / (exact.sse / 34)))
    first = oracle.exact_fit([row[:1] for row in rows], y)
    assert close(step.change.r2, oracle.mp((first.sse - exact.sse) / total))
    assert np.isnan(step.b[0])


# ---- samples


RULES: list[tuple[Rule, object]] = [
    (Is("g", "a"), lambda d: d["g"] == "a"),
    (OneOf("g", ("a", "c")), lambda d: np.isin(d["g"], ["a", "c"])),
    (AtLeast("x", 2.0), lambda d: d["x"] >= 2),
    (AtMost("x", 2.0), lambda d: d["x"] <= 2),
    (Between("x", -1.0, 4.0), lambda d: (d["x"] >= -1) & (d["x"] <= 4)),
    (OneOf("x", (1.0, 2.0, 3.0)), lambda d: np.isin(d["x"], [1, 2, 3])),
    (Not(Is("g", "a")), lambda d: d["g"] != "a"),
    (All((AtLeast("x", 0.0), Not(Is("g", "d")))), lambda d: (d["x"] >= 0) & (d["g"] != "d")),
    (Any((AtLeast("x", 6.0), Is("g", "b"))), lambda d: (d["x"] >= 6) | (d["g"] == "b")),
    (All(()), lambda d: d["g"] != ""),
]


@pytest.mark.parametrize(("rule", "by_hand"), RULES, ids=[type(r).__name__ + str(i) for i, (r, _) in enumerate(RULES)])
def test_a_sample_rule_keeps_its_cases(rule: Rule, by_hand) -> None:  # type: ignore[no-untyped-def]
    data = columns(6, n=60)
    study = set_sample(put_sample(study_of(data, "y", "x, w"), Sample("some", rule)), "some")
    kept = by_hand({"g": np.array(data["g"]), "x": np.array(data["x"])})
    fit = fit_of(study)
    assert fit.cases.rows.tolist() == np.flatnonzero(kept).tolist()
    assert fit.cases.n_outside == int((~kept).sum())
    b = np.linalg.lstsq(
        np.column_stack([np.ones(kept.sum()), np.array(data["x"])[kept], np.array(data["w"])[kept]]),
        np.array(data["y"], dtype=float)[kept],
        rcond=None,
    )[0]
    np.testing.assert_allclose(fit.last.b, b, rtol=1e-8, atol=1e-9)


def test_a_case_without_a_value_satisfies_neither_a_rule_nor_its_opposite() -> None:
    world = noise_world(60)
    world["z"][:5] = np.nan
    study = study_of(world, "y", "x")

    def kept(rule: Rule) -> int:
        return fit_of(set_sample(put_sample(study, Sample("s", rule)), "s")).cases.n

    assert kept(AtLeast("z", 0.0)) + kept(Not(AtLeast("z", 0.0))) == 75
    assert kept(Not(Missing("z"))) == 75
    assert kept(Missing("z")) == 5
    assert kept(Any((Missing("z"), AtLeast("z", 0.0), Not(AtLeast("z", 0.0))))) == 80


def test_cases_set_aside_come_back() -> None:
    study = study_of(noise_world(61), "y", "x")
    aside = set_aside(study, [3, 7, 7], "a broken timer")
    fit = fit_of(aside)
    assert (fit.cases.n, fit.cases.n_aside) == (78, 2)
    assert not {3, 7} & set(fit.cases.rows.tolist())
    (sample,) = aside.samples
    assert sample.aside == (SetAside((3, 7), "a broken timer"),)
    assert fit_of(set_sample(aside, None)).cases.n == 80
    with pytest.raises(StudyError, match="no row 100"):
        set_aside(study, [99], "x")
    with pytest.raises(StudyError, match="no sample named"):
        set_sample(study, "nobody")


def test_every_case_is_in_use_or_counted_once_among_the_others() -> None:
    world = noise_world(61)
    world["x"][:5] = np.nan
    study = put_sample(study_of(world, "y", "x, g"), Sample("some", Not(Is("g", "top"))))
    study = set_aside(set_sample(study, "some"), [1, 2, 40], "a broken timer")
    cases = fit_of(study).cases
    top = np.array(world["g"]) == "top"
    aside = np.isin(np.arange(80), [1, 2, 40]) & ~top
    lost = np.isnan(world["x"]) & ~top & ~aside
    assert (cases.n_outside, cases.n_aside, cases.n_lost) == (top.sum(), aside.sum(), lost.sum())
    assert cases.n == 80 - top.sum() - aside.sum() - lost.sum()
    assert min(aside.sum(), lost.sum()) > 0


def test_a_group_absent_from_the_sample_yields_no_column_and_a_flag() -> None:
    from yellow_slope.core.flags import flags_of

    data = columns(7, n=60)
    study = set_reference(study_of(data, "y", "x, g"), "g", "a")
    some = set_sample(put_sample(study, Sample("some", Not(Is("g", "a")))), "some")
    basis = fit_of(some).design.group("g")
    assert basis.levels == ("b", "c", "d")
    assert basis.reference == 0
    keys = [f.key.text for f in flags_of(evaluate(some))]
    assert "absent reference of g" in keys
    assert "reference of g" not in keys
    flag = next(f for f in flags_of(evaluate(some)) if f.key.text == "absent reference of g")
    assert "“a”" in flag.title
    assert "“b” is used" in flag.title


# ---- models


def test_several_models_stand_side_by_side_and_only_the_changed_one_is_fitted() -> None:
    study = study_of(noise_world(62), "y", "x, w; x*w")
    two = keep_model(study, "with the product")
    two = take_out(two, [term("x*w")])
    assert [m.name for m in two.models] == ["with the product", ""]
    first = evaluate(two)
    assert first.fits["m1"] is not first.fits["m2"]
    assert first.fit is first.fits["m2"]
    again = evaluate(enter(two, [term("z")]), first)
    assert again.fits["m1"] is first.fits["m1"]
    assert again.fits["m2"] is not first.fits["m2"]
    for quiet in (
        rename_study(two, "other"),
        name_block(two, 0, "parts"),
        describe(two, "x", label="practice", unit="hour"),
        put_probe(make_current(two, "m1"), Probe("x", "w")),
    ):
        same = evaluate(quiet, first)
        assert all(same.fits[key] is first.fits[key] for key in ("m1", "m2"))
    assert evaluate(set_level(two, 0.9), first).fits["m2"] is not first.fits["m2"]


def test_a_block_can_be_switched_off() -> None:
    study = study_of(noise_world(63), "y", "x; w; z")
    off = switch_block(study, 1, False)
    assert [b.id for b in off.model.steps] == ["b1", "b3"]
    np.testing.assert_allclose(fit_of(off).last.b, fit_of(study_of(noise_world(63), "y", "x; z")).last.b)
    assert [s.block_id for s in results_document(evaluate(off)).models[0].steps] == ["b1", "b3"]
    every = switch_block(switch_block(off, 0, False), 2, False)
    assert evaluate(every).problem == "Every block is switched off."
    assert switch_block(off, 1, False) is off
    assert [b.terms for b in set_blocks(off, blocks_of("x; w")).model.blocks] == [(term("x"),), (term("w"),)]


def test_one_case_left_to_judge_by_is_enough_for_a_test() -> None:
    """Three cases, two coefficients: F and t on one degree of freedom exist; t² = F, by hand."""
    study = study_of({"x": [0.0, 1.0, 2.0], "y": [0.0, 3.0, 4.0]}, "y", "x")
    step = fit_of(study).last
    assert (step.df, float(step.b[1])) == (1, pytest.approx(2.0))
    assert step.sse == pytest.approx(2 / 3)
    assert step.whole.f == pytest.approx(12.0)
    assert step.change.test.f == pytest.approx(12.0)
    assert step.t[1] ** 2 == pytest.approx(12.0)
    assert step.coefficient(0).partial_r == pytest.approx(np.sqrt(12 / 13))
    assert step.coefficient(0).sr2 == pytest.approx(12 / 13)


def test_as_many_columns_as_are_allowed_are_allowed(monkeypatch: pytest.MonkeyPatch) -> None:
    world = noise_world(5)
    monkeypatch.setattr("yellow_slope.core.fit.design.design.MOST_COLUMNS", 2)
    assert fit_of(study_of(world, "y", "x, w")).last.df > 1
    assert "3 columns or more; at most 2 are possible" in evaluate(study_of(world, "y", "x, w, z")).problem


def test_a_perfect_fit_has_no_information_criteria() -> None:
    x = np.array([0.1, 0.2, 0.7, 1.1, 1.3, 2.9])
    step = fit_of(study_of({"x": x, "y": 0.3 * x + 0.1}, "y", "x")).last
    assert step.is_perfect
    assert step.sse == 0.0, "what rounding leaves is no rest"
    assert np.isnan(step.aic)
    assert np.isnan(step.bic)


def test_quantiles_and_tails_on_one_degree_of_freedom() -> None:
    """Against the arctangent: t on 1 df is Cauchy, F(1, 1) is its square."""
    assert t_quantile(0.95, 1) == pytest.approx(np.tan(np.pi * 0.475), rel=1e-12)
    assert f_quantile(0.95, 1, 1) == pytest.approx(np.tan(np.pi * 0.475) ** 2, rel=1e-10)
    assert f_p(np.tan(np.pi * 0.475) ** 2, 1, 1) == pytest.approx(0.05, rel=1e-10)
    assert np.isnan([t_quantile(0.95, 0), f_quantile(0.95, 0, 5), f_quantile(0.95, 5, 0), f_p(1.0, 0, 5)]).all()
