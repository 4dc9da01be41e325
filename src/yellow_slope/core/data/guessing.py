"""What a column seems to be, and why: the description of one about which nothing has been said."""

from __future__ import annotations

import re

import numpy as np

from yellow_slope.core.data.facts import asked_once
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn, TextColumn, number_text
from yellow_slope.core.data.variable import MOST_LETTERS, Kind, Level, Variable, found_levels, two_whole_values
from yellow_slope.values import dataclass, replace

MANY_LEVELS = 30
ALL_DIFFERENT = 10
"""From so many rows on, values that are all different tell cases apart."""
LONG_COUNT = 50
"""From so many rows on, a column that counts them needs no name that says so."""
FIRST_YEAR, LAST_YEAR = 1800, 2100
"""Whole numbers between them may be years, whatever their column is called."""
DAYS = np.array([0, 31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
_ID = re.compile(
    r"(^|[_\W])(id|ids|nr|no|number|code|case|row|index|key|column|subject|participant|respondent|person)($|[_\W\d])",
    re.I,
)
_TIME = re.compile(r"(year|month|week|day|hour|minute|time|wave|trial|age|occasion|session|order|rank)", re.I)
LADDERS = (
    ("none", "low", "middle", "high"),
    ("very low", "low", "medium", "high", "very high"),
    ("low", "moderate", "high"),
    ("small", "middle", "medium", "large"),
    ("never", "rarely", "seldom", "sometimes", "often", "usually", "always"),
    ("never", "occasionally", "frequently", "always"),
    ("not at all", "a little", "somewhat", "moderately", "quite", "very", "extremely"),
    (
        "strongly disagree",
        "disagree",
        "somewhat disagree",
        "neither",
        "neutral",
        "undecided",
        "somewhat agree",
        "agree",
        "strongly agree",
    ),
    ("very poor", "poor", "bad", "fair", "good", "very good", "excellent"),
    ("first", "second", "third", "fourth", "fifth", "sixth"),
    ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"),
    (
        "january",
        "february",
        "march",
        "april",
        "may",
        "june",
        "july",
        "august",
        "september",
        "october",
        "november",
        "december",
    ),
    ("spring", "summer", "autumn", "winter"),
    ("beginner", "intermediate", "advanced", "expert"),
    ("mild", "moderate", "severe"),
    ("before", "during", "after"),
    ("pre", "post", "follow-up"),
)
"""Words that have an order of their own."""


@dataclass(frozen=True, slots=True)
class Guess:
    """A description and the reason for its kind, a phrase that follows on the kind's name."""

    variable: Variable
    reason: str


def guessed_variable(column: Column) -> Variable:
    """The description of a column about which nothing has been said."""
    return guess(column).variable


def guess(column: Column) -> Guess:
    """What a column seems to be, and why.

    Numbers are taken for numbers, also whole ones: a flag asks where they look like codes. A column of two whole
    values is a group of two levels. Texts are groups unless there are too many of them. What is different in every
    row tells cases apart.
    """
    label = column.name.replace("_", " ").strip() or column.name
    n = int(np.count_nonzero(column.present))
    if not n:
        return Guess(Variable(column.name, Kind.TEXT, label), "no cell contains a value")
    if isinstance(column, DateColumn):
        return Guess(Variable(column.name, Kind.DATE, label), f"every value is one: {column.form}")
    if isinstance(column, NumberColumn):
        return _of_numbers(column, label, n)
    return _of_texts(column, label, n)


def _of_numbers(column: NumberColumn, label: str, n: int) -> Guess:
    strays = len(column.stray)
    if two_whole_values(column):
        levels = found_levels(column)
        values = " and ".join(level.code for level in levels)
        besides = f", besides {strays} that are not numbers" if strays else ""
        return Guess(Variable(column.name, Kind.GROUP, label, levels=levels), f"exactly two values, {values}{besides}")
    if are_written_dates(column):
        written = number_text(float(column.numbers[~np.isnan(column.numbers)][0]))
        return Guess(Variable(column.name, Kind.IDENTIFIER, label), f"its numbers are dates, as {written}")
    why = why_identifier(column)
    if why:
        return Guess(Variable(column.name, Kind.IDENTIFIER, label), why)
    unit = "percent" if column.sign == "%" else column.sign
    reason = "all filled cells are numbers" if not strays else f"all filled cells but {strays} are numbers"
    return Guess(Variable(column.name, Kind.NUMBER, label, unit=unit, units=unit), reason)


@asked_once
def why_identifier(column: NumberColumn) -> str:
    """Why numbers tell cases apart rather than measure anything; empty if they do not."""
    n = len(column)
    if n < ALL_DIFFERENT or not _all_whole(column):
        return ""
    named = _ID.search(column.name) is not None
    low, high = float(column.numbers.min()), float(column.numbers.max())
    times = _TIME.search(column.name) is not None or (low >= FIRST_YEAR and high <= LAST_YEAR)
    if (named or n >= LONG_COUNT) and not times:
        steps = np.unique(np.diff(column.numbers))
        if steps.size == 1 and steps[0] != 0:
            first, last = (number_text(float(column.numbers[i])) for i in (0, -1))
            by = "" if abs(steps[0]) == 1 else f" in steps of {number_text(abs(float(steps[0])))}"
            return f"it counts the rows from {first} to {last}{by}"
        gaps = np.unique(np.diff(np.sort(column.numbers)))
        if gaps.size == 1 and gaps[0] != 0:
            return f"each of {number_text(low)} to {number_text(high)} occurs once"
    if named and len(np.unique(column.numbers)) == n:
        return f"{n} different values in {n} rows"
    return ""


LOOKED_AT = 1000
"""So many rows are looked at before all are."""
FIRST_DATE, LAST_DATE = 18000101, 22001231


@asked_once
def are_written_dates(column: NumberColumn) -> bool:
    """Whether every number is a date written without marks, as in 20260401."""
    head = column.numbers[:LOOKED_AT]
    if np.any(head < FIRST_DATE) or np.any(head > LAST_DATE):
        return False  # as nearly all numbers show at once
    values = column.numbers[~np.isnan(column.numbers)]
    if values.size < 3 or values.min() < FIRST_DATE or values.max() > LAST_DATE or np.any(values != np.round(values)):
        return False
    whole = values.astype(np.int64)
    months, days = whole // 100 % 100, whole % 100
    fits = (months >= 1) & (months <= 12) & (days >= 1) & (days <= DAYS[np.clip(months, 1, 12)])
    return bool(fits.all()) and np.unique(whole).size > 1


def _of_texts(column: TextColumn, label: str, n: int) -> Guess:
    k = len(column.texts)
    if n >= ALL_DIFFERENT and k == n:
        return Guess(Variable(column.name, Kind.IDENTIFIER, label), f"{k} different values in {n} rows")
    if k > MANY_LEVELS or (n > 10 and k > n / 2):
        return Guess(Variable(column.name, Kind.TEXT, label), f"{k} different texts in {n} rows")
    if any(len(text) > MOST_LETTERS for text in column.texts):
        return Guess(
            Variable(column.name, Kind.TEXT, label), f"one of its texts has more than {MOST_LETTERS:,} letters"
        )
    levels = found_levels(column)
    variable = Variable(column.name, Kind.GROUP, label, levels=levels)
    in_order = ordered_levels(levels)
    if in_order is not None:
        return Guess(replace(variable, levels=in_order, ordered=True), f"{k} different texts, which have an order")
    return Guess(variable, f"{k} different texts in {n} rows")


def ordered_levels(levels: tuple[Level, ...]) -> tuple[Level, ...] | None:
    """The levels in the order that their words have by themselves; None where they have none."""
    if len(levels) < 3:
        return None
    for ladder in LADDERS:
        places = {word: i for i, word in enumerate(ladder)}
        if all(level.label.casefold() in places for level in levels):
            return tuple(sorted(levels, key=lambda level: places[level.label.casefold()]))
    return None


def _all_whole(column: NumberColumn) -> bool:
    head, values = column.numbers[:LOOKED_AT], column.numbers
    return bool(np.all(head == np.round(head))) and bool(np.all(values == np.round(values)))
