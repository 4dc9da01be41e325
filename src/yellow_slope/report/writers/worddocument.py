"""The report as DOCX: real styles and tables, captions as fields, figures at their size with what they show."""

from __future__ import annotations

import io
from datetime import datetime
from typing import Any

from docx import Document
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.oxml import OxmlElement
from docx.oxml.ns import qn
from docx.shared import Pt

from yellow_slope.core.words.spelling.letters import shown
from yellow_slope.core.words.spelling.rich import Rich, rich
from yellow_slope.report.blocks import Heading, Pictured, Said, Tabled, blocks_of, head_run, noted, placed
from yellow_slope.report.cells import Table
from yellow_slope.report.document import Report
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.writers.stillzip import still

WIDEST = 6.2 * 72
"""Points that a figure may take on the page."""
DPI = 300


def docx_of(report: Report) -> bytes:
    """The document."""
    document = Document()
    _styles(document)
    document.add_heading(shown(report.title), 0)
    for block in blocks_of(report):
        match block:
            case Heading(text):
                document.add_heading(shown(text), 1)
            case Said(text):
                _fill(document.add_paragraph(), text)
            case Tabled(number, table):
                _caption(document, "Table", number, table.title)
                _table(document, table)
                if table.note:
                    _fill(document.add_paragraph(style="Note"), noted(table.note))
            case Pictured(number, picture):
                _caption(document, "Figure", number, picture.title)
                wide = min(picture.page.width, WIDEST)
                content = io.BytesIO(page_bytes(picture.page, "png", DPI))
                drawn = document.add_picture(content, width=Pt(wide))
                said = shown(picture.alternative or picture.caption)
                drawn._inline.docPr.set("descr", said)
                drawn._inline.docPr.set("title", shown(picture.title))
                _fill(document.add_paragraph(style="Note"), noted(picture.caption))
    properties = document.core_properties
    properties.title, properties.author, properties.comments = shown(report.title), "", ""
    properties.last_modified_by, properties.revision = "", 1
    properties.created = properties.modified = datetime(2000, 1, 1)
    out = io.BytesIO()
    document.save(out)
    return still(out.getvalue())


def _styles(document: Any) -> None:
    normal = document.styles["Normal"]
    normal.font.name, normal.font.size = "Calibri", Pt(11)
    note = document.styles.add_style("Note", 1)
    note.base_style, note.font.size = normal, Pt(9)
    caption = document.styles["Caption"]
    caption.font.size, caption.font.bold, caption.font.color.rgb = Pt(11), True, None


def _fill(paragraph: Any, text: Rich) -> None:
    for run in text.runs:
        made = paragraph.add_run(shown(run.text))
        made.italic, made.bold = run.italic or None, run.bold or None


def _caption(document: Any, kind: str, number: int, title: str) -> None:
    """“Table 1” with a number that the word processor counts, and its title below."""
    paragraph = document.add_paragraph(style="Caption")
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
    below.add_run(shown(title)).italic = True


def _table(document: Any, table: Table) -> None:
    printed = table.aligned()
    made = document.add_table(rows=1 + len(printed.rows), cols=len(table.head))
    made.autofit = True
    for j, text in enumerate(table.head):
        cell = made.rows[0].cells[j]
        _fill(cell.paragraphs[0], rich(head_run(text)))
        _borders(cell, top="8", bottom="4")
        _aligned(cell, j < table.texts)
    marked = made.rows[0]._tr.get_or_add_trPr()
    head = OxmlElement("w:tblHeader")
    head.set(qn("w:val"), "true")
    marked.append(head)
    cells, width = made._cells, len(table.head)
    for i, row in enumerate(printed.rows, 1):
        for at, span, one in placed(row, width):
            cell = cells[i * width + at]
            run = cell.paragraphs[0].add_run("\u2003" * one.indent + shown(one.text).strip())
            run.bold = one.strong or None
            if span > 1:
                cell = cell.merge(cells[i * width + at + span - 1])
            _aligned(cell, at < table.texts or span > 1)
        if i == len(printed.rows):
            for j in range(width):
                _borders(cells[i * width + j], bottom="8")


def _aligned(cell: Any, is_text: bool) -> None:
    paragraph = cell.paragraphs[0]
    paragraph.alignment = WD_ALIGN_PARAGRAPH.LEFT if is_text else WD_ALIGN_PARAGRAPH.RIGHT
    paragraph.paragraph_format.space_after = Pt(1)
    for run in paragraph.runs:
        run.font.size = Pt(9)


def _borders(cell: Any, **sides: str) -> None:
    """Rules of so many eighths of a point."""
    marked = cell._tc.get_or_add_tcPr()
    borders = OxmlElement("w:tcBorders")
    for side, size in sides.items():
        edge = OxmlElement(f"w:{side}")
        for name, value in (("val", "single"), ("sz", size), ("space", "0"), ("color", "000000")):
            edge.set(qn(f"w:{name}"), value)
        borders.append(edge)
    marked.append(borders)
