"""Cells of a number column that are no numbers: they count as missing until something else is said."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.data.table import NumberColumn, Stray
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy, together
from yellow_slope.core.study.edits.descriptions import declare_missing
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import counted, listed

MOST_TOLD = 3
"""Columns whose strays are told one by one."""


def stray_cells(evaluation: Evaluation) -> Iterator[Flag]:
    """Columns of numbers with cells that are none, and of which nothing was said; one flag for all of them."""
    study = evaluation.study
    found: dict[str, list[Stray]] = {}
    for variable in study.variables:
        if variable.name not in study.table or not variable.kind.enters:
            continue
        column = study.table.column(variable.name)
        if not isinstance(column, NumberColumn) or not column.stray:
            continue
        settled = {*variable.missing, *(text for text, _ in variable.given)}
        open_ = [stray for stray in column.stray if stray.text not in settled]
        if open_:
            found[variable.name] = open_
    for about in together(study, FlagKind.STRAY, list(found)):
        here = {name: found[name] for name in about if name in found}
        n = sum(len(strays) for strays in here.values())
        names = list(here)
        where = study.variable(names[0]).label if len(names) == 1 else counted(len(names), "column")
        title = f"{counted(n, 'cell')} of {where} {'is not a number' if n == 1 else 'are not numbers'}"
        key = FlagKey(FlagKind.STRAY, about)
        yield Flag(key, title, partial(_told, study, here), variable=names[0], also=tuple(names[1:]))


def _told(study: Study, found: dict[str, list[Stray]]) -> tuple[str, tuple[Remedy, ...]]:
    said = [_in_column(study, name, strays) for name, strays in list(found.items())[:MOST_TOLD]]
    if len(found) > MOST_TOLD:
        rest = [study.variable(name).label for name in list(found)[MOST_TOLD : MOST_TOLD + 6]]
        others = " and others" if len(found) > MOST_TOLD + 6 else ""
        said.append(f"There are more in {listed(rest)}{others}.")
    cost = f"{' '.join(said)} All other filled cells are numbers; these count as missing."

    def settle(now: Study) -> Study:
        for name, strays in found.items():
            for text in dict.fromkeys(stray.text for stray in strays):
                now = declare_missing(now, (name,), text)
        return now

    return cost, (Remedy("Count them as missing", settle),)


def _in_column(study: Study, name: str, strays: list[Stray]) -> str:
    texts = list(dict.fromkeys(stray.text for stray in strays))
    cells = [f"“{text}” in {_rows([s.row + 1 for s in strays if s.text == text])}" for text in texts[:4]]
    more = f" and {len(texts) - 4} others" if len(texts) > 4 else ""
    return f"{study.variable(name).label} contains {listed(cells)}{more}."


def _rows(rows: list[int]) -> str:
    shown = ", ".join(str(row) for row in rows[:4]) + (" …" if len(rows) > 4 else "")
    return f"row{'s' if len(rows) > 1 else ''} {shown}"
