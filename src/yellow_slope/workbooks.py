"""Workbooks that leave nothing in the temporary folder, whatever happens while they are written."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from tempfile import gettempdir
from typing import TYPE_CHECKING

from yellow_slope.core.errors import FileError

if TYPE_CHECKING:
    from openpyxl import Workbook

_one_at_a_time = threading.Lock()


@contextmanager
def no_remains(book: Workbook) -> Iterator[None]:
    """What a workbook is written in: each of its sheets is put by in a file of its own first (openpyxl 3.1), which goes
    when the workbook stands; here also when it fails or is given up. FileError where there is no room for them."""
    from openpyxl.worksheet._writer import ALL_TEMP_FILES as PUT_BY

    with _one_at_a_time:
        before = set(PUT_BY)
        try:
            yield
        except OSError as error:
            said = (error.strerror or str(error)).lower()
            raise FileError(
                f"The workbook cannot be put together in the temporary folder {gettempdir()}: {said}."
            ) from error
        finally:
            for sheet in book.worksheets if book.write_only else []:
                with suppress(Exception):  # one that was given up half written ends before its file goes
                    sheet.close()
            for path in [path for path in PUT_BY if path not in before]:
                PUT_BY.remove(path)
                Path(path).unlink(missing_ok=True)
