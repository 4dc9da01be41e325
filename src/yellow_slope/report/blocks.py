"""The report as a row of blocks: what every writer goes over, with tables and figures numbered once."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_slope.core.told.cells import Cell
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.spelling.rich import Rich, Run, rich, sym, with_symbols
from yellow_slope.report.document import Picture, Report
from yellow_slope.values import dataclass

SYMBOLS = frozenset({"b", "p", "M", "SD", "SE", "t", "F", "n", "r", "d"})
"""Heads of columns that are statistical symbols: slanted in APA style."""


@dataclass(frozen=True, slots=True)
class Heading:
    """The heading of a section."""

    text: str


@dataclass(frozen=True, slots=True)
class Said:
    """A paragraph."""

    text: Rich


@dataclass(frozen=True, slots=True)
class Tabled:
    """A table with its number."""

    number: int
    table: Table


@dataclass(frozen=True, slots=True)
class Pictured:
    """A figure with its number."""

    number: int
    picture: Picture


Block = Heading | Said | Tabled | Pictured


def blocks_of(report: Report) -> Iterator[Block]:
    """Everything in the order in which it is printed."""
    tables = figures = 0
    for section in report.sections:
        if section.title:
            yield Heading(section.title)
        for text in section.paragraphs:
            yield Said(text.text)
        for table in section.tables:
            tables += 1
            yield Tabled(tables, table)
        for picture in section.pictures:
            figures += 1
            yield Pictured(figures, picture)
        for text in section.after:
            yield Said(text.text)


def noted(text: str) -> Rich:
    """A note as it stands below a table or a figure."""
    return rich(sym("Note."), " ", with_symbols(text))


def head_run(text: str) -> Run:
    """The head of a column: a symbol is slanted."""
    return sym(text) if text in SYMBOLS else Run(text)


def placed(row: tuple[Cell, ...], width: int) -> list[tuple[int, int, Cell]]:
    """Each cell of a row with the column where it begins and how many it spans, within so many columns."""
    found, at = [], 0
    for cell in row:
        if at >= width:
            break
        span = max(1, min(cell.span, width - at))
        found.append((at, span, cell))
        at += span
    return found


def rows_of(table: Table) -> list[list[str]]:
    """The table's texts, every row as long as its head; what spans several columns stands in the first of them."""
    width = len(table.head)
    rows = []
    for row in table.rows:
        texts = [""] * width
        for at, _, cell in placed(row, width):
            texts[at] = cell.text
        rows.append(texts)
    return rows
