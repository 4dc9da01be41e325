"""Tables whose cells have types already: Parquet files and JSON records."""

from __future__ import annotations

import io
from collections.abc import Iterator
from datetime import date
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.source import Format, Found, ReadAs
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Table
from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.archives import room_for
from yellow_slope.files.safely.jsontext import json_value
from yellow_slope.files.text.cells import trimmed
from yellow_slope.files.text.columns import column_of_texts
from yellow_slope.files.text.delimited import TableReading, unique_names
from yellow_slope.values import replace

MOST_CELLS = 200_000_000
FEW_ROWS = 64
"""Rows that are unpacked at a time where a file does not say how large they are."""
FIRST_DAY, LAST_DAY = (date(*day).toordinal() - date(1970, 1, 1).toordinal() for day in ((1, 1, 1), (9999, 12, 31)))
KEPT = 1 << 53
"""Whole numbers up to here are kept exactly."""


def read_parquet(content: bytes, name: str, read_as: ReadAs | None) -> TableReading:
    """The table of a Parquet file. FileError where it is damaged, or a column holds what no cell can hold."""
    from pyarrow import parquet

    try:
        fields = parquet.read_schema(io.BytesIO(content))
        for field in fields:
            _refuse_no_cells(field.name, field.type, name)
        # Texts stay what they are in the file, each once: written out a small file could fill the memory.
        texts = [field.name for field in fields if _holds_texts(field.type)]
        metadata = parquet.ParquetFile(io.BytesIO(content)).metadata
        # Texts of which each is written as what differs from the one before: how much they are, nothing says.
        folded = _encoded(metadata, "DELTA_BYTE_ARRAY")
        written_out = folded | _encoded(metadata, "DELTA_LENGTH_BYTE_ARRAY")
        once = [text for text in texts if text not in written_out]
        file = parquet.ParquetFile(io.BytesIO(content), read_dictionary=once)
        rows, width = file.metadata.num_rows, file.metadata.num_columns
        if rows * width > MOST_CELLS:
            raise FileError(f"{name} holds {rows:,} rows of {width:,} columns: more than {MOST_CELLS:,} cells.")
        parts = _batches(file, texts, bool(folded), name, room_for(len(content)))
        table = pa.Table.from_batches(parts, file.schema_arrow)
    except FileError:
        raise
    except Exception as error:  # a damaged file ends in errors of every kind
        raise FileError(f"{name} is a Parquet file, but it is damaged: it cannot be read.") from error
    if not table.num_rows or not table.num_columns:
        raise FileError(f"{name} holds no rows.")
    return _reading(table, name, replace(read_as or ReadAs(), format=Format.PARQUET))


def _encoded(metadata: Any, way: str) -> set[str]:
    """The columns of which a part is encoded in that way."""
    groups = (metadata.row_group(i) for i in range(metadata.num_row_groups))
    chunks = (group.column(j) for group in groups for j in range(group.num_columns))
    return {chunk.path_in_schema for chunk in chunks if way in chunk.encodings}


def _batches(file: Any, texts: list[str], folded: bool, name: str, most: int) -> Iterator[Any]:
    """What the file holds, a part at a time: how large it is unpacked is known before, where the file says so, and
    soon after where it does not. FileError where it is more than `most` bytes."""
    n_groups = file.metadata.num_row_groups
    size = sum(file.metadata.row_group(i).total_byte_size for i in range(n_groups))
    if size > most:
        raise FileError(_too_large(name, size))
    if folded:
        parts = iter(file.iter_batches(batch_size=FEW_ROWS))
    else:
        parts = (part for i in range(n_groups) for part in file.read_row_group(i).to_batches())
    size = 0
    for part in parts:
        size += sum(part.column(text).nbytes for text in texts)
        if size > most + 8 * file.metadata.num_rows * len(texts):
            raise FileError(_too_large(name, size))
        yield part


def _too_large(name: str, size: int) -> str:
    return f"{name} is not opened: what it holds is {size >> 20:,} MB large or larger, unpacked."


def read_records(content: bytes, name: str, read_as: ReadAs | None) -> TableReading:
    """The table of a JSON file: a list of objects, one for each row; or an object of lists, one for each column."""
    value = json_value(content, name)
    if isinstance(value, dict) and value and all(isinstance(cells, list) for cells in value.values()):
        if len({len(cells) for cells in value.values()}) > 1:
            raise FileError(f"{name}: its lists are of different length.")
        columns = {str(key): cells for key, cells in value.items()}
    elif isinstance(value, list) and value and all(isinstance(row, dict) for row in value):
        names = dict.fromkeys(key for row in value for key in row)
        columns = {str(key): [row.get(key) for row in value] for key in names}
    else:
        raise FileError(f"{name} is JSON, but no table: a list of objects is read, one for each row.")
    if not any(columns.values()):
        raise FileError(f"{name} holds no rows.")
    for key, cells in columns.items():
        for row, cell in enumerate(cells):
            if isinstance(cell, (dict, list)):
                raise FileError(f"{name}: row {row + 1} of “{key}” holds a list or an object, where a value is read.")
    made = {key: _array(cells) for key, cells in columns.items()}
    return _reading(pa.table(made), name, replace(read_as or ReadAs(), format=Format.RECORDS))


def _array(cells: list[Any]) -> Any:
    """Numbers where all are numbers, else texts."""
    numbers = [cell for cell in cells if isinstance(cell, (int, float)) and not isinstance(cell, bool)]
    if numbers and all(
        cell is None or (isinstance(cell, (int, float)) and not isinstance(cell, bool)) for cell in cells
    ):
        return pa.array([None if cell is None else float(cell) for cell in cells], type=pa.float64())
    texts = [None if c is None else ("TRUE" if c else "FALSE") if isinstance(c, bool) else str(c) for c in cells]
    return pa.array(texts, type=pa.string())


def _reading(table: Any, name: str, way: ReadAs) -> TableReading:
    missing: dict[str, int] = {}
    names = unique_names([str(n).strip() for n in table.column_names])
    try:
        columns = [_column(n, table.column(j), way, name, missing) for j, n in enumerate(names)]
    except pa.ArrowException as error:
        raise FileError(f"{name} holds values that cannot be read: {error}") from error
    return TableReading(Table(tuple(columns)), way, Found(missing=tuple(sorted(missing.items()))))


def _column(name: str, cells: Any, way: ReadAs, file: str, missing: dict[str, int]) -> Column:
    kind = cells.type
    if pa.types.is_dictionary(kind) and _holds_texts(kind.value_type):
        return _of_words(name, cells.combine_chunks(), way, missing)
    if pa.types.is_dictionary(kind):
        cells = cells.cast(kind.value_type)
        kind = cells.type
    if pa.types.is_boolean(kind):
        cells = pc.if_else(cells, "TRUE", "FALSE")
    elif pa.types.is_integer(kind) and _has_more_digits(cells):
        pass  # identifiers whose last digits a number would lose: texts
    elif pa.types.is_integer(kind) or pa.types.is_floating(kind) or pa.types.is_decimal(kind):
        return NumberColumn(name, _finite(cells.cast(pa.float64(), safe=False)))
    elif pa.types.is_date(kind) or pa.types.is_timestamp(kind):
        since = cells.cast(pa.timestamp("us"), safe=False).cast(pa.int64())
        days = _finite(pc.divide(since.cast(pa.float64(), safe=False), 86400e6))
        if np.any((days < FIRST_DAY) | (days >= LAST_DAY + 1)):
            raise FileError(f"{file}: the column “{name}” holds a date outside the years 1 to 9999.")
        return DateColumn(name, days)
    elif pa.types.is_time(kind):
        parts = cells.cast(pa.time64("us"), safe=False).cast(pa.int64()).cast(pa.float64(), safe=False)
        return DateColumn(name, _finite(pc.divide(parts, 86400e6)), "times")
    return _of_words(name, cells.cast(pa.string()).combine_chunks().dictionary_encode(), way, missing)


def _holds_texts(kind: Any) -> bool:
    of = pa.types
    return bool(of.is_string(kind) or of.is_large_string(kind) or of.is_string_view(kind))


def _refuse_no_cells(name: str, kind: Any, file: str) -> None:
    """FileError where values of that kind are none that a cell can hold. It is known before any is read."""
    of = pa.types
    inner = kind.value_type if of.is_dictionary(kind) else kind
    numbers = of.is_integer(inner) or of.is_floating(inner) or of.is_decimal(inner)
    times = of.is_date(inner) or of.is_timestamp(inner) or of.is_time(inner)
    if not (numbers or times or _holds_texts(inner) or of.is_boolean(inner) or of.is_null(inner)):
        raise FileError(f"{file}: the column “{name}” holds {kind}, which is neither number nor text nor date.")


def _of_words(name: str, coded: Any, way: ReadAs, missing: dict[str, int]) -> Column:
    """A column of texts, each of which is held once."""
    texts = trimmed(coded.dictionary).to_pylist()
    index: dict[str, int] = {}
    here = np.array([index.setdefault(text, len(index)) if text else -1 for text in texts] + [-1], dtype=np.int64)
    places = coded.indices.fill_null(len(texts)).to_numpy(zero_copy_only=False)
    made = column_of_texts(name, here[places], list(index), way)
    for word, times in made.missing:
        missing[word] = missing.get(word, 0) + times
    return made.column


def _has_more_digits(cells: Any) -> bool:
    ends = pc.min_max(cells).as_py()
    return any(end is not None and abs(end) > KEPT for end in ends.values())


def _finite(cells: Any) -> FloatArray:
    """Shape (rows,): the numbers; what is missing or infinite as NaN."""
    numbers = np.array(cells.to_numpy(), dtype=np.float64)
    numbers[~np.isfinite(numbers)] = np.nan
    numbers.setflags(write=False)
    return numbers
