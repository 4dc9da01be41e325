"""An axis: the way from a raw value to the coordinate that a number's transformations make of it, and back."""

from __future__ import annotations

from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.study.treatment import Transform
from yellow_slope.values import dataclass

RankTable = tuple[FloatArray, FloatArray]


@dataclass(frozen=True, slots=True, eq=False)
class Axis:
    """Transformations in order. `limits` serve the reverse; `tables` (sorted values, their ranks) serve the ranks.

    A table is of what the transformations before it made, and there is one for each time that ranks are taken.
    """

    transforms: tuple[Transform, ...] = ()
    limits: tuple[float, float] = (0.0, 0.0)
    tables: tuple[RankTable, ...] = ()

    @property
    def is_identity(self) -> bool:
        """Whether nothing is transformed."""
        return not self.transforms

    def forward(self, values: FloatArray) -> FloatArray:
        """Coordinates of raw values, same shape; NaN where a transformation is not defined."""
        if self.is_identity:
            return values
        found = values
        with np.errstate(all="ignore"):
            for i, transform in enumerate(self.transforms):
                found = self._one(transform, found, self._table(i))
            return np.where(np.isfinite(found), found, np.nan)

    def _table(self, i: int) -> RankTable | None:
        """The table of a transformation that takes ranks; none before anything was ranked."""
        k = self.transforms[:i].count(Transform.RANKS)
        return self.tables[k] if self.transforms[i] is Transform.RANKS and k < len(self.tables) else None

    def _one(self, transform: Transform, x: FloatArray, table: RankTable | None) -> FloatArray:
        match transform:
            case Transform.LOG:
                return np.log(x)
            case Transform.LOG1P:
                return np.log1p(x)
            case Transform.ROOT:
                return np.sqrt(x)
            case Transform.SQUARE:
                return np.square(x)
            case Transform.RECIPROCAL:
                return np.reciprocal(x)
            case Transform.REVERSE:
                return self.limits[0] + self.limits[1] - x
            case Transform.RANKS:
                return x if table is None else np.where(np.isnan(x), np.nan, np.interp(x, *table))
            case _:
                assert_never(transform)

    def coordinate(self, value: float) -> float:
        """The coordinate of one raw value."""
        return value if self.is_identity else float(self.forward(np.array([value]))[0])

    def preimages(self, coordinate: float, low: float, high: float) -> list[float]:
        """Raw values with that coordinate, where the way back is a formula; two for a square that has both signs.

        `low` and `high`, the observed range, choose between the roots of a square; both are given where both lie in it.
        """
        if self.is_identity:
            return [coordinate]
        found = [coordinate]
        for i, transform in reversed(list(enumerate(self.transforms))):
            before = Axis(self.transforms[:i], self.limits, self.tables)
            ends = before.forward(np.array([low, high]))
            found = [x for c in found for x in self._back(transform, c, float(ends[0]), float(ends[1]), self._table(i))]
        return sorted(x for x in found if np.isfinite(x))

    def _back(self, transform: Transform, c: float, a: float, b: float, table: RankTable | None) -> list[float]:
        with np.errstate(all="ignore"):
            match transform:
                case Transform.LOG:
                    return [float(np.exp(c))]
                case Transform.LOG1P:
                    return [float(np.expm1(c))]
                case Transform.ROOT:
                    return [c * c] if c >= 0 else []
                case Transform.SQUARE:
                    if c < 0:
                        return []
                    root = float(np.sqrt(c))
                    if min(a, b) >= 0:
                        return [root]
                    return [-root] if max(a, b) <= 0 else [-root, root]
                case Transform.RECIPROCAL:
                    return [1.0 / c] if c != 0 else []
                case Transform.REVERSE:
                    return [self.limits[0] + self.limits[1] - c]
                case Transform.RANKS:
                    if table is None:
                        return [c]
                    least, most = float(table[1][0]), float(table[1][-1])
                    slack = 1e-9 * (1.0 + abs(most))  # no value has a rank beyond those of the least and the largest
                    inside = least - slack <= c <= most + slack
                    return [float(np.interp(c, table[1], table[0]))] if inside else []
                case _:
                    assert_never(transform)


def axis_over(transforms: tuple[Transform, ...], limits: tuple[float, float], over: FloatArray) -> Axis:
    """The axis of transformations whose ranks are taken over these raw values; NaN among them counts nothing."""
    tables: list[RankTable] = []
    for i, transform in enumerate(transforms):
        if transform is Transform.RANKS:
            found = Axis(transforms[:i], limits, tuple(tables)).forward(over)
            found = found[~np.isnan(found)]
            if not found.size:
                break
            tables.append(rank_table(found))
    return Axis(transforms, limits, tuple(tables))


def rank_table(values: FloatArray) -> RankTable:
    """Sorted distinct values and their ranks, ties averaged."""
    distinct, counts = np.unique(values, return_counts=True)
    upto = np.cumsum(counts)
    return distinct, (upto - counts + 1 + upto) / 2.0
