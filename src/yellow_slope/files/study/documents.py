"""The shapes of our own JSON documents: the study's own part, the description of a model, and their schemas."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from yellow_slope.core.data.derived import MOST_COMPUTED
from yellow_slope.core.data.source import MISSING_WORDS
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import MOST_FIGURES
from yellow_slope.core.study.probe import LONGEST_NAME, MOST_PROBES, Compared, EffectUnit, PickRule, RegionRule
from yellow_slope.core.study.report import (
    FEWEST_DECIMALS,
    LONGEST_COMMENT,
    MOST_CHOSEN,
    USUAL_DECIMALS,
    USUAL_FIGURES,
    BesideCorrelation,
    CoefficientFigure,
    PartKind,
)
from yellow_slope.core.study.standarderrors import FEWEST_DRAWS, MOST_DRAWS, IntervalWay
from yellow_slope.core.study.treatment import Base, Transform
from yellow_slope.files.study.figures import FigureDocument


def _of_one(said: object) -> object:
    """A term of one variable may be written as its name alone."""
    return [said] if isinstance(said, str) else said


Names = Annotated[
    list[str],
    BeforeValidator(_of_one),
    Field(min_length=1, description="the variables that the term multiplies; twice is a square; of one its name alone"),
]
ReadyTreatment = Literal["as it is", "centered", "standardized"]
CodingName = Literal[
    "dummy",
    "effect",
    "weighted effect",
    "adjacent",
    "against later mean",
    "against earlier mean",
    "trends",
    "planned",
    "level means",
]
ErrorsName = Literal["classical", "HC0", "HC1", "HC2", "HC3", "HC4"]


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", populate_by_name=True)


class AtDocument(_Document):
    """Zero at a given value of the transformed scale."""

    at: float = Field(description="the value that becomes 0")


class WithinDocument(_Document):
    """Zero at the mean of each case's own group."""

    within: str = Field(description="the group variable")


class ByDocument(_Document):
    """A unit of a given size."""

    by: float = Field(gt=0, description="the size of a unit")


ZeroOf = Literal["as it is", "mean", "median"] | AtDocument | WithinDocument
ScaleOf = Literal["one", "sd"] | ByDocument


class TreatmentDocument(_Document):
    """How a number enters: transformations in order, then a zero point, then a scale."""

    transforms: list[Transform] = Field([], description="in order; “reverse” needs declared limits")
    zero: ZeroOf = Field("as it is", description="where 0 lies on the transformed scale")
    scale: ScaleOf = Field("one", description="how large a unit is")
    base: Base = Field(Base.MODEL, description="the cases over which means and SDs are taken")


class QuestionDocument(_Document):
    """A planned comparison: one side's mean minus the other's, or own weights."""

    name: str = Field("", description="what the question is called")
    one: list[str] = Field([], description="levels on the one side, by code or label")
    other: list[str] = Field([], description="levels on the other side")
    weights: dict[str, float] = Field({}, description="own weights that sum to 0, instead of the sides")


class CodingDocument(_Document):
    """What the comparisons of a group variable ask."""

    coding: CodingName = Field(description="the kind of comparisons")
    reference: str | None = Field(None, description="dummy: the reference, by code or label; null: nobody chose one")
    without: str | None = Field(None, description="effect codes: the level without a comparison; null: the last")
    spacing: dict[str, float] = Field({}, description="trends: the place of every level; empty: equal steps")
    questions: list[QuestionDocument] = Field(
        [], description="planned: one less than there are levels are coded; what follows from others is tested only"
    )
    names: dict[str, str] = Field(
        {}, description="names of comparisons: by the code of their level, of trends by their degree"
    )


class ClusterDocument(_Document):
    """Standard errors clustered by an id."""

    cluster: str = Field(description="the variable that tells which cases belong together")


class BootstrapDocument(_Document):
    """Standard errors, intervals, p and regions from resamples."""

    bootstrap: IntervalWay = Field(description="how intervals are read off the resamples")
    draws: int = Field(5000, ge=FEWEST_DRAWS, le=MOST_DRAWS, description="how many resamples are drawn")
    seed: int = Field(1, ge=0, description="makes the same resamples come again")
    cluster: str | None = Field(None, description="the variable whose clusters are drawn whole; without it cases are")


Treated = ReadyTreatment | TreatmentDocument
Coded = CodingName | CodingDocument
ErrorsOf = ErrorsName | ClusterDocument | BootstrapDocument


class RuleDocument(_Document):
    """One rule: a variable with one comparison, or `all`, `any` or `not` with other rules."""

    variable: str | None = Field(None, description="the variable that is asked")
    is_: str | float | None = Field(None, alias="is", description="is this value, or this level by code or label")
    one_of: list[str | float] | None = Field(None, alias="one of", description="is one of these")
    at_least: float | None = Field(None, alias="at least", description="is that or more")
    at_most: float | None = Field(None, alias="at most", description="is that or less")
    between: tuple[float, float] | None = Field(None, description="lies between the two, both included")
    missing: Literal[True] | None = Field(None, description="has no value")
    all_: list[RuleDocument] | None = Field(None, alias="all", description="all of these hold")
    any_: list[RuleDocument] | None = Field(None, alias="any", description="at least one of these holds")
    not_: RuleDocument | None = Field(None, alias="not", description="this does not hold")


class AsideDocument(_Document):
    """Cases set aside by hand."""

    rows: list[Annotated[int, Field(ge=1)]] = Field(description="row numbers of the table, from 1")
    reason: str = Field(description="why")


class SampleDocument(_Document):
    """Which cases a model may rest on."""

    name: str = Field(description="what models call it")
    rule: RuleDocument | str | None = Field(
        None, description="a rule, or a typed condition as in “practice at least 5”; without one all cases"
    )
    aside: list[AsideDocument] = Field([], description="cases set aside")


class BlockDocument(_Document):
    """Terms entered together."""

    id: str = Field("", description="by which probes know the block")
    name: str = Field("", description="what the block asks")
    on: bool = Field(True, description="a block that is off has no step")
    terms: list[Names] = Field(description="each the list of variables it multiplies")


class SecondDocument(_Document):
    """A second moderator."""

    variable: str = Field(description="its name")
    pick: PickRule = Field(PickRule.MEAN_AND_SD, description="where a number is looked at; a group in all its levels")
    values: list[float] = Field([], description="pick points, for the rule “own values”")


class SmallestDocument(_Document):
    """The smallest effect that matters."""

    size: float = Field(gt=0, allow_inf_nan=False, description="its size")
    unit: EffectUnit = Field(EffectUnit.TREATED, description="the unit of its size")


class ProbeDocument(_Document):
    """A question to one model: the focal predictor's effect along a moderator."""

    focal: str = Field(description="the predictor whose effect is asked")
    moderator: str = Field(
        description="what the effect may depend on; the focal predictor itself where it is in no product"
    )
    step: int | str | None = Field(
        None, description="counted from 1, or the id of the block that makes it; without it the last step"
    )
    pick: PickRule = Field(PickRule.MEAN_AND_SD, description="where a number moderator is looked at")
    values: list[float] = Field([], description="pick points, for the rule “own values”")
    held: dict[str, str | float] = Field(
        {}, description="a value for another number, a level for another group; others stand at mean or shares"
    )
    second: SecondDocument | None = Field(None, description="a second moderator, with a panel for each of its places")
    band: RegionRule = Field(RegionRule.POINTWISE, description="how the region of significance is bounded")
    model: str | None = Field(None, description="id or name of the model; without it the current one")
    unit: EffectUnit = Field(EffectUnit.TREATED, description="in which units effects are given")
    smallest: SmallestDocument | None = Field(None, description="the smallest effect that matters")
    compared: Compared = Field(
        Compared.PAIRS, description="which differences between the groups of a moderator are given"
    )
    name: str = Field("", max_length=LONGEST_NAME, description="the name under which it is kept")


class VariableDocument(_Document):
    """What is said about one column; what is left out is guessed."""

    kind: Literal["number", "group", "text"] | None = Field(None, description="how the column is understood")
    label: str | None = Field(None, description="its name in words")
    short: str | None = Field(None, description="a name of at most 18 characters")
    unit: str | None = Field(None, description="singular, as in “hour”")
    units: str | None = Field(None, description="plural, as in “hours”")
    limits: tuple[float, float] | None = Field(None, description="declared limits of a scale")
    reliability: float | None = Field(None, gt=0, le=1, description="of a scale, as in 0.82")
    levels: dict[str, str] | None = Field(
        None, description="label of each code, in the order wanted; codes of the same label are one level"
    )
    missing: list[str] | None = Field(None, description="codes that stand for a missing value")
    treatment: Treated | None = Field(None, description="how a number enters")
    coding: Coded | None = Field(None, description="what the comparisons of a group ask")
    reference: str | None = Field(None, description="code or label of the reference group")


class EntryDocument(_Document):
    """How a variable enters a further model."""

    treatment: Treated | None = Field(None, description="how a number enters")
    coding: Coded | None = Field(None, description="what the comparisons of a group ask")
    reference: str | None = Field(None, description="code or label of the reference group")


class FurtherModelDocument(_Document):
    """Another model of the same table; what it leaves out is as in the first one."""

    name: str = Field(description="what it is called")
    outcome: str | None = Field(None, description="the variable to be explained")
    blocks: list[BlockDocument | list[Names]] | None = Field(None, description="its blocks")
    variables: dict[str, EntryDocument] = Field({}, description="how variables enter, where it differs")
    constant: bool | None = Field(None, description="with or without a constant")
    sample: str | None = Field(None, description="name of its sample")
    level: float | None = Field(None, ge=0.5, lt=1, description="confidence level")
    errors: ErrorsOf | None = Field(None, description="kind of standard errors")
    by: str | None = Field(None, description="a group variable: the last step is also fitted in each of its levels")
    reported: int | None = Field(None, ge=1, description="the step that is reported, from 1; without it the last")


class SpecDocument(_Document):
    """A small description of a model, from which a study is made of a table file."""

    name: str | None = Field(None, description="name of the study")
    derived: dict[str, str] = Field({}, description="new variables, each with its expression")
    variables: dict[str, VariableDocument] = Field({}, description="what is said about columns")
    samples: list[SampleDocument] = Field([], description="samples that models may rest on")
    outcome: str = Field(description="the variable to be explained")
    level: float = Field(0.95, ge=0.5, lt=1, description="confidence level")
    blocks: list[BlockDocument | list[Names]] = Field(description="each a list of terms, or an object with a name")
    constant: bool = Field(True, description="with or without a constant")
    sample: str | None = Field(None, description="name of the sample; without it all cases")
    errors: ErrorsOf = Field("classical", description="kind of standard errors")
    by: str | None = Field(None, description="a group variable: the last step is also fitted in each of its levels")
    reported: int | None = Field(None, ge=1, description="the step that is reported, from 1; without it the last")
    models: list[FurtherModelDocument] = Field([], description="further models")
    probes: list[ProbeDocument] = Field([], description="questions to the models")


class DismissalDocument(_Document):
    """A flag put aside, with the reason."""

    flag: str = Field(description="the kind of flag")
    about: list[str] = Field([], description="the variables it is about")
    reason: str = Field(description="why it may stand")


class ModelDocument(_Document):
    """One model of a study."""

    id: str = Field(description="by which probes know it")
    name: str = Field("", description="the name under which it is kept")
    outcome: str | None = Field(description="the variable to be explained")
    blocks: list[BlockDocument] = Field(description="ordered blocks of terms")
    by: str | None = Field(None, description="a group variable: the last step is also fitted in each of its levels")
    entries: dict[str, Treated | CodingDocument] = Field(description="how variables enter, where something was said")
    constant: bool = Field(True, description="with or without a constant")
    sample: str | None = Field(None, description="name of its sample; null: all cases")
    level: float = Field(ge=0.5, lt=1, description="confidence level")
    errors: ErrorsOf = Field("classical", description="kind of standard errors")
    leave_out_first: list[Names] = Field([], description="terms left out first where columns depend on each other")
    reported: str | None = Field(None, description="id of the block whose step is reported; null: the last step")


class ReadAsDocument(_Document):
    """How a file was read."""

    separator: str = Field(description="what stands between cells")
    decimal: Literal[".", ","] = Field(description="the decimal mark")
    names: bool = Field(description="whether names stand in the first row of the table")
    above: int = Field(0, ge=0, description="lines above the table that do not belong to it")
    encoding: str = Field("utf-8", description="the file's encoding")
    quote: Literal['"', "'", ""] = Field('"', description="what cells are quoted with")
    ragged: Literal["refuse", "fill", "skip"] = Field("refuse", description="what is done with rows of another length")
    missing: list[str] = Field(list(MISSING_WORDS), description="words that count as missing, whatever their case")
    format: Literal["text", "spreadsheet", "parquet", "records", "package"] = Field("text", description="kind of file")
    sheet: str = Field("", description="sheet of a spreadsheet, or resource of a package")


class FoundDocument(_Document):
    """What the reading came upon."""

    missing: dict[str, int] = Field({}, description="words that counted as missing, and in how many cells")
    ragged: list[int] = Field([], description="first rows that were filled or skipped, from 1 as in the file")
    n_ragged: int = Field(0, description="how many rows were filled or skipped")
    doubtful: str = Field("", description="a number that could be meant otherwise, where nothing in the file decides")
    doubtful_columns: list[str] = Field([], description="columns that hold such numbers")
    empty_columns: int = Field(0, description="columns without name and value that were left out")
    sheets: list[str] = Field([], description="sheets of the spreadsheet, or resources of the package")


class SourceDocument(_Document):
    """The file the table was read from."""

    path: str = Field("", description="the file's name")
    checksum: str = Field("", description="SHA-256 of the file's bytes")
    read_as: ReadAsDocument = Field(description="how it was read")
    description: str = Field("", description="name of the description beside it")
    found: FoundDocument = Field(FoundDocument(), description="what the reading came upon")


class LevelDocument(_Document):
    """A level of a computed group."""

    codes: list[str] = Field(min_length=1, description="the values that mean it")
    label: str = Field(description="its name")


class DerivedDocument(_Document):
    """A computed variable."""

    expression: str = Field(description="how it is computed, with the columns' own names in brackets")
    label: str = Field("", description="its name in words")
    short: str = Field("", description="a name of at most 18 characters")
    unit: str = Field("", description="singular, as in “hour”")
    units: str = Field("", description="plural, as in “hours”")
    limits: tuple[float, float] | None = Field(None, description="lowest and highest value there can be")
    kind: Literal["number", "group", "text", "identifier", "date"] = Field("number", description="how it is understood")
    levels: list[LevelDocument] = Field([], description="levels of a computed group")
    ordered: bool = Field(False, description="whether the order of the levels means something")
    missing: list[str] = Field([], description="values that count as missing")
    reliability: float | None = Field(None, gt=0, le=1, description="of a scale, as in 0.82")


class ChecksDocument(_Document):
    """What was decided about checks."""

    studentized: float | None = Field(None, gt=0, description="cut-off of studentized residuals; none: 3")
    cook: float | None = Field(None, gt=0, description="cut-off of Cook's distance; none: 4/n")
    distance: float | None = Field(None, gt=0, description="cut-off of Mahalanobis D²; none: its quantile .999")
    exact: bool = Field(False, description="whether that quantile is of the exact distribution, not of chi-square")
    groups: bool = Field(True, description="whether D² counts groups as indicators")
    split: str | None = Field(None, description="a group in whose levels the product is looked at alone")
    printed: list[Check] = Field([Check.SPREAD, Check.NORMAL], description="questions whose plots the report prints")


class ReportPartDocument(_Document):
    """A part of the report."""

    part: PartKind = Field(description="which")
    on: bool = Field(True, description="whether it is printed")
    above: str = Field("", max_length=LONGEST_COMMENT, description="words above it")
    below: str = Field("", max_length=LONGEST_COMMENT, description="words below it")


class ReportDocument(_Document):
    """What the report prints."""

    parts: list[ReportPartDocument] = Field(
        [], max_length=100, description="its parts in order; others follow as usual"
    )
    assigned: list[str] = Field([], description="variables to which cases were assigned")
    decimals: int = Field(
        USUAL_DECIMALS, ge=FEWEST_DECIMALS, le=MOST_CHOSEN, description="decimals of estimates in tables and findings"
    )
    stars: bool = Field(False, description="whether tables mark p below .05, .01 and .001")
    beside: list[CoefficientFigure] = Field(list(USUAL_FIGURES), description="what stands beside each coefficient")
    correlations: BesideCorrelation = Field(
        BesideCorrelation.NOTHING, description="what stands beside each correlation"
    )


class PinnedDocument(_Document):
    """A flag that a remedy asked to stand."""

    flag: str = Field(description="what it is about")
    about: list[str] = Field([], description="the variables")


class StudyDocument(_Document):
    """study.json: the analysis; the table and its description stand beside it in the package."""

    format: Literal["yellow-slope-study"] = Field(description="what this document is")
    version: Literal[9] = Field(description="version of the format")
    name: str = Field(description="name of the study")
    source: SourceDocument | None = Field(None, description="where the table came from")
    derived: dict[str, DerivedDocument] = Field({}, max_length=MOST_COMPUTED, description="computed variables")
    otherwise: dict[str, Literal["group", "identifier"]] = Field(
        {}, description="variables that are numbers only as outcomes, and what they are otherwise"
    )
    samples: list[SampleDocument] = Field([], max_length=1000, description="samples that models may rest on")
    models: list[ModelDocument] = Field(min_length=1, max_length=1000, description="the models")
    current: str = Field(description="id of the model that is worked on")
    probes: list[ProbeDocument] = Field([], max_length=MOST_PROBES, description="questions to the models")
    checks: ChecksDocument = Field(ChecksDocument(), description="what was decided about checks")
    figure_letters: float = Field(9.0, ge=5, le=24, description="size of the letters of figures, in points")
    figures: list[FigureDocument] = Field([], max_length=MOST_FIGURES, description="figures that were made one's own")
    report: ReportDocument = Field(ReportDocument(), description="what the report prints")
    dismissals: list[DismissalDocument] = Field([], description="flags put aside")
    pinned: list[PinnedDocument] = Field([], description="flags that stand until they are put aside")
