"""A probe: a question to one model, as a value."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class PickRule(StrEnum):
    """How pick points are found; the value is the rule's id in files."""

    MEAN_AND_SD = "mean and SD"
    PERCENTILES = "percentiles"
    QUARTILES = "quartiles"
    EXTREMES = "extremes"
    OWN = "own values"


MOST_PROBES = 1000
"""Probes of one study."""


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

    @property
    def about(self) -> tuple[str | None, str, str, str]:
        """What makes two probes the same question: model, focal predictor, moderator, second moderator."""
        return self.model, self.focal, self.moderator, self.second.variable if self.second else ""
