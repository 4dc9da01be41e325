"""The report as DOCX: real styles and tables, captions as fields, figures at their size with what they show."""

from __future__ import annotations

import io
from datetime import datetime
from typing import Any
from xml.sax.saxutils import escape

from docx import Document
from docx.oxml import OxmlElement, parse_xml
from docx.oxml.ns import nsdecls, qn
from docx.shared import Pt, RGBColor

from yellow_slope.core.told.cells import BLANK, Cell
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.spelling.rich import Rich, Run, with_symbols
from yellow_slope.report.blocks import Heading, Pictured, Said, Tabled, blocks_of, head_run, noted
from yellow_slope.report.document import Report
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.writers.columns import MARGIN, PAPER, WIDE, Part, parts_of, unbroken
from yellow_slope.report.writers.stillzip import still

DPI = 300
FONT = "Arial"
LONGEST_TITLE = 255
"""Letters of what a document says of itself; more are not held."""
MOST_TOGETHER = 15
"""Rows of a table that is not broken between pages."""


def docx_of(report: Report) -> bytes:
    """The document."""
    document = Document()
    _styles(document)
    document.add_heading(report.title, 0)
    for block in blocks_of(report):
        match block:
            case Heading(text):
                document.add_heading(text, 1)
            case Said(text):
                _fill(document.add_paragraph(), text)
            case Tabled(number, table):
                _caption(document, "Table", number, table.title)
                _table(document, table)
                if table.note:
                    _fill(_paragraph(document, "Note"), noted(table.note))
            case Pictured(number, picture):
                _caption(document, "Figure", number, picture.title)
                wide = min(picture.page.width, WIDE)
                content = io.BytesIO(page_bytes(picture.page, "png", DPI))
                drawn = document.add_picture(content, width=Pt(wide))
                said = picture.alternative or picture.caption
                drawn._inline.docPr.set("descr", said)
                drawn._inline.docPr.set("title", picture.title)
                _fill(_paragraph(document, "Note"), noted(picture.caption))
    properties = document.core_properties
    title = report.title if len(report.title) <= LONGEST_TITLE else f"{report.title[: LONGEST_TITLE - 1]}…"
    properties.title, properties.author, properties.comments = title, "", ""
    properties.last_modified_by, properties.revision = "", 1
    properties.created = properties.modified = datetime(2000, 1, 1)
    out = io.BytesIO()
    document.save(out)
    return still(out.getvalue())


def _styles(document: Any) -> None:
    """A page of A4, and plain black letters."""
    section = document.sections[0]
    section.page_width, section.page_height = (Pt(side) for side in PAPER)
    section.left_margin = section.right_margin = section.top_margin = section.bottom_margin = Pt(MARGIN)
    normal = document.styles["Normal"]
    normal.font.name, normal.font.size = FONT, Pt(10.5)
    note = document.styles.add_style("Note", 1)
    note.base_style, note.font.size = normal, Pt(9)
    for name, size in (("Title", 18), ("Heading 1", 13), ("Caption", 10.5)):
        style = document.styles[name]
        fonts = style.element.get_or_add_rPr().get_or_add_rFonts()
        for attribute in list(fonts.attrib):
            del fonts.attrib[attribute]
        style.font.name, style.font.size, style.font.bold = FONT, Pt(size), name != "Title"
        style.font.color.rgb = RGBColor(0, 0, 0)
        for rule in style.element.get_or_add_pPr().findall(qn("w:pBdr")):
            rule.getparent().remove(rule)
    above = document.styles["Caption"].paragraph_format
    above.space_before, above.space_after = Pt(8), Pt(0)


def _paragraph(document: Any, style: str) -> Any:
    """A paragraph of a style whose id is its name; looking for names takes the library longer than all else."""
    paragraph = document.add_paragraph()
    paragraph._p.style = style
    return paragraph


def _fill(paragraph: Any, text: Rich) -> None:
    for run in text.runs:
        made = paragraph.add_run(run.text)
        made.italic, made.bold = run.italic or None, run.bold or None


def _caption(document: Any, kind: str, number: int, title: str) -> None:
    """“Table 1” with a number that the word processor counts, and its title below."""
    paragraph = _paragraph(document, "Caption")
    paragraph.paragraph_format.keep_with_next = True
    paragraph.add_run(f"{kind} ")
    run = paragraph.add_run()
    for name, text in (("begin", ""), ("", f" SEQ {kind} \\* ARABIC "), ("separate", "")):
        if name:
            field = OxmlElement("w:fldChar")
            field.set(qn("w:fldCharType"), name)
        else:
            field = OxmlElement("w:instrText")
            field.set(qn("xml:space"), "preserve")
            field.text = text
        run._r.append(field)
    paragraph.add_run(str(number))
    end = OxmlElement("w:fldChar")
    end.set(qn("w:fldCharType"), "end")
    paragraph.add_run()._r.append(end)
    below = document.add_paragraph()
    below.paragraph_format.keep_with_next = True
    below.add_run(title).italic = True


def _table(document: Any, table: Table) -> None:
    """Real tables with heads that are repeated, of more columns than have room in parts below each other."""
    printed = table.aligned()
    for i, part in enumerate(parts_of(printed)):
        if i:
            _paragraph(document, "Note")
        document.element.body.insert(-1, parse_xml(_table_xml(printed, part)))  # before what the page is like


def _table_xml(table: Table, part: Part) -> str:
    """A table; its rows do not break, and a short one stays together."""
    together = len(table.rows) <= MOST_TOGETHER
    head = [(at, 1, Cell(table.head[j])) for at, j in enumerate(part.columns)]
    rows = [_row_xml(table, part, head, together, is_head=True)]
    for i, row in enumerate(table.rows, 1):
        is_last = i == len(table.rows)
        rows.append(_row_xml(table, part, part.pieces(row, len(table.head)), together and not is_last, is_last=is_last))
    grid = "".join(f'<w:gridCol w:w="{_twips(width)}"/>' for width in part.widths)
    whole = _twips(sum(part.widths))
    return (
        f'<w:tbl {nsdecls("w")}><w:tblPr><w:tblW w:w="{whole}" w:type="dxa"/><w:tblLayout w:type="fixed"/>'
        '<w:tblCellMar><w:left w:w="50" w:type="dxa"/><w:right w:w="50" w:type="dxa"/></w:tblCellMar></w:tblPr>'
        f"<w:tblGrid>{grid}</w:tblGrid>{''.join(rows)}</w:tbl>"
    )


def _row_xml(
    table: Table,
    part: Part,
    pieces: list[tuple[int, int, Cell]],
    with_next: bool,
    is_head: bool = False,
    is_last: bool = False,
) -> str:
    """A row; what no cell is said of is blank."""
    mark = f'<w:rPr><w:sz w:val="{round(2 * part.size)}"/></w:rPr>'  # of a blank cell there is nothing else
    begun = {at: (span, cell) for at, span, cell in pieces}
    cells, at = [], 0
    while at < len(part.columns):
        span, cell = begun.get(at, (1, BLANK))
        width = _twips(sum(part.widths[at : at + span]))
        across = f'<w:gridSpan w:val="{span}"/>' if span > 1 else ""
        rules = _rules(top="8", bottom="4") if is_head else _rules(bottom="8") if is_last else ""
        is_text = at < table.texts or span > 1
        words = cell.text if is_text else unbroken(cell.text)
        runs = (head_run(cell.text),) if is_head else with_symbols(cell.text).runs if span > 1 else (Run(words),)
        indent = f'<w:ind w:left="{_twips(part.size * cell.indent)}"/>' if cell.indent else ""
        cells.append(
            f'<w:tc><w:tcPr><w:tcW w:w="{width}" w:type="dxa"/>{across}{rules}</w:tcPr><w:p><w:pPr>'
            f"{'<w:keepNext/>' if with_next else ''}"
            f'<w:spacing w:before="10" w:after="20" w:line="240" w:lineRule="auto"/>{indent}'
            f'<w:jc w:val="{"left" if is_text else "right"}"/>{mark}</w:pPr>'
            f"{''.join(_run_xml(run, part.size, cell.strong) for run in runs)}</w:p></w:tc>"
        )
        at += span
    repeated = "<w:tblHeader/>" if is_head else ""
    return f"<w:tr><w:trPr><w:cantSplit/>{repeated}</w:trPr>{''.join(cells)}</w:tr>"


def _run_xml(run: Run, size: float, strong: bool) -> str:
    looks = ("<w:b/>" if run.bold or strong else "") + ("<w:i/>" if run.italic else "")
    return (
        f'<w:r><w:rPr>{looks}<w:sz w:val="{round(2 * size)}"/></w:rPr>'
        f'<w:t xml:space="preserve">{escape(run.text)}</w:t></w:r>'
    )


def _rules(**sides: str) -> str:
    """Rules of so many eighths of a point."""
    edges = "".join(
        f'<w:{side} w:val="single" w:sz="{wide}" w:space="0" w:color="000000"/>' for side, wide in sides.items()
    )
    return f"<w:tcBorders>{edges}</w:tcBorders>"


def _twips(points: float) -> int:
    return round(20 * points)
