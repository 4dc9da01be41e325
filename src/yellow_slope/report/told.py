"""What a file says of its picture."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Told:
    """What a file says of its picture to those who do not see it."""

    title: str = ""
    description: str = ""


NOTHING_TOLD = Told()
