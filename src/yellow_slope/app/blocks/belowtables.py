"""What stands below the ladder, as rows of texts: made off the interface thread."""

from __future__ import annotations

import numpy as np

from yellow_slope.app.widgets.figuretable import FigureColumn, FigureRow
from yellow_slope.core.fit.asked.covariatetrials import Trial, Trials
from yellow_slope.core.fit.asked.describe import correlation_interval, described
from yellow_slope.core.fit.asked.matching import column_keys
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import Bootstrap
from yellow_slope.core.words.names.study import model_name
from yellow_slope.core.words.names.terms import INTERCEPT, column_name, label
from yellow_slope.core.words.sentences.coefficients import reader
from yellow_slope.core.words.sentences.models import beside_sentence
from yellow_slope.core.words.sentences.steps import StepFigure, headline, step_line
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    counted,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    listed,
    p_value,
    place,
)
from yellow_slope.core.words.spelling.reasons import DASH, reason
from yellow_slope.core.words.spelling.testtexts import written_cells
from yellow_slope.values import dataclass

MOST_COEFFICIENTS = 120
STEP_COLUMNS = (
    (StepFigure.R2, "R²", "Share of the outcome's variance that the step explains"),
    (StepFigure.ADJUSTED, "adjusted", "R² that counts the columns"),
    (StepFigure.PRESS, "PRESS R²", "R² of predicting each case by a fit without it"),
    (StepFigure.CHANGE, "change", "What the block adds to R²"),
    (StepFigure.F, "F (df)", "Test of what the block adds"),
    (StepFigure.P, "p", "Of that test"),
    (StepFigure.F2, "f²", "Effect size of the block: its change in R² over what stays unexplained"),
    (StepFigure.AIC, "AIC", "Smaller is better; among models of the same cases"),
    (StepFigure.BIC, "BIC", "Smaller is better; a column costs more than by AIC"),
    (StepFigure.AT_80, "shown at .80", "The smallest change in R² that the test would have shown with power .80"),
    (StepFigure.AT_95, "shown at .95", "The smallest change in R² that the test would have shown with power .95"),
)
INTERVALS = {StepFigure.R2: StepFigure.R2_INTERVAL, StepFigure.CHANGE: StepFigure.CHANGE_INTERVAL}


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
    head = tuple(FigureColumn(title, note) for _, title, note in STEP_COLUMNS)
    rows: list[FigureRow] = []
    for step in range(len(read.fit.steps)):
        line = step_line(read, step)
        name = read.model.steps[step].name
        begin, second = f"{step + 1}   {name or line.said}", line.said if name else ""
        cells = tuple(
            f"+{line.figures[key]}" if key is StepFigure.CHANGE else line.figures[key] for key, _, _ in STEP_COLUMNS
        )
        below = tuple(line.figures[INTERVALS[key]] if key in INTERVALS else "" for key, _, _ in STEP_COLUMNS)
        notes = tuple(
            line.notes.get(key, "") or (f"{level} interval {line.figures[INTERVALS[key]]}" if key in INTERVALS else "")
            for key, _, _ in STEP_COLUMNS
        )
        below = tuple("" if text == DASH else text for text in below)
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
    level = study.model.level
    names = [
        study.variable(name).label + (f": {study.variable(name).level(code).label}" if code is not None else "")
        for name, code in found.columns
    ]
    low, high = correlation_interval(found.r, found.n, level)
    k = len(names)
    head = (
        FigureColumn("mean", "Of a group: its share"),
        FigureColumn("SD", "With n − 1"),
        FigureColumn("lowest"),
        FigureColumn("highest"),
        *(FigureColumn(str(i + 1), f"Correlation with {names[i]}") for i in range(k - 1)),
    )
    rows: list[FigureRow] = []
    for i, name in enumerate(names):
        sd = float(found.sd[i])
        cells = [
            place(float(found.mean[i]), sd),
            place(sd, sd),
            place(float(found.low[i]), sd),
            place(float(found.high[i]), sd),
        ]
        below, notes = [""] * 4, [""] * 4
        for j in range(min(i, k - 1)):
            r, p = float(found.r[i, j]), float(found.p[i, j])
            bounds = (
                f"{bounded(float(low[i, j]), 2)} to {bounded(float(high[i, j]), 2)}" if not np.isnan(low[i, j]) else ""
            )
            cells.append(DASH if np.isnan(r) else bounded(r, 2))
            below.append(bounds)
            notes.append(
                f"{name} and {names[j]}: r = {bounded(r, 2)} ({level_text(level)} CI {bounds}), p {p_value(p)}"
            )
        rows.append(FigureRow(f"{i + 1}   {name}", tuple(cells), tuple(below), notes=tuple(notes)))
    said = (
        f"The {counted(found.n, 'case')} of the model. Groups are indicators (1 = the group named). p is not adjusted."
    )
    return Told(said, head, tuple(rows), f"correlations, {level_text(level)} intervals below")


def models_told(evaluation: Evaluation, compared: str | None) -> Told:
    """The study's models side by side: cases, terms, fit, coefficients; and what the compared one is to the current."""
    study = evaluation.study
    models = study.models
    fits = {m.id: f for m in models if isinstance(f := evaluation.fits[m.id], Fit)}
    head = tuple(
        FigureColumn(
            model_name(study, m),
            "This model is worked on" if m.id == study.current else "Click to compare with it",
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
        return "Keep the present model under a name (Ctrl+Shift+K), change it, and both stand side by side here."
    other = next((m for m in study.models if m.id == compared and m.id != study.current), None)
    if other is None:
        return "Click the name of a model to compare the present one with it."
    return beside_sentence(evaluation, other)


def _fit_rows(evaluation: Evaluation, models: tuple[Model, ...], fits: dict[str, Fit]) -> list[FigureRow]:
    study = evaluation.study

    def row(name: str, figure) -> FigureRow:  # type: ignore[no-untyped-def]
        return FigureRow(name, tuple(figure(m, fits[m.id]) if m.id in fits else DASH for m in models))

    def terms(m: Model) -> str:
        return str(len(m.active_terms))

    outcomes = {m.outcome for m in models}
    found = [
        row("cases", lambda m, f: f"{f.cases.n:,}"),
        FigureRow("terms in blocks", tuple(f"{terms(m)} in {len(m.steps)}" for m in models)),
        row("columns", lambda m, f: str(f.last.rank - int(f.design.constant))),
        row("R²", lambda m, f: bounded(f.last.r2)),
        row("adjusted R²", lambda m, f: bounded(f.last.adjusted_r2)),
        row("AIC", lambda m, f: fixed(f.last.aic, 1)),
        row("BIC", lambda m, f: fixed(f.last.bic, 1)),
    ]
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
    c = fit.last.coefficient(column)
    if np.isnan(c.b):
        return DASH
    d = estimate_decimals(c.se, c.b, c.low, c.high)
    return fixed(c.b, d) + (f"   ({interval(c.low, c.high, d)})" if not np.isnan(c.low) else "")


def trials_told(evaluation: Evaluation, found: Trials) -> Told:
    """What becomes of a product with each covariate's products let in, the most harmful first."""
    study = evaluation.study
    title = label(study, found.term)
    is_set = found.now.test is not None
    level = level_text(study.model.level)
    columns = ("F", "df", "p") if is_set else ("b", f"{level} CI", "p")
    head = tuple(FigureColumn(text) for text in columns)
    rows = [_trial_row(found.now, f"{title} as it stands", True)]
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
            f"{title} is not significant as it stands (p {p_value(found.now.p)}); each covariate's products with its "
            "factors were let in in turn."
        )
    elif lost:
        said = (
            f"{title} is no longer significant with the products of "
            f"{listed(lost[:4])}{' and others' if len(lost) > 4 else ''}."
        )
    else:
        said = f"{title} stays significant with the products of each of {counted(len(found.rows), 'covariate')}."
    if found.n_left:
        said += f" {counted(found.n_left, 'covariate')} were not tried."
    drawn = "; not resampled" if isinstance(study.model.errors, Bootstrap) else ""
    return Told(said, head, tuple(rows), f"most harmful first; p unadjusted{drawn}")


def _trial_row(trial: Trial, name: str, strong: bool) -> FigureRow:
    if trial.why:
        return FigureRow(name, (DASH, DASH, DASH), notes=(trial.why,) * 3, whole=f"{name}: {trial.why}", strong=strong)
    if trial.coefficient is not None:
        c = trial.coefficient
        d = estimate_decimals(c.se, c.b, c.low, c.high)
        cells = (fixed(c.b, d), interval(c.low, c.high, d) if c.why is None else DASH, p_value(c.p))
        return FigureRow(name, cells, strong=strong)
    test = trial.test
    assert test is not None
    cells = (*written_cells(test), p_value(test.p))
    return FigureRow(name, cells, strong=strong, notes=(reason(test.why),) * 3 if test.why is not None else ())
