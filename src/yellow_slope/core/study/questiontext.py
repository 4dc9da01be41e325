"""Planned questions as a typed line: “any coaching: group lesson, video feedback against none; video feedback against
the rest”.

The side before “against” counts plus, the one after it minus. A name may stand before a colon.
"""

from __future__ import annotations

import re

from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.study.coding import Question

AGAINST = "against"
REST = ("the rest", "the others", "all others")
_BETWEEN = re.compile(r"\s+against(?:\s+|$)", re.I)
_APART = re.compile(r"\s*,\s*|\s+and\s+")


def read_questions(variable: Variable, line: str) -> tuple[Question, ...] | Mistake:
    """The questions of a typed line, separated by semicolons; or what is wrong, at which character."""
    found: list[Question] = []
    at = 0
    for part in line.split(";"):
        if part.strip():
            read = _question(variable, part, at)
            if isinstance(read, Mistake):
                return read
            found.append(read)
        at += len(part) + 1
    return tuple(found) or Mistake(0, 1, f"two sides with “{AGAINST}” between them are expected")


def _question(variable: Variable, text: str, at: int) -> Question | Mistake:
    start = at + len(text) - len(text.lstrip())
    name, colon, rest = text.partition(":")
    if not colon or _BETWEEN.search(name):
        name, rest, offset = "", text, at
    else:
        offset = at + len(name) + 1
    sides = _BETWEEN.split(rest)
    if len(sides) != 2:
        said = "a second “against”" if len(sides) > 2 else f"“{AGAINST}” is expected between the two sides"
        return Mistake(start, max(1, len(text.strip())), said)
    match = _BETWEEN.search(rest)
    assert match is not None
    places = (offset, offset + match.end())
    codes: list[tuple[str, ...] | None] = []
    for side, place in zip(sides, places):
        if side.strip().casefold() in REST:
            codes.append(None)
            continue
        read = _side(variable, side, place)
        if read is None or isinstance(read, Mistake):
            return read or Mistake(place, max(1, len(side)), "a level is expected here")
        codes.append(read)
    one, other = codes
    everything = [level.code for level in variable.levels]
    if one is None and other is None:
        return Mistake(places[0], len(sides[0]), "only one side can be the rest")
    if one is None:
        one = tuple(code for code in everything if code not in (other or ()))
    if other is None:
        other = tuple(code for code in everything if code not in one)
    twice = [code for code in one if code in other]
    if twice:
        return Mistake(places[1], max(1, len(sides[1])), f"“{variable.level(twice[0]).label}” is on both sides")
    if not one or not other:
        return Mistake(places[0], max(1, len(rest)), "no level is left for the other side")
    return Question(name.strip(), one, other)


def _side(variable: Variable, text: str, at: int) -> tuple[str, ...] | Mistake | None:
    """The levels of one side by label, code, or a beginning that fits one only. None where nothing stands there."""
    if not text.strip():
        return None
    whole = variable.find_level(text)
    if whole is not None:
        return (whole.code,)
    found: list[str] = []
    place = at
    for part in re.split(r"(\s*,\s*|\s+and\s+)", text):
        if part.strip() and not _APART.fullmatch(part):
            level = variable.find_level(part)
            if level is None:
                fits = [x for x in variable.levels if x.label.casefold().startswith(part.strip().casefold())]
                if len(fits) != 1:
                    said = "fits several levels" if fits else "is not a level"
                    known = ", ".join(f"“{x.label}”" for x in (fits or variable.levels)[:6])
                    begin = place + len(part) - len(part.lstrip())
                    return Mistake(begin, len(part.strip()), f"“{part.strip()}” {said}: {known}")
                level = fits[0]
            if level.code not in found:
                found.append(level.code)
        place += len(part)
    return tuple(found) or None


def question_text(variable: Variable, question: Question) -> str:
    """The question as it would be typed; one with own weights has no such line."""
    sides = [", ".join(variable.level(code).label for code in side) for side in (question.one, question.other)]
    name = f"{question.name}: " if question.name else ""
    return f"{name}{sides[0]} {AGAINST} {sides[1]}"
