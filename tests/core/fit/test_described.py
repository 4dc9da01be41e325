"""Whole studies, all of a description drawn at once, against 60 digits that share no code with the program.

`make studies FROM=0 TO=1000` compares as many as one likes; 60 of fixed seeds are compared in every run.
"""

from __future__ import annotations

import os
from collections.abc import Iterator
from functools import partial
from itertools import permutations, takewhile
from typing import Protocol

import mpmath
import numpy as np
import pytest
from mpmath import mpf

from tests.support import oracle
from tests.support.described import DIGITS, Reckoned, Step, at_place, drawn, order_of
from tests.support.resamples import Resamples
from tests.support.seeds import few
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, FTest
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.probe import Probe, Second
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Cluster
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import At, Transform, Treatment

pytestmark = pytest.mark.no_cover  # what it runs through others run through

SEEDS = range(int(os.environ.get("STUDIES_FROM", "0")), int(os.environ.get("STUDIES_TO") or few(14, 60)))
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
    steps = [Step(reckoned, rows, index) for index in range(len(reckoned.ends))]
    last = steps[-1]
    if any(step.is_lost for step in steps):
        steps = list(takewhile(lambda step: not step.is_lost, steps))
    errors = made.study.model.errors
    is_whole = len(steps) == len(reckoned.ends) and last.df > 0 and not last.is_perfect
    if isinstance(errors, Bootstrap):
        if not is_whole:
            return  # which resamples count depends on all columns
        resamples = Resamples(last, errors, last.clusters, order_of(made.study, errors))
        compare_drawn(made.study, fit, reckoned, steps, resamples, made.said)
        return
    for index, step in enumerate(steps):
        compare_step(made.study, fit, index, step, steps[index - 1] if index else None, made.said)
    if is_whole:
        compare_joint(fit, last, made.said)
        compare_probes(
            made.study, fit, reckoned, last, made.said, partial(compare_effect, level=made.study.model.level)
        )


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("tens", [-7, 5])
def test_no_unit_changes_what_a_study_says(seed: int, tens: int) -> None:
    """t, R², F and the effects of probes are those of the same study in units 10^tens as large."""
    made, other = drawn(seed), drawn(seed, tens)
    if not all(goes_with_units(made.study.model.treatment(n)) for n in names_in(made.study)):
        return
    fit, found = evaluate(made.study).fit, evaluate(other.study).fit
    assert (fit is None) == (found is None), made.said
    if fit is None or found is None:
        return
    reckoned = Reckoned(made.study)
    rows = reckoned.matrix()
    for index, (a, b) in enumerate(zip(fit.steps, found.steps, strict=True)):
        step = Step(reckoned, rows, index)
        if step.is_lost or step.df < 1 or step.is_perfect:
            return
        assert (a.rank, a.df) == (b.rank, b.df), (made.said, index)
        assert near(a.r2, b.r2, 1e-2), (made.said, index, a.r2, b.r2)
        one, two = a.change.test, b.change.test
        assert same(one.f, two.f), (made.said, index, one.f, two.f)
        for column in range(len(step.columns) - 1):
            c, d = a.coefficient(column), b.coefficient(column)
            assert same(c.t, d.t), (made.said, index, column, c.t, d.t)


def same(one: float, other: float) -> bool:
    return (np.isnan(one) and np.isnan(other)) or abs(one - other) <= 1e-4 * max(1.0, abs(one))


def names_in(study: Study) -> set[str]:
    names = {n for t in study.model.terms for n in t.variables}
    return {n for n in names if study.variable(n).kind is Kind.NUMBER}


def goes_with_units(treatment: Treatment) -> bool:
    """Whether the coordinate in other units is a multiple of this one, or the very same."""
    if Transform.RANKS in treatment.transforms:
        return not isinstance(treatment.zero, At)
    return treatment.transforms in ((), (Transform.REVERSE,))


def compare_step(study: Study, fit: Fit, index: int, step: Step, before: Step | None, said: str) -> None:
    result, level = fit.steps[index], study.model.level
    where = f"{said}; step {index + 1}"
    assert result.rank == len(step.kept), where
    slack = 2 * mpmath.sqrt(step.sse) * step.noise + step.noise**2
    assert near(result.sse, step.sse, 0, slack), (where, "sse", result.sse, mpmath.nstr(step.sse, 12))
    width = len(step.columns)
    if step.df < 1 or step.is_perfect:
        return
    for j in range(0 if study.model.constant else 1, width):
        g = [mpf(i == j) for i in range(width)]
        told = step.is_told(g) and j in step.kept
        name = (where, "constant" if j == 0 else str(fit.design.columns[j - 1].term), j)
        assert (not np.isnan(result.b[j])) == told, (name, "told", result.b[j])
        if not told:
            continue
        compare_effect(result.coefficient(j - 1), step, g, level=level, name=name)
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


class Figures(Protocol):
    """What a coefficient and a conditional effect have in common."""

    @property
    def se(self) -> float: ...
    @property
    def t(self) -> float: ...
    @property
    def p(self) -> float: ...
    @property
    def low(self) -> float: ...
    @property
    def high(self) -> float: ...
    @property
    def why(self) -> Why | None: ...


def compare_effect(found: Figures, step: Step, g: list[mpf], *, level: float, name: object) -> None:
    """Effect, standard error, t, p and interval of g·b, which the cases tell of."""
    value = found.effect if isinstance(found, ConditionalEffect) else found.b  # type: ignore[attr-defined]
    variance, b, off = step.variance(g), step.effect(g), step.rounding(g)
    scale = mpmath.sqrt(step.bare(g) * step.sse / step.df)
    assert near(value, b, scale, off), (name, "effect", value, mpmath.nstr(b, 12))
    if variance is None:
        assert np.isnan(found.se), name
        return
    if variance <= CANCELS * scale**2:
        assert np.isnan(found.se), (name, "cancels")
        assert found.why is Why.CANCELS, (name, found.why)
        return
    se = mpmath.sqrt(variance)
    if se < 1e-6 * scale:
        return  # hardly more than what cancels: neither says anything
    assert near(found.se, se, scale * mpf("1e-4"), off), (name, "se", found.se, mpmath.nstr(se, 12))
    t = b / se
    assert near(found.t, t, 1, off / se), (name, "t", found.t, mpmath.nstr(t, 12))
    p = oracle.t_p(t, step.test_df)
    slack = (mpf("1e-7") + off / se) * max(1, abs(t)) ** 2
    assert abs(mpf(found.p) - p) <= slack * p + mpf(10) ** -300, (name, "p", found.p, mpmath.nstr(p, 12))
    quantile = oracle.t_quantile(str(level), step.test_df)
    assert near(found.low, b - quantile * se, scale, off), (name, "low")
    assert near(found.high, b + quantile * se, scale, off), (name, "high")


def compare_joint(fit: Fit, step: Step, said: str) -> None:
    """The joint test of each term of several columns, where nothing depends on anything."""
    width = len(step.columns)
    for term, test in fit.last.joint.items():
        gs = [[mpf(i == j + 1) for i in range(width)] for j in fit.design.columns_of(term)]
        covariance = step.covariance(gs)
        if step.nulls or covariance is None:
            continue
        q = len(gs)
        if isinstance(step.model.errors, Cluster) and q > step.test_df:
            assert test.why is Why.CLUSTERS, (said, term)
            continue
        sizes = [mpmath.sqrt(step.bare(g) * step.sse / step.df) for g in gs]
        unit = mpmath.matrix([[v / a / b for v, b in zip(row, sizes)] for row, a in zip(covariance, sizes)])
        if abs(mpmath.det(unit)) < mpf(10) ** -16:
            continue  # a robust covariance that tells of fewer directions
        effects = mpmath.matrix([step.effect(g) / size for g, size in zip(gs, sizes)])
        f = (effects.T * unit**-1 * effects)[0] / q
        off = max(step.rounding(g) / size for g, size in zip(gs, sizes)) / abs(mpmath.det(unit))
        name = (said, str(term), "joint", test.f, mpmath.nstr(f, 10))
        assert (test.df1, test.df2) == (q, step.test_df), name
        assert near(test.f, f, 1e-3, off * (1 + f) * 10), name
        p = oracle.f_p(f, q, step.test_df)
        assert abs(mpf(test.p) - p) <= (mpf("1e-6") + 10 * off) * (1 + q * f) * p + mpf(10) ** -300, name


def asked_of(study: Study) -> list[Probe]:
    """Every product along each of its pairs, one of three along both; what stands in none, and squares, along
    themselves."""
    terms = study.model.terms
    several = [tuple(dict.fromkeys(t.variables)) for t in terms]
    asked = [Probe(a, b) for names in several for a, b in permutations(names, 2)]
    asked += [
        Probe(a, b, second=Second(c)) for names in several if len(names) == 3 for a, b, c in permutations(names, 3)
    ]
    alone = [names[0] for names in several if len(names) == 1 and not any(set(names) < set(n) for n in several)]
    return list(dict.fromkeys([*asked, *(Probe(name, name) for name in alone)]))


class Compare(Protocol):
    """Compares an effect, of which cases tell, with its row."""

    def __call__(self, found: ConditionalEffect, step: Step, g: list[mpf], *, name: object) -> None: ...


def compare_probes(study: Study, fit: Fit, reckoned: Reckoned, step: Step, said: str, compare: Compare) -> None:
    """Effects at the places and the differences between them, of everything that can be asked."""
    for probe in asked_of(study):
        names = [probe.focal, probe.moderator, *([probe.second.variable] if probe.second else [])]
        if any(name in reckoned.codes and len(reckoned.codes[name][0]) < 2 for name in names):
            continue
        probed = probe_fit(study, fit, probe)
        asked = [None] if probe.focal in reckoned.axes else reckoned.codes[probe.focal][2]
        for panel in probed.panels:
            second = [(probe.second.variable, panel.second)] if probe.second and panel.second is not None else []
            for focus, weights in zip(panel.foci, asked, strict=True):
                gs = []
                for place, effect in zip(probed.places, focus.effects):
                    where = [(probe.moderator, place), *second]
                    g = at_place(reckoned, probe.focal, weights, where)[: len(step.columns)]
                    gs.append(g)
                    compare_told(effect, step, g, compare, (said, str(probe), str(place), str(panel.second)))
                for d in focus.differences:
                    assert d.minus is not None
                    one, other = gs[d.of], gs[d.minus]
                    apart = [a - b for a, b in zip(one, other)]
                    if any(0 < abs(v) < mpf("1e-7") * abs(a) for v, a in zip(apart, one)):
                        continue  # places that doubles hardly tell apart
                    compare_told(d.effect, step, apart, compare, (said, str(probe), "difference", d.of, d.minus))


def compare_told(found: ConditionalEffect, step: Step, g: list[mpf], compare: Compare, name: object) -> None:
    largest = max((abs(v) * size for v, size in zip(g, step.lengths)), default=mpf(0))
    if largest == 0 or all(abs(v) * size <= mpf(10) ** -25 * largest for v, size in zip(g, step.lengths)):
        assert found.why is Why.FIXED, (name, found)
        return
    if not step.is_told(g):
        assert not found.exists, (name, "not told", found)
        return
    if found.why is Why.FIXED:
        assert mpmath.sqrt(step.bare(g)) * largest <= mpf(10) ** -9, (name, "fixed")
        return
    compare(found, step, g, name=name)


# ---- bootstraps


def compare_drawn(
    study: Study, fit: Fit, reckoned: Reckoned, steps: list[Step], resamples: Resamples, said: str
) -> None:
    """Everything that a bootstrap gives, step by step, of joint tests and of probes."""
    if fit.resampled is None:
        assert resamples.kept < 0.3 or len(set(steps[-1].clusters or "ab")) < 2, (said, resamples.kept)
        assert np.all(np.isnan(fit.last.se)), said
        return
    assert resamples.kept > 0.12, said
    level = study.model.level

    def compare(found: Figures, step: Step, g: list[mpf], *, name: object) -> None:
        compare_read(found, resamples, step, g, level, name)

    for index, step in enumerate(steps):
        result, where = fit.steps[index], f"{said}; step {index + 1}"
        assert result.rank == len(step.kept), where
        for j in range(0 if study.model.constant else 1, len(step.columns)):
            g = [mpf(i == j) for i in range(len(step.columns))]
            told = step.is_told(g) and j in step.kept
            assert (not np.isnan(result.b[j])) == told, (where, j, "told", result.b[j])
            if told:
                compare(result.coefficient(j - 1), step, g, name=(where, j))
        new = [j for j in step.kept if j >= (len(steps[index - 1].columns) if index else 1)]
        if not step.nulls and new:
            compare_joint_draws(result.change.test, resamples, step, new, where)
    for term, test in fit.last.joint.items():
        if not steps[-1].nulls:
            columns = [j + 1 for j in fit.design.columns_of(term)]
            compare_joint_draws(test, resamples, steps[-1], columns, f"{said}; {term}")
    compare_probes(study, fit, reckoned, steps[-1], said, compare)


def compare_read(found: Figures, resamples: Resamples, step: Step, g: list[mpf], level: float, name: object) -> None:
    """Effect, standard error, p and interval of g·b as the draws have them; no t."""
    value = found.effect if isinstance(found, ConditionalEffect) else found.b  # type: ignore[attr-defined]
    b, off = step.effect(g), step.rounding(g)
    scale = mpmath.sqrt(step.bare(g) * step.sse / step.df)
    assert near(value, b, scale, off), (name, "effect", value, mpmath.nstr(b, 12))
    assert np.isnan(found.t), (name, "t of draws")
    wanted = resamples.read(g, float(b), level, float(off))
    if wanted.se < 1e-6 * scale:
        if wanted.se < 1e-11 * scale:
            assert np.isnan(found.se), (name, "draws all alike", found.se)
        return
    slack = float(off) + 1e-6 * wanted.se
    for what, one, other in (
        ("se", found.se, wanted.se),
        ("low", found.low, wanted.low),
        ("high", found.high, wanted.high),
    ):
        assert abs(one - other) <= slack + 1e-7 * abs(other), (name, what, one, other)
    assert wanted.p[0] - 1e-6 <= found.p <= wanted.p[1] + 1e-6, (name, "p", found.p, wanted.p)


def compare_joint_draws(test: FTest, resamples: Resamples, step: Step, columns: list[int], name: str) -> None:
    """A joint test by draws: of one coefficient by inverting its interval, of several by their distance."""
    gs = [[mpf(i == j) for i in range(len(step.columns))] for j in columns]
    if step.clusters is not None and len(gs) > step.test_df:
        assert test.why is Why.CLUSTERS, name
        return
    drawn, _ = resamples.of(gs)
    spreads = drawn.std(axis=0, ddof=1)
    sizes = [float(mpmath.sqrt(step.bare(g) * step.sse / step.df)) for g in gs]
    if any(one < 1e-6 * size for one, size in zip(spreads, sizes)):
        return
    apart = np.linalg.eigvalsh(np.atleast_2d(np.corrcoef(drawn.T)))
    if apart[0] < 1e-8:
        return
    estimates = [float(step.effect(g)) for g in gs]
    assert np.isnan(test.f), name
    if len(gs) == 1:
        between = resamples.read(gs[0], estimates[0], 0.95, float(step.rounding(gs[0]))).p
    else:
        between = resamples.joint_p(gs, estimates)
    assert between[0] - 1e-6 <= test.p <= between[1] + 1e-6, (name, test.p, between)
