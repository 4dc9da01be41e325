"""In words: the questions of the waypoint Checks, their answers in figures, and what they say."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.assumptions import MOST_TESTED, Third
from yellow_slope.core.fit.asked.collinearity import conditions
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.robust import FULL_LEVERAGE
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.stand.checked import Checked
from yellow_slope.core.stand.standing import Stand
from yellow_slope.core.study.checks import Check, FarBy
from yellow_slope.core.study.standarderrors import cluster_id
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.core.words.names.groups import comparison_name, level_name, plain_level
from yellow_slope.core.words.names.numbers import scale_name, transformed_name
from yellow_slope.core.words.names.quoted import spoken
from yellow_slope.core.words.names.terms import column_name, label
from yellow_slope.core.words.sentences.rivals import cook_text, far_name, stand_sentence
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    counted,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    listed,
    listed_some,
    p_equals,
    place,
    place_decimals,
)
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.values import replace


def check_title(check: Check) -> str:
    """What a check is called: on its card, over its plot, in the foot and in the report."""
    match check:
        case Check.STAND:
            return "Robustness"
        case Check.SPREAD:
            return "Equal variance"
        case Check.NORMAL:
            return "Normality"
        case Check.STRAIGHT:
            return "Linearity"
        case Check.PULL:
            return "Influential cases"
        case Check.FAR:
            return "Outlying cases"
        case Check.MOVES:
            return "Change by case"
        case Check.ORDER:
            return "Independence"
        case Check.OVERLAP:
            return "Collinearity"
        case Check.OWN:
            return "Unique effect"
        case _:
            assert_never(check)


def check_named(text: str) -> Check:
    """The check of a title or of its id. StudyError names what there is."""
    wanted = text.strip().casefold()
    for check in Check:
        if wanted in (check.value, check_title(check).casefold()):
            return check
    raise StudyError(f"There is no check “{text}”. The checks are {listed([check.value for check in Check])}.")


def advice(check: Check) -> str:
    """What to look for in a plot."""
    match check:
        case Check.STAND:
            return "Each row repeats the test with one choice of the analysis changed; Enter adopts that choice."
        case Check.SPREAD:
            return "Points should form a band of even height; the yellow lines follow its typical half-height."
        case Check.NORMAL:
            return "Points should follow the line within the band; ends outside it mean other tails. Bars are counts."
        case Check.STRAIGHT:
            return "The three points should lie close to the line: each is the effect within a third of the moderator."
        case Check.PULL:
            return "Cases beyond the curve change the coefficients most: a large residual with unusual predictors."
        case Check.FAR:
            return "Cases above the dashed line have unusual combinations of predictors."
        case Check.MOVES:
            return "By how many standard errors the coefficient changes without each case."
        case Check.ORDER:
            return "Residuals should vary without a pattern, if the order of the rows has a meaning."
        case Check.OVERLAP:
            return "The longer the bar, the more a term overlaps with the others; pale bar: with centering, or without."
        case Check.OWN:
            return "The column and the outcome, both adjusted for all other predictors: the slope of the line is b."
        case _:
            assert_never(check)


# ---- answers


def answer(check: Check, found: Checked, stand: Stand | None) -> str:
    """The answer in figures, as it stands under a small plot; empty where there is none."""
    match check:
        case Check.STAND:
            return _stand_answer(stand)
        case Check.SPREAD:
            test = found.spread.test
            return f"BP {fixed(test.f, 1)}, {p_equals(test.p)}" if math.isfinite(test.p) else ""
        case Check.NORMAL:
            normal = found.normality
            if math.isfinite(normal.p):
                return f"W {bounded(normal.w)}, {p_equals(normal.p)}"
            return f"skew {fixed(normal.skewness, 2)}" if math.isfinite(normal.skewness) else ""
        case Check.STRAIGHT:
            return f"RESET {p_equals(found.reset.p)}" if math.isfinite(found.reset.p) else ""
        case Check.PULL:
            far = found.far[FarBy.COOK]
            return f"{far.cases.size:,} beyond {cook_text(far.cutoff, far.is_typed)}"
        case Check.FAR:
            far = found.far[FarBy.DISTANCE]
            return f"{far.cases.size:,} beyond {fixed(far.cutoff, 1)}" if math.isfinite(far.cutoff) else ""
        case Check.MOVES:
            return _moves_answer(found)
        case Check.ORDER:
            return f"DW {fixed(found.order.d, 2)}" if math.isfinite(found.order.d) else ""
        case Check.OVERLAP:
            largest = found.overlap.largest
            return f"largest VIF {fixed(largest, 1)}" if math.isfinite(largest) else ""
        case Check.OWN:
            r = own_r(found)
            return f"partial r {bounded(r, 2)}" if math.isfinite(r) else ""
        case _:
            assert_never(check)


def _stand_answer(stand: Stand | None) -> str:
    if stand is None:
        return ""
    told = [same for row in stand.rows if (same := stand.same_conclusion(row)) is not None]
    return f"{sum(told)} of {len(told)} agree" if told else ""


def _moves_answer(found: Checked) -> str:
    if found.moves is None or not np.isfinite(found.moves).any():
        return ""
    most = int(np.nanargmax(np.abs(found.moves)))
    row = int(found.fit.cases.rows[most]) + 1
    return f"row {row}: {fixed(float(found.moves[most]), 2)} SE"


def own_r(found: Checked) -> float:
    """The partial correlation of the column with the outcome."""
    if found.column is None:
        return math.nan
    return float(found.fit.steps[found.step].partial_r[found.column + 1])


# ---- remarks


def remark(check: Check, found: Checked, stand: Stand | None) -> str:
    """What the numbers say, in words."""
    match check:
        case Check.STAND:
            return stand_sentence(found.study, found.fit, stand) if stand is not None else ""
        case Check.SPREAD:
            return f"{_spread(found)} {_full(found)}".strip()
        case Check.NORMAL:
            return _normal(found)
        case Check.STRAIGHT:
            return _straight(found)
        case Check.PULL:
            said = f"{_beyond(found, FarBy.COOK)} {_beyond(found, FarBy.STUDENTIZED)} {_pulls(found)}"
            return f"{said} {_full(found)}".strip()
        case Check.FAR:
            return _far(found)
        case Check.MOVES:
            return _moves(found)
        case Check.ORDER:
            return _order(found)
        case Check.OVERLAP:
            return _overlap(found)
        case Check.OWN:
            return _own(found)
        case _:
            assert_never(check)


def asked_label(found: Checked) -> str:
    """The column that is asked, or the product."""
    return "the product" if found.column is None else column_name(found.study, found.fit, found.column)


def _spread(found: Checked) -> str:
    test = found.spread.test
    if not math.isfinite(test.p):
        if found.fit.steps[found.step].is_perfect or not np.isfinite(found.diagnosis.deleted).any():
            return "The model fits perfectly, or leaves no residual to judge by, so residuals cannot be studentized."
        return f"Equal variance cannot be tested: {reason(test.why)}." if test.why is not None else ""
    uneven = test.p < 1.0 - found.study.model.level
    said = (
        f"The residual variance {'differs' if uneven else 'does not differ'} significantly along the predictors "
        f"(Breusch-Pagan test in Koenker's form, χ²({test.df1}) = {fixed(test.f, 2)}, {p_equals(test.p)})."
    )
    if math.isfinite(found.ratio) and cluster_id(found.study.model.errors) is None:
        said += f" The HC3 standard error of {asked_label(found)} is {fixed(found.ratio, 2)} times the classical one."
    for i, (name, levels) in enumerate(found.spread.groups):
        ratio = found.spread.ratio(i)
        if math.isfinite(ratio):
            variable = found.study.variable(name)
            largest = max((x for x in levels if math.isfinite(x.variance)), key=lambda x: x.variance)
            said += (
                f" Across the groups of {variable.label}, the largest residual variance is {fixed(ratio, 2)} times the "
                f"smallest (largest in {level_name(variable, largest.code)}, {counted(largest.n, 'case')})."
            )
    return said


def _full(found: Checked) -> str:
    """That some cases are alone in what they tell."""
    full = int(np.sum(found.diagnosis.leverage > 1 - FULL_LEVERAGE))
    n = found.fit.cases.n
    if not full:
        return ""
    if full == 1:
        return f"1 of {n:,} cases has a leverage of 1: it determines a coefficient alone and has no residual."
    return f"{full:,} of {n:,} cases have a leverage of 1: each determines a coefficient alone and has no residual."


def _small(value: float) -> str:
    """A value with as many digits as tell it apart from 0."""
    return place(value, abs(value))


def _pulls(found: Checked) -> str:
    """Who has the highest leverage."""
    leverage = found.diagnosis.leverage
    most = int(np.argmax(leverage))
    who = case_name(found.study, int(found.fit.cases.rows[most]))
    highest, average = (bounded(v, place_decimals(v)) for v in (float(leverage[most]), float(leverage.mean())))
    return f"The highest leverage is {highest}, in {who} (the average is {average})."


def _normal(found: Checked) -> str:
    normal, n = found.normality, found.diagnosis.residual.size
    if not math.isfinite(normal.skewness):
        return "The residuals cannot be studentized: the fit is perfect, or every case has a leverage of 1."
    skewness, kurtosis = fixed(normal.skewness, 2), fixed(normal.kurtosis, 2)
    said = (
        f"The internally studentized residuals have a skewness of {skewness} and an excess kurtosis of {kurtosis}; "
        "both are 0 in a normal distribution."
    )
    if math.isfinite(normal.p):
        told = "depart" if normal.p < 1.0 - found.study.model.level else "do not depart"
        said += (
            f" They {told} significantly from normality (Shapiro-Wilk W = {bounded(normal.w)}, {p_equals(normal.p)})."
        )
    elif n > MOST_TESTED:
        said += f" With more than {MOST_TESTED:,} cases no test is made, for it would find any departure."
    return f"{said} With many cases, tests and intervals of b do not need normal residuals."


def as_spoken(found: Checked) -> Checked:
    """What is checked, for sentences: labels that would be read as part of them are quoted."""
    return replace(found, study=spoken(found.study))


def left_bounds_sentence(found: Checked) -> str:
    """Between which places the effect's boundaries lie without any one case; empty where there is nothing to tell."""
    straight = found.straight
    each = straight.without_each if straight is not None else None
    if straight is None or each is None or isinstance(each, Why) or not each.counts:
        return ""
    moderator = found.study.variable(straight.probe.moderator)
    sd = float(np.std(np.asarray(found.fit.values[straight.probe.moderator], dtype=np.float64)))
    spans = each.spans()
    if spans:
        parts = [f"between {place(low, sd)} and {place(high, sd)}" for low, high in spans]
        which = "the boundary" if len(spans) == 1 else "the boundaries"
        lie = "lies" if len(spans) == 1 else "lie"
        return f"Without any one case, {which} on {moderator.label} {lie} {listed(parts)}."
    if each.counts == (0,):
        return ""
    counts = listed([str(n) for n in each.counts], "or")
    return f"Without any one case, the effect has {counts} boundaries of significance along {moderator.label}."


def _straight(found: Checked) -> str:
    reset, straight = found.reset, found.straight
    said = ""
    if straight is None:
        said = f"No thirds are drawn: {found.not_straight}."
    elif not straight.thirds:
        said = "The moderator has too few values to be divided into thirds."
    else:
        along = scale_name(found.study, found.fit.design.number(straight.probe.moderator))
        told = [t for t in straight.thirds if math.isfinite(t.effect)]
        digits = max((estimate_decimals(t.se, t.effect) for t in told), default=2)
        sd = float(np.std(np.asarray(found.fit.values[straight.probe.moderator], dtype=np.float64)))
        parts = [
            f"{fixed(t.effect, digits)} at {place(t.at, sd)} ({_third_cases(found, t)}; the model "
            f"predicts {fixed(line_at(straight.focus.curve.effect, t.at), digits)})"
            for t in told
            if straight.focus.curve is not None
        ]
        which = _effect_name(found)
        said = f"Within thirds of {along}, {which} is {listed(parts)}." if parts else ""
    if math.isfinite(reset.p):
        verb = "improves" if reset.p < 1.0 - found.study.model.level else "does not improve"
        said += (
            f" Adding squares and cubes of the predicted values {verb} the fit significantly "
            f"(RESET F({reset.df1}, {reset.df2}) = {fixed(reset.f, 2)}, {p_equals(reset.p)})."
        )
    return said.strip()


def _effect_name(found: Checked) -> str:
    """The effect whose change is asked: the slope of a number, or one comparison."""
    straight = found.straight
    assert straight is not None
    focal = found.study.variable(straight.probe.focal)
    if straight.focus.comparison is None:
        number = found.fit.design.number(straight.probe.focal)
        return f"the slope of {transformed_name(focal, number.treatment)}"
    basis = found.fit.design.bases[straight.probe.focal]
    assert isinstance(basis, GroupBasis)
    return f"the difference {comparison_name(found.study, basis, straight.comparison)}"


def _third_cases(found: Checked, third: Third) -> str:
    """How many cases a third has; of groups how many of those that are compared."""
    straight = found.straight
    assert straight is not None
    basis = found.fit.design.bases[straight.probe.focal]
    if not isinstance(basis, GroupBasis) or straight.focus.comparison is None:
        return counted(third.n, "case")
    variable = found.study.variable(straight.probe.focal)
    parts = [
        f"{n:,} {plain_level(variable, code)}"
        for code, n, weight in zip(basis.levels, third.counts, straight.focus.comparison.weights)
        if weight
    ]
    return f"cases: {', '.join(parts)}"


def line_at(effect: Callable[[FloatArray], FloatArray], at: float) -> float:
    """The effect of the model at a place."""
    return float(effect(np.array([at]))[0])


def _beyond(found: Checked, by: FarBy) -> str:
    far = found.far[by]
    n, cases = found.fit.cases.n, far.cases
    name = far_name(far.by, far.cutoff, far.is_typed)
    if not np.isfinite(far.values).any():
        return f"Whether a case exceeds {name} cannot be determined."
    if not cases.size:
        return f"No case exceeds {name}."
    most = int(np.nanargmax(far.values))
    who = case_name(found.study, int(found.fit.cases.rows[most]))
    verb = "exceeds" if cases.size == 1 else "exceed"
    value = _small(float(far.values[most]))
    if cases.size == 1:
        return f"1 of {counted(n, 'case')} exceeds {name}: {who} ({value})."
    return f"{cases.size:,} of {counted(n, 'case')} {verb} {name}, most of all {who} ({value})."


def _far(found: Checked) -> str:
    away, cut = found.away, found.study.checks.cutoffs
    if not away.columns:
        return "There is no number among the predictors, so there is no D²."
    said = _beyond(found, FarBy.DISTANCE)
    kind = "the exact form" if cut.exact else f"chi-square with {away.columns} df"
    if not found.far[FarBy.DISTANCE].is_typed:
        said += f" The cut-off is the .999 quantile of {kind}."
    if found.far[FarBy.DISTANCE].cutoff >= away.largest:
        n = counted(found.fit.cases.n, "case")
        said += f" With {n}, D² cannot exceed {fixed(away.largest, 1)}, so no case can be beyond it."
    if not any(isinstance(basis, GroupBasis) for basis in found.fit.design.bases.values()):
        return said
    if cut.groups:
        return f"{said} D² treats groups as indicators, so members of a small group lie further out."
    return f"{said} D² is computed from numbers only, not from groups."


def _moves(found: Checked) -> str:
    if found.moves is None or not np.isfinite(found.moves).any():
        return "There is no product in this step whose coefficient could change."
    most = int(np.nanargmax(np.abs(found.moves)))
    who = case_name(found.study, int(found.fit.cases.rows[most]))
    change = fixed(abs(float(found.moves[most])), 2)
    bound = 2.0 / math.sqrt(found.fit.cases.n)
    beyond = int(np.sum(np.abs(found.moves) > bound))
    limit = f"2/√n = {bounded(bound, 2)} SE"
    said = f"{capital(asked_label(found))} changes most without {who}: by {change} SE."
    if not beyond:
        return f"{said} No case changes it by more than {limit}."
    each = "" if beyond == 1 else ", each alone,"
    return f"{said} Without {counted(beyond, 'case')}{each} it changes by more than {limit}."


def _order(found: Checked) -> str:
    if not math.isfinite(found.order.d):
        return "There are no residuals to look at in their order."
    usual = 1.5 <= found.order.d <= 2.5
    where = "within the range of 1.5 to 2.5 that is usually considered unproblematic" if usual else "outside 1.5 to 2.5"
    return (
        f"In the order of the rows, the Durbin-Watson statistic is {fixed(found.order.d, 2)}, {where}; the lag-1 "
        f"autocorrelation is {bounded(found.order.r, 2)}. Both matter only if the order of the rows has a meaning."
    )


def _overlap(found: Checked) -> str:
    overlap = found.overlap
    told = [t for t in overlap.terms if math.isfinite(t.now)]
    if not told:
        return "No term is estimated."
    most = max(told, key=lambda t: t.now)
    beside = ""
    if math.isfinite(most.centered) and abs(most.centered - most.now) > 0.05:
        beside = f"; {fixed(most.centered, 1)} with every number centered"
    elif math.isfinite(most.raw) and abs(most.raw - most.now) > 0.05:
        beside = f"; {fixed(most.raw, 1)} with no number centered"
    said = f"{capital(label(found.study, most.term))} has the largest VIF ({fixed(most.now, 1)}{beside})."
    said += f" The largest condition index is {fixed(overlap.index, 1)}"
    if math.isfinite(overlap.raw_index) and math.isfinite(overlap.centered_index):
        said += f" ({fixed(overlap.raw_index, 1)} raw, {fixed(overlap.centered_index, 1)} centered)"
    shared = _shared(found)
    if shared:
        said += f"; it accounts for more than half of the variance of {listed_some(shared, 3)}"
    products = any(t.term.is_product for t in told)
    return f"{said}." + (" Centering does not change the test of the highest product." if products else "")


def _shared(found: Checked) -> list[str]:
    """The columns of more than half of whose variance the largest condition index tells; none of one alone."""
    split = conditions(found.fit, found.step)
    shares = split.shares[-1]
    names = [column_name(found.study, found.fit, -1)] if found.fit.factored.constant else []
    names += [column_name(found.study, found.fit, int(j)) for j in split.kept]
    much = [f"{name} ({bounded(float(share), 2)})" for name, share in zip(names, shares) if share > 0.5]
    return much if len(much) > 1 else []


def _own(found: Checked) -> str:
    if found.own is None or found.column is None:
        return "There is no single column to look at."
    result = found.fit.steps[found.step].coefficient(found.column)
    digits = estimate_decimals(result.se, result.b, result.low, result.high)
    level = level_text(found.study.model.level)
    ends = f" ({level} CI {interval(result.low, result.high, digits)})" if math.isfinite(result.low) else ""
    r = f", partial r = {bounded(own_r(found), 2)}" if math.isfinite(own_r(found)) else ""
    return f"Adjusted for all other predictors, {asked_label(found)} has b = {fixed(result.b, digits)}{ends}{r}."


def spread_choices(study: Study, fit: Fit, step: int) -> list[tuple[str | None, str]]:
    """What residuals can be drawn along: what is predicted, and each predictor of the step."""
    names: dict[str, None] = {}
    for column in fit.design.columns[: fit.steps[step].n_columns]:
        for name in column.term.variables:
            names[name] = None
    made: list[tuple[str | None, str]] = [(None, "along: predicted values")]
    for name in names:
        by = "by" if isinstance(fit.design.bases[name], GroupBasis) else "along"
        made.append((name, f"{by}: {study.variable(name).label}"))
    return made
