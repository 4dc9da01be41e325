"""A probe: a question to one model, as a value."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class PickPoints:
    """Where a number moderator is looked at: “mean and SD”, “percentiles”, “quartiles”, “extremes”, or own values."""

    rule: str = "mean and SD"
    values: tuple[float, ...] = ()


PICK_RULES = ("mean and SD", "percentiles", "quartiles", "extremes", "own values")


@dataclass(frozen=True, slots=True)
class Pointwise:
    """Each point by itself."""


@dataclass(frozen=True, slots=True)
class Simultaneous:
    """All points at once (Potthoff 1964)."""


@dataclass(frozen=True, slots=True)
class FalseDiscovery:
    """The false discovery rate over the observed values (Benjamini & Hochberg 1995; Esarey & Sumner 2018)."""


Band = Pointwise | Simultaneous | FalseDiscovery
BANDS: dict[str, Band] = {
    "each point": Pointwise(),
    "all points at once": Simultaneous(),
    "false discovery rate": FalseDiscovery(),
}
"""The bands by the names they have in files and menus."""


def band_name(band: Band) -> str:
    """The name of a band."""
    return next(name for name, known in BANDS.items() if known == band)


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
    """Id of the block whose step is probed; None: the one that is reported, or where that cannot answer the first that can."""
    pick: PickPoints = PickPoints()
    held: tuple[tuple[str, str | float], ...] = ()
    """A value (number) or a level's code (group) for other variables; those not named stand at mean or shares."""
    second: Second | None = None
    band: Band = Pointwise()
    model: str | None = None
    """Id of the model; None: the current one."""

    @property
    def about(self) -> tuple[str | None, str, str, str]:
        """What makes two probes the same question: model, focal predictor, moderator, second moderator."""
        return self.model, self.focal, self.moderator, self.second.variable if self.second else ""
