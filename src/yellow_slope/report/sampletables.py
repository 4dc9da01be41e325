"""Printed tables of cases and variables: who is left out, what codes mean, descriptives with correlations."""

from __future__ import annotations

import math
from typing import assert_never

import numpy as np

from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.fit.asked.describe import Described, correlation_interval, described
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.tails import t_quantile
from yellow_slope.core.study.report import BesideCorrelation
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.core.words.names.groups import comparison_name
from yellow_slope.core.words.names.numbers import treatment_name
from yellow_slope.core.words.names.study import zero_point
from yellow_slope.core.words.sentences.samples import rule_text
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    counted,
    fixed,
    level_text,
    listed_some,
    p_relation,
    place_decimals,
)
from yellow_slope.core.words.spelling.reasons import DASH
from yellow_slope.report.cells import BLANK, Cell, Role, Table, bounded_cell, count, estimate
from yellow_slope.report.origins import AtSample, AtVariable, Origin

MOST_NAMED = 12
MOST_LEVELS = 60
"""Levels of one group that are listed."""
MOST_ACROSS = 10
"""Correlations beside each other; with p or intervals half as many."""


# ---- cases


def exclusions_table(evaluation: Evaluation) -> Table | None:
    """Why cases do not take part, how many, and which where somebody set them aside; None where all do."""
    cases, study = evaluation.cases, evaluation.study
    sample = study.sample_of(study.model)
    rows: list[tuple[Cell, ...]] = []
    origins: list[Origin | None] = []
    if cases.n_outside and sample is not None and sample.rule is not None:
        rows.append((Cell(f"Outside the sample: {rule_text(study, sample.rule)}"), Cell(""), count(cases.n_outside)))
        origins.append(AtSample())
    for part in sample.aside if sample is not None else ():
        here = [row for row in part.rows if row < study.table.n_rows]
        names = listed_some([case_name(study, row) for row in here], MOST_NAMED)
        rows.append((Cell(f"Set aside: {part.reason}"), Cell(capital(names)), count(len(here))))
        origins.append(AtSample())
    for lost in cases.lost:
        name = study.variable(lost.variable).label
        only = "" if lost.only == lost.any else f"{lost.only:,} lack nothing else"
        undefined = f"{lost.undefined:,} undefined after transforming" if lost.undefined else ""
        said = "; ".join(text for text in (only, undefined) if text)
        rows.append((Cell(f"No value of {name}"), Cell(capital(said)), count(lost.any)))
        origins.append(AtVariable(lost.variable))
    if not rows:
        return None
    note = f"{counted(cases.n, 'case')} of {cases.n_table:,} are used."
    if len(cases.lost) > 1:
        note += f" {counted(cases.n_lost, 'case')} lack one value or several; a case counts at each that it lacks."
    head = ("Reason", "Which", "Cases")
    return Table("Cases that do not take part", head, tuple(rows), note, texts=2, origins=tuple(origins))


# ---- variables and codes


def variables_table(study: Study, fit: Fit) -> Table:
    """What each variable of the model is, and how it enters."""
    rows: list[tuple[Cell, ...]] = []
    names = [study.model.outcome or "", *fit.design.bases]
    for name in names:
        variable = study.variable(name)
        basis = fit.design.bases.get(name)
        rows.append((Cell(variable.label), Cell(_what(study, variable, name)), Cell(_enters(study, basis))))
    return Table(
        "The variables of the model",
        ("Variable", "What it is", "How it enters"),
        tuple(rows),
        texts=3,
        origins=tuple(AtVariable(name) for name in names),
    )


def _what(study: Study, variable: Variable, name: str) -> str:
    role = "outcome; " if name == study.model.outcome else ""
    if variable.kind is Kind.GROUP and name != study.model.outcome:
        return f"{role}{counted(len(variable.levels), 'group')}"
    unit = f" in {variable.many}" if variable.unit else ""
    computed = "; computed" if any(d.name == name for d in study.derived) else ""
    return f"{role}number{unit}{computed}"


def _enters(study: Study, basis: GroupBasis | NumberBasis | None) -> str:
    if basis is None:
        return "as it is"
    zero = f"0 {zero_point(study, basis)}"
    return zero if isinstance(basis, GroupBasis) else f"{treatment_name(study, basis.treatment)}; {zero}"


def codes_tables(study: Study, fit: Fit) -> list[Table]:
    """Of each group its levels with their cases, and the codes of its columns; the reference is named."""
    return [_codes_table(study, basis) for basis in fit.design.bases.values() if isinstance(basis, GroupBasis)]


def _codes_table(study: Study, basis: GroupBasis) -> Table:
    variable = study.variable(basis.variable)
    columns = basis.codes.shape[1]
    shown = list(range(min(columns, MOST_ACROSS)))
    names = [comparison_name(study, basis, j) for j in shown]
    rows: list[tuple[Cell, ...]] = []
    for i, code in enumerate(basis.levels[:MOST_LEVELS]):
        level = variable.level(code)
        named = f" ({code})" if level.label != code else ""
        reference = ", reference" if basis.reference == i else ""
        figures = [estimate(float(basis.codes[i, j]), _code_decimals(basis)) for j in shown]
        rows.append((Cell(f"{level.label}{named}{reference}"), count(int(basis.counts[i])), *figures))
    notes = []
    if len(basis.levels) > MOST_LEVELS:
        notes.append(f"{counted(len(basis.levels) - MOST_LEVELS, 'further level')} not listed.")
    if columns > len(shown):
        notes.append(f"{counted(columns - len(shown), 'further column')} not listed.")
    absent = [x.label for x in variable.levels if not any(c in basis.levels for c in x.codes)]
    if absent:
        notes.append(f"No case of the model has {listed_some([f'“{label}”' for label in absent], MOST_NAMED)}.")
    return Table(
        f"The codes of {variable.label}",
        ("Level (code)", "n", *names),
        tuple(rows),
        " ".join(notes),
        origins=tuple(AtVariable(basis.variable) for _ in rows),
    )


def _code_decimals(basis: GroupBasis) -> int:
    return 0 if np.all(basis.codes == np.round(basis.codes)) else 3


# ---- descriptives


def descriptives_tables(evaluation: Evaluation) -> list[Table]:
    """Means, SDs and correlations of the model's variables, of many in several tables; none where there are too many
    to read."""
    study, fit = evaluation.study, evaluation.fit
    found = described(fit, study.model) if fit is not None else None
    if found is None:
        return []
    names = [
        study.variable(name).label + (f": {study.variable(name).level(code).label}" if code is not None else "")
        for name, code in found.columns
    ]
    beside = study.report.correlations
    most = MOST_ACROSS if beside is BesideCorrelation.NOTHING else MOST_ACROSS // 2
    figures = _figures(study, found)
    origins = tuple(AtVariable(name) for name, _ in found.columns)
    across = len(names) - 1
    made = []
    for first in range(0, max(across, 1), most):
        here = range(first, min(first + most, across))
        head = ["Variable", *(("M", "SD") if first == 0 else ()), *(str(j + 1) for j in here)]
        rows, at = [], []
        for i, name in enumerate(names):
            if first and i <= first:
                continue
            cells = [Cell(f"{i + 1}. {name}"), *(_moments(study, found, i) if first == 0 else ())]
            cells += [figures[i][j] if j < i else Cell(DASH) if j == i else BLANK for j in here]
            rows.append(tuple(cells))
            at.append(origins[i])
        title = "Means, standard deviations and correlations" if across else "Mean and standard deviation"
        if first:
            last = here[-1] + 1
            several = f"variables {here[0] + 1} {'and' if len(here) == 2 else 'to'} {last}"
            title = f"Correlations with {f'variable {last}' if len(here) == 1 else several}"
        note = _descriptives_note(study, found) if first == 0 else ""
        made.append(Table(title, tuple(head), tuple(rows), note, origins=tuple(at)).with_key())
    return made


def _moments(study: Study, found: Described, i: int) -> tuple[Cell, Cell]:
    """Mean and SD; of an indicator, a share, without the zero that it always has."""
    mean, sd = float(found.mean[i]), float(found.sd[i])
    if found.columns[i][1] is not None:
        decimals = max(study.report.decimals, 3 if min(mean, 1.0 - mean) < 0.005 else 2)
        return bounded_cell(mean, decimals), bounded_cell(sd, decimals)
    decimals = max(study.report.decimals, place_decimals(sd))
    return estimate(mean, decimals), estimate(sd, decimals)


def _figures(study: Study, found: Described) -> list[list[Cell]]:
    """The correlations, each with what stands beside it."""
    beside, choice = study.report.correlations, study.report
    low, high = correlation_interval(found.r, found.n, study.model.level)
    made = []
    for i in range(len(found.columns)):
        row = []
        for j in range(i):
            r, p = float(found.r[i, j]), float(found.p[i, j])
            text = estimate(r, 2, p, choice).text.removeprefix(fixed(r, 2))
            text = bounded(r, 2) + text
            numbers: tuple[float, ...] = (r,)
            match beside:
                case BesideCorrelation.P:
                    if not math.isnan(p):
                        text, numbers = f"{text}, p {p_relation(p)}", (r, p)
                case BesideCorrelation.INTERVAL:
                    ends = float(low[i, j]), float(high[i, j])
                    if not math.isnan(ends[0]):
                        text, numbers = f"{text} ({bounded(ends[0], 2)} to {bounded(ends[1], 2)})", (r, *ends)
                case BesideCorrelation.NOTHING:
                    pass
                case _:
                    assert_never(beside)
            row.append(Cell(text, numbers=numbers, role=Role.BOUNDED))
        made.append(row)
    return made


def _descriptives_note(study: Study, found: Described) -> str:
    said = [f"n = {found.n:,}."]
    if any(code is not None for _, code in found.columns):
        said.append("Groups are indicators (1 = the group named); their mean is the group's share.")
    beside = study.report.correlations
    if len(found.columns) > 1 and beside is BesideCorrelation.INTERVAL and found.n > 3:
        said.append(f"In parentheses {level_text(study.model.level)} intervals by Fisher's z.")
    if len(found.columns) > 1 and beside is BesideCorrelation.NOTHING and found.n > 3:
        said.append(
            f"Correlations of {_least_r(found.n, 0.95)} or more in size have p < .05, those of "
            f"{_least_r(found.n, 0.99)} or more p < .01 (two-tailed)."
        )
    return " ".join(said)


def _least_r(n: int, level: float) -> str:
    """The size from which a correlation of n cases is significant at that level, rounded up: so large every one is."""
    t = t_quantile(level, n - 2)
    return bounded(math.ceil(100 * t / (t * t + n - 2) ** 0.5) / 100, 2)
