"""In words: what each step says, and all its figures."""

from __future__ import annotations

import math
from enum import Enum, auto
from typing import assert_never

from yellow_slope.core.fit.asked.diagnosis import press_r2
from yellow_slope.core.fit.asked.r2intervals import R2Interval, change_interval, r2_interval
from yellow_slope.core.fit.asked.sensitivity import Smallest, smallest_changes
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import some_labels
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.spelling.numerals import bounded, f2_text, fixed, level_text, listed, p_value, percent
from yellow_slope.core.words.spelling.reasons import DASH, reason
from yellow_slope.values import dataclass

MOST_NAMED = 5


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


def step_figure_name(figure: StepFigure) -> str:
    """What a figure of a step is called in notes and tooltips."""
    match figure:
        case StepFigure.R2:
            return "R²"
        case StepFigure.R2_INTERVAL:
            return "its interval"
        case StepFigure.ADJUSTED:
            return "adjusted R²"
        case StepFigure.PRESS:
            return "PRESS R²"
        case StepFigure.CHANGE:
            return "change"
        case StepFigure.CHANGE_INTERVAL:
            return "interval of the change"
        case StepFigure.F:
            return "F (df)"
        case StepFigure.P:
            return "p"
        case StepFigure.F2:
            return "f²"
        case StepFigure.AIC:
            return "AIC"
        case StepFigure.BIC:
            return "BIC"
        case StepFigure.AT_80:
            return "smallest, power .80"
        case StepFigure.AT_95:
            return "smallest, power .95"
        case _:
            assert_never(figure)


@dataclass(frozen=True, slots=True)
class StepLine:
    """A step as a line of a table: what it says, and its figures as texts; `notes` by figure: why one does not
    exist."""

    step: int
    said: str
    figures: dict[StepFigure, str]
    notes: dict[StepFigure, str]
    numbers: dict[StepFigure, tuple[float, ...]]
    """The same at full precision; of an interval both ends."""


QUICK_ENTRIES = 60_000
"""Cases times columns that are gone through at once without anybody noticing."""


def step_line(read: Reader, step: int, with_press: bool = True) -> StepLine:
    """A step with all its figures; PRESS R², which looks at every case again, only on request."""
    fit, model = read.fit, read.model
    result = fit.steps[step]
    change, test = result.change, result.change.test
    whole, added = r2_interval(fit, model, step), change_interval(fit, model, step)
    smallest = smallest_changes(fit, model, step)
    press = press_r2(fit, step) if with_press else math.nan
    f = f"{fixed(test.f, 2)} ({test.df1}, {test.df2})" if test.has_f else DASH
    texts = {
        StepFigure.R2: bounded(result.r2),
        StepFigure.R2_INTERVAL: _bounds(whole),
        StepFigure.ADJUSTED: bounded(result.adjusted_r2),
        StepFigure.PRESS: bounded(press),
        StepFigure.CHANGE: bounded(change.r2),
        StepFigure.CHANGE_INTERVAL: _bounds(added),
        StepFigure.F: f,
        StepFigure.P: p_value(test.p),
        StepFigure.F2: f2_text(change.f2),
        StepFigure.AIC: fixed(result.aic, 1),
        StepFigure.BIC: fixed(result.bic, 1),
        StepFigure.AT_80: bounded(smallest[0].r2),
        StepFigure.AT_95: bounded(smallest[1].r2),
    }
    numbers = {
        StepFigure.R2: (result.r2,),
        StepFigure.R2_INTERVAL: (whole.low, whole.high),
        StepFigure.ADJUSTED: (result.adjusted_r2,),
        StepFigure.PRESS: (press,),
        StepFigure.CHANGE: (change.r2,),
        StepFigure.CHANGE_INTERVAL: (added.low, added.high),
        StepFigure.F: (test.f,),
        StepFigure.P: (test.p,),
        StepFigure.F2: (change.f2,),
        StepFigure.AIC: (result.aic,),
        StepFigure.BIC: (result.bic,),
        StepFigure.AT_80: (smallest[0].r2,),
        StepFigure.AT_95: (smallest[1].r2,),
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
    return StepLine(step, step_sentence(read, step), texts, notes, numbers)


def _bounds(found: R2Interval) -> str:
    return DASH if math.isnan(found.low) else f"{bounded(found.low)} to {bounded(found.high)}"


def step_sentence(read: Reader, step: int) -> str:
    """“practice, returner and coaching add 13.9%”, under the block's name where it has one."""
    result = read.fit.steps[step]
    block = read.model.steps[step]
    share = percent(result.change.r2, 1)
    terms = _named(read, block.terms)
    if result.rank == (read.fit.steps[step - 1].rank if step else int(read.fit.design.constant)):
        return f"{terms} add nothing that the steps before do not say" if step else f"{terms}: nothing can be estimated"
    verb = "explains" if step == 0 else "adds"
    if len(block.terms) > 1:
        verb = "explain" if step == 0 else "add"
    said = f"{terms} {verb} {share}"
    if step:
        return said
    return f"{said} of the variance" if result.about_mean else f"{said} of the variance about zero"


def _named(read: Reader, terms: tuple[Term, ...]) -> str:
    return some_labels(read.study, terms, MOST_NAMED if len(terms) <= MOST_NAMED else MOST_NAMED - 1)


def is_quick(read: Reader) -> bool:
    """Whether every case can be looked at again without anybody having to wait."""
    return read.fit.y.size * read.fit.last.n_columns <= QUICK_ENTRIES


def step_figures(read: Reader, step: int, with_press: bool = True) -> list[str]:
    """All figures of a step, a few to a line, as they stand in a tooltip or the foot."""
    line = step_line(read, step, with_press)
    f, level = line.figures, level_text(read.model.level)
    press = f", PRESS R² {f[StepFigure.PRESS]}" if with_press else ""
    return [
        f"{read.r2_name(step)} = {f[StepFigure.R2]} ({level} CI {f[StepFigure.R2_INTERVAL]}), "
        f"adjusted {f[StepFigure.ADJUSTED]}{press}",
        f"change in R² = +{f[StepFigure.CHANGE]} ({level} CI {f[StepFigure.CHANGE_INTERVAL]}), F = {f[StepFigure.F]}, "
        f"p {f[StepFigure.P]}, f² = {f[StepFigure.F2]}",
        f"AIC {f[StepFigure.AIC]}, BIC {f[StepFigure.BIC]}",
    ]


def headline(read: Reader) -> str:
    """What the steps say together, as far as a rule behind it says so."""
    fit, model = read.fit, read.model
    alpha = 1 - model.level
    told = [s.index + 1 for s in fit.steps if s.change.test.p < alpha]
    empty = [s.index + 1 for s in fit.steps if s.change.test.why is Why.NOTHING]
    untested = [s.index + 1 for s in fit.steps if s.change.test.why not in (None, Why.NOTHING)]
    silent = [k for k in range(1, len(fit.steps) + 1) if k not in told + empty + untested]
    outcome = read.study.variable(model.outcome or "").label
    about = "" if fit.last.about_mean else " about zero"
    said = []
    if len(fit.steps) > 1:
        said.append(f"Together the steps explain {percent(fit.last.r2)} of the variance of {outcome}{about}.")
        if len(told) == len(fit.steps):
            said.append("Each step adds significantly to the one before.")
    said += [f"{_steps(silent, 'adds', 'add')} nothing significant."] if silent else []
    said += [f"{_steps(empty, 'adds', 'add')} nothing that the steps before do not say."] if empty else []
    said += [f"{_steps(untested, 'is', 'are')} not tested."] if untested and len(fit.steps) > 1 else []
    return " ".join(said)


def _steps(numbers: list[int], one: str, several: str) -> str:
    """“Step 2 adds”, “Steps 2 and 3 add”."""
    many = len(numbers) > 1
    return f"Step{'s' if many else ''} {listed([str(k) for k in numbers])} {several if many else one}"


def smallest_sentence(read: Reader, step: int) -> str:
    """What the block's test could have shown, beside what it showed."""
    found = smallest_changes(read.fit, read.model, step)
    if found[0].why is not None:
        return f"How small a change its test could have shown cannot be said: {reason(found[0].why)}."
    return (
        f"With power .80 its test finds a change in R² of {_size(found[0])}, with power .95 one of "
        f"{_size(found[1])}; it showed {bounded(read.fit.steps[step].change.r2)}."
    )


def _size(found: Smallest) -> str:
    return f"{bounded(found.r2)} (f² = {f2_text(found.f2)})"
