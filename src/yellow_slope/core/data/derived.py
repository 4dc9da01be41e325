"""Derived variables: a parsed expression over other columns, which follows its sources. Nothing of it is ever run as a
program."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from enum import StrEnum
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.data.conditions import Rule, Values, both_ways, can_hold, variables_in
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Constant:
    """A number."""

    value: float


@dataclass(frozen=True, slots=True)
class Named:
    """The values of a variable."""

    name: str


@dataclass(frozen=True, slots=True)
class Arithmetic:
    """Two expressions joined by + - * or /."""

    sign: str
    left: Expression
    right: Expression


class Function(StrEnum):
    """What can be made of one number."""

    LOG = "log"
    LOG10 = "log10"
    ROOT = "root"
    EXP = "exp"
    SIZE = "size"
    """The number without its sign."""
    ROUND = "round"
    RANK = "rank"
    """Its place among all values there are, from 1; equal values share the mean of their places."""


@dataclass(frozen=True, slots=True)
class Applied:
    """A function of an expression; no value where it is not defined."""

    function: Function
    of: Expression


@dataclass(frozen=True, slots=True)
class Reversed:
    """A number on its declared scale turned round: lowest + highest − value."""

    name: str


class RowFunction(StrEnum):
    """What is made of several variables in each row."""

    MEAN = "mean"
    SUM = "sum"
    LOWEST = "lowest"
    HIGHEST = "highest"
    SD = "sd"
    COUNT = "count"
    """How many of them have a value."""


@dataclass(frozen=True, slots=True)
class Across:
    """Several expressions summed up in each row, where at least so many of them have a value."""

    way: RowFunction
    of: tuple[Named | Reversed, ...]
    at_least: int


@dataclass(frozen=True, slots=True)
class GroupMean:
    """The mean of a variable within the groups of another."""

    of: str
    by: str


@dataclass(frozen=True, slots=True)
class Conditional:
    """One expression where a condition holds, another where its opposite does; no value where neither can be said."""

    then: Expression
    rule: Rule
    otherwise: Expression


Expression = Constant | Named | Arithmetic | Applied | Reversed | Across | GroupMean | Conditional


@dataclass(frozen=True, slots=True)
class Derived:
    """A variable that is computed from others."""

    name: str
    expression: Expression


def parts_of(expression: Expression) -> Iterator[Expression]:
    """The expression and everything it is made of."""
    yield expression
    match expression:
        case Arithmetic(_, left, right) | Conditional(left, _, right):
            yield from parts_of(left)
            yield from parts_of(right)
        case Applied(_, of):
            yield from parts_of(of)
        case Across(_, parts, _):
            yield from parts


MOST_COMPUTED = 2000
"""Computed variables of one study."""


def sources_of(expression: Expression) -> tuple[str, ...]:
    """The variables that an expression reads, each once."""
    return tuple(dict.fromkeys(_sources(expression)))


def _sources(expression: Expression) -> tuple[str, ...]:
    match expression:
        case Named(name) | Reversed(name):
            return (name,)
        case Arithmetic(_, left, right):
            return (*_sources(left), *_sources(right))
        case Applied(_, of):
            return _sources(of)
        case Across(_, parts, _):
            return tuple(part.name for part in parts)
        case GroupMean(of, by):
            return (of, by)
        case Conditional(then, rule, otherwise):
            return (*_sources(then), *variables_in(rule), *_sources(otherwise))
    return ()


def numbers_in(expression: Expression) -> tuple[str, ...]:
    """The variables whose numbers an expression computes with; those that only decide or group are not among them."""
    match expression:
        case Arithmetic(_, left, right) | Conditional(left, _, right):
            return tuple(dict.fromkeys((*numbers_in(left), *numbers_in(right))))
        case Applied(_, inner):
            return numbers_in(inner)
        case GroupMean(of, _):
            return (of,)
    return sources_of(expression)


def can_be_computed(expression: Expression, columns: Values) -> bool:
    """Whether all that it reads is there, and holds numbers where it computes with numbers."""
    try:
        if not all(columns.is_numeric(name) for name in numbers_in(expression)):
            return False
        for name in sources_of(expression):
            columns.variable(name)
    except StudyError:
        return False
    return all(can_hold(part.rule, columns) for part in parts_of(expression) if isinstance(part, Conditional))


def values_of(expression: Expression, columns: Values) -> FloatArray:
    """Shape (rows,): the expression in every row, NaN where it is not defined."""
    with np.errstate(all="ignore"):
        found = _values(expression, columns)
        return np.where(np.isfinite(found), found, np.nan)


def _values(expression: Expression, columns: Values) -> FloatArray:
    match expression:
        case Constant(value):
            return np.full(columns.n_rows, value)
        case Named(name):
            return columns.numbers(name)
        case Reversed(name):
            low, high = columns.variable(name).limits or (np.nan, np.nan)
            return np.asarray(low + high - columns.numbers(name))
        case Arithmetic(sign, left, right):
            joined = {"+": np.add, "-": np.subtract, "*": np.multiply, "/": np.divide}[sign]
            return np.asarray(joined(_values(left, columns), _values(right, columns)), dtype=np.float64)
        case Applied(function, of):
            return _applied(function, _values(of, columns))
        case Across():
            return _across(expression, columns)
        case GroupMean(of, by):
            return group_means(columns.numbers(of), columns.levels(by))
        case Conditional(then, rule, otherwise):
            yes, no = both_ways(rule, columns)
            chosen = np.where(yes, _values(then, columns), np.nan)
            return np.where(no, _values(otherwise, columns), chosen)


def _applied(function: Function, values: FloatArray) -> FloatArray:
    if function is Function.RANK:
        return ranks(values)
    if function is Function.ROUND:  # halves go away from zero, as people round
        return np.asarray(np.sign(values) * np.floor(np.abs(values) + 0.5))
    made = {
        Function.LOG: np.log,
        Function.LOG10: np.log10,
        Function.ROOT: np.sqrt,
        Function.EXP: np.exp,
        Function.SIZE: np.abs,
    }[function]
    return np.asarray(made(values), dtype=np.float64)


def ranks(values: FloatArray) -> FloatArray:
    """Shape (n,): places from 1 of the values that there are, equal ones at the mean of their places; NaN elsewhere."""
    here = np.isfinite(values)
    known, at, counts = np.unique(values[here], return_inverse=True, return_counts=True)
    last = np.cumsum(counts)
    out = np.full(values.shape, np.nan)
    out[here] = (last - (counts - 1) / 2)[at] if known.size else ()
    return out


def _across(expression: Across, columns: Values) -> FloatArray:
    rows = np.column_stack([_values(part, columns) for part in expression.of])
    here = ~np.isnan(rows)
    valid = here.sum(axis=1)
    total = np.where(here, rows, 0.0).sum(axis=1)
    mean = total / np.maximum(valid, 1)
    match expression.way:
        case RowFunction.COUNT:
            return np.asarray(valid, dtype=np.float64)
        case RowFunction.MEAN:
            found = mean
        case RowFunction.SUM:
            found = total
        case RowFunction.SD:
            squares = np.where(here, rows - mean[:, np.newaxis], 0.0) ** 2
            found = np.where(valid > 1, np.sqrt(squares.sum(axis=1) / np.maximum(valid - 1, 1)), np.nan)
        case RowFunction.LOWEST:
            found = np.where(here, rows, np.inf).min(axis=1)
        case RowFunction.HIGHEST:
            found = np.where(here, rows, -np.inf).max(axis=1)
        case _:
            assert_never(expression.way)
    return np.where(valid >= max(1, expression.at_least), found, np.nan)


def group_means(values: FloatArray, groups: IntArray) -> FloatArray:
    """Shape (n,): in each row the mean of its group's values; NaN where the group is missing or has no value."""
    known = (groups >= 0) & ~np.isnan(values)
    k = int(groups.max()) + 1 if groups.size else 0
    if k <= 0:
        return np.full(values.shape, np.nan)
    counts = np.bincount(groups[known], minlength=k)
    with np.errstate(invalid="ignore", divide="ignore"):
        means = np.bincount(groups[known], values[known], minlength=k) / counts
        rest = np.bincount(groups[known], values[known] - means[groups[known]], minlength=k) / counts
    return np.where(groups >= 0, (means + rest)[groups], np.nan)


# ---- what is known of the result


def expression_unit(expression: Expression, variables: Mapping[str, Variable]) -> tuple[str, str]:
    """Unit and its plural, where all numbers that are added, compared or averaged share one; else empty."""
    found = _unit(expression, variables)
    return found if found is not None else ("", "")


def _unit(expression: Expression, variables: Mapping[str, Variable]) -> tuple[str, str] | None:
    """None for a mere number, which takes the unit of what it stands beside."""
    match expression:
        case Constant():
            return None
        case Named(name) | Reversed(name) | GroupMean(name, _):
            variable = variables.get(name)
            return (variable.unit, variable.units) if variable is not None else ("", "")
        case Arithmetic(sign, left, right) | Conditional(left, sign, right):
            one, other = _unit(left, variables), _unit(right, variables)
            if sign == "*":
                return ("", "")
            if sign == "/":
                return one if other is None and isinstance(left, Arithmetic | Across) and _is_count(right) else ("", "")
            if one is None or other is None:
                return other if one is None else one
            return one if one == other else ("", "")
        case Applied(function, of):
            return _unit(of, variables) if function in (Function.SIZE, Function.ROUND) else ("", "")
        case Across(way, parts, _):
            if way is RowFunction.COUNT:
                return ("", "")
            units = {_unit(part, variables) for part in parts}
            return units.pop() if len(units) == 1 else ("", "")
    return ("", "")


def _is_count(expression: Expression) -> bool:
    return isinstance(expression, Constant) and expression.value == round(expression.value)


def limits_of(expression: Expression, variables: Mapping[str, Variable]) -> tuple[float, float] | None:
    """The lowest and highest value that the sources' declared limits allow; None where they say nothing."""
    match expression:
        case Constant(value):
            return (value, value)
        case Named(name) | Reversed(name) | GroupMean(name, _):
            variable = variables.get(name)
            return variable.limits if variable is not None else None
        case Arithmetic(sign, left, right):
            return _combined(sign, limits_of(left, variables), limits_of(right, variables))
        case Conditional(then, _, otherwise):
            one, other = limits_of(then, variables), limits_of(otherwise, variables)
            return (min(one[0], other[0]), max(one[1], other[1])) if one and other else None
        case Across(way, parts, at_least):
            each = [limits_of(part, variables) for part in parts]
            known = [limits for limits in each if limits is not None]
            if way in (RowFunction.SD, RowFunction.COUNT) or len(known) < len(each):
                return None
            if way is RowFunction.SUM:
                full = at_least == len(each)
                return (sum(a for a, _ in known), sum(b for _, b in known)) if full else None
            return (min(a for a, _ in known), max(b for _, b in known))
    return None


def _combined(
    sign: str, one: tuple[float, float] | None, other: tuple[float, float] | None
) -> tuple[float, float] | None:
    if one is None or other is None or (sign == "/" and other[0] <= 0 <= other[1]):
        return None
    made = {"+": np.add, "-": np.subtract, "*": np.multiply, "/": np.divide}[sign]
    corners = [float(made(a, b)) for a in one for b in other]
    return (min(corners), max(corners))
