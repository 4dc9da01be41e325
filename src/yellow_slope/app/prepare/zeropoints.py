"""Where the zero of a number can be put, and the way between its axis and pixels."""

from __future__ import annotations

import math
from collections.abc import Sequence
from enum import Enum, auto

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.design.bases import NumberBasis, number_basis
from yellow_slope.core.study.treatment import At, Mean, Median, Raw, Treatment, Zero
from yellow_slope.plots.scales import Tick, across
from yellow_slope.values import dataclass

MOST_WHOLE = 24
"""More whole values than this in sight are no places to snap to."""


class Mark(Enum):
    """How a place for zero is told apart from others."""

    NONE = auto()
    MEAN = auto()
    MEDIAN = auto()
    FIRST_QUARTILE = auto()
    THIRD_QUARTILE = auto()
    WHOLE = auto()
    """A whole value; named places go before it."""


@dataclass(frozen=True, slots=True)
class ZeroPoint:
    """A place for zero: the coordinate on the number's (transformed) axis, the choice it stands for, and its name."""

    at: float
    zero: Zero
    name: str
    mark: Mark = Mark.NONE


def zero_points(variable: Variable, basis: NumberBasis, values: FloatArray, base: FloatArray | None) -> list[ZeroPoint]:
    """Mean, median, quartiles, whole values and limits, rising. values: places of the cases; base: those of the
    treatment."""
    treatment = basis.treatment
    coordinates = basis.axis.forward(values)
    coordinates = coordinates[np.isfinite(coordinates)]
    if not coordinates.size:
        return []

    def center(zero: Zero) -> float:
        made = Treatment(treatment.transforms, zero, treatment.scale, treatment.base)
        return number_basis(basis.variable, values, made, basis.axis, base).center

    first, third = (float(q) for q in np.percentile(coordinates, (25, 75)))
    low, high = float(coordinates.min()), float(coordinates.max())
    found = [
        ZeroPoint(center(Mean()), Mean(), "the mean", Mark.MEAN),
        ZeroPoint(center(Median()), Median(), "the median", Mark.MEDIAN),
        ZeroPoint(0.0, Raw(), "0 as it is"),
        ZeroPoint(first, At(first), "the first quartile", Mark.FIRST_QUARTILE),
        ZeroPoint(third, At(third), "the third quartile", Mark.THIRD_QUARTILE),
        ZeroPoint(low, At(low), "the lowest value"),
        ZeroPoint(high, At(high), "the highest value"),
    ]
    if variable.limits is not None and basis.axis.is_identity:
        found += [ZeroPoint(at, At(at), "a limit of the scale") for at in variable.limits]
    if high - low <= MOST_WHOLE:
        found += [
            ZeroPoint(float(v), At(float(v)), "a whole value", Mark.WHOLE)
            for v in range(math.ceil(low), math.floor(high) + 1)
        ]
    first_of: dict[float, ZeroPoint] = {}
    for point in found:
        first_of.setdefault(point.at, point)
    return sorted(first_of.values(), key=lambda point: point.at)


def nearest(points: Sequence[ZeroPoint], at: float, reach: float) -> ZeroPoint | None:
    """The place nearest to a coordinate, if one lies within reach; named places go before whole values."""
    near = [point for point in points if abs(point.at - at) <= reach]
    return min(near, key=lambda point: (point.mark is Mark.WHOLE, abs(point.at - at)), default=None)


def next_point(points: Sequence[ZeroPoint], at: float, by: int) -> ZeroPoint | None:
    """The next place to the right (1) or left (-1) of a coordinate."""
    slack = 1e-9 * max(1.0, abs(at))
    if by > 0:
        return next((point for point in points if point.at > at + slack), None)
    return next((point for point in reversed(points) if point.at < at - slack), None)


@dataclass(frozen=True, slots=True)
class Span:
    """A stretch of the axis and the pixels it is drawn on."""

    low: float
    high: float
    left: float
    width: float

    def x(self, value: float) -> float:
        """The pixel of a value."""
        return self.left + self.width * (value - self.low) / ((self.high - self.low) or 1.0)

    def value(self, x: float) -> float:
        """The value at a pixel."""
        return self.low + (x - self.left) / self.width * (self.high - self.low)

    def ticks(self, per: float, size: float) -> tuple[Tick, ...]:
        """Round values, at most one every so many pixels, in letters of a size."""
        if not self.high > self.low or not math.isfinite(self.high - self.low):
            return ()
        return across(self.low, self.high, self.width, size, max(2, round(self.width / per)), powers=False).ticks
