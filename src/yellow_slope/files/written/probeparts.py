"""The shape of the probes in results.json: every field with what it means."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from yellow_slope.core.study.probe import EffectUnit, RegionRule
from yellow_slope.files.specdocument import ProbeDocument
from yellow_slope.files.written.checkparts import Number, Part, TestPart


class NearPart(Part):
    """Cases of one side of what is compared."""

    levels: list[str]
    """Codes of the focal group's levels on that side; empty for a slope."""
    cases: int
    """How many of them."""
    of: int
    """All cases of that side."""


class EffectPart(Part):
    """A conditional effect."""

    at: str | float | None
    """Place of a number or code of a level; null: the same everywhere."""
    name: str
    """Name of the pick point; empty for a level."""
    effect: Number
    """The effect; null where no case tells of it."""
    se: Number
    """Its standard error."""
    t: Number
    """Effect over its standard error; null where errors come from resamples."""
    p: Number
    """Two-sided, not adjusted."""
    low: Number
    """Lower end of the interval."""
    high: Number
    """Upper end of the interval."""
    df: int
    """Degrees of freedom."""
    near: list[NearPart]
    """Cases near a place, or in the group, of each side that is compared."""
    why: str | None
    """Why something does not exist."""
    words: str
    """The sentence."""


class DifferencePart(Part, kw_only=True):
    """The focal effect at one place minus that at another."""

    of: str | float | None
    """Place or level code of the one."""
    minus: str | float | None
    """Place or level code of the other."""
    of_second: str | float | None = None
    """Place of the second moderator of the one."""
    minus_second: str | float | None = None
    """Place of the second moderator of the other."""
    effect: Number
    """The difference."""
    se: Number
    """Its standard error."""
    t: Number
    """Difference over its standard error; null where errors come from resamples."""
    p: Number
    """Two-sided, not adjusted."""
    p_holm: Number
    """Holm adjusted; null where all differences are one test."""
    low: Number
    """Lower end of the interval."""
    high: Number
    """Upper end of the interval."""
    df: int
    """Degrees of freedom."""
    why: str | None
    """Why something does not exist."""
    words: str
    """The sentence."""


class RegionPart(Part):
    """A stretch of the moderator within the observed range."""

    low: Number
    """Null where it begins with the data."""
    high: Number
    """Null where it ends with the data."""
    sign: Annotated[int, Meta(ge=-1, le=1)]
    """0: not significant."""
    words: str
    """What it says."""
    cases: list[NearPart]
    """Cases in it, of each side that is compared."""
    share: float
    """Their share."""


class RegionsPart(Part):
    """The regions of an effect by one rule."""

    rule: RegionRule
    """How they are bounded."""
    critical: Number
    """What |t| must pass; null where no place can."""
    regions: list[RegionPart]
    """Within the observed range, rising."""
    outside: list[float]
    """Boundaries outside the data, about which nothing is claimed."""


class ZeroPart(Part):
    """Where an effect is 0, with Fieller's set."""

    at: float
    """The place."""
    inside: bool
    """Whether it lies inside the data."""
    set: Literal["bounded", "two rays", "whole line", "fixed by the model"]
    """Shape of the set."""
    low: Number
    """Lower end; of two rays the end of the lower one; null on the whole line."""
    high: Number
    """Upper end; of two rays the beginning of the upper one."""


class SizedPart(Part):
    """A stretch in which an effect matters, is too small to matter, or leaves that open."""

    low: Number
    """Null where it begins with the data."""
    high: Number
    """Null where it ends with the data."""
    size: Literal["above", "below", "small", "open"]
    """How large the effect is shown to be."""
    cases: list[NearPart]
    """Cases in it, of each side that is compared."""


class MatteringPart(Part):
    """An effect against the smallest that matters."""

    smallest: float
    """In the unit of the effects."""
    critical: Number
    """What |t| of the distance from the smallest must pass to matter."""
    critical_small: Number
    """What both one-sided t must pass to be too small."""
    stretches: list[SizedPart]
    """Within the observed range, rising."""
    outside: list[float]
    """Boundaries outside the data."""


class TogetherPart(Part):
    """Where several comparisons pass together."""

    of: Literal["joint", "any", "every"]
    """Their joint F, any one, or every one of them."""
    critical: Number
    """The F that must be passed; null of the others."""
    df1: int
    """Degrees of freedom of the joint F."""
    regions: list[RegionPart]
    """Within the observed range, rising; sign 1 where they pass."""


class MapPart(Part):
    """An effect over two number moderators."""

    critical: Number
    """What |t| must pass."""
    dimension: int
    """Dimensions that the effect spans over both."""
    bounds: list[list[list[float]]]
    """Lines of places (moderator, second) at which it stops being told apart from 0."""
    share: float
    """Share of the cases where it is told apart from 0."""


class NamedTestPart(Part):
    """A test, by the name of what it asks."""

    name: str
    """What it asks."""
    test: TestPart
    """The test."""


class FocusPart(Part):
    """One focal effect."""

    compared: str | None
    """Name of the comparison; null for a slope."""
    weights: dict[str, float] | None
    """Weight of each level by its code; null for a slope."""
    effects: list[EffectPart]
    """At the places."""
    differences: list[DifferencePart]
    """Between every two places, of at most twelve."""
    regions: RegionsPart | None
    """By the rule that was asked for; null where the moderator is a group."""
    by_rule: list[RegionsPart]
    """By every rule there is."""
    tests: list[NamedTestPart]
    """The tests that belong to this effect, the nearest first."""
    zero: ZeroPart | None
    """Where a linear effect is 0."""
    mattering: MatteringPart | None
    """Against the smallest effect that matters; null without one, or where the moderator is a group."""


class PanelPart(Part):
    """What is seen at one place of the second moderator; without one there is one panel."""

    second: str | float | None
    """Place of the second moderator."""
    foci: list[FocusPart]
    """The focal effects."""
    lines_meet_at: list[float]
    """Where the lines meet, if all meet in one place."""
    crossover: ZeroPart | None
    """That place with Fieller's set."""
    together: list[TogetherPart]
    """Of several comparisons along a number: where they pass together."""


class ProbePart(Part):
    """A probe and its answer."""

    asked: ProbeDocument
    """The probe as it was asked."""
    model: str
    """Id of the model."""
    step: int
    """Counted from 1."""
    unit: EffectUnit
    """In which units effects are given."""
    joint: TestPart
    """Joint test of all columns that hold both."""
    share: Number
    """ΔR² of the highest products, entered last; null where they are not told apart."""
    panels: list[PanelPart]
    """One for each place of the second moderator."""
    across: list[list[DifferencePart]]
    """Of each focal effect the differences between places of both moderators, Holm adjusted."""
    maps: list[MapPart]
    """Of each focal effect its map over two number moderators; else empty."""


class RefusedPart(Part):
    """A probe that the model cannot answer."""

    asked: ProbeDocument
    """The probe as it was asked."""
    why: str
    """The reason."""
