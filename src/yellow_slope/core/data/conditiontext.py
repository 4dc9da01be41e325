"""Conditions as typed lines: “practice at least 5 and coaching is none or group lesson”. What is written reads back the
same."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from itertools import islice
from typing import TypeVar, assert_never

from yellow_slope.core.data.conditions import All, Any, AtLeast, AtMost, Between, Is, Missing, Not, OneOf, Rule
from yellow_slope.core.data.scanner import (
    DEEPEST,
    QUOTES,
    IsNumeric,
    Mistake,
    Scanner,
    Stop,
    quote,
    repeated,
    typed_name,
)
from yellow_slope.core.data.table import date_text, number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.typed import typed_number, typed_numbers
from yellow_slope.values import dataclass

T = TypeVar("T")
AT_LEAST, AT_MOST = ("at least", "from"), ("at most", "up to")
MORE, LESS = ("more than", "over", "above"), ("less than", "below", "under")
COMPARISONS = (
    "is",
    "is not",
    "is one of",
    "is missing",
    "is not missing",
    "at least",
    "at most",
    "between",
    "more than",
    "less than",
)
"""What can follow a name; offered while typing."""


def read_condition(scanner: Scanner, depth: int = 0) -> Rule:
    """The condition that stands at the scanner's place. Stop with the place of a mistake."""
    if depth > DEEPEST:
        raise scanner.stop("Parentheses are nested too deeply.")
    parts = [_conjunction(scanner, depth)]
    while scanner.take_phrase("or"):
        parts.append(_conjunction(scanner, depth))
    return parts[0] if len(parts) == 1 else Any(tuple(parts))


def typed_condition(line: str, variables: Iterable[Variable], is_numeric: IsNumeric | None = None) -> Rule:
    """The condition that a whole line says. StudyError that names the place of a mistake."""
    found = find_condition(line, variables, is_numeric)
    if isinstance(found, Mistake):
        raise StudyError(f"{repeated(line)}, character {found.position + 1}: {found.message}")
    return found


def find_condition(line: str, variables: Iterable[Variable], is_numeric: IsNumeric | None = None) -> Rule | Mistake:
    """The condition that a whole line says, or its first mistake."""
    return _typed(line, variables, is_numeric, read_condition)


def typed_place(
    text: str, variable: Variable, variables: Iterable[Variable], is_numeric: IsNumeric | None = None
) -> float | Mistake:
    """The number or date that a text says of a variable."""
    value = typed_number(text)
    if value is not None and variable.kind is Kind.NUMBER:
        return value
    return _typed(text, variables, is_numeric, lambda scanner: _place(scanner, variable))


def typed_values(
    text: str, variable: Variable, variables: Iterable[Variable], is_numeric: IsNumeric | None = None
) -> list[str | float] | Mistake:
    """The values, with commas between them, that a text says of a variable."""
    numbers = typed_numbers(text)
    if variable.kind is Kind.NUMBER and isinstance(numbers, list):
        return list(numbers)
    return _typed(text, variables, is_numeric, lambda scanner: _values(scanner, variable))


def _typed(
    text: str, variables: Iterable[Variable], is_numeric: IsNumeric | None, read: Callable[[Scanner], T]
) -> T | Mistake:
    """What is read of a whole text, or its first mistake."""
    scanner = Scanner(text, variables, is_numeric=is_numeric)
    try:
        found = read(scanner)
        if not scanner.is_done:
            raise _not_understood(scanner, text)
    except Stop as stop:
        return stop.mistake
    return found


def _not_understood(scanner: Scanner, line: str) -> Stop:
    """What is left at the scanner's place means nothing there."""
    scanner.skip()
    rest = len(line[scanner.at :].rstrip())
    return Stop(scanner.at, rest, f"{repeated(line[scanner.at : scanner.at + rest])} is not understood here.")


def _conjunction(scanner: Scanner, depth: int) -> Rule:
    parts = [_item(scanner, depth)]
    while scanner.take_phrase("and"):
        parts.append(_item(scanner, depth))
    return parts[0] if len(parts) == 1 else All(tuple(parts))


def _item(scanner: Scanner, depth: int) -> Rule:
    if depth > DEEPEST:
        raise scanner.stop("Parentheses are nested too deeply.")
    if scanner.take_phrase("not"):
        return Not(_item(scanner, depth + 1))
    if scanner.take("("):
        found = read_condition(scanner, depth + 1)
        if not scanner.take(")"):
            raise scanner.stop("A closing parenthesis is missing here.")
        return found
    if scanner.take_phrase("every case"):
        return All(())
    if scanner.take_phrase("no case"):
        return Any(())
    return _comparison(scanner)


def _comparison(scanner: Scanner) -> Rule:
    variable = scanner.variable()
    _unit(scanner, variable)
    said_is = bool(scanner.take_phrase("is", "are"))
    if scanner.take_phrase("missing"):
        return Missing(variable.name)
    if scanner.take_phrase("not missing", "has a value"):
        return Not(Missing(variable.name))
    for words, marks, make in (
        (AT_LEAST, (">=", "≥"), lambda place: AtLeast(variable.name, place)),
        (AT_MOST, ("<=", "≤"), lambda place: AtMost(variable.name, place)),
        (MORE, (">",), lambda place: Not(AtMost(variable.name, place))),
        (LESS, ("<",), lambda place: Not(AtLeast(variable.name, place))),
    ):
        if scanner.take_phrase(*words) or scanner.take(*marks):
            return make(_place(scanner, variable))
    if scanner.take_phrase("between"):
        low = _place(scanner, variable)
        if not scanner.take_phrase("and"):
            raise scanner.stop("Between what? “and” and a second number are missing here.")
        scanner.skip()
        begin = scanner.at
        high = _place(scanner, variable)
        if high < low:
            raise Stop(begin, scanner.at - begin, "The second number of “between” is the smaller one.")
        return Between(variable.name, low, high)
    negated = bool(scanner.take_phrase("not"))
    if not said_is and not negated and not scanner.take("="):
        raise scanner.stop(
            f"After {variable.label} comes “is”, “at least”, “at most”, “between”, “more than”, “less than” or "
            "“missing”."
        )
    scanner.take_phrase("one of")
    values = _values(scanner, variable)
    found: Rule = Is(variable.name, values[0]) if len(values) == 1 else OneOf(variable.name, tuple(values))
    return Not(found) if negated else found


def _unit(scanner: Scanner, variable: Variable) -> None:
    """Units may be said: “practice hours at least 5 hours”."""
    words = [word for word in (variable.unit, variable.units, f"{variable.unit}s" if variable.unit else "") if word]
    if words:
        scanner.take_phrase(*sorted(words, key=len, reverse=True))


def _place(scanner: Scanner, variable: Variable) -> float:
    scanner.skip()
    if variable.kind is Kind.DATE:
        when = scanner.date()
        if when is None:
            raise scanner.stop(f"{variable.label} contains dates: write one as 2026-03-01.")
        return when
    if scanner.holds_texts(variable) and not scanner.stored:
        raise scanner.stop(f"{variable.label} contains texts; no condition can ask how large it is.")
    found = scanner.number()
    _unit(scanner, variable)
    return found


def _values(scanner: Scanner, variable: Variable) -> list[str | float]:
    """One value, or several with commas and “or” between them. An “or” before something else is left where it
    stands."""
    found = [_value(scanner, variable)]
    while True:
        before = scanner.at
        joined = scanner.take(",") or scanner.take_phrase("or", "and")
        if not joined:
            return found
        try:
            value = _after_comma(scanner, variable) if joined == "," else _value(scanner, variable)
            if not (scanner.is_done or scanner.sees_phrase("and", "or", "else") or _sees(scanner, ",", ")")):
                raise scanner.stop("")
        except Stop:
            if joined == ",":
                raise
            scanner.at = before
            return found
        found.append(value)


def _after_comma(scanner: Scanner, variable: Variable) -> str | float:
    """The value after a comma, which an “or” may precede."""
    before = scanner.at
    try:
        return _value(scanner, variable)
    except Stop:
        scanner.at = before
        if not scanner.take_phrase("or", "and"):
            raise
        return _value(scanner, variable)


def _sees(scanner: Scanner, *marks: str) -> bool:
    before = scanner.at
    found = bool(scanner.take(*marks))
    scanner.at = before
    return found


def _value(scanner: Scanner, variable: Variable) -> str | float:
    scanner.skip()
    begin = scanner.at
    if variable.kind is Kind.GROUP:
        text = scanner.quoted()
        if text is not None:
            exact = next((x for x in variable.levels if text == x.label or text in x.codes), None)
            level = exact or variable.find_level(text)
            if level is not None:
                return level.code
            if scanner.stored:
                return text
            raise Stop(begin, scanner.at - begin, no_such_level(variable))
        rest = scanner.line[scanner.at :].casefold()
        names = [(text.casefold(), level.code) for level in variable.levels for text in (level.label, *level.codes)]
        for name, code in sorted(names, key=lambda pair: -len(pair[0])):
            if name and rest.startswith(name) and (len(rest) == len(name) or rest[len(name)] in " \t,)"):
                scanner.at += len(name)
                return code
        word = scanner.word()
        begun = {code for name, code in names if word and name.startswith(word.casefold())}
        if len(begun) == 1:
            scanner.at += len(word)
            return begun.pop()
        raise scanner.stop(no_such_level(variable))
    if variable.kind is Kind.DATE:
        return _place(scanner, variable)
    text = scanner.quoted()
    if variable.kind is Kind.NUMBER:
        if text is not None and scanner.stored:
            return text
        if text is not None:
            raise Stop(begin, scanner.at - begin, f"{variable.label} is a number: a number is missing here.")
        return scanner.number(f"{variable.label} is a number: a number is missing here.")
    if text is None:
        text = scanner.word()
        if not text:
            raise scanner.stop(f"A value of {variable.label} is missing here.")
        scanner.at += len(text)
    return text


def no_such_level(variable: Variable) -> str:
    """What a group variable has instead."""
    known = [f"“{level.label}”" for level in variable.levels[:6]]
    more = f" and {len(variable.levels) - 6} more" if len(variable.levels) > 6 else ""
    return f"{variable.label} has no such group; it has {', '.join(known)}{more}."


# ---- writing


def condition_text(
    rule: Rule, variables: Mapping[str, Variable], name: Callable[[Variable], str] | None = None, stored: bool = False
) -> str:
    """The condition as it is typed. `stored`: with the columns' own names and codes, which no renaming changes."""
    every = tuple(variables.values())
    called = (lambda v: f"[{v.name}]") if stored else name or (lambda v: typed_name(v, every))
    return _Writing(variables, called, stored).condition(rule)


@dataclass(frozen=True, slots=True)
class _Writing:
    """How conditions are written."""

    variables: Mapping[str, Variable]
    called: Callable[[Variable], str]
    stored: bool

    def condition(self, part: Rule) -> str:
        """One condition, whatever stands in it."""
        if isinstance(part, All | Any):
            joined = (" and " if isinstance(part, All) else " or ").join(self.inner(one, part) for one in part.rules)
            return joined or ("every case" if isinstance(part, All) else "no case")
        core = part.rule if isinstance(part, Not) else part
        if isinstance(core, Not):
            return f"not {self.condition(core)}"
        if isinstance(core, All | Any):
            return f"not ({self.condition(core)})"
        return self.comparison(core, isinstance(part, Not))

    def inner(self, part: Rule, outer: All | Any) -> str:
        """A condition within another, in parentheses where it needs them."""
        text = self.condition(part)
        plain = self.stored and isinstance(outer, Any) and isinstance(part, All)  # “and” binds more firmly than “or”
        return f"({text})" if isinstance(part, All | Any) and len(part.rules) > 1 and not plain else text

    def comparison(self, core: Is | OneOf | AtLeast | AtMost | Between | Missing, negated: bool) -> str:
        """What is asked of one variable, or its opposite."""
        variable = self.variables.get(core.variable)
        title = self.called(variable) if variable is not None else f"[{core.variable}]"
        no = "not " if negated else ""
        match core:
            case Missing():
                return f"{title} {no}missing"
            case Is(_, one):
                return f"{title} is {no}{self.value(variable, one)}"
            case OneOf(_, several):
                values = [self.value(variable, one) for one in several]
                if not values:
                    return "every case" if negated else "no case"
                said = f"{', '.join(values[:-1])} or {values[-1]}" if len(values) > 1 else values[0]
                return f"{title} is {no}{said}"
            case AtLeast(_, least):
                return f"{title} {'less than' if negated else 'at least'} {_placed(variable, least)}"
            case AtMost(_, most):
                return f"{title} {'more than' if negated else 'at most'} {_placed(variable, most)}"
            case Between(_, low, high):
                between = f"{title} between {_placed(variable, low)} and {_placed(variable, high)}"
                return f"not ({between})" if negated else between
            case _:
                assert_never(core)

    def value(self, variable: Variable | None, given: str | float) -> str:
        """A value, or the name of a level."""
        if variable is None:
            return number_text(given) if isinstance(given, float) else quote(str(given))
        if variable.kind is Kind.GROUP:
            text = given if isinstance(given, str) else number_text(float(given))
            if self.stored:
                return quote(text)
            level = next((x for x in variable.levels if text in x.codes), None) or variable.find_level(text)
            return quote(level.label if level else text)
        if isinstance(given, str):
            try:
                return number_text(float(given)) if variable.kind is Kind.NUMBER else quote(given)
            except ValueError:
                return quote(given)
        return _placed(variable, given)


def _placed(variable: Variable | None, given: float) -> str:
    if variable is not None and variable.kind is Kind.DATE:
        return date_text(given)
    return number_text(given).replace("-", "−")


MOST_OFFERED = 40


def completions(scanner_variables: tuple[Variable, ...], line: str, cursor: int) -> tuple[int, list[str]]:
    """Where the word under the cursor begins, and what would finish it: names, comparisons, levels."""
    typed = line[:cursor]
    scanner = Scanner(typed, scanner_variables)
    begin = 0
    for mark in (" and ", " or ", " not ", "(", " if ", "="):
        found = typed.casefold().rfind(mark)
        if found >= 0:
            begin = max(begin, found + len(mark))
    scanner.at = begin
    scanner.skip()
    start, rest = scanner.at, typed[scanner.at :].casefold()
    fits = islice((v for v in scanner_variables if v.label.casefold().startswith(rest)), MOST_OFFERED)
    labels = [typed_name(v, scanner_variables) for v in fits]
    labels = [label for label in labels if label.casefold() != rest]
    if rest and labels:
        return start, labels
    try:
        variable = scanner.variable()
    except Stop:
        return start, []
    after = scanner.at
    rest = typed[after:].casefold().lstrip()
    place = len(typed) - len(typed[after:].lstrip())
    for words in ("is not one of ", "is one of ", "is not ", "is "):
        if rest.startswith(words) and variable.kind is Kind.GROUP:
            said = rest[len(words) :]
            tail = said[max(said.rfind(","), said.rfind(" or ") + 3) + 1 if "," in said or " or " in said else 0 :]
            tail = tail.lstrip().lstrip("".join(QUOTES))
            levels = [quote(level.label) for level in variable.levels if level.label.casefold().startswith(tail)]
            begins = len(typed) - len(tail) - (1 if typed[len(typed) - len(tail) - 1 :][:1] in QUOTES else 0)
            return begins, levels[:MOST_OFFERED]
    return place, [words for words in COMPARISONS if rest and words.startswith(rest) and words != rest]
