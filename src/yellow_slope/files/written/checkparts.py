"""The shape of the checks in results.json: every field with what it means."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

Number = float | None


class Part(BaseModel):
    """What every part is: nothing else stands in it."""

    model_config = ConfigDict(extra="forbid")


class StandingColumnPart(Part):
    """One column of the product."""

    name: str = Field(description="what it asks, in words")
    b: Number = Field(description="the coefficient")
    se: Number = Field(description="its standard error")
    t: Number = Field(description="b over its standard error; null where errors come from resamples")
    p: Number = Field(description="two-sided")
    low: Number = Field(description="lower end of the interval")
    high: Number = Field(description="upper end of the interval")


class StandingPart(Part):
    """What a model says of the product."""

    n: int = Field(description="cases in use")
    columns: list[StandingColumnPart] = Field(description="its columns; in units of the rival")
    f: Number = Field(description="of several columns their joint F; null of one")
    df1: int | None = Field(description="numerator degrees of freedom of F")
    df2: int | None = Field(description="denominator degrees of freedom of F")
    p: Number = Field(description="of the one column, or of F")
    why: str = Field(description="why nothing can be told; empty where something can")


class LeftOutRangePart(Part):
    """The product over all fits without one case, with classical errors."""

    low: Number = Field(description="least b; null of several columns")
    high: Number = Field(description="largest b")
    p_low: Number = Field(description="least p, by the model's own standard errors; null where these have none")
    p_high: Number = Field(description="largest p")
    row: int = Field(description="who moves it most, by row from 1")
    turns: list[int] = Field(description="rows without which, each alone, p is on the other side of the level")
    alone: int = Field(description="cases without which nothing can be told")


class RivalPart(Part):
    """The product after one thing was done otherwise."""

    name: str = Field(description="the rival, in words")
    kind: str = Field(description="errors, any one left out, without far, put back, squares, covariate, outcome, level")
    terms: list[list[str]] = Field(description="terms that are entered")
    rows: list[int] = Field(description="rows that are left out or put back, from 1")
    same_units: bool = Field(description="whether b is in the units of the product as it stands")
    standing: StandingPart = Field(description="what it says")
    range: LeftOutRangePart | None = Field(description="of any one case left out")
    keeps_sign: bool | None = Field(description="whether b has the sign it has; null where there is none")
    same_conclusion: bool | None = Field(description="whether p is on the same side of the level; null without a p")


class StandPart(Part):
    """Does the product stand."""

    product: list[str] = Field(description="its variables")
    as_it_stands: StandingPart = Field(description="what the model says")
    rivals: list[RivalPart] = Field(description="its rivals")
    words: str = Field(description="the leading sentence")


class SpreadLevelPart(Part):
    """Residual variance in a level."""

    level: str = Field(description="code of the level")
    n: int = Field(description="its cases")
    variance: Number = Field(description="of its residuals; null of fewer than two")


class ThirdPart(Part):
    """The focal effect within a third of the moderator."""

    low: float = Field(description="least value of the moderator in it")
    high: float = Field(description="largest value")
    at: float = Field(description="its median, where the effect is taken")
    n: int = Field(description="its cases")
    effect: Number = Field(description="the effect")
    se: Number = Field(description="its classical standard error")
    ends: list[Number] = Field(description="ends of its interval")
    line: Number = Field(description="the effect of the model there")


class OverlapPart(Part):
    """How much of a term the others say."""

    term: list[str] = Field(description="its variables")
    columns: int = Field(description="its columns")
    now: Number = Field(description="variance inflation, of a set the generalized one to the power 1/columns")
    raw: Number = Field(description="with no number centered")
    centered: Number = Field(description="with every number centered")


class FarPart(Part):
    """The cases beyond a cut-off."""

    by: str = Field(description="studentized, cook or distance")
    cutoff: Number = Field(description="the cut-off in use")
    typed: bool = Field(description="whether somebody chose it")
    rows: list[int] = Field(description="rows beyond it, from 1")


class StatePart(Part):
    """The model with other cases."""

    name: str = Field(description="which cases")
    n: int = Field(description="how many")
    r2: list[float] = Field(description="of every step")
    change: list[float] = Field(description="change in R² of every step")
    change_p: list[Number] = Field(description="its p")
    product: StandingPart | None = Field(description="what it says of the product")
    boundaries: dict[str, list[float]] = Field(description="boundaries of each focal effect within the data")
    flags: list[str] = Field(description="flags that stand")
    why: str = Field(description="why there is no fit; empty where there is one")


class ChecksPart(Part):
    """Checks of the reported step of the current model."""

    step: int = Field(description="the step, from 0")
    stand: StandPart | None = Field(description="does the product stand; null without one")
    breusch_pagan: Number = Field(description="n R² of the squared residuals on the columns (Koenker's form)")
    breusch_pagan_df: int = Field(description="its degrees of freedom")
    breusch_pagan_p: Number = Field(description="upper tail of chi-square")
    robust_ratio: Number = Field(description="HC3 over classical standard error of the product's first column")
    variances: dict[str, list[SpreadLevelPart]] = Field(description="residual variances by group")
    shapiro_w: Number = Field(description="of internally studentized residuals; null above 5,000 cases")
    shapiro_p: Number = Field(description="its p")
    skewness: Number = Field(description="of internally studentized residuals, over n")
    kurtosis: Number = Field(description="excess, over n")
    durbin_watson: Number = Field(description="in the order of the rows")
    lag_one: Number = Field(description="lag-1 autocorrelation")
    reset_f: Number = Field(description="of squares and cubes of what is predicted")
    reset_df: list[int] = Field(description="its degrees of freedom")
    reset_p: Number = Field(description="its p")
    thirds: list[ThirdPart] = Field(description="of a product of two variables along a number")
    boundaries_without_each: list[list[float]] = Field(
        description="range of each boundary over all fits without one case; empty where their number varies"
    )
    overlap: list[OverlapPart] = Field(description="of every term")
    condition_index: Number = Field(description="the largest, as the columns are")
    condition_index_raw: Number = Field(description="with no number centered")
    condition_index_centered: Number = Field(description="with every number centered")
    partial_r: Number = Field(description="of the product's first column")
    far: list[FarPart] = Field(description="cases beyond the cut-offs")
    before_and_after: list[StatePart] = Field(description="the model with other cases side by side")
