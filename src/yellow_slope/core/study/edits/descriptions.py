"""Edits of what is known about the columns: kinds, labels, units, levels, missing codes, derived variables."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from types import MappingProxyType

import numpy as np

from yellow_slope.core.data.columns import computed_column
from yellow_slope.core.data.conditions import variables_in
from yellow_slope.core.data.derived import Derived, Expression, limits_of, sources_of, unit_of
from yellow_slope.core.data.formula import read_expression
from yellow_slope.core.data.guessing import guessed_variable, ordered_levels
from yellow_slope.core.data.table import Column, NumberColumn
from yellow_slope.core.data.variable import Kind, Level, Variable, as_group, as_number, found_levels
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import Dummy, Effect, Planned, Trends, WeightedEffect
from yellow_slope.core.study.edits.model import change_model, take_out, tidied
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Treatment

LOOKED_AT = 20_000
"""Rows by which it is seen whether a number may be a code."""
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


def name_codes(study: Study, name: str, labels: Sequence[str]) -> Study:
    """A number is a code: its values are groups with these names, in order of size."""
    return name_levels(set_kind(study, name, Kind.GROUP), name, labels)


def may_be_code(study: Study, name: str) -> bool:
    """Whether a number has so few values, all whole, that they could be codes of groups; by its first rows, so that it is cheap."""
    some = np.unique(study.columns.numbers(name)[:LOOKED_AT])
    some = some[~np.isnan(some)]
    return bool(2 <= some.size <= MOST_GROUPS and np.all(some == np.rint(some)))


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


def set_reliability(study: Study, name: str, value: float | None) -> Study:
    """Say how reliable a scale is; None: not known. StudyError outside of 0 to 1, or for what is no number."""
    variable = study.variable(name)
    if variable.kind is not Kind.NUMBER:
        raise StudyError(f"{variable.label} is a {variable.kind}; only a scale of numbers has a reliability.")
    if value is not None and not 0 < value <= 1:
        raise StudyError(f"The reliability of {variable.label} lies between 0 and 1, not at {value:g}.")
    return study if value == variable.reliability else change_variable(study, replace(variable, reliability=value))


def name_level(study: Study, name: str, code: str, label: str) -> Study:
    """Give a level a label. The label of another level makes one level of both."""
    variable = study.variable(name)
    level = variable.level(code)
    label = label.strip() or level.code
    return _relabeled(study, variable, tuple((x, label if x == level else x.label) for x in variable.levels))


def name_levels(study: Study, name: str, labels: Sequence[str]) -> Study:
    """Give all levels their labels in one entry, in the order of the levels; levels of one label are one level."""
    variable = study.variable(name)
    given = [label.strip() for label in labels if label.strip()]
    if len(given) != len(variable.levels):
        codes = ", ".join(level.code for level in variable.levels)
        raise StudyError(
            f"{variable.label} has {len(variable.levels)} levels ({codes}); {len(given)} names were given. "
            "Type one name for each, with commas between them."
        )
    return _relabeled(study, variable, tuple(zip(variable.levels, given)))


def _relabeled(study: Study, variable: Variable, labels: tuple[tuple[Level, str], ...]) -> Study:
    """Levels with labels; those of one label, whatever its case, become one. Two or more must be left."""
    merged: dict[str, Level] = {}
    for level, label in labels:
        before = merged.get(label.casefold())
        merged[label.casefold()] = (
            Level(before.codes + level.codes, before.label) if before else Level(level.codes, label)
        )
    if len(merged) < 2 <= len(variable.levels):
        raise StudyError(f"{variable.label} would have a single level left: nothing could be compared.")
    return _with_levels(study, variable, tuple(merged.values()))


def _with_levels(study: Study, variable: Variable, levels: tuple[Level, ...], ordered: bool | None = None) -> Study:
    """The variable with other levels; what was said of comparisons of levels that are gone is taken back."""
    new = replace(variable, levels=levels, ordered=variable.ordered if ordered is None else ordered)
    if not {level.code for level in variable.levels} <= {level.code for level in levels}:
        firsts = {level.code: next(x.code for x in levels if level.code in x.codes) for level in variable.levels if any(level.code in x.codes for x in levels)}  # fmt: skip
        study = _with_codes(study, variable.name, firsts)
    return change_variable(study, new)


def _with_codes(study: Study, name: str, firsts: dict[str, str]) -> Study:
    """Every model's coding of a group after levels were merged: a reference follows its level, other codings begin anew."""
    models = []
    for model in study.models:
        entry = model.entries.get(name)
        entries = dict(model.entries)
        if isinstance(entry, Dummy) and entry.reference is not None:
            entries[name] = Dummy(firsts.get(entry.reference, entry.reference))
        elif isinstance(entry, Planned | Trends | Effect | WeightedEffect):
            del entries[name]
        models.append(replace(model, entries=MappingProxyType(entries)))
    probes = tuple(
        replace(p, held=tuple((n, firsts.get(v, v) if n == name and isinstance(v, str) else v) for n, v in p.held))
        for p in study.probes
    )
    return replace(study, models=tuple(models), probes=probes)


def take_apart(study: Study, name: str) -> Study:
    """Every code a level of its own again; the first of a merged level keeps its label."""
    variable = study.variable(name)
    levels: list[Level] = []
    for level in variable.levels:
        levels += [Level((code,), level.label if i == 0 else code) for i, code in enumerate(level.codes)]
    return _with_levels(study, variable, tuple(levels))


def move_level(study: Study, name: str, code: str, by: int) -> Study:
    """Move a level before (-1) or after (+1) its neighbour. The levels then have an order that means something."""
    variable = study.variable(name)
    at = variable.levels.index(variable.level(code))
    to = at + by
    if not 0 <= to < len(variable.levels):
        return study
    levels = list(variable.levels)
    levels[at], levels[to] = levels[to], levels[at]
    return _with_levels(study, variable, tuple(levels), ordered=True)


def order_levels(study: Study, name: str, wanted: Sequence[str]) -> Study:
    """Put levels, by label or code, into that order; those that are not named follow as they stood."""
    variable = study.variable(name)
    first: list[Level] = []
    for text in wanted:
        if text.strip():
            level = variable.named_level(text)
            if level not in first:
                first.append(level)
    rest = [level for level in variable.levels if level not in first]
    return _with_levels(study, variable, (*first, *rest), ordered=True)


def orders(study: Study, name: str) -> list[tuple[str, tuple[Level, ...]]]:
    """The orders that can be had by one key, each with its name: of the words themselves, of codes, of the file, turned round."""
    variable = study.variable(name)
    column = column_of(study, name)
    by_code = {level.code: i for i, level in enumerate(found_levels(column, variable.missing))}
    places = study.columns.levels(name)
    known, first = np.unique(places[places >= 0], return_index=True)
    stood = dict(zip(known.tolist(), first.tolist()))
    own = ordered_levels(variable.levels)
    found = [
        *([("the order of the words", own)] if own is not None else []),
        ("the order of the codes", tuple(sorted(variable.levels, key=lambda x: by_code.get(x.code, len(by_code))))),
        ("the order of the names", tuple(sorted(variable.levels, key=lambda x: x.label.casefold()))),
        (
            "the order in the file",
            tuple(x for _, x in sorted(enumerate(variable.levels), key=lambda p: stood.get(p[0], len(places)))),
        ),
        ("turned round", tuple(reversed(variable.levels))),
    ]
    distinct: dict[tuple[Level, ...], str] = {}
    for said, levels in found:
        distinct.setdefault(levels, said)
    return [(said, levels) for levels, said in distinct.items()]


def next_order(study: Study, name: str) -> tuple[Study, str]:
    """The levels in the next of the orders that can be had by one key, and which it is."""
    variable = study.variable(name)
    if variable.kind is not Kind.GROUP:
        raise StudyError(f"{variable.label} is no group; it has no levels to order.")
    every = [(said, levels) for said, levels in orders(study, name) if said != "turned round"]
    every.append(("turned round", tuple(reversed(every[0][1]))))
    now = next((i for i, (_, levels) in enumerate(every) if levels == variable.levels), -1)
    said, levels = every[(now + 1) % len(every)]
    return _with_levels(study, variable, levels, ordered=True), said


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
    return with_derived(
        study, *_derived(study, name, read_expression(text, study.variables, is_numeric=study.columns.is_numeric), None)
    )


def redefine(study: Study, name: str, text: str) -> Study:
    """Compute a derived variable otherwise. It may use what stands before it."""
    place = next((i for i, one in enumerate(study.derived) if one.name == name), None)
    if place is None:
        raise StudyError(f"{study.variable(name).label} is not computed.")
    known = usable_in(study, name)
    expression = read_expression(text, known, is_numeric=study.columns.is_numeric)
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
