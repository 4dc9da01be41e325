"""Letters of every category of Unicode through every writer: each file opens, and whoever reads it back finds the text
as it can be shown, nothing more and nothing less."""

from __future__ import annotations

import csv
import io
import json
import re
import unicodedata
import zipfile
from html.parser import HTMLParser
from pathlib import Path
from xml.etree import ElementTree

import pyarrow.parquet as parquet
import pytest
from docx import Document
from hypothesis import example, given, settings
from hypothesis import strategies as st
from markdown_it import MarkdownIt
from odf.opendocument import load
from odf.table import TableCell
from odf.teletype import extractText
from odf.text import P
from openpyxl import load_workbook
from pypdf import PdfReader

from tests.support.seeds import few
from yellow_slope.core.data.table import Table as Cases
from yellow_slope.core.data.table import number_column, text_column
from yellow_slope.core.errors import FileError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.letters import UNKNOWN, shown
from yellow_slope.core.study.edits.blocks import set_outcome
from yellow_slope.core.study.report import PartKind
from yellow_slope.core.study.study import new_study
from yellow_slope.core.told.cells import Cell
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.spelling.rich import Run
from yellow_slope.files.written.exporting import SUFFIXES, ExportChoices, write_export
from yellow_slope.plots.marks import OfEffect, Page, Text
from yellow_slope.report.document import Report, Section, said
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.formats import Format, ReportFile
from yellow_slope.report.tablefiles import TableFile
from yellow_slope.report.told import Told

CATEGORIES = sorted({unicodedata.category(chr(i)) for i in range(0x110000)})
TWO = {
    category: [chr(i) for i in range(0x110000) if unicodedata.category(chr(i)) == category] for category in CATEGORIES
}
AWKWARD = ["\ufffe", "\uffff", "\ufeff", "\ud800", "\udfff", "\ufdd0", "\U0010ffff", "\x00", "\x1b", "\x85", "a\rb"]
AWKWARD += ["\u202eabc", "\u2066abc", "\u2028", "_x0041_", "#REF!", "#N/A", "=1+1", "x" * 300, "a\r\nb", "​", "e\u0301"]
DARK = re.compile("[\ud800-\udfff\ufffe\uffff\ufeff\x00-\x08\x0b-\x1f\u202a-\u202e\u2066-\u2069]")


def words(category: str) -> st.SearchStrategy[str]:
    """A text with letters of one category in it, two of these first that are at its ends."""
    return st.lists(st.sampled_from(TWO[category]), min_size=1, max_size=6).map(lambda some: f"a{''.join(some)}b")


def plain(text: str) -> str:
    return re.sub(r"\s+", "", text)


def report_of(text: str) -> Report:
    table = Table(text, (text, "b"), ((Cell(text), Cell("0.50")),), text)
    return Report(text, (Section(text, (said(text),), (table,), kind=PartKind.SAMPLE),))


class Letters(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.told: list[str] = []

    def handle_data(self, data: str) -> None:
        self.told.append(data)


def read_back(kind: Format, content: bytes) -> str:
    match kind:
        case Format.HTML:
            reader = Letters()
            reader.feed(content.decode("utf-8"))
            return "".join(reader.told)
        case Format.DOCX:
            document = Document(io.BytesIO(content))
            cells = [cell.text for table in document.tables for row in table.rows for cell in row.cells]
            return "\n".join([*(p.text for p in document.paragraphs), *cells])
        case Format.ODT:
            return "\n".join(extractText(p) for p in load(io.BytesIO(content)).getElementsByType(P))
        case Format.PDF:
            return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(content)).pages)
        case Format.MARKDOWN:
            tokens = MarkdownIt("commonmark").enable("table").parse(content.decode("utf-8"))
            return "\n".join("".join(c.content for c in t.children or []) for t in tokens if t.type == "inline")
        case Format.LATEX:
            return content.decode("utf-8")


def check_reports(text: str) -> None:
    wanted = plain(shown(text))
    for kind in Format:
        found = read_back(kind, ReportFile(Path(f"r{kind.value}")).contents(report_of(text))[0][1])
        assert DARK.search(found.replace("\n", "").replace("\r", "")) is None, (kind, text)
        if kind is Format.PDF:  # of what no font has a sign stands in the page
            assert wanted[:1] in found
        elif kind is Format.LATEX:
            assert text != "aéb" or wanted in plain(found)
        elif kind is Format.ODT:  # a blank of any width is a blank
            assert sum(wanted in plain(one) for one in found.split("\n")) >= 2 or "\n" in shown(text), (kind, text)
        else:
            assert plain(found).count(wanted) >= 4, (kind, text, found)


@pytest.mark.parametrize("category", CATEGORIES)
def test_every_category_through_every_report(category: str) -> None:
    @given(words(category))
    @settings(max_examples=few(2, 3), deadline=None, derandomize=True)
    def through(text: str) -> None:
        check_reports(text)

    through()


@pytest.mark.parametrize("text", AWKWARD)
def test_awkward_ones(text: str) -> None:
    check_reports(f"a{text}b")
    check_table(f"a{text}b")
    check_table(text)


def check_table(text: str) -> None:
    table = Table(text, (text, "b"), ((Cell(text), Cell("0.50", numbers=(0.5,))),), text)
    rows = list(csv.reader(io.StringIO(TableFile(Path("t.csv")).content(table).decode("utf-8"), newline="")))
    assert shown(text) in (rows[1][0], rows[1][0].removeprefix("'")), text
    sheet = load_workbook(io.BytesIO(TableFile(Path("t.xlsx")).content(table))).active
    assert sheet is not None
    assert (sheet["A2"].value, sheet["A2"].data_type) == (shown(text), "s"), text


@pytest.mark.parametrize("category", CATEGORIES)
def test_every_category_through_tables_and_pictures(category: str) -> None:
    @given(words(category))
    @settings(max_examples=few(2, 3), deadline=None, derandomize=True)
    def through(text: str) -> None:
        check_table(text)
        mark = Text(text, 10.0, 20.0, 8.0, "#000000", OfEffect())
        page = Page(120.0, 60.0, (mark,))
        for ending in ("svg", "pdf", "png"):
            content = page_bytes(page, ending, told=Told(text, text))
            if ending == "svg":
                root = ElementTree.fromstring(content)
                title = root.find("{http://www.w3.org/2000/svg}title")
                assert title is not None
                assert plain(title.text or "") == plain(shown(text))
            elif ending == "pdf":
                assert len(PdfReader(io.BytesIO(content)).pages) == 1

    through()


def test_nothing_that_is_printed_can_hold_more_than_letters() -> None:
    """It is the values themselves that let nothing else in, not whoever writes them."""
    for text in AWKWARD:
        held = [Run(text).text, Cell(text).text, Table(text, (text,), ()).title, Table(text, (text,), ()).head[0]]
        held += [Report(text, ()).title, Section(text).title, Told(text, text).title]
        held += [Text(text, 0.0, 0.0, 8.0, "#000000", OfEffect()).text]
        assert held == [shown(text)] * len(held)
        assert DARK.search(shown(text)) is None
    assert shown("a\rb\r\nc") == "a\nb\nc"
    assert shown("x\ufeff") == f"x{UNKNOWN}"


def exported_again(text: str, suffix: str, folder: Path) -> str | None:
    """The text of a cell after it was written and read by a reader that is not ours; None where it was refused."""
    table = Cases((text_column("g", [text, "other", text]), number_column("y", [1.0, 2.0, 4.0])))
    study = set_outcome(new_study(table), "y")
    path = folder / f"t{suffix}"
    try:
        write_export(evaluate(study), [path], ExportChoices(code_book=False))
    except FileError:
        return None
    match suffix:
        case ".csv" | ".tsv":
            rows = csv.reader(
                io.StringIO(path.read_bytes().decode("utf-8"), newline=""), delimiter="\t" if suffix == ".tsv" else ","
            )
            return list(rows)[1][0]
        case ".xlsx":
            sheet = load_workbook(path).active
            assert sheet is not None
            assert sheet["A2"].data_type == "s"
            return str(sheet["A2"].value)
        case ".ods":
            return str(extractText(load(str(path)).getElementsByType(TableCell)[2]))
        case ".parquet":
            return str(parquet.read_table(path).column("g")[0].as_py())
        case _:
            with zipfile.ZipFile(path) as archive:
                json.loads(archive.read("datapackage.json"))
                return list(csv.reader(io.StringIO(archive.read("data.csv").decode("utf-8"), newline="")))[1][0]


@pytest.mark.parametrize("suffix", SUFFIXES)
@given(st.one_of(*(words(category) for category in CATEGORIES), st.sampled_from(AWKWARD)))
@settings(max_examples=few(20, 60), deadline=None, derandomize=True)
@example("#REF!")
@example("a\rb")
@example("\ufffe")
@example("_x0041_")
def test_what_is_exported_reads_back_or_is_refused(
    tmp_path_factory: pytest.TempPathFactory, suffix: str, text: str
) -> None:
    found = exported_again(text, suffix, tmp_path_factory.mktemp("out"))
    assert found in (None, text, re.sub("[\ud800-\udfff]", UNKNOWN, text)), (suffix, text, found)
