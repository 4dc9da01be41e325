"""Sheets of OpenDocument files, read as they stream by: nothing is unfolded before its size is known."""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Callable
from datetime import datetime
from xml.parsers import expat

from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.archives import check_size, room_for

Value = bool | float | str | datetime | None
MOST_CELLS = 20_000_000
MOST_COLUMNS = 20_000
MOST_BLANK_ROWS = 1_000
"""So many empty rows between others are kept; they only count where a row's number is said."""
MOST_SPACES = 10_000
MOST_NESTED = 200
PIECE = 1 << 20
_OFFICE = "urn:oasis:names:tc:opendocument:xmlns:office:1.0 "
_TABLE = "urn:oasis:names:tc:opendocument:xmlns:table:1.0 "
_TEXT = "urn:oasis:names:tc:opendocument:xmlns:text:1.0 "
CELLS = (f"{_TABLE}table-cell", f"{_TABLE}covered-table-cell")


def sheet_rows(
    content: bytes, name: str, wanted: str, progress: Callable[[float], None]
) -> tuple[list[str], list[list[Value]]]:
    """The names of all sheets, and the rows of the wanted one, without a name of the first. FileError for what is
    damaged, protected or beyond all bounds."""
    reader = _SheetReader(name, wanted)
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            size = archive.getinfo("content.xml").file_size
            check_size(archive.getinfo("content.xml"), name, room_for(len(content)))
            with archive.open("content.xml") as stream:
                read = 0
                while piece := stream.read(PIECE):
                    read += len(piece)
                    reader.parser.Parse(piece, False)
                    progress(min(0.95, read / max(1, size)))
                reader.parser.Parse(b"", True)
    except FileError:
        raise
    except (
        zipfile.BadZipFile,
        zlib.error,
        KeyError,
        expat.ExpatError,
        ValueError,
        OSError,
        RuntimeError,
        EOFError,
    ) as error:
        raise FileError(f"{name} is a spreadsheet, but it is damaged or protected: it cannot be read.") from error
    except (NotImplementedError, zipfile.LargeZipFile, MemoryError) as error:
        raise FileError(f"{name} is packed in a way that cannot be read.") from error
    return reader.sheets, reader.rows


class _SheetReader:
    """Takes elements as they come; holds the cells of one sheet."""

    def __init__(self, name: str, wanted: str) -> None:
        self.name, self.wanted = name, wanted
        self.sheets: list[str] = []
        self.rows: list[list[Value]] = []
        self._path: list[str] = []
        self._tables = 0
        self._taking = False
        self._count = self._blank = 0
        self._row: list[Value] = []
        self._times = self._gap = 0
        self._cell: dict[str, str] = {}
        self._texts: list[str] = []
        self._spaces = 0
        parser = expat.ParserCreate(namespace_separator=" ")
        parser.buffer_text = True
        parser.StartElementHandler = self._begin
        parser.EndElementHandler = self._end
        parser.CharacterDataHandler = self._characters
        parser.EntityDeclHandler = self._entity
        self.parser = parser

    def _entity(self, *_: object) -> None:
        raise ValueError("a sheet declares no entities")

    def _begin(self, element: str, attributes: dict[str, str]) -> None:
        self._path.append(element)
        if len(self._path) > MOST_NESTED:
            raise ValueError("nested too deeply")
        if element == f"{_TABLE}table":
            self._tables += 1
            if self._tables == 1:
                title = attributes.get(f"{_TABLE}name", f"sheet {len(self.sheets) + 1}")
                self._taking = title == self.wanted if self.wanted else not self.sheets
                self.sheets.append(title)
        elif self._tables != 1 or not self._taking:
            return
        elif element == f"{_TABLE}table-row":
            self._row, self._gap = [], 0
            self._times = int(attributes.get(f"{_TABLE}number-rows-repeated", 1))
        elif element in CELLS:
            self._cell, self._texts, self._spaces = attributes, [], 0
        elif element == f"{_TEXT}p" and self._path[-2] in CELLS:
            self._texts.append("")
        elif self._is_text:
            if element == f"{_TEXT}s":
                self._add_spaces(int(attributes.get(f"{_TEXT}c", 1)))
            elif element == f"{_TEXT}tab":
                self._texts[-1] += "\t"
            elif element == f"{_TEXT}line-break":
                self._texts[-1] += "\n"

    @property
    def _is_text(self) -> bool:
        """Whether what stands here is said in a cell: not in a note at it, nor in a picture."""
        at = next((i for i in range(len(self._path) - 1, -1, -1) if self._path[i] in CELLS), None)
        return at is not None and at + 1 < len(self._path) and self._path[at + 1] == f"{_TEXT}p"

    def _add_spaces(self, n: int) -> None:
        self._spaces += n
        if self._spaces > MOST_SPACES:
            raise FileError(f"{self.name}: a cell in row {len(self.rows) + 1} holds {self._spaces:,} blanks.")
        self._texts[-1] += " " * n

    def _characters(self, text: str) -> None:
        if self._taking and self._tables == 1 and self._texts and self._is_text:
            self._texts[-1] += text

    def _end(self, element: str) -> None:
        self._path.pop()
        if element == f"{_TABLE}table":
            self._tables -= 1
        elif self._tables != 1 or not self._taking:
            return
        elif element in CELLS:
            self._end_cell()
        elif element == f"{_TABLE}table-row":
            self._end_row()

    def _end_cell(self) -> None:
        times = int(self._cell.get(f"{_TABLE}number-columns-repeated", 1))
        value = self._value()
        if value is None:
            self._gap += times
            return
        width = len(self._row) + self._gap + times
        if times < 1 or width > MOST_COLUMNS:
            at = len(self.rows) + 1
            raise FileError(f"{self.name}: row {at} has {width:,} columns; at most {MOST_COLUMNS:,} are read.")
        self._row += [None] * self._gap
        self._row += [value] * times
        self._gap = 0

    def _value(self) -> Value:
        kind = self._cell.get(f"{_OFFICE}value-type")
        if kind in ("float", "currency", "percentage"):
            return float(self._cell[f"{_OFFICE}value"])
        if kind == "boolean":
            return self._cell.get(f"{_OFFICE}boolean-value") == "true"
        if kind == "date":
            return datetime.fromisoformat(self._cell[f"{_OFFICE}date-value"].removesuffix("Z"))
        return "\n".join(self._texts) or self._cell.get(f"{_OFFICE}string-value") or None

    def _end_row(self) -> None:
        if not self._row:
            self._blank += self._times
            return
        self.rows += [[] for _ in range(min(self._blank, MOST_BLANK_ROWS))]
        self._blank = 0
        self._count += self._times * len(self._row)
        if self._times < 1 or self._count > MOST_CELLS:
            at = f"; row {len(self.rows) + 1} alone is repeated {self._times:,} times" if self._times > 1 else ""
            raise FileError(f"{self.name}: the sheet holds more than {MOST_CELLS:,} cells{at}. Save it as text.")
        self.rows += [self._row] * self._times
