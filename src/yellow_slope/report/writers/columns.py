"""How a table stands on a page of paper: how large its letters are, how wide its columns, and which of them stand
below each other where they have no room beside each other."""

from __future__ import annotations

from yellow_slope.core.told.cells import Cell
from yellow_slope.core.told.tables import Table
from yellow_slope.plots.measuring import text_width
from yellow_slope.report.blocks import placed
from yellow_slope.values import dataclass

CM = 72 / 2.54
PAPER = 21.0 * CM, 29.7 * CM
"""Points: A4."""
MARGIN = 2.0 * CM
WIDE = PAPER[0] - 2 * MARGIN
USUAL, LEAST = 8.0, 6.0
"""Points of letters; below the least a table is not made narrower, its columns are then printed in parts."""
NAMED, LONGEST_NAMED = 95.0, 170.0
"""Points that names have at least, and that each of several columns of texts has at most."""
PAD = 7.0


@dataclass(frozen=True, slots=True)
class Part:
    """Columns that stand beside each other, the texts in each part again."""

    size: float
    columns: tuple[int, ...]
    widths: tuple[float, ...]

    def pieces(self, row: tuple[Cell, ...], width: int) -> list[tuple[int, int, Cell]]:
        """Each cell of a row with the column of this part where it begins and how many of them it spans; width: columns
        of the whole table."""
        found = []
        for at, span, cell in placed(row, width):
            here = [k for k, j in enumerate(self.columns) if at <= j < at + span]
            if here:
                found.append((here[0], len(here), cell))
        return found


def parts_of(table: Table) -> list[Part]:
    """The parts of a table, each as wide as it needs and no wider than the page."""
    size, parts = USUAL, [list(range(table.texts, len(table.head)))]
    while not all(_fits(table, part, size) for part in parts):
        if size > LEAST:
            size -= 0.5
            continue
        if max(len(part) for part in parts) < 2:
            break
        parts = [
            half for part in parts for half in (part[: (len(part) + 1) // 2], part[(len(part) + 1) // 2 :]) if half
        ]
        size = USUAL
    return [_part(table, part, size) for part in parts]


def percentages(table: Table) -> tuple[float, ...]:
    """Percent of the page that each column takes, where all stand beside each other."""
    part = _part(table, list(range(table.texts, len(table.head))), USUAL)
    return tuple(100 * width / sum(part.widths) for width in part.widths)


def _part(table: Table, figures: list[int], size: float) -> Part:
    wide = [_wide(table, j, size) for j in figures]
    room = max(NAMED, (WIDE - sum(wide)) / table.texts)
    if table.texts == 1:
        named = (text_width(row[0].text, size, True) + size * row[0].indent for row in table.rows if row[0].span == 1)
        texts = [min(room, max(NAMED, max(named, default=0.0) + PAD + 3.0))]
    else:
        texts = [min(room, LONGEST_NAMED)] * table.texts
    return Part(size, (*range(table.texts), *figures), (*texts, *wide))


def _wide(table: Table, column: int, size: float) -> float:
    """The width of a column of figures."""
    rows = (placed(row, len(table.head)) for row in table.rows)
    cells = [cell.text for row in rows for at, span, cell in row if at == column and span == 1]
    return max(text_width(text, size, True) for text in [table.head[column], *cells]) + PAD


def _fits(table: Table, part: list[int], size: float) -> bool:
    return sum(_wide(table, j, size) for j in part) <= WIDE - NAMED * table.texts


def unbroken(text: str) -> str:
    """A figure whose blanks end no line, where letters are wider than those that were measured."""
    return text.replace(" ", "\u00a0")
