"""Cells: numbers at full precision, what they are, and the form in which they are printed, made once for all who show
them."""

from __future__ import annotations

import math
from enum import Enum, auto

from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.letters import letters_only
from yellow_slope.core.study.report import ReportChoice
from yellow_slope.core.told.origins import Origin
from yellow_slope.core.words.spelling.numerals import bounded, fixed, interval, p_value, percent
from yellow_slope.core.words.spelling.reasons import DASH
from yellow_slope.core.words.spelling.testtexts import written_cells
from yellow_slope.values import dataclass, field, replace

STARRED = ((0.001, "***"), (0.01, "**"), (0.05, "*"))


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
    origin: Origin | None = field(default=None, compare=False)
    """Where it is made, and what a click on it leads to."""

    def __post_init__(self) -> None:
        letters_only(self, "text")


BLANK = Cell("")
NOTHING = Cell(DASH)
"""Where a number does not exist."""
PLAIN = ReportChoice()
"""Two decimals at the least and no marks, as on the screen."""


def mark_of(p: float, choice: ReportChoice) -> str:
    """What marks a number by its p, where that was chosen."""
    return next((mark for below, mark in STARRED if p < below), "") if choice.stars else ""


def estimate(value: float, decimals: int, p: float = math.nan, choice: ReportChoice = PLAIN) -> Cell:
    """An estimate, marked by its p where that was chosen."""
    return Cell(f"{fixed(value, decimals)}{mark_of(p, choice)}", numbers=(value,), role=Role.ESTIMATE)


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


def f_cells(test: FTest) -> tuple[Cell, Cell]:
    """F and its degrees of freedom, each in a column of its own; dashes where there is no F."""
    f, df = written_cells(test)
    if not test.has_f:
        return Cell(f, role=Role.STATISTIC), Cell(df)
    return Cell(f, numbers=(test.f,), role=Role.STATISTIC), Cell(df, numbers=(test.df1, test.df2), role=Role.COUNT)


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


Row = tuple[Cell, ...]


def row_at(origin: Origin | None, *cells: Cell) -> Row:
    """A row all of which is made at one place."""
    return tuple(replace(cell, origin=origin) for cell in cells)
