"""Whole studies, all of a description drawn at once, against 60 digits that share no code with the program.

`make studies FROM=0 TO=1000` compares as many as one likes; 60 of fixed seeds are compared in every run.
"""

from __future__ import annotations

import os
from collections.abc import Iterator

import mpmath
import numpy as np
import pytest
from mpmath import mpf

from tests.support import oracle
from tests.support.described import DIGITS, Reckoned, Step, drawn
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.standarderrors import HC, Cluster
from yellow_slope.core.study.study import Study

SEEDS = range(int(os.environ.get("STUDIES_FROM", "0")), int(os.environ.get("STUDIES_TO", "60")))
CLOSE = 2e-8
"""Relative to a figure, or to its standard error where that is larger."""
CANCELS = mpf(10) ** -20


@pytest.fixture(autouse=True)
def digits() -> Iterator[None]:
    with mpmath.workdps(DIGITS):
        yield


def near(found: float, wanted: mpmath.mpf, size: mpmath.mpf | float = 0, rounding: mpmath.mpf | float = 0) -> bool:
    return bool(abs(mpf(found) - wanted) <= CLOSE * max(abs(wanted), mpf(size)) + rounding)


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", SEEDS)
def test_every_figure_of_a_study(seed: int) -> None:
    made = drawn(seed)
    evaluation = evaluate(made.study)
    fit = evaluation.fit
    reckoned = Reckoned(made.study)
    if fit is None:
        few = len(reckoned.rows) < 2 or len({float(v) for v in reckoned.y}) < 2
        assert few or "no case is left" in evaluation.problem, (made.said, evaluation.problem)
        return
    assert [int(i) for i in fit.cases.rows] == reckoned.rows, made.said
    rows = reckoned.matrix()
    before: Step | None = None
    for index in range(len(reckoned.ends)):
        step = Step(reckoned, rows, index)
        if step.is_lost:
            return
        compare_step(made.study, fit, index, step, before, made.said)
        before = step


def compare_step(study: Study, fit: Fit, index: int, step: Step, before: Step | None, said: str) -> None:
    result, level = fit.steps[index], study.model.level
    where = f"{said}; step {index + 1}"
    assert result.rank == len(step.kept), where
    slack = 2 * mpmath.sqrt(step.sse) * step.noise + step.noise**2
    assert near(result.sse, step.sse, 0, slack), (where, "sse", result.sse, mpmath.nstr(step.sse, 12))
    width = len(step.columns)
    if step.df < 1 or step.is_perfect:
        return
    quantile = oracle.t_quantile(str(level), step.test_df) if step.test_df > 0 else None
    for j in range(0 if study.model.constant else 1, width):
        g = [mpf(i == j) for i in range(width)]
        told = step.is_told(g) and j in step.kept
        name = (where, "constant" if j == 0 else str(fit.design.columns[j - 1].term), j)
        assert (not np.isnan(result.b[j])) == told, (name, "told", result.b[j])
        if not told:
            continue
        variance, b = step.variance(g), step.effect(g)
        scale = mpmath.sqrt(step.bare(g) * step.sse / step.df)
        off = step.rounding(g)
        assert near(result.b[j], b, scale, off), (name, "b", result.b[j], mpmath.nstr(b, 12))
        if variance is None:
            assert np.isnan(result.se[j]), name
            continue
        if variance <= CANCELS * scale**2:
            assert np.isnan(result.se[j]), (name, "cancels")
            assert result.why(j - 1) is Why.CANCELS, name
            continue
        se = mpmath.sqrt(variance)
        if se < 1e-6 * scale:
            continue  # hardly more than what cancels: neither says anything
        assert near(result.se[j], se, scale * mpf("1e-4"), off), (name, "se", result.se[j], mpmath.nstr(se, 12))
        t = b / se
        assert near(result.t[j], t, 1, off / se), (name, "t", result.t[j], mpmath.nstr(t, 12))
        p = oracle.t_p(t, step.test_df)
        slack = (mpf("1e-7") + off / se) * max(1, abs(t)) ** 2
        assert abs(mpf(result.p[j]) - p) <= slack * p + mpf(10) ** -300, (name, "p")
        assert quantile is not None
        assert near(result.low[j], b - quantile * se, scale, off), (name, "low")
        assert near(result.high[j], b + quantile * se, scale, off), (name, "high")
    compare_shares(fit, index, step, before, where)


def compare_shares(fit: Fit, index: int, step: Step, before: Step | None, where: str) -> None:
    result = fit.steps[index]
    middle = mpmath.fsum(step.y) / step.n
    total = mpmath.fsum((v - (middle if result.about_mean else 0)) ** 2 for v in step.y)
    slack = (2 * mpmath.sqrt(step.sse) * step.noise + step.noise**2) / total
    assert near(result.r2, 1 - step.sse / total, 1e-3, slack), (where, "R²")
    if isinstance(fit_errors(fit, step), HC | Cluster) or not result.about_mean:
        return
    small = before.sse if before is not None else mpmath.fsum((v - middle) ** 2 for v in step.y)
    q = len(step.kept) - (len(before.kept) if before is not None else 1)
    if q > 0:
        f = (small - step.sse) / q / (step.sse / step.df)
        assert (result.change.test.df1, result.change.test.df2) == (q, step.df), where
        off = (step.noise + (before.noise if before is not None else 0)) * mpmath.sqrt((small - step.sse) / q) * 2
        slack = off / (step.sse / step.df) + f * step.noise / mpmath.sqrt(step.sse)
        assert near(result.change.test.f, f, 1e-3, slack), (where, "F", result.change.test.f, mpmath.nstr(f, 10))


def fit_errors(fit: Fit, step: Step) -> object:
    return step.model.errors
