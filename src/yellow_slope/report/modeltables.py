"""Printed tables of models: coefficients, what blocks add, one model per group, models side by side."""

from __future__ import annotations

from yellow_slope.core.fit.asked.bygroup import GroupFit
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.study.report import CoefficientFigure
from yellow_slope.core.study.terms import Term
from yellow_slope.core.told.cells import BLANK, NOTHING, Cell, Row, between, estimate, f_cells, p_cell, row_at
from yellow_slope.core.told.coefficients import CHOSEN, CoefficientColumn
from yellow_slope.core.told.models import ModelFigure
from yellow_slope.core.told.origins import AtModels, AtStep
from yellow_slope.core.told.steps import StepFigure, step_line
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.names.study import model_name, zero_point
from yellow_slope.core.words.names.terms import comparisons_of, label
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.errors import errors_note
from yellow_slope.core.words.spelling.numerals import bounded, counted, estimate_decimals, level_text, listed_some
from yellow_slope.core.words.spelling.reasons import DASH, reason
from yellow_slope.core.words.spelling.testtexts import written_or_why

MOST_LISTED = 30
"""Of a term with more columns only the joint test is printed."""
MOST_ZEROS = 40
GROUPS_BESIDE = 3
"""Groups whose coefficients have room beside each other."""


MOST_ROWS = 3000
"""Of more coefficients over all steps those of the reported step are listed."""

# ---- coefficients


def coefficients_table(evaluation: Evaluation) -> Table | None:
    """All steps one below the other, each with what its block adds and the coefficients with what was chosen beside
    them."""
    fit, study = evaluation.fit, evaluation.study
    model, choice = study.model, study.report
    if fit is None or model.outcome is None:
        return None
    read = Reader(study, fit, model)
    beside = (CoefficientColumn.B, *(CHOSEN[figure] for figure in choice.beside))
    head = ("Term", *(column.head(model.level) for column in beside))
    wide = len(head) - 1
    rows: list[Row] = []
    whole = sum(step.n_columns for step in fit.steps) <= MOST_ROWS
    for step in fit.steps:
        name = model.steps[step.index].name
        title = f"Step {step.index + 1}" + (f": {name}" if name else "")
        rows.append(row_at(AtStep(step.index), Cell(title, strong=True), _gain(read, step.index, wide)))
        if not whole and step.index != model.reported_step:
            continue
        if model.constant:
            rows.append(_coefficient_row(read, beside, AtStep(step.index), -1, "Intercept"))
        for term in dict.fromkeys(column.term for column in fit.design.columns[: step.n_columns]):
            columns, at = fit.design.columns_of(term), AtStep(step.index, term)
            if len(columns) == 1:
                rows.append(_coefficient_row(read, beside, at, columns[0], read.column_name(columns[0])))
                continue
            joint = _joint(read, step.joint[term], columns, wide)
            rows.append(row_at(at, Cell(label(study, term), indent=1), joint))
            listed = columns if len(columns) <= MOST_LISTED else ()
            for j in listed:
                versus = ", ".join(comparisons_of(study, fit, fit.design.columns[j]))
                rows.append(_coefficient_row(read, beside, at, j, versus, indent=2))
    title = f"Coefficients, step by step, of {study.variable(model.outcome).label}"
    left = f" Of {len(fit.steps)} steps only step {model.reported_step + 1} is listed with its coefficients."
    note = _coefficients_note(read) + ("" if whole else left)
    return Table(title, head, tuple(rows), note).with_key()


def _gain(read: Reader, step: int, wide: int) -> Cell:
    """What a block adds, over all columns."""
    found = read.fit.steps[step]
    test = found.change.test
    text = (
        f"{read.r2_name(step)} = {bounded(found.r2)}, adjusted R² = {bounded(found.adjusted_r2)}, "
        f"ΔR² = {bounded(found.change.r2)}, {written_or_why(test, 'Δ')}"
    )
    named = (("R²", found.r2), ("adjusted R²", found.adjusted_r2), ("ΔR²", found.change.r2), *_tested(test))
    return Cell(text, span=wide, named=named)


def _joint(read: Reader, test: FTest, columns: list[int] | tuple[int, ...], wide: int) -> Cell:
    text = written_or_why(test, "joint ")
    if len(columns) > MOST_LISTED:
        text += f"; {counted(len(columns), 'column')}, not listed one by one"
    return Cell(text, span=wide, named=_tested(test))


def _tested(test: FTest) -> tuple[tuple[str, float], ...]:
    if not test.exists:
        return ()
    return (*((("F", test.f), ("df1", test.df1), ("df2", test.df2)) if test.has_f else ()), ("p", test.p))


def _coefficients_note(read: Reader) -> str:
    study, fit, model = read.study, read.fit, read.model
    beside = study.report.beside
    zero = [zero_point(study, basis) for basis in fit.design.bases.values()]
    said = [f"n = {fit.y.size:,}.", errors_note(study, model, fit)]
    if CoefficientFigure.INTERVAL in beside:
        said.append("CI = confidence interval.")
    if CoefficientFigure.BETA in beside:
        said.append("β is with outcome and numbers standardized and products formed from the standardized parts.")
    if CoefficientFigure.SR2 in beside:
        said.append("sr² = share of the outcome's variance that only this column explains.")
    if CoefficientFigure.P in beside or study.report.stars:
        said.append("p is not adjusted for the number of tests.")
    if zero:
        said.append(f"Zero points: {listed_some(zero, MOST_ZEROS)}.")
    if not fit.last.about_mean:
        said.append("R² is about zero because the model has no intercept.")
    return " ".join(said)


def _coefficient_row(
    read: Reader, beside: tuple[CoefficientColumn, ...], at: AtStep, column: int, name: str, indent: int = 1
) -> Row:
    c, choice = read.fit.steps[at.step].coefficient(column), read.study.report
    first = Cell(name, indent=indent)
    if c.why is not None and c.b != c.b:
        return row_at(at, first, Cell(f"{DASH} ({reason(c.why)})", span=len(beside)))
    d = estimate_decimals(c.se, c.b, c.low, c.high, least=choice.decimals)
    if c.why is not None:
        rest = [Cell(reason(c.why), span=len(beside) - 1)] if len(beside) > 1 else []
        return row_at(at, first, beside[0].cell(c, d, choice), *rest)
    return row_at(at, first, *(told.cell(c, d, choice) for told in beside))


# ---- steps


ADDED = (
    StepFigure.R2,
    StepFigure.R2_INTERVAL,
    StepFigure.ADJUSTED,
    StepFigure.CHANGE,
    StepFigure.CHANGE_INTERVAL,
    StepFigure.F,
    StepFigure.P,
)
FURTHER = (StepFigure.F2, StepFigure.PRESS, StepFigure.AIC, StepFigure.BIC, StepFigure.AT_80, StepFigure.AT_95)


def steps_tables(read: Reader) -> tuple[Table, Table]:
    """What each block adds with its test and intervals; and further figures of fit with what could have been shown."""
    outcome = read.study.variable(read.model.outcome or "").label
    further = (
        "f² = the change in R² divided by the share that stays unexplained. PRESS R² = "
        "R² when each case is predicted by a fit without it. ΔR² at a power: the "
        "smallest change in R² that the block's test detects with that power."
    )
    return (
        _steps_table(read, ADDED, f"What each block adds to {outcome}", ""),
        _steps_table(read, FURTHER, "Further statistics of the steps", further),
    )


def _steps_table(read: Reader, shown: tuple[StepFigure, ...], title: str, note: str) -> Table:
    head = ["Step"]
    for figure in shown:
        head += [figure.head(read.model.level), *(["df"] if figure is StepFigure.F else [])]
    rows: list[Row] = []
    missing: dict[str, dict[str, None]] = {}
    for step in read.fit.steps:
        line = step_line(read, step.index, with_press=StepFigure.PRESS in shown)
        name = read.model.steps[step.index].name
        cells = [Cell(f"{step.index + 1}" + (f": {name}" if name else ""))]
        for figure in shown:
            cells += [line.cells[figure], *([line.df] if figure is StepFigure.F else [])]
        rows.append(row_at(AtStep(step.index), *cells))
        for figure, why in line.notes.items():
            if figure in shown:
                missing.setdefault(why, {})[figure.called] = None
    if missing:
        told = "; ".join(f"{', '.join(names)}: {why}" for why, names in missing.items())
        note = f"{note} A dash marks a statistic that does not exist ({told}).".strip()
    if any(not step.about_mean for step in read.fit.steps):
        note = f"{note} R² is about zero where the model has no intercept.".strip()
    return Table(title, tuple(head), tuple(rows), note)


# ---- models


def groups_tables(read: GroupReader) -> list[Table]:
    """The coefficients of every group's model side by side, and the tests that they differ; of many groups in several
    tables."""
    groups = read.found.groups
    return [
        _groups_table(read, list(groups[first : first + GROUPS_BESIDE]), first)
        for first in range(0, max(1, len(groups)), GROUPS_BESIDE)
    ]


def _groups_table(read: GroupReader, groups: list[GroupFit], first: int) -> Table:
    choice = read.study.report
    tested = ("F", "p") if first == 0 else ()
    head = ("", *(text for g in groups for text in (f"{read.level_label(g)}: b", "CI")), *tested)
    rows: list[Row] = []
    n = len(read.inner_columns)
    reader = next((read.reader(g) for g in read.found.groups if g.fit is not None), None)
    for j in [*range(n if reader is not None else 0), *([-1] if read.found.model.constant else [])]:
        cells = [Cell(reader.column_name(j) if reader is not None else "")]
        for group in groups:
            c = group.fit.last.coefficient(j) if group.fit is not None else None
            if c is None or c.b != c.b or c.why is not None:
                cells += [NOTHING, NOTHING]
                continue
            decimals = estimate_decimals(c.se, c.b, c.low, c.high, least=choice.decimals)
            cells += [estimate(c.b, decimals, c.p, choice), between(c.low, c.high, decimals)]
        if tested:
            test = read.test_of(j) if j >= 0 else None
            if test is None or not test.exists:
                cells += [BLANK, BLANK]
            else:
                cells += [f_cells(test)[0], p_cell(test.p)]
        rows.append(row_at(AtStep(len(read.found.model.steps) - 1, _term_of(reader, j)), *cells))
    sizes = ", ".join(f"{read.level_label(g)} {g.n:,}{f' ({g.said})' if g.said else ''}" for g in groups)
    level = level_text(read.found.model.level)
    note = f"Cases: {sizes}. CI: {level} interval."
    if first == 0:
        note += f" {read.zeros()} F and p, unadjusted: whether the coefficients of the term differ."
    title = f"One model per group of {read.group_label}" + (", further groups" if first else "")
    return Table(title, head, tuple(rows), note).with_key()


def _term_of(reader: Reader | None, column: int) -> Term | None:
    return reader.fit.design.columns[column].term if reader is not None and column >= 0 else None


def models_table(evaluation: Evaluation) -> Table:
    """The fit of all models of the study, a row each."""
    study = evaluation.study
    head = ("Model", "Outcome", *(figure.head for figure in ModelFigure))
    rows: list[Row] = []
    for model in study.models:
        fit = evaluation.fits[model.id]
        outcome = study.variable(model.outcome).label if model.outcome is not None else DASH
        name = model_name(study, model) + (" (reported here)" if model.id == study.current and model.name else "")
        told = [f.cell(fit) for f in ModelFigure] if isinstance(fit, Fit) else [Cell(fit.said, span=len(ModelFigure))]
        rows.append(row_at(AtModels(), Cell(name), Cell(outcome), *told))
    return Table("Models of the study", head, tuple(rows), "Of each model its last step.", texts=2)
