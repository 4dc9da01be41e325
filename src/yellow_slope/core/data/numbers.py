"""The numbers of a column, with what is found of them once for each set of cases, however often it is asked."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.values import dataclass

HUGE = 1e140
"""Squares of deviations beyond it, or below its inverse, are taken in units of the largest."""
MOST_SETS = 8
"""Sets of cases whose moments are remembered."""


@dataclass(frozen=True, slots=True)
class Moments:
    """Mean, SD with n - 1, least and largest of some numbers; all 0 of none."""

    mean: float
    sd: float
    low: float
    high: float


def mean_and_sd(values: FloatArray) -> tuple[float, float]:
    """Mean, corrected once so that deviations average zero, and SD with n - 1."""
    if values.size == 0:
        return 0.0, 0.0
    mean = float(np.add.reduce(values)) / values.size
    rest = values - mean
    mean += float(np.add.reduce(rest)) / values.size
    np.subtract(values, mean, out=rest)
    if values.size == 1:
        return mean, 0.0
    reach = float(np.abs(rest).max())
    unit = reach if reach > HUGE or 0 < reach < 1 / HUGE else 1.0
    rest /= unit
    sd = unit * float(np.sqrt(float(rest @ rest) / (values.size - 1)))
    return mean, sd


def moments_of(values: FloatArray) -> Moments:
    """Of numbers none of which is missing."""
    if values.size == 0:
        return Moments(0.0, 0.0, 0.0, 0.0)
    mean, sd = mean_and_sd(values)
    return Moments(mean, sd, float(np.minimum.reduce(values)), float(np.maximum.reduce(values)))


class Numbers:
    """Shape (rows,): the numbers of a column, NaN where missing. They never change."""

    def __init__(self, values: FloatArray) -> None:
        self.values = values
        self._moments: dict[int, tuple[IntArray, Moments]] = {}

    @cached_property
    def present(self) -> BoolArray:
        """Shape (rows,): where there is a number."""
        here: BoolArray = ~np.isnan(self.values)
        here.setflags(write=False)
        return here

    @cached_property
    def are_whole(self) -> bool:
        """Whether all numbers that are present are whole."""
        return are_whole(self.values[self.present])

    def moments(self, rows: IntArray, here: FloatArray) -> Moments:
        """Of the cases at rows (n,), told apart as objects; here (n,): their numbers, none missing."""
        known = self._moments.get(id(rows))
        if known is None or known[0] is not rows:
            if len(self._moments) >= MOST_SETS:
                self._moments.clear()
            known = self._moments[id(rows)] = (rows, moments_of(here))
        return known[1]


def are_whole(values: FloatArray) -> bool:
    """Whether all values are whole numbers."""
    return bool((np.rint(values) == values).all())
