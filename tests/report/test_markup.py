"""Whatever somebody calls a variable, no reader of a report takes it for anything but letters: each format is read back
by a reader that is not ours."""

from __future__ import annotations

import csv
import io
import re
from html.parser import HTMLParser
from itertools import pairwise
from pathlib import Path

import pytest
from docx import Document
from hypothesis import example, given, settings
from hypothesis import strategies as st
from markdown_it import MarkdownIt
from odf.opendocument import load
from odf.teletype import extractText
from odf.text import P
from openpyxl import load_workbook
from pypdf import PdfReader

from yellow_slope.core.study.report import PartKind
from yellow_slope.core.told.cells import Cell
from yellow_slope.core.told.tables import Table
from yellow_slope.report.document import Report, Section, said
from yellow_slope.report.formats import Format, ReportFile
from yellow_slope.report.tablefiles import TableFile

pytestmark = pytest.mark.no_cover  # what it runs through others run through

MARKS = "<>&\"'{}\\$%#_^~*[]()|=+-@!:;/.,`1a Z"
WORDS = st.lists(
    st.one_of(
        st.text(MARKS, min_size=1, max_size=12),
        st.sampled_from(
            ["<b>", "</td>", "&amp;", "\\input{x}", "$x$", "[a](b)", "![a](b)", "http://a.b", "www.a.b", "1. ", "a@b.c"]
        ),
    ),
    min_size=1,
    max_size=4,
).map(lambda parts: " ".join("".join(parts).split()) or "a")
COMMANDS = {"textbackslash", "textasciicircum", "textasciitilde", "textless", "textgreater", "textbar"}
COMMANDS |= {"textquotedbl", "textasciigrave"}


def report_of(text: str) -> Report:
    """A report whose every place holds the text."""
    table = Table(text, (text, "b"), ((Cell(text), Cell("0.50")),), text)
    return Report(text, (Section(text, (said(text),), (table,), kind=PartKind.SAMPLE),))


def content(text: str, kind: Format) -> bytes:
    return ReportFile(Path(f"r{kind.value}")).contents(report_of(text))[0][1]


def plain(text: str) -> str:
    return re.sub(r"\s+", "", text)


class Letters(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.told: list[str] = []
        self.tags: set[str] = set()

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.add(tag)

    def handle_data(self, data: str) -> None:
        self.told.append(data)


EMPTY = Letters()
EMPTY.feed(content("a", Format.HTML).decode("utf-8"))


@given(WORDS)
@settings(max_examples=60, deadline=None)
@example("<script>alert(1)</script>")
def test_html(text: str) -> None:
    reader = Letters()
    reader.feed(content(text, Format.HTML).decode("utf-8"))
    assert reader.tags <= EMPTY.tags | {"i", "em"}
    assert plain("".join(reader.told)).count(plain(text)) >= 5


@given(WORDS)
@settings(max_examples=150, deadline=None)
@example("1. a")
@example("- a")
@example("2) ")
@example("= a")
@example("www.a.b")
@example("a@b.c")
def test_markdown(text: str) -> None:
    tokens = MarkdownIt("commonmark", {"linkify": False}).enable("table").parse(content(text, Format.MARKDOWN).decode())
    flat = [inner for token in tokens for inner in (token, *(token.children or []))]
    kinds = {token.type for token in flat}
    assert kinds <= {
        *("heading_open", "heading_close", "paragraph_open", "paragraph_close", "inline", "text", "text_special"),
        *("strong_open", "strong_close", "em_open", "em_close", "table_open", "table_close"),
        *(f"{part}_{end}" for part in ("thead", "tbody", "tr", "th", "td") for end in ("open", "close")),
    }
    told = ["".join(c.content for c in token.children or []) for token in tokens if token.type == "inline"]
    assert sum(plain(text) in plain(one) for one in told) >= 5
    cells = [told for kind, told in pairwise(tokens) if kind.type == "td_open"]
    assert len(cells) == 2


@given(WORDS)
@settings(max_examples=150, deadline=None)
@example(r"\input{x}")
def test_latex(text: str) -> None:
    tex = content(text, Format.LATEX).decode("utf-8")
    usual = content("a", Format.LATEX).decode("utf-8")
    known = set(re.findall(r"\\([A-Za-z]+)", usual)) | COMMANDS | {"emph", "textit"}
    assert set(re.findall(r"\\([A-Za-z]+)", tex)) <= known
    bare = re.sub(r"\\[^A-Za-z]", "", tex[tex.index(r"\begin{document}") :])
    assert bare.count("{") == bare.count("}")
    assert not re.search(r"[#%~^$_]", bare)
    assert bare.count("&") == 2  # between the two columns of a head that is given twice at most, and of one row


@given(WORDS)
@settings(max_examples=15, deadline=None)
@example("=1+1")
def test_word(text: str) -> None:
    document = Document(io.BytesIO(content(text, Format.DOCX)))
    assert sum(plain(text) in plain(p.text) for p in document.paragraphs) >= 4
    assert plain(document.tables[0].rows[1].cells[0].text) == plain(text)


@given(WORDS)
@settings(max_examples=15, deadline=None)
def test_open_document(text: str) -> None:
    document = load(io.BytesIO(content(text, Format.ODT)))
    assert sum(plain(text) in plain(extractText(p)) for p in document.getElementsByType(P)) >= 5


@given(WORDS)
@settings(max_examples=15, deadline=None)
def test_pdf(text: str) -> None:
    reader = PdfReader(io.BytesIO(content(text, Format.PDF)))
    told = plain("".join(page.extract_text() for page in reader.pages))
    assert told.count(plain(text)) >= 4
    assert all("/Annots" not in page for page in reader.pages)


@given(WORDS)
@settings(max_examples=25, deadline=None)
@example("=1+1")
@example("@a")
@example("-a")
def test_tables_as_files(text: str) -> None:
    table = Table(text, (text, "b"), ((Cell(text), Cell("0.50")),), "")
    written = TableFile(Path("t.csv")).content(table)
    rows = list(csv.reader(io.StringIO(written.decode("utf-8-sig"))))
    held = [cell for row in rows for cell in row if plain(text) in plain(cell)]
    assert held
    assert not any(cell[:1] in "=+-@" for cell in held)
    book = load_workbook(io.BytesIO(TableFile(Path("t.xlsx")).content(table)))
    kinds = {cell.data_type for sheet in book for row in sheet.iter_rows() for cell in row}
    assert "f" not in kinds
