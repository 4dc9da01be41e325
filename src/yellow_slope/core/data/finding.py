"""Looking through a table: in which order its cases are shown, and in which cells a text or a number stands."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import BoolArray, IntArray
from yellow_slope.core.data.columns import Columns
from yellow_slope.core.data.table import NumberColumn, Table, TextColumn
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.typed import typed_number
from yellow_slope.values import dataclass

CLOSE = 1e-9
"""Numbers this close, relative to their size, are the number that was typed."""


def sorted_rows(columns: Columns, table: Table, name: str, descending: bool = False) -> IntArray:
    """Shape (rows,): row numbers in the order of a variable's values; equal ones as in the file, missing ones last.

    Groups go by the order of their levels, texts by the alphabet.
    """
    variable = columns.variable(name)
    column = table.column(name) if name in table else None
    if variable.kind is Kind.GROUP:
        places = columns.levels(name).astype(np.float64)
        keys = np.where(places < 0, np.nan, places)
    elif isinstance(column, TextColumn):
        rank = np.empty(len(column.texts) + 1)
        rank[np.argsort([text.casefold() for text in column.texts], kind="stable")] = np.arange(len(column.texts))
        rank[-1] = np.nan
        keys = rank[column.codes]
    else:
        keys = columns.numbers(name)
    order = np.argsort(-keys if descending else keys, kind="stable")
    return np.asarray(order, dtype=np.int64)


@dataclass(frozen=True, slots=True)
class Finds:
    """In which rows of a column something stands."""

    variable: str
    rows: IntArray


def find_cells(columns: Columns, table: Table, variables: tuple[Variable, ...], wanted: str) -> tuple[Finds, ...]:
    """Where a text is part of a cell, its label or its code, whatever its case; or where a number stands.

    The cells are looked at as they were read: a stray text too.
    """
    text = wanted.strip().casefold()
    if not text:
        return ()
    number = typed_number(text)
    found = []
    for variable in variables:
        rows = np.flatnonzero(_stands(columns, table, variable, text, number))
        if rows.size:
            found.append(Finds(variable.name, rows))
    return tuple(found)


def _stands(columns: Columns, table: Table, variable: Variable, text: str, number: float | None) -> BoolArray:
    column = table.column(variable.name) if variable.name in table else None
    here = np.zeros(table.n_rows, dtype=bool)
    if isinstance(column, TextColumn):
        fits = [i for i, cell in enumerate(column.texts) if text in cell.casefold()]
        here |= np.isin(column.codes, fits)
    else:
        values = columns.numbers(variable.name) if column is None else column.numbers
        if number is not None:
            with np.errstate(invalid="ignore"):
                here |= np.abs(values - number) <= CLOSE * max(1.0, abs(number))
    if variable.kind is Kind.GROUP:
        levels = [i for i, level in enumerate(variable.levels) if text in level.label.casefold()]
        here |= np.isin(columns.levels(variable.name), levels)
    if isinstance(column, NumberColumn):
        for stray in column.stray:
            here[stray.row] |= text in stray.text.casefold()
    return here
