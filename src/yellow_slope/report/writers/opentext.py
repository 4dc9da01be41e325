"""The report as OpenDocument text: styles, tables with heads that repeat, figures with what they show."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator
from typing import Any

from lxml import etree
from odf.draw import Frame, Image
from odf.opendocument import OpenDocumentText
from odf.style import (
    MasterPage,
    PageLayout,
    PageLayoutProperties,
    ParagraphProperties,
    Style,
    TableCellProperties,
    TableColumnProperties,
    TableProperties,
    TextProperties,
)
from odf.svg import Desc, Title
from odf.table import CoveredTableCell, TableCell, TableColumn, TableHeaderRows, TableRow
from odf.table import Table as OpenTable
from odf.text import H, P, Span

from yellow_slope import looks
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.spelling.rich import Rich, Run, rich, with_symbols
from yellow_slope.report.blocks import Heading, Pictured, Said, Tabled, blocks_of, head_run, noted
from yellow_slope.report.document import Report
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.writers.columns import MARGIN, PAPER, WIDE, Part, parts_of, unbroken
from yellow_slope.report.writers.stillzip import still

DPI = 300
FONT = "Arial"


def odt_of(report: Report) -> bytes:
    """The document."""
    document = OpenDocumentText()
    styles = _styles(document)
    document.text.addElement(H(outlinelevel=1, stylename=styles["Heading 1"], text=report.title))
    for block in blocks_of(report):
        match block:
            case Heading(text):
                document.text.addElement(H(outlinelevel=2, stylename=styles["Heading 2"], text=text))
            case Said(text):
                document.text.addElement(_said(text, styles))
            case Tabled(number, table):
                document.text.addElement(_said(rich(Run(f"Table {number}", bold=True)), styles, "Number"))
                document.text.addElement(_said(rich(Run(table.title, italic=True)), styles, "Above"))
                for one in _tables(table, styles, number):
                    document.text.addElement(one)
                document.text.addElement(_note(table.note, styles))
            case Pictured(number, picture):
                document.text.addElement(_said(rich(Run(f"Figure {number}", bold=True)), styles, "Number"))
                document.text.addElement(_said(rich(Run(picture.title, italic=True)), styles, "Above"))
                share = min(1.0, WIDE / picture.page.width)
                width, height = picture.page.width * share, picture.page.height * share
                frame = Frame(width=f"{width:.2f}pt", height=f"{height:.2f}pt", anchortype="as-char")
                content = page_bytes(picture.page, "png", DPI)
                name = document.addPictureFromString(content, "image/png")
                frame.addElement(Image(href=name, type="simple", show="embed", actuate="onLoad"))
                frame.addElement(Title(text=picture.title))
                frame.addElement(Desc(text=picture.alternative or picture.caption))
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
    """Styles by their names; the document's own collection stands under an empty one."""
    styles: dict[str, Any] = {"": document.automaticstyles}
    sides = {f"margin{side}": f"{MARGIN:.1f}pt" for side in ("left", "right", "top", "bottom")}
    page = PageLayout(name="Paper")
    page.addElement(PageLayoutProperties(pagewidth=f"{PAPER[0]:.1f}pt", pageheight=f"{PAPER[1]:.1f}pt", **sides))
    document.automaticstyles.addElement(page)
    document.masterstyles.addElement(MasterPage(name="Standard", pagelayoutname=page))
    for name, size, bold in (("Standard", 10.5, False), ("Heading 1", 18, False), ("Heading 2", 13, True)):
        style = Style(name=name, family="paragraph")
        weight = {"fontweight": "bold"} if bold else {}
        if name != "Standard":
            style.addElement(ParagraphProperties(margintop="0.4cm", marginbottom="0.15cm", keepwithnext="always"))
        style.addElement(TextProperties(fontfamily=FONT, fontsize=f"{size:g}pt", **weight))
        document.styles.addElement(style)
        styles[name] = style
    _add(styles, "Slanted", "text", TextProperties(fontstyle="italic"))
    _add(styles, "Strong", "text", TextProperties(fontweight="bold"))
    _add(styles, "Said", "paragraph", ParagraphProperties(marginbottom="0.15cm"))
    _add(styles, "Above", "paragraph", ParagraphProperties(keepwithnext="always"))
    _add(styles, "Number", "paragraph", ParagraphProperties(keepwithnext="always", margintop="0.3cm"))
    _add(styles, "Note", "paragraph", ParagraphProperties(marginbottom="0.4cm"), TextProperties(fontsize="9pt"))
    thin, thick = (f"{width}pt solid {looks.LIGHT.ink}" for width in ("0.5", "1"))
    _add(
        styles,
        "Head",
        "table-cell",
        TableCellProperties(
            bordertop=thick, borderbottom=thin, paddingright="2.5pt", paddingtop="0.7pt", paddingbottom="0.7pt"
        ),
    )
    _add(
        styles,
        "Last",
        "table-cell",
        TableCellProperties(borderbottom=thick, paddingright="2.5pt", paddingtop="0.7pt", paddingbottom="0.7pt"),
    )
    _add(
        styles,
        "Cell",
        "table-cell",
        TableCellProperties(border="none", paddingright="2.5pt", paddingtop="0.7pt", paddingbottom="0.7pt"),
    )
    return styles


def _add(styles: dict[str, Any], name: str, family: str, *properties: Any) -> None:
    parent = {"parentstylename": "Standard"} if family == "paragraph" else {}
    style = Style(name=name, family=family, **parent)
    for one in properties:
        style.addElement(one)
    styles[""].addElement(style)
    styles[name] = style


def _said(text: Rich, styles: dict[str, Any], name: str = "Said") -> Any:
    paragraph = P(stylename=styles[name])
    for run in text.runs:
        if run.italic or run.bold:
            paragraph.addElement(Span(stylename=styles["Strong" if run.bold else "Slanted"], text=run.text))
        else:
            paragraph.addText(run.text)
    return paragraph


def _note(text: str, styles: dict[str, Any]) -> Any:
    return _said(noted(text) if text else rich(""), styles, "Note")


def _tables(table: Table, styles: dict[str, Any], number: int) -> Iterator[Any]:
    """The table, of more columns than have room in parts below each other."""
    printed = table.aligned()
    for i, part in enumerate(parts_of(printed)):
        if i:
            yield _said(rich(""), styles, "Note")
        yield _table(printed, part, styles, f"Table {number}" + (f" part {i + 1}" if i else ""))


def _table(table: Table, part: Part, styles: dict[str, Any], name: str) -> Any:
    made = OpenTable(name=name, stylename=_sized(styles, "table", sum(part.widths)))
    for width in part.widths:
        made.addElement(TableColumn(stylename=_sized(styles, "table-column", width)))
    heads = TableHeaderRows()
    row = TableRow()
    for at, j in enumerate(part.columns):
        cell = TableCell(stylename=styles["Head"], valuetype="string")
        cell.addElement(_cell(rich(head_run(table.head[j])), styles, part, at < table.texts))
        row.addElement(cell)
    heads.addElement(row)
    made.addElement(heads)
    for i, cells in enumerate(table.rows):
        row, end = TableRow(), 0
        look = styles["Last" if i == len(table.rows) - 1 else "Cell"]
        for at, span, one in part.pieces(cells, len(table.head)):
            across = {"numbercolumnsspanned": span} if span > 1 else {}
            cell = TableCell(stylename=look, valuetype="string", **across)
            words = one.text.strip() if at < table.texts else unbroken(one.text.strip())
            plain = Run("\u2003" * one.indent + words, bold=one.strong)
            text = with_symbols(one.text) if span > 1 and not one.strong else rich(plain)
            cell.addElement(_cell(text, styles, part, at < table.texts or span > 1))
            row.addElement(cell)
            for _ in range(span - 1):
                row.addElement(CoveredTableCell())
            end = at + span
        for _ in range(len(part.columns) - end):
            row.addElement(TableCell(stylename=look))
        made.addElement(row)
    return made


def _cell(text: Rich, styles: dict[str, Any], part: Part, is_left: bool) -> Any:
    """A paragraph in the letters of a part."""
    name = f"{'Left' if is_left else 'Right'} {part.size:g}".replace(".", "").replace(" ", "")
    if name not in styles:
        side = [] if is_left else [ParagraphProperties(textalign="end")]
        _add(styles, name, "paragraph", *side, TextProperties(fontsize=f"{part.size:g}pt"))
    return _said(text, styles, name)


def _sized(styles: dict[str, Any], family: str, width: float) -> Any:
    """The style of a table or a column of that width."""
    name = f"{'T' if family == 'table' else 'C'}{round(10 * width)}"
    if name not in styles:
        given = f"{width:.1f}pt"
        whole = TableProperties(width=given, align="left")
        sized = whole if family == "table" else TableColumnProperties(columnwidth=given)
        _add(styles, name, family, sized)
    return styles[name]
