"""No sentence of a report is longer than can be read in one go, whatever the model: a name counts as one word, what
stands in parentheses is not counted, and a clause behind a colon is a sentence of its own."""

from __future__ import annotations

import re

import pytest

from tests.support.described import drawn
from tests.support.seeds import few
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.report import choose_set
from yellow_slope.core.study.report import PartKind, ReadySet
from yellow_slope.core.study.study import Study
from yellow_slope.report.parts import sections_of

LONGEST = 25
SEEDS = range(few(10, 300))
ENDS = re.compile(r"(?<=[\w)\]”²³¹])[.?!:;] |: ")
NAMES = re.compile(
    r"\b(?:log|rank|square root|reciprocal) of |\breversed |(?:above |below )?the average (?:\w+ )?of one's own group"
)


def words_of(sentence: str, labels: set[str]) -> list[str]:
    """Its words; labels, what is done to them and figures count as none, what is quoted as none either."""
    bare = sentence
    while (inner := re.sub(r"\([^()]*\)|\[[^\[\]]*\]|“[^”]*”", "", bare)) != bare:
        bare = inner
    while (inner := NAMES.sub("", bare)) != bare:
        bare = inner
    return [word for word in re.findall(r"[^\W\d_][\w'’-]*", bare) if word not in labels]


def longest(study: Study) -> list[str]:
    """The sentences of a report that are too long."""
    labels = {v.label for v in study.variables} | {x.label for v in study.variables for x in v.levels}
    found = []
    for section in sections_of(evaluate(choose_set(study, ReadySet.EVERYTHING))):
        texts = [str(p) for p in section.paragraphs] + [picture.caption for picture in section.pictures]
        for text in texts if section.kind not in (PartKind.REPEAT, PartKind.EQUATION) else ():
            found += [part for part in ENDS.split(text) if len(words_of(part, labels)) > LONGEST]
    return found


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", SEEDS)
def test_no_sentence_is_longer_than_can_be_read_in_one_go(seed: int) -> None:
    assert longest(drawn(seed).study) == []


def test_a_long_sentence_is_found() -> None:
    assert len(words_of("The slope of x (in hours) is 3 in “a or b”, at log of w 2.", {"x", "w"})) == 6


def test_the_demo_has_none_either(demo: Study) -> None:
    assert longest(demo) == []


AWKWARD = {
    "x": "q23r at the start of term",
    "w": "xmood on the day (1 to 7)",
    "z": "jdistance by car",
    "s": "vmean of tests",
    "g": "kkind of lesson, as booked",
    "h": "zznight shift x",
    "y": "wslips, misses and falls",
}
"""Labels that begin as no word of the language does, so that every place where one begins is found."""


def renamed(study: Study) -> Study:
    for name, label in AWKWARD.items():
        if name in {v.name for v in study.variables}:
            study = describe(study, name, label=label)
    return study


def wounds(text: str, label: str) -> list[str]:
    """Where a label begins in a text and does not stand there as it is typed, whole or up to one of its words; at the
    beginning of a sentence its first letter may be a capital."""
    words, found = re.findall(r"\S+", label), []
    for place in re.finditer(rf"\b{re.escape(words[0][:2])}", text, re.I):
        rest = text[place.start() :]
        typed = label[0] + rest[1:] if rest[:1].lower() == label[0] else rest
        if not re.match(rf"{re.escape(words[0].rstrip(','))}(?=\W|$)", typed):
            found.append(rest[:60])
    return [*found, *([text] if "…" in text else [])]


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", SEEDS)
def test_no_label_is_altered_or_cut_in_a_sentence(seed: int) -> None:
    study = renamed(drawn(seed).study)
    used = [v.label for v in study.variables if v.name in AWKWARD]
    for section in sections_of(evaluate(choose_set(study, ReadySet.EVERYTHING))):
        for text in map(str, section.paragraphs) if section.kind is not PartKind.REPEAT else ():
            assert [wound for label in used for wound in wounds(text, label)] == []


def test_a_wound_is_found() -> None:
    assert wounds("The slope of Q23r at the start", "q23r at the start") == []
    for wounded in ("q23*r at the start", "q23R at the start", "q23 × r", "q23rs"):
        assert wounds(f"The slope of {wounded}", "q23r at the start") == [wounded]
    assert wounds("xmood on the …", "xmood on the day") == ["xmood on the …"]
