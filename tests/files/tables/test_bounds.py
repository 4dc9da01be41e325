"""Small files that would fill the memory, and sheets that lie about their size."""

from __future__ import annotations

import gzip
import io
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import openpyxl
import pyarrow as pa
import pytest
from pyarrow import parquet

from tests.support.mutating import archive_of
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.errors import FileError
from yellow_slope.core.study.study import new_study
from yellow_slope.files import opening
from yellow_slope.files.opening import open_anything
from yellow_slope.files.safely import archives
from yellow_slope.files.study import packedtable, studyfile


def workbook(path: Path, rows: bytes, dimension: bytes = b"") -> Path:
    """A workbook of two numbers in two columns, and these rows; with what it says of its own size."""
    made = io.BytesIO()
    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(["x", "y"])
    sheet.append([1, 2])
    book.save(made)
    with zipfile.ZipFile(io.BytesIO(made.getvalue())) as old, zipfile.ZipFile(path, "w") as new:
        for name in old.namelist():
            content = old.read(name)
            if name == "xl/worksheets/sheet1.xml":
                content = content.replace(b"</sheetData>", rows + b"</sheetData>")
                content = content.replace(b'<dimension ref="A1:B2" />', dimension or b'<dimension ref="A1:B2" />')
            new.writestr(name, content)
    return path


@pytest.mark.parametrize("dimension", [b"", b'<dimension ref="A1" />', b'<dimension ref="A1:XFD1048576" />'])
def test_every_row_is_read_whatever_a_sheet_says_of_its_size(tmp_path: Path, dimension: bytes) -> None:
    rows = b'<row r="3"><c r="A3"><v>3</v></c><c r="B3"><v>4</v></c></row><row r="9"><c r="B9"><v>5</v></c></row>'
    study = open_anything(workbook(tmp_path / "t.xlsx", rows, dimension))
    assert study.table.n_rows == 3
    assert list(study.columns.numbers("y")) == [2, 4, 5]


def test_a_row_far_below_is_no_burden(tmp_path: Path) -> None:
    last = b'<row r="1048576"><c r="XFD1048576"><v>1</v></c></row>'
    study = open_anything(workbook(tmp_path / "t.xlsx", last))
    assert (study.table.n_rows, len(study.table.names)) == (2, 3)
    beyond = b'<row r="999999999"><c r="A999999999"><v>1</v></c></row>'
    with pytest.raises(FileError, match="a row beyond 1,048,576"):
        open_anything(workbook(tmp_path / "u.xlsx", beyond))


def test_texts_that_stand_often_are_held_once(tmp_path: Path) -> None:
    """A text of a megabyte in 3,000 rows is a file of some kilobytes, and three gigabytes written out."""
    once = pa.array(["x" * (1 << 20), "b"])
    column = pa.DictionaryArray.from_arrays(pa.array([0, 1, 0] * 1000, type=pa.int32()), once)
    parquet.write_table(pa.table({"a": column, "n": pa.array(range(3000))}), tmp_path / "t.parquet")
    assert (tmp_path / "t.parquet").stat().st_size < 1 << 20
    study = open_anything(tmp_path / "t.parquet")
    assert study.table.n_rows == 3000
    assert study.table.column("a").text(1) == "b"
    assert len(study.table.column("a").text(2)) == 1 << 20


@pytest.mark.parametrize("kind", [pa.string(), pa.large_string(), pa.string_view()])
@pytest.mark.parametrize("way", ["DELTA_BYTE_ARRAY", "DELTA_LENGTH_BYTE_ARRAY", "PLAIN"])
def test_texts_in_every_encoding(tmp_path: Path, kind: Any, way: str) -> None:
    texts = [("gr", "kr", None)[i % 3] for i in range(2100)]
    table = pa.table({"n": pa.array(range(2100)), "a": pa.array(texts, kind)})
    where = {"a": way, "n": "PLAIN"}
    parquet.write_table(table, tmp_path / "t.parquet", use_dictionary=False, column_encoding=where, row_group_size=700)
    study = open_anything(tmp_path / "t.parquet")
    assert [study.table.column("a").text(row) for row in (0, 1, 2, 2098)] == ["gr", "kr", "", "kr"]


@pytest.mark.parametrize("way", ["DELTA_BYTE_ARRAY", "PLAIN"])
def test_pages_that_unpack_to_gigabytes_are_refused_soon(tmp_path: Path, way: str) -> None:
    """Texts of a megabyte, each like the one before but for its end, are a file of some kilobytes."""
    table = pa.table({"a": pa.array(["x" * (1 << 20) + str(i) for i in range(300)])})
    parquet.write_table(
        table, tmp_path / "t.parquet", use_dictionary=False, column_encoding={"a": way}, compression="zstd"
    )
    assert (tmp_path / "t.parquet").stat().st_size < 1 << 20
    before = pa.total_allocated_bytes()
    with pytest.raises(FileError, match=r"MB large or larger, unpacked\."):
        open_anything(tmp_path / "t.parquet")
    assert pa.total_allocated_bytes() - before < 1 << 20


@pytest.mark.parametrize(
    "kind", [pa.dictionary(pa.int32(), pa.binary()), pa.binary(), pa.list_(pa.string()), pa.struct([("a", pa.int8())])]
)
def test_kinds_that_no_cell_holds_are_refused_unread(tmp_path: Path, kind: Any) -> None:
    parquet.write_table(pa.table({"a": pa.nulls(3, kind)}), tmp_path / "t.parquet")
    with pytest.raises(FileError, match="which is neither number nor text nor date"):
        open_anything(tmp_path / "t.parquet")


SHEET = b"application/vnd.oasis.opendocument.spreadsheet"
FULL = b"0" * (4 << 20)


@pytest.mark.parametrize(
    ("name", "parts"),
    [
        ("t.ods", {"mimetype": FULL, "content.xml": b"<a/>"}),
        ("t.ods", {"mimetype": SHEET, "content.xml": FULL}),
        ("t.xlsx", {"xl/workbook.xml": b"<workbook/>", "xl/sharedStrings.xml": FULL}),
        ("t.zip", {"datapackage.json": FULL}),
        ("t.zip", {"datapackage.json": b'{"resources":[{"name":"a","path":"a.csv"}]}', "a.csv": FULL}),
        ("t.yslope", {"study.json": b"{}", "datapackage.json": b"{}", "data.csv.gz": FULL}),
        ("t.yslope", {"study.json": b"{}", "datapackage.json": b"{}", "data.csv.gz": gzip.compress(FULL)}),
    ],
)
def test_what_unpacks_to_far_more_than_it_is_packed_is_not_unpacked(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, name: str, parts: dict[str, bytes]
) -> None:
    monkeypatch.setattr(archives, "BASE", 1 << 16)
    for module in (opening, studyfile):
        monkeypatch.setattr(module, "MOST_JSON", 1 << 16)
    path = tmp_path / name
    path.write_bytes(archive_of(parts.items()))
    with pytest.raises(FileError, match=r"not opened: its|more than .* MB; it is not opened"):
        open_anything(path)


def test_a_table_that_packs_better_than_that_is_saved_as_it_is(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(archives, "BASE", 1 << 10)
    study = new_study(Table(tuple(number_column(f"x{k}", np.full(20_000, float(k))) for k in range(4))))
    content = studyfile.packed(study)
    again = studyfile.unpacked(content, "s")
    assert again.table.n_rows == 20_000
    assert len(content) > 100_000


def test_a_table_that_could_not_be_opened_again_is_not_written(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(packedtable, "most_bytes", lambda: 1 << 10)
    study = new_study(Table((number_column("x", np.arange(5000.0)),)))
    with pytest.raises(FileError, match="could not be opened again"):
        studyfile.packed(study)
