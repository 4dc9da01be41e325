"""What a column is: its kind, label, unit, limits, missing codes and levels. No choice of the analyst stands here."""

from __future__ import annotations

import re
from typing import Annotated

import numpy as np
from msgspec import Meta

from yellow_slope.core.arrays import distinct
from yellow_slope.core.data.table import Column, NumberColumn, TextColumn
from yellow_slope.core.errors import StudyError
from yellow_slope.core.kinds import Named
from yellow_slope.core.letters import letters_only
from yellow_slope.values import dataclass, replace

SHORT = 18


class Kind(Named):
    """How a column is understood."""

    NUMBER = "number"
    GROUP = "group"
    DATE = "date"
    IDENTIFIER = "identifier"
    TEXT = "text"

    @property
    def one(self) -> str:
        """One of its kind, in a sentence: “a group”, “an identifier”."""
        return f"{'an' if self is Kind.IDENTIFIER else 'a'} {self.label}"

    @property
    def enters(self) -> bool:
        """Whether a variable of this kind can stand in a model."""
        return self in (Kind.NUMBER, Kind.GROUP)


@dataclass(frozen=True, slots=True)
class Level:
    """One level of a group variable: the codes that mean it, as they stand in the table, and its label.

    Levels are known by their first code; their order is their place in the variable.
    """

    codes: Annotated[tuple[str, ...], Meta(min_length=1)]
    label: str

    def __post_init__(self) -> None:
        _check_length(self.label)
        letters_only(self, "label")

    @property
    def code(self) -> str:
        """The code by which the level is known."""
        return self.codes[0]

    @property
    def short(self) -> str:
        """The label in at most 18 characters."""
        return shortened(self.label)


MOST_LETTERS = 10_000
"""Of a name: a longer one is a text, and drawing it takes longer than a frame."""


def _check_length(name: str) -> None:
    if len(name) > MOST_LETTERS:
        begin = name[:40].replace("\n", " ")
        raise StudyError(f"“{begin} …” has {len(name):,} letters; a name has {MOST_LETTERS:,} at most.")


_RATE = re.compile(r"((?: (?:a|an|per|each|of|in) |/).*)")
"""Where what is counted ends and what it is counted by begins."""


def by_name(name: str) -> str:
    """“by worry”; a name that begins as this does stands in quotes: by “by car”."""
    return f"by “{name}”" if name.lower().startswith("by ") else f"by {name}"


def shortened(text: str, limit: int = SHORT) -> str:
    """The text in at most `limit` characters; a longer one ends in an ellipsis."""
    return text if len(text) <= limit else text[: limit - 1].rstrip() + "…"


@dataclass(frozen=True, slots=True)
class Variable:
    """A column's description."""

    name: str
    kind: Kind
    label: str
    short_label: str = ""
    unit: str = ""
    units: str = ""
    levels: tuple[Level, ...] = ()
    limits: tuple[float, float] | None = None
    missing: tuple[str, ...] = ()
    given: tuple[tuple[str, float], ...] = ()
    """Values given to stray cells, by what stands in them; the others count as missing."""
    ordered: bool = False
    """Whether the order of a group's levels means something."""
    reliability: Annotated[float, Meta(gt=0, le=1)] | None = None
    """Of a scale, between 0 and 1, as the user gives it; None: not known."""
    otherwise: Kind | None = None
    """Of a number that is one only as an outcome: the kind that it has where it is none."""

    def __post_init__(self) -> None:
        for name in (self.name, self.label, self.short_label, self.unit, self.units):
            _check_length(name)
        letters_only(self, "label", "short_label", "unit", "units")

    def by_itself(self) -> Variable:
        """As it is where it is no outcome."""
        return self if self.otherwise is None else replace(self, kind=self.otherwise, otherwise=None)

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
        """The unit in the plural: “hours a week” of “hour a week”."""
        if self.units:
            return self.units
        if not self.unit:
            return "units"
        counted, *rest = _RATE.split(self.unit, 1)
        return "".join([counted if len(counted) <= 2 or counted.endswith("s") else counted + "s", *rest])

    @property
    def axis_label(self) -> str:
        """Label with unit, for a figure's axis."""
        return f"{self.label} ({self.many})" if self.unit else self.label

    def level(self, code: str) -> Level:
        """The level that holds the code; StudyError if there is none."""
        level = self.find_code(code)
        if level is None:
            raise StudyError(f"{self.label} has no level “{code}”.")
        return level

    def find_code(self, code: str) -> Level | None:
        """The level that holds the code; None if there is none."""
        return next((level for level in self.levels if code in level.codes), None)

    def find_level(self, text: str) -> Level | None:
        """The level whose label or code is that text, whatever its case."""
        wanted = text.strip().casefold()
        for level in self.levels:
            if wanted == level.label.casefold() or any(wanted == code.casefold() for code in level.codes):
                return level
        return None

    def named_level(self, text: str) -> Level:
        """The level of that label or code; StudyError that names those there are."""
        level = self.find_level(text)
        if level is None:
            known = ", ".join(f"“{x.label}”" for x in self.levels[:8])
            raise StudyError(f"{self.label} has no level “{text}”; it has {known}.")
        return level


def found_levels(column: Column, missing: tuple[str, ...] = ()) -> tuple[Level, ...]:
    """The distinct values of a column as levels: numbers in order of size, texts in alphabetical order."""
    if not isinstance(column, TextColumn):
        values, _ = distinct(column.numbers)
        texts = [column.code(float(value)) for value in values]
    else:
        texts = sorted(column.texts, key=str.casefold)
    return tuple(Level((text,), text) for text in texts if text not in missing)


def two_whole_values(column: NumberColumn, missing: tuple[str, ...] = ()) -> bool:
    """Whether the column holds exactly two different values, both whole numbers."""
    codes = set(missing_numbers(missing))
    seen = {value for value in column.numbers[:64].tolist() if value == value} - codes
    if len(seen) > 2:  # so it is with most columns, and sorting tells no more
        return False
    for start in range(0, column.numbers.size, 1 << 16):
        piece = column.numbers[start : start + (1 << 16)]
        seen |= set(np.unique(piece[~np.isnan(piece)])[:4].tolist()) - codes
        if len(seen) > 2:
            return False
    return len(seen) == 2 and all(value == round(value) for value in seen)


def missing_numbers(missing: tuple[str, ...]) -> list[float]:
    """Those of the codes for missing that are numbers."""
    found: list[float] = []
    for code in missing:
        try:
            found.append(float(code))
        except ValueError:
            continue
    return found


def as_group(variable: Variable, column: Column) -> Variable:
    """The variable as a group: its levels are those known, else the distinct values found."""
    levels = variable.levels or found_levels(column, variable.missing)
    return replace(variable, kind=Kind.GROUP, levels=levels)


def as_number(variable: Variable, column: Column) -> Variable:
    """The variable as a number; StudyError for texts. Level names are kept for the way back."""
    if not column.is_numeric:
        raise StudyError(f"{variable.label} contains texts; it cannot be used as a number.")
    return replace(variable, kind=Kind.NUMBER)
