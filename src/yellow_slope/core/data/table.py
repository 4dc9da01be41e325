"""The table as it was read: named columns of numbers or of texts, never changed afterwards."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from datetime import date

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.errors import StudyError
from yellow_slope.values import dataclass, field, replace, settle

_HALF = re.compile("[\ud800-\udfff]")


@dataclass(frozen=True, slots=True)
class Stray:
    """A cell of a number column that is no number: its row from 0, and what stands there. It counts as missing."""

    row: int
    text: str


@dataclass(frozen=True, slots=True, eq=False, weakref_slot=True)
class _Numeric:
    """What columns of numbers and of dates have in common; NaN where missing."""

    name: str
    numbers: FloatArray

    is_numeric = True

    @property
    def present(self) -> BoolArray:
        """Shape (rows,): where the column has a value."""
        return ~np.isnan(self.numbers)

    def __len__(self) -> int:
        return int(self.numbers.size)

    def text(self, row: int) -> str:
        """The value of a row as it is written in the table; empty where missing."""
        return self.code(float(self.numbers[row]))

    def code(self, value: float) -> str:
        """A value as the code of a level."""
        return number_text(value)

    def level_code(self, text: str) -> str | None:
        """The code of a level as this column writes it, 1 for “1.0”; None where no value of it can be so."""
        try:
            value = float(text)
        except ValueError:
            return None
        return self.code(value) if np.isfinite(value) else None


@dataclass(frozen=True, slots=True, eq=False)
class NumberColumn(_Numeric):
    """A column of numbers."""

    stray: tuple[Stray, ...] = ()
    sign: str = ""
    """What stood with every number in the file: “%”, a currency."""


@dataclass(frozen=True, slots=True, eq=False)
class DateColumn(_Numeric):
    """A column of days since 1970-01-01, or of times as parts of a day."""

    form: str = "year, month, day"
    """How the dates were written in the file, or “times”."""

    def level_code(self, text: str) -> str | None:
        """The code of a level as it is said: a date in words."""
        return text

    def code(self, value: float) -> str:
        """The date as year-month-day, with its time if it has one; empty for NaN."""
        return "" if np.isnan(value) else date_text(value, self.form == "times")


@dataclass(frozen=True, slots=True, eq=False, weakref_slot=True)
class TextColumn:
    """A column of texts: codes into `texts`, -1 where missing."""

    name: str
    codes: IntArray
    texts: tuple[str, ...]

    is_numeric = False

    def level_code(self, text: str) -> str | None:
        """The code of a level: any text."""
        return text

    @property
    def present(self) -> BoolArray:
        """Shape (rows,): where the column has a value."""
        return self.codes >= 0

    def __len__(self) -> int:
        return int(self.codes.size)

    def text(self, row: int) -> str:
        """The text of a row; empty where missing."""
        code = int(self.codes[row])
        return self.texts[code] if code >= 0 else ""


Column = NumberColumn | DateColumn | TextColumn


def date_text(days: float, is_time: bool = False) -> str:
    """Days since 1970-01-01 as year-month-day, with hours, minutes and seconds where there are any."""
    whole = int(np.floor(days))
    seconds = round((days - whole) * 86400)
    whole, seconds = whole + seconds // 86400, seconds % 86400
    clock = f"{seconds // 3600:02}:{seconds // 60 % 60:02}" + (f":{seconds % 60:02}" if seconds % 60 else "")
    if is_time:
        return clock
    day = date.fromordinal(whole + date(1970, 1, 1).toordinal()).isoformat()
    return f"{day} {clock}" if seconds else day


def number_text(value: float) -> str:
    """A number in the shortest form that reads back as the same number; empty for NaN. The one way a code is
    written."""
    if np.isnan(value):
        return ""
    if abs(value) < 1e15 and value == int(value):
        return str(int(value))
    return repr(value)


def number_column(name: str, values: Sequence[float] | FloatArray) -> NumberColumn:
    """A column of numbers from any sequence; the values are copied and frozen."""
    numbers = np.array(values, dtype=np.float64)
    numbers.setflags(write=False)
    return NumberColumn(name, numbers)


def text_column(name: str, values: Sequence[str]) -> TextColumn:
    """A column of texts; an empty text is missing; texts are listed in the order in which they first appear."""
    index: dict[str, int] = {}
    codes = np.fromiter(
        (index.setdefault(v, len(index)) if v else -1 for v in values), dtype=np.int64, count=len(values)
    )
    codes.setflags(write=False)
    return TextColumn(name, codes, tuple(index))


def _without_halves(column: Column) -> Column:
    """The column with a mark in place of every half of a character: no file can hold one."""
    strays = column.stray if isinstance(column, NumberColumn) else ()
    texts = column.texts if isinstance(column, TextColumn) else tuple(stray.text for stray in strays)
    try:
        "".join((column.name, *texts)).encode("utf-8")
    except UnicodeEncodeError:
        name = _HALF.sub("\ufffd", column.name)
        if isinstance(column, TextColumn):
            cells = [_HALF.sub("\ufffd", column.text(row)) for row in range(len(column))]
            return text_column(name, cells)
        if isinstance(column, NumberColumn):
            clean = tuple(replace(stray, text=_HALF.sub("\ufffd", stray.text)) for stray in strays)
            return replace(column, name=name, stray=clean)
        return replace(column, name=name)
    return column


@dataclass(frozen=True, slots=True, eq=False, weakref_slot=True)
class Table:
    """Columns of equal length, in file order."""

    columns: tuple[Column, ...]
    _index: Mapping[str, int] = field(init=False)

    def __post_init__(self) -> None:
        settle(self, "columns", tuple(_without_halves(column) for column in self.columns))
        lengths = {len(column) for column in self.columns}
        if len(lengths) > 1:
            raise StudyError("The columns of the table have different lengths.")
        index = {column.name: i for i, column in enumerate(self.columns)}
        if len(index) != len(self.columns):
            names = [column.name for column in self.columns]
            twice = next(name for name in names if names.count(name) > 1)
            raise StudyError(f"Two columns of the table are both named “{twice}”.")
        settle(self, "_index", index)

    @property
    def n_rows(self) -> int:
        """Number of cases in the table."""
        return len(self.columns[0]) if self.columns else 0

    @property
    def names(self) -> tuple[str, ...]:
        """Column names in file order."""
        return tuple(column.name for column in self.columns)

    def column(self, name: str) -> Column:
        """The column of that name; StudyError if there is none."""
        try:
            return self.columns[self._index[name]]
        except KeyError:
            raise StudyError(f"The table has no column named “{name}”.") from None

    def __contains__(self, name: str) -> bool:
        return name in self._index
