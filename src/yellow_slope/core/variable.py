"""What is known about a column: its kind, label, unit, levels, and how it is treated in the model."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from yellow_slope.core.errors import StudyError
from yellow_slope.core.table import BoolArray, Column, FloatArray, IntArray, number_text

SHORT = 18
MANY_LEVELS = 30


class Kind(StrEnum):
    """How a column is understood."""

    NUMBER = "number"
    GROUP = "group"
    TEXT = "text"


class Treatment(StrEnum):
    """How a number enters the model."""

    AS_IS = "as it is"
    CENTERED = "centered"
    STANDARDIZED = "standardized"


@dataclass(frozen=True, slots=True)
class Level:
    """One level of a group variable: the code as it stands in the table, and its label."""

    code: str
    label: str

    @property
    def short(self) -> str:
        """The label in at most 18 characters."""
        return shortened(self.label)


def shortened(text: str, limit: int = SHORT) -> str:
    """The text in at most `limit` characters; a longer one ends in an ellipsis."""
    return text if len(text) <= limit else text[: limit - 1].rstrip() + "…"


@dataclass(frozen=True, slots=True)
class Variable:
    """A column's description. Reference None means that nobody chose one; the first level then serves."""

    name: str
    kind: Kind
    label: str
    short_label: str = ""
    unit: str = ""
    units: str = ""
    levels: tuple[Level, ...] = ()
    limits: tuple[float, float] | None = None
    missing: tuple[str, ...] = ()
    treatment: Treatment = Treatment.AS_IS
    reference: str | None = None

    @property
    def short(self) -> str:
        """A name of at most 18 characters for sheets and figures."""
        return shortened(self.short_label or self.label)

    @property
    def one(self) -> str:
        """The unit in the singular; “unit” where none is known."""
        return self.unit or "unit"

    @property
    def many(self) -> str:
        """The unit in the plural."""
        if self.units:
            return self.units
        if not self.unit:
            return "units"
        return self.unit if len(self.unit) <= 2 or self.unit.endswith("s") else self.unit + "s"

    @property
    def axis_label(self) -> str:
        """Label with unit, for a figure's axis."""
        return f"{self.label} ({self.many})" if self.unit else self.label

    def level(self, code: str) -> Level:
        """The level of that code; StudyError if there is none."""
        for level in self.levels:
            if level.code == code:
                return level
        raise StudyError(f"{self.label} has no level “{code}”.")

    def find_level(self, text: str) -> Level | None:
        """The level whose label or code is that text, whatever its case."""
        wanted = text.strip().casefold()
        for level in self.levels:
            if wanted in (level.label.casefold(), level.code.casefold()):
                return level
        return None


def present_values(column: Column, variable: Variable) -> BoolArray:
    """Shape (rows,): where the column has a value that is not one of the variable's missing codes."""
    present = column.present
    if variable.missing:
        if column.numbers is not None:
            codes = [float(code) for code in variable.missing if _is_number(code)]
            present &= ~np.isin(column.numbers, codes)
        elif column.codes is not None:
            out = [i for i, text in enumerate(column.texts) if text in variable.missing]
            present &= ~np.isin(column.codes, out)
    return present


def numeric_values(column: Column, variable: Variable) -> FloatArray:
    """Shape (rows,): the numbers, NaN where missing; StudyError for a column of texts."""
    if column.numbers is None:
        raise StudyError(f"{variable.label} holds texts; it cannot be used as a number.")
    if not variable.missing:
        return column.numbers
    return np.where(present_values(column, variable), column.numbers, np.nan)


def level_indices(column: Column, variable: Variable) -> IntArray:
    """Shape (rows,): index into the variable's levels, -1 where missing or of no level."""
    order = {level.code: i for i, level in enumerate(variable.levels)}
    if column.codes is not None:
        lookup = np.array([order.get(text, -1) for text in column.texts] + [-1], dtype=np.int64)
        found: IntArray = lookup[column.codes]
    else:
        assert column.numbers is not None
        values, inverse = np.unique(column.numbers, return_inverse=True)
        lookup = np.array([order.get(number_text(float(v)), -1) for v in values], dtype=np.int64)
        found = lookup[inverse]
    return np.where(present_values(column, variable), found, -1)


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def found_levels(column: Column, missing: tuple[str, ...] = ()) -> tuple[Level, ...]:
    """The distinct values of a column as levels: numbers in order of size, texts in alphabetical order."""
    if column.numbers is not None:
        values = np.unique(column.numbers[~np.isnan(column.numbers)])
        texts = [number_text(float(value)) for value in values]
    else:
        texts = sorted(column.texts, key=str.casefold)
    return tuple(Level(text, text) for text in texts if text not in missing)


def guessed_variable(column: Column) -> Variable:
    """The description of a column about which nothing has been said.

    Numbers are taken for numbers, also whole ones: a flag asks where they look like codes. Texts are groups
    unless nearly every one is different.
    """
    label = column.name.replace("_", " ").strip() or column.name
    if column.is_numeric:
        return Variable(column.name, Kind.NUMBER, label)
    n = int(column.present.sum())
    if len(column.texts) > MANY_LEVELS or (n > 10 and len(column.texts) > n / 2):
        return Variable(column.name, Kind.TEXT, label)
    return Variable(column.name, Kind.GROUP, label, levels=found_levels(column))


def as_group(variable: Variable, column: Column) -> Variable:
    """The variable as a group: its levels are those known, else the distinct values found."""
    levels = variable.levels or found_levels(column, variable.missing)
    return replace(variable, kind=Kind.GROUP, levels=levels, treatment=Treatment.AS_IS)


def as_number(variable: Variable, column: Column) -> Variable:
    """The variable as a number; StudyError for texts. Level names are kept for the way back."""
    if not column.is_numeric:
        raise StudyError(f"{variable.label} holds texts; it cannot be used as a number.")
    return replace(variable, kind=Kind.NUMBER, reference=None)
