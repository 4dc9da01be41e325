"""HC0 to HC4 and clustered errors through coefficients, block tests, slopes and regions, in high precision."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.exactdesigns import Columns, close, columns, fractions, sandwich
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.blocks import set_blocks
from yellow_slope.core.study.edits.entries import set_reference
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe
from yellow_slope.core.study.standarderrors import HC, Classical, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.errors import errors_note

KINDS: list[tuple[str, Errors]] = [*((f"HC{k}", HC(k)) for k in range(5)), ("CR1", Cluster("id"))]


def both(seed: int, kind: str, errors: Errors) -> tuple[Study, oracle.Exact, mpmath.matrix, int, Columns]:
    data = columns(seed, n=30)
    study = set_errors(study_of(data, "y", "c; x, w; x*w"), errors)
    rows = [
        [Fraction(1), Fraction(int(c)), Fraction(int(x)), Fraction(int(w)), Fraction(int(x) * int(w))]
        for c, x, w in zip(data["c"], data["x"], data["w"])
    ]
    y = fractions(data["y"])
    ids = [str(v) for v in data["id"]] if kind == "CR1" else None
    df = len(set(ids)) - 1 if ids else len(y) - 5
    return study, oracle.exact_fit(rows, y), sandwich(rows, y, kind, ids), df, data


@pytest.mark.parametrize(("kind", "errors"), KINDS, ids=[k for k, _ in KINDS])
@pytest.mark.parametrize("seed", range(3))
def test_coefficients_blocks_slopes_and_regions(seed: int, kind: str, errors: Errors) -> None:
    study, exact, cov, df, data = both(seed, kind, errors)
    fit = fit_of(study)
    step = fit.last
    for j in range(5):
        se = mpmath.sqrt(cov[j, j])
        assert close(step.se[j], se)
        assert abs(float(step.p[j]) - oracle.t_p(oracle.mp(exact.b[j]) / se, df)) < mpmath.mpf("1e-9")
    half = float(oracle.t_quantile("0.95", df) * mpmath.sqrt(cov[4, 4]))
    assert (step.low[4], step.high[4]) == pytest.approx((step.b[4] - half, step.b[4] + half), rel=1e-8)
    # The block of one column, and the step as a whole where the clusters allow it.
    f = (oracle.mp(exact.b[4]) ** 2) / cov[4, 4]
    assert close(step.change.test.f, f)
    assert (step.change.test.df1, step.change.test.df2) == (1, df)
    inner = mpmath.matrix([[cov[i, j] for j in range(1, 5)] for i in range(1, 5)])
    b = mpmath.matrix([oracle.mp(v) for v in exact.b[1:]])
    wald = (b.T * (inner**-1) * b)[0] / 4
    assert close(step.whole.f, wald)
    # A slope at a place, and where slopes are significant: roots of (b2 + b4 w)² = c² (V22 + 2 w V24 + w² V44).
    probed = probe_fit(study, fit, Probe("x", "w", pick=PickPoints(PickRule.OWN, (-2.0, 3.0))))
    for at, effect in zip((-2, 3), probed.panels[0].foci[0].effects):
        variance = cov[2, 2] + 2 * at * cov[2, 4] + at * at * cov[4, 4]
        assert close(effect.se, mpmath.sqrt(variance))
        assert effect.df == df
    c = oracle.t_quantile("0.95", df)
    b2, b4 = oracle.mp(exact.b[2]), oracle.mp(exact.b[4])
    a2, a1, a0 = b4**2 - c**2 * cov[4, 4], 2 * (b2 * b4 - c**2 * cov[2, 4]), b2**2 - c**2 * cov[2, 2]
    inside = a1**2 - 4 * a2 * a0
    expected = sorted((-a1 + s * mpmath.sqrt(inside)) / (2 * a2) for s in (-1, 1)) if inside > 0 else []
    assert probed.panels[0].foci[0].curve is not None
    found = probed.panels[0].foci[0].curve.boundaries()
    assert [float(v) for v in expected] == pytest.approx(list(found), rel=1e-8)
    # What never depends on the choice.
    plain = fit_of(set_errors(study, study_of(data, "y", "x").model.errors)).last
    np.testing.assert_allclose(step.b, plain.b, rtol=1e-12)
    assert (step.r2, step.change.r2) == (plain.r2, plain.change.r2)
    np.testing.assert_allclose(step.sr2[1:], plain.sr2[1:], rtol=1e-12)
    np.testing.assert_allclose(step.partial_r[1:], plain.partial_r[1:], rtol=1e-12)


def test_beta_has_the_same_test_as_its_coefficient_where_zero_is_the_mean() -> None:
    study, *_ = both(1, "HC3", HC(3))
    step = fit_of(set_blocks(study, study.model.blocks[:2])).last
    np.testing.assert_allclose(step.betas.p[1:], step.p[1:], rtol=1e-9)


def test_a_case_with_leverage_1_leaves_no_hc2_to_hc4() -> None:
    data = {"g": list("aaaabbbbc"), "y": [2, 3, 5, 4, 5, 5, 4, 3, 9]}
    study = set_reference(study_of(data, "y", "g"), "g", "a")
    for kind in (2, 3, 4):
        step = fit_of(set_errors(study, HC(kind))).last
        assert step.inference.why is Why.LEVERAGE
        assert np.all(np.isnan(step.se))
        assert np.isnan(step.change.test.f)
    assert np.all(np.isfinite(fit_of(set_errors(study, HC(1))).last.se))


def test_more_coefficients_than_clusters_are_not_tested() -> None:
    data = columns(4)
    data["id"] = [("one", "two", "three")[i % 3] for i in range(36)]
    study = set_errors(study_of(data, "y", "g, x"), Cluster("id"))
    step = fit_of(study).last
    assert step.inference.df == 2
    assert step.joint[study.model.terms[0]].why is Why.CLUSTERS
    assert np.isfinite(step.p[4])
    data["id"] = ["all"] * 36
    assert "two or more" in evaluate(set_errors(study_of(data, "y", "g, x"), Cluster("id"))).problem
    with pytest.raises(StudyError, match="numbered from 0 to 4"):
        set_errors(study, HC(5))


def test_a_case_without_an_id_does_not_count() -> None:
    data = columns(5)
    data["id"] = ["", *[str(v) for v in data["id"][1:]]]
    study = study_of(data, "y", "x")
    assert fit_of(study).cases.n == 36
    assert fit_of(set_errors(study, Cluster("id"))).cases.n == 35


def test_what_has_no_standard_errors_says_so_where_they_are_named() -> None:
    """A case that stands alone on a column has leverage 1: HC3 does not exist, and its name says so."""
    n = 20
    world = {"x": np.arange(float(n)), "g": ["a"] * (n - 1) + ["b"], "y": np.cos(np.arange(n) * 1.7)}
    study = set_errors(study_of(world, "y", "x, g"), HC(3))
    fit = fit_of(study)
    assert np.isnan(fit.last.se).all()
    said = errors_note(study, study.model, fit)
    assert said == "HC3 SE: a case has a leverage of 1, so these standard errors do not exist."
    classical = set_errors(study, Classical())
    assert errors_note(classical, classical.model, fit_of(classical)) == "Classical SE."
