"""The same study on another reading of its table: the model stays, and what is new, gone or different is said."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.data.guessing import guessed_variable
from yellow_slope.core.data.source import Source
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Table
from yellow_slope.core.data.variable import Kind, Variable, found_levels
from yellow_slope.core.study.gone import Gone, What
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import whole
from yellow_slope.values import dataclass, replace


@dataclass(frozen=True, slots=True)
class Reread:
    """What another reading brought."""

    new: tuple[str, ...] = ()
    gone: tuple[str, ...] = ()
    different: tuple[str, ...] = ()
    """Columns of which a cell differs, or that are of another kind."""
    rows: int = 0
    """How many rows more, or fewer where negative."""
    dropped: tuple[Gone, ...] = ()
    """What could not stay."""


def with_table(study: Study, table: Table, source: Source) -> tuple[Study, Reread]:
    """The study on the table, and what that changed. Descriptions, models and samples stay as far as their columns
    do."""
    old = {c.name: c for c in study.table.columns}
    new = tuple(name for name in table.names if name not in old)
    gone = tuple(name for name in old if name not in table)
    different = tuple(name for name in table.names if name in old and not _same(old[name], table.column(name)))
    names = {d.name for d in study.derived}
    derived = tuple(d for d in study.derived if d.name not in table)
    variables = (
        *(_variable(study, column, names) for column in table.columns),
        *(study.variable(d.name) for d in derived),
    )
    dropped = [Gone(What.REPLACED, (d.name,)) for d in study.derived if d.name in table]
    samples = study.samples
    if table.n_rows != study.table.n_rows:  # cases are known by their rows: another number of rows makes them others
        dropped += [Gone(What.CASES, (sample.name,)) for sample in samples if sample.aside]
        samples = tuple(replace(sample, aside=()) for sample in samples)
    moved = replace(study, table=table, variables=variables, source=source, derived=derived, samples=samples, went=())
    found, went = whole(moved)
    dropped += went
    rows = table.n_rows - study.table.n_rows
    return found, Reread(new, gone, different, rows, tuple(dropped))


def _variable(study: Study, column: Column, derived: set[str]) -> Variable:
    """What is known of a column, where it still fits; else what it seems to be."""
    guess = guessed_variable(column)
    before = next((v for v in study.variables if v.name == column.name and v.name not in derived), None)
    if before is None:
        return guess
    was = study.table.column(column.name) if column.name in study.table else None
    if type(was) is not type(column):
        return replace(guess, label=before.label, short_label=before.short_label)
    if before.kind is not Kind.GROUP:
        return before
    known = {code for level in before.levels for code in level.codes}
    more = tuple(level for level in found_levels(column, before.missing) if level.code not in known)
    return replace(before, levels=(*before.levels, *more))


def _same(one: Column, other: Column) -> bool:
    if type(one) is not type(other) or len(one) != len(other):
        return type(one) is type(other) and len(one) != len(
            other
        )  # rows are counted for the table, not for each column
    if isinstance(one, (NumberColumn, DateColumn)) and isinstance(other, (NumberColumn, DateColumn)):
        return bool(np.array_equal(one.numbers, other.numbers, equal_nan=True))
    return all(one.text(row) == other.text(row) for row in range(len(one)))
