"""One column while a text is read piece by piece: numbers as long as nearly all cells are, else texts."""

from __future__ import annotations

from collections import Counter
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.data.source import ReadAs
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Stray, TextColumn
from yellow_slope.core.errors import FileError
from yellow_slope.files.text.cells import (
    days_of,
    decides,
    floats_in,
    missing_of,
    numbers_of,
    present_in,
    trimmed,
    why_not_numbers,
)
from yellow_slope.files.text.columns import Made, column_of_texts, nearly_all_numbers, open_number
from yellow_slope.values import replace


class NotAsExpectedError(Exception):
    """A column of which only plain numbers were expected holds something else, or a row is of another length."""


class GrowingColumn:
    """One column while it is read: numbers as long as nearly all cells are numbers, else texts."""

    def __init__(self, way: ReadAs, as_texts: bool = False, as_numbers: bool = False, stay_texts: bool = False) -> None:
        """as_texts: its cells are kept until all are known. stay_texts: then it is one of texts whatever they are."""
        self.way, self._stay_texts = way, stay_texts
        self._as_texts, self._surely = as_texts, as_numbers
        self.begin_again()

    def begin_again(self) -> None:
        """Forget what was taken."""
        as_texts, as_numbers = self._as_texts, self._surely
        self.missing: Counter[str] = Counter()
        self.marks: Counter[str] = Counter()
        self.open_example = ""
        self.deceived = False
        self._numeric: bool | None = True if as_numbers else False if as_texts else None
        self._numbers: list[FloatArray] = []
        self._strays: list[Stray] = []
        self._texts: dict[str, int] = {}
        self._codes: list[Any] = []
        self._rows = 0
        self._filled = 0
        self._order: Any = None
        self._made: Made | None = None

    def take(self, cells: Any) -> None:
        """The next cells; where they change what the column is taken for, `deceived` says that it must be read
        again."""
        if pa.types.is_floating(cells.type):
            self._take_plain(cells)
            return
        if self._numeric is None and len(cells) > cells.null_count:
            self._numeric = self._looks_numeric(cells)
        if self._numeric and not self.deceived:
            self._take_numbers(cells)
        elif not self._numeric:
            self._take_texts(cells)
        self._rows += len(cells)

    def _take_plain(self, cells: Any) -> None:
        numbers = floats_in(cells)
        if int(np.isfinite(numbers).sum()) != len(cells) - cells.null_count:
            raise NotAsExpectedError  # words for infinity, or for no number
        self._numeric, self.marks["."] = True, 1
        self._numbers.append(numbers)
        self._filled += len(cells) - cells.null_count
        self._rows += len(cells)

    def _looks_numeric(self, cells: Any) -> bool:
        if self._rows < 2000 and len(cells) < 2000:  # few rows are kept as texts until all are known
            self._codes = [np.full(self._rows, -1, dtype=np.int64)] if self._rows else []
            return False
        head = trimmed(cells.slice(0, 2000))
        texts = [text for text in head.to_pylist() if text]
        missing = missing_of(head, self.way.missing)
        _, numeric = numbers_of(head, self.way.decimal)
        self._numbers = [np.full(self._rows, np.nan)] if self._rows else []
        return nearly_all_numbers(int(numeric.sum()), int((~missing).sum())) and not _all_digits(texts)

    def _take_numbers(self, cells: Any) -> None:
        if self.way.decimal == ".":
            try:
                numbers = floats_in(pc.cast(cells, pa.float64()))
            except pa.ArrowInvalid:
                numbers = None
            if numbers is not None and int(np.isfinite(numbers).sum()) == len(cells) - cells.null_count:
                self._numbers.append(numbers)
                self._filled += len(cells) - cells.null_count
                if not self.marks["."]:
                    self._look_at_marks(cells.slice(0, 500))
                return
        tidy = trimmed(cells)
        missing = missing_of(tidy, self.way.missing)
        numbers, is_number = numbers_of(tidy, self.way.decimal)
        self._count_missing(tidy, missing)
        for i in np.flatnonzero(~missing & ~is_number)[: len(cells)]:
            self._strays.append(Stray(self._rows + int(i), tidy[int(i)].as_py()))
        self._look_at_marks(tidy)
        self._numbers.append(numbers)
        self._filled += int((~missing).sum())
        if (
            not self._surely
            and self._filled > 2000
            and not nearly_all_numbers(self._filled - len(self._strays), self._filled)
        ):
            self.deceived, self._numbers, self._strays = True, [], []

    def _look_at_marks(self, cells: Any) -> None:
        self.marks.update(decides(cells))
        if not self.open_example and (self.marks[".?"] or self.marks[",?"]):
            self.open_example = open_number(cells.to_pylist())

    def _count_missing(self, tidy: Any, missing: BoolArray) -> None:
        worded = pc.drop_null(tidy.filter(pa.array(missing)))
        for entry in worded.value_counts().to_pylist():
            if entry["values"]:
                self.missing[entry["values"]] += entry["counts"]

    def _take_texts(self, cells: Any) -> None:
        """Texts by their place among the different ones; a missing word is found out only when all are known."""
        coded = trimmed(cells).dictionary_encode()
        here = np.array(
            [self._texts.setdefault(text, len(self._texts)) if text else -1 for text in coded.dictionary.to_pylist()]
            + [-1],
            dtype=np.int64,
        )
        indices = coded.indices
        places = np.full(len(indices), len(here) - 1)
        found = np.frombuffer(indices.buffers()[1], dtype=np.int32, count=indices.offset + len(indices))
        filled = present_in(indices)
        places[filled] = found[indices.offset :][filled]
        self._codes.append(here[places])

    def reorder(self, order: Any) -> None:
        """The rows in another order."""
        self._order = order

    @property
    def is_number(self) -> bool:
        """Whether the column holds numbers."""
        return isinstance(self.made().column, NumberColumn)

    @property
    def is_empty(self) -> bool:
        """Whether no cell holds anything."""
        return self._filled == 0 if self._numeric else not self._texts

    def made(self) -> Made:
        """The finished column, still without a name, and what was come upon; after this nothing more is taken."""
        if self._made is None:
            self._made = self._numbers_made() if self._numeric else self._texts_made()
        return self._made

    def _numbers_made(self) -> Made:
        numbers, strays = np.concatenate(self._numbers or [np.zeros(0)]), self._strays
        if self._order is not None:
            numbers = numbers[self._order]
            place = np.empty(len(self._order), dtype=np.int64)
            place[self._order] = np.arange(len(self._order))
            strays = sorted((Stray(int(place[s.row]), s.text) for s in strays), key=lambda s: s.row)
        numbers.setflags(write=False)
        self._numbers = []
        column = NumberColumn("", numbers, tuple(strays))
        return Made(column, tuple(self.missing.items()), tuple(self.marks.items()), self.open_example)

    def _texts_made(self) -> Made:
        return column_of_texts("", self._places(), list(self._texts), self.way, self._stay_texts)

    def _places(self) -> IntArray:
        codes = np.concatenate(self._codes) if self._codes else np.full(self._rows, -1, dtype=np.int64)
        self._codes = []
        return codes if self._order is None else codes[self._order]

    def typed(self, name: str, kind: str) -> Column:
        """The finished column of a type that is known. FileError where a date is none."""
        if self._numeric:
            return replace(self.made().column, name=name)
        codes, texts = self._places(), list(self._texts)
        if kind not in ("date", "time"):
            codes.setflags(write=False)
            return TextColumn(name, codes, tuple(texts))
        found = days_of(texts)
        if found is None and texts:
            raise FileError(f"the column “{name}” is said to hold dates, but does not.")
        days = np.array([*(found[0] if found else ()), np.nan])[codes]
        days.setflags(write=False)
        return DateColumn(name, days, "times" if kind == "time" else "year, month, day")


def _all_digits(texts: list[str]) -> bool:
    """Codes whose leading zeros or many digits a number would lose."""
    return bool(texts) and bool(why_not_numbers(texts))
