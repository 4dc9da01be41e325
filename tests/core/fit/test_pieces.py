"""A table that is worked through piece by piece gives what it gives in one piece."""

from __future__ import annotations

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.worlds import noise_world, study_of
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.describe import correlations
from yellow_slope.core.fit.asked.diagnosis import diagnose, mahalanobis
from yellow_slope.core.fit.fitted import fit as fitting
from yellow_slope.core.fit.fitted import steps
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve import factor
from yellow_slope.core.study.edits.models import set_constant, set_errors
from yellow_slope.core.study.standarderrors import HC, Classical, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.values import replace


def in_pieces(study: Study, size: int, monkeypatch: pytest.MonkeyPatch) -> Fit:
    for module in (factor, steps, fitting):
        monkeypatch.setattr(module, "PIECE", size)
    fit = evaluate(study).fit
    assert fit is not None
    monkeypatch.undo()
    return fit


def same(one: Fit, other: Fit, tolerance: float) -> None:
    for mine, its in zip(one.steps, other.steps, strict=True):
        np.testing.assert_array_equal(mine.left_out, its.left_out)
        np.testing.assert_array_equal(mine.estimable, its.estimable)
        for name in ("b", "se", "t", "p", "sr2", "partial_r", "r", "vif", "beta"):
            np.testing.assert_allclose(
                getattr(mine, name), getattr(its, name), rtol=tolerance, atol=1e-3 * tolerance, err_msg=name
            )
        for name in ("r2", "adjusted_r2", "sse", "s2", "total"):
            assert getattr(mine, name) == pytest.approx(getattr(its, name), rel=tolerance, abs=1e-12), name
        assert (mine.rank, mine.df) == (its.rank, its.df)
        np.testing.assert_allclose([mine.whole.f, mine.change.test.f], [its.whole.f, its.change.test.f], rtol=tolerance)
    np.testing.assert_allclose(
        diagnose(one, len(one.steps) - 1).leverage,
        diagnose(other, len(one.steps) - 1).leverage,
        rtol=tolerance,
        atol=1e-12,
    )


@pytest.mark.parametrize("size", [7, 32, 79, 80])
@pytest.mark.parametrize("errors", [Classical(), HC(3), Cluster("g")])
@pytest.mark.parametrize("constant", [True, False])
def test_pieces_of_any_size(size: int, errors: Errors, constant: bool, monkeypatch: pytest.MonkeyPatch) -> None:
    study = study_of(noise_world(13), "y", "x, w, d; z, x*w; g")
    study = set_errors(set_constant(study, constant), errors)
    whole = evaluate(study).fit
    assert whole is not None
    pieces = in_pieces(study, size, monkeypatch)
    same(pieces, whole, 1e-8)
    assert pieces.factored.y_mean == pytest.approx(float(pieces.y.mean()), rel=1e-12)
    assert pieces.factored.total_about_mean == pytest.approx(
        float(((pieces.y - pieces.y.mean()) ** 2).sum()), rel=1e-10
    )


def test_pieces_far_from_zero_and_with_a_sum_among_the_columns(monkeypatch: pytest.MonkeyPatch) -> None:
    world = noise_world(14)
    world["x"], world["w"] = np.round(world["x"] + 1e6, 2), np.round(world["w"] + 1e6, 2)
    world["z"] = np.round(world["x"] + world["w"], 2)
    study = study_of(world, "y", "x, w; z")
    whole = evaluate(study).fit
    assert whole is not None
    assert whole.last.rank == 3
    same(in_pieces(study, 9, monkeypatch), whole, 1e-5)


def test_correlations_and_their_p_by_hand() -> None:
    """r by the definition, p from t with n - 2 degrees of freedom; NaN where a column is constant."""
    x = np.array([[1.0, 2.0, 5.0], [2.0, 1.0, 5.0], [3.0, 4.0, 5.0], [5.0, 4.0, 5.0], [7.0, 9.0, 5.0]])
    r, p = correlations(x)
    a, b = x[:, 0] - x[:, 0].mean(), x[:, 1] - x[:, 1].mean()
    wanted = float(a @ b / np.sqrt((a @ a) * (b @ b)))
    assert r[0, 1] == pytest.approx(wanted, rel=1e-12)
    t = mpmath.mpf(wanted) * mpmath.sqrt(3 / (1 - mpmath.mpf(wanted) ** 2))
    assert p[0, 1] == pytest.approx(float(oracle.t_p(t, 3)), rel=1e-9)
    assert np.isnan(r[0, 2])
    three = correlations(x[:3, :2])
    assert three[1][0, 1] == pytest.approx(
        float(oracle.t_p(mpmath.mpf(three[0][0, 1]) / mpmath.sqrt(1 - mpmath.mpf(three[0][0, 1]) ** 2), 1)), rel=1e-9
    )
    assert np.isnan(correlations(x[:2, :2])[1]).all()


def test_where_there_is_no_fit_no_case_is_said_to_be_out() -> None:
    study = study_of(noise_world(2), "y", "x")
    broken = replace(study, models=(replace(study.model, sample="nobody"),))
    found = evaluate(broken)
    assert "no sample named" in found.problem
    assert (found.cases.n_table, found.cases.n_outside, found.cases.n_aside, found.cases.n_lost) == (80, 0, 0, 0)


def test_mahalanobis_distances_are_those_from_the_covariance() -> None:
    """D² = (x - mean)' S⁻¹ (x - mean); small distances stay what they are."""
    world = noise_world(23)
    fit = evaluate(study_of(world, "y", "x, w, z; x*w")).fit
    assert fit is not None
    x = np.column_stack([world["x"], world["w"], world["z"]])
    rest = x - x.mean(axis=0)
    wanted = np.einsum("ij,jk,ik->i", rest, np.linalg.inv(np.cov(x.T)), rest)
    assert wanted.min() < 1
    np.testing.assert_allclose(mahalanobis(fit), wanted, rtol=1e-9)


def test_the_name_that_stands_twice_is_said() -> None:
    columns = [number_column(name, [1.0]) for name in ("a", "b", "c", "b")]
    with pytest.raises(StudyError, match="both named “b”"):
        Table(tuple(columns))
