"""The shape of results.json: every field with what it means."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from msgspec import field

from yellow_slope.files.specdocument import CodingDocument, ErrorsOf
from yellow_slope.files.written.checkparts import ChecksPart, Number, Part, TestPart
from yellow_slope.files.written.probeparts import ProbePart, RefusedPart


class LostPart(Part):
    """Cases lost by one variable."""

    variable: str
    """The variable without a value."""
    any: int
    """Cases of the sample without a value there."""
    only: int
    """Cases that lack a value there and nowhere else."""
    undefined: int
    """Values for which a transformation is not defined."""


class CasesPart(Part):
    """Which cases count."""

    table: int
    """Cases in the table."""
    outside: int
    """Cases outside the sample rule."""
    aside: int
    """Cases set aside by hand."""
    used: int
    """Cases in use."""
    lost: list[LostPart]
    """Variables that cost cases."""
    rows: list[int]
    """Row numbers of the cases in use, from 1."""


class BasisPart(Part):
    """How a variable entered: as a number, or as a group."""


class NumberPart(BasisPart, kw_only=True):
    """How a number entered."""

    kind: Literal["number"] = "number"
    """What it is."""
    treatment: str
    """The treatment in words."""
    transforms: list[str]
    """Transformations in order."""
    center: float
    """What is subtracted from the transformed value."""
    scale: float
    """What the rest is divided by."""
    mean: float
    """Mean of the raw values (of a number centered within groups: of its deviations)."""
    sd: float
    """SD of the same values."""
    low: float
    """Least of the same values."""
    high: float
    """Largest of the same values."""
    transformed_mean: float
    """Mean after the transformations."""
    transformed_sd: float
    """SD after the transformations."""


class ComparisonPart(Part):
    """One comparison of a group."""

    name: str
    """Its name."""
    weights: list[float]
    """Weight of each level present; they sum to 0, of a level mean to 1."""


class GroupPart(BasisPart, kw_only=True):
    """How a group entered."""

    kind: Literal["group"] = "group"
    """What it is."""
    coding: CodingDocument
    """What its comparisons ask."""
    levels: list[str]
    """Codes present among the model's cases."""
    labels: list[str]
    """Their labels."""
    counts: list[int]
    """Their cases."""
    reference: str | None
    """Code of the reference group; null where the coding has none."""
    comparisons: list[ComparisonPart]
    """One for each code column."""
    codes: list[list[float]]
    """Code columns: a row for each level."""
    zero_weights: list[float] | None
    """Level weights where all codes are 0; null for level means."""


class FactorPart(Part):
    """A factor of a model column."""

    variable: str
    """The variable."""
    comparison: int | None
    """Of a group the position of its comparison, from 0; null for a number."""


class CoefficientPart(Part):
    """One coefficient of one step; the constant has no factors."""

    term: list[str]
    """The variables of its term."""
    factors: list[FactorPart]
    """The factors of its column; empty for the constant."""
    compared: dict[str, str]
    """For each dummy-coded group of the term, the code of the level set against the reference."""
    left_out: bool
    """Whether the column was left out because others say what it says."""
    estimable: bool
    """Whether the cases tell of it."""
    why: str | None
    """Why b, or its standard error, does not exist."""
    b: Number
    """The coefficient."""
    se: Number
    """Its standard error."""
    t: Number
    """B over its standard error; null where errors come from resamples."""
    p: Number
    """Two-sided."""
    low: Number
    """Lower end of the interval."""
    high: Number
    """Upper end of the interval."""
    beta: Number
    """With outcome and numbers standardized."""
    beta_se: Number
    """Standard error of beta."""
    beta_p: Number
    """P of beta, which may answer another question than b."""
    vif: Number
    """Variance inflation factor."""
    sr2: Number
    """Squared semipartial correlation, from the classical t."""
    partial_r: Number
    """Partial correlation, from the classical t."""
    r: Number
    """Zero-order correlation of the column with the outcome."""
    words: str
    """The sentence."""


class JointPart(Part):
    """The joint test of a term of several columns."""

    term: list[str]
    """The variables of the term."""
    test: TestPart
    """The test."""


class SetPart(Part):
    """Collinearity of a term."""

    term: list[str]
    """The variables of the term."""
    gvif: Number
    """Generalized variance inflation of all its columns."""


class ConditionPart(Part):
    """One condition index."""

    index: float
    """The condition index."""
    shares: list[float]
    """Share of each coefficient's variance that goes with it, constant first."""


class LeftOutPart(Part):
    """A column that the model cannot hold."""

    column: int
    """Position among the model's columns, from 0."""
    on: list[tuple[int, float]]
    """Columns it depends on, with their weights; empty if it is constant."""


class SmallestPart(Part):
    """What a block's test could have shown."""

    power: float
    """How often the test finds it."""
    f2: Number
    """Effect size; null under robust errors."""
    change_r2: Number
    """The same as a change in R²."""
    why: str | None
    """Why there is none."""


class ResampledPart(Part):
    """What a bootstrap drew."""

    draws: int
    """Resamples that were used."""
    redrawn: int
    """Resamples that lost a column, in whose place others were drawn."""
    percentiles_only: bool
    """Whether a case (or cluster) cannot be left out, so that intervals are percentiles."""


class StepPart(Part):
    """One step; everything is named, nothing rounded."""

    step: int
    """Counted from 1."""
    block_id: str
    """Id of the block that makes the step."""
    block: str
    """Name of the block."""
    n: int
    """Cases."""
    rank: int
    """Estimated columns, the constant included."""
    df: int
    """Residual degrees of freedom."""
    sse: float
    """Residual sum of squares; 0 for a perfect fit."""
    sst: float
    """Total sum of squares."""
    s2: Number
    """Residual variance."""
    about_mean: bool
    """Whether R² is about the mean (else about zero)."""
    perfect: bool
    """Whether the fit is perfect, so that errors do not exist."""
    r2: Number
    """R²."""
    r2_low: Number
    """Lower end of its interval; null where there is none."""
    r2_high: Number
    """Upper end."""
    adjusted_r2: Number
    """Adjusted R²."""
    press_r2: Number
    """PRESS R²; null where a case has leverage 1."""
    aic: Number
    """AIC; null for a perfect fit."""
    bic: Number
    """BIC; null for a perfect fit."""
    change_r2: Number
    """What the block adds to R²."""
    change_low: Number
    """Lower end of its interval; null where there is none."""
    change_high: Number
    """Upper end."""
    smallest: list[SmallestPart]
    """The smallest change that the block's test finds with some power."""
    change: TestPart
    """Test of what the block adds."""
    f2: Number
    """Effect size of the block."""
    whole: TestPart
    """Test of all columns at once."""
    critical: Number
    """The t that intervals use."""
    error_df: int
    """Degrees of freedom of t and F."""
    coefficients: list[CoefficientPart]
    """The constant first."""
    joint: list[JointPart]
    """Terms of several columns."""
    collinearity: list[SetPart]
    """Generalized variance inflation of each term."""
    conditions: list[ConditionPart]
    """Condition indices, rising."""
    covariance: list[list[Number]]
    """Of b, constant first; null rows and columns where b is not given or errors do not exist."""
    equation: str
    """To be computed by hand."""


class DescribedPart(Part):
    """Descriptives and correlations over the model's cases."""

    variables: list[str]
    """Outcome, numbers and, for each indicator, its group."""
    levels: list[str | None]
    """Code of the level of an indicator; null for numbers."""
    n: int
    """Cases."""
    mean: list[float]
    """Means."""
    sd: list[float]
    """SDs with n - 1."""
    low: list[float]
    """Least values."""
    high: list[float]
    """Largest values."""
    correlations: list[list[Number]]
    """Null with a constant column."""
    correlation_p: list[list[Number]]
    """Two-sided p of each; null where two columns are the same line."""
    correlation_low: list[list[Number]]
    """Lower ends of their intervals, by Fisher's z; null too."""
    correlation_high: list[list[Number]]
    """Upper ends of their intervals."""


class FlagPart(Part):
    """A flag of the current model."""

    flag: str
    """Kind of flag."""
    about: list[str]
    """The variables it is about."""
    title: str
    """What it says."""
    cost: str
    """What it costs."""
    remedies: list[str]
    """What can be done."""
    put_aside: str | None
    """The reason, if it was put aside."""


class GroupModelPart(Part):
    """The model in one level of a group."""

    level: str
    """Code of the level."""
    label: str
    """Its name."""
    n: int
    """Its cases."""
    problem: str
    """Why there is no model; empty if there is one."""
    df: int | None
    """Residual degrees of freedom."""
    sse: Number
    """Sum of squared residuals."""
    r2: Number
    """R²."""
    coefficients: list[CoefficientPart]
    """Constant first; about the zero points of all cases."""


class ByGroupPart(Part):
    """One model per group."""

    variable: str
    """The group."""
    problem: str = ""
    """Why there are no models per group; empty if there are."""
    terms: list[list[str]] = field(default_factory=list)
    """The terms of every group's model."""
    dropped: list[list[str]] = field(default_factory=list)
    """Terms of the model that hold the group itself."""
    without: int = 0
    """Cases of the model without a value on the group."""
    groups: list[GroupModelPart] = field(default_factory=list)
    """The levels present."""
    test: TestPart | None = None
    """All products with the group, in one model of all groups."""
    joint: list[JointPart] = field(default_factory=list)
    """By term: its products with the group; p unadjusted."""
    words: str = ""
    """The sentence."""


class ModelPart(Part):
    """One model."""

    id: str
    """Its id."""
    name: str
    """Its name."""
    outcome: str | None
    """The variable to be explained."""
    level: float
    """Confidence level."""
    constant: bool
    """Whether it has a constant."""
    errors: ErrorsOf
    """Kind of standard errors."""
    clusters: int | None
    """Number of clusters; null without."""
    resampled: ResampledPart | None
    """What was drawn; null without a bootstrap."""
    problem: str
    """Why there is no fit; empty if there is one."""
    cases: CasesPart
    """Which cases count."""
    bases: Mapping[str, BasisPart]
    """How each variable entered."""
    left_out: list[LeftOutPart]
    """Columns that the model cannot hold."""
    steps: list[StepPart]
    """The steps."""
    described: DescribedPart | None
    """Descriptives; null without a fit, or of more than 60 columns."""
    by_group: ByGroupPart | None = None
    """One model per group, where the model asks for it."""


class ResultsDocument(Part, kw_only=True):
    """results.json, version 6."""

    format: Literal["yellow-slope-results"] = "yellow-slope-results"
    """What this document is."""
    version: Literal[6] = 6
    """Version of the format."""
    program: str
    """Version of the program."""
    study: str
    """Name of the study."""
    current: str
    """Id of the current model."""
    models: list[ModelPart]
    """All models of the study."""
    probes: list[ProbePart]
    """The probes that were answered."""
    refused: list[RefusedPart]
    """The probes that no model can answer."""
    flags: list[FlagPart]
    """Flags of the current model."""
    checks: ChecksPart | None
    """Checks of the current model; null without a fit."""
