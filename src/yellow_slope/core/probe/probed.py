"""The answer of a probe, as values: panels, focal effects, lines, regions, tests."""

from __future__ import annotations

from enum import Enum, auto

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.design.bases import Basis, NumberBasis
from yellow_slope.core.fit.design.codes import Comparison
from yellow_slope.core.fit.design.design import Along, Profile
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, FTest
from yellow_slope.core.probe.curve import Crossover, Curve
from yellow_slope.core.probe.mattering import Mattering
from yellow_slope.core.probe.places import Place
from yellow_slope.core.probe.regions import Regions
from yellow_slope.core.probe.support import Near, Support, sides_of
from yellow_slope.core.probe.together import TogetherRegions
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import EffectUnit, Probe
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Difference:
    """The focal effect at one place minus that at another, both by position."""

    of: int
    minus: int | None
    """None: the mean of all other places."""
    effect: ConditionalEffect
    p_holm: float
    """Holm's (1979) adjusted p where the differences are a family of tests; NaN where they are one and the same."""


@dataclass(frozen=True, slots=True, eq=False)
class Focus:
    """One focal effect: the slope of a number, or one comparison of a group."""

    comparison: Comparison | None
    """None for the slope of a number."""
    curve: Curve | None
    """None where the moderator is a group."""
    effects: tuple[ConditionalEffect, ...]
    """One per place."""
    near: tuple[tuple[Near, ...], ...]
    """For each place the cases near it, of each side that is compared."""
    differences: tuple[Difference, ...]
    test: FTest
    """Whether this effect differs along the moderator, all others where they are held; of one that cannot, whether it
    is 0."""
    regions: Regions | None
    """None where the moderator is a group."""
    zero: Crossover | None
    support: Support
    changes: FloatArray
    """Shape (q, 1 + columns): the rows that are tested to be 0, one where the effect changes in a straight line or
    between two levels."""
    mattering: Mattering | None = None
    """Where it matters, for a smallest effect that does; None without one, or where the moderator is a group."""

    @property
    def critical(self) -> float:
        """What |t| must pass by the probe's rule; NaN without regions."""
        return self.regions.critical if self.regions is not None else float("nan")

    def band(self, w: FloatArray) -> tuple[FloatArray, FloatArray]:
        """The band of the probe's rule at places (m,): low and high. Where no place passes it is that of each point by
        itself."""
        assert self.curve is not None
        return self.curve.band(w, self.critical if np.isfinite(self.critical) else None)


@dataclass(frozen=True, slots=True, eq=False)
class PredictedLine:
    """Predicted outcome along a number: for a place of the moderator, or for a focal group."""

    place: int | None
    """Position of the moderator's place."""
    level: int | None
    """Position of the focal group's level."""
    curve: Curve


@dataclass(frozen=True, slots=True, eq=False)
class Panel:
    """What is seen at one place of the second moderator."""

    second: Place | None
    foci: tuple[Focus, ...]
    lines: tuple[PredictedLine, ...]
    """Along the focal number, or along the number moderator with one line per focal group; empty for two groups."""
    means: tuple[tuple[ConditionalEffect, ...], ...]
    """Two groups: predicted outcome, focal levels by places; otherwise empty."""
    crossing: tuple[float, ...]
    """Where the lines meet, on their x axis; empty unless all meet in one place."""
    crossing_set: Crossover | None
    profile: Profile
    test: FTest
    """Whether all focal effects together differ along the moderator, all others where they are held."""
    together: tuple[TogetherRegions, ...] = ()
    """Of several comparisons along a number: where they pass together."""


@dataclass(frozen=True, slots=True)
class AcrossPanels:
    """A difference of two focal effects at (panel, place) each."""

    of: tuple[int, int]
    minus: tuple[int, int]
    effect: ConditionalEffect
    p_holm: float


@dataclass(frozen=True, slots=True, eq=False, weakref_slot=True)
class Probed:
    """Everything that is shown of one probe."""

    probe: Probe
    model: Model
    fit: Fit
    step: int
    focal: Basis
    moderator: Basis
    second: Basis | None
    places: tuple[Place, ...]
    panels: tuple[Panel, ...]
    across: tuple[tuple[AcrossPanels, ...], ...]
    """Three-way: of each focal effect the differences between places of both moderators (Dawson & Richter 2006)."""
    joint: FTest
    """Joint test of all columns that hold both; of a predictor probed along itself those of its own curvature."""
    products: tuple[Term, ...]
    """The terms of the step that hold both, in order; of a predictor probed along itself its powers."""
    highest: tuple[tuple[Term, FTest], ...]
    """Those of them that stand in none of the others, each with its own test."""
    observed: FloatArray | IntArray
    """The moderator over the model's cases."""
    level: float
    held: BoolArray
    """Shape (n,): the cases of the groups that are held at a level."""
    unit: EffectUnit = EffectUnit.TREATED
    """In which effects are given: the one that was asked, where there is such a unit."""
    factor: float = 1.0
    """By what an effect of the treated focal predictor is multiplied."""
    smallest: float | None = None
    """The smallest effect that matters, in the unit of the effects."""

    @property
    def by_itself(self) -> bool:
        """Whether the predictor is probed along itself."""
        return self.probe.focal == self.probe.moderator

    @property
    def x(self) -> NumberBasis | None:
        """The number on the interaction plot's x axis; None for two groups."""
        if isinstance(self.focal, NumberBasis):
            return self.focal
        return self.moderator if isinstance(self.moderator, NumberBasis) else None

    def everyone(self, focus: int) -> Support:
        """The cases of each side that is compared, wherever a number second moderator stands."""
        found = self.panels[0].foci[focus]
        weights = None if found.comparison is None else found.comparison.weights
        sides = sides_of(self.focal, weights, self.fit.values[self.probe.focal], self.held)
        return Support(found.support.observed, sides, found.support.width)

    def tests(self, panel: int, focus: int) -> tuple[Tested, ...]:
        """The tests that belong to what is seen, the nearest first; none twice.

        The effect's own along the moderator; all focal effects together; where several terms hold both, all of these
        columns, and each of the highest products.
        """
        found = [Tested(TestOf.EFFECT, self.panels[panel].foci[focus].test)]
        if len(self.panels[panel].foci) > 1:
            found.append(Tested(TestOf.EFFECTS, self.panels[panel].test))
        if len(self.products) > 1:
            found.append(Tested(TestOf.COLUMNS, self.joint))
            found += [Tested(TestOf.PRODUCT, test, term) for term, test in self.highest]
        return tuple(found)


class TestOf(Enum):
    """What a test of a probe asks."""

    __test__ = False  # it is no test of the program

    EFFECT = auto()
    """Whether the effect that is seen differs along the moderator, all others where they are held."""
    EFFECTS = auto()
    """Whether all comparisons of the focal group do."""
    COLUMNS = auto()
    """All columns that hold both."""
    PRODUCT = auto()
    """One product by itself."""


@dataclass(frozen=True, slots=True)
class Tested:
    """A test, and what it asks."""

    of: TestOf
    test: FTest
    term: Term | None = None
    """The product, where it is one's own test."""


def along_of(basis: NumberBasis) -> Along:
    """The observed range of a number, as -1 to 1 in its coordinates."""
    low, high = basis.axis.coordinate(basis.low), basis.axis.coordinate(basis.high)
    return Along(basis.variable, (low + high) / 2, abs(high - low) / 2 or 1.0, basis.axis)


def range_of(basis: NumberBasis) -> tuple[float, float]:
    """The places between which a bound counts as inside the data. The one rule for it."""
    return basis.low, basis.high
