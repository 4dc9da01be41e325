"""What stands below the ladder, as rows of texts: made off the interface thread."""

from __future__ import annotations

from yellow_slope.app.widgets.figuretable import FigureColumn, FigureRow
from yellow_slope.core.fit.asked.covariatetrials import Trial, Trials
from yellow_slope.core.fit.asked.describe import described
from yellow_slope.core.fit.asked.matching import column_keys
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import Bootstrap
from yellow_slope.core.told.cells import BLANK, Cell, f_cells, p_cell
from yellow_slope.core.told.coefficients import CoefficientColumn
from yellow_slope.core.told.descriptives import correlations, described_names, moment_cells
from yellow_slope.core.told.models import ModelFigure
from yellow_slope.core.told.steps import StepFigure, step_line
from yellow_slope.core.words.names.study import model_name
from yellow_slope.core.words.names.terms import INTERCEPT, column_name, label
from yellow_slope.core.words.sentences.coefficients import reader
from yellow_slope.core.words.sentences.models import beside_sentence
from yellow_slope.core.words.sentences.steps import headline
from yellow_slope.core.words.spelling.numerals import counted, estimate_decimals, level_text, listed, p_value
from yellow_slope.core.words.spelling.reasons import DASH, reason
from yellow_slope.values import dataclass

MOST_COEFFICIENTS = 120
BELOW = {StepFigure.R2: StepFigure.R2_INTERVAL, StepFigure.CHANGE: StepFigure.CHANGE_INTERVAL}
"""What stands below a figure of a step."""
STEP_COLUMNS = tuple(figure for figure in StepFigure if figure not in BELOW.values())


@dataclass(frozen=True, slots=True)
class Told:
    """A table with its headline; `columns`: what a click on a title means, by position."""

    said: str
    head: tuple[FigureColumn, ...] = ()
    rows: tuple[FigureRow, ...] = ()
    corner: str = ""
    columns: tuple[str, ...] = ()


NOTHING = Told("There is no model yet: enter a term first.")


def steps_told(evaluation: Evaluation) -> Told:
    """Every step with all its figures."""
    read = reader(evaluation)
    if read is None:
        return NOTHING
    level = level_text(read.model.level)
    head = tuple(FigureColumn(figure.called, figure.help) for figure in STEP_COLUMNS)
    rows: list[FigureRow] = []
    for step in range(len(read.fit.steps)):
        line = step_line(read, step)
        name = read.model.steps[step].name
        begin, second = f"{step + 1}   {name or line.said}", line.said if name else ""
        cells = tuple(f"+{line.text(key)}" if key is StepFigure.CHANGE else line.text(key) for key in STEP_COLUMNS)
        ends = [line.cells[BELOW[key]] if key in BELOW else BLANK for key in STEP_COLUMNS]
        notes = tuple(
            line.notes.get(key, "") or (f"{level} interval {end.text}" if end.numbers else "")
            for key, end in zip(STEP_COLUMNS, ends)
        )
        below = tuple(end.text if end.numbers else "" for end in ends)
        rows.append(FigureRow(begin, cells, below, step == read.model.reported_step, notes, read.block(step), second))
    return Told(headline(read), head, tuple(rows), f"step; {level} intervals below")


def variables_told(evaluation: Evaluation) -> Told:
    """Means, SDs and correlations with their intervals, of exactly the model's cases."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return NOTHING
    found = described(fit, study.model)
    if found is None:
        return Told("The model has too many columns to describe them one by one.")
    level = level_text(study.model.level)
    names, told = described_names(study, found), correlations(found, study.model.level)
    across = len(names) - 1
    head = (
        FigureColumn("mean", "For a group: its share of the cases"),
        FigureColumn("SD", "With n − 1"),
        FigureColumn("lowest"),
        FigureColumn("highest"),
        *(FigureColumn(str(i + 1), f"Correlation with {names[i]}") for i in range(across)),
    )
    rows: list[FigureRow] = []
    for i, name in enumerate(names):
        moments, here = moment_cells(found, i), told[i][:across]
        notes = [
            f"{name} and {names[j]}: r = {r.cell().text} ({level} CI {r.interval.text}), p {p_value(r.p)}"
            for j, r in enumerate(here)
        ]
        below = [r.interval.text if r.interval.numbers else "" for r in here]
        cells = tuple(cell.text for cell in (*moments, *(r.cell() for r in here)))
        rows.append(FigureRow(f"{i + 1}   {name}", cells, ("",) * 4 + tuple(below), notes=("",) * 4 + tuple(notes)))
    said = (
        f"The {counted(found.n, 'case')} of the model. Groups are indicators (1 = the group named). p is not adjusted."
    )
    return Told(said, head, tuple(rows), f"correlations, {level} intervals below")


def models_told(evaluation: Evaluation, compared: str | None) -> Told:
    """The study's models side by side: cases, terms, fit, coefficients; and what the compared one is to the current."""
    study = evaluation.study
    models = study.models
    fits = {m.id: f for m in models if isinstance(f := evaluation.fits[m.id], Fit)}
    head = tuple(
        FigureColumn(
            model_name(study, m),
            "The current model" if m.id == study.current else "Click to compare with it",
            m.id in (study.current, compared),
        )
        for m in models
    )
    rows = [*_fit_rows(evaluation, models, fits), *_coefficient_rows(evaluation, models, fits)]
    # What a compared model is to this one stands in the strip above the ladder.
    said = "" if compared is not None else relation_said(evaluation, None)
    return Told(said, head, tuple(rows), "", tuple(m.id for m in models))


def relation_said(evaluation: Evaluation, compared: str | None) -> str:
    """What the compared model is to the current one."""
    study = evaluation.study
    if len(study.models) < 2:
        return "Keep the present model under a name (Ctrl+Shift+K), change it, and both are shown side by side here."
    other = next((m for m in study.models if m.id == compared and m.id != study.current), None)
    if other is None:
        return "Click the name of a model to compare the present one with it."
    return beside_sentence(evaluation, other)


def _fit_rows(evaluation: Evaluation, models: tuple[Model, ...], fits: dict[str, Fit]) -> list[FigureRow]:
    study = evaluation.study

    outcomes = {m.outcome for m in models}
    found: list[FigureRow] = []
    for figure in ModelFigure:
        cells = tuple(figure.cell(fits[m.id]).text if m.id in fits else DASH for m in models)
        found.append(FigureRow(figure.head, cells))
        if figure is ModelFigure.CASES:
            entered = tuple(f"{len(m.active_terms)} in {len(m.steps)}" for m in models)
            found.append(FigureRow("terms in blocks", entered))
    if len(outcomes) > 1:
        labels = tuple(study.variable(m.outcome).label if m.outcome else DASH for m in models)
        found.insert(0, FigureRow("outcome", labels))
    return found


def _coefficient_rows(evaluation: Evaluation, models: tuple[Model, ...], fits: dict[str, Fit]) -> list[FigureRow]:
    """Coefficients of the last steps: a row for each question, b and its interval below."""
    study = evaluation.study
    keys: dict[object, str] = {}
    places: dict[str, dict[object, int]] = {}
    for model in sorted(models, key=lambda m: m.id != study.current):
        fit = fits.get(model.id)
        if fit is None:
            continue
        places[model.id] = {}
        for j, key in enumerate(column_keys(fit)):
            keys.setdefault(key, column_name(study, fit, j))
            places[model.id][key] = j
    rows: list[FigureRow] = [FigureRow("coefficients of the last step", strong=True)] if keys else []
    for key, name in list(keys.items())[:MOST_COEFFICIENTS]:
        rows.append(FigureRow(name, tuple(_cell(fits, places, m, key) for m in models)))
    if len(keys) > MOST_COEFFICIENTS:
        rows.append(FigureRow(f"and {len(keys) - MOST_COEFFICIENTS:,} more, which are not listed"))
    if keys:
        with_one = [m.id in fits and fits[m.id].design.constant for m in models]
        rows.append(FigureRow(INTERCEPT, tuple(_of(fits[m.id], -1) if has else "" for m, has in zip(models, with_one))))
    return rows


def _cell(fits: dict[str, Fit], places: dict[str, dict[object, int]], model: Model, key: object) -> str:
    fit = fits.get(model.id)
    if fit is None or key not in places[model.id]:
        return ""
    return _of(fit, places[model.id][key])


def _of(fit: Fit, column: int) -> str:
    b, ends = _b_and_interval(fit.last.coefficient(column))
    return f"{b.text}   ({ends.text})" if ends.numbers else b.text


def _b_and_interval(c: Coefficient) -> tuple[Cell, Cell]:
    d = estimate_decimals(c.se, c.b, c.low, c.high)
    return CoefficientColumn.B.cell(c, d), CoefficientColumn.INTERVAL.cell(c, d)


def trials_told(evaluation: Evaluation, found: Trials) -> Told:
    """What becomes of a product with each covariate's products let in, the most harmful first."""
    study = evaluation.study
    title = label(study, found.term)
    is_set = found.now.test is not None
    level = level_text(study.model.level)
    columns = ("F", "df", "p") if is_set else ("b", f"{level} CI", "p")
    head = tuple(FigureColumn(text) for text in columns)
    rows = [_trial_row(found.now, f"{title} in this model", True)]
    for trial in found.rows:
        covariate = study.variable(trial.covariate).label
        added = listed([label(study, t) for t in trial.added])
        rows.append(
            _trial_row(trial, f"with {added}" if len(added) < 70 else f"with the products of {covariate}", False)
        )
    alpha = 1 - study.model.level
    lost = [study.variable(t.covariate).label for t in found.rows if t.p >= alpha]
    if not found.rows:
        said = "There is no covariate whose products are not in the model already."
    elif found.now.p >= alpha:
        said = (
            f"{title} is not significant in this model (p {p_value(found.now.p)}). Each "
            "covariate's products with its factors were added in turn."
        )
    elif lost:
        said = (
            f"{title} is no longer significant with the products of "
            f"{listed(lost[:4])}{' and others' if len(lost) > 4 else ''}."
        )
    else:
        said = f"{title} remains significant with the products of each of {counted(len(found.rows), 'covariate')}."
    if found.n_left:
        said += f" {counted(found.n_left, 'covariate')} were not tried."
    drawn = "; not resampled" if isinstance(study.model.errors, Bootstrap) else ""
    return Told(said, head, tuple(rows), f"largest reduction first; p unadjusted{drawn}")


def _trial_row(trial: Trial, name: str, strong: bool) -> FigureRow:
    if trial.why:
        return FigureRow(name, (DASH, DASH, DASH), notes=(trial.why,) * 3, whole=f"{name}: {trial.why}", strong=strong)
    if trial.coefficient is not None:
        cells = (*_b_and_interval(trial.coefficient), p_cell(trial.coefficient.p))
        return FigureRow(name, tuple(cell.text for cell in cells), strong=strong)
    test = trial.test
    assert test is not None
    cells = (*f_cells(test), p_cell(test.p))
    notes = (reason(test.why),) * 3 if test.why is not None else ()
    return FigureRow(name, tuple(cell.text for cell in cells), strong=strong, notes=notes)
