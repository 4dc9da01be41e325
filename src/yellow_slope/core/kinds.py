"""Closed kinds that people choose from: an id that stands in files and never changes, and a name that people read."""

from __future__ import annotations

from enum import StrEnum
from typing import Self


class Named(StrEnum):
    """A member is written `ID = "id in files", "name"`; without a name the id is one."""

    label: str
    """What people read; it may be worded otherwise at any time."""

    def __new__(cls, id: str, label: str = "") -> Self:
        member = str.__new__(cls, id)
        member._value_ = id
        member.label = label or id
        return member
