"""Edits of what a column is: numbers, groups, or left out."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellow_slope.core.data.variable import Kind, as_group, as_number
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.edits.entries import forget_entry
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace

LOOKED_AT = 20_000
"""Rows by which it is seen whether a number may be a code."""


MOST_GROUPS = 12
"""Above so many levels the program asks before a column becomes groups."""


@edit
def set_kind(study: Study, name: str, kind: Kind) -> Study:
    """Treat a column as numbers or as groups, or leave it out; how it entered is forgotten."""
    variable = replace(study.variable(name), otherwise=None)
    if kind is variable.kind:
        return change_variable(study, variable)
    if kind is Kind.GROUP:
        if name == study.model.outcome:
            raise StudyError(f"{variable.label} is the outcome, which must be a number.")
        new = as_group(variable, study.columns.column(name))
        if len(new.levels) < 2:
            raise StudyError(f"{variable.label} has fewer than two different values; it cannot form groups.")
        return change_variable(forget_entry(study, name), new)
    if kind is Kind.NUMBER:
        return change_variable(forget_entry(study, name), as_number(variable, study.columns.column(name)))
    if name == study.model.outcome:
        raise StudyError(f"{variable.label} is the outcome; choose another outcome first.")
    return change_variable(forget_entry(study, name), replace(variable, kind=kind))


@edit
def name_codes(study: Study, name: str, labels: Sequence[str]) -> Study:
    """A number is a code: its values are groups with these names, in order of size."""
    return name_levels(set_kind(study, name, Kind.GROUP), name, labels)


def may_be_code(study: Study, name: str) -> bool:
    """Whether a number has so few values, all whole, that they could be codes of groups; by its first rows, so that it
    is cheap."""
    some = np.unique(study.columns.numbers(name)[:LOOKED_AT])
    some = some[~np.isnan(some)]
    return bool(2 <= some.size <= MOST_GROUPS and np.all(some == np.rint(some)))


def levels_to_be(study: Study, name: str) -> int:
    """How many levels the column would have as groups."""
    return len(as_group(study.variable(name), study.columns.column(name)).levels)
