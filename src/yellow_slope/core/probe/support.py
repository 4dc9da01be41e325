"""Which cases an effect rests on: those of the groups that are compared, at the places where the others are held."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.values import dataclass

NEAR = 0.25
"""Cases near a place: within a quarter of the moderator's SD on either side."""


@dataclass(frozen=True, slots=True)
class Near:
    """How many cases of one side of what is compared are near a place, or in a region."""

    cases: int
    of: int
    """All cases of that side."""
    levels: tuple[int, ...] = ()
    """Positions of the focal group's levels on that side; empty for a slope."""


@dataclass(frozen=True, slots=True, eq=False)
class Support:
    """The cases of each side that is compared, and where they stand along the moderator."""

    observed: FloatArray | IntArray
    """Shape (n,): the moderator; of a group the positions of its levels."""
    sides: tuple[tuple[tuple[int, ...], BoolArray], ...]
    """For each side the levels it is made of, and which cases (n,) are of it."""
    width: float = 0.0
    """How far from a place a case is still near it; 0 for groups."""

    def within(self, there: BoolArray) -> Support:
        """The support among some of the cases (n,)."""
        sides = tuple((levels, mask & there) for levels, mask in self.sides)
        return Support(self.observed, sides, self.width)

    @property
    def anyone(self) -> BoolArray:
        """Shape (n,): the cases of any side."""
        found = np.zeros(self.observed.shape, dtype=bool)
        for _, mask in self.sides:
            found |= mask
        return found

    def _counted(self, there: BoolArray) -> tuple[Near, ...]:
        return tuple(
            Near(int(np.count_nonzero(there & mask)), int(np.count_nonzero(mask)), levels)
            for levels, mask in self.sides
        )

    def near(self, value: float) -> tuple[Near, ...]:
        """Cases near a value of a number, or in the level of that position."""
        return self._counted(np.abs(self.observed - value) <= self.width)

    def between(self, low: float, high: float) -> tuple[Near, ...]:
        """Cases from one value up to another, which counts only where it is infinite."""
        return self._counted((self.observed >= low) & (self.observed < high))

    def everywhere(self) -> tuple[Near, ...]:
        """All cases of each side."""
        return self._counted(np.ones(self.observed.shape, dtype=bool))


def near_width(basis: NumberBasis | GroupBasis) -> float:
    """How far from a place a case is still near it."""
    return NEAR * basis.sd if isinstance(basis, NumberBasis) else 0.0


def sides_of(
    focal: NumberBasis | GroupBasis, weights: FloatArray | None, values: IntArray | FloatArray, here: BoolArray
) -> tuple[tuple[tuple[int, ...], BoolArray], ...]:
    """The sides that a comparison of weights (k,) sets against each other, with their cases among those here (n,).

    A slope has one side. A level on both sides, as in a comparison with the mean of all, counts on both.
    """
    if weights is None or isinstance(focal, NumberBasis):
        return (((), here),)
    found = []
    for levels in (np.flatnonzero(weights > 0), np.flatnonzero(weights < 0)):
        if levels.size:
            found.append((tuple(int(i) for i in levels), here & np.isin(values, levels)))
    return tuple(found)
