"""Tables as values: number and title above, rows of cells, a note below; writers print the form of each cell, files for
spreadsheets hold its numbers."""

from __future__ import annotations

import csv
import io
import math

from yellow_slope.core.letters import letters_only, shown
from yellow_slope.core.told.cells import Cell, Role, Row
from yellow_slope.core.told.origins import Origin
from yellow_slope.core.words.spelling.numerals import aligned
from yellow_slope.values import dataclass, field, replace, settle

DANGEROUS = ("=", "+", "-", "@", "\t", "\r")
"""How a text begins that a spreadsheet would take for a formula."""
STAR_KEY = "* p < .05, ** p < .01, *** p < .001."


@dataclass(frozen=True, slots=True)
class PieceOf:
    """What a piece of a table is a piece of, for pages that take in a long one bit by bit."""

    table: Table
    begins: bool
    ends: bool
    widths: tuple[float, ...]
    """Percent of the page for each column, the same in every piece."""


@dataclass(frozen=True, slots=True)
class Table:
    """Number and title above, rules as in APA style, notes below. The first columns are text, the others figures."""

    title: str
    head: tuple[str, ...]
    rows: tuple[Row, ...]
    note: str = ""
    texts: int = 1
    """How many columns at the left hold text."""
    piece: PieceOf | None = field(default=None, compare=False)
    """Of what it is a piece; None of a whole table."""

    def __post_init__(self) -> None:
        letters_only(self, "title", "note")
        settle(self, "head", tuple(shown(text) for text in self.head))

    @property
    def begins(self) -> bool:
        """Whether its number and title stand above it."""
        return self.piece is None or self.piece.begins

    @property
    def ends(self) -> bool:
        """Whether its note stands below it."""
        return self.piece is None or self.piece.ends

    def pieces(self, most: int, widths: tuple[float, ...]) -> list[Table]:
        """The table in pieces of so many rows, its columns at their decimal points through all of them."""
        if len(self.rows) <= most:
            return [self]
        whole = self.aligned()
        starts = range(0, len(self.rows), most)
        return [
            replace(whole, rows=whole.rows[i : i + most], piece=PieceOf(self, i == 0, i == starts[-1], widths))
            for i in starts
        ]

    def aligned(self) -> Table:
        """The table with its figures padded, so that each column stands at its decimal points."""
        rows = [list(row) for row in self.rows]
        for j in range(self.texts, len(self.head)):
            here = [row for row in rows if len(row) == len(self.head)]
            for row, text in zip(here, aligned([row[j].text for row in here])):
                row[j] = replace(row[j], text=text)
        return replace(self, rows=tuple(tuple(row) for row in rows))

    def origin(self, row: int) -> Origin | None:
        """Where a row's numbers are made."""
        return next((cell.origin for cell in self.rows[row] if cell.origin is not None), None)

    @property
    def has_stars(self) -> bool:
        """Whether any estimate is marked."""
        return any(cell.role is Role.ESTIMATE and cell.text.endswith("*") for row in self.rows for cell in row)

    def with_key(self) -> Table:
        """With what the marks mean, where there are any."""
        return replace(self, note=f"{self.note} {STAR_KEY}".strip()) if self.has_stars else self

    # ---- as numbers

    def sheet(self) -> list[list[str | float | None]]:
        """Head and rows for a spreadsheet: numbers at full precision, intervals as two columns, None for nothing."""
        many = [self._many(j) for j in range(len(self.head))]
        further = list(dict.fromkeys(name for row in self.rows for cell in row for name, _ in cell.named))
        head: list[str | float | None] = [n for j in range(len(self.head)) for n in self._names(j, many[j])]
        made = [[*head, *(f"block or term: {name}" for name in further)]]
        for row in self.rows:
            line: list[str | float | None] = []
            at = 0
            for cell in row:
                line += _values(cell, many[at] if at < len(many) else 1, at < self.texts)
                for j in range(at + 1, min(at + cell.span, len(self.head))):
                    line += [None] * self._wide(j, many[j])
                at += cell.span
            told = {name: value for cell in row for name, value in cell.named}
            made.append([*line, *(told.get(name) for name in further)])
        return made

    def _many(self, column: int) -> int:
        """How many numbers the cells of a column hold."""
        return max((len(cell.numbers) for cell in self.column(column)), default=0)

    def column(self, column: int) -> list[Cell]:
        """The cells that stand in a column alone."""
        found = []
        for row in self.rows:
            at = 0
            for cell in row:
                if at == column and cell.span == 1:
                    found.append(cell)
                at += cell.span
        return found

    def _wide(self, column: int, many: int) -> int:
        return len(self._names(column, many))

    def _names(self, column: int, many: int) -> list[str]:
        name = self.head[column]
        if column < self.texts:
            return [name, *([f"{name}: from", f"{name}: to"] if many else [])]
        if many < 2:
            return [name]
        roles = {cell.role for cell in self.column(column) if len(cell.numbers) == many}
        if Role.BOUNDED in roles:  # a correlation with its p, or with its interval
            return [name, *(f"{name}: {what}" for what in (("p",) if many == 2 else ("from", "to")))]
        if Role.INTERVAL in roles:
            return [f"{name}: from", f"{name}: to"]
        return [f"{name}: {i + 1}" for i in range(many)]

    def csv(self) -> bytes:
        """The sheet as CSV in UTF-8; texts that a spreadsheet would take for a formula get an apostrophe."""
        out = io.StringIO()
        writer = csv.writer(out, lineterminator="\n")
        for line in self.sheet():
            writer.writerow([csv_cell(value) for value in line])
        return out.getvalue().encode("utf-8")


def csv_cell(value: str | float | None) -> str:
    """A cell of a CSV file."""
    if value is None:
        return ""
    if isinstance(value, str):
        return harmless(value)
    return (str(value) if isinstance(value, int) else repr(float(value))) if math.isfinite(value) else ""


def harmless(text: str) -> str:
    """A text that no spreadsheet takes for a formula."""
    text = shown(text)
    return f"'{text}" if text.startswith(DANGEROUS) else text


def _values(cell: Cell, many: int, is_text: bool) -> list[str | float | None]:
    """What a cell gives to as many columns as its place has."""
    numbers: list[str | float | None] = [n if math.isfinite(n) else None for n in cell.numbers]
    if is_text:
        return [cell.text, *(numbers or [None] * 2)] if many else [cell.text]
    wanted = max(1, many)
    if not numbers:
        return [cell.text or None, *[None] * (wanted - 1)]
    return [*numbers, *[None] * (wanted - len(numbers))]
