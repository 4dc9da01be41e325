"""What cells say: numbers in every common way of writing them, missing values, dates, texts.

Cells are Arrow arrays of strings; everything works on whole arrays, so that a million cells cost a fraction of a
second.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date, datetime
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yellow_slope.core.arrays import BoolArray, FloatArray

THOUSANDS = (" ", "\u00a0", "\u202f", "\u2009", "'", "’")
"""Marks between groups of three digits besides point and comma."""
CURRENCIES = "$€£¥₹₽₩₺"
_DIGITS_AT_MOST = 15


def other_mark(decimal: str) -> str:
    """What can only stand between groups of digits where this is the decimal mark."""
    return "." if decimal == "," else ","


def texts_of(cells: Sequence[str | None]) -> Any:
    """An array of texts, None where there is none, put together from its bytes.

    Handing over a list would load the data-frame library, which takes longer than most files do.
    """
    parts = [(cell or "").encode("utf-8") for cell in cells]
    ends = np.zeros(len(parts) + 1, dtype=np.int64)
    np.cumsum([len(part) for part in parts], out=ends[1:])
    here = np.packbits(np.array([cell is not None for cell in cells], dtype=bool), bitorder="little")
    buffers = [pa.py_buffer(here), pa.py_buffer(ends), pa.py_buffer(b"".join(parts))]
    return pa.Array.from_buffers(pa.large_string(), len(parts), buffers).cast(pa.string())


def floats_in(cells: Any) -> FloatArray:
    """Shape (cells,): the values of an array of floats, read-only where none is missing; NaN where one is."""
    found = np.frombuffer(cells.buffers()[1], dtype=np.float64, count=cells.offset + len(cells))[cells.offset :]
    return np.where(present_in(cells), found, np.nan) if cells.null_count else found


def present_in(cells: Any) -> BoolArray:
    """Shape (cells,): where there is a value."""
    return truths_in(cells.is_valid())


def truths_in(cells: Any) -> BoolArray:
    """Shape (cells,): the values of an array of truths, none of them missing."""
    bits = np.unpackbits(np.frombuffer(cells.buffers()[1], dtype=np.uint8), bitorder="little")
    return bits[cells.offset : cells.offset + len(cells)].astype(bool)


EMPTY, NOTHING = texts_of(["", None])
"""Scalars made of arrays: made of plain values they too would load the data-frame library."""


def filled(cells: Any) -> Any:
    """The cells with an empty text where there is none."""
    return pc.coalesce(cells, EMPTY)


def trimmed(cells: Any) -> Any:
    """The cells without white space around them."""
    return pc.utf8_trim_whitespace(cells)


def numbers_of(cells: Any, decimal: str) -> tuple[FloatArray, BoolArray]:
    """Shape (cells,) twice: the trimmed cells as numbers, NaN where they are none; and where they are one.

    Signs may be a minus of any kind; digits may stand in groups of three; what is too large to be told from infinity
    is no number, nor are the words for it.
    """
    cells = filled(cells)
    mark = re.escape(decimal)
    marks: tuple[str, ...] = (other_mark(decimal), *THOUSANDS)
    # One look for all that is not plain: most columns hold nothing of it, and each further look costs as much.
    if pc.any(pc.match_substring_regex(cells, f"[−–{re.escape(''.join(marks))}]")).as_py():
        cells = pc.replace_substring_regex(cells, "^[−–]", "-")
    else:
        marks = ()
    for thousands in marks:
        if not pc.any(pc.match_substring(cells, thousands)).as_py():
            continue
        between = re.escape(thousands)
        grouped = pc.match_substring_regex(cells, rf"^[+-]?\d{{1,3}}(?:{between}\d{{3}})+(?:{mark}\d*)?$")
        cells = pc.if_else(grouped, pc.replace_substring(cells, thousands, ""), cells)
    plain = pc.match_substring_regex(cells, rf"^[+-]?(?:\d+(?:{mark}\d*)?|{mark}\d+)(?:[eE][+-]?\d+)?$")
    if decimal == ",":
        cells = pc.replace_substring(cells, ",", ".")
    numbers = floats_in(pc.cast(pc.if_else(plain, cells, NOTHING), pa.float64()))
    is_number = np.isfinite(numbers)
    return np.where(is_number, numbers, np.nan), is_number


def missing_of(cells: Any, words: tuple[str, ...]) -> BoolArray:
    """Shape (cells,): where the trimmed cells are empty or hold one of the words, whatever its case."""
    known = texts_of(["", *(word.lower() for word in words)])
    found = pc.is_in(pc.utf8_lower(filled(cells)), value_set=known)
    return truths_in(found)


def without_affix(cells: Any, is_missing: BoolArray) -> tuple[Any, str]:
    """The cells without the percent sign or the currency that every one of them carries, and that sign; else as they
    are."""
    kept = cells.filter(pa.array(~is_missing))
    if not len(kept):
        return cells, ""
    first = str(kept[0])
    for sign in ("%", *CURRENCIES):
        if sign not in first or not pc.all(pc.match_substring(kept, sign)).as_py():
            continue
        bare = re.escape(sign)
        stripped = pc.replace_substring_regex(cells, rf"^([+−–-]?)\s*{bare}\s*", r"\1")
        return pc.replace_substring_regex(stripped, rf"\s*{bare}$", ""), sign
    return cells, ""


def why_not_numbers(texts: list[str]) -> str:
    """Why texts that look like numbers are no quantities; empty where nothing speaks against it."""
    digits = [text for text in texts if text.isascii() and text.isdigit()]
    if digits and len(digits) == len(texts):
        if any(text.startswith("0") and len(text) > 1 for text in digits) and len({len(text) for text in digits}) == 1:
            return "it begins with zeros"
        if any(len(text.lstrip("0")) > _DIGITS_AT_MOST for text in digits):
            return "it has more digits than a number keeps"
    return ""


def decides(cells: Any) -> dict[str, int]:
    """How many cells show that “.” or “,” is the decimal mark, and how many leave it open (under “.?” and “,?”)."""
    signs = re.escape("%" + CURRENCIES)
    cells = pc.replace_substring_regex(filled(cells), rf"^([+−–-]?)[{signs}]?\s*(.*?)\s*[{signs}]?$", r"\1\2")
    found: dict[str, int] = {}
    for mark, other in ((".", ","), (",", ".")):
        m, o = re.escape(mark), re.escape(other)
        shown = pc.match_substring_regex(
            cells,
            # both marks; or one mark that cannot stand between groups of three digits
            rf"^[+−–-]?(?:\d{{1,3}}(?:{o}\d{{3}})+{m}\d+|\d+{m}(?:\d{{1,2}}|\d{{4,}})|(?:0|\d{{4,}})?{m}\d+"
            rf"|\d{{1,3}}(?:[ '’\x{{a0}}\x{{202f}}\x{{2009}}]\d{{3}})+{m}\d+|\d{{1,3}}(?:{o}\d{{3}}){{2,}})$",
        )
        found[mark] = int(pc.sum(shown).as_py() or 0)
        open_ = pc.match_substring_regex(cells, rf"^[+−–-]?[1-9]\d{{0,2}}{m}\d{{3}}$")
        found[mark + "?"] = int(pc.sum(open_).as_py() or 0)
    return found


# ---- dates and times

_DATE = re.compile(r"^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ](\d{1,2}):(\d{2})(?::(\d{2}))?(?:\.\d+)?Z?)?$")
_DAY_FIRST = re.compile(r"^(\d{1,2})([./])(\d{1,2})\2(\d{4})(?: (\d{1,2}):(\d{2})(?::(\d{2}))?)?$")
_TIME = re.compile(r"^(\d{1,2}):([0-5]\d)(?::([0-5]\d))?$")
_START = date(1970, 1, 1).toordinal()


def days_of(texts: list[str]) -> tuple[list[float], str] | None:
    """The texts as days since 1970-01-01 (times as parts of a day), and how they were read; None unless all are dates.

    Between points the day comes first. Between strokes the order is the one under which all are dates; the day first
    where both would do.
    """
    if not texts:
        return None
    for form, read in (
        ("year, month, day", _year_first),
        ("day, month, year", _day_first),
        ("month, day, year", _month_first),
        ("times", _time),
    ):
        try:
            return [read(text) for text in texts], form
        except ValueError:
            continue
    return None


def _days(year: int, month: int, day: int, clock: tuple[str | None, ...]) -> float:
    hour, minute, second = (int(part or 0) for part in clock)
    moment = datetime(year, month, day, hour, minute, second)
    return moment.toordinal() - _START + (hour * 3600 + minute * 60 + second) / 86400


def _year_first(text: str) -> float:
    found = _DATE.match(text)
    if not found:
        raise ValueError
    return _days(int(found[1]), int(found[2]), int(found[3]), found.groups()[3:6])


def _day_first(text: str, month_first: bool = False) -> float:
    found = _DAY_FIRST.match(text)
    if not found or (month_first and found[2] == "."):
        raise ValueError
    day, month = (3, 1) if month_first else (1, 3)
    return _days(int(found[4]), int(found[month]), int(found[day]), found.groups()[4:7])


def _month_first(text: str) -> float:
    return _day_first(text, month_first=True)


def _time(text: str) -> float:
    found = _TIME.match(text)
    if not found or int(found[1]) > 23:
        raise ValueError
    return (int(found[1]) * 3600 + int(found[2]) * 60 + int(found[3] or 0)) / 86400
