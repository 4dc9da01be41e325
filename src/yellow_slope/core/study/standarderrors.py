"""The kind of standard errors, as a value. It never changes b, R² or its change."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta

from yellow_slope.core.kinds import Named
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Classical:
    """s² (X'X)⁻¹."""

    stored_as = "classical"


@dataclass(frozen=True, slots=True)
class HC:
    """Heteroscedasticity-consistent, HC0 to HC4."""

    stored_as = "HC"
    kind: Annotated[int, Meta(ge=0, le=4)] = 3


@dataclass(frozen=True, slots=True)
class Cluster:
    """Clustered by an id (CR1); tests use G - 1 degrees of freedom."""

    stored_as = "cluster"
    id: str


class IntervalWay(Named):
    """How an interval is read off resamples."""

    PERCENTILE = "percentile"
    BCA = "BCa"


FEWEST_DRAWS, MOST_DRAWS = 1000, 100_000
IN_A_TAIL = 10
"""Fewer resamples beyond a bound than this do not tell where it lies."""


@dataclass(frozen=True, slots=True)
class Bootstrap:
    """Cases, or the clusters of an id, drawn anew with replacement; the seed makes the draws come again.

    Standard errors, intervals, p and regions rest on the draws; what has no such form is not given.
    """

    stored_as = "bootstrap"
    way: IntervalWay = IntervalWay.BCA
    draws: Annotated[int, Meta(ge=FEWEST_DRAWS, le=MOST_DRAWS)] = 5000
    seed: Annotated[int, Meta(ge=0)] = 1
    cluster: str | None = None

    def why_not(self, level: float) -> str:
        """Why it cannot be at a confidence level, as a sentence; empty if it can."""
        if not FEWEST_DRAWS <= self.draws <= MOST_DRAWS:
            return f"Between {FEWEST_DRAWS:,} and {MOST_DRAWS:,} resamples can be drawn."
        if self.seed < 0:
            return "A seed is a whole number, 0 or more."
        needed = round(2 * IN_A_TAIL / (1 - level))
        if self.draws < needed:
            return f"{self.draws:,} resamples are too few for {100 * level:g}% intervals; draw {needed:,} or more."
        return ""

    @property
    def analytic(self) -> Classical | Cluster:
        """The kind with a formula that stands nearest: what rivals are judged by, and what gives ranks and scales."""
        return Classical() if self.cluster is None else Cluster(self.cluster)


Errors = Classical | HC | Cluster | Bootstrap


def analytic(errors: Errors) -> Classical | HC | Cluster:
    """The kind that has a formula: of a bootstrap the one that stands nearest."""
    return errors.analytic if isinstance(errors, Bootstrap) else errors


def cluster_id(errors: Errors) -> str | None:
    """The id that errors are clustered by; None without."""
    if isinstance(errors, Cluster):
        return errors.id
    return errors.cluster if isinstance(errors, Bootstrap) else None
