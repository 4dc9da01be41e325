"""Sheets that mean no good, or stop in the middle: refused in a sentence, before anything is unfolded."""

from __future__ import annotations

import io
import resource
import zipfile
from pathlib import Path

import numpy as np
import pytest

from yellow_slope.core.errors import FileError
from yellow_slope.files.opening import open_anything

SPACES = " ".join(
    f'xmlns:{short}="urn:oasis:names:tc:opendocument:xmlns:{short}:1.0"' for short in ("office", "table", "text")
)
BEGIN = f'<?xml version="1.0"?><office:document-content {SPACES}><office:body><office:spreadsheet>'
END = "</office:spreadsheet></office:body></office:document-content>"


def cell(text: str, more: str = "") -> str:
    return f'<table:table-cell office:value-type="string" {more}><text:p>{text}</text:p></table:table-cell>'


def number(value: float, more: str = "") -> str:
    return f'<table:table-cell office:value-type="float" office:value="{value}" {more}/>'


def row(cells: str, more: str = "") -> str:
    return f"<table:table-row {more}>{cells}</table:table-row>"


def sheet(rows: str, name: str = "a") -> str:
    return f'<table:table table:name="{name}">{rows}</table:table>'


def written(path: Path, xml: str) -> Path:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("content.xml", xml)
    path.write_bytes(out.getvalue())
    return path


NAMES = row(cell("x") + cell("y"))
ROWS = "".join(row(number(i) + number(i * i)) for i in range(5))


@pytest.mark.parametrize(
    ("xml", "said"),
    [
        (sheet(NAMES + row(number(1) + number(2), 'table:number-rows-repeated="999999999"')), "999,999,999 times"),
        (sheet(row(cell("x", 'table:number-columns-repeated="999999999"'))), "999,999,999 columns"),
        (sheet(NAMES + row(cell('a<text:s text:c="999999999"/>') + number(2))), "999,999,999 blanks"),
        (sheet(NAMES + row("<table:table-cell/>" * 3 + number(1, 'table:number-columns-repeated="30000"'))), "30,003"),
        (sheet(NAMES + row(number(1, 'table:number-columns-repeated="-5"'))), "columns"),
        ("<text:a>" * 5000 + "</text:a>" * 5000, "damaged"),
        (sheet(NAMES + ROWS)[:-40], "damaged"),
        (sheet(NAMES + row('<table:table-cell office:value-type="float" office:value="a"/>')), "damaged"),
    ],
)
def test_what_is_beyond_bounds_or_broken_is_refused(tmp_path: Path, xml: str, said: str) -> None:
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    with pytest.raises(FileError, match=said):
        open_anything(written(tmp_path / "t.ods", BEGIN + xml + END))
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 200_000, "kilobytes"


def test_entities_are_refused(tmp_path: Path) -> None:
    bomb = '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa">]>' + (BEGIN + sheet(NAMES + ROWS) + END).split("?>")[1]
    with pytest.raises(FileError, match="damaged"):
        open_anything(written(tmp_path / "t.ods", bomb))


def test_repeats_blanks_notes_and_further_sheets(tmp_path: Path) -> None:
    """Cells and rows that are repeated, empty ones between them, a note at a cell, text in spans, a second sheet."""
    note = "<office:annotation><text:p>not said</text:p></office:annotation>"
    spans = 'two<text:s/>words<text:span> in<text:s text:c="2"/>spans</text:span>'
    xml = sheet(
        row("<table:table-cell/>", 'table:number-rows-repeated="2"')
        + row(cell("x") + cell("y", 'table:number-columns-repeated="2"') + cell("z"))
        + row(number(1) + '<table:table-cell table:number-columns-repeated="2"/>' + cell(spans))
        + row(number(2, 'table:number-columns-repeated="3"') + cell("b"), 'table:number-rows-repeated="3"')
        + row('<table:table-cell table:number-columns-repeated="16380"/>', 'table:number-rows-repeated="1048000"')
        + row(
            number(3) * 3 + f'<table:table-cell office:value-type="string">{note}<text:p>c</text:p></table:table-cell>'
        )
    ) + sheet(NAMES + ROWS, "other")
    study = open_anything(written(tmp_path / "t.ods", BEGIN + xml + END))
    table = study.table
    assert study.source.found.sheets == ("a", "other")
    assert table.names == ("x", "y", "y 2", "z") or len(table.names) == 4
    np.testing.assert_array_equal(study.columns.numbers("x"), [1, 2, 2, 2, 3])
    np.testing.assert_array_equal(study.columns.numbers(table.names[1]), [np.nan, 2, 2, 2, 3])
    assert [table.column("z").text(i) for i in range(5)] == ["two words in  spans", "b", "b", "b", "c"]
