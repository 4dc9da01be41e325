"""A column from its texts: what nearly all of them are decides, and the rest is kept."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache
from typing import Any

import numpy as np

from yellow_slope.core.arrays import IntArray
from yellow_slope.core.data.source import ReadAs
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Stray, TextColumn
from yellow_slope.files.text.cells import (
    days_of,
    decides,
    missing_of,
    numbers_of,
    texts_of,
    trimmed,
    why_not_numbers,
    without_affix,
)
from yellow_slope.values import dataclass

STRAY_SHARE = 0.1
"""So many of the filled cells may be strays among numbers."""


@dataclass(frozen=True, slots=True)
class Made:
    """A column, and what was come upon while making it."""

    column: Column
    missing: tuple[tuple[str, int], ...] = ()
    marks: tuple[tuple[str, int], ...] = ()
    open_example: str = ""


def nearly_all_numbers(numbers: int, filled: int) -> bool:
    """Whether a column is one of numbers, with a few stray cells perhaps."""
    return numbers > 0 and filled - numbers <= STRAY_SHARE * filled


def column_of_texts(name: str, codes: IntArray, texts: list[str], way: ReadAs, are_texts: bool = False) -> Made:
    """A column of numbers, dates or texts. `codes`: shape (rows,), places in `texts`, -1 where empty; `texts`
    trimmed. are_texts: it is known to be one of texts."""
    plain = _plain_numbers(name, codes, texts, way) if not are_texts else None
    if plain is not None:
        return plain
    counts = np.bincount(codes[codes >= 0], minlength=len(texts))
    cells: Any = texts_of(texts)
    missing = missing_of(cells, way.missing)
    words = tuple((texts[i], int(counts[i])) for i in np.flatnonzero(missing))
    here = np.flatnonzero(~missing)
    if not here.size:
        empty = np.full(codes.shape, np.nan)
        empty.setflags(write=False)
        return Made(TextColumn(name, _frozen(np.full(codes.shape, -1, dtype=np.int64)), ()), words)
    if are_texts:
        return Made(_texts(name, codes, texts, missing), words)
    bare, sign = without_affix(cells, missing)
    numbers, is_number = numbers_of(trimmed(bare), way.decimal)
    is_number &= ~missing
    filled = int(counts[here].sum())
    if nearly_all_numbers(int(counts[is_number].sum()), filled) and not why_not_numbers([texts[i] for i in here]):
        values = np.append(np.where(is_number, numbers, np.nan), np.nan)[codes]
        values.setflags(write=False)
        is_stray = np.append(~is_number & ~missing, False)[codes]
        strays = tuple(Stray(int(row), texts[codes[row]]) for row in np.flatnonzero(is_stray))
        marks = tuple(decides(trimmed(bare)).items())
        return Made(NumberColumn(name, values, strays, sign), words, marks, open_number(texts))
    days = days_of([texts[i] for i in here])
    if days is not None:
        every = np.full(len(texts) + 1, np.nan)
        every[here] = days[0]
        values = every[codes]
        values.setflags(write=False)
        return Made(DateColumn(name, values, days[1]), words)
    return Made(_texts(name, codes, texts, missing), words)


_PLAIN = re.compile(r"-?(\d+)(?:\.(\d+))?")
FEW_TEXTS = 3000


def _plain_numbers(name: str, codes: IntArray, texts: list[str], way: ReadAs) -> Made | None:
    """The column where a few different texts are all plain numbers: most columns of a wide table, without a further
    look."""
    if way.decimal != "." or not 0 < len(texts) <= FEW_TEXTS or _digits_mean_missing(way.missing):
        return None
    shown = open_ = 0
    for text in texts:
        found = _PLAIN.fullmatch(text)
        if found is None or not text.isascii():
            return None
        left, rest = found.groups()
        if rest:
            shown += len(rest) != 3 or left == "0" or len(left) > 3
            open_ += len(rest) == 3 and left[0] != "0" and len(left) <= 3
    if why_not_numbers(texts):
        return None
    values = np.array([*map(float, texts), np.nan])[codes]
    if np.isinf(values).any():
        return None
    values.setflags(write=False)
    marks = ((".", shown), (".?", open_), (",", 0), (",?", 0))
    return Made(NumberColumn(name, values), (), marks, open_number(texts) if open_ else "")


@cache
def _digits_mean_missing(words: tuple[str, ...]) -> bool:
    return any(character.isdigit() for word in words for character in word)


def _texts(name: str, codes: IntArray, texts: list[str], missing: Any) -> TextColumn:
    """Texts without the missing words, in the order in which they first appear."""
    kept = np.full(len(texts) + 1, -1, dtype=np.int64)
    kept[np.flatnonzero(~missing)] = np.arange(int((~missing).sum()))
    return TextColumn(name, _frozen(kept[codes]), tuple(t for t, gone in zip(texts, missing) if not gone))


def _frozen(codes: IntArray) -> IntArray:
    codes.setflags(write=False)
    return codes


def open_number(texts: Iterable[str | None]) -> str:
    """The first number that leaves open which mark is the decimal one, as in “1.234”; empty if there is none."""
    for text in texts:
        if not text:
            continue
        body = text.lstrip("+-−–")
        for mark in ".,":
            left, found, right = body.partition(mark)
            if (
                found
                and left.isdigit()
                and right.isdigit()
                and 1 <= len(left) <= 3
                and len(right) == 3
                and left[0] != "0"
            ):
                return text
    return ""
