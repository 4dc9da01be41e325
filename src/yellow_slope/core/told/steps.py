"""A step in numbers: what a block adds, how well the model fits, how small a change its test finds."""

from __future__ import annotations

import math
from enum import Enum, auto
from typing import assert_never

from yellow_slope.core.fit.asked.diagnosis import press_r2
from yellow_slope.core.fit.asked.r2intervals import change_interval, r2_interval
from yellow_slope.core.fit.asked.sensitivity import smallest_changes
from yellow_slope.core.told.cells import Cell, Role, bounded_cell, bounds, f_cells, p_cell, statistic
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.steps import step_sentence
from yellow_slope.core.words.spelling.numerals import f2_text, level_text
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.values import dataclass


class StepFigure(Enum):
    """What a step's line tells."""

    R2 = auto()
    R2_INTERVAL = auto()
    ADJUSTED = auto()
    PRESS = auto()
    CHANGE = auto()
    CHANGE_INTERVAL = auto()
    F = auto()
    P = auto()
    F2 = auto()
    AIC = auto()
    BIC = auto()
    AT_80 = auto()
    AT_95 = auto()

    @property
    def called(self) -> str:
        """What it is called in notes."""
        match self:
            case StepFigure.R2:
                return "R²"
            case StepFigure.R2_INTERVAL:
                return "its interval"
            case StepFigure.ADJUSTED:
                return "adjusted R²"
            case StepFigure.PRESS:
                return "PRESS R²"
            case StepFigure.CHANGE:
                return "ΔR²"
            case StepFigure.CHANGE_INTERVAL:
                return "interval of ΔR²"
            case StepFigure.F:
                return "F"
            case StepFigure.P:
                return "p"
            case StepFigure.F2:
                return "f²"
            case StepFigure.AIC:
                return "AIC"
            case StepFigure.BIC:
                return "BIC"
            case StepFigure.AT_80:
                return "ΔR² at power .80"
            case StepFigure.AT_95:
                return "ΔR² at power .95"
            case _:
                assert_never(self)

    def head(self, level: float) -> str:
        """What stands above it."""
        is_interval = self in (StepFigure.R2_INTERVAL, StepFigure.CHANGE_INTERVAL)
        return f"{level_text(level)} CI" if is_interval else self.called

    @property
    def help(self) -> str:
        """What it is, in a sentence."""
        match self:
            case StepFigure.R2:
                return "Share of the outcome's variance that the step explains"
            case StepFigure.R2_INTERVAL:
                return "Confidence interval of R²"
            case StepFigure.ADJUSTED:
                return "R² adjusted for the number of columns"
            case StepFigure.PRESS:
                return "R² when each case is predicted by a fit without it"
            case StepFigure.CHANGE:
                return "Change in R²: what the block adds"
            case StepFigure.CHANGE_INTERVAL:
                return "Confidence interval of the change"
            case StepFigure.F:
                return "Test of what the block adds, with its degrees of freedom"
            case StepFigure.P:
                return "p of that test"
            case StepFigure.F2:
                return "Effect size of the block: its change in R² divided by the share that stays unexplained"
            case StepFigure.AIC:
                return "Smaller is better, among models of the same cases"
            case StepFigure.BIC:
                return "Smaller is better; a column costs more than by AIC"
            case StepFigure.AT_80:
                return "The smallest change in R² that the test of the block detects with power .80"
            case StepFigure.AT_95:
                return "The smallest change in R² that the test of the block detects with power .95"
            case _:
                assert_never(self)


@dataclass(frozen=True, slots=True)
class StepLine:
    """A step as a row: what it says, its cells, and why one of them holds nothing."""

    step: int
    said: str
    cells: dict[StepFigure, Cell]
    df: Cell
    """The degrees of freedom of F, in a column of their own."""
    notes: dict[StepFigure, str]

    def text(self, figure: StepFigure) -> str:
        """How a figure is printed; F with its degrees of freedom."""
        cell = self.cells[figure]
        return f"{cell.text} ({self.df.text})" if figure is StepFigure.F and self.df.numbers else cell.text


def step_line(read: Reader, step: int, with_press: bool = True) -> StepLine:
    """A step with all its figures; PRESS R², which looks at every case again, only on request."""
    fit, model = read.fit, read.model
    result = fit.steps[step]
    change, test = result.change, result.change.test
    whole, added = r2_interval(fit, model, step), change_interval(fit, model, step)
    smallest = smallest_changes(fit, model, step)
    press = press_r2(fit, step) if with_press else math.nan
    f, df = f_cells(test)
    cells = {
        StepFigure.R2: bounded_cell(result.r2),
        StepFigure.R2_INTERVAL: bounds(whole.low, whole.high),
        StepFigure.ADJUSTED: bounded_cell(result.adjusted_r2),
        StepFigure.PRESS: bounded_cell(press),
        StepFigure.CHANGE: bounded_cell(change.r2),
        StepFigure.CHANGE_INTERVAL: bounds(added.low, added.high),
        StepFigure.F: f,
        StepFigure.P: p_cell(test.p),
        StepFigure.F2: Cell(f2_text(change.f2), numbers=(change.f2,), role=Role.STATISTIC),
        StepFigure.AIC: statistic(result.aic, 1),
        StepFigure.BIC: statistic(result.bic, 1),
        StepFigure.AT_80: bounded_cell(smallest[0].r2),
        StepFigure.AT_95: bounded_cell(smallest[1].r2),
    }
    whys = {
        StepFigure.R2_INTERVAL: whole.why,
        StepFigure.CHANGE_INTERVAL: added.why,
        StepFigure.F: test.why,
        StepFigure.P: test.why,
        StepFigure.AT_80: smallest[0].why,
        StepFigure.AT_95: smallest[1].why,
    }
    notes = {figure: reason(why) for figure, why in whys.items() if why is not None}
    if with_press and math.isnan(press):
        notes[StepFigure.PRESS] = "a case has leverage 1"
    if math.isnan(result.aic):
        notes[StepFigure.AIC] = notes[StepFigure.BIC] = "the model fits perfectly"
    return StepLine(step, step_sentence(read, step), cells, df, notes)


def step_figures(read: Reader, step: int, with_press: bool = True) -> list[str]:
    """All figures of a step, a few to a line, as they stand in a tooltip or the foot."""
    line = step_line(read, step, with_press)
    of, level = line.text, level_text(read.model.level)
    press = f", PRESS R² {of(StepFigure.PRESS)}" if with_press else ""
    return [
        f"{read.r2_name(step)} = {of(StepFigure.R2)} ({level} CI {of(StepFigure.R2_INTERVAL)}), "
        f"adjusted {of(StepFigure.ADJUSTED)}{press}",
        f"change in R² = +{of(StepFigure.CHANGE)} ({level} CI {of(StepFigure.CHANGE_INTERVAL)}), "
        f"F = {of(StepFigure.F)}, p {of(StepFigure.P)}, f² = {of(StepFigure.F2)}",
        f"AIC {of(StepFigure.AIC)}, BIC {of(StepFigure.BIC)}",
    ]
