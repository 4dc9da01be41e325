"""Tables as values: every cell has its numbers, its role and its print form; writers print the form, files for
spreadsheets hold the numbers at full precision."""

from __future__ import annotations

import csv
import io
import math
from enum import Enum, auto

from yellow_slope.core.letters import letters_only, shown
from yellow_slope.core.study.report import ReportChoice
from yellow_slope.core.words.spelling.numerals import aligned, bounded, fixed, interval, p_value, percent
from yellow_slope.core.words.spelling.reasons import DASH
from yellow_slope.report.origins import Origin
from yellow_slope.values import dataclass, field, replace, settle

DANGEROUS = ("=", "+", "-", "@", "\t", "\r")
"""How a text begins that a spreadsheet would take for a formula."""
STARRED = ((0.001, "***"), (0.01, "**"), (0.05, "*"))
STAR_KEY = "* p < .05, ** p < .01, *** p < .001."


class Role(Enum):
    """What a cell holds, and so how its numbers are written."""

    TEXT = auto()
    ESTIMATE = auto()
    """In units of its own: decimals by choice."""
    INTERVAL = auto()
    """From one number to another."""
    STATISTIC = auto()
    """t, F, variance inflation: two decimals."""
    P = auto()
    BOUNDED = auto()
    """Cannot exceed 1 in size: no leading zero."""
    COUNT = auto()
    SHARE = auto()


@dataclass(frozen=True, slots=True)
class Cell:
    """One cell; `strong` for what a block adds, `span` for a text over several columns."""

    text: str
    indent: int = 0
    strong: bool = False
    span: int = 1
    numbers: tuple[float, ...] = ()
    """At full precision; of an interval its ends, of a count one for each side that is compared."""
    role: Role = Role.TEXT
    named: tuple[tuple[str, float], ...] = ()
    """The numbers in a text over several columns, each with its name: columns of their own in a sheet."""

    def __post_init__(self) -> None:
        letters_only(self, "text")


BLANK = Cell("")


def estimate(value: float, decimals: int, p: float = math.nan, choice: ReportChoice | None = None) -> Cell:
    """An estimate, marked by its p where that was chosen."""
    mark = next((mark for below, mark in STARRED if p < below), "") if choice is not None and choice.stars else ""
    return Cell(f"{fixed(value, decimals)}{mark}", numbers=(value,), role=Role.ESTIMATE)


def between(low: float, high: float, decimals: int) -> Cell:
    """An interval in the units of an estimate."""
    if math.isnan(low) and math.isnan(high):
        return Cell(DASH, role=Role.INTERVAL)
    return Cell(interval(low, high, decimals), numbers=(low, high), role=Role.INTERVAL)


def bounds(low: float, high: float, decimals: int = 3) -> Cell:
    """An interval of what cannot exceed 1."""
    if math.isnan(low):
        return Cell(DASH, role=Role.INTERVAL)
    return Cell(f"{bounded(low, decimals)} to {bounded(high, decimals)}", numbers=(low, high), role=Role.INTERVAL)


def statistic(value: float, decimals: int = 2) -> Cell:
    """A test statistic."""
    return Cell(fixed(value, decimals), numbers=(value,), role=Role.STATISTIC)


def p_cell(p: float) -> Cell:
    """A p value."""
    return Cell(p_value(p), numbers=(p,), role=Role.P)


def bounded_cell(value: float, decimals: int = 3) -> Cell:
    """What cannot exceed 1 in size."""
    return Cell(bounded(value, decimals), numbers=(value,), role=Role.BOUNDED)


def count(*of: int) -> Cell:
    """Cases, of each side that is compared."""
    return Cell(" + ".join(f"{n:,}" for n in of), numbers=of, role=Role.COUNT)


def share_cell(share: float) -> Cell:
    """A share in whole percent."""
    return Cell(percent(share), numbers=(share,), role=Role.SHARE)


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
    rows: tuple[tuple[Cell, ...], ...]
    note: str = ""
    texts: int = 1
    """How many columns at the left hold text."""
    origins: tuple[Origin | None, ...] = field(default=(), compare=False)
    """Where each row's figures are made; empty where nothing leads there."""
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
            replace(
                whole,
                rows=whole.rows[i : i + most],
                origins=whole.origins[i : i + most],
                piece=PieceOf(self, i == 0, i == starts[-1], widths),
            )
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
        """Where a row's figures are made."""
        return self.origins[row] if row < len(self.origins) else None

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
