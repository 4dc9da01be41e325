"""Printed tables of cases and variables: who is left out, what codes mean, descriptives with correlations."""

from __future__ import annotations

import math

import numpy as np

from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.fit.asked.describe import Described, described
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.tails import t_quantile
from yellow_slope.core.study.report import BesideCorrelation
from yellow_slope.core.study.standarderrors import Cluster
from yellow_slope.core.study.study import Study
from yellow_slope.core.told.cells import BLANK, NOTHING, Cell, Row, count, estimate, row_at
from yellow_slope.core.told.descriptives import correlations, described_names, moment_cells
from yellow_slope.core.told.origins import AtSample, AtVariable
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.core.words.names.groups import comparison_name
from yellow_slope.core.words.names.numbers import treatment_name
from yellow_slope.core.words.names.study import zero_point
from yellow_slope.core.words.sentences.samples import rule_text
from yellow_slope.core.words.spelling.numerals import bounded, counted, level_text, listed_some

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
    rows: list[Row] = []
    if cases.n_outside and sample is not None and sample.rule is not None:
        rule = f"Outside the sample: {rule_text(study, sample.rule)}"
        rows.append(row_at(AtSample(), Cell(rule), count(cases.n_outside), BLANK))
    for part in sample.aside if sample is not None else ():
        here = [row for row in part.rows if row < study.table.n_rows]
        names = listed_some([case_name(study, row) for row in here], MOST_NAMED)
        rows.append(row_at(AtSample(), Cell(f"Set aside: {part.reason} ({names})"), count(len(here)), BLANK))
    for lost in sorted(cases.lost, key=lambda lost: -lost.any):
        undefined = f" ({lost.undefined:,} undefined after transforming)" if lost.undefined else ""
        what = Cell(f"Missing: {study.variable(lost.variable).label}{undefined}")
        rows.append(row_at(AtVariable(lost.variable), what, count(lost.any), count(lost.only)))
    if not rows:
        return None
    note = ""
    if len(cases.lost) > 1:
        note = f"{counted(cases.n_lost, 'case')} had missing values; a case with several is counted in each row."
    return Table("Excluded cases", ("Reason", "Cases", "Missing only this"), tuple(rows), note)


# ---- variables and codes


def variables_table(study: Study, fit: Fit) -> Table:
    """What each variable of the model is, and how it enters."""
    rows: list[Row] = []
    for name in (study.model.outcome or "", *fit.design.bases):
        variable = study.variable(name)
        texts = variable.label, _what(study, variable, name), _enters(study, fit.design.bases.get(name))
        rows.append(row_at(AtVariable(name), *(Cell(text) for text in texts)))
    return Table("The variables of the model", ("Variable", "What it is", "How it enters"), tuple(rows), texts=3)


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
    rows: list[Row] = []
    for i, code in enumerate(basis.levels[:MOST_LEVELS]):
        level = variable.level(code)
        named = f" ({code})" if level.label != code else ""
        reference = ", reference" if basis.reference == i else ""
        figures = [estimate(float(basis.codes[i, j]), _code_decimals(basis)) for j in shown]
        here = Cell(f"{level.label}{named}{reference}")
        rows.append(row_at(AtVariable(basis.variable), here, count(int(basis.counts[i])), *figures))
    notes = []
    if len(basis.levels) > MOST_LEVELS:
        notes.append(f"{counted(len(basis.levels) - MOST_LEVELS, 'further level')} not listed.")
    if columns > len(shown):
        notes.append(f"{counted(columns - len(shown), 'further column')} not listed.")
    absent = [x.label for x in variable.levels if not any(c in basis.levels for c in x.codes)]
    if absent:
        notes.append(f"No case of the model has {listed_some([f'“{label}”' for label in absent], MOST_NAMED)}.")
    return Table(f"The codes of {variable.label}", ("Level (code)", "n", *names), tuple(rows), " ".join(notes))


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
    names, choice = described_names(study, found), study.report
    beside = study.report.correlations
    most = MOST_ACROSS if beside is BesideCorrelation.NOTHING else MOST_ACROSS // 2
    told = correlations(found, study.model.level)
    across = len(names) - 1
    made = []
    for first in range(0, max(across, 1), most):
        here = range(first, min(first + most, across))
        head = ["Variable", *(("M", "SD") if first == 0 else ()), *(str(j + 1) for j in here)]
        rows: list[Row] = []
        for i, name in enumerate(names):
            if first and i <= first:
                continue
            cells = [Cell(f"{i + 1}. {name}"), *(moment_cells(found, i, choice)[:2] if first == 0 else ())]
            cells += [told[i][j].cell(beside, choice) if j < i else NOTHING if j == i else BLANK for j in here]
            rows.append(row_at(AtVariable(found.columns[i][0]), *cells))
        title = "Means, standard deviations and correlations" if across else "Mean and standard deviation"
        if first:
            last = here[-1] + 1
            several = f"variables {here[0] + 1} {'and' if len(here) == 2 else 'to'} {last}"
            title = f"Correlations with {f'variable {last}' if len(here) == 1 else several}"
        note = _descriptives_note(study, found) if first == 0 else ""
        made.append(Table(title, tuple(head), tuple(rows), note).with_key())
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
    errors = study.model.errors
    if len(found.columns) > 1 and found.n > 3 and isinstance(errors, Cluster):
        said.append(f"Tests and intervals of correlations ignore the clusters of {study.variable(errors.id).label}.")
    return " ".join(said)


def _least_r(n: int, level: float) -> str:
    """The size from which a correlation of n cases is significant at that level, rounded up: so large every one is."""
    t = t_quantile(level, n - 2)
    return bounded(math.ceil(100 * t / (t * t + n - 2) ** 0.5) / 100, 2)
