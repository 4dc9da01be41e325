"""In words: what setting cases aside changed, in one sentence of the findings."""

from __future__ import annotations

import math

from yellow_slope.core.fit.fitted.evaluate import evaluate_model
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.stand.rivals import PutBack
from yellow_slope.core.stand.standing import Row, Stand, Standing
from yellow_slope.core.study.edits.samples import take_back
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.rivals import stand_decimals, why_text
from yellow_slope.core.words.spelling.numerals import bracketed, counted, fixed, level_text, p_equals, percent
from yellow_slope.core.words.spelling.testtexts import written_test


def put_back_sentence(study: Study, fit: Fit, stand: Stand | None, subject: str) -> str:
    """What the product is with the cases that were set aside, or without a product what the model explains; empty where
    no case was. subject: the product in the middle of a sentence."""
    sample = study.sample_of(study.model)
    rows = sorted({row for part in sample.aside for row in part.rows}) if sample is not None else []
    if not rows:
        return ""
    which = "case" if len(rows) == 1 else f"{len(rows):,} cases"
    begun = f"With the {which} excluded by hand included"
    if stand is None:
        return _without_product(study, fit, begun, rows)
    row = next((row for row in stand.rows if isinstance(row.rival, PutBack)), None)
    return _with_product(stand, row, begun, subject) if row is not None else ""


def _with_product(stand: Stand, row: Row, begun: str, subject: str) -> str:
    if row.standing.is_waiting:
        return ""
    if row.standing.why or math.isnan(row.standing.p):
        why = why_text(row.standing) or "there is no test"
        return f"{begun}, {subject} cannot be tested: {why}."
    same = stand.same_conclusion(row)
    now = row.standing.p < 1.0 - stand.level
    if same is None:  # the model itself has no test to be held against
        said = "was" if now else "was not"
    else:
        said = ("was still" if now else "was still not") if same else ("was" if now else "was no longer")
    how = " with standard errors by formula" if row.by_formula else ""
    return f"{begun}, {subject} {said} significant, {_figures(row.standing, stand)}{how} (n = {row.standing.n:,})."


def _figures(standing: Standing, stand: Stand) -> str:
    if standing.test is not None:
        return written_test(standing.test)
    one = standing.one
    assert one is not None
    digits = stand_decimals(stand)
    ends = "" if math.isnan(one.low) else f"{level_text(stand.level)} CI {bracketed(one.low, one.high, digits)}, "
    return f"b = {fixed(one.b, digits)}, {ends}{p_equals(one.p)}"


def _without_product(study: Study, fit: Fit, begun: str, rows: list[int]) -> str:
    whole = take_back(study, rows)
    other = evaluate_model(whole, whole.model)
    step = study.model.reported_step
    if not isinstance(other, Fit):
        return f"{begun}, there is no model: {other.said}"
    shares = (percent(other.steps[step].r2), percent(fit.steps[step].r2))
    same = "explained the same share of the variance" if shares[0] == shares[1] else "explained"
    share = f"({shares[0]})" if shares[0] == shares[1] else f"{shares[0]} of the variance instead of {shares[1]}"
    return f"{begun}, the model {same} {share}, from {counted(other.cases.n, 'case')}."
