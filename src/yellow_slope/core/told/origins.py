"""Where a figure of the report is made: what a click on it leads to, and by what the report is looked through."""

from __future__ import annotations

from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class AtVariable:
    """A variable, where it is prepared."""

    name: str


@dataclass(frozen=True, slots=True)
class AtSample:
    """The cases."""


@dataclass(frozen=True, slots=True)
class AtStep:
    """A step, or a term in it."""

    step: int
    """From 0."""
    term: Term | None = None


@dataclass(frozen=True, slots=True)
class AtProbe:
    """A probe."""

    probe: Probe


@dataclass(frozen=True, slots=True)
class AtCheck:
    """A question of the checks."""

    check: Check


@dataclass(frozen=True, slots=True)
class AtModels:
    """The models side by side."""


Origin = AtVariable | AtSample | AtStep | AtProbe | AtCheck | AtModels
