"""What a file says of its picture."""

from __future__ import annotations

from dataclasses import dataclass

from yellow_slope.core.letters import letters_only


@dataclass(frozen=True, slots=True)
class Told:
    """What a file says of its picture to those who do not see it."""

    title: str = ""
    description: str = ""

    def __post_init__(self) -> None:
        letters_only(self, "title", "description")


NOTHING_TOLD = Told()
