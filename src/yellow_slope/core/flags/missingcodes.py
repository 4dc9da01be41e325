"""Numbers that may be codes for missing; the same code in several columns is one flag."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from yellow_slope.core.data.missingcodes import Suspect, suspects
from yellow_slope.core.data.table import NumberColumn, number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.descriptions import declare_missing
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import MINUS, counted, listed, place


def codes_for_missing(evaluation: Evaluation) -> Iterator[Flag]:
    """Round numbers far from all others, in any column."""
    study = evaluation.study
    by_code: dict[float, list[tuple[Variable, Suspect]]] = {}
    for variable in study.variables:
        if variable.name not in study.table or variable.kind is not Kind.NUMBER:
            continue
        column = study.table.column(variable.name)
        if not isinstance(column, NumberColumn):
            continue
        for suspect in suspects(column, variable.missing):
            by_code.setdefault(suspect.value, []).append((variable, suspect))
    for code, where in by_code.items():
        names = tuple(variable.name for variable, _ in where)
        text = number_text(code).replace("-", MINUS)
        times = sum(suspect.count for _, suspect in where)
        spot = where[0][0].label if len(names) == 1 else counted(len(names), "column")
        title = f"{text} occurs {_times(times)} in {spot}: a code for missing?"
        key = FlagKey(FlagKind.MISSING_CODE, names, number_text(code))
        yield Flag(key, title, lambda w=where, c=code: _told(study, c, w), variable=names[0], also=names[1:])  # type: ignore[misc]


def _times(n: int) -> str:
    return {1: "once", 2: "twice"}.get(n, f"{n} times")


def _told(study: Study, code: float, where: list[tuple[Variable, Suspect]]) -> tuple[str, tuple[Remedy, ...]]:
    text = number_text(code).replace("-", MINUS)
    told: list[str] = []
    for variable, suspect in where[:3]:
        values = study.columns.numbers(variable.name)
        here = values[~np.isnan(values)]
        rest = here[here != code]
        sd = float(rest.std())
        told.append(
            f"{variable.label} has {text} {_times(suspect.count)}; all other values run from {place(suspect.low, sd)} "
            f"to {place(suspect.high, sd)}. Its mean is {place(float(here.mean()), sd)} with it and "
            f"{place(float(rest.mean()), sd)} without."
        )
    if len(where) > 3:
        told.append(
            f"It also occurs in {listed([v.label for v, _ in where[3:9]])}{' and others' if len(where) > 9 else ''}."
        )
    names = tuple(variable.name for variable, _ in where)

    def declare(now: Study) -> Study:
        return declare_missing(now, names, number_text(code))

    label = f"Count {text} as missing" + (f" in {len(names)} columns" if len(names) > 1 else "")
    return " ".join(told), (Remedy(label, declare),)
