"""Spreadsheets, Parquet files, JSON records and data packages: their tables, and what they are if they are none."""

from __future__ import annotations

import datetime as dt
import io
import json
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import openpyxl
import pyarrow as pa
import pytest
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table as Sheet
from odf.table import TableCell, TableRow
from odf.text import P
from pyarrow import parquet

from yellow_slope.core.data.source import Format, ReadAs
from yellow_slope.core.data.table import DateColumn, NumberColumn, Table
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import FileError
from yellow_slope.core.words.sentences.sources import source_phrases
from yellow_slope.files.opening import open_anything
from yellow_slope.files.study.studyfile import packed, unpacked

HEAD = ["learner", "practice", "coaching", "when", "note"]
ROWS: list[list[Any]] = [
    [
        f"L{k}",
        None if k == 3 else k + 0.5,
        ["none", "video feedback"][k % 2],
        dt.date(2024, 3, 1 + k),
        "NA" if k == 5 else None,
    ]
    for k in range(12)
]


def workbook(path: Path, sheets: dict[str, list[list[Any]]]) -> Path:
    book = openpyxl.Workbook()
    book.remove(book.active)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(row)
    book.save(path)
    return path


def open_document(path: Path, rows: list[list[Any]]) -> Path:
    document = OpenDocumentSpreadsheet()
    sheet = Sheet(name="first")
    for row in rows:
        line = TableRow()
        for value in row:
            if isinstance(value, dt.date):
                cell = TableCell(valuetype="date", datevalue=value.isoformat())
            elif isinstance(value, float):
                cell = TableCell(valuetype="float", value=value)
            else:
                cell = TableCell(valuetype="string" if value is not None else None)
            if isinstance(value, str):
                cell.addElement(P(text=value))
            line.addElement(cell)
        sheet.addElement(line)
    document.spreadsheet.addElement(sheet)
    document.save(str(path))
    return path


def check(table: Table) -> None:
    practice, when = table.column("practice"), table.column("when")
    assert isinstance(practice, NumberColumn)
    assert isinstance(when, DateColumn)
    np.testing.assert_array_equal(practice.numbers, [np.nan if k == 3 else k + 0.5 for k in range(12)])
    assert [table.column("coaching").text(k) for k in range(3)] == ["none", "video feedback", "none"]
    assert [when.text(k) for k in (0, 11)] == ["2024-03-01", "2024-03-12"]


def test_a_workbook(tmp_path: Path) -> None:
    path = workbook(tmp_path / "t.xlsx", {"first": [HEAD, *ROWS], "other": [["a", "b"], [1, 2], [3, 4]]})
    study = open_anything(path)
    check(study.table)
    assert study.source.read_as.format is Format.SPREADSHEET
    assert study.source.found.sheets == ("first", "other")
    assert study.source.found.missing == (("NA", 1),)
    assert source_phrases(study.source, 12)[:4] == ("a spreadsheet", "sheet “first”", "names in row 1", "12 rows")
    assert (study.variable("when").kind, study.variable("learner").kind) == (Kind.DATE, Kind.IDENTIFIER)
    other = open_anything(path, ReadAs(sheet="other"))
    assert other.table.names == ("a", "b")
    again = unpacked(packed(study), "again")
    check(again.table)
    assert again.source == study.source


def test_a_table_that_starts_lower_and_further_right(tmp_path: Path) -> None:
    rows = [["Learners of spring"], [], *([None, *row] for row in [HEAD, *ROWS])]
    book = openpyxl.Workbook()
    sheet = book.active
    for row in rows:
        sheet.append(row)
    sheet.merge_cells("A1:F1")
    book.save(tmp_path / "t.xlsx")
    study = open_anything(tmp_path / "t.xlsx")
    check(study.table)
    assert study.source.read_as.above == 2


def test_formulas_count_by_their_values_and_their_errors_as_missing(tmp_path: Path) -> None:
    path = workbook(tmp_path / "t.xlsx", {"s": [["a", "b"], *([k, "#DIV/0!" if k == 2 else k * 2] for k in range(12))]})
    column = open_anything(path).table.column("b")
    assert isinstance(column, NumberColumn)
    assert np.isnan(column.numbers[2])
    assert column.stray == ()


def test_one_text_among_numbers_of_a_sheet_is_a_stray(tmp_path: Path) -> None:
    path = workbook(tmp_path / "t.xlsx", {"s": [["a", "b"], *(["ill" if k == 4 else k + 0.5, k] for k in range(20))]})
    column = open_anything(path).table.column("a")
    assert isinstance(column, NumberColumn)
    assert [(s.row, s.text) for s in column.stray] == [(4, "ill")]


def test_an_open_document(tmp_path: Path) -> None:
    check(open_anything(open_document(tmp_path / "t.ods", [HEAD, *ROWS])).table)


def test_parquet(tmp_path: Path) -> None:
    columns = {name: pa.array([row[j] for row in ROWS]) for j, name in enumerate(HEAD)}
    columns["coaching"] = columns["coaching"].dictionary_encode()
    columns["flag"] = pa.array([k % 2 == 0 for k in range(12)])
    columns["stamp"] = pa.array([dt.datetime(2024, 3, 1, 12, 30)] * 12)
    parquet.write_table(pa.table(columns), tmp_path / "t.parquet")
    study = open_anything(tmp_path / "t.parquet")
    check(study.table)
    assert [study.table.column("flag").text(k) for k in (0, 1)] == ["TRUE", "FALSE"]
    assert study.table.column("stamp").text(0) == "2024-03-01 12:30"
    check(unpacked(packed(study), "again").table)


@pytest.mark.parametrize("form", ["rows", "columns"])
def test_json_records(tmp_path: Path, form: str) -> None:
    rows = [
        {"practice": row[1], "coaching": row[2], "when": row[3].isoformat(), "yes": k % 3 == 0}
        for k, row in enumerate(ROWS)
    ]
    value = rows if form == "rows" else {key: [row[key] for row in rows] for key in rows[0]}
    (tmp_path / "t.json").write_text(json.dumps(value))
    study = open_anything(tmp_path / "t.json")
    check(study.table)
    assert study.table.column("yes").text(0) == "TRUE"


def package(csv: str = "data.csv") -> dict[str, Any]:
    fields = [
        {"name": "a", "title": "practice", "unit": "hour"},
        {"name": "g", "categories": [{"value": 0, "label": "none"}, {"value": 1, "label": "video"}]},
    ]
    return {
        "title": "Learners",
        "resources": [{"name": "first", "path": csv, "schema": {"fields": fields}, "dialect": {"delimiter": ";"}}],
    }


@pytest.mark.parametrize("zipped", [True, False])
def test_a_data_package(tmp_path: Path, zipped: bool) -> None:
    text = "a;g\n" + "".join(f"{k}.5;{k % 2}\n" for k in range(12))
    if zipped:
        path = tmp_path / "learners.zip"
        with zipfile.ZipFile(path, "w") as archive:
            archive.writestr("datapackage.json", json.dumps(package()))
            archive.writestr("data.csv", text)
    else:
        path = tmp_path / "datapackage.json"
        path.write_text(json.dumps(package()))
        (tmp_path / "data.csv").write_text(text)
    study = open_anything(path)
    assert study.name == "Learners"
    assert study.variable("a").label == "practice"
    assert [level.label for level in study.variable("g").levels] == ["none", "video"]
    assert study.source.read_as.format is Format.PACKAGE


@pytest.mark.parametrize("outside", ["../secret.csv", "/etc/hostname", "https://nowhere.example/t.csv"])
def test_a_package_reads_nothing_outside_itself(tmp_path: Path, outside: str) -> None:
    (tmp_path / "datapackage.json").write_text(json.dumps(package(outside)))
    with pytest.raises(FileError, match="outside the package"):
        open_anything(tmp_path / "datapackage.json")


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"%PDF-1.7 ...", "is a PDF"),
        (b"<!DOCTYPE html><html></html>", "is an HTML page"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1rest", "old binary format: save it as .xlsx"),
        (b"\x89PNG\r\n", "is a picture"),
        (b"\x1f\x8b\x08\x00", "is compressed: unpack it first"),
        (b"PAR1 nothing", "is a Parquet file, but it is damaged"),
        (b"[1, 2, 3]", "is JSON, but no table"),
        (b'[{"a": {"b": 1}}]', "row 1 of “a” holds a list or an object"),
        (b'{"a": [1, 2], "b": [1]}', "of different length"),
        (b"[]", "is JSON, but no table"),
        (b"{\\rtf1 hello", "is a rich-text document"),
    ],
)
def test_what_it_is_instead(tmp_path: Path, content: bytes, said: str) -> None:
    (tmp_path / "learners.csv").write_bytes(content)
    with pytest.raises(FileError, match=said):
        open_anything(tmp_path / "learners.csv")


def test_damaged_spreadsheets_end_in_a_sentence(tmp_path: Path) -> None:
    whole = workbook(tmp_path / "t.xlsx", {"s": [HEAD, *ROWS]}).read_bytes()
    parts = {
        name: zipfile.ZipFile(io.BytesIO(whole)).read(name) for name in zipfile.ZipFile(io.BytesIO(whole)).namelist()
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in parts.items():
            archive.writestr(name, content[: len(content) // 2] if "sheet1" in name else content)
    (tmp_path / "t.xlsx").write_bytes(out.getvalue())
    with pytest.raises(FileError, match="damaged or protected"):
        open_anything(tmp_path / "t.xlsx")
    empty = workbook(tmp_path / "e.xlsx", {"s": []})
    with pytest.raises(FileError, match="the sheet “s” is empty"):
        open_anything(empty)


def test_whole_numbers_beyond_what_a_number_keeps_stay_texts_and_far_dates_are_refused(tmp_path: Path) -> None:
    ids = [9007199254740993 + k for k in range(12)]
    parquet.write_table(pa.table({"id": pa.array(ids), "x": pa.array(range(12))}), tmp_path / "t.parquet")
    table = open_anything(tmp_path / "t.parquet").table
    assert [table.column("id").text(k) for k in (0, 11)] == ["9007199254740993", "9007199254741004"]
    parquet.write_table(pa.table({"when": pa.array([2**60] * 3, type=pa.timestamp("us"))}), tmp_path / "f.parquet")
    with pytest.raises(FileError, match="a date outside the years 1 to 9999"):
        open_anything(tmp_path / "f.parquet")
