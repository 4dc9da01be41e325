"""Derived variables: a parsed expression over other columns, which follows its sources."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.errors import StudyError


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


@dataclass(frozen=True, slots=True)
class RowMean:
    """The mean of several variables in each row, where at least so many of them have a value."""

    names: tuple[str, ...]
    at_least: int


@dataclass(frozen=True, slots=True)
class GroupMean:
    """The mean of a variable within the groups of another."""

    of: str
    by: str


Expression = Constant | Named | Arithmetic | RowMean | GroupMean


@dataclass(frozen=True, slots=True)
class Derived:
    """A variable that is computed from others."""

    name: str
    expression: Expression


def sources_of(expression: Expression) -> tuple[str, ...]:
    """The variables that an expression reads, each once."""
    if isinstance(expression, Named):
        return (expression.name,)
    if isinstance(expression, Arithmetic):
        return tuple(dict.fromkeys((*sources_of(expression.left), *sources_of(expression.right))))
    if isinstance(expression, RowMean):
        return expression.names
    return (expression.of, expression.by) if isinstance(expression, GroupMean) else ()


def values_of(
    expression: Expression, n: int, numbers: Callable[[str], FloatArray], levels: Callable[[str], IntArray]
) -> FloatArray:
    """Shape (n,): the expression in every row, NaN where it is not defined."""
    if isinstance(expression, Constant):
        return np.full(n, expression.value)
    if isinstance(expression, Named):
        return numbers(expression.name)
    if isinstance(expression, Arithmetic):
        left = values_of(expression.left, n, numbers, levels)
        right = values_of(expression.right, n, numbers, levels)
        joined = {"+": np.add, "-": np.subtract, "*": np.multiply, "/": np.divide}[expression.sign]
        with np.errstate(all="ignore"):
            found = np.asarray(joined(left, right), dtype=np.float64)
        return np.where(np.isfinite(found), found, np.nan)
    if isinstance(expression, RowMean):
        rows = np.column_stack([numbers(name) for name in expression.names])
        valid = np.sum(~np.isnan(rows), axis=1)
        mean = np.nansum(rows, axis=1) / np.maximum(valid, 1)
        return np.where(valid >= max(1, expression.at_least), mean, np.nan)
    return group_means(numbers(expression.of), levels(expression.by))


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


# ---- as text: “(item01 + item02) / 2”, “mean of item01, item02, item03 with 2”, “group mean of practice by coaching”


def expression_text(expression: Expression) -> str:
    """The expression as it is typed and stored."""
    if isinstance(expression, Constant):
        return repr(expression.value)
    if isinstance(expression, Named):
        return f"[{expression.name}]"
    if isinstance(expression, RowMean):
        return f"mean of {', '.join(f'[{n}]' for n in expression.names)} with {expression.at_least}"
    if isinstance(expression, GroupMean):
        return f"group mean of [{expression.of}] by [{expression.by}]"
    return f"({expression_text(expression.left)} {expression.sign} {expression_text(expression.right)})"


_TOKEN = re.compile(r"\s*(\[[^\]]+\]|\d+\.?\d*(?:[eE][+-]?\d+)?|[A-Za-z_][\w.]*|[-+*/(),])")


def parsed(text: str, known: Iterable[str]) -> Expression:
    """The expression that the text says; names with spaces stand in square brackets. StudyError with the place."""
    return _Parser(text, frozenset(known)).whole()


class _Parser:
    def __init__(self, text: str, known: frozenset[str]) -> None:
        self.text, self.known = text, known
        self.tokens: list[tuple[str, int]] = []
        at = 0
        while text[at:].strip():
            found = _TOKEN.match(text, at)
            if not found:
                raise StudyError(f"“{text}”: “{text[at:].strip()}” at character {at + 1} is not understood.")
            self.tokens.append((found.group(1), found.start(1)))
            at = found.end()
        self.at = 0

    def whole(self) -> Expression:
        found = self.sum()
        if self.at < len(self.tokens):
            raise self._stop("is not expected here")
        return found

    def _peek(self, ahead: int = 0) -> str:
        return self.tokens[self.at + ahead][0] if self.at + ahead < len(self.tokens) else ""

    def _take(self, *wanted: str) -> bool:
        if tuple(self._peek(i) for i in range(len(wanted))) == wanted:
            self.at += len(wanted)
            return True
        return False

    def _stop(self, why: str) -> StudyError:
        if self.at >= len(self.tokens):
            return StudyError(f"“{self.text}” ends too early.")
        token, place = self.tokens[self.at]
        return StudyError(f"“{self.text}”: “{token}” at character {place + 1} {why}.")

    def sum(self) -> Expression:
        left = self.product()
        while self._peek() in ("+", "-"):
            sign = self._peek()
            self.at += 1
            left = Arithmetic(sign, left, self.product())
        return left

    def product(self) -> Expression:
        left = self.factor()
        while self._peek() in ("*", "/"):
            sign = self._peek()
            self.at += 1
            left = Arithmetic(sign, left, self.factor())
        return left

    def factor(self) -> Expression:
        if self._take("-"):
            return Arithmetic("-", Constant(0.0), self.factor())
        if self._take("("):
            found = self.sum()
            if not self._take(")"):
                raise self._stop("stands where a closing parenthesis is missing")
            return found
        if self._take("mean", "of"):
            names = [self._name()]
            while self._take(","):
                names.append(self._name())
            least = len(names)
            if self._take("with"):
                least = int(float(self._peek() or 0))
                self.at += 1
            return RowMean(tuple(names), least)
        if self._take("group", "mean", "of"):
            of = self._name()
            if not self._take("by"):
                raise self._stop("stands where “by” and a group variable are missing")
            return GroupMean(of, self._name())
        token = self._peek()
        if token[:1].isdigit():
            self.at += 1
            return Constant(float(token))
        return Named(self._name())

    def _name(self) -> str:
        token = self._peek()
        name = token[1:-1] if token.startswith("[") else token
        if name not in self.known:
            raise self._stop("is no variable of the study" if token else "")
        self.at += 1
        return name
