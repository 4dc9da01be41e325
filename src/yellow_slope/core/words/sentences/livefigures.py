"""Live figures in somebody's own words: “{b practice x worry}” stands for a figure of the reported step."""

from __future__ import annotations

import math
import re
from collections.abc import Callable

from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import comparisons_of
from yellow_slope.core.words.spelling.numerals import bounded, estimate_decimals, fixed, interval, p_value, place
from yellow_slope.core.words.spelling.reasons import DASH
from yellow_slope.core.words.spelling.testtexts import written_cells

_BRACED = re.compile(r"\{([^{}\n]{1,300})\}")
MOST_OFFERED = 400


def with_figures(evaluation: Evaluation, text: str) -> str:
    """The text with every live figure in it; of one that is gone it is said."""
    if "{" not in text:
        return text
    known = {plain(name): value for name, value in live_figures(evaluation).items()}

    def told(match: re.Match[str]) -> str:
        asked = plain(match.group(1))
        if asked in known:
            return known[asked]
        return f"(there is no “{match.group(1).strip()}”)" if _is_asked(asked) else match.group()

    return _BRACED.sub(told, text)


def gone_figures(evaluation: Evaluation, text: str) -> list[str]:
    """The live figures of a text that there are not."""
    known = {plain(name) for name in live_figures(evaluation)} if "{" in text else set()
    asked = [match.group(1).strip() for match in _BRACED.finditer(text)]
    return [name for name in asked if plain(name) not in known and _is_asked(plain(name))]


def plain(name: str) -> str:
    """A name as it is looked for: without regard to case, blanks and the sign of multiplication."""
    return " ".join(name.replace("×", " x ").casefold().split())


OF_COLUMNS: dict[str, Callable[[Coefficient, int], str]] = {
    "b": lambda c, d: fixed(c.b, d),
    "ci": lambda c, d: DASH if math.isnan(c.low) else interval(c.low, c.high, d),
    "se": lambda c, d: fixed(c.se, d),
    "beta": lambda c, _: bounded(c.beta, 2),
    "t": lambda c, _: fixed(c.t, 2),
    "p": lambda c, _: p_value(c.p),
    "sr2": lambda c, _: bounded(c.sr2, 3),
}
"""Figures of a column, by the word that asks for them."""
OF_TESTS = ("F", "df", "p")
OF_STEPS = ("R2", "adjusted R2", "change")
OF_VARIABLES = ("mean", "sd")


def _is_asked(name: str) -> bool:
    """Whether a text in braces asks for a figure."""
    words = {*OF_COLUMNS, *(w.casefold() for w in (*OF_TESTS, *OF_STEPS, *OF_VARIABLES))}
    return any(name.startswith(f"{word} ") for word in words)


def live_figures(evaluation: Evaluation) -> dict[str, str]:
    """Every figure that can be asked for, by its name, as it is printed; at most so many as anybody reads through."""
    study, fit = evaluation.study, evaluation.fit
    found = {"n": f"{evaluation.cases.n:,}"}
    if not isinstance(fit, Fit):
        return found
    reported = study.model.reported_step
    step = fit.steps[reported]
    for term in dict.fromkeys(column.term for column in fit.design.columns[: step.n_columns]):
        columns = [j for j in fit.design.columns_of(term) if j < step.n_columns]
        name = _term_name(term)
        if len(columns) > 1:
            found |= _of_test(step.joint[term], name)
        for j in columns:
            own = (
                name if len(columns) == 1 else f"{name}: {', '.join(comparisons_of(study, fit, fit.design.columns[j]))}"
            )
            c = step.coefficient(j)
            d = estimate_decimals(c.se, c.b, c.low, c.high, least=study.report.decimals)
            for word, written in OF_COLUMNS.items():
                found.setdefault(f"{word} {own}", written(c, d))
        if len(found) > MOST_OFFERED:
            break
    for one in fit.steps:
        of = f" of step {one.index + 1}"
        found |= {
            f"R2{of}": bounded(one.r2, 2),
            f"adjusted R2{of}": bounded(one.adjusted_r2, 2),
            f"change{of}": bounded(one.change.r2, 2),
            **_of_test(one.change.test, of.strip()),
        }
    for name in study.model.variables:
        found |= _of_variable(study, fit, name)
    return found


def _term_name(term: Term) -> str:
    return " x ".join(term.variables)


def _of_test(test: FTest, of: str) -> dict[str, str]:
    f, df = written_cells(test)
    return {f"F {of}": f, f"df {of}": df, f"p {of}": p_value(test.p)}


def _of_variable(study: Study, fit: Fit, name: str) -> dict[str, str]:
    values = fit.y if name == study.model.outcome else fit.values.get(name)
    if values is None or values.dtype.kind != "f" or values.size < 2:
        return {}
    sd = float(values.std(ddof=1))
    return {f"mean {name}": place(float(values.mean()), sd), f"sd {name}": place(sd, sd)}
