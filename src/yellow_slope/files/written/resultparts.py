"""The shape of results.json: every field with what it means."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from yellow_slope.core.study.probe import EffectUnit, RegionRule
from yellow_slope.files.study.documents import CodingDocument, ErrorsOf, ProbeDocument
from yellow_slope.files.written.checkparts import ChecksPart, Number, Part


class LostPart(Part):
    """Cases lost by one variable."""

    variable: str = Field(description="the variable without a value")
    any: int = Field(description="cases of the sample without a value there")
    only: int = Field(description="cases that lack a value there and nowhere else")
    undefined: int = Field(description="values for which a transformation is not defined")


class CasesPart(Part):
    """Which cases count."""

    table: int = Field(description="cases in the table")
    outside: int = Field(description="cases outside the sample rule")
    aside: int = Field(description="cases set aside by hand")
    used: int = Field(description="cases in use")
    lost: list[LostPart] = Field(description="variables that cost cases")
    rows: list[int] = Field(description="row numbers of the cases in use, from 1")


class TestPart(Part):
    """A joint test."""

    f: Number = Field(description="F; null where the test does not exist")
    df1: int = Field(description="numerator degrees of freedom")
    df2: int = Field(description="denominator degrees of freedom")
    p: Number = Field(description="upper tail of F")
    why: str | None = Field(description="why the test does not exist")


class NumberPart(Part):
    """How a number entered."""

    kind: Literal["number"] = Field("number", description="what it is")
    treatment: str = Field(description="the treatment in words")
    transforms: list[str] = Field(description="transformations in order")
    center: float = Field(description="what is subtracted from the transformed value")
    scale: float = Field(description="what the rest is divided by")
    mean: float = Field(description="mean of the raw values (of a number centered within groups: of its deviations)")
    sd: float = Field(description="SD of the same values")
    low: float = Field(description="least of the same values")
    high: float = Field(description="largest of the same values")
    transformed_mean: float = Field(description="mean after the transformations")
    transformed_sd: float = Field(description="SD after the transformations")


class ComparisonPart(Part):
    """One comparison of a group."""

    name: str = Field(description="its name")
    weights: list[float] = Field(description="weight of each level present; they sum to 0, of a level mean to 1")


class GroupPart(Part):
    """How a group entered."""

    kind: Literal["group"] = Field("group", description="what it is")
    coding: CodingDocument = Field(description="what its comparisons ask")
    levels: list[str] = Field(description="codes present among the model's cases")
    labels: list[str] = Field(description="their labels")
    counts: list[int] = Field(description="their cases")
    reference: str | None = Field(description="code of the reference group; null where the coding has none")
    comparisons: list[ComparisonPart] = Field(description="one for each code column")
    codes: list[list[float]] = Field(description="code columns: a row for each level")
    zero_weights: list[float] | None = Field(description="level weights where all codes are 0; null for level means")


class FactorPart(Part):
    """A factor of a model column."""

    variable: str = Field(description="the variable")
    comparison: int | None = Field(description="of a group the position of its comparison, from 0; null for a number")


class CoefficientPart(Part):
    """One coefficient of one step; the constant has no factors."""

    term: list[str] = Field(description="the variables of its term")
    factors: list[FactorPart] = Field(description="the factors of its column; empty for the constant")
    compared: dict[str, str] = Field(
        description="for each dummy-coded group of the term, the code of the level set against the reference"
    )
    left_out: bool = Field(description="whether the column was left out because others say what it says")
    estimable: bool = Field(description="whether the cases tell of it")
    why: str | None = Field(description="why b, or its standard error, does not exist")
    b: Number = Field(description="the coefficient")
    se: Number = Field(description="its standard error")
    t: Number = Field(description="b over its standard error; null where errors come from resamples")
    p: Number = Field(description="two-sided")
    low: Number = Field(description="lower end of the interval")
    high: Number = Field(description="upper end of the interval")
    beta: Number = Field(description="with outcome and numbers standardized")
    beta_se: Number = Field(description="standard error of beta")
    beta_p: Number = Field(description="p of beta, which may answer another question than b")
    vif: Number = Field(description="variance inflation factor")
    sr2: Number = Field(description="squared semipartial correlation, from the classical t")
    partial_r: Number = Field(description="partial correlation, from the classical t")
    r: Number = Field(description="zero-order correlation of the column with the outcome")
    words: str = Field(description="the sentence")


class JointPart(Part):
    """The joint test of a term of several columns."""

    term: list[str] = Field(description="the variables of the term")
    test: TestPart = Field(description="the test")


class SetPart(Part):
    """Collinearity of a term."""

    term: list[str] = Field(description="the variables of the term")
    gvif: Number = Field(description="generalized variance inflation of all its columns")


class ConditionPart(Part):
    """One condition index."""

    index: float = Field(description="the condition index")
    shares: list[float] = Field(description="share of each coefficient's variance that goes with it, constant first")


class LeftOutPart(Part):
    """A column that the model cannot hold."""

    column: int = Field(description="position among the model's columns, from 0")
    on: list[tuple[int, float]] = Field(
        description="columns it depends on, with their weights; empty if it is constant"
    )


class SmallestPart(Part):
    """What a block's test could have shown."""

    power: float = Field(description="how often the test finds it")
    f2: Number = Field(description="effect size; null under robust errors")
    change_r2: Number = Field(description="the same as a change in R²")
    why: str | None = Field(description="why there is none")


class ResampledPart(Part):
    """What a bootstrap drew."""

    draws: int = Field(description="resamples that were used")
    redrawn: int = Field(description="resamples that lost a column, in whose place others were drawn")
    percentiles_only: bool = Field(
        description="whether a case (or cluster) cannot be left out, so that intervals are percentiles"
    )


class StepPart(Part):
    """One step; everything is named, nothing rounded."""

    step: int = Field(description="counted from 1")
    block_id: str = Field(description="id of the block that makes the step")
    block: str = Field(description="name of the block")
    n: int = Field(description="cases")
    rank: int = Field(description="estimated columns, the constant included")
    df: int = Field(description="residual degrees of freedom")
    sse: float = Field(description="residual sum of squares; 0 for a perfect fit")
    sst: float = Field(description="total sum of squares")
    s2: Number = Field(description="residual variance")
    about_mean: bool = Field(description="whether R² is about the mean (else about zero)")
    perfect: bool = Field(description="whether the fit is perfect, so that errors do not exist")
    r2: Number = Field(description="R²")
    r2_low: Number = Field(description="lower end of its interval; null where there is none")
    r2_high: Number = Field(description="upper end")
    adjusted_r2: Number = Field(description="adjusted R²")
    press_r2: Number = Field(description="PRESS R²; null where a case has leverage 1")
    aic: Number = Field(description="AIC; null for a perfect fit")
    bic: Number = Field(description="BIC; null for a perfect fit")
    change_r2: Number = Field(description="what the block adds to R²")
    change_low: Number = Field(description="lower end of its interval; null where there is none")
    change_high: Number = Field(description="upper end")
    smallest: list[SmallestPart] = Field(description="the smallest change that the block's test finds with some power")
    change: TestPart = Field(description="test of what the block adds")
    f2: Number = Field(description="effect size of the block")
    whole: TestPart = Field(description="test of all columns at once")
    critical: Number = Field(description="the t that intervals use")
    error_df: int = Field(description="degrees of freedom of t and F")
    coefficients: list[CoefficientPart] = Field(description="the constant first")
    joint: list[JointPart] = Field(description="terms of several columns")
    collinearity: list[SetPart] = Field(description="generalized variance inflation of each term")
    conditions: list[ConditionPart] = Field(description="condition indices, rising")
    covariance: list[list[Number]] = Field(
        description="of b, constant first; null rows and columns where b is not given or errors do not exist"
    )
    equation: str = Field(description="to be computed by hand")


class NearPart(Part):
    """Cases of one side of what is compared."""

    levels: list[str] = Field(description="codes of the focal group's levels on that side; empty for a slope")
    cases: int = Field(description="how many of them")
    of: int = Field(description="all cases of that side")


class EffectPart(Part):
    """A conditional effect."""

    at: str | float | None = Field(description="place of a number or code of a level; null: the same everywhere")
    name: str = Field(description="name of the pick point; empty for a level")
    effect: Number = Field(description="the effect; null where no case tells of it")
    se: Number = Field(description="its standard error")
    t: Number = Field(description="effect over its standard error; null where errors come from resamples")
    p: Number = Field(description="two-sided, not adjusted")
    low: Number = Field(description="lower end of the interval")
    high: Number = Field(description="upper end of the interval")
    df: int = Field(description="degrees of freedom")
    near: list[NearPart] = Field(description="cases near a place, or in the group, of each side that is compared")
    why: str | None = Field(description="why something does not exist")
    words: str = Field(description="the sentence")


class DifferencePart(Part):
    """The focal effect at one place minus that at another."""

    of: str | float | None = Field(description="place or level code of the one")
    minus: str | float | None = Field(description="place or level code of the other")
    of_second: str | float | None = Field(None, description="place of the second moderator of the one")
    minus_second: str | float | None = Field(None, description="place of the second moderator of the other")
    effect: Number = Field(description="the difference")
    se: Number = Field(description="its standard error")
    t: Number = Field(description="difference over its standard error; null where errors come from resamples")
    p: Number = Field(description="two-sided, not adjusted")
    p_holm: Number = Field(description="Holm adjusted; null where all differences are one test")
    low: Number = Field(description="lower end of the interval")
    high: Number = Field(description="upper end of the interval")
    df: int = Field(description="degrees of freedom")
    why: str | None = Field(description="why something does not exist")
    words: str = Field(description="the sentence")


class RegionPart(Part):
    """A stretch of the moderator within the observed range."""

    low: Number = Field(description="null where it begins with the data")
    high: Number = Field(description="null where it ends with the data")
    sign: Literal[-1, 0, 1] = Field(description="0: not significant")
    words: str = Field(description="what it says")
    cases: list[NearPart] = Field(description="cases in it, of each side that is compared")
    share: float = Field(description="their share")


class RegionsPart(Part):
    """The regions of an effect by one rule."""

    rule: RegionRule = Field(description="how they are bounded")
    critical: Number = Field(description="what |t| must pass; null where no place can")
    regions: list[RegionPart] = Field(description="within the observed range, rising")
    outside: list[float] = Field(description="boundaries outside the data, about which nothing is claimed")


class ZeroPart(Part):
    """Where an effect is 0, with Fieller's set."""

    at: float = Field(description="the place")
    inside: bool = Field(description="whether it lies inside the data")
    set: Literal["bounded", "two rays", "whole line", "fixed by the model"] = Field(description="shape of the set")
    low: Number = Field(description="lower end; of two rays the end of the lower one; null on the whole line")
    high: Number = Field(description="upper end; of two rays the beginning of the upper one")


class SizedPart(Part):
    """A stretch in which an effect matters, is too small to matter, or leaves that open."""

    low: Number = Field(description="null where it begins with the data")
    high: Number = Field(description="null where it ends with the data")
    size: Literal["above", "below", "small", "open"] = Field(description="how large the effect is shown to be")
    cases: list[NearPart] = Field(description="cases in it, of each side that is compared")


class MatteringPart(Part):
    """An effect against the smallest that matters."""

    smallest: float = Field(description="in the unit of the effects")
    critical: Number = Field(description="what |t| of the distance from the smallest must pass to matter")
    critical_small: Number = Field(description="what both one-sided t must pass to be too small")
    stretches: list[SizedPart] = Field(description="within the observed range, rising")
    outside: list[float] = Field(description="boundaries outside the data")


class TogetherPart(Part):
    """Where several comparisons pass together."""

    of: Literal["joint", "any", "every"] = Field(description="their joint F, any one, or every one of them")
    critical: Number = Field(description="the F that must be passed; null of the others")
    df1: int = Field(description="degrees of freedom of the joint F")
    regions: list[RegionPart] = Field(description="within the observed range, rising; sign 1 where they pass")


class MapPart(Part):
    """An effect over two number moderators."""

    critical: Number = Field(description="what |t| must pass")
    dimension: int = Field(description="dimensions that the effect spans over both")
    bounds: list[list[list[float]]] = Field(
        description="lines of places (moderator, second) at which it stops being told apart from 0"
    )
    share: float = Field(description="share of the cases where it is told apart from 0")


class NamedTestPart(Part):
    """A test, by the name of what it asks."""

    name: str = Field(description="what it asks")
    test: TestPart = Field(description="the test")


class FocusPart(Part):
    """One focal effect."""

    compared: str | None = Field(description="name of the comparison; null for a slope")
    weights: dict[str, float] | None = Field(description="weight of each level by its code; null for a slope")
    effects: list[EffectPart] = Field(description="at the places")
    differences: list[DifferencePart] = Field(description="between every two places, of at most twelve")
    regions: RegionsPart | None = Field(
        description="by the rule that was asked for; null where the moderator is a group"
    )
    by_rule: list[RegionsPart] = Field(description="by every rule there is")
    tests: list[NamedTestPart] = Field(description="the tests that belong to this effect, the nearest first")
    zero: ZeroPart | None = Field(description="where a linear effect is 0")
    mattering: MatteringPart | None = Field(
        description="against the smallest effect that matters; null without one, or where the moderator is a group"
    )


class PanelPart(Part):
    """What is seen at one place of the second moderator; without one there is one panel."""

    second: str | float | None = Field(description="place of the second moderator")
    foci: list[FocusPart] = Field(description="the focal effects")
    lines_meet_at: list[float] = Field(description="where the lines meet, if all meet in one place")
    crossover: ZeroPart | None = Field(description="that place with Fieller's set")
    together: list[TogetherPart] = Field(description="of several comparisons along a number: where they pass together")


class ProbePart(Part):
    """A probe and its answer."""

    asked: ProbeDocument = Field(description="the probe as it was asked")
    model: str = Field(description="id of the model")
    step: int = Field(description="counted from 1")
    unit: EffectUnit = Field(description="in which units effects are given")
    joint: TestPart = Field(description="joint test of all columns that hold both")
    share: Number = Field(description="ΔR² of the highest products, entered last; null where they are not told apart")
    panels: list[PanelPart] = Field(description="one for each place of the second moderator")
    across: list[list[DifferencePart]] = Field(
        description="of each focal effect the differences between places of both moderators, Holm adjusted"
    )
    maps: list[MapPart] = Field(description="of each focal effect its map over two number moderators; else empty")


class RefusedPart(Part):
    """A probe that the model cannot answer."""

    asked: ProbeDocument = Field(description="the probe as it was asked")
    why: str = Field(description="the reason")


class DescribedPart(Part):
    """Descriptives and correlations over the model's cases."""

    variables: list[str] = Field(description="outcome, numbers and, for each indicator, its group")
    levels: list[str | None] = Field(description="code of the level of an indicator; null for numbers")
    n: int = Field(description="cases")
    mean: list[float] = Field(description="means")
    sd: list[float] = Field(description="SDs with n - 1")
    low: list[float] = Field(description="least values")
    high: list[float] = Field(description="largest values")
    correlations: list[list[Number]] = Field(description="null with a constant column")
    correlation_p: list[list[Number]] = Field(
        description="two-sided p of each; null where two columns are the same line"
    )
    correlation_low: list[list[Number]] = Field(description="lower ends of their intervals, by Fisher's z; null too")
    correlation_high: list[list[Number]] = Field(description="upper ends of their intervals")


class FlagPart(Part):
    """A flag of the current model."""

    flag: str = Field(description="kind of flag")
    about: list[str] = Field(description="the variables it is about")
    title: str = Field(description="what it says")
    cost: str = Field(description="what it costs")
    remedies: list[str] = Field(description="what can be done")
    put_aside: str | None = Field(description="the reason, if it was put aside")


class GroupModelPart(Part):
    """The model in one level of a group."""

    level: str = Field(description="code of the level")
    label: str = Field(description="its name")
    n: int = Field(description="its cases")
    problem: str = Field(description="why there is no model; empty if there is one")
    df: int | None = Field(description="residual degrees of freedom")
    sse: Number = Field(description="sum of squared residuals")
    r2: Number = Field(description="R²")
    coefficients: list[CoefficientPart] = Field(description="constant first; about the zero points of all cases")


class ByGroupPart(Part):
    """One model per group."""

    variable: str = Field(description="the group")
    problem: str = Field("", description="why there are no models per group; empty if there are")
    terms: list[list[str]] = Field([], description="the terms of every group's model")
    dropped: list[list[str]] = Field([], description="terms of the model that hold the group itself")
    without: int = Field(0, description="cases of the model without a value on the group")
    groups: list[GroupModelPart] = Field([], description="the levels present")
    test: TestPart | None = Field(None, description="all products with the group, in one model of all groups")
    joint: list[JointPart] = Field([], description="by term: its products with the group; p unadjusted")
    words: str = Field("", description="the sentence")


class ModelPart(Part):
    """One model."""

    id: str = Field(description="its id")
    name: str = Field(description="its name")
    outcome: str | None = Field(description="the variable to be explained")
    level: float = Field(description="confidence level")
    constant: bool = Field(description="whether it has a constant")
    errors: ErrorsOf = Field(description="kind of standard errors")
    clusters: int | None = Field(description="number of clusters; null without")
    resampled: ResampledPart | None = Field(description="what was drawn; null without a bootstrap")
    problem: str = Field(description="why there is no fit; empty if there is one")
    cases: CasesPart = Field(description="which cases count")
    bases: dict[str, NumberPart | GroupPart] = Field(description="how each variable entered")
    left_out: list[LeftOutPart] = Field(description="columns that the model cannot hold")
    steps: list[StepPart] = Field(description="the steps")
    described: DescribedPart | None = Field(description="descriptives; null without a fit, or of more than 60 columns")
    by_group: ByGroupPart | None = Field(None, description="one model per group, where the model asks for it")


class ResultsDocument(Part):
    """results.json, version 6."""

    format: Literal["yellow-slope-results"] = Field("yellow-slope-results", description="what this document is")
    version: Literal[6] = Field(6, description="version of the format")
    program: str = Field(description="version of the program")
    study: str = Field(description="name of the study")
    current: str = Field(description="id of the current model")
    models: list[ModelPart] = Field(description="all models of the study")
    probes: list[ProbePart] = Field(description="the probes that were answered")
    refused: list[RefusedPart] = Field(description="the probes that no model can answer")
    flags: list[FlagPart] = Field(description="flags of the current model")
    checks: ChecksPart | None = Field(description="checks of the current model; null without a fit")
