"""The shape of the checks in results.json: every field with what it means."""

from __future__ import annotations

from msgspec import Struct

Number = float | None


class Part(Struct, kw_only=True, forbid_unknown_fields=True):
    """What every part is: nothing else stands in it."""


class TestPart(Part):
    """A joint test."""

    f: Number
    """F; null where the test does not exist."""
    df1: int
    """Numerator degrees of freedom."""
    df2: int
    """Denominator degrees of freedom."""
    p: Number
    """Upper tail of F."""
    why: str | None
    """Why the test does not exist."""


class StandingColumnPart(Part):
    """One column of the product."""

    name: str
    """What it asks, in words."""
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


class StandingPart(Part):
    """What a model says of the product."""

    n: int
    """Cases in use."""
    columns: list[StandingColumnPart]
    """Its columns; in units of the rival."""
    f: Number
    """Of several columns their joint F; null of one."""
    df1: int | None
    """Numerator degrees of freedom of F."""
    df2: int | None
    """Denominator degrees of freedom of F."""
    p: Number
    """Of the one column, or of F."""
    why: str
    """Why nothing can be told; empty where something can."""


class LeftOutRangePart(Part):
    """The product over all fits without one case, with classical errors."""

    low: Number
    """Least b; null of several columns."""
    high: Number
    """Largest b."""
    p_low: Number
    """Least p, by the model's own standard errors; null where these have none."""
    p_high: Number
    """Largest p."""
    row: int
    """Who moves it most, by row from 1."""
    turns: list[int]
    """Rows without which, each alone, p is on the other side of the level."""
    alone: int
    """Cases without which nothing can be told."""


class RivalPart(Part):
    """The product after one thing was done otherwise."""

    name: str
    """The rival, in words."""
    kind: str
    """Errors, any one left out, without far, put back, squares, covariate, outcome, level."""
    terms: list[list[str]]
    """Terms that are entered."""
    rows: list[int]
    """Rows that are left out or put back, from 1."""
    same_units: bool
    """Whether b is in the units of the product as it stands."""
    standing: StandingPart
    """What it says."""
    range: LeftOutRangePart | None
    """Of any one case left out."""
    keeps_sign: bool | None
    """Whether b has the sign it has; null where there is none."""
    same_conclusion: bool | None
    """Whether p is on the same side of the level; null without a p."""


class StandPart(Part):
    """Does the product stand."""

    product: list[str]
    """Its variables."""
    as_it_stands: StandingPart
    """What the model says."""
    rivals: list[RivalPart]
    """Its rivals."""
    words: str
    """The leading sentence."""


class SpreadLevelPart(Part):
    """Residual variance in a level."""

    level: str
    """Code of the level."""
    n: int
    """Its cases."""
    variance: Number
    """Of its residuals; null of fewer than two."""


class ThirdPart(Part):
    """The focal effect within a third of the moderator."""

    low: float
    """Least value of the moderator in it."""
    high: float
    """Largest value."""
    at: float
    """Its median, where the effect is taken."""
    n: int
    """Its cases."""
    effect: Number
    """The effect."""
    se: Number
    """Its classical standard error."""
    ends: list[Number]
    """Ends of its interval."""
    line: Number
    """The effect of the model there."""


class OverlapPart(Part):
    """How much of a term the others say."""

    term: list[str]
    """Its variables."""
    columns: int
    """Its columns."""
    now: Number
    """Variance inflation, of a set the generalized one to the power 1/columns."""
    raw: Number
    """With no number centered."""
    centered: Number
    """With every number centered."""


class FarPart(Part):
    """The cases beyond a cut-off."""

    by: str
    """Studentized, cook or distance."""
    cutoff: Number
    """The cut-off in use."""
    typed: bool
    """Whether somebody chose it."""
    rows: list[int]
    """Rows beyond it, from 1."""


class StatePart(Part):
    """The model with other cases."""

    name: str
    """Which cases."""
    n: int
    """How many."""
    r2: list[float]
    """Of every step."""
    change: list[float]
    """Change in R² of every step."""
    change_p: list[Number]
    """Its p."""
    product: StandingPart | None
    """What it says of the product."""
    boundaries: dict[str, list[float]]
    """Boundaries of each focal effect within the data."""
    flags: list[str]
    """Flags that stand."""
    why: str
    """Why there is no fit; empty where there is one."""


class ChecksPart(Part):
    """Checks of the reported step of the current model."""

    step: int
    """The step, from 0."""
    stand: StandPart | None
    """Does the product stand; null without one."""
    breusch_pagan: Number
    """N R² of the squared residuals on the columns (Koenker's form)."""
    breusch_pagan_df: int
    """Its degrees of freedom."""
    breusch_pagan_p: Number
    """Upper tail of chi-square."""
    robust_ratio: Number
    """HC3 over classical standard error of the product's first column."""
    variances: dict[str, list[SpreadLevelPart]]
    """Residual variances by group."""
    shapiro_w: Number
    """Of internally studentized residuals; null above 5,000 cases."""
    shapiro_p: Number
    """Its p."""
    skewness: Number
    """Of internally studentized residuals, over n."""
    kurtosis: Number
    """Excess, over n."""
    durbin_watson: Number
    """In the order of the rows."""
    lag_one: Number
    """Lag-1 autocorrelation."""
    reset_f: Number
    """Of squares and cubes of what is predicted."""
    reset_df: list[int]
    """Its degrees of freedom."""
    reset_p: Number
    """Its p."""
    thirds: list[ThirdPart]
    """Of a product of two variables along a number."""
    boundaries_without_each: list[list[float]]
    """Range of each boundary over all fits without one case; empty where their number varies."""
    overlap: list[OverlapPart]
    """Of every term."""
    condition_index: Number
    """The largest, as the columns are."""
    condition_index_raw: Number
    """With no number centered."""
    condition_index_centered: Number
    """With every number centered."""
    partial_r: Number
    """Of the product's first column."""
    far: list[FarPart]
    """Cases beyond the cut-offs."""
    before_and_after: list[StatePart]
    """The model with other cases side by side."""
