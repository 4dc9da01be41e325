"""What a part of the window asks of the others, which it does not know."""

from __future__ import annotations

from enum import Enum, auto

from yellow_slope.values import dataclass


class Request(Enum):
    """Something to be done by whoever can."""

    FIND_COMMAND = auto()
    FIND_VARIABLE = auto()
    FIND_IN_REPORT = auto()
    FOCUS_BENCH = auto()
    """Put the keyboard on the waypoint's main part."""
    NAME_LEVELS = auto()
    NAME_COMPARISON = auto()
    SPACE_LEVELS = auto()
    COMPLETE_QUESTIONS = auto()
    ADD_GROUP_MEANS = auto()
    CHOOSE_OUTCOME = auto()
    COPY_SENTENCE = auto()
    QUIT = auto()


@dataclass(frozen=True, slots=True)
class WriteLine:
    """Put the keyboard on the quick line, with a text in it."""

    text: str = ""


@dataclass(frozen=True, slots=True)
class NameBlock:
    """Edit the name of a block, by its position."""

    block: int


@dataclass(frozen=True, slots=True)
class Copy:
    """Put a text on the clipboard."""

    text: str


Asked = Request | WriteLine | NameBlock | Copy
