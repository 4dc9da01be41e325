"""The report as OpenDocument text: styles, tables with heads that repeat, figures with what they show."""

from __future__ import annotations

import io
import re
import zipfile
from typing import Any

from lxml import etree
from odf.draw import Frame, Image
from odf.opendocument import OpenDocumentText
from odf.style import ParagraphProperties, Style, TableCellProperties, TextProperties
from odf.svg import Desc, Title
from odf.table import CoveredTableCell, TableCell, TableColumn, TableHeaderRows, TableRow
from odf.table import Table as OpenTable
from odf.text import H, P, Span

from yellow_slope import looks
from yellow_slope.core.words.spelling.letters import shown
from yellow_slope.core.words.spelling.rich import Rich, Run, rich
from yellow_slope.report.blocks import Heading, Pictured, Said, Tabled, blocks_of, head_run, noted, placed
from yellow_slope.report.cells import Table
from yellow_slope.report.document import Report
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.writers.stillzip import still

WIDEST = 6.6 * 72
DPI = 300


def odt_of(report: Report) -> bytes:
    """The document."""
    document = OpenDocumentText()
    styles = _styles(document)
    document.text.addElement(H(outlinelevel=1, text=shown(report.title)))
    for block in blocks_of(report):
        match block:
            case Heading(text):
                document.text.addElement(H(outlinelevel=2, text=shown(text)))
            case Said(text):
                document.text.addElement(_said(text, styles))
            case Tabled(number, table):
                document.text.addElement(_said(rich(Run(f"Table {number}", bold=True)), styles))
                document.text.addElement(_said(rich(Run(table.title, italic=True)), styles))
                document.text.addElement(_table(table, styles, number))
                document.text.addElement(_note(table.note, styles))
            case Pictured(number, picture):
                document.text.addElement(_said(rich(Run(f"Figure {number}", bold=True)), styles))
                document.text.addElement(_said(rich(Run(picture.title, italic=True)), styles))
                share = min(1.0, WIDEST / picture.page.width)
                width, height = picture.page.width * share, picture.page.height * share
                frame = Frame(width=f"{width:.2f}pt", height=f"{height:.2f}pt", anchortype="as-char")
                content = page_bytes(picture.page, "png", DPI)
                name = document.addPictureFromString(content, "image/png")
                frame.addElement(Image(href=name, type="simple", show="embed", actuate="onLoad"))
                frame.addElement(Title(text=shown(picture.title)))
                frame.addElement(Desc(text=shown(picture.alternative or picture.caption)))
                paragraph = P()
                paragraph.addElement(frame)
                document.text.addElement(paragraph)
                document.text.addElement(_note(picture.caption, styles))
    out = io.BytesIO()
    document.write(out)
    return still(_named_in_order(out.getvalue()))


def _named_in_order(content: bytes) -> bytes:
    """The package with its pictures named by their order: the library names them by chance."""
    names: dict[str, str] = {}
    with zipfile.ZipFile(io.BytesIO(content)) as old:
        text = old.read("content.xml").decode("utf-8")
        for i, name in enumerate(dict.fromkeys(re.findall(r'href="(Pictures/[^"]+)"', text)), 1):
            names[name] = f"Pictures/figure-{i}.png"
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as new:
            for member in old.infolist():
                inner = old.read(member)
                if member.filename.endswith(".xml"):
                    for before, after in names.items():
                        inner = inner.replace(before.encode(), after.encode())
                if member.filename == "meta.xml":
                    inner = re.sub(
                        rb"<meta:(creation-date|generator)>[^<]*</meta:\1>|<dc:date>[^<]*</dc:date>", b"", inner
                    )
                if member.filename.endswith(".xml"):
                    inner = _without_idle_names(inner)
                new.writestr(zipfile.ZipInfo(names.get(member.filename, member.filename)), inner, member.compress_type)
    return out.getvalue()


def _without_idle_names(content: bytes) -> bytes:
    """Without declarations of name spaces that nothing is of: the library remembers those of earlier documents."""
    root = etree.fromstring(content)
    etree.cleanup_namespaces(root)
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8"))


def _styles(document: Any) -> dict[str, Any]:
    made: dict[str, Any] = {}

    def add(name: str, family: str, *properties: Any) -> None:
        style = Style(name=name, family=family)
        for one in properties:
            style.addElement(one)
        document.automaticstyles.addElement(style)
        made[name] = style

    add("Slanted", "text", TextProperties(fontstyle="italic"))
    add("Strong", "text", TextProperties(fontweight="bold"))
    add("Said", "paragraph", ParagraphProperties(marginbottom="0.15cm"))
    add("Note", "paragraph", ParagraphProperties(marginbottom="0.4cm"), TextProperties(fontsize="9pt"))
    add("Left", "paragraph", TextProperties(fontsize="9pt"))
    add("Right", "paragraph", ParagraphProperties(textalign="end"), TextProperties(fontsize="9pt"))
    thin, thick = (f"{width}pt solid {looks.LIGHT.ink}" for width in ("0.5", "1"))
    add("Head", "table-cell", TableCellProperties(bordertop=thick, borderbottom=thin))
    add("Last", "table-cell", TableCellProperties(borderbottom=thick))
    add("Cell", "table-cell", TableCellProperties(border="none"))
    return made


def _said(text: Rich, styles: dict[str, Any], name: str = "Said") -> Any:
    paragraph = P(stylename=styles[name])
    for run in text.runs:
        if run.italic or run.bold:
            paragraph.addElement(Span(stylename=styles["Strong" if run.bold else "Slanted"], text=shown(run.text)))
        else:
            paragraph.addText(shown(run.text))
    return paragraph


def _note(text: str, styles: dict[str, Any]) -> Any:
    return _said(noted(text) if text else rich(""), styles, "Note")


def _table(table: Table, styles: dict[str, Any], number: int) -> Any:
    made = OpenTable(name=f"Table {number}")
    for _ in table.head:
        made.addElement(TableColumn())
    heads = TableHeaderRows()
    row = TableRow()
    for j, text in enumerate(table.head):
        cell = TableCell(stylename=styles["Head"], valuetype="string")
        cell.addElement(_said(rich(head_run(text)), styles, "Left" if j < table.texts else "Right"))
        row.addElement(cell)
    heads.addElement(row)
    made.addElement(heads)
    printed, width = table.aligned(), len(table.head)
    for i, cells in enumerate(printed.rows):
        row, end = TableRow(), 0
        look = styles["Last" if i == len(printed.rows) - 1 else "Cell"]
        for at, span, one in placed(cells, width):
            across = {"numbercolumnsspanned": span} if span > 1 else {}
            cell = TableCell(stylename=look, valuetype="string", **across)
            words = "\u2003" * one.indent + one.text.strip()
            side = "Left" if at < table.texts or span > 1 else "Right"
            cell.addElement(_said(rich(Run(words, bold=one.strong)), styles, side))
            row.addElement(cell)
            for _ in range(span - 1):
                row.addElement(CoveredTableCell())
            end = at + span
        for _ in range(width - end):
            row.addElement(TableCell(stylename=look))
        made.addElement(row)
    return made
