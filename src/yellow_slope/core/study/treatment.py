"""Treatment: how a number enters a model, as a value: transformations in order, then a zero point, then a scale."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated

from msgspec import Meta

from yellow_slope.core.kinds import Named
from yellow_slope.values import dataclass


class Transform(Named):
    """A transformation before centering."""

    LOG = "log"
    LOG1P = "log1p"
    ROOT = "root"
    SQUARE = "square"
    RECIPROCAL = "reciprocal"
    REVERSE = "reverse"
    """Lower plus upper declared limit, minus the value."""
    RANKS = "ranks"


class Base(StrEnum):
    """The cases over which means and SDs of a treatment are taken."""

    MODEL = "model's cases"
    ALL = "all cases"


@dataclass(frozen=True, slots=True)
class Raw:
    """Zero stays where it is."""

    stored_as = "as it is"


@dataclass(frozen=True, slots=True)
class Mean:
    """Zero at the mean."""

    stored_as = "mean"


@dataclass(frozen=True, slots=True)
class Median:
    """Zero at the median."""

    stored_as = "median"


@dataclass(frozen=True, slots=True)
class At:
    """Zero at a given value, on the transformed scale."""

    stored_as = "at"
    value: float


@dataclass(frozen=True, slots=True)
class WithinGroups:
    """Zero at the mean of each case's own group."""

    stored_as = "within groups"
    of: str


Zero = Raw | Mean | Median | At | WithinGroups


@dataclass(frozen=True, slots=True)
class One:
    """The unit stays as it is."""

    stored_as = "one"


@dataclass(frozen=True, slots=True)
class OneSD:
    """A unit is one SD."""

    stored_as = "sd"


@dataclass(frozen=True, slots=True)
class Given:
    """A unit is that much."""

    stored_as = "given"
    value: Annotated[float, Meta(gt=0)]


Scale = One | OneSD | Given


@dataclass(frozen=True, slots=True)
class Treatment:
    """How a number enters: (transformed value - zero) / scale."""

    stored_as = "treatment"
    transforms: tuple[Transform, ...] = ()
    zero: Zero = Raw()
    scale: Scale = One()
    base: Base = Base.MODEL


AS_IS = Treatment()
CENTERED = Treatment(zero=Mean())
STANDARDIZED = Treatment(zero=Mean(), scale=OneSD())
READY = (AS_IS, CENTERED, STANDARDIZED)
"""The treatments that have a key of their own."""
