"""What a file says of its picture."""

from __future__ import annotations

from yellow_slope.core.letters import letters_only
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Told:
    """What a file says of its picture to those who do not see it."""

    title: str = ""
    description: str = ""

    def __post_init__(self) -> None:
        letters_only(self, "title", "description")


NOTHING_TOLD = Told()
