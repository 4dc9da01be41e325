"""In words: what a column seems to be and why, its figures, and what it costs and is in the model."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.data.guessing import guess
from yellow_slope.core.data.table import TextColumn, number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.fit.asked.summaries import NumberSummary
from yellow_slope.core.fit.design.codes import effective_reference
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import variables_of
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.numerals import MINUS, counted, fixed, listed, listed_some, place

KINDS = {
    Kind.NUMBER: "a number",
    Kind.GROUP: "groups",
    Kind.DATE: "dates",
    Kind.IDENTIFIER: "an identifier",
    Kind.TEXT: "free texts",
}


def kind_reason(study: Study, variable: Variable) -> str:
    """Why a column was taken for what it is, or what it seemed to be before somebody said otherwise."""
    if variable.name not in study.table:
        return "Computed from other columns."
    column = study.table.column(variable.name)
    found = guess(column)
    if found.variable.kind is variable.kind:
        if isinstance(column, TextColumn) or variable.kind is not Kind.GROUP:
            return f"{KINDS[variable.kind].capitalize()}: {found.reason}."
        values = len(variable.levels)
        return f"Groups: {found.reason}." if values == 2 else f"Groups: {values} different values."
    return f"It seemed to be {KINDS[found.variable.kind]}: {found.reason}."


def number_rows(summary: NumberSummary) -> list[tuple[str, str]]:
    """A number's figures, name and value."""
    sd = summary.sd if np.isfinite(summary.sd) else 1.0
    rows = [("cases", f"{summary.n:,}"), ("missing", f"{summary.gaps:,}")]
    if not summary.n:
        return rows
    first, middle, third = summary.quartiles
    rows += [("mean", place(summary.mean, sd)), ("SD", place(sd, sd) if np.isfinite(summary.sd) else "–")]
    rows += [("median", place(middle, sd)), ("quartiles", f"{place(first, sd)} to {place(third, sd)}")]
    rows += [("range", f"{place(summary.low, sd)} to {place(summary.high, sd)}")]
    return [*rows, ("skewness", fixed(summary.skewness, 2) if np.isfinite(summary.skewness) else "–")]


def apart_name(apart: tuple[tuple[float, int], ...]) -> str:
    """The values that may be codes for missing."""
    return listed([number_text(value).replace("-", MINUS) for value, _ in apart])


def drawn_without(apart: tuple[tuple[float, int], ...]) -> str:
    """“drawn without 999 (3 cases)”; empty where nothing may be such a code."""
    cases = counted(sum(n for _, n in apart), "case")
    return f"drawn without {apart_name(apart)} ({cases})" if apart else ""


def costs(study: Study, evaluation: Evaluation, name: str) -> list[str]:
    """What the column's gaps cost the model, and where it stands in it."""
    out: list[str] = []
    lost = next((x for x in evaluation.cases.lost if x.variable == name), None)
    if lost is not None:
        if lost.only == lost.any:
            out.append(
                f"{counted(lost.any, 'case')} {'is' if lost.any == 1 else 'are'} "
                "excluded from the model for missing only this."
            )
        else:
            out.append(
                f"{counted(lost.any, 'case')} {'is' if lost.any == 1 else 'are'} excluded from the model for missing "
                f"this, {lost.only} of them for missing only this."
            )
    if name == study.model.outcome:
        out.append("The outcome of the model.")
    elif name in variables_of(study.model.terms):
        blocks = study.model.blocks
        where = [
            f"{listed_some([label(study, t) for t in block.terms if name in t.variables], 4)} in block {i}"
            for i, block in enumerate(blocks, 1)
            if any(name in t.variables for t in block.terms)
        ]
        out.append(f"In the model: {'; '.join(where)}.")
    return out


def reference_moved(before: Study, after: Study, name: str) -> str:
    """What another order of the levels did to the reference that nobody chose; empty where nothing."""
    if name not in {n for term in after.model.terms for n in term.variables}:
        return ""
    was, now = (_default_reference(study, name) for study in (before, after))
    return f"The reference, set by default, is now “{now}”." if was is not None and now != was else ""


def _default_reference(study: Study, name: str) -> str | None:
    coding, levels = study.model.coding(name), study.variable(name).levels
    if not isinstance(coding, Dummy) or coding.reference is not None or not levels:
        return None
    return levels[effective_reference(coding, [level.code for level in levels])].label
