"""Edits of what is known about the columns: kinds, labels, units, levels, missing codes, derived variables."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from types import MappingProxyType

from yellow_slope.core.data.derived import Derived, GroupMean, RowMean, parsed, sources_of
from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.data.variable import Kind, Level, Variable, as_group, as_number
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits import change_model, take_out
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Treatment

MOST_GROUPS = 12
"""Above so many levels the program asks before a column becomes groups."""


def change_variable(study: Study, new: Variable) -> Study:
    """The study with one description replaced."""
    if study.variable(new.name) == new:
        return study
    return replace(study, variables=tuple(new if v.name == new.name else v for v in study.variables))


def set_kind(study: Study, name: str, kind: Kind) -> Study:
    """Treat a column as numbers or as groups, or leave it out. A treatment that no longer fits is dropped."""
    variable = study.variable(name)
    if kind is variable.kind:
        return study
    derived = name in {d.name for d in study.derived}
    if kind is Kind.GROUP:
        if name == study.model.outcome:
            raise StudyError(f"{variable.label} is the outcome, which must be a number.")
        if derived:
            raise StudyError(f"{variable.label} is computed; it cannot form groups.")
        new = as_group(variable, study.table.column(name))
        if len(new.levels) < 2:
            raise StudyError(f"{variable.label} has fewer than two different values; it cannot form groups.")
        squares = [term for term in study.model.terms if term.variables.count(name) > 1]
        return take_out(_without_entry(change_variable(study, new), name), squares)
    if kind is Kind.NUMBER:
        return _without_entry(change_variable(study, as_number(variable, study.table.column(name))), name)
    if name == study.model.outcome:
        raise StudyError(f"{variable.label} is the outcome; choose another outcome before it is left out.")
    out = [term for term in study.model.terms if name in term.variables]
    return take_out(_without_entry(change_variable(study, replace(variable, kind=kind)), name), out)


def _without_entry(study: Study, name: str) -> Study:
    if name not in study.model.entries:
        return study
    entries = {n: e for n, e in study.model.entries.items() if n != name}
    return change_model(study, entries=MappingProxyType(entries))


def levels_to_be(study: Study, name: str) -> int:
    """How many levels the column would have as groups."""
    return len(as_group(study.variable(name), study.table.column(name)).levels)


def describe(study: Study, name: str, *, label: str | None = None, unit: str | None = None) -> Study:
    """Give a variable a label or a unit."""
    variable = study.variable(name)
    if label is not None and label.strip() != variable.label:
        variable = replace(variable, label=label.strip() or name, short_label="")
    if unit is not None and unit.strip() != variable.unit:
        variable = replace(variable, unit=unit.strip(), units="")
    return change_variable(study, variable)


def name_level(study: Study, name: str, code: str, label: str) -> Study:
    """Give a level a label."""
    variable = study.variable(name)
    level = variable.level(code)
    named = Level(level.codes, label.strip() or level.code)
    return change_variable(study, replace(variable, levels=tuple(named if x == level else x for x in variable.levels)))


def name_levels(study: Study, name: str, labels: Sequence[str]) -> Study:
    """Give all levels their labels in one entry, in the order of the levels."""
    variable = study.variable(name)
    given = [label.strip() for label in labels if label.strip()]
    if len(given) != len(variable.levels):
        codes = ", ".join(level.code for level in variable.levels)
        raise StudyError(
            f"{variable.label} has {len(variable.levels)} levels ({codes}); {len(given)} names were given. "
            "Type one name for each, with commas between them."
        )
    if len({text.casefold() for text in given}) < len(given):
        raise StudyError("Two levels cannot have the same name.")
    levels = tuple(Level(level.codes, label) for level, label in zip(variable.levels, given))
    return change_variable(study, replace(variable, levels=levels))


def declare_missing(study: Study, names: Sequence[str], code: str) -> Study:
    """Count a code or a text as missing in several columns at once."""
    for name in names:
        variable = study.variable(name)
        if code not in variable.missing:
            levels = tuple(level for level in variable.levels if set(level.codes) != {code})
            study = change_variable(study, replace(variable, missing=(*variable.missing, code), levels=levels))
    return study


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


def derive(study: Study, name: str, text: str) -> Study:
    """Add a variable that is computed from others, as in “(item01 + item02) / 2”."""
    name = name.strip()
    if not name or name in {v.name for v in study.variables}:
        raise StudyError(f"“{name}” is no new name: the study has a variable of that name." if name else "Name it.")
    expression = parsed(text, [v.name for v in study.variables])
    numbers = set(sources_of(expression))
    if isinstance(expression, GroupMean):
        numbers -= {expression.by}
        if study.variable(expression.by).kind is not Kind.GROUP:
            raise StudyError(f"{study.variable(expression.by).label} is no group variable.")
    if isinstance(expression, RowMean) and not 1 <= expression.at_least <= len(expression.names):
        raise StudyError(f"Of {len(expression.names)} variables {expression.at_least} cannot be asked for.")
    for source in numbers:
        study.columns.numbers(source)
    return replace(
        study,
        derived=(*study.derived, Derived(name, expression)),
        variables=(*study.variables, Variable(name, Kind.NUMBER, name.replace("_", " "))),
    )


def label_edit(name: str, label: str) -> Callable[[Study], Study]:
    """The edit that gives a variable a label."""
    return lambda study: describe(study, name, label=label)


def unit_edit(name: str, unit: str) -> Callable[[Study], Study]:
    """The edit that gives a variable a unit."""
    return lambda study: describe(study, name, unit=unit)


def keeps_reference(study: Study, name: str) -> bool:
    """Whether somebody chose the reference group, or a coding that needs none."""
    coding = study.model.coding(name)
    return not isinstance(coding, Dummy) or coding.reference is not None


def is_treated(study: Study, name: str) -> bool:
    """Whether something was said of how a number enters."""
    return isinstance(study.model.entries.get(name), Treatment)
