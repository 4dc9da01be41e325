"""In words: what each step says, and all its figures."""

from __future__ import annotations

from yellow_slope.core.fit.asked.sensitivity import Smallest, smallest_changes
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import some_labels
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.spelling.numerals import bounded, f2_text, listed, percent
from yellow_slope.core.words.spelling.reasons import reason

MOST_NAMED = 5


QUICK_ENTRIES = 60_000
"""Cases times columns that are gone through at once without anybody noticing."""


def step_sentence(read: Reader, step: int) -> str:
    """“practice, returner and coaching add 13.9%”, under the block's name where it has one."""
    result = read.fit.steps[step]
    block = read.model.steps[step]
    share = percent(result.change.r2, 1)
    terms = _named(read, block.terms)
    if result.rank == (read.fit.steps[step - 1].rank if step else int(read.fit.design.constant)):
        return f"{terms} add nothing beyond the earlier steps" if step else f"{terms}: nothing can be estimated"
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
    said += [f"{_steps(empty, 'adds', 'add')} nothing beyond the earlier steps."] if empty else []
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
        return f"The smallest change that its test would detect cannot be given: {reason(found[0].why)}."
    return (
        f"Its test detects a change in R² of {_size(found[0])} with power .80, and one "
        f"of {_size(found[1])} with power .95."
    )


def _size(found: Smallest) -> str:
    return f"{bounded(found.r2)} (f² = {f2_text(found.f2)})"
