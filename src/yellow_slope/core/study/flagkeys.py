"""What a flag is known by, and flags that were put aside."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class FlagKind(StrEnum):
    """What a flag is about."""

    PARTS = "parts of"
    LEFT_OUT = "left out of"
    CODE = "code"
    ZERO = "zero of"
    REFERENCE = "reference of"
    ABSENT = "absent reference of"
    LOST = "lost cases"
    TWO_VALUES = "two values of"
    MISSING_CODE = "code for missing"
    STRAY = "stray cells of"
    INDICATORS = "indicators"
    BY_HAND = "made by hand"
    ROUNDED_MEAN = "rounded mean of"
    ONE_SLOPE = "one slope of"
    QUESTION = "questions about"
    COLLINEAR = "shared variance of"
    FEW = "few cases"
    SMALL = "few cases in"
    CONSTANT = "one group of"
    MANY = "many tests"
    IDENTIFIER = "identifier"
    SET = "no block for"


@dataclass(frozen=True, slots=True)
class FlagKey:
    """Which flag: its kind, and what it is about: variables (of a product all factors, sorted), before them a code."""

    kind: FlagKind
    about: tuple[str, ...] = ()

    @property
    def text(self) -> str:
        """The key in one line, for results and tests."""
        return " ".join([str(self.kind), " x ".join(self.about)]).strip()


@dataclass(frozen=True, slots=True)
class Dismissal:
    """A flag that was put aside, and why."""

    flag: FlagKey
    reason: str
