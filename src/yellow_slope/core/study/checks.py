"""What was decided about checks: where cases count as far out, by which group they are halved, what is printed."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated

from msgspec import Meta

from yellow_slope.values import dataclass


class FarBy(StrEnum):
    """What a case can be far out by; the value is its name in files."""

    STUDENTIZED = "studentized"
    """Externally studentized residual, without its sign."""
    COOK = "cook"
    """Cook's distance."""
    DISTANCE = "distance"
    """Mahalanobis D² of the raw predictors."""


class Check(StrEnum):
    """A question that a plot answers; the value is its short name."""

    STAND = "stand"
    SPREAD = "spread"
    NORMAL = "normal"
    STRAIGHT = "straight"
    PULL = "pull"
    FAR = "far"
    MOVES = "moves"
    ORDER = "order"
    OVERLAP = "overlap"
    OWN = "own"


Above0 = Annotated[float, Meta(gt=0)]


@dataclass(frozen=True, slots=True)
class Cutoffs:
    """Beyond which value a case counts as far out; None: the usual one."""

    studentized: Above0 | None = None
    """Usual: 3."""
    cook: Above0 | None = None
    """Usual: 4/n."""
    distance: Above0 | None = None
    """Usual: the quantile .999 of D²."""
    exact: bool = False
    """The usual cut-off of D² is that of its exact distribution, not of chi-square."""
    groups: bool = True
    """D² counts groups as indicators; else of numbers only."""

    def typed(self, by: FarBy) -> float | None:
        """The value that somebody chose; None: the usual one."""
        return {FarBy.STUDENTIZED: self.studentized, FarBy.COOK: self.cook, FarBy.DISTANCE: self.distance}[by]


MOST_PARTS = 8
"""Levels of a group whose cases are looked at alone."""


@dataclass(frozen=True, slots=True)
class Checks:
    """The choices of the waypoint Checks."""

    cutoffs: Cutoffs = Cutoffs()
    split: str | None = None
    """A group: the product is looked at in each of its levels alone."""
    printed: tuple[Check, ...] = (Check.SPREAD, Check.NORMAL)
    """Questions whose plots are printed in the report, besides whether the product stands."""
