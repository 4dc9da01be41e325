"""What a flag is known by, what putting it aside rests on, and flags that were put aside."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum, StrEnum, auto
from typing import Self

from yellow_slope.core.letters import letters_only
from yellow_slope.values import dataclass


class RestsOn(Enum):
    """What must be there for a flag to be raised at all; without it, that it was put aside means nothing any longer."""

    STUDY = auto()
    """Nothing in particular."""
    A_COLUMN = auto()
    """One of the columns it is about."""
    COLUMNS = auto()
    """All columns it is about."""
    A_VARIABLE = auto()
    """One of its variables, in a model."""
    VARIABLES = auto()
    """All its variables, in a model."""
    OUTCOME = auto()
    """Its variable, as the outcome of a model."""
    TERM = auto()
    """The term of its variables, in a model."""


class FlagKind(StrEnum):
    """What a flag is about, and what it rests on."""

    rests_on: RestsOn

    def __new__(cls, text: str, rests_on: RestsOn) -> Self:
        member = str.__new__(cls, text)
        member._value_ = text
        member.rests_on = rests_on
        return member

    @classmethod
    def named(cls, text: str) -> FlagKind | None:
        """The kind of that name; None for one that there is no longer."""
        return next((kind for kind in cls if kind == text), None)

    PARTS = "parts of", RestsOn.TERM
    LEFT_OUT = "left out of", RestsOn.TERM
    CODE = "code", RestsOn.A_VARIABLE
    ZERO = "zero of", RestsOn.VARIABLES
    REFERENCE = "reference of", RestsOn.VARIABLES
    ABSENT = "absent reference of", RestsOn.VARIABLES
    LOST = "lost cases", RestsOn.STUDY
    TWO_VALUES = "two values of", RestsOn.OUTCOME
    MISSING_CODE = "code for missing", RestsOn.COLUMNS
    STRAY = "stray cells of", RestsOn.A_COLUMN
    INDICATORS = "indicators", RestsOn.COLUMNS
    BY_HAND = "made by hand", RestsOn.VARIABLES
    ROUNDED_MEAN = "rounded mean of", RestsOn.VARIABLES
    ONE_SLOPE = "one slope of", RestsOn.VARIABLES
    QUESTION = "questions about", RestsOn.VARIABLES
    COLLINEAR = "shared variance of", RestsOn.TERM
    FEW = "few cases", RestsOn.STUDY
    SMALL = "few cases in", RestsOn.TERM
    CONSTANT = "one group of", RestsOn.VARIABLES
    MANY = "many tests", RestsOn.STUDY
    IDENTIFIER = "identifier", RestsOn.VARIABLES
    NO_INTERCEPT = "no intercept", RestsOn.STUDY
    SET = "no block for", RestsOn.TERM


@dataclass(frozen=True, slots=True)
class FlagKey:
    """Which flag: its kind, and what it is about: variables (of a product all factors, sorted)."""

    kind: FlagKind
    about: tuple[str, ...] = ()
    code: str = ""
    """The code in question, where the flag is about one."""

    @classmethod
    def of(cls, kind: FlagKind, listed: Sequence[str]) -> FlagKey:
        """The key of a document's list; the opposite of `listed`."""
        if kind is FlagKind.MISSING_CODE:
            return cls(kind, tuple(listed[1:]), "".join(listed[:1]))
        return cls(kind, tuple(listed))

    @property
    def listed(self) -> tuple[str, ...]:
        """The code, if there is one, and the variables: as documents list them."""
        return (self.code, *self.about) if self.code else self.about

    @property
    def text(self) -> str:
        """The key in one line, for results and tests."""
        return " ".join([str(self.kind), " x ".join(self.listed)]).strip()


@dataclass(frozen=True, slots=True)
class Dismissal:
    """A flag that was put aside, and why."""

    flag: FlagKey
    reason: str

    def __post_init__(self) -> None:
        letters_only(self, "reason")
