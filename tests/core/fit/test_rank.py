"""Columns that depend on each other, constant columns, and which one is left out."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.fit.fitted.evaluate import evaluate


def test_the_last_column_in_block_order_is_left_out() -> None:
    world = noise_world(1)
    world["sum"] = world["x"] + 2 * world["w"] - 7
    fit = fit_of(study_of(world, "y", "sum; x, z; w"))
    (out,) = fit.left_out
    assert fit.design.columns[out.column].term.variables == ("w",)
    weights = {fit.design.columns[j].term.variables[0]: value for j, value in out.on}
    assert weights == pytest.approx({"sum": 0.5, "x": -0.5})
    assert fit.last.rank == 4
    assert fit.last.is_left_out(out.column)
    assert fit.steps[2].change.test.df1 == 0
    assert np.isnan(fit.steps[2].change.test.f)


def test_steps_before_are_untouched_by_what_is_left_out() -> None:
    world = noise_world(2)
    plain = fit_of(study_of(world, "y", "x, z"))
    world["twice"] = 2 * world["x"]
    with_twin = fit_of(study_of(world, "y", "x, z; twice"))
    np.testing.assert_allclose(with_twin.steps[0].b, plain.steps[0].b, rtol=1e-12)
    assert with_twin.steps[1].sse == pytest.approx(plain.steps[0].sse, rel=1e-12)


def test_two_null_vectors_leave_two_columns_out() -> None:
    world = noise_world(3)
    world["a"], world["b"] = world["x"] + world["w"], world["x"] - world["w"]
    fit = fit_of(study_of(world, "y", "x, a, w, b"))
    assert [out.column for out in fit.left_out] == [2, 3]
    for out in fit.left_out:
        column = fit.x[:, out.column] - fit.x[:, out.column].mean()
        combined = sum(weight * (fit.x[:, j] - fit.x[:, j].mean()) for j, weight in out.on)
        np.testing.assert_allclose(column, combined, atol=1e-9)


def test_a_constant_column_is_reported_and_never_divided() -> None:
    world = noise_world(4)
    world["same"] = np.full(80, 3.7)
    fit = fit_of(study_of(world, "y", "x, same"))
    assert [(out.column, out.on) for out in fit.left_out] == [(1, ())]
    assert np.all(np.isfinite(fit.last.inference.solution[:2]))
    assert np.isfinite(fit.last.b[1])
    assert np.isnan(fit.last.b[0]), "no case tells of the level where it is 0"


@pytest.mark.parametrize("offset", [0.0, 1e4, 1e8])
def test_a_large_mean_does_not_cost_the_rank(offset: float) -> None:
    world = noise_world(5)
    world["x"] = world["x"] + offset
    assert not fit_of(study_of(world, "y", "x, w, z")).left_out


def test_more_coefficients_than_cases_are_refused_in_words() -> None:
    world = {k: v[:4] for k, v in noise_world(6).items() if k in "xwzy"}
    found = evaluate(study_of(world, "y", "x, w, z"))
    assert found.fit is None
    assert "4 coefficients from 4 cases" in found.problem


def test_an_outcome_without_spread_is_refused_in_words() -> None:
    world = noise_world(7)
    world["y"] = np.full(80, 2.0)
    found = evaluate(study_of(world, "y", "x"))
    assert "nothing to explain" in found.problem
