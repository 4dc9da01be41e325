"""In words: which cases count, and one variable over all cases."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.conditions import Rule, variables_in
from yellow_slope.core.data.conditiontext import condition_text
from yellow_slope.core.data.derived import sources_of
from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.data.table import TextColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.quoted import quoted
from yellow_slope.core.words.spelling.numerals import counted, listed, number_or_place, percent, place


def rule_text(study: Study, rule: Rule) -> str:
    """A condition in words, which are also those it can be typed in: “practice at least 5 and coaching is “none””."""
    return condition_text(rule, {v.name: v for v in study.variables})


MOST_TOLD = 12
"""Columns of which it is told what was declared; of more their number."""
MOST_LOST, MOST_OF_MANY = 8, 3
"""Variables that are named with the cases they cost; of more so many of those that cost most. A table has all."""


def declared_sentences(study: Study) -> tuple[str, ...]:
    """What was declared missing, given a value or computed, of the variables that the model or its sample uses."""
    names = dict.fromkeys(study.model.variables)
    sample = next((s for s in study.samples if s.name == study.model.sample), None)
    if sample is not None and sample.rule is not None:
        names.update(dict.fromkeys(variables_in(sample.rule)))
    derived = {d.name: d.expression for d in study.derived}
    waiting = list(names)
    while waiting:
        name = waiting.pop()
        for source in sources_of(derived[name]) if name in derived else ():
            if source not in names:
                names[source] = None
                waiting.append(source)
    used = [study.variable(name) for name in names]
    said = []
    missing = [f"{listed(list(v.missing))} in {v.label}" for v in used if v.missing]
    if missing:
        said.append(f"Counted as missing: {_some(missing)}.")
    given = [f"“{text}” as {number_or_place(value)} in {v.label}" for v in used for text, value in v.given]
    if given:
        said.append(f"Cells that were given a value: {_some(given)}.")
    known = {v.name: v for v in study.variables}
    computed = [
        f"{v.label} = {expression_text(derived[v.name], known, stored=False)}" for v in used if v.name in derived
    ]
    if computed:
        said.append(f"Computed: {_some(computed, '; ')}.")
    merged = [
        f"{level.label} ({listed(list(level.codes))}) of {v.label}"
        for v in used
        if v.kind is Kind.GROUP
        for level in v.levels
        if len(level.codes) > 1
    ]
    if merged:
        said.append(f"Levels of several codes: {_some(merged)}.")
    return tuple(said)


def _some(texts: list[str], between: str = "") -> str:
    shown = texts[:MOST_TOLD]
    if len(texts) > MOST_TOLD:
        shown.append(f"{len(texts) - MOST_TOLD} more")
    return between.join(shown) if between else listed(shown)


def share_text(n: int, of: int) -> str:
    """So many cases of so many, with their share."""
    share = f" ({percent(n / of)})" if of else ""
    return f"all {counted(of, 'case')}" if n == of else f"{n:,} of {counted(of, 'case')}{share}"


def sample_sentence(evaluation: Evaluation, with_rule: bool = True, names_all: bool = False) -> str:
    """Of the cases of the table those that were excluded, each with its reason, and how many are left; of very many
    variables only those that cost most, unless all are wanted."""
    cases, study = evaluation.cases, evaluation.study
    model, whole = study.model, counted(cases.n_table, "case")
    if model.outcome is None and not model.blocks:
        return f"The table has {whole}; which of them are used depends on the model."
    sample = study.sample_of(model) if model.sample in {s.name for s in study.samples} else None
    reasons: list[str] = []
    if cases.n_outside and sample is not None and sample.rule is not None:
        rule = f" ({rule_text(study, sample.rule)})" if with_rule else ""
        reasons.append(f"{cases.n_outside:,} {_was(cases.n_outside)} outside the sample{rule}")
    if cases.n_aside and sample is not None:
        said = listed([f"“{aside.reason}”" for aside in sample.aside])
        reasons.append(f"{cases.n_aside:,} {_was(cases.n_aside)} excluded by hand ({said})")
    if cases.n_lost:
        reasons.append(f"{cases.n_lost:,} had missing values ({_missing(evaluation, names_all)})")
    if not reasons:
        return f"All {whole} of the table were used." if cases.n_table != 1 else "The one case of the table was used."
    if len(reasons) == 1:
        excluded = f" and {_was(cases.n_lost)} excluded" if cases.n_lost else ""
        return f"Of {whole}, {reasons[0]}{excluded}, leaving n = {cases.n:,}."
    return f"Of {whole}, {listed(reasons)}, leaving n = {cases.n:,}."


def _was(n: int) -> str:
    return "was" if n == 1 else "were"


def _missing(evaluation: Evaluation, names_all: bool) -> str:
    """“coaching 5, returner 4, worry 4; some on more than one variable”, the most first."""
    cases, study = evaluation.cases, evaluation.study
    most = sorted(cases.lost, key=lambda lost: -lost.any)
    shown = most if names_all or len(most) <= MOST_LOST else most[:MOST_OF_MANY]
    told = [f"{quoted(study.variable(x.variable).label)} {x.any:,}{_undefined(x.undefined)}" for x in shown]
    if len(shown) < len(most):
        told.append(f"and {len(most) - len(shown)} other variables")
    several = "; some on more than one variable" if sum(x.any for x in most) > cases.n_lost else ""
    return ", ".join(told) + several


def _undefined(n: int) -> str:
    return f", {n:,} of them undefined after transforming," if n else ""


def _in_use(evaluation: Evaluation, name: str, values: FloatArray, sd: float) -> str:
    """Mean and SD over the cases of the model, where these are fewer than those with a value; else empty."""
    fit = evaluation.fit
    if fit is None or name not in fit.values or fit.cases.n == values.size:
        return ""
    own = np.asarray(fit.values[name], dtype=np.float64)
    mean, spread = place(float(own.mean()), sd), place(float(own.std(ddof=1)) if own.size > 1 else 0.0, sd)
    return f" Over the {counted(own.size, 'case')} in use, its mean is {mean} and its SD {spread}."


def summary_sentence(study: Study, evaluation: Evaluation, name: str, says_use: bool = True) -> str:
    """One variable in words: kind, gaps, and where its values lie over all cases of the table; says_use: and where over
    those in use, where these are fewer and nothing else says it."""
    variable = study.variable(name)
    n = study.table.n_rows
    if variable.kind is Kind.GROUP:
        indices = study.columns.levels(name)
        gaps = int((indices < 0).sum())
        tally = np.bincount(indices[indices >= 0], minlength=len(variable.levels))
        counts = [f"{x.label} ({int(tally[i])})" for i, x in enumerate(variable.levels[:8])]
        more = [f"{len(variable.levels) - 8} more"] if len(variable.levels) > 8 else []
        text = f"{variable.label} has {counted(len(variable.levels), 'group')}: {listed([*counts, *more])}."
    elif variable.kind is Kind.NUMBER:
        values = study.columns.numbers(name)
        here = values[np.isfinite(values)]
        gaps = n - here.size
        if here.size < 2:
            return f"{variable.label} has {counted(int(here.size), 'value')}."
        sd = float(here.std(ddof=1))
        reach = f"{place(float(here.min()), sd)} to {place(float(here.max()), sd)}"
        text = f"{variable.label} runs from {reach} with mean {place(float(here.mean()), sd)} and SD {place(sd, sd)}."
        text += _in_use(evaluation, name, here, sd) if says_use else ""
    else:
        column, has = study.columns.column(name), study.columns.present(name)
        gaps = n - int(has.sum())
        kinds = len(column.texts) if isinstance(column, TextColumn) else len(np.unique(column.numbers[has]))
        text = f"{variable.label} contains {kinds} different values; it is in no model."
    missing = (
        f" {gaps:,} of {counted(n, 'case')} {'has' if gaps == 1 else 'have'} no value." if gaps else " None missing."
    )
    cost = next((x for x in evaluation.cases.lost if x.variable == name), None)
    lost = ""
    if cost is not None and cost.only:
        lost = f" {counted(cost.only, 'case')} {_was(cost.only)} excluded for missing only {variable.label}."
    return text[:1].upper() + text[1:] + missing + lost
