"""Spreadsheets: the sheet, where the table stands on it, and its cells by their values."""

from __future__ import annotations

import io
import warnings
import zipfile
from collections.abc import Callable, Sequence
from datetime import date, datetime, time, timedelta
from typing import Any

import numpy as np
import pyarrow as pa

from yellow_slope.core.data.source import Format, Found, ReadAs
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Stray, Table, number_text
from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.archives import check_size, room_for
from yellow_slope.files.tables.opendocument import sheet_rows
from yellow_slope.files.text.cells import missing_of, trimmed
from yellow_slope.files.text.columns import column_of_texts, nearly_all_numbers
from yellow_slope.files.text.delimited import TableReading, unique_names
from yellow_slope.values import replace

Cell = None | bool | int | float | str | datetime | date | time
MOST_CELLS, MOST_ROWS = 50_000_000, 1_048_576
ERRORS = ("#N/A", "#DIV/0!", "#VALUE!", "#REF!", "#NAME?", "#NUM!", "#NULL!")
"""What a formula shows that has no value: it counts as missing."""
_START = datetime(1970, 1, 1)


def read_workbook(content: bytes, name: str, read_as: ReadAs | None, progress: Callable[[float], None]) -> TableReading:
    """The table of a sheet (.xlsx)."""
    import openpyxl

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with zipfile.ZipFile(io.BytesIO(content)) as archive:
                for info in archive.infolist():
                    check_size(info, name, room_for(len(content)))
            book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
            sheets = [sheet.title for sheet in book.worksheets]
            chosen = _chosen(sheets, read_as, name)
            rows: list[list[Cell]] = []
            cells = 0
            sheet = book[chosen]
            sheet.reset_dimensions()  # what is written there about its size may be wrong
            for row in sheet.iter_rows(values_only=True):
                rows.append(list(row))
                cells += max(1, len(row))
                if len(rows) > MOST_ROWS:
                    raise FileError(f"{name}: the sheet “{chosen}” has a row beyond {MOST_ROWS:,}.")
                if cells > MOST_CELLS:
                    raise FileError(
                        f"{name}: the sheet “{chosen}” holds more than {MOST_CELLS:,} cells; save it as text."
                    )
                if len(rows) % 5000 == 0:
                    progress(min(0.95, len(rows) / (len(rows) + 50_000)))
    except FileError:
        raise
    except Exception as error:  # a damaged file ends in errors of every kind
        raise FileError(f"{name} is a spreadsheet, but it is damaged or protected: it cannot be read.") from error
    return _reading(rows, sheets, chosen, name, read_as)


def read_open_document(
    content: bytes, name: str, read_as: ReadAs | None, progress: Callable[[float], None]
) -> TableReading:
    """The table of a sheet (.ods)."""
    sheets, rows = sheet_rows(content, name, read_as.sheet if read_as is not None else "", progress)
    chosen = _chosen(sheets, read_as, name)
    return _reading(rows, sheets, chosen, name, read_as)


def _chosen(sheets: list[str], read_as: ReadAs | None, name: str) -> str:
    if not sheets:
        raise FileError(f"{name} holds no sheet of cells.")
    if read_as is not None and read_as.sheet:
        if read_as.sheet not in sheets:
            raise FileError(f"{name} has no sheet “{read_as.sheet}”; it has {', '.join(f'“{s}”' for s in sheets[:8])}.")
        return read_as.sheet
    return sheets[0]


def _reading(
    cells: Sequence[Sequence[Cell]], sheets: list[str], chosen: str, name: str, read_as: ReadAs | None
) -> TableReading:
    rows = [[_tidy(cell) for cell in row] for row in cells]
    filled = [sum(cell is not None for cell in row) for row in rows]
    if not any(filled):
        raise FileError(f"{name}: the sheet “{chosen}” is empty.")
    width = max(len(row) for row in rows)
    left = min(next(j for j, cell in enumerate(row) if cell is not None) for row, n in zip(rows, filled) if n)
    above = read_as.above if read_as is not None else _first_row(filled)
    kept_rows = [row for row, n in zip(rows[above:], filled[above:]) if n]
    if above < len(rows) and not filled[above]:
        kept_rows.insert(0, [])  # the row where names are said to stand
    if len(kept_rows) * width > MOST_CELLS:
        raise FileError(f"{name}: the sheet “{chosen}” holds more than {MOST_CELLS:,} cells; save it as text.")
    body = [row[left:] + [None] * (width - max(left, len(row))) for row in kept_rows]
    if not any(filled[above:]):
        raise FileError(f"{name}: there is nothing below row {above} of the sheet “{chosen}”.")
    has_names = read_as.names if read_as is not None else _are_names(body)
    head, below = (body[0], body[1:]) if has_names else ([None] * (width - left), body)
    below = [row for row in below if any(cell is not None for cell in row)]
    if not below:
        raise FileError(f"{name} has names in row {above + 1} of the sheet “{chosen}”, but no rows below them.")
    way = replace(read_as or ReadAs(), format=Format.SPREADSHEET, sheet=chosen, names=has_names, above=above)
    kept = [j for j in range(width - left) if head[j] is not None or any(row[j] is not None for row in below)]
    names = unique_names(["" if head[j] is None else _as_text(head[j]) for j in kept])
    missing: dict[str, int] = {}
    columns = tuple(_column(n, [row[j] for row in below], way, missing) for n, j in zip(names, kept))
    return TableReading(Table(columns), way, Found(missing=tuple(sorted(missing.items())), sheets=tuple(sheets)))


def _tidy(cell: Any) -> Cell:
    if isinstance(cell, str):
        cell = cell.strip()
        return cell or None
    if isinstance(cell, float) and not np.isfinite(cell):
        return None
    if isinstance(cell, timedelta):
        return cell.total_seconds() / 86400
    return cell if isinstance(cell, (bool, int, float, datetime, date, time)) else None


def _first_row(filled: list[int]) -> int:
    """The first row of the table: the first that is at least half as full as most rows below it."""
    usual = sorted(n for n in filled if n)[len([n for n in filled if n]) // 2]
    return next(i for i, n in enumerate(filled) if n >= max(1, usual / 2) and (n > 1 or usual == 1))


def _are_names(body: list[list[Cell]]) -> bool:
    first = [cell for cell in body[0] if cell is not None]
    if len(body) < 2 or not first:
        return True
    if all(isinstance(cell, str) for cell in first):
        return True
    below = [cell for row in body[1:200] for cell in row if cell is not None]
    years = [
        isinstance(cell, (int, float)) and 1900 <= cell <= 2100 and cell == int(cell)
        for cell in first
        if not isinstance(cell, str)
    ]
    alike = sum(isinstance(cell, (int, float)) and 1900 <= cell <= 2100 for cell in below)
    return bool(years) and all(years) and alike < len(below) / 4


def _as_text(cell: Cell) -> str:
    if isinstance(cell, bool):
        return "TRUE" if cell else "FALSE"
    if isinstance(cell, (int, float)):
        return number_text(float(cell))
    if isinstance(cell, datetime):
        return cell.isoformat(" ", "seconds").removesuffix(" 00:00:00")
    return cell.isoformat() if isinstance(cell, (date, time)) else str(cell or "")


def _column(name: str, cells: list[Cell], way: ReadAs, missing: dict[str, int]) -> Column:
    """A column by its cells' own types; texts among them as in a text file."""
    words = (*way.missing, *ERRORS)
    texts = pa.array([cell if isinstance(cell, str) else None for cell in cells], type=pa.string())
    is_word = missing_of(trimmed(texts), words)
    for i in np.flatnonzero(is_word):
        if cells[i] is not None and isinstance(cells[i], str):
            missing[str(cells[i])] = missing.get(str(cells[i]), 0) + 1
            cells[i] = None
    here = [cell for cell in cells if cell is not None]
    numbers = [cell for cell in here if isinstance(cell, (int, float)) and not isinstance(cell, bool)]
    dates = [cell for cell in here if isinstance(cell, (date, time))]
    if dates and len(dates) == len(here):
        return _dates(name, cells)
    if numbers and nearly_all_numbers(len(numbers), len(here)):
        values = np.array(
            [float(c) if isinstance(c, (int, float)) and not isinstance(c, bool) else np.nan for c in cells]
        )
        values.setflags(write=False)
        strays = tuple(
            Stray(i, _as_text(c))
            for i, c in enumerate(cells)
            if c is not None and (isinstance(c, (bool, str, date, time)))
        )
        return NumberColumn(name, values, strays)
    index: dict[str, int] = {}
    places = [index.setdefault(_as_text(cell), len(index)) if cell is not None else -1 for cell in cells]
    made = column_of_texts(name, np.array(places, dtype=np.int64), list(index), replace(way, missing=()))
    return made.column


def _dates(name: str, cells: list[Cell]) -> DateColumn:
    days = np.full(len(cells), np.nan)
    for i, cell in enumerate(cells):
        if isinstance(cell, datetime):
            days[i] = (cell.replace(tzinfo=None) - _START).total_seconds() / 86400
        elif isinstance(cell, date):
            days[i] = float((cell - _START.date()).days)
        elif isinstance(cell, time):
            days[i] = (cell.hour * 3600 + cell.minute * 60 + cell.second) / 86400
    days.setflags(write=False)
    form = "times" if all(isinstance(cell, time) for cell in cells if cell is not None) else "year, month, day"
    return DateColumn(name, days, form)
