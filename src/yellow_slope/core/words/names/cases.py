"""What a case is called: its row, and what the table itself tells it apart by."""

from __future__ import annotations

import weakref

from yellow_slope.core.data.table import Column, TextColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.study import Study

_apart: weakref.WeakKeyDictionary[Column, bool] = weakref.WeakKeyDictionary()


def case_name(study: Study, row: int) -> str:
    """“row 116 (learner 116)”; without a column that tells cases apart its row alone. row: counted from 0."""
    said = f"row {row + 1}"
    for variable in study.variables:
        if variable.kind not in (Kind.IDENTIFIER, Kind.TEXT) or variable.name not in study.table:
            continue
        column = study.table.column(variable.name)
        if column.text(row) and _tells_apart(column):
            return f"{said} ({variable.label} {column.text(row)})"
    return said


def _tells_apart(column: Column) -> bool:
    """Whether every row has a value of its own."""
    if column not in _apart:
        if isinstance(column, TextColumn):
            _apart[column] = len(column.texts) == len(column) and bool((column.codes >= 0).all())
        else:
            _apart[column] = bool(column.present.all()) and len(set(column.numbers.tolist())) == len(column)
    return _apart[column]
