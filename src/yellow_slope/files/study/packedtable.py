"""The table of a study file: comma-separated text in UTF-8, compressed; packed once as long as the table is the
same."""

from __future__ import annotations

import io
import os
import re
import weakref
import zlib
from typing import IO, Any

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow

from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, Table, number_text
from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.archives import room_for

LEVEL = 1
_AWKWARD = re.compile(r"[\",\r\n]|^$|^\s|\s$")
LEAST_BYTES, SHARE = 2 << 30, 4
"""A table is unpacked up to a quarter of the memory, and up to so much in any case: the same holds of writing it."""
PIECE = 1 << 24
_packed: weakref.WeakKeyDictionary[Table, bytes] = weakref.WeakKeyDictionary()


def packed_table(table: Table) -> bytes:
    """The table compressed; the same table gives the same bytes, and is packed only once."""
    if table not in _packed:
        _packed[table] = _compressed(table)
    return _packed[table]


def most_bytes() -> int:
    """How large a table may be as text, so that it can be saved and opened on this machine."""
    try:
        memory = os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE")
    except (ValueError, OSError):
        memory = 0
    return max(LEAST_BYTES, memory // SHARE)


def _compressed(table: Table) -> bytes:
    """The table compressed piece by piece. FileError where it is larger than can be opened again."""
    packing = _Packing(LEVEL)
    write_text(table, packing)
    content = packing.end()
    if packing.size > room_for(len(content)):  # nobody could tell it from a file that was made to fill a memory
        stored = _Packing(0)
        unpacking = zlib.decompressobj(wbits=31)
        while content:
            stored.write(unpacking.decompress(content, PIECE))
            content = unpacking.unconsumed_tail
        content = stored.end()
    return content


class _Packing(io.RawIOBase):
    """Takes text and packs it; no more of it than can be read again."""

    def __init__(self, level: int) -> None:
        self._packer = zlib.compressobj(level, wbits=31)
        self._parts: list[bytes] = []
        self.size = 0

    def writable(self) -> bool:
        return True

    def write(self, part: Any) -> int:
        self.size += len(part)
        if self.size > most_bytes():
            raise FileError(
                f"The table is larger than {most_bytes() >> 30} GB as text: it could not be opened again on this "
                "machine. Export it as Parquet."
            )
        self._parts.append(self._packer.compress(part))
        return len(part)

    def end(self) -> bytes:
        """The packed text."""
        self._parts.append(self._packer.flush())
        return b"".join(self._parts)


def unpacked_table(content: bytes, name: str) -> bytes:
    """The text of a packed table. FileError where it is damaged, or larger than can be held."""
    out: list[bytes] = []
    size, most = 0, min(most_bytes(), room_for(len(content)))
    unpacking = zlib.decompressobj(wbits=31)
    try:
        while content and not unpacking.eof:
            piece = unpacking.decompress(content, PIECE)
            content = unpacking.unconsumed_tail
            size += len(piece)
            if size > most:
                raise FileError(f"{name} holds a table of more than {most >> 20:,} MB; it is not opened.")
            out.append(piece)
    except zlib.error as error:
        raise FileError(f"{name} is damaged: its table cannot be unpacked.") from error
    if not unpacking.eof:
        raise FileError(f"{name} is damaged: its table ends too early.")
    return b"".join(out)


def written(table: Table, separator: str = ",") -> bytes:
    """The table as separated text in UTF-8; numbers read back exactly, stray cells stand as they were."""
    out = io.BytesIO()
    write_text(table, out, separator)
    return out.getvalue()


def write_text(table: Table, out: IO[bytes] | io.RawIOBase, separator: str = ",") -> None:
    """Write that text to something."""
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
        return
    arrays = {str(j): arrow_cells(column) for j, column in enumerate(table.columns)}
    arrow.write_csv(
        pa.table(arrays), out, arrow.WriteOptions(include_header=False, quoting_style="needed", delimiter=separator)
    )


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
