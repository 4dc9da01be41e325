"""Conditions on a case: what sample rules and computed variables ask of it. A case without a value satisfies none."""

from __future__ import annotations

from typing import Protocol, assert_never

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.data.table import number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.values import dataclass


class Values(Protocol):
    """What a condition looks at."""

    @property
    def n_rows(self) -> int: ...
    def variable(self, name: str) -> Variable: ...
    def numbers(self, name: str) -> FloatArray: ...
    def levels(self, name: str) -> IntArray: ...
    def present(self, name: str) -> BoolArray: ...
    def is_numeric(self, name: str) -> bool: ...
    def is_any_of(self, name: str, texts: tuple[str, ...]) -> BoolArray: ...


@dataclass(frozen=True, slots=True)
class Is:
    """The variable is that value, or that level's code."""

    stored_as = "is"
    variable: str
    value: str | float


@dataclass(frozen=True, slots=True)
class OneOf:
    """The variable is one of these."""

    stored_as = "one of"
    variable: str
    values: tuple[str | float, ...]


@dataclass(frozen=True, slots=True)
class AtLeast:
    """The number is that or more."""

    stored_as = "at least"
    variable: str
    value: float


@dataclass(frozen=True, slots=True)
class AtMost:
    """The number is that or less."""

    stored_as = "at most"
    variable: str
    value: float


@dataclass(frozen=True, slots=True)
class Between:
    """The number lies between the two, both included."""

    stored_as = "between"
    variable: str
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Missing:
    """The variable has no value."""

    stored_as = "missing"
    variable: str


@dataclass(frozen=True, slots=True)
class All:
    """All of the rules hold."""

    stored_as = "all"
    rules: tuple[Rule, ...]


@dataclass(frozen=True, slots=True)
class Any:
    """At least one of the rules holds."""

    stored_as = "any"
    rules: tuple[Rule, ...]


@dataclass(frozen=True, slots=True)
class Not:
    """The rule does not hold. A case without a value satisfies neither a rule on it nor the opposite."""

    stored_as = "not"
    rule: Rule


Rule = Is | OneOf | AtLeast | AtMost | Between | Missing | All | Any | Not


def variables_in(rule: Rule) -> tuple[str, ...]:
    """The variables that a rule asks about, each once."""
    if isinstance(rule, All | Any):
        return tuple(dict.fromkeys(name for part in rule.rules for name in variables_in(part)))
    return variables_in(rule.rule) if isinstance(rule, Not) else (rule.variable,)


def can_hold(rule: Rule, columns: Values) -> bool:
    """Whether the rule can be asked at all: its variables are there, and where it asks for numbers they hold numbers.

    A level that is gone is no hindrance: no case has it.
    """
    if isinstance(rule, All | Any):
        return all(can_hold(part, columns) for part in rule.rules)
    if isinstance(rule, Not):
        return can_hold(rule.rule, columns)
    try:
        variable = columns.variable(rule.variable)
        if isinstance(rule, Missing) or (isinstance(rule, Is | OneOf) and variable.kind is Kind.GROUP):
            return True
        numeric = columns.is_numeric(rule.variable)
        if isinstance(rule, Is | OneOf) and numeric:
            for value in (rule.value,) if isinstance(rule, Is) else rule.values:
                _number(value, variable.label)
    except StudyError:
        return False
    return numeric or isinstance(rule, Is | OneOf)


def holds(rule: Rule, columns: Values) -> BoolArray:
    """Shape (rows,): where the rule holds. StudyError for a variable, level or comparison that cannot be."""
    return both_ways(rule, columns)[0]


def both_ways(rule: Rule, columns: Values) -> tuple[BoolArray, BoolArray]:
    """Where the rule holds, and where its opposite does; a case without a value is in neither."""
    if isinstance(rule, All | Any):
        parts = [both_ways(part, columns) for part in rule.rules]
        every, some = (np.logical_and, np.logical_or) if isinstance(rule, All) else (np.logical_or, np.logical_and)
        empty = np.ones(columns.n_rows, dtype=bool) if isinstance(rule, All) else np.zeros(columns.n_rows, dtype=bool)
        true, false = empty, ~empty
        for yes, no in parts:
            true, false = every(true, yes), some(false, no)
        return true, false
    if isinstance(rule, Not):
        true, false = both_ways(rule.rule, columns)
        return false, true
    here = columns.present(rule.variable)
    if isinstance(rule, Missing):
        return ~here, here
    true = here & _holds(rule, columns)
    return true, here & ~true


def _holds(rule: Is | OneOf | AtLeast | AtMost | Between, columns: Values) -> BoolArray:
    variable = columns.variable(rule.variable)
    if isinstance(rule, Is | OneOf):
        wanted = (rule.value,) if isinstance(rule, Is) else rule.values
        if variable.kind is Kind.GROUP:
            codes = {_code(value) for value in wanted}
            positions = [i for i, level in enumerate(variable.levels) if codes & {*level.codes}]
            return np.isin(columns.levels(rule.variable), positions)
        if not columns.is_numeric(rule.variable):
            return columns.is_any_of(rule.variable, tuple(_code(value) for value in wanted))
        return np.isin(_numbers(rule.variable, columns), [_number(value, variable.label) for value in wanted])
    values = _numbers(rule.variable, columns)
    with np.errstate(invalid="ignore"):
        match rule:
            case AtLeast(_, value):
                return np.asarray(values >= value)
            case AtMost(_, value):
                return np.asarray(values <= value)
            case Between(_, low, high):
                return np.asarray((values >= low) & (values <= high))
            case _:
                assert_never(rule)


def _numbers(name: str, columns: Values) -> np.ndarray:
    variable = columns.variable(name)
    if not columns.is_numeric(name):
        raise StudyError(f"{variable.label} contains texts; no condition can ask how large it is.")
    return columns.numbers(name)


def _code(value: str | float) -> str:
    return value if isinstance(value, str) else number_text(float(value))


def _number(value: str | float, label: str) -> float:
    try:
        return float(value)
    except ValueError:
        raise StudyError(f"{label} is a number; “{value}” is not.") from None
