"""The report in LaTeX: rules as booktabs draws them, figures as PDF files beside it, every name escaped."""

from __future__ import annotations

from yellow_slope.core.told.cells import Cell
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.spelling.rich import Rich, Run
from yellow_slope.report.blocks import Heading, Pictured, Said, Tabled, blocks_of, head_run, placed
from yellow_slope.report.document import Report
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.told import Told

HEAD = r"""\documentclass[11pt]{article}
\usepackage{iftex}
\ifPDFTeX\usepackage[utf8]{inputenc}\usepackage[T1]{fontenc}\usepackage{textcomp}\else\usepackage{fontspec}\fi
\usepackage[margin=2.5cm]{geometry}
\usepackage{booktabs,longtable,graphicx,array}
\setlength{\parindent}{0pt}\setlength{\parskip}{6pt}
"""
_LETTERS = {
    "\\": r"\textbackslash{}",
    "{": r"\{",
    "}": r"\}",
    "$": r"\$",
    "&": r"\&",
    "#": r"\#",
    "%": r"\%",
    "_": r"\_",
    "^": r"\textasciicircum{}",
    "~": r"\textasciitilde{}",
    "<": r"\textless{}",
    ">": r"\textgreater{}",
    "|": r"\textbar{}",
    '"': r"\textquotedbl{}",
    "`": r"\textasciigrave{}",
    "−": r"\ensuremath{-}",
    "×": r"\ensuremath{\times}",
    "²": r"\textsuperscript{2}",
    "³": r"\textsuperscript{3}",
    "Δ": r"\ensuremath{\Delta}",
    "χ": r"\ensuremath{\chi}",
    "α": r"\ensuremath{\alpha}",
    "β": r"\ensuremath{\beta}",
    "η": r"\ensuremath{\eta}",
    "√": r"\ensuremath{\surd}",
    "·": r"\textperiodcentered{}",
    "…": r"\ldots{}",
    "“": "``",
    "”": "''",
    "–": "--",
    "—": "---",
    "≥": r"\ensuremath{\ge}",
    "≤": r"\ensuremath{\le}",
    "[": "{[}",
    "]": "{]}",
    "\u2007": r"\phantom{0}",
    "\u2008": r"\phantom{.}",
}


def latex_of(report: Report, stem: str) -> list[tuple[str, bytes]]:
    """Names with contents, the text first; stem: what the files beside it begin with."""
    lines = [HEAD, rf"\title{{{escaped(report.title)}}}\date{{}}\author{{}}", r"\begin{document}", r"\maketitle"]
    beside: list[tuple[str, bytes]] = []
    for block in blocks_of(report):
        match block:
            case Heading(text):
                lines.append(rf"\section*{{{escaped(text)}}}")
            case Said(text):
                lines += [_said(text), ""]
            case Tabled(number, table):
                lines += _table(number, table)
            case Pictured(number, picture):
                name = f"{stem}-figure-{number}.pdf"
                told = Told(picture.title, picture.alternative or picture.caption)
                beside.append((name, page_bytes(picture.page, "pdf", told=told)))
                lines += [
                    rf"\textbf{{Figure {number}}}\\\textit{{{escaped(picture.title)}}}",
                    "",
                    rf"\includegraphics[width=\linewidth,height=0.8\textheight,keepaspectratio]{{{name}}}",
                    "",
                    rf"{{\small \textit{{Note.}} {escaped(picture.caption)}}}",
                    "",
                ]
    lines.append(r"\end{document}")
    return [("", "\n".join(lines).encode("utf-8")), *beside]


def _table(number: int, table: Table) -> list[str]:
    first = table.texts
    wide = 0.42 if first == 1 else 0.3
    columns = "".join([rf">{{\raggedright\arraybackslash}}p{{{wide}\linewidth}}"] * first) + "r" * (
        len(table.head) - first
    )
    head = " & ".join(_run(head_run(cell)) for cell in table.head)
    rows = [_row(row, len(table.head)) + r" \\" for row in table.aligned().rows]
    size = r"\scriptsize" if len(table.head) > 8 else r"\small"
    return [
        rf"\textbf{{Table {number}}}\\\textit{{{escaped(table.title)}}}",
        "",
        rf"{{{size}\setlength{{\tabcolsep}}{{3pt}}",
        rf"\begin{{longtable}}{{@{{}}{columns}@{{}}}}",
        r"\toprule",
        head + r" \\ \midrule \endhead",
        *rows,
        r"\bottomrule",
        r"\end{longtable}}",
        *([rf"{{\small \textit{{Note.}} {escaped(table.note)}}}", ""] if table.note else []),
    ]


def _row(row: tuple[Cell, ...], width: int) -> str:
    """A row; what spans several columns in a cell of so many."""
    cells, end = [], 0
    for at, span, cell in placed(row, width):
        text = escaped(cell.text)
        text = r"\quad " * cell.indent + (rf"\textbf{{{text}}}" if cell.strong and text else text)
        cells.append(rf"\multicolumn{{{span}}}{{l}}{{{text}}}" if span > 1 else text)
        end = at + span
    return " & ".join([*cells, *[""] * (width - end)])


def escaped(text: str) -> str:
    """The text with nothing in it that LaTeX would read as a command."""
    return "".join(_LETTERS.get(letter, letter) for letter in text)


def _run(run: Run) -> str:
    inner = escaped(run.text)
    return rf"\textbf{{{inner}}}" if run.bold else rf"\textit{{{inner}}}" if run.italic else inner


def _said(text: Rich) -> str:
    return "".join(_run(run) for run in text.runs)
