"""Files of one table: every number at full precision, every text as a text."""

from __future__ import annotations

import io
import math
import re
from pathlib import Path

from yellow_slope.core.errors import FileError
from yellow_slope.core.told.tables import Table
from yellow_slope.values import dataclass

_CHANGED = re.compile(rb"<dcterms:modified[^>]*>[^<]*</dcterms:modified>")
SUFFIXES = (".csv", ".xlsx")


@dataclass(frozen=True, slots=True)
class TableFile:
    """A file that a table is written to. FileError for a name that promises another format."""

    path: Path

    def __post_init__(self) -> None:
        if self.path.suffix.lower() not in SUFFIXES:
            raise FileError(f"{self.path.name}: a table is written as {' or '.join(SUFFIXES)}.")

    def content(self, table: Table) -> bytes:
        """The file."""
        return table.csv() if self.path.suffix.lower() == ".csv" else xlsx_of(table)


def xlsx_of(table: Table) -> bytes:
    """A workbook of one sheet; texts are texts, also where they look like a formula."""
    from datetime import datetime

    from openpyxl import Workbook
    from openpyxl.cell.cell import Cell
    from openpyxl.styles import Font

    from yellow_slope.report.writers.stillzip import still
    from yellow_slope.workbooks import no_remains

    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "table"
    for i, line in enumerate(table.sheet(), 1):
        for j, value in enumerate(line, 1):
            if value is None or (isinstance(value, float) and not math.isfinite(value)):
                continue
            cell = sheet.cell(i, j)
            assert isinstance(cell, Cell)
            if isinstance(value, str):
                cell.value = value
                cell.data_type = "s"
            else:
                cell.value = value
            if i == 1:
                cell.font = Font(bold=True)
    book.properties.created = book.properties.modified = datetime(2000, 1, 1)
    out = io.BytesIO()
    with no_remains(book):
        book.save(out)
    return still(out.getvalue(), lambda name, part: _CHANGED.sub(b"", part) if name == "docProps/core.xml" else part)
