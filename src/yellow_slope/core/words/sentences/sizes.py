"""In words: where an effect matters, is too small to matter, or leaves it open; where several comparisons pass."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.probe.mattering import Mattering, Size
from yellow_slope.core.probe.together import Together, TogetherRegions
from yellow_slope.core.study.probe import Compared, RegionRule
from yellow_slope.core.words.spelling.numerals import level_text


def size_name(size: Size) -> str:
    """What a stretch says, in a few words."""
    match size:
        case Size.ABOVE:
            return "matters, above 0"
        case Size.BELOW:
            return "matters, below 0"
        case Size.SMALL:
            return "too small to matter"
        case Size.OPEN:
            return "open"
        case _:
            assert_never(size)


def size_sign(size: Size) -> str:
    """The mark of a stretch in a strip."""
    match size:
        case Size.ABOVE:
            return "+"
        case Size.BELOW:
            return "−"
        case Size.SMALL:
            return "small"
        case Size.OPEN:
            return ""
        case _:
            assert_never(size)


def compared_name(compared: Compared) -> str:
    """Which differences are given, as it stands in a menu."""
    match compared:
        case Compared.PAIRS:
            return "every two, Holm"
        case Compared.REFERENCE:
            return "with the reference"
        case Compared.MEAN:
            return "with the mean of the others"
        case _:
            assert_never(compared)


def together_name(of: Together, focal: str) -> str:
    """“all groups of coaching together”, “any comparison”, “every comparison”."""
    match of:
        case Together.JOINT:
            return f"{focal}, joint F"
        case Together.ANY:
            return "any one"
        case Together.EVERY:
            return "every one"
        case _:
            assert_never(of)


def together_help(found: TogetherRegions) -> str:
    """What a region of several comparisons means."""
    match found.of:
        case Together.JOINT:
            return f"The joint F test of all {found.df1} comparisons is significant there."
        case Together.ANY:
            return "At least one of the comparisons is significant there, each tested by itself."
        case Together.EVERY:
            return "All of the comparisons are significant there, each tested by itself."
        case _:
            assert_never(found.of)


def mattering_note(found: Mattering, level: float, rule: RegionRule, smallest: str) -> str:
    """By which tests an effect matters or is too small: for the card, the caption and the report."""
    loose = level_text(2 * level - 1)
    at = " at all points at once" if rule.of_sizes.is_at_once else " at each point"
    return (
        f"Against a smallest effect of {smallest}: it matters where the {level_text(level)} interval lies beyond it, "
        f"and is too small where the {loose} interval lies within, by two one-sided tests{at} (Schuirmann, 1987)."
    )
