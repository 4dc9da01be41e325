"""Figures of assumptions, against exact arithmetic, published coefficients and fits built apart."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import mpmath
import numpy as np
import pytest

from tests.support.oracle import exact_fit, f_p, mp
from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.fit.asked.asidecases import aside_cases
from yellow_slope.core.fit.asked.assumptions import (
    in_order,
    in_thirds,
    normality_of,
    own_part,
    reset_test,
    robust_ratio,
    shapiro_weights,
    shapiro_wilk,
    spread_of,
)
from yellow_slope.core.fit.asked.diagnosis import diagnose
from yellow_slope.core.fit.asked.faraway import distances, far_by
from yellow_slope.core.fit.asked.leftout import set_without_each, without_each
from yellow_slope.core.fit.asked.overlap import overlap_of
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.checks import Cutoffs, FarBy
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.study.treatment import CENTERED


def small(seed: int, blocks: str = "x, w; x*w") -> Fit:
    rng = np.random.default_rng(seed)
    n = int(rng.integers(10, 18))
    made = {name: np.round(rng.normal(4, 2, n), 1) for name in ("x", "w", "y")}
    made["g"] = [("low", "mid", "top")[k % 3] for k in range(n)]  # type: ignore[assignment]
    return fit_of(study_of(made, "y", blocks))


def exact_rows(fit: Fit) -> tuple[list[list[Fraction]], list[Fraction]]:
    rows = [[Fraction(1), *(Fraction(float(v)) for v in row)] for row in fit.x]
    return rows, [Fraction(float(v)) for v in fit.y]


def exact_residuals(rows: list[list[Fraction]], y: list[Fraction]) -> list[Fraction]:
    b = exact_fit(rows, y).b
    return [v - sum((c * x for c, x in zip(b, row)), Fraction(0)) for row, v in zip(rows, y)]


@pytest.mark.parametrize("seed", range(12))
def test_order_spread_and_form_against_exact_arithmetic(seed: int) -> None:
    fit = small(seed, "x, w, g; x*w" if seed % 2 else "x, w; x*w")
    last = len(fit.steps) - 1
    rows, y = exact_rows(fit)
    e = exact_residuals(rows, y)
    sse = sum((v * v for v in e), Fraction(0))
    found = in_order(fit.y - fit.predicted(last))
    assert found.d == pytest.approx(float(sum((b - a) ** 2 for a, b in pairwise(e)) / sse), rel=1e-9)
    assert found.r == pytest.approx(float(sum(a * b for a, b in pairwise(e)) / sse), rel=1e-8, abs=1e-12)
    squares = [v * v for v in e]
    mean = sum(squares, Fraction(0)) / len(squares)
    about = exact_fit(rows, squares)
    chi = len(y) * (1 - about.sse / sum(((v - mean) ** 2 for v in squares), Fraction(0)))
    test = spread_of(fit, last, fit.y - fit.predicted(last)).test
    df = len(rows[0]) - 1
    assert test.df1 == df
    assert test.f == pytest.approx(float(chi), rel=1e-8)
    assert test.p == pytest.approx(float(mpmath.gammainc(df / 2, mp(chi) / 2) / mpmath.gamma(df / 2)), rel=1e-7)
    fitted = [v - u for v, u in zip(y, e)]
    more = [[*row, p * p, p * p * p] for row, p in zip(rows, fitted)]
    if len(y) > len(more[0]):
        wide = exact_fit(more, y)
        f = (sse - wide.sse) / 2 / (wide.sse / wide.df)
        reset = reset_test(fit, last)
        assert (reset.df1, reset.df2) == (2, wide.df)
        assert reset.f == pytest.approx(float(f), rel=1e-6)
        assert reset.p == pytest.approx(float(f_p(mp(f), 2, wide.df)), rel=1e-6)


def test_without_a_constant_the_spread_is_about_its_mean() -> None:
    fit = fit_of(study_of(noise_world(3), "y", "x, w; x*w"))
    residual = fit.y - fit.predicted(1)
    test = spread_of(fit, 1, residual).test
    x = np.column_stack([np.ones(fit.y.size), fit.x])
    squares = residual**2
    h = x @ np.linalg.lstsq(x, squares, rcond=None)[0]
    mean = squares.mean()
    assert test.f == pytest.approx(squares.size * np.sum((h - mean) ** 2) / np.sum((squares - mean) ** 2))


WEIGHTS = {
    4: [0.6872, 0.1677],
    5: [0.6646, 0.2413],
    7: [0.6233, 0.3031, 0.1401],
    10: [0.5739, 0.3291, 0.2141, 0.1224, 0.0399],
    20: [0.4734, 0.3211, 0.2565, 0.2085, 0.1686, 0.1334, 0.1013, 0.0711, 0.0422, 0.0140],
}
"""The published coefficients of the largest values (Shapiro & Wilk 1965)."""


@pytest.mark.parametrize("n", WEIGHTS)
def test_weights_are_the_published_ones(n: int) -> None:
    weights = shapiro_weights(n)
    assert weights[::-1][: len(WEIGHTS[n])] == pytest.approx(WEIGHTS[n], abs=0.0016)
    assert weights == pytest.approx(-weights[::-1])
    assert weights @ weights == pytest.approx(1.0, abs=2e-3)


@pytest.mark.parametrize("n", [3, 4, 6, 11, 12, 40, 900])
def test_of_normal_samples_one_in_twenty_is_told_apart(n: int) -> None:
    rng = np.random.default_rng(n)
    draws = 4000 if n < 100 else 600
    p = np.array([shapiro_wilk(rng.normal(size=n))[1] for _ in range(draws)])
    assert np.mean(p < 0.05) == pytest.approx(0.05, abs=0.025 if draws == 600 else 0.012)
    assert np.median(p) == pytest.approx(0.5, abs=0.05)


def test_normality_is_asked_of_what_exists() -> None:
    skewed = normality_of(np.concatenate([np.random.default_rng(1).exponential(size=200), [np.nan]]))
    assert skewed.p < 1e-6
    assert skewed.skewness > 1
    assert np.isnan(normality_of(np.full(9, 2.0)).w)
    many = normality_of(np.random.default_rng(2).normal(size=6000))
    assert np.isnan(many.p)
    assert abs(many.kurtosis) < 0.3


@pytest.mark.parametrize("seed", range(6))
def test_a_columns_own_part_is_what_the_others_leave(seed: int) -> None:
    fit = small(seed)
    last = len(fit.steps) - 1
    rows, y = exact_rows(fit)
    column = 3
    others = [[v for j, v in enumerate(row) if j != column] for row in rows]
    x_rest = exact_residuals(others, [row[column] for row in rows])
    y_rest = exact_residuals(others, y)
    own = own_part(fit, last, column - 1)
    assert own is not None
    assert own[0] == pytest.approx([float(v) for v in x_rest], rel=1e-7, abs=1e-9)
    assert own[1] == pytest.approx([float(v) for v in y_rest], rel=1e-7, abs=1e-9)


def test_the_ratio_is_that_of_two_models() -> None:
    study = study_of(noise_world(5), "y", "x, w, g; x*w")
    plain, robust = fit_of(study), fit_of(set_errors(study, HC(3)))
    (column,) = plain.design.columns_of(term("x*w"))
    g = np.eye(plain.last.n_columns + 1)[column + 1]
    expected = robust.last.se[column + 1] / plain.last.se[column + 1]
    assert robust_ratio(plain, 1, g) == pytest.approx(expected, rel=1e-9)
    assert robust_ratio(robust, 1, g) == pytest.approx(expected, rel=1e-9)


def test_thirds_of_a_straight_change_lie_on_its_line() -> None:
    rng = np.random.default_rng(0)
    n = 90
    x, w = rng.normal(size=n), rng.uniform(2, 8, n)
    z = rng.normal(size=n)
    study = study_of({"x": x, "w": w, "z": z, "y": 1 + 2 * x + 3 * w - 0.5 * x * w + x * z}, "y", "x, w, z; x*w, x*z")
    study = treat(study, ["w"], CENTERED)
    fit = fit_of(study)
    row = np.zeros(fit.last.n_columns + 1)
    for j, column in enumerate(fit.design.columns):
        names = sorted(column.term.variables)
        row[j + 1] = {("x",): 1.0, ("x", "z"): float(z.mean())}.get(tuple(names), 0.0)
    for third in in_thirds(fit, 1, "x", "w", 0, lambda at: row, 0.95):
        assert third.effect == pytest.approx(2 - 0.5 * third.at + z.mean(), abs=1e-6)
        assert third.n == 30
    w = np.repeat([0.0, 1.0, 2.0], 30)
    few = fit_of(study_of({"x": x, "w": w, "y": z}, "y", "x, w; x*w"))
    for third in in_thirds(few, 1, "x", "w", 0, lambda at: np.zeros(4), 0.95):
        own = np.polyfit(x[w == third.at], z[w == third.at], 1)[0]
        assert third.effect == pytest.approx(own, rel=1e-7)
    two = fit_of(study_of({"x": x, "w": np.repeat([0.0, 1.0], 45) * 2 + 3, "y": z}, "y", "x, w; x*w"))
    assert in_thirds(two, 1, "x", "w", 0, lambda at: np.zeros(4), 0.95) == ()


@pytest.mark.parametrize("seed", range(10))
def test_the_joint_test_without_each_case(seed: int) -> None:
    fit = small(seed, "x, w, g; x*g")
    last = len(fit.steps) - 1
    columns = fit.design.columns_of(term("x*g"))
    asked = np.eye(fit.last.n_columns + 1)[[j + 1 for j in columns]]
    rows, y = exact_rows(fit)
    found = set_without_each(fit, last, asked)
    for i in range(len(y)):
        less, rest = rows[:i] + rows[i + 1 :], y[:i] + y[i + 1 :]
        try:
            full = exact_fit(less, rest)
            bare = exact_fit([[v for j, v in enumerate(row) if j - 1 not in columns] for row in less], rest)
        except ZeroDivisionError:
            assert np.isnan(found.p[i])
            continue
        if full.df < 1:
            assert np.isnan(found.p[i])
            continue
        f = (bare.sse - full.sse) / len(columns) / (full.sse / full.df)
        assert found.f[i] == pytest.approx(float(f), rel=1e-6)
        assert found.p[i] == pytest.approx(float(f_p(mp(f), len(columns), full.df)), rel=1e-6)


@pytest.mark.parametrize("seed", range(6))
def test_a_case_set_aside_is_seen_as_it_would_be_inside(seed: int) -> None:
    study = study_of(noise_world(seed, 40), "y", "x, w, g; x*w")
    inside = diagnose(fit_of(study), 1)
    row = 7 + seed
    out = set_aside(study, [row], "odd")
    fit = fit_of(out)
    (column,) = fit.design.columns_of(term("x*w"))
    outside = aside_cases(out, fit, 1, column)
    g = np.eye(fit.last.n_columns + 1)[column + 1]
    assert outside.moves[0] == pytest.approx(without_each(fit_of(study), 1, g, 0.95).change[row], rel=1e-7)
    whole = fit_of(study).x
    others = np.column_stack([np.ones(39), np.delete(np.delete(whole, row, axis=0), column, axis=1)])
    mine = np.concatenate([[1.0], np.delete(whole[row], column)])
    for own, all_of_it in zip(outside.own, (whole[:, column], fit_of(study).y)):
        b = np.linalg.lstsq(others, np.delete(all_of_it, row), rcond=None)[0]
        assert own[0] == pytest.approx(all_of_it[row] - mine @ b, rel=1e-7)
    raw = np.column_stack([study.columns.numbers(n) for n in ("x", "w")])
    rest = np.delete(raw, row, axis=0)
    away = raw[row] - rest.mean(axis=0)
    numbers = aside_cases(out, fit, 1, None, groups=False)
    assert numbers.d2[0] == pytest.approx(away @ np.linalg.inv(np.cov(rest.T)) @ away, rel=1e-8)
    assert np.isnan(numbers.moves[0])
    assert list(outside.rows) == [row]
    assert outside.deleted[0] == pytest.approx(inside.deleted[row], rel=1e-8)
    assert outside.leverage[0] == pytest.approx(inside.leverage[row], rel=1e-8)
    assert outside.residual[0] == pytest.approx(inside.residual[row] / (1 - inside.leverage[row]), rel=1e-8)


def test_distances_and_their_cutoffs() -> None:
    fit = fit_of(study_of(noise_world(2, 60), "y", "x, w, g; x*w"))
    away = distances(fit, True)
    raw = np.column_stack([fit.values["x"], fit.values["w"], fit.values["g"] == 1, fit.values["g"] == 2]).astype(float)
    centered = raw - raw.mean(axis=0)
    inverse = np.linalg.inv(np.cov(raw.T))
    assert away.d2 == pytest.approx(np.einsum("ij,jk,ik->i", centered, inverse, centered), rel=1e-9)
    assert away.columns == 4
    assert away.chi_square == pytest.approx(18.4668, abs=1e-4)
    share = away.exact / (59**2 / 60)
    assert float(mpmath.betainc(2, 27.5, 0, share, regularized=True)) == pytest.approx(0.999, abs=1e-12)
    numbers = distances(fit, False)
    assert numbers.columns == 2
    found = diagnose(fit, 1)
    far = far_by(FarBy.COOK, found, away, Cutoffs())
    assert set(far.cases) == set(np.flatnonzero(found.cook > 4 / 60))
    tight = far_by(FarBy.STUDENTIZED, found, away, Cutoffs(studentized=1.0))
    assert set(tight.cases) == set(np.flatnonzero(np.abs(found.deleted) > 1.0))
    assert away.expected[np.argmax(away.d2)] == pytest.approx(away.expected.max())


def test_overlap_with_and_without_centering() -> None:
    study = study_of(noise_world(4), "y", "x, w; x*w")
    fit = fit_of(study)
    centered = treat(study, ["x", "w"], CENTERED)
    found, other = overlap_of(study, fit, 1), overlap_of(centered, fit_of(centered), 1)
    for one, two in zip(found.terms, other.terms):
        assert one.now == one.raw == pytest.approx(two.raw)
        assert one.centered == pytest.approx(two.now)
    assert found.index == pytest.approx(other.raw_index)
    assert found.largest > other.largest
    (column,) = fit.design.columns_of(term("x*w"))
    assert found.terms[2].now == pytest.approx(fit.last.vif[column + 1])
