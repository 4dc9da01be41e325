"""Delimited text: how a file is separated, where its names stand, and its columns."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from dataclasses import replace

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.source import ReadAs
from yellow_slope.core.data.table import Column, NumberColumn, Table, number_column, number_text, text_column
from yellow_slope.core.errors import FileError
from yellow_slope.core.words.names import SEPARATORS
from yellow_slope.core.words.numerals import counted

MISSING = frozenset({"", "NA", "N/A", "n/a", "NaN", "nan", ".", "-"})
_DECIMAL_COMMA = re.compile(r"^[+-]?\d*,\d+$")
_PLAIN = re.compile(r"^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$")


def guessed(text: str, encoding: str = "utf-8") -> ReadAs:
    """How a text seems to be separated, from its first rows."""
    lines = text.splitlines()[:60]
    head = "\n".join(lines)
    best, best_score = ",", (-1.0, 0.0)
    for separator in SEPARATORS:
        widths = [len(row) for row in csv.reader(io.StringIO(head), delimiter=separator) if row]
        if not widths or max(widths) < 2:
            continue
        width, times = Counter(widths).most_common(1)[0]
        score = (times / len(widths) if width > 1 else 0.0, float(width))
        if score > best_score:
            best, best_score = separator, score
    rows = [row for row in csv.reader(io.StringIO(head), delimiter=best) if row]
    cells = [cell.strip() for row in rows[1:] for cell in row]
    with_comma = sum(bool(_DECIMAL_COMMA.match(cell)) for cell in cells)
    with_point = sum(bool(_PLAIN.match(cell)) and "." in cell for cell in cells)
    decimal = "," if best != "," and with_comma > with_point else "."
    first = [cell.strip() for cell in rows[0]] if rows else []
    named = not any(_is_number(cell, decimal) for cell in first)
    return ReadAs(best, decimal, named, encoding)


def parse_delimited(content: bytes, name: str, read_as: ReadAs | None = None) -> tuple[Table, ReadAs]:
    """The table in the bytes of a text file."""
    if b"\x00" in content[:4096] and not content.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise FileError(f"{name} is not a text file, whatever its name says.")
    text, encoding = _decoded(content)
    if not text.strip():
        raise FileError(f"{name} is empty.")
    way = replace(read_as, encoding=encoding) if read_as else guessed(text, encoding)
    csv.field_size_limit(10_000_000)
    try:
        rows = [row for row in csv.reader(io.StringIO(text), delimiter=way.separator) if row]
    except csv.Error as error:
        raise FileError(f"{name} cannot be read as a table: {error}.") from error
    names = (
        [cell.strip() for cell in rows[0]] if way.names_in_row_1 else [f"column {i + 1}" for i in range(len(rows[0]))]
    )
    body = rows[1:] if way.names_in_row_1 else rows
    if not body:
        raise FileError(f"{name} has names in row 1, but no rows below them.")
    width = len(names)
    for number, row in enumerate(body, 2 if way.names_in_row_1 else 1):
        if len(row) != width and not (len(row) > width and not any(cell.strip() for cell in row[width:])):
            raise FileError(
                f"{name}, row {number}: {counted(len(row), 'value')} where row 1 has {width}. "
                f"It was read as separated by {SEPARATORS.get(way.separator, repr(way.separator))}."
            )
    columns = zip(*(row[:width] for row in body))
    return Table(tuple(_column(n, list(c), way.decimal) for n, c in zip(_unique(names), columns))), way


def _decoded(content: bytes) -> tuple[str, str]:
    for encoding in ("utf-8-sig", "utf-16") if content.startswith((b"\xff\xfe", b"\xfe\xff")) else ("utf-8-sig",):
        try:
            return content.decode(encoding), encoding
        except UnicodeDecodeError:
            continue
    return content.decode("cp1252", errors="replace"), "cp1252"


def _unique(names: list[str]) -> list[str]:
    """Names made different: an empty one becomes “column 3”, a second “age” becomes “age (2)”."""
    seen: Counter[str] = Counter()
    out: list[str] = []
    for i, name in enumerate(names):
        base = name or f"column {i + 1}"
        seen[base] += 1
        out.append(base if seen[base] == 1 else f"{base} ({seen[base]})")
    return out


def _is_number(cell: str, decimal: str) -> bool:
    return bool(_PLAIN.match(cell.replace(",", ".") if decimal == "," else cell))


def _column(name: str, cells: list[str], decimal: str) -> Column:
    numbers = _numbers(cells, decimal)
    if numbers is not None:
        return number_column(name, numbers)
    return text_column(name, ["" if cell.strip() in MISSING else cell.strip() for cell in cells])


def _numbers(cells: list[str], decimal: str) -> FloatArray | None:
    """The cells as numbers, missing as NaN; None where a cell holds something else or all are missing."""
    if decimal == ",":
        cells = [cell.replace(",", ".") for cell in cells]
    try:
        return np.array(cells, dtype=np.float64)
    except ValueError:
        pass
    stripped = [cell.strip() for cell in cells]
    if all(cell in MISSING for cell in stripped):
        return None
    try:
        numbers = np.array(["nan" if cell in MISSING else cell for cell in stripped], dtype=np.float64)
    except ValueError:
        return None
    return numbers


def written(table: Table) -> bytes:
    """The table as comma-separated text in UTF-8; numbers read back exactly."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(table.names)
    columns: list[list[str]] = []
    for column in table.columns:
        if isinstance(column, NumberColumn):
            columns.append([number_text(float(value)) for value in column.numbers])
        else:
            columns.append([column.text(row) for row in range(table.n_rows)])
    writer.writerows(zip(*columns))
    return out.getvalue().encode("utf-8")
