"""Which cases count: the sample rule, then completeness on every variable of the last step; and what costs which."""

from __future__ import annotations

import weakref

import numpy as np

from yellow_slope.core.arrays import BoolArray, IntArray
from yellow_slope.core.data.conditions import holds
from yellow_slope.core.data.numbers import MOST_SETS
from yellow_slope.core.data.table import Table
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.design.axis import axis_over
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import cluster_id
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import WithinGroups
from yellow_slope.values import dataclass

_row_sets: weakref.WeakKeyDictionary[Table, list[IntArray]] = weakref.WeakKeyDictionary()
"""The last sets of cases of a table."""


@dataclass(frozen=True, slots=True)
class Lost:
    """Cases of the sample lost by one variable: missing there at all, missing there only, undefined after
    transforming."""

    variable: str
    any: int
    only: int
    undefined: int = 0


@dataclass(frozen=True, slots=True, eq=False)
class Cases:
    """The model's cases, the same in all steps."""

    n_table: int
    n_outside: int
    """Cases that the sample rule leaves out."""
    n_aside: int
    """Cases set aside by hand, among those the rule leaves in."""
    rows: IntArray
    """Shape (n,): row numbers of the cases in use, from 0."""
    lost: tuple[Lost, ...]

    @property
    def n(self) -> int:
        """Number of cases in use."""
        return int(self.rows.size)

    @property
    def n_lost(self) -> int:
        """Number of cases left out for missing values."""
        return self.n_table - self.n_outside - self.n_aside - self.n

    @property
    def is_whole(self) -> bool:
        """Whether every case of the table counts."""
        return self.n == self.n_table


def needed(model: Model) -> tuple[str, ...]:
    """Variables on which a case must have a value: outcome, predictors, what they are centered within, the cluster
    id."""
    names = dict.fromkeys(model.variables)
    for name in model.variables:
        zero = model.treatment(name).zero
        if isinstance(zero, WithinGroups):
            names[zero.of] = None
    clustered = cluster_id(model.errors)
    if clustered is not None:
        names[clustered] = None
    return tuple(names)


def has_value(study: Study, model: Model, name: str) -> tuple[BoolArray, int]:
    """Shape (rows,): where a model can use the variable; and how many values its transformations leave undefined."""
    here = study.columns.present(name)
    variable = study.variable(name)
    transforms = model.treatment(name).transforms
    if variable.kind is not Kind.NUMBER or not transforms or name == model.outcome:
        return here, 0
    numbers = study.columns.numbers(name)
    defined = ~np.isnan(axis_over(transforms, variable.limits or (0.0, 0.0), numbers).forward(numbers))
    return here & defined, int(np.sum(here & ~defined))


def cases_of(study: Study, model: Model) -> Cases:
    """Sample rule and cases set aside first, then listwise the cases complete on every variable of the model."""
    n = study.table.n_rows
    sample = study.sample_of(model)
    inside = holds(sample.rule, study.columns) if sample and sample.rule else np.ones(n, dtype=bool)
    n_outside = int(n - inside.sum())
    for aside in sample.aside if sample else ():
        there = np.zeros(n, dtype=bool)
        there[[row for row in aside.rows if row < n]] = True
        inside = inside & ~there
    n_aside = int(n - n_outside - inside.sum())
    absent: list[tuple[str, BoolArray, int]] = []
    n_absent = np.zeros(n, dtype=np.int32)
    for name in needed(model):
        here, undefined = has_value(study, model, name)
        if not here.all():
            gone = ~here & inside
            absent.append((name, gone, undefined))
            n_absent += gone
    lost = tuple(
        Lost(name, int(gone.sum()), int((gone & (n_absent == 1)).sum()), undefined)
        for name, gone, undefined in absent
        if gone.any()
    )
    rows = _same_rows(study.table, np.flatnonzero(inside & (n_absent == 0)).astype(np.int64))
    return Cases(n, n_outside, n_aside, rows, lost)


def _same_rows(table: Table, rows: IntArray) -> IntArray:
    """Rows (n,) as the object that stood for them before, if one did: what was found of these cases is known by it."""
    known = _row_sets.setdefault(table, [])
    for other in known:
        if np.array_equal(other, rows):
            return other
    rows.setflags(write=False)
    known.insert(0, rows)
    del known[MOST_SETS:]
    return rows
