"""A probe: a question to one model, as a value."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, assert_never

from msgspec import Meta

from yellow_slope.core.letters import letters_only
from yellow_slope.values import dataclass


class PickRule(StrEnum):
    """How pick points are found; the value is the rule's id in files."""

    MEAN_AND_SD = "mean and SD"
    PERCENTILES = "percentiles"
    QUARTILES = "quartiles"
    EXTREMES = "extremes"
    OBSERVED = "observed values"
    """Every value that a case has, where these are few."""
    OWN = "own values"


MOST_PROBES = 1000
"""Probes of one study."""
LONGEST_NAME = 80
"""Characters of a probe's name."""


@dataclass(frozen=True, slots=True)
class PickPoints:
    """Where a number moderator is looked at: by a rule, or at values of one's own."""

    rule: PickRule = PickRule.MEAN_AND_SD
    values: tuple[float, ...] = ()


class RegionRule(StrEnum):
    """What an effect must pass to be told apart from 0 along a moderator; the value is the rule's id in files."""

    POINTWISE = "each point"
    """Each point by itself (Johnson & Neyman 1936)."""
    SIMULTANEOUS = "all points at once"
    """All points at once (Potthoff 1964)."""
    FALSE_DISCOVERY = "false discovery rate"
    """The false discovery rate over the observed values (Benjamini & Hochberg 1995; Esarey & Sumner 2018)."""

    @property
    def of_sizes(self) -> RegionRule:
        """The rule by which an effect matters or is too small: for tests of a size the false discovery rate has no
        form, each point stands by itself."""
        match self:
            case RegionRule.POINTWISE | RegionRule.FALSE_DISCOVERY:
                return RegionRule.POINTWISE
            case RegionRule.SIMULTANEOUS:
                return self
            case _:
                assert_never(self)

    @property
    def is_at_once(self) -> bool:
        """Whether it speaks of all points at once, for which neither few clusters nor draws have a form."""
        match self:
            case RegionRule.POINTWISE | RegionRule.FALSE_DISCOVERY:
                return False
            case RegionRule.SIMULTANEOUS:
                return True
            case _:
                assert_never(self)

    @property
    def rests_on_all_p(self) -> bool:
        """Whether what passes depends on p at all observed values."""
        match self:
            case RegionRule.POINTWISE | RegionRule.SIMULTANEOUS:
                return False
            case RegionRule.FALSE_DISCOVERY:
                return True
            case _:
                assert_never(self)


class EffectUnit(StrEnum):
    """In which units effects are given; the value is the unit's id in files."""

    TREATED = "as treated"
    """The outcome's units, per unit of the focal number as it enters."""
    RAW = "raw"
    """The outcome's units, per unit of the focal number as it stands in the table."""
    SD = "SD"
    """Standard deviations of the outcome, per SD of a focal number, both over the model's cases."""


class Compared(StrEnum):
    """Which differences of effects between the groups of a moderator are given; the value is the id in files."""

    PAIRS = "all pairs"
    REFERENCE = "with the reference"
    MEAN = "with the mean of the others"


@dataclass(frozen=True, slots=True)
class Smallest:
    """The smallest effect that matters, as a size above 0 in a unit."""

    size: Annotated[float, Meta(gt=0)]
    unit: EffectUnit = EffectUnit.TREATED


@dataclass(frozen=True, slots=True)
class Second:
    """A second moderator and where it is looked at; a group is looked at in all its levels."""

    variable: str
    pick: PickPoints = PickPoints()


@dataclass(frozen=True, slots=True)
class Probe:
    """The focal predictor's effect along a moderator, in a step.

    The moderator of a predictor that stands in no product is the predictor itself.
    """

    focal: str
    moderator: str
    step: str | None = None
    """Id of the block whose step is probed; None: the one that is reported, or where that cannot answer the first that
    can."""
    pick: PickPoints = PickPoints()
    held: tuple[tuple[str, str | float], ...] = ()
    """A value (number) or a level's code (group) for other variables; those not named stand at mean or shares."""
    second: Second | None = None
    rule: RegionRule = RegionRule.POINTWISE
    """By which rule regions of significance are bounded."""
    model: str | None = None
    """Id of the model; None: the current one."""
    unit: EffectUnit = EffectUnit.TREATED
    smallest: Smallest | None = None
    """The smallest effect that matters; None where nobody said one."""
    compared: Compared = Compared.PAIRS
    name: Annotated[str, Meta(max_length=LONGEST_NAME)] = ""
    """Under which it is kept; empty for one that is only looked at."""

    def __post_init__(self) -> None:
        letters_only(self, "name")

    @property
    def about(self) -> tuple[str | None, str, str, str, str]:
        """What makes two probes the same question: model, focal predictor, both moderators, and the name it is kept
        under."""
        return self.model, self.focal, self.moderator, self.second.variable if self.second else "", self.name
