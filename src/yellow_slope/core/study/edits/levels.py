"""Edits of levels: their names, their order, levels made one and taken apart."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum, auto

import numpy as np

from yellow_slope.core.data.guessing import ordered_levels
from yellow_slope.core.data.variable import Kind, Level, Variable, found_levels
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


@edit
def name_level(study: Study, name: str, code: str, label: str) -> Study:
    """Give a level a label. The label of another level makes one level of both."""
    variable = study.variable(name)
    level = variable.level(code)
    label = label.strip() or level.code
    return _relabeled(study, variable, tuple((x, label if x == level else x.label) for x in variable.levels))


@edit
def name_levels(study: Study, name: str, labels: Sequence[str]) -> Study:
    """Give all levels their labels in one entry, in the order of the levels; levels of one label are one level."""
    variable = study.variable(name)
    given = [label.strip() for label in labels if label.strip()]
    if len(given) != len(variable.levels):
        codes = ", ".join(level.code for level in variable.levels)
        raise StudyError(
            f"{variable.label} has {len(variable.levels)} levels ({codes}); {len(given) or 'no'} "
            f"{'name was' if len(given) < 2 else 'names were'} given. "
            "Type one name for each, with commas between them."
        )
    return _relabeled(study, variable, tuple(zip(variable.levels, given)))


def _relabeled(study: Study, variable: Variable, labels: tuple[tuple[Level, str], ...]) -> Study:
    """Levels with labels; those of one label, whatever its case, become one. Two or more must be left."""
    merged: dict[str, Level] = {}
    for level, label in labels:
        before = merged.get(label.casefold())
        merged[label.casefold()] = (
            Level(before.codes + level.codes, before.label) if before else Level(level.codes, label)
        )
    if len(merged) < 2 <= len(variable.levels):
        raise StudyError(f"{variable.label} would have a single level left: nothing could be compared.")
    return _with_levels(study, variable, tuple(merged.values()))


def _with_levels(study: Study, variable: Variable, levels: tuple[Level, ...], ordered: bool | None = None) -> Study:
    """The variable with other levels; what names a level that was merged follows it."""
    new = replace(variable, levels=levels, ordered=variable.ordered if ordered is None else ordered)
    return change_variable(study, new)


@edit
def take_apart(study: Study, name: str) -> Study:
    """Every code a level of its own again; the first of a merged level keeps its label."""
    variable = study.variable(name)
    levels: list[Level] = []
    for level in variable.levels:
        levels += [Level((code,), level.label if i == 0 else code) for i, code in enumerate(level.codes)]
    return _with_levels(study, variable, tuple(levels))


@edit
def move_level(study: Study, name: str, code: str, by: int) -> Study:
    """Move a level before (-1) or after (+1) its neighbour. The levels then have an order that means something."""
    variable = study.variable(name)
    at = variable.levels.index(variable.level(code))
    to = at + by
    if not 0 <= to < len(variable.levels):
        return study
    levels = list(variable.levels)
    levels[at], levels[to] = levels[to], levels[at]
    return _with_levels(study, variable, tuple(levels), ordered=True)


@edit
def order_levels(study: Study, name: str, wanted: Sequence[str]) -> Study:
    """Put levels, by label or code, into that order; those that are not named follow as they stood."""
    variable = study.variable(name)
    first: list[Level] = []
    for text in wanted:
        if text.strip():
            level = variable.named_level(text)
            if level not in first:
                first.append(level)
    rest = [level for level in variable.levels if level not in first]
    return _with_levels(study, variable, (*first, *rest), ordered=True)


class Order(Enum):
    """An order of levels that can be had by one key."""

    WORDS = auto()
    """Of the words themselves: low, middle, high."""
    CODES = auto()
    NAMES = auto()
    FILE = auto()
    TURNED = auto()


def orders(study: Study, name: str) -> list[tuple[Order, tuple[Level, ...]]]:
    """The orders that differ, each once."""
    variable = study.variable(name)
    column = study.columns.column(name)
    by_code = {level.code: i for i, level in enumerate(found_levels(column, variable.missing))}
    places = study.columns.levels(name)
    known, first = np.unique(places[places >= 0], return_index=True)
    stood = dict(zip(known.tolist(), first.tolist()))
    own = ordered_levels(variable.levels)
    found = [
        *([(Order.WORDS, own)] if own is not None else []),
        (Order.CODES, tuple(sorted(variable.levels, key=lambda x: by_code.get(x.code, len(by_code))))),
        (Order.NAMES, tuple(sorted(variable.levels, key=lambda x: x.label.casefold()))),
        (
            Order.FILE,
            tuple(x for _, x in sorted(enumerate(variable.levels), key=lambda p: stood.get(p[0], len(places)))),
        ),
        (Order.TURNED, tuple(reversed(variable.levels))),
    ]
    distinct: dict[tuple[Level, ...], Order] = {}
    for said, levels in found:
        distinct.setdefault(levels, said)
    return [(said, levels) for levels, said in distinct.items()]


def next_order(study: Study, name: str) -> tuple[Study, Order]:
    """The levels in the next of the orders that can be had by one key, and which it is."""
    variable = study.variable(name)
    if variable.kind is not Kind.GROUP:
        raise StudyError(f"{variable.label} is not a group; it has no levels to order.")
    every: list[tuple[Order, tuple[Level, ...]]] = [
        (said, levels) for said, levels in orders(study, name) if said is not Order.TURNED
    ]
    every.append((Order.TURNED, tuple(reversed(every[0][1]))))
    now = next((i for i, (_, levels) in enumerate(every) if levels == variable.levels), -1)
    said, levels = every[(now + 1) % len(every)]
    return _with_levels(study, variable, levels, ordered=True), said
