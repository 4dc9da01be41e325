"""Edits of what is known about the columns: labels, units, reliability, codes for missing, values of stray cells."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Treatment
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


@edit
def change_variable(study: Study, new: Variable) -> Study:
    """The study with one description replaced."""
    if study.variable(new.name) == new:
        return study
    return replace(study, variables=tuple(new if v.name == new.name else v for v in study.variables))


@edit
def describe(study: Study, name: str, *, label: str | None = None, unit: str | None = None) -> Study:
    """Give a variable a label or a unit."""
    variable = study.variable(name)
    if label is not None and label.strip() != variable.label:
        variable = replace(variable, label=label.strip() or name, short_label="")
    if unit is not None and unit.strip() != variable.unit:
        variable = replace(variable, unit=unit.strip(), units="")
    return change_variable(study, variable)


@edit
def set_reliability(study: Study, name: str, value: float | None) -> Study:
    """Say how reliable a scale is; None: not known. StudyError outside of 0 to 1, or for what is no number."""
    variable = study.variable(name)
    if variable.kind is not Kind.NUMBER:
        raise StudyError(f"{variable.label} is {variable.kind.one}; only a scale of numbers has a reliability.")
    if value is not None and not 0 < value <= 1:
        raise StudyError(f"The reliability of {variable.label} lies between 0 and 1, not at {value:g}.")
    return study if value == variable.reliability else change_variable(study, replace(variable, reliability=value))


@edit
def declare_missing(study: Study, names: Sequence[str], code: str) -> Study:
    """Count a code or a text as missing in several columns at once."""
    for name in names:
        variable = study.variable(name)
        if code not in variable.missing:
            levels = tuple(level for level in variable.levels if set(level.codes) != {code})
            study = change_variable(study, replace(variable, missing=(*variable.missing, code), levels=levels))
    return study


@edit
def give_value(study: Study, name: str, text: str, value: float | None) -> Study:
    """Give stray cells of that text a value; None takes it back."""
    variable = study.variable(name)
    column = study.table.column(name) if name in study.table else None
    if not isinstance(column, NumberColumn) or text not in {stray.text for stray in column.stray}:
        raise StudyError(f"{variable.label} has no stray cell “{text}”.")
    given = {t: v for t, v in variable.given if t != text}
    if value is not None:
        given[text] = value
    return change_variable(study, replace(variable, given=tuple(given.items())))


def label_edit(name: str, label: str) -> Callable[[Study], Study]:
    """The edit that gives a variable a label."""
    return lambda study: describe(study, name, label=label)


def unit_edit(name: str, unit: str) -> Callable[[Study], Study]:
    """The edit that gives a variable a unit."""
    return lambda study: describe(study, name, unit=unit)


def is_treated(study: Study, name: str) -> bool:
    """Whether something was said of how a number enters."""
    return isinstance(study.model.entries.get(name), Treatment)
