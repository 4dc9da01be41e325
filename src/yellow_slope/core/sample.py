"""Which cases count: those complete on every variable of the last step, and which variable costs which."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yellow_slope.core.study import Study
from yellow_slope.core.table import BoolArray, IntArray
from yellow_slope.core.terms import variables_of
from yellow_slope.core.variable import Kind, level_indices, present_values


@dataclass(frozen=True, slots=True)
class Lost:
    """Cases lost by one variable: missing there at all, and missing there only."""

    variable: str
    any: int
    only: int


@dataclass(frozen=True, slots=True, eq=False)
class Sample:
    """The model's cases, the same in all steps."""

    n_table: int
    rows: IntArray
    """Shape (n,): row numbers of the cases in use, from 0."""
    lost: tuple[Lost, ...]

    @property
    def n(self) -> int:
        """Number of cases in use."""
        return int(self.rows.size)

    @property
    def n_lost(self) -> int:
        """Number of cases left out."""
        return self.n_table - self.n


def model_variables(study: Study) -> tuple[str, ...]:
    """Outcome and all variables of the last step."""
    names = variables_of(study.terms)
    return (study.outcome, *names) if study.outcome else names


def has_value(study: Study, name: str) -> BoolArray:
    """Shape (rows,): where the variable has a value that a model can use."""
    variable, column = study.variable(name), study.table.column(name)
    if variable.kind is Kind.GROUP:
        return level_indices(column, variable) >= 0
    return present_values(column, variable)


def model_sample(study: Study) -> Sample:
    """Listwise: the cases complete on every variable of the model."""
    names = model_variables(study)
    n = study.table.n_rows
    if not names:
        return Sample(n, np.arange(n, dtype=np.int64), ())
    absent = np.column_stack([~has_value(study, name) for name in names])
    n_absent = absent.sum(axis=1)
    lost = tuple(
        Lost(name, int(absent[:, j].sum()), int((absent[:, j] & (n_absent == 1)).sum()))
        for j, name in enumerate(names)
        if absent[:, j].any()
    )
    return Sample(n, np.flatnonzero(n_absent == 0).astype(np.int64), lost)
