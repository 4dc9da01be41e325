"""The table of a study file: comma-separated text in UTF-8, compressed; packed once as long as the table is the
same."""

from __future__ import annotations

import gzip
import io
import re
import weakref
import zlib
from typing import Any

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow

from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Table, number_text
from yellow_slope.core.errors import FileError

LEVEL = 1
_AWKWARD = re.compile(r"[\",\r\n]|^$|^\s|\s$")
MOST_BYTES = 2 << 30
"""A table is unpacked up to this size: more is more than a desktop holds beside its work."""
_packed: weakref.WeakKeyDictionary[Table, bytes] = weakref.WeakKeyDictionary()


def packed_table(table: Table) -> bytes:
    """The table compressed; the same table gives the same bytes, and is packed only once."""
    if table not in _packed:
        _packed[table] = gzip.compress(written(table), LEVEL, mtime=0)
    return _packed[table]


def unpacked_table(content: bytes, name: str) -> bytes:
    """The text of a packed table. FileError where it is damaged, or larger than can be held."""
    out: list[bytes] = []
    size = 0
    unpacking = zlib.decompressobj(wbits=31)
    try:
        while content and not unpacking.eof:
            piece = unpacking.decompress(content, 1 << 24)
            content = unpacking.unconsumed_tail
            size += len(piece)
            if size > MOST_BYTES:
                raise FileError(f"{name} holds a table of more than {MOST_BYTES >> 30} GB; it is not opened.")
            out.append(piece)
    except zlib.error as error:
        raise FileError(f"{name} is damaged: its table cannot be unpacked.") from error
    if not unpacking.eof:
        raise FileError(f"{name} is damaged: its table ends too early.")
    return b"".join(out)


def written(table: Table, separator: str = ",") -> bytes:
    """The table as separated text in UTF-8; numbers read back exactly, stray cells stand as they were."""
    out = io.BytesIO()
    out.write(
        (
            separator.join(
                _quoted(name) if _AWKWARD.search(name) or separator in name else name for name in table.names
            )
            + "\n"
        ).encode("utf-8")
    )
    if len(table.columns) == 1 or not table.n_rows:
        # A row of one empty cell would be an empty line, which is none: it is quoted.
        for column in table.columns:
            strays = {s.row: s.text for s in column.stray} if isinstance(column, NumberColumn) else {}
            for row in range(table.n_rows):
                out.write(_quoted(strays.get(row) or column.text(row)).encode("utf-8") + b"\n")
        return out.getvalue()
    arrays = {str(j): arrow_cells(column) for j, column in enumerate(table.columns)}
    arrow.write_csv(
        pa.table(arrays), out, arrow.WriteOptions(include_header=False, quoting_style="needed", delimiter=separator)
    )
    return out.getvalue()


def _quoted(text: str) -> str:
    return '"' + text.replace('"', '""') + '"'


def arrow_cells(column: Column) -> Any:
    """The column for the writer."""
    if isinstance(column, NumberColumn):
        numbers = pa.array(column.numbers, from_pandas=True)
        if not column.stray:
            return numbers
        texts = np.array(["" if np.isnan(v) else number_text(float(v)) for v in column.numbers], dtype=object)
        for stray in column.stray:
            texts[stray.row] = stray.text
        return pa.array(texts, type=pa.string())
    if isinstance(column, DateColumn):
        values, places = np.unique(column.numbers, return_inverse=True)
        return pa.array([column.code(float(v)) or None for v in values], type=pa.string()).take(pa.array(places))
    codes = pa.array(column.codes, mask=column.codes < 0)
    return pa.array(column.texts, type=pa.string()).take(codes)
