"""Edits of what is known about the columns: kinds, labels, units, levels, missing codes, derived variables."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from types import MappingProxyType

from yellow_slope.core.data.columns import computed_column
from yellow_slope.core.data.conditions import variables_in
from yellow_slope.core.data.derived import Derived, Expression, limits_of, sources_of, unit_of
from yellow_slope.core.data.formula import read_expression
from yellow_slope.core.data.guessing import guessed_variable
from yellow_slope.core.data.table import Column, NumberColumn
from yellow_slope.core.data.variable import Kind, Level, Variable, as_group, as_number
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits import change_model, take_out, tidied
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
    if kind is Kind.GROUP:
        if name == study.model.outcome:
            raise StudyError(f"{variable.label} is the outcome, which must be a number.")
        new = as_group(variable, column_of(study, name))
        if len(new.levels) < 2:
            raise StudyError(f"{variable.label} has fewer than two different values; it cannot form groups.")
        squares = [term for term in study.model.terms if term.variables.count(name) > 1]
        return take_out(_without_entry(change_variable(study, new), name), squares)
    if kind is Kind.NUMBER:
        return tidied(_without_entry(change_variable(study, as_number(variable, column_of(study, name))), name))
    if name == study.model.outcome:
        raise StudyError(f"{variable.label} is the outcome; choose another outcome before it is left out.")
    out = [term for term in study.model.terms if name in term.variables]
    return tidied(take_out(_without_entry(change_variable(study, replace(variable, kind=kind)), name), out))


def _without_entry(study: Study, name: str) -> Study:
    if name not in study.model.entries:
        return study
    entries = {n: e for n, e in study.model.entries.items() if n != name}
    return change_model(study, entries=MappingProxyType(entries))


def levels_to_be(study: Study, name: str) -> int:
    """How many levels the column would have as groups."""
    return len(as_group(study.variable(name), column_of(study, name)).levels)


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


# ---- derived variables


def column_of(study: Study, name: str) -> Column:
    """The column of a variable; of a computed one a column of its numbers."""
    return study.table.column(name) if name in study.table else computed_column(name, study.columns.numbers(name))


def is_derived(study: Study, name: str) -> bool:
    """Whether the variable is computed from others."""
    return any(one.name == name for one in study.derived)


def with_derived(study: Study, derived: Derived, variable: Variable) -> Study:
    """The study with one more computed variable. StudyError where its values cannot be computed."""
    if derived.name in {v.name for v in study.variables}:
        raise StudyError(f"The study has a variable “{derived.name}” already.")
    new = replace(study, derived=(*study.derived, derived), variables=(*study.variables, variable))
    new.columns.numbers(derived.name)
    return new


def split_line(line: str) -> tuple[str, str, int]:
    """A typed line “name = expression”: name, expression, and where the expression begins. StudyError without a name."""
    name, mark, text = line.partition("=")
    if not mark or not name.strip():
        raise StudyError("Type a new name, =, and how it is computed, as in “short sleep = 8 − sleep”.")
    return name.strip(), text, len(name) + 1


def taken_name(study: Study, name: str) -> str:
    """Why a computed variable cannot have that name; empty if it can."""
    if not name.strip():
        return "A computed variable needs a name."
    taken = any(name.casefold() in (v.name.casefold(), v.label.casefold()) for v in study.variables)
    return f"The study has a variable “{name}” already: type another name." if taken else ""


def usable_in(study: Study, name: str | None) -> tuple[Variable, ...]:
    """The variables from which a computed one can be made: all of the file, and those computed before it; None: a new one."""
    place = next((i for i, one in enumerate(study.derived) if one.name == name), len(study.derived))
    later = {one.name for one in study.derived[place:]}
    return tuple(v for v in study.variables if v.name not in later)


def derive(study: Study, name: str, text: str) -> Study:
    """Add a variable that is computed from others, as in “(item01 + item02) / 2”."""
    name = name.strip()
    taken = taken_name(study, name)
    if taken:
        raise StudyError(taken)
    return with_derived(study, *_derived(study, name, read_expression(text, study.variables), None))


def redefine(study: Study, name: str, text: str) -> Study:
    """Compute a derived variable otherwise. It may use what stands before it."""
    place = next((i for i, one in enumerate(study.derived) if one.name == name), None)
    if place is None:
        raise StudyError(f"{study.variable(name).label} is not computed.")
    known = usable_in(study, name)
    expression = read_expression(text, known)
    if expression == study.derived[place].expression:
        return study
    before = study.variable(name)
    bare = replace(study, derived=study.derived[:place], variables=known)
    derived, variable = _derived(bare, name, expression, before)
    new = replace(
        study,
        derived=(*study.derived[:place], derived, *study.derived[place + 1 :]),
        variables=tuple(variable if v.name == name else v for v in study.variables),
    )
    new.columns.numbers(name)
    return new


def _derived(study: Study, name: str, expression: Expression, before: Variable | None) -> tuple[Derived, Variable]:
    """The variable that an expression makes: its unit and limits follow its sources where they can."""
    derived = Derived(name, expression)
    bare = Variable(name, Kind.NUMBER, before.label if before else name.replace("_", " "))
    values = with_derived(study, derived, bare).columns.numbers(name)
    known = {v.name: v for v in study.variables}
    unit, units = unit_of(expression, known)
    if before is not None:
        found = replace(
            before, unit=unit or before.unit, units=units or before.units, limits=limits_of(expression, known)
        )
        if found.kind is Kind.GROUP:
            found = replace(found, levels=as_group(replace(found, levels=()), computed_column(name, values)).levels)
        return derived, found
    guess = guessed_variable(computed_column(name, values))
    kind = Kind.GROUP if guess.kind is Kind.GROUP else Kind.NUMBER
    levels = guess.levels if kind is Kind.GROUP else ()
    return derived, replace(bare, unit=unit, units=units, limits=limits_of(expression, known), kind=kind, levels=levels)


def remove_derived(study: Study, name: str) -> Study:
    """Take a computed variable away, and its terms out of every model. Refused while something else rests on it."""
    label = study.variable(name).label
    if not is_derived(study, name):
        raise StudyError(f"{label} is a column of the file: it can be left out, but not removed.")
    users = [study.variable(d.name).label for d in study.derived if name in sources_of(d.expression)]
    users += [f"the sample “{s.name}”" for s in study.samples if s.rule is not None and name in variables_in(s.rule)]
    users += [f"the outcome of model “{m.name or m.id}”" for m in study.models if m.outcome == name]
    if users:
        raise StudyError(f"{label} cannot be removed: {', '.join(users)} rests on it.")
    current = study.current
    for model in study.models:
        study = replace(study, current=model.id)
        study = take_out(_without_entry(study, name), [t for t in model.terms if name in t.variables])
    return tidied(
        replace(
            study, current=current, derived=tuple(d for d in study.derived if d.name != name),
            variables=tuple(v for v in study.variables if v.name != name),
        )
    )  # fmt: skip


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
