"""The report as PDF on A4, with the bundled font within."""

from __future__ import annotations

import io
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.enums import TA_LEFT, TA_RIGHT
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import KeepTogether, LongTable, Paragraph, SimpleDocTemplate, Spacer, TableStyle

from yellow_slope import looks
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.spelling.rich import Run, with_symbols
from yellow_slope.report.blocks import Heading, Pictured, Said, Tabled, blocks_of, head_run, noted
from yellow_slope.report.document import Report
from yellow_slope.report.writers.columns import CM, MARGIN, PAPER, WIDE, Part, parts_of
from yellow_slope.report.writers.printedfigure import DrawnPage, in_fonts


def pdf_of(report: Report) -> bytes:
    """The document."""
    _fonts()
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=PAPER,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=MARGIN,
        bottomMargin=MARGIN,
        title=report.title,
        author="",
        invariant=1,
    )
    story: list[Any] = [Paragraph(_marked((Run(report.title),)), _style("title", 18, 24))]
    for block in blocks_of(report):
        match block:
            case Heading(text):
                story.append(
                    Paragraph(_marked((Run(text),)), _style("heading", 13, 17, before=12, bold=True, with_next=True))
                )
            case Said(text):
                story.append(Paragraph(_marked(text.runs), _style("said", 10, 14, after=5)))
            case Tabled(number, table):
                story += _captioned("Table", number, table.title)
                story += _tables(table)
                story.append(_note(table.note) if table.note else Spacer(1, 6))
            case Pictured(number, picture):
                share = min(1.0, WIDE / picture.page.width, (PAPER[1] - 2 * MARGIN - 120) / picture.page.height)
                drawn = DrawnPage(picture.page, share)
                title = _captioned("Figure", number, picture.title)
                story.append(KeepTogether([*title, drawn, _note(picture.caption)]))
    document.build(story, onFirstPage=_numbered, onLaterPages=_numbered)
    return out.getvalue()


def _numbered(canvas: Any, document: Any) -> None:
    canvas.setFont("SlopeSans", 8)
    canvas.drawRightString(PAPER[0] - MARGIN, 1.1 * CM, str(document.page))


def _fonts() -> None:
    if "SlopeSans" in pdfmetrics.getRegisteredFontNames():
        return
    for name, style in (("SlopeSans", "Regular"), ("SlopeSans-Bold", "SemiBold"), ("SlopeSans-Italic", "Italic")):
        pdfmetrics.registerFont(TTFont(name, str(looks.FONT_FOLDER / f"SlopeSans-{style}.ttf")))
    pdfmetrics.registerFontFamily(
        "SlopeSans", normal="SlopeSans", bold="SlopeSans-Bold", italic="SlopeSans-Italic", boldItalic="SlopeSans-Bold"
    )
    import matplotlib

    second = f"{matplotlib.get_data_path()}/fonts/ttf/DejaVuSans.ttf"
    pdfmetrics.registerFont(TTFont("Second", second))


def _style(
    name: str,
    size: float,
    leading: float,
    before: float = 0.0,
    after: float = 3.0,
    bold: bool = False,
    right: bool = False,
    indent: float = 0.0,
    with_next: bool = False,
) -> ParagraphStyle:
    font = "SlopeSans-Bold" if bold else "SlopeSans"
    return ParagraphStyle(
        name,
        fontName=font,
        fontSize=size,
        leading=leading,
        spaceBefore=before,
        spaceAfter=after,
        alignment=TA_RIGHT if right else TA_LEFT,
        leftIndent=indent,
        keepWithNext=with_next,
        splitLongWords=1,
    )


def _marked(runs: tuple[Run, ...]) -> str:
    """Runs as the library's own markup, every letter of a name escaped; letters that the font lacks by another."""
    said = []
    for run in runs:
        text = _with_second(run.text)
        said.append(f"<b>{text}</b>" if run.bold else f"<i>{text}</i>" if run.italic else text)
    return "".join(said)


def _with_second(text: str) -> str:
    return "".join(
        f'<font name="Second">{escape(part)}</font>' if lacks else escape(part) for part, lacks in in_fonts(text)
    )


def _captioned(kind: str, number: int, title: str) -> list[Any]:
    above = _style("number", 10, 13, before=8, after=0, bold=True, with_next=True)
    return [
        Paragraph(f"{kind} {number}", above),
        Paragraph(_marked((Run(title, italic=True),)), _style("caption", 10, 13, after=4, with_next=True)),
    ]


def _note(text: str) -> Any:
    return Paragraph(_marked(noted(text).runs), _style("note", 8, 10.5, after=10))


def _tables(table: Table) -> list[Any]:
    """The table as wide as the page; of more columns than have room in parts below each other."""
    printed = table.aligned()
    return [piece for part in parts_of(printed) for piece in (_one(printed, part), Spacer(1, 4))]


def _one(table: Table, part: Part) -> Any:
    columns, size = part.columns, part.size
    words, bold = _style("cell", size, size * 1.25, after=0), _style("strong", size, size * 1.25, after=0, bold=True)
    heads = [words if j < table.texts else _style("head", size, size * 1.25, after=0, right=True) for j in columns]
    data: list[list[Any]] = [[Paragraph(_marked((head_run(table.head[j]),)), look) for j, look in zip(columns, heads)]]
    marks: list[Any] = [
        ("FONT", (0, 0), (-1, -1), "SlopeSans", size),
        ("ALIGN", (table.texts, 0), (-1, -1), "RIGHT"),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEABOVE", (0, 0), (-1, 0), 0.9, "black"),
        ("LINEBELOW", (0, 0), (-1, 0), 0.45, "black"),
        ("LINEBELOW", (0, -1), (-1, -1), 0.9, "black"),
        ("TOPPADDING", (0, 0), (-1, -1), 1.2),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 1.6),
        ("LEFTPADDING", (0, 0), (-1, -1), 2.5),
        ("RIGHTPADDING", (0, 0), (-1, -1), 2.5),
    ]
    for i, row in enumerate(table.rows, 1):
        cells: list[Any] = [""] * len(columns)
        for at, span, cell in part.pieces(row, len(table.head)):
            if at < table.texts or span > 1:
                runs = with_symbols(cell.text).runs if span > 1 else (Run(cell.text),)
                look = bold if cell.strong else words
                if cell.indent:
                    look = _style(f"cell {cell.indent}", size, size * 1.25, after=0, indent=size * cell.indent)
                cells[at] = Paragraph(_marked(runs), look)
            else:
                cells[at] = cell.text
            if span > 1:
                marks.append(("SPAN", (at, i), (at + span - 1, i)))
        data.append(cells)
    # A row that no page has room for, of a rule of thousands of levels for instance, goes on on the next.
    made = LongTable(data, colWidths=list(part.widths), repeatRows=1, hAlign="LEFT", splitInRow=1)
    made.setStyle(TableStyle(marks))
    return made
