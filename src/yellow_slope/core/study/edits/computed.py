"""Edits of computed variables."""

from __future__ import annotations

from yellow_slope.core.data.columns import computed_column
from yellow_slope.core.data.conditions import variables_in
from yellow_slope.core.data.derived import MOST_COMPUTED, Derived, Expression, expression_unit, limits_of, sources_of
from yellow_slope.core.data.formula import read_expression
from yellow_slope.core.data.guessing import guessed_variable
from yellow_slope.core.data.variable import Kind, Variable, as_group
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


def is_derived(study: Study, name: str) -> bool:
    """Whether the variable is computed from others."""
    return any(one.name == name for one in study.derived)


@edit
def with_derived(study: Study, derived: Derived, variable: Variable) -> Study:
    """The study with one more computed variable. StudyError where its values cannot be computed."""
    if derived.name in {v.name for v in study.variables}:
        raise StudyError(f"The study has a variable “{derived.name}” already.")
    if len(study.derived) >= MOST_COMPUTED:
        raise StudyError(f"The study computes {MOST_COMPUTED:,} variables already; there is no room for another.")
    new = replace(study, derived=(*study.derived, derived), variables=(*study.variables, variable))
    new.columns.numbers(derived.name)
    return new


def split_line(line: str) -> tuple[str, str, int]:
    """A typed line “name = expression”: name, expression, and where the expression begins. StudyError without a
    name."""
    name, mark, text = line.partition("=")
    if not mark or not name.strip():
        raise StudyError("Type a new name, =, and how it is computed.")
    return name.strip(), text, len(name) + 1


def taken_name(study: Study, name: str) -> str:
    """Why a computed variable cannot have that name; empty if it can."""
    if not name.strip():
        return "A computed variable needs a name."
    taken = any(name.casefold() in (v.name.casefold(), v.label.casefold()) for v in study.variables)
    return f"The study has a variable “{name}” already: type another name." if taken else ""


def usable_in(study: Study, name: str | None) -> tuple[Variable, ...]:
    """The variables from which a computed one can be made: all of the file, and those computed before it; None: a new
    one."""
    place = next((i for i, one in enumerate(study.derived) if one.name == name), len(study.derived))
    later = {one.name for one in study.derived[place:]}
    return tuple(v for v in study.variables if v.name not in later)


@edit
def derive(study: Study, name: str, text: str) -> Study:
    """Add a variable that is computed from others, as in “(item01 + item02) / 2”."""
    name = name.strip()
    taken = taken_name(study, name)
    if taken:
        raise StudyError(taken)
    return with_derived(
        study, *_derived(study, name, read_expression(text, study.variables, is_numeric=study.columns.is_numeric), None)
    )


@edit
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
    unit, units = expression_unit(expression, known)
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


@edit
def remove_derived(study: Study, name: str) -> Study:
    """Take a computed variable away, and with it its terms. Refused while something else is made of it."""
    label = study.variable(name).label
    if not is_derived(study, name):
        raise StudyError(f"{label} is a column of the file: it can be marked as not used, but not removed.")
    users = [study.variable(d.name).label for d in study.derived if name in sources_of(d.expression)]
    users += [f"the sample “{s.name}”" for s in study.samples if s.rule is not None and name in variables_in(s.rule)]
    users += [f"the outcome of model “{m.name or m.id}”" for m in study.models if m.outcome == name]
    if users:
        raise StudyError(f"{label} cannot be removed: {', '.join(users)} depends on it.")
    return replace(
        study,
        derived=tuple(d for d in study.derived if d.name != name),
        variables=tuple(v for v in study.variables if v.name != name),
    )
