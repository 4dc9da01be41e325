"""Samples: a rule that says which cases take part, and the cases set aside by hand."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta

from yellow_slope.core.data.conditions import Rule
from yellow_slope.core.letters import letters_only
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class SetAside:
    """Cases left out by hand, by their row from 0, with the reason."""

    rows: tuple[Annotated[int, Meta(ge=0)], ...]
    reason: str

    def __post_init__(self) -> None:
        letters_only(self, "reason")


@dataclass(frozen=True, slots=True)
class Sample:
    """Which cases a model may rest on. Without a rule all may."""

    name: str
    rule: Rule | None = None
    aside: tuple[SetAside, ...] = ()

    def __post_init__(self) -> None:
        letters_only(self, "name")
