"""Cells of a number column that are no numbers: they count as missing until something else is said."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.data.table import NumberColumn, Stray
from yellow_slope.core.fit.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study import descriptions
from yellow_slope.core.study.study import FlagKey, FlagKind, Study
from yellow_slope.core.words.numerals import counted, listed


def stray_cells(evaluation: Evaluation) -> Iterator[Flag]:
    """Columns of numbers with cells that are none, and of which nothing was said."""
    study = evaluation.study
    for variable in study.variables:
        if variable.name not in study.table or not variable.kind.enters:
            continue
        column = study.table.column(variable.name)
        if not isinstance(column, NumberColumn) or not column.stray:
            continue
        settled = {*variable.missing, *(text for text, _ in variable.given)}
        open_ = [stray for stray in column.stray if stray.text not in settled]
        if open_:
            title = f"{counted(len(open_), 'cell')} of {variable.label} {'is' if len(open_) == 1 else 'are'} no number"
            key = FlagKey(FlagKind.STRAY, (variable.name,))
            yield Flag(key, title, partial(_told, study, variable.name, open_), variable=variable.name)


def _told(study: Study, name: str, strays: list[Stray]) -> tuple[str, tuple[Remedy, ...]]:
    texts = list(dict.fromkeys(stray.text for stray in strays))
    cells = [f"“{text}” in {_rows([s.row + 1 for s in strays if s.text == text])}" for text in texts[:4]]
    more = f" and {len(texts) - 4} others" if len(texts) > 4 else ""
    label = study.variable(name).label
    cost = f"In {label} stands {listed(cells)}{more}. All other filled cells are numbers; these count as missing."

    def settle(now: Study) -> Study:
        for text in texts:
            now = descriptions.declare_missing(now, (name,), text)
        return now

    return cost, (Remedy("They are missing", settle),)


def _rows(rows: list[int]) -> str:
    shown = ", ".join(str(row) for row in rows[:4]) + (" …" if len(rows) > 4 else "")
    return f"row{'s' if len(rows) > 1 else ''} {shown}"
