"""Where a moderator is looked at: pick points of a number, levels of a group, or everywhere at once."""

from __future__ import annotations

from enum import Enum, auto
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.design.bases import Basis, GroupBasis, NumberBasis
from yellow_slope.core.fit.design.design import Profile
from yellow_slope.core.study.probe import PickPoints, PickRule
from yellow_slope.values import dataclass

MOST_OBSERVED = 12
"""Of more observed values so many are looked at."""
FEW_VALUES = 11
"""A number of no more values is told of by its values: the codes of an item, the points of a short scale."""


class Point(Enum):
    """What a pick point is."""

    SD_BELOW = auto()
    MEAN = auto()
    SD_ABOVE = auto()
    LOW_PERCENTILE = auto()
    MEDIAN = auto()
    HIGH_PERCENTILE = auto()
    LOWER_QUARTILE = auto()
    UPPER_QUARTILE = auto()
    LOWEST = auto()
    HIGHEST = auto()
    OBSERVED = auto()
    OWN = auto()


@dataclass(frozen=True, slots=True)
class NumberPlace:
    """A value of a number."""

    value: float
    point: Point


@dataclass(frozen=True, slots=True)
class LevelPlace:
    """A level of a group."""

    index: int
    """Position among the levels present."""
    code: str


@dataclass(frozen=True, slots=True)
class Everywhere:
    """No place in particular: the effect is the same everywhere."""

    value: float
    """Of a number the typical value; of a group 0."""


Place = NumberPlace | LevelPlace | Everywhere


def places_of(basis: Basis, observed: FloatArray, pick: PickPoints) -> tuple[NumberPlace | LevelPlace, ...]:
    """All levels of a group; of a number its pick points. observed: (n,) over the model's cases."""
    if isinstance(basis, GroupBasis):
        return tuple(LevelPlace(i, code) for i, code in enumerate(basis.levels))
    return pick_points(basis, observed, pick)


def pick_points(basis: NumberBasis, observed: FloatArray, pick: PickPoints) -> tuple[NumberPlace, ...]:
    """The pick points over the model's cases (n,); percentiles by interpolation at 1 + (n - 1)p."""
    match pick.rule:
        case PickRule.OWN:
            return tuple(NumberPlace(value, Point.OWN) for value in pick.values)
        case PickRule.OBSERVED:
            return tuple(NumberPlace(value, Point.OBSERVED) for value in observed_values(observed))
        case PickRule.PERCENTILES:
            found = _quantiles(observed, 0.16, 0.84)
            points = (Point.LOW_PERCENTILE, Point.MEDIAN, Point.HIGH_PERCENTILE)
        case PickRule.QUARTILES:
            found = _quantiles(observed, 0.25, 0.75)
            points = (Point.LOWER_QUARTILE, Point.MEDIAN, Point.UPPER_QUARTILE)
        case PickRule.EXTREMES:
            found = (basis.low, basis.mean, basis.high)
            points = (Point.LOWEST, Point.MEAN, Point.HIGHEST)
        case PickRule.MEAN_AND_SD:
            found = (basis.mean - basis.sd, basis.mean, basis.mean + basis.sd)
            points = (Point.SD_BELOW, Point.MEAN, Point.SD_ABOVE)
        case _:
            assert_never(pick.rule)
    return tuple(NumberPlace(float(value), point) for value, point in zip(found, points))


def observed_values(observed: FloatArray, most: int = MOST_OBSERVED) -> tuple[float, ...]:
    """The distinct values of the cases (n,), rising; of more than so many that many of them, evenly by rank."""
    values = np.unique(observed)
    if values.size > most:
        values = values[np.linspace(0, values.size - 1, most).round().astype(int)]
    return tuple(float(value) for value in values)


def few_values(observed: FloatArray | IntArray) -> tuple[float, ...]:
    """The distinct values of a number that has but few; empty of one that has more."""
    values = np.unique(observed)
    return tuple(float(value) for value in values) if values.size <= FEW_VALUES else ()


def _quantiles(observed: FloatArray, low: float, high: float) -> tuple[float, float, float]:
    a, b, c = np.quantile(np.asarray(observed, dtype=np.float64), [low, 0.5, high])
    return float(a), float(b), float(c)


def profile_at(profile: Profile, basis: Basis | None, place: Place | None) -> Profile:
    """The profile with a variable at a place; without one as it is."""
    if basis is None or place is None:
        return profile
    match place:
        case NumberPlace(value, _):
            return profile.with_number(basis.variable, value)
        case LevelPlace(index, _):
            return profile.with_level(basis.variable, index)
        case Everywhere():
            return profile
        case _:
            assert_never(place)
