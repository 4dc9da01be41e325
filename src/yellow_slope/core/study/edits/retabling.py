"""The same study on another reading of its table: the model stays, and what is new, gone or different is said."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from types import MappingProxyType

import numpy as np

from yellow_slope.core.data.conditions import holds, variables_in
from yellow_slope.core.data.derived import Derived, sources_of
from yellow_slope.core.data.guessing import guessed_variable
from yellow_slope.core.data.source import Source
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Table
from yellow_slope.core.data.variable import Kind, Variable, found_levels
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.standarderrors import Classical, cluster_id
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import tidied


@dataclass(frozen=True, slots=True)
class Change:
    """What another reading brought."""

    new: tuple[str, ...] = ()
    gone: tuple[str, ...] = ()
    different: tuple[str, ...] = ()
    """Columns of which a cell differs, or that are of another kind."""
    rows: int = 0
    """How many rows more, or fewer where negative."""
    dropped: tuple[str, ...] = ()
    """Terms, samples and computed variables that could not stay."""


def with_table(study: Study, table: Table, source: Source) -> tuple[Study, Change]:
    """The study on the table, and what that changed. Descriptions, models and samples stay as far as their columns do."""
    old = {c.name: c for c in study.table.columns}
    new = tuple(name for name in table.names if name not in old)
    gone = tuple(name for name in old if name not in table)
    different = tuple(name for name in table.names if name in old and not _same(old[name], table.column(name)))
    derived_names = {d.name for d in study.derived}
    variables = [_variable(study, column, derived_names) for column in table.columns]
    dropped: list[str] = []
    kept = [d for d in study.derived if d.name not in table]
    known = set(table.names)
    dropped += [f"the computed {d.name}, of which the file has a column now" for d in study.derived if d.name in table]
    derived: list[Derived] = []
    for one in kept:
        candidate = Study(table, (*variables, study.variable(one.name)), derived=(*derived, one))
        if set(sources_of(one.expression)) <= known and _can(lambda c=candidate, n=one.name: c.columns.numbers(n)):  # type: ignore[misc]
            derived.append(one)
            known.add(one.name)
            variables.append(study.variable(one.name))
        else:
            dropped.append(one.name)
    kinds = {v.name: v.kind for v in variables}
    bare = Study(table, tuple(variables), study.name, source, tuple(derived))
    samples = tuple(
        s for s in study.samples
        if s.rule is None
        or (set(variables_in(s.rule)) <= known and _can(lambda r=s.rule: holds(r, bare.columns)))  # type: ignore[misc]
    )  # fmt: skip
    dropped += [s.name for s in study.samples if s not in samples]
    # Cases set aside are known by their rows: another number of rows makes them others.
    if table.n_rows != study.table.n_rows:
        dropped += [f"cases set aside in “{s.name}”" for s in samples if s.aside]
        samples = tuple(replace(s, aside=()) for s in samples)
    models = []
    for model in study.models:
        fits = {name for name, kind in kinds.items() if kind.enters}
        blocks = []
        for block in model.blocks:
            terms = tuple(t for t in block.terms if set(t.variables) <= fits and model.outcome not in t.variables)
            dropped += [t.text(lambda name: name) for t in block.terms if t not in terms]
            if terms:
                blocks.append(replace(block, terms=terms))
        outcome = model.outcome if kinds.get(model.outcome or "") is Kind.NUMBER else None
        if outcome is None and model.outcome is not None:
            dropped.append(f"the outcome {model.outcome}")
        sample = model.sample if model.sample in {s.name for s in samples} else None
        errors = model.errors
        clustered = cluster_id(errors)
        if clustered is not None and clustered not in known:
            dropped.append(f"errors clustered by {clustered}")
            errors = Classical()
        if model.by is not None and kinds.get(model.by) is not Kind.GROUP:
            dropped.append(f"one model per group of {model.by}")
        entries = {n: e for n, e in model.entries.items() if kinds.get(n) is _kind_before(study, n)}
        models.append(
            replace(
                model,
                blocks=tuple(blocks),
                outcome=outcome,
                sample=sample,
                errors=errors,
                entries=MappingProxyType(entries),
            )
        )
    steps = {block.id for model in models for block in model.blocks}
    probes = tuple(p for p in study.probes if {p.focal, p.moderator} <= known and (p.step is None or p.step in steps))
    if len(probes) < len(study.probes):
        dropped.append("a question to Probe")
    found = replace(
        bare, samples=samples, models=tuple(models), current=study.current, probes=probes, dismissals=study.dismissals
    )
    rows = table.n_rows - study.table.n_rows
    return tidied(found), Change(new, gone, different, rows, tuple(dict.fromkeys(dropped)))


def _can(compute: Callable[[], object]) -> bool:
    """Whether something can still be computed: a number may have become texts."""
    try:
        compute()
    except StudyError:
        return False
    return True


def _kind_before(study: Study, name: str) -> Kind | None:
    return next((v.kind for v in study.variables if v.name == name), None)


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
