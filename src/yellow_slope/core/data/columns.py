"""The one door to a study's values: columns of the file and derived ones alike, by name."""

from __future__ import annotations

import itertools
import weakref
from collections.abc import Sequence
from typing import Protocol

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray, distinct
from yellow_slope.core.data.derived import Derived, sources_of, values_of
from yellow_slope.core.data.numbers import Numbers
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Table, TextColumn
from yellow_slope.core.data.variable import Kind, Level, Variable, missing_numbers
from yellow_slope.core.errors import StudyError


class Facts(Protocol):
    """What the door needs of a study."""

    @property
    def table(self) -> Table: ...
    @property
    def variables(self) -> tuple[Variable, ...]: ...
    @property
    def derived(self) -> tuple[Derived, ...]: ...


_level_cache: weakref.WeakKeyDictionary[Column, dict[object, IntArray]] = weakref.WeakKeyDictionary()
"""Level positions of a column by its codes and missing values; a column never changes."""


_number_cache: weakref.WeakKeyDictionary[Column, dict[object, Numbers]] = weakref.WeakKeyDictionary()
"""Numbers of a column by its missing values and by what stands for its strays."""
_computed: weakref.WeakKeyDictionary[Table, dict[object, Numbers]] = weakref.WeakKeyDictionary()
"""Values of computed variables, so that an edit that concerns none of their sources computes none anew."""
_places: weakref.WeakKeyDictionary[Table, dict[object, int]] = weakref.WeakKeyDictionary()
"""A number for each way in which a column of a table was computed, so that what is computed from it can name it."""
_count = itertools.count(1)
MOST_KEPT, MOST_PLACES, MOST_READ = 64, 10_000, 4


class Columns:
    """Values by variable; NaN or -1 where a value is missing."""

    def __init__(self, facts: Facts) -> None:
        self._table = facts.table
        self._variables = {v.name: v for v in facts.variables}
        self._derived = {d.name: d for d in facts.derived}
        self._numbers: dict[str, Numbers] = {}
        self._place: dict[str, int] = {}
        """How the computed variables among them were computed."""

    @property
    def n_rows(self) -> int:
        """Number of cases in the table."""
        return self._table.n_rows

    def variable(self, name: str) -> Variable:
        """The description; StudyError if there is none."""
        try:
            return self._variables[name]
        except KeyError:
            raise StudyError(f"There is no variable named “{name}”.") from None

    def numbers(self, name: str) -> FloatArray:
        """Shape (rows,): the numbers, NaN where missing; StudyError for a column of texts."""
        return self.known(name).values

    def known(self, name: str) -> Numbers:
        """The numbers with what is known of them; StudyError for a column of texts."""
        if name not in self._numbers:
            for one in self._in_order(name):
                if one not in self._numbers:
                    self._numbers[one] = self._read(one)
        return self._numbers[name]

    def _in_order(self, name: str) -> list[str]:
        """The computed variables that this one rests on, each before what is made of it, and itself: however long
        the chain."""
        found: list[str] = []
        seen: set[str] = set()
        waiting = [(name, False)]
        while waiting:
            one, is_ready = waiting.pop()
            if is_ready:
                found.append(one)
            elif one not in seen:
                seen.add(one)
                waiting.append((one, True))
                if one in self._derived:
                    waiting += [(s, False) for s in sources_of(self._derived[one].expression) if s in self._derived]
        return found

    def _read(self, name: str) -> Numbers:
        variable = self.variable(name)
        derived = self._derived.get(name)
        if derived is not None:
            known = _computed.setdefault(self._table, {})
            key = self._computed_from(name)
            places = _places.setdefault(self._table, {})
            if len(places) > MOST_PLACES:
                places.clear()
            self._place[name] = places.setdefault(key, next(_count))
            if key not in known:
                if len(known) >= MOST_KEPT:
                    known.clear()
                found = values_of(derived.expression, self)
                found.setflags(write=False)
                known[key] = Numbers(found)
            return known[key]
        column = self._table.column(name)
        if isinstance(column, TextColumn):
            raise StudyError(f"{variable.label} contains texts; it cannot be used as a number.")
        read = _number_cache.setdefault(column, {})
        key = variable.missing, variable.given
        if key not in read:
            if len(read) >= MOST_READ:
                read.clear()
            read[key] = Numbers(_as_said(column, variable))
        return read[key]

    def _computed_from(self, name: str) -> object:
        """All that a computed variable's values rest on besides the table."""
        expression = self._derived[name].expression
        facts = []
        for source in sources_of(expression):
            v = self.variable(source)
            facts.append((source, v.kind, tuple(level.codes for level in v.levels), v.limits, v.missing, v.given))
        inner = tuple(self._place.get(s, 0) for s in sources_of(expression) if s in self._derived)
        return expression, tuple(facts), inner

    def column(self, name: str) -> Column:
        """The column of a variable; of a computed one a column of its numbers."""
        return computed_column(name, self.numbers(name)) if name in self._derived else self._table.column(name)

    def levels(self, name: str) -> IntArray:
        """Shape (rows,): position among the variable's levels, -1 where missing or of no level."""
        variable = self.variable(name)
        column = self.column(name)
        key = (tuple(level.codes for level in variable.levels), variable.missing, variable.given)
        known = _level_cache.setdefault(column, {})
        if key not in known:
            values = None if isinstance(column, TextColumn) else self.numbers(name)
            known[key] = _level_positions(column, values, variable.levels, variable.missing)
        return known[key]

    def present(self, name: str) -> BoolArray:
        """Shape (rows,): where the variable has a value that a model can use."""
        variable = self.variable(name)
        if variable.kind is Kind.GROUP:
            return self.levels(name) >= 0
        if variable.kind is Kind.NUMBER:
            return self.known(name).present
        return self.known(name).present if name in self._derived else self._table.column(name).present

    def is_any_of(self, name: str, texts: tuple[str, ...]) -> BoolArray:
        """Shape (rows,): where a column of texts holds one of these."""
        column = self._table.column(name)
        if not isinstance(column, TextColumn):
            return np.isin(self.numbers(name), missing_numbers(texts))
        sought = set(texts)
        wanted = [i for i, text in enumerate(column.texts) if text in sought]
        return np.isin(column.codes, wanted)

    def is_numeric(self, name: str) -> bool:
        """Whether the variable could be used as a number."""
        return name in self._derived or self._table.column(name).is_numeric


def computed_column(name: str, numbers: FloatArray) -> NumberColumn:
    """Computed numbers as a column, to form groups of."""
    return NumberColumn(name, numbers)


def _as_said(column: NumberColumn | DateColumn, variable: Variable) -> FloatArray:
    """Shape (rows,): the numbers of a column without missing codes, with what was given for its strays."""
    codes = missing_numbers(variable.missing)
    found = np.where(np.isin(column.numbers, codes), np.nan, column.numbers) if codes else column.numbers
    given = dict(variable.given)
    if given and isinstance(column, NumberColumn):
        found = np.array(found)
        for stray in column.stray:
            found[stray.row] = given.get(stray.text, np.nan)
    if found is not column.numbers:
        found.setflags(write=False)
    return found


def _level_positions(
    column: Column, numbers: FloatArray | None, levels: Sequence[Level], missing: tuple[str, ...]
) -> IntArray:
    """numbers: those of a column of numbers, with given values and without missing codes; None for texts."""
    order = {code: i for i, level in enumerate(levels) for code in level.codes if code not in missing}
    if not isinstance(column, TextColumn):
        values, places = distinct(column.numbers if numbers is None else numbers)
        lookup = np.array([*(order.get(column.code(float(v)), -1) for v in values), -1], dtype=np.int64)
        found: IntArray = lookup[places]
    else:
        lookup = np.array([order.get(text, -1) for text in column.texts] + [-1], dtype=np.int64)
        found = lookup[column.codes]
    found.setflags(write=False)
    return found
