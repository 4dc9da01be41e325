"""A group variable on its own: its means, the omnibus test with its effect size, every two levels against each other.

The groups alone are compared from sums over levels; beside it stands the test of the block of codes, which is the same
number by another way. With other predictors the means are those of the model at stated values.
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import combinations
from types import MappingProxyType

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.families import holm
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.design.cases import cases_of
from yellow_slope.core.fit.design.design import Profile
from yellow_slope.core.fit.fitted.evaluate import fitted
from yellow_slope.core.fit.fitted.fit import Fit, Problem
from yellow_slope.core.fit.fitted.inference import NAN, ConditionalEffect, FTest, conditional, no_test
from yellow_slope.core.fit.solve.tails import f_p, noncentral_f_interval, noncentral_t_interval
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.coding import Dummy, LevelMeans
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import Classical
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term, variables_of
from yellow_slope.values import dataclass, replace

MOST_PAIRS = 40
"""Of more levels not every two are compared: nobody reads a thousand rows."""


@dataclass(frozen=True, slots=True)
class Pair:
    """One level minus another. d and its bounds are NaN where other predictors take part."""

    one: int
    other: int
    effect: ConditionalEffect
    """The difference with its unadjusted interval and p."""
    p_holm: float
    d: float
    d_low: float
    d_high: float


@dataclass(frozen=True, slots=True, eq=False)
class Overview:
    """The levels of a group compared on the outcome."""

    variable: str
    fit: Fit
    """The groups alone, or the model with its other predictors."""
    levels: tuple[str, ...]
    counts: IntArray
    means: tuple[ConditionalEffect, ...]
    """The mean of each level; its t and p say nothing and are not shown."""
    omnibus: FTest
    block: FTest
    """The test of the block of codes in the same model: the same test."""
    eta2: float
    """Share of the outcome's variance between the levels; NaN where other predictors take part."""
    eta2_low: float
    eta2_high: float
    spread: float
    """SD pooled over all levels; with other predictors that of the residuals."""
    df: int
    pairs: tuple[Pair, ...]
    held: Profile | None = None
    """Where the other predictors stand; None for the groups alone."""

    @property
    def basis(self) -> GroupBasis:
        """The group as it enters."""
        return self.fit.design.group(self.variable)


def alone_model(study: Study, model: Model, name: str) -> Model:
    """The groups alone as predictor of the model's outcome. StudyError where there is nothing to predict."""
    if study.variable(name).kind is not Kind.GROUP:
        raise StudyError(f"{study.variable(name).label} is not a group.")
    if model.outcome is None:
        raise StudyError("Choose an outcome to see it by group.")
    if model.outcome == name:
        raise StudyError(f"{study.variable(name).label} is the outcome.")
    coding = model.coding(name)
    entries = MappingProxyType({name: Dummy() if isinstance(coding, LevelMeans) else coding})
    return replace(
        model,
        id="alone",
        blocks=(Block((Term((name,)),)),),
        entries=entries,
        constant=True,
        errors=Classical(),
        by=None,
        leave_out_first=(),
    )


def alone(study: Study, model: Model, name: str, fit: Fit | None) -> Fit | Problem:
    """The groups alone, fitted over the model's cases if they are in it, else over their own."""
    single = alone_model(study, model, name)
    within = fit is not None and name in fit.design.bases
    return fitted(study, single, fit.cases if fit is not None and within else cases_of(study, single))


def overview_alone(study: Study, model: Model, name: str, fit: Fit | None = None) -> Overview:
    """The levels compared without other predictors. StudyError where there is nothing to compare."""
    found = alone(study, model, name, fit)
    if isinstance(found, Problem):
        raise StudyError(found.said)
    basis, positions = found.design.group(name), np.asarray(found.values[name], dtype=np.int64)
    k, counts = len(basis.levels), basis.counts
    y = found.y - found.y.mean()
    means = np.bincount(positions, weights=y, minlength=k) / counts
    rest = y - means[positions]
    within, between = float(rest @ rest), float(counts @ means**2)
    df = int(y.size) - k
    why = Why.NO_CASES if df < 1 else Why.PERFECT if found.last.is_perfect else None
    s2 = within / df if why is None else 0.0
    if why is None:
        f = (between / (k - 1)) / s2
        omnibus = FTest(f, k - 1, df, f_p(f, k - 1, df))
        low, high = noncentral_f_interval(f, k - 1, df, model.level)
        low, high = low / (low + y.size), high / (high + y.size)
    else:
        omnibus, (low, high) = no_test(k - 1, df, why), (NAN, NAN)
    level = model.level
    center = float(found.y.mean())
    drawn = tuple(conditional(float(m) + center, float(np.sqrt(s2 / n)), df, level, why) for m, n in zip(means, counts))
    pairs = _pairs(
        k,
        lambda a, b: conditional(
            float(means[b] - means[a]), float(np.sqrt(s2 * (1 / counts[a] + 1 / counts[b]))), df, level, why
        ),
        counts,
        np.sqrt(s2),
        level,
    )
    return Overview(
        name,
        found,
        basis.levels,
        counts,
        drawn,
        omnibus,
        found.last.change.test,
        between / (between + within),
        low,
        high,
        float(np.sqrt(s2)) if why is None else NAN,
        df,
        pairs,
    )


def overview_adjusted(fit: Fit, name: str, level: float) -> Overview:
    """The levels compared in the model's last step, numbers at their means and other groups at their shares.

    Means adjusted in this way: Searle, Speed & Milliken (1980).
    """
    step, basis = fit.last, fit.design.group(name)
    held = fit.design.typical()
    rows = np.stack([fit.design.rows(held.with_level(name, i))[:, 0] for i in range(len(basis.levels))])
    inference = step.inference
    means = tuple(inference.estimate(row, level) for row in rows)
    omnibus = inference.test(rows[1:] - rows[0])
    columns = fit.design.columns_of(Term((name,)))
    block = (
        inference.test(np.eye(step.n_columns + 1)[[j + 1 for j in columns]])
        if columns
        else no_test(0, inference.df, Why.NOTHING)
    )
    pairs = _pairs(len(rows), lambda a, b: inference.estimate(rows[b] - rows[a], level), basis.counts, NAN, level)
    others = set(variables_of([c.term for c in fit.design.columns])) - {name}
    stated = Profile(
        {n: v for n, v in held.numbers.items() if n in others}, {n: w for n, w in held.weights.items() if n in others}
    )
    return Overview(
        name,
        fit,
        basis.levels,
        basis.counts,
        means,
        omnibus,
        block,
        NAN,
        NAN,
        NAN,
        float(np.sqrt(step.s2)),
        inference.df,
        pairs,
        stated,
    )


def _pairs(k, difference, counts: IntArray, spread: float, level: float) -> tuple[Pair, ...]:  # type: ignore[no-untyped-def]
    """Every two levels, the later minus the earlier."""
    if k > MOST_PAIRS:
        return ()
    places = list(combinations(range(k), 2))
    effects = [difference(a, b) for a, b in places]
    adjusted = holm([e.p for e in effects])
    sizes = np.array([np.sqrt(counts[a] * counts[b] / (counts[a] + counts[b])) for a, b in places])
    with np.errstate(divide="ignore", invalid="ignore"):
        ds = np.array([e.effect for e in effects]) / spread if spread > 0 else np.full(len(effects), NAN)
    low, high = ds * NAN, ds * NAN
    known = ~np.isnan(ds)
    if known.any():
        low[known], high[known] = noncentral_t_interval((ds * sizes)[known], effects[0].df, level)
    return tuple(
        Pair(b, a, effect, p, float(d), float(lo / size), float(hi / size))
        for (a, b), effect, p, d, lo, hi, size in zip(places, effects, adjusted, ds, low, high, sizes)
    )


def rows_at_levels(fit: Fit, name: str, step: int) -> FloatArray:
    """Shape (k, 1 + columns): the step's columns at each level, partners of its products at their zero points.

    What is not multiplied with the group stands at its mean or its shares, so that differences of these rows are the
    comparisons, and the rows themselves lie among the data.
    """
    result, basis = fit.steps[step], fit.design.group(name)
    columns = fit.design.columns[: result.n_columns]
    partners = {n for c in columns if name in c.term.variables for n in c.term.variables} - {name}
    at: dict[str, FloatArray | float] = {}
    for other, found in fit.design.bases.items():
        if isinstance(found, NumberBasis):
            at[other] = 0.0 if other in partners else float(found.treated(np.array([found.typical]))[0])
        else:
            at[other] = np.zeros(found.codes.shape[1]) if other in partners else found.shares @ found.codes
    rows = np.zeros((len(basis.levels), result.n_columns + 1))
    rows[:, 0] = float(fit.design.constant)
    for j, column in enumerate(columns):
        value: FloatArray = np.ones(len(basis.levels))
        for atom in column.atoms:
            if atom.variable == name:
                value = value * basis.codes[:, atom.comparison or 0]
            else:
                value = value * _value(at, atom.variable, atom.comparison)
        rows[:, j + 1] = value
    return rows


def _value(at: Mapping[str, FloatArray | float], name: str, comparison: int | None) -> float:
    found = at[name]
    return float(found) if comparison is None else float(np.asarray(found)[comparison])
