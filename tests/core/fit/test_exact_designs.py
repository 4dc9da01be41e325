"""Sixty random designs against exact rational and high-precision arithmetic that shares no code with the product."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.exactdesigns import Columns
from tests.support.seeds import few
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe
from yellow_slope.core.study.study import Study

pytestmark = pytest.mark.no_cover  # what it runs through others run through

N_DESIGNS = few(24, 60)
LEVEL = "0.95"


def close(found: float, exact: mpmath.mpf) -> bool:
    return bool(abs(mpmath.mpf(found) - exact) <= mpmath.mpf("1e-9") * max(abs(exact), mpmath.mpf("1e-12")))


def random_columns(seed: int) -> dict[str, list[int] | list[str]]:
    """Whole numbers, so that exact arithmetic stays exact: x, w, a covariate c, three groups g, an outcome y."""
    rng = np.random.default_rng(1000 + seed)
    n = int(rng.integers(16, 40))
    x, w, c = (rng.integers(-6 + k, 9 + 2 * k, n).tolist() for k in range(3))
    g = [("a", "b", "c")[k % 3] for k in rng.permutation(n)]
    strength = int(rng.integers(-2, 3))
    share = 0 if seed % 5 == 0 else 1  # every fifth outcome has nothing to do with x and w
    y = [
        share * int(2 * p - q + strength * p * q // 2 + (4 if k == "b" else 0) + (p if k == "c" else 0)) + int(e)
        for p, q, k, e in zip(x, w, g, rng.integers(-9, 10, n))
    ]
    return {"x": x, "w": w, "c": c, "g": g, "y": y}


def exact_rows(columns: Columns, product: bool, grouped: bool) -> list[list[Fraction]]:
    """Constant, c, x, w (or the indicators of b and c), and the products: written out by hand."""
    rows: list[list[Fraction]] = []
    for x, w, c, g in zip(columns["x"], columns["w"], columns["c"], columns["g"]):
        partner = [int(g == "b"), int(g == "c")] if grouped else [int(w)]
        row = [1, int(c), int(x), *partner]
        if product:
            row += [int(x) * p for p in partner]
        rows.append([Fraction(v) for v in row])
    return rows


def both(seed: int, grouped: bool) -> tuple[Study, oracle.Exact, oracle.Exact]:
    columns = random_columns(seed)
    partner = "g" if grouped else "w"
    study = study_of(columns, "y", f"c, x, {partner}; x*{partner}")
    y = [Fraction(int(v)) for v in columns["y"]]
    before = oracle.exact_fit(exact_rows(columns, False, grouped), y)
    return study, before, oracle.exact_fit(exact_rows(columns, True, grouped), y)


@pytest.mark.parametrize("seed", range(N_DESIGNS))
def test_block_tests(seed: int) -> None:
    study, before, after = both(seed, grouped=bool(seed % 2))
    step = fit_of(study).last
    q = before.df - after.df
    f = oracle.mp(((before.sse - after.sse) / q) / (after.sse / after.df))
    assert (step.change.test.df1, step.change.test.df2) == (q, after.df)
    assert close(step.change.test.f, f)
    assert close(step.change.test.p, oracle.f_p(f, q, after.df))
    assert close(step.change.r2, oracle.mp((before.sse - after.sse) / after.total))
    assert close(step.r2, oracle.mp(1 - after.sse / after.total))


@pytest.mark.parametrize("seed", range(N_DESIGNS))
def test_coefficients_and_their_tests(seed: int) -> None:
    study, _, exact = both(seed, grouped=bool(seed % 2))
    step = fit_of(study).last
    for j, b in enumerate(exact.b):
        g = [Fraction(int(i == j)) for i in range(len(exact.b))]
        se = mpmath.sqrt(oracle.mp(exact.variance(g)))
        assert close(float(step.se[j]), se)
        assert abs(float(step.b[j]) - oracle.mp(b)) <= mpmath.mpf("1e-9") * se
        t = oracle.mp(b) / se
        assert abs(float(step.p[j]) - oracle.t_p(t, exact.df)) < mpmath.mpf("1e-9")


@pytest.mark.parametrize("seed", range(N_DESIGNS))
def test_slopes_along_a_number(seed: int) -> None:
    study, _, exact = both(seed, grouped=False)
    picks = (-3.0, 0.0, 2.5, 8.0)
    probed = probe_fit(study, fit_of(study), Probe("x", "w", pick=PickPoints(PickRule.OWN, picks)))
    for w, found in zip(picks, probed.panels[0].foci[0].effects):
        g = [Fraction(0), Fraction(0), Fraction(1), Fraction(0), Fraction(w)]
        effect, se = oracle.mp(exact.effect(g)), mpmath.sqrt(oracle.mp(exact.variance(g)))
        assert close(found.se, se)
        assert abs(found.effect - effect) <= mpmath.mpf("1e-9") * max(abs(effect), se)
        assert abs(found.p - oracle.t_p(effect / se, exact.df)) < mpmath.mpf("1e-9")


@pytest.mark.parametrize("seed", range(N_DESIGNS))
def test_slopes_in_groups(seed: int) -> None:
    study, _, exact = both(seed, grouped=True)
    probed = probe_fit(study, fit_of(study), Probe("x", "g"))
    slopes = [(0, 0), (1, 0), (0, 1)]
    for (b, c), found in zip(slopes, probed.panels[0].foci[0].effects):
        g = [Fraction(v) for v in (0, 0, 1, 0, 0, b, c)]
        assert close(found.se, mpmath.sqrt(oracle.mp(exact.variance(g))))
        assert abs(found.effect - oracle.mp(exact.effect(g))) <= mpmath.mpf("1e-9") * found.se


@pytest.mark.parametrize("seed", range(N_DESIGNS))
def test_boundaries(seed: int) -> None:
    """The roots of (b1 + b3 w)² = c² (V11 + 2 w V13 + w² V33), solved in high precision."""
    study, _, exact = both(seed, grouped=False)
    curve = probe_fit(study, fit_of(study), Probe("x", "w")).panels[0].foci[0].curve
    assert curve is not None
    c = oracle.t_quantile(LEVEL, exact.df)
    one = [Fraction(v) for v in (0, 0, 1, 0, 0)]
    two = [Fraction(v) for v in (0, 0, 0, 0, 1)]
    v11, v33 = oracle.mp(exact.variance(one)), oracle.mp(exact.variance(two))
    v13 = (oracle.mp(exact.variance([a + b for a, b in zip(one, two)])) - v11 - v33) / 2
    b1, b3 = oracle.mp(exact.b[2]), oracle.mp(exact.b[4])
    a2, a1, a0 = b3**2 - c**2 * v33, 2 * (b1 * b3 - c**2 * v13), b1**2 - c**2 * v11
    inside = a1**2 - 4 * a2 * a0
    expected = sorted([(-a1 + s * mpmath.sqrt(inside)) / (2 * a2) for s in (-1, 1)]) if inside > 0 else []
    found = curve.boundaries()
    assert len(found) == len(expected)
    for x, e in zip(found, expected):
        assert close(x, e)


def test_designs_show_every_kind_of_region() -> None:
    """The sixty designs above hold cases with two boundaries and with none, outside and between."""
    counts = {0: 0, 2: 0}
    leading = {True: 0, False: 0}
    for seed in range(N_DESIGNS):
        study, _, _ = both(seed, grouped=False)
        curve = probe_fit(study, fit_of(study), Probe("x", "w")).panels[0].foci[0].curve
        assert curve is not None
        found = curve.stretches(curve.pointwise, np.array([0.0]))
        counts[len(found) - 1] += 1
        if len(found) == 3:
            leading[found[1].sign != 0] += 1
    assert counts[0] > 0
    assert leading[True] > 0
    assert leading[False] > 0
