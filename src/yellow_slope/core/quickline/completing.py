"""What would finish the word under the cursor: names, and what can be said after a name."""

from __future__ import annotations

import re
from itertools import islice

from yellow_slope.core.data.scanner import typed_name
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.quickline.phrases import EACH, MEANS, coding_text
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.study import Study

MOST_OFFERED = 40
OF_NUMBERS = (
    "centered",
    "standardized",
    "centered at the median",
    "in SDs",
    "after log",
    "squared",
    "as groups",
    "as it is",
)


def complete(study: Study, line: str, cursor: int) -> tuple[int, list[str]]:
    """Where the word under the cursor begins, and the texts that would finish it."""
    start = max((line.rfind(mark, 0, cursor) for mark in ",;=×(:"), default=-1) + 1
    typed = line[start:cursor]
    spaced = re.split(r"\sx\s|\s×\s", typed)
    if len(spaced) > 1:
        start = cursor - len(spaced[-1])
        typed = spaced[-1]
    start += len(typed) - len(typed.lstrip())
    typed = typed.lstrip()
    if not typed.strip():
        return start, []
    wanted = typed.strip().casefold()
    fits = (v for v in study.variables if v.kind.enters and v.label.casefold().startswith(wanted))
    begun = list(islice((v for v in fits if v.label.casefold() != wanted), MOST_OFFERED))
    if begun:
        return start, [typed_name(v, study.variables) for v in begun]
    named = _named(study, typed)
    if named is None:
        return start, []
    variable, said = named
    begin = start + len(typed) - len(said)
    return begin, [text for text in _after(variable) if text.casefold().startswith(said.casefold()) and text != said]


def _named(study: Study, typed: str) -> tuple[Variable, str] | None:
    """A name that stands whole before what is typed, and the rest."""
    here = typed.casefold()
    whole = [v for v in study.variables if here.startswith(v.label.casefold() + " ")]
    if not whole:
        return None
    variable = max(whole, key=lambda v: len(v.label))
    return variable, typed[len(variable.label) :].lstrip()


def _after(variable: Variable) -> list[str]:
    """What can be said after the name."""
    if variable.kind is Kind.NUMBER:
        return list(OF_NUMBERS)
    levels = [coding_text(variable, Dummy(level.code)) for level in variable.levels]
    return [*levels, *(f"{EACH[0]} {words}" for words in MEANS), "as trends", "as level means"]
