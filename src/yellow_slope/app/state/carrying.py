"""Terms that are carried by the mouse, and what letting them go would do."""

from __future__ import annotations

from enum import Enum, auto

from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass


class Carry(Enum):
    """What is done with a term that is carried."""

    MOVE = auto()
    DROP = auto()


@dataclass(frozen=True, slots=True)
class Entered:
    """It would be entered in a block, by its position; one behind the last begins a new one."""

    block: int


@dataclass(frozen=True, slots=True)
class Multiplied:
    """It would be multiplied with another term."""

    by: Term


Landing = Entered | Multiplied
