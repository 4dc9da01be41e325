"""Expressions as typed lines: “mean of item01 ... item05 with 4”, “8 − worry”, “1 if practice at least 5 else 0”."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from enum import IntEnum, auto
from typing import assert_never

from yellow_slope.core.data.conditions import Rule
from yellow_slope.core.data.conditiontext import condition_text, read_condition
from yellow_slope.core.data.derived import (
    Across,
    Applied,
    Arithmetic,
    Conditional,
    Constant,
    Expression,
    Function,
    GroupMean,
    Named,
    Reversed,
    RowFunction,
)
from yellow_slope.core.data.scanner import DEEPEST, IsNumeric, Mistake, Scanner, Stop, repeated, typed_name
from yellow_slope.core.data.table import number_text
from yellow_slope.core.data.variable import Kind, Variable

MOST_OPERATIONS = 120
"""More in one expression nobody reads; sums and means of many names are one operation."""
MOST_ACROSS = 2000
FUNCTIONS = (
    *(f"{function}(" for function in Function),
    *(f"{way} of " for way in RowFunction),
    "group mean of ",
    "reversed ",
    "if ",
    "else ",
)
"""What can be typed beside names; offered while typing."""


def read_expression(
    text: str, variables: Iterable[Variable], stored: bool = False, is_numeric: IsNumeric | None = None
) -> Expression:
    """The expression that the text says. StudyError that names the place of a mistake."""
    try:
        return _whole(Scanner(text, variables, stored, is_numeric))
    except Stop as stop:
        raise stop.as_error(text) from None


def find_mistake(text: str, variables: Iterable[Variable], is_numeric: IsNumeric | None = None) -> Expression | Mistake:
    """The expression that the text says, or its first mistake."""
    try:
        return _whole(Scanner(text, variables, is_numeric=is_numeric))
    except Stop as stop:
        return stop.mistake


def _whole(scanner: Scanner) -> Expression:
    text = scanner.line
    found = _expression(scanner, 0)
    if not scanner.is_done:
        scanner.skip()
        rest = len(text[scanner.at :].rstrip())
        raise Stop(scanner.at, rest, f"{repeated(text[scanner.at : scanner.at + rest])} is not understood here.")
    return found


def _expression(scanner: Scanner, depth: int) -> Expression:
    if depth > DEEPEST:
        raise scanner.stop("Parentheses are nested too deeply.")
    then = _sum(scanner, depth)
    if not scanner.take_phrase("if"):
        return then
    rule = read_condition(scanner)
    if not scanner.take_phrase("else"):
        raise scanner.stop("“else” and the value otherwise are missing here.")
    return Conditional(then, rule, _expression(scanner, depth + 1))


def _sum(scanner: Scanner, depth: int) -> Expression:
    left = _product(scanner, depth)
    while sign := scanner.take("+", "-", "−"):
        _count(scanner)
        left = Arithmetic("+" if sign == "+" else "-", left, _product(scanner, depth))
    return left


def _product(scanner: Scanner, depth: int) -> Expression:
    left = _factor(scanner, depth)
    while sign := scanner.take("*", "×", "/"):
        _count(scanner)
        left = Arithmetic("/" if sign == "/" else "*", left, _factor(scanner, depth))
    return left


def _count(scanner: Scanner) -> None:
    """One operation more; Stop where there are too many."""
    scanner.operations += 1
    if scanner.operations > MOST_OPERATIONS:
        raise scanner.stop(f"More than {MOST_OPERATIONS} operations: “sum of a, b, …” takes any number of names.")


def _factor(scanner: Scanner, depth: int) -> Expression:
    if depth > DEEPEST:
        raise scanner.stop("Parentheses are nested too deeply.")
    scanner.skip()
    here = scanner.line[scanner.at : scanner.at + 1]
    if here.isdigit() or (here == "." and scanner.line[scanner.at + 1 : scanner.at + 2].isdigit()):
        try:
            before = scanner.at
            return Constant(scanner.number())
        except Stop:
            scanner.at = before  # a name may begin with a digit
    if scanner.take("-", "−"):
        inner = _factor(scanner, depth + 1)
        return Constant(-inner.value) if isinstance(inner, Constant) else Arithmetic("-", Constant(0.0), inner)
    if scanner.take("("):
        return _closed(scanner, depth)
    if (applied := _applied(scanner, depth)) is not None:
        return applied
    if scanner.take_phrase("group mean of"):
        return _group_mean(scanner)
    for way in RowFunction:
        if scanner.take_phrase(f"{way} of"):
            return _several(scanner, way)
    if scanner.take_phrase("reversed"):
        return _reversed(scanner)
    return Named(_number(scanner).name)


def _closed(scanner: Scanner, depth: int) -> Expression:
    """An expression up to its closing parenthesis."""
    found = _expression(scanner, depth + 1)
    if not scanner.take(")"):
        raise scanner.stop("A closing parenthesis is missing here.")
    return found


def _applied(scanner: Scanner, depth: int) -> Applied | None:
    """A function of an expression; None where none begins here."""
    before = scanner.at
    for function in sorted(Function, key=lambda f: -len(f)):
        if scanner.take_phrase(str(function)) and scanner.take("("):
            return Applied(function, _closed(scanner, depth))
        scanner.at = before
    return None


def _group_mean(scanner: Scanner) -> GroupMean:
    of = _number(scanner)
    if not scanner.take_phrase("by"):
        raise scanner.stop("“by” and a group variable are missing here.")
    by, at = scanner.variable(), scanner.at
    if by.kind is not Kind.GROUP and not scanner.stored:
        raise Stop(at - 1, 1, f"{by.label} is not a group variable.")
    return GroupMean(of.name, by.name)


def _refuse_one(scanner: Scanner, way: RowFunction, of: Named, begin: int) -> None:
    """Of one column the mean over a row is the column: somebody means the mean over the cases."""
    label = next(v.label for v in scanner.variables if v.name == of.name)
    said = f"The {way} of several columns is computed in each row; of {label} alone it says nothing."
    if way is RowFunction.MEAN:
        said += f" Its mean over the cases is subtracted at Prepare, or in the line: {label} centered."
    raise Stop(begin, max(1, scanner.at - begin), said)


def _several(scanner: Scanner, way: RowFunction) -> Across:
    scanner.skip()
    start = scanner.at
    parts: list[Named | Reversed] = []
    while True:
        if scanner.take_phrase("reversed"):
            parts.append(_reversed(scanner))
        else:
            scanner.skip()
            begin = scanner.at
            for variable in scanner.run():
                _refuse_texts(scanner, variable, begin)
                parts.append(Named(variable.name))
        if len(parts) > MOST_ACROSS:
            raise scanner.stop(f"More than {MOST_ACROSS:,} variables cannot be summed up at once.")
        if not scanner.take(","):
            break
    if len(parts) == 1 and way is not RowFunction.COUNT and isinstance(parts[0], Named) and not scanner.stored:
        _refuse_one(scanner, way, parts[0], start)
    least = len(parts) if way is not RowFunction.COUNT else 0
    if scanner.take_phrase("with"):
        scanner.skip()
        begin = scanner.at
        asked = scanner.number("How many of them must have a value?")
        if asked != round(asked) or not (0 if way is RowFunction.COUNT else 1) <= asked <= len(parts):
            raise Stop(begin, scanner.at - begin, f"Of {len(parts)} variables {number_text(asked)} cannot be required.")
        least = int(asked)
    return Across(way, tuple(parts), least)


def _reversed(scanner: Scanner) -> Reversed:
    scanner.skip()
    begin = scanner.at
    variable = _number(scanner)
    if variable.limits is None and not scanner.stored:
        raise Stop(
            begin,
            scanner.at - begin,
            f"{variable.label} has no declared limits: write what it is taken from, as in “8 − {variable.label}”.",
        )
    return Reversed(variable.name)


def _number(scanner: Scanner) -> Variable:
    scanner.skip()
    begin = scanner.at
    variable = scanner.variable()
    _refuse_texts(scanner, variable, begin)
    return variable


def _refuse_texts(scanner: Scanner, variable: Variable, begin: int) -> None:
    if scanner.holds_texts(variable) and not scanner.stored:
        said = f"{variable.label} contains texts: use it in a condition, as in “1 if {variable.label} is … else 0”."
        raise Stop(begin, scanner.at - begin, said)


# ---- writing


def expression_text(
    expression: Expression, variables: Mapping[str, Variable] | None = None, stored: bool = True
) -> str:
    """The expression as it is stored, with the columns' own names; or as it is typed, with labels."""
    known = variables or {}
    every = tuple(known.values())

    def called(name: str) -> str:
        return f"[{name}]" if stored or name not in known else typed_name(known[name], every)

    return _written(expression, called, lambda rule: condition_text(rule, known, stored=stored), "-" if stored else "−")


class _Binds(IntEnum):
    """How firmly what is written holds together: what binds less than its place asks for stands in parentheses."""

    CONDITION = auto()
    SUM = auto()
    PRODUCT = auto()
    FACTOR = auto()


def _binds(part: Expression) -> _Binds:
    match part:
        case Conditional():
            return _Binds.CONDITION
        case Across() | GroupMean():
            return _Binds.CONDITION  # they take what follows into their list
        case Arithmetic("-", Constant(0.0), right) if not isinstance(right, Constant):
            return _Binds.FACTOR
        case Arithmetic(sign, _, _):
            return _Binds.SUM if sign in ("+", "-") else _Binds.PRODUCT
        case Constant(value):
            return _Binds.FACTOR if value >= 0 else _Binds.CONDITION
        case Named() | Applied() | Reversed():
            return _Binds.FACTOR
        case _:
            assert_never(part)


def _written(expression: Expression, called: Callable[[str], str], condition: Callable[[Rule], str], minus: str) -> str:
    """With no more parentheses than it is read back with: a stored line is never deeper than it was typed."""

    def inner(part: Expression, least: _Binds) -> str:
        text = _written(part, called, condition, minus)
        return text if _binds(part) >= least else f"({text})"

    match expression:
        case Constant(value):
            return number_text(value).replace("-", minus)
        case Named(name):
            return called(name)
        case Reversed(name):
            return f"reversed {called(name)}"
        case Arithmetic("-", Constant(0.0), right) if not isinstance(right, Constant):
            return f"{minus}{inner(right, _Binds.FACTOR)}"
        case Arithmetic(sign, left, right):
            own = _binds(expression)
            return f"{inner(left, own)} {minus if sign == '-' else sign} {inner(right, _Binds(own + 1))}"
        case Applied(function, of):
            return f"{function}({_written(of, called, condition, minus)})"
        case Across(way, parts, at_least):
            said = ", ".join(_written(part, called, condition, minus) for part in parts)
            least = 0 if way is RowFunction.COUNT else len(parts)
            return f"{way} of {said}" + (f" with {at_least}" if at_least != least else "")
        case GroupMean(of, by):
            return f"group mean of {called(of)} by {called(by)}"
        case Conditional(then, rule, otherwise):
            return (
                f"{inner(then, _Binds.SUM)} if {condition(rule)} else {_written(otherwise, called, condition, minus)}"
            )
