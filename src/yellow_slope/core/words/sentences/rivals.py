"""In words: does a product stand, what each of its rivals does otherwise, why one would, and what becomes of it."""

from __future__ import annotations

import math
from typing import assert_never

import numpy as np

from yellow_slope.core.fit.asked.matching import column_keys
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.stand.rivals import (
    AnyOneOut,
    CovariateProducts,
    Family,
    Form,
    OneLevel,
    OtherErrors,
    OutcomeAs,
    PutBack,
    Rival,
    Squares,
    WithoutFar,
)
from yellow_slope.core.stand.standing import ProductAsked, Row, Stand, Standing
from yellow_slope.core.study.checks import FarBy
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Base, OneSD
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.core.words.names.groups import level_name
from yellow_slope.core.words.names.terms import label, labels_of, short_column_name
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    counted,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    listed,
    listed_some,
    number_or_place,
    p_equals,
    p_value,
    percent,
)
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.testtexts import written_cells, written_test

MOST_NAMED = 3
"""Rivals that the leading sentence names."""
OTHER_UNITS = "other units"


def family_name(family: Family) -> str:
    """What stands over the rivals of a kind."""
    match family:
        case Family.ERRORS:
            return "other standard errors"
        case Family.CASES:
            return "other cases"
        case Family.MODELS:
            return "other models"
        case Family.OUTCOMES:
            return "other outcomes"
        case _:
            assert_never(family)


def asked_name(study: Study, fit: Fit, asked: ProductAsked) -> str:
    """What is looked at: a product, or one comparison of it."""
    name = label(study, asked.product)
    column = next((j for j, key in enumerate(column_keys(fit)) if key == asked.key), None)
    return name if column is None else f"{name}: {short_column_name(study, fit, column)}"


def far_name(by: FarBy, cutoff: float, is_typed: bool) -> str:
    """A cut-off, as in “±3 studentized”, “Cook's 4/n”."""
    match by:
        case FarBy.STUDENTIZED:
            return f"±{number_or_place(cutoff)} studentized"
        case FarBy.COOK:
            return f"Cook's {cook_text(cutoff, is_typed)}"
        case FarBy.DISTANCE:
            return f"D² {fixed(cutoff, 1)}" if not is_typed else f"D² {number_or_place(cutoff)}"
        case _:
            assert_never(by)


def cook_text(cutoff: float, is_typed: bool) -> str:
    """A cut-off of Cook's distance; the usual one by its rule."""
    return number_or_place(cutoff) if is_typed else "4/n"


def rival_name(study: Study, rival: Rival) -> str:
    """A rival, as its row is headed."""
    match rival:
        case OtherErrors(errors):
            return _errors_name(study, errors)
        case AnyOneOut():
            return "without any one case"
        case WithoutFar(by, cutoff, is_typed, rows):
            return f"without {len(rows) if rows else 'cases'} beyond {far_name(by, cutoff, is_typed)}"
        case PutBack(rows):
            return f"with the {len(rows):,} cases set aside" if len(rows) > 1 else "with the case set aside"
        case Squares(terms):
            if len(terms) == 2:
                return "with squares of both predictors"
            return f"with {labels_of(study, terms)}"
        case CovariateProducts(_, terms, tried):
            which = f" (least favorable of {tried})" if tried > 1 else ""
            return f"with {labels_of(study, terms)}{which}"
        case OutcomeAs(form):
            return f"{form_name(form)} of {_outcome(study)}"
        case OneLevel(variable, code):
            return f"{level_name(study.variable(variable), code)} alone"
        case _:
            assert_never(rival)


def _errors_name(study: Study, errors: Errors) -> str:
    match errors:
        case Classical():
            return "classical errors"
        case HC(kind):
            return f"robust errors, HC{kind}"
        case Cluster(name):
            return f"errors clustered by {_label(study, name)}"
        case Bootstrap(draws=draws):
            return f"bootstrap, {draws:,} samples"
        case _:
            assert_never(errors)


def form_name(form: Form) -> str:
    """A form of the outcome."""
    match form:
        case Form.LOG:
            return "log"
        case Form.ROOT:
            return "root"
        case Form.RANKS:
            return "ranks"
        case _:
            assert_never(form)


def stand_sentence(study: Study, fit: Fit, stand: Stand, subject: str = "") -> str:
    """In how many checks the product keeps its sign and its conclusion, and in which it does not. subject: what it is
    called where that is not said beside it."""
    who = subject or ("The interaction" if len(set(stand.asked.product.variables)) > 1 else "The product")
    if np.isnan(stand.base.p):
        return f"{who} has no test: {why_text(stand.base)}." if stand.base.why else ""
    signs = [sign for row in stand.rows if (sign := stand.keeps_sign(row)) is not None]
    told = [(row, same) for row in stand.rows if (same := stand.same_conclusion(row)) is not None]
    if not told:
        return "No robustness check can be computed."
    other = [row for row, same in told if not same]
    n, kept = len(told), len(told) - len(other)
    sign_kept = f"kept its sign in {_of_all(sum(signs), len(signs))} robustness checks" if signs else ""
    if not stand.holds:
        and_sign = f" and {sign_kept}" if sign_kept else ""
        within = f"any of the {n}" if kept == n else f"{kept} of {n}"
        said = f"{who} was not significant in the model ({p_equals(stand.base.p)}){and_sign}."
        said += f" It was not significant in {within} robustness checks."
    elif not sign_kept:
        said = f"{who} was significant in {_of_all(kept, n)} robustness checks."
    elif len(signs) == n:
        said = f"{who} {sign_kept} and was significant in {'all' if kept == n else kept} of them."
    else:
        said = f"{who} {sign_kept} and was significant in {_of_all(kept, n)}."
    if other:
        names = [f"{in_passing(study, fit, row)} ({_turned_p(row, stand)})" for row in other]
        one = len(other) == 1
        said += f" The exception{'' if one else 's'} {'was the analysis' if one else 'were the analyses'} "
        said += f"{listed_some(names, MOST_NAMED)}."
    waits = [row for row in stand.rows if row.standing.is_waiting]
    return f"{said}{' One check is still being resampled.' if waits else ''}"


def _of_all(kept: int, n: int) -> str:
    """“all 12”, “11 of 12”, “none of the 12”."""
    return f"all {n}" if kept == n else f"{kept} of {n}" if kept else f"none of the {n}"


def _turned_p(row: Row, stand: Stand) -> str:
    """The p of a row whose conclusion is another."""
    if row.range is None:
        return p_equals(row.standing.p)
    return p_equals(row.range.p_turned)


def in_passing(study: Study, fit: Fit, row: Row) -> str:
    """A rival in the middle of a sentence."""
    name = rival_name(study, row.rival)
    match row.rival:
        case OtherErrors(errors):
            return "with a bootstrap" if isinstance(errors, Bootstrap) else f"with {name}"
        case AnyOneOut():
            return f"without {_rows(fit, row)}"
        case OneLevel():
            return f"in {name}"
        case OutcomeAs():
            return f"of the {name}"
        case WithoutFar() | PutBack() | Squares() | CovariateProducts():
            return name
        case _:
            assert_never(row.rival)


def _rows(fit: Fit, row: Row) -> str:
    """The row without which the conclusion is another, and how many more there are."""
    turns = row.range.turns if row.range is not None else ()
    more = f" or one of {len(turns) - 1} more" if len(turns) > 1 else ""
    return f"row {int(fit.cases.rows[turns[0]]) + 1}{more}" if turns else "a case"


def stand_decimals(stand: Stand) -> int:
    """Decimals of all b and bounds in its unit, enough for each."""
    found = [c for row in (stand.base, *(r.standing for r in stand.rows if r.has_units)) for c in row.columns]
    return max((estimate_decimals(c.se, c.b, c.low, c.high) for c in found if not math.isnan(c.b)), default=2)


def b_text(standing: Standing, decimals: int) -> str:
    """b of one column, F of a set."""
    if standing.test is not None:
        return written_cells(standing.test)[0]
    return fixed(standing.one.b, decimals) if standing.one is not None else fixed(math.nan)


def interval_text(standing: Standing, decimals: int) -> str:
    """The interval of one column, the degrees of freedom of a set's test."""
    if standing.test is not None:
        return written_cells(standing.test)[1]
    one = standing.one
    return fixed(math.nan) if one is None or math.isnan(one.low) else interval(one.low, one.high, decimals)


def row_cells(stand: Stand, row: Row, decimals: int) -> tuple[str, str, str, str]:
    """b or F, its interval or df, p and n of a row; of a range its two ends."""
    if row.range is not None:
        found, width = row.range, decimals
        ends = ("", "") if math.isnan(found.low) else (fixed(found.low, width), fixed(found.high, width))
        b = f"{ends[0]} to {ends[1]}" if ends[0] else fixed(math.nan)
        first, last = p_value(found.p_low), p_value(found.p_high)
        return "", b, first if first == last else f"{first} to {last}", f"{row.standing.n:,}"
    if not row.has_units and row.standing.one is not None:
        return fixed(math.nan), "", p_value(row.standing.p), f"{row.standing.n:,}"
    b, ends_text = b_text(row.standing, decimals), interval_text(row.standing, decimals)
    return b, ends_text, p_value(row.standing.p), f"{row.standing.n:,}"


def base_cells(stand: Stand, decimals: int) -> tuple[str, str, str, str]:
    """The same of the product as it stands."""
    base = stand.base
    return b_text(base, decimals), interval_text(base, decimals), p_value(base.p), f"{base.n:,}"


def why_text(standing: Standing) -> str:
    """Why nothing can be told."""
    return standing.why and (reason(standing.cause) or standing.why)


def t_text(standing: Standing) -> str:
    """t of one column in other units, as in “t −5.02”."""
    return "" if standing.one is None or math.isnan(standing.one.t) else f"t {fixed(standing.one.t, 2)}"


def figures_of(stand: Stand, standing: Standing) -> str:
    """The figures of the foot: “b = −1.12  SE = 0.31  t(206) = −3.61, p < .001”."""
    if standing.test is not None:
        return written_test(standing.test)
    one = standing.one
    if one is None or math.isnan(one.b):
        return ""
    digits = estimate_decimals(one.se, one.b, one.low, one.high)
    if math.isnan(one.se):
        return f"b = {fixed(one.b, digits)}"
    df = _df(one.t, one.p)
    return f"b = {fixed(one.b, digits)}  SE = {fixed(one.se, digits)}  {df}"


def _df(t: float, p: float) -> str:
    return p_equals(p) if math.isnan(t) else f"t = {fixed(t, 2)}, {p_equals(p)}"


def rival_story(study: Study, fit: Fit, stand: Stand, row: Row) -> str:
    """What was done, why one would, and what becomes of the product."""
    said = f"{capital(_why_one_would(study, row.rival))}"
    if isinstance(row.rival, WithoutFar) and not row.rival.rows:
        return said
    if row.why:
        return f"{said} It cannot be computed: {why_text(row.standing)}."
    if row.standing.is_waiting:
        return f"{said} It is being resampled."
    if row.by_formula:
        base = f" (in the model {p_equals(stand.formula.p)})" if stand.formula is not None else ""
        said = f"{said} It was not resampled but computed with standard errors by formula{base}."
    return f"{said} {_becomes(study, fit, stand, row)}".strip()


def base_story(study: Study, stand: Stand) -> str:
    """The product as it stands."""
    base = stand.base
    if base.why:
        return f"In the model: {why_text(base)}."
    if base.test is not None:
        return (
            f"In the model, the joint test of all {base.test.df1} comparisons gives {figures_of(stand, base)} "
            f"({counted(base.n, 'case')})."
        )
    one = base.one
    assert one is not None
    digits = stand_decimals(stand)
    ends = "" if math.isnan(one.low) else f" ({level_text(stand.level)} CI {interval(one.low, one.high, digits)})"
    return f"In the model, b = {fixed(one.b, digits)}{ends}, from {counted(base.n, 'case')}."


def _becomes(study: Study, fit: Fit, stand: Stand, row: Row) -> str:
    if row.range is not None:
        return range_story(study, fit, stand, row)
    standing, base = row.standing, stand.base
    digits = stand_decimals(stand)
    turns = ""
    if stand.same_conclusion(row) is False:
        turns = ", which is no longer significant" if stand.holds else ", which is significant"
    if standing.test is not None:
        return f"The joint test gives {figures_of(stand, standing)}{turns}."
    one = standing.one
    if one is None or math.isnan(one.b):
        return ""
    if not row.has_units:
        return f"b has other units and cannot be compared: {_df(one.t, one.p)}{turns}."
    ends = "" if math.isnan(one.low) else f" ({level_text(stand.level)} CI {interval(one.low, one.high, digits)})"
    share = ""
    if base.one is not None and base.one.b and not isinstance(row.rival, OtherErrors):
        ratio = one.b / base.one.b
        share = f", {percent(ratio)} of its size in the model" if ratio > 0 else ", with the opposite sign"
    return f"b = {fixed(one.b, digits)}{ends}{share}{turns}.{_units_note(study, fit, stand, row)}"


def _units_note(study: Study, fit: Fit, stand: Stand, row: Row) -> str:
    """That an SD is another where the cases are others."""
    if not isinstance(row.rival, WithoutFar | PutBack | OneLevel):
        return ""
    names = [
        study.variable(name).label
        for name in dict.fromkeys(stand.asked.product.variables)
        if isinstance(study.model.treatment(name).scale, OneSD) and study.model.treatment(name).base is Base.MODEL
    ]
    return f" The SD of {listed(names)} is that of the cases used here." if names else ""


def range_story(study: Study, fit: Fit, stand: Stand, row: Row) -> str:
    """The product over all fits without one case."""
    found, digits = row.range, stand_decimals(stand)
    assert found is not None
    said = ""
    if not math.isnan(found.low):
        said = f"Without any one case, b lies between {fixed(found.low, digits)} and {fixed(found.high, digits)}, "
    first, last = p_value(found.p_low), p_value(found.p_high)
    between = f"p is at most {last}" if first.startswith("<") else f"p lies between {first} and {last}"
    if found.why is not None:
        why = reason(found.why)
        said = f"{said.rstrip(', ')}, without a p ({why})" if said else f"Without any one case, there is no p ({why})"
    else:
        each = f"{p_equals(found.p_high)} each time"
        told = between if first != last else each
        said = f"{said.rstrip(', ')}, and {told}" if said else f"Without any one case, {told}"
    said = f"{said}; it changes most without {case_name(study, int(fit.cases.rows[found.case]))}."
    if found.turns:
        rows = listed_some([str(int(fit.cases.rows[i]) + 1) for i in sorted(found.turns)], 4)
        end = "is no longer significant" if stand.holds else "is significant"
        said += (
            f" It {end} without row {rows}." if len(found.turns) == 1 else f" It {end} without rows {rows}, each alone."
        )
    if found.alone:
        said += f" Without {counted(found.alone, 'case')}, it cannot be estimated."
    return said


def _why_one_would(study: Study, rival: Rival) -> str:
    """Why somebody does it otherwise."""
    match rival:
        case OtherErrors(errors):
            return _why_errors(errors)
        case AnyOneOut():
            return "a conclusion should not depend on a single case."
        case WithoutFar(by, cutoff, is_typed, rows):
            lie = "exceeds" if len(rows) < 2 else "exceed"
            n = counted(len(rows), "case") if rows else "no case"
            return f"{_far_why(by)} {capital(n)} {lie} {far_name(by, cutoff, is_typed)}."
        case PutBack(rows):
            return f"the result should not depend on having set {counted(len(rows), 'case')} aside."
        case Squares(terms):
            names = listed([_label(study, term.variables[0]) for term in terms])
            return f"if the effect of {names} is curved, a product can reflect that curvature."
        case CovariateProducts(covariate, _, tried, left):
            more = f" ({left:,} more were not tried)" if left else ""
            if tried > 1:
                return (
                    f"each of {tried} covariates was added with its products{more}; {_label(study, covariate)} weakens "
                    "the interaction most."
                )
            return f"{_label(study, covariate)} may moderate the same effects and account for the interaction."
        case OutcomeAs(form):
            return _why_form(form)
        case OneLevel(variable, code):
            name = level_name(study.variable(variable), code)
            return f"the same model for the cases in {name} ({_label(study, variable)}) alone, with less power."
        case _:
            assert_never(rival)


def _why_errors(errors: Errors) -> str:
    match errors:
        case Classical():
            return "classical standard errors assume equal residual variance and are then more precise."
        case HC():
            return "robust standard errors do not assume equal residual variance; b is the same."
        case Cluster():
            return "clustered standard errors allow cases of the same cluster to be alike."
        case Bootstrap(draws=draws, seed=seed):
            return (
                f"{draws:,} samples drawn from the cases (seed {seed}) give an interval that does not assume normal "
                "residuals."
            )
        case _:
            assert_never(errors)


def _why_form(form: Form) -> str:
    match form:
        case Form.LOG:
            return (
                "on a log scale effects are ratios; an interaction may reflect only effects that grow with the level."
            )
        case Form.ROOT:
            return "the square root shortens a long tail, less strongly than the log does."
        case Form.RANKS:
            return "ranks (among all cases of the table) keep only the order of the outcome."
        case _:
            assert_never(form)


def _far_why(by: FarBy) -> str:
    match by:
        case FarBy.STUDENTIZED:
            return "the model predicts these cases worst."
        case FarBy.COOK:
            return "these cases influence the coefficients most."
        case FarBy.DISTANCE:
            return "these cases have unusual combinations of predictors."
        case _:
            assert_never(by)


def adopted_reason(study: Study, rival: Rival) -> str:
    """What is written beside cases that are set aside with a rival."""
    if isinstance(rival, WithoutFar):
        return f"beyond {far_name(rival.by, rival.cutoff, rival.is_typed)}"
    return rival_name(study, rival)


def _label(study: Study, name: str) -> str:
    return study.variable(name).label


def _outcome(study: Study) -> str:
    return study.variable(study.model.outcome).label if study.model.outcome is not None else "outcome"
