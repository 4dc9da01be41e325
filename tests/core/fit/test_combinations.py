"""What goes wrong only together: each family drawn at random, and reckoned in exact arithmetic."""

from __future__ import annotations

import random
from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from tests.support import oracle
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Transform, Treatment

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
