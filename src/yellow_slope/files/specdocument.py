"""The small description of a model, from which a study is made of a table file: what can be said in it."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import UNSET, Meta, Struct, UnsetType, field

from yellow_slope.core.study.probe import LONGEST_NAME, Compared, EffectUnit, PickRule, RegionRule
from yellow_slope.core.study.standarderrors import FEWEST_DRAWS, MOST_DRAWS, IntervalWay
from yellow_slope.core.study.treatment import Base, Transform

Names = Annotated[list[str], Meta(min_length=1)] | str
"""The variables that a term multiplies; twice is a square; of one its name alone."""
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
Confidence = Annotated[float, Meta(ge=0.5, lt=1)]
Step = Annotated[int, Meta(ge=1)]


class Document(Struct, kw_only=True, forbid_unknown_fields=True):
    """What every part is: nothing else stands in it."""


class ZeroDocument(Document):
    """A zero point: one of the two."""

    at: float | None = None
    """A value of the transformed scale, which becomes 0."""
    within: str | None = None
    """A group variable: each case counts from the mean of its own group."""

    def __post_init__(self) -> None:
        if (self.at is None) == (self.within is None):
            raise ValueError("either “at” or “within” is expected here.")


class ByDocument(Document):
    """A unit of a given size."""

    by: Annotated[float, Meta(gt=0)]
    """The size of a unit."""


class TreatmentDocument(Document):
    """How a number enters: transformations in order, then a zero point, then a scale."""

    transforms: list[Transform] = field(default_factory=list)
    """In order; “reverse” needs declared limits."""
    zero: Literal["as it is", "mean", "median"] | ZeroDocument = "as it is"
    """Where 0 lies on the transformed scale."""
    scale: Literal["one", "sd"] | ByDocument = "one"
    """How large a unit is."""
    base: Base = Base.MODEL
    """The cases over which means and SDs are taken."""


class QuestionDocument(Document):
    """A planned comparison: one side's mean minus the other's, or own weights."""

    name: str = ""
    """What the question is called."""
    one: list[str] = field(default_factory=list)
    """Levels on the one side, by code or label."""
    other: list[str] = field(default_factory=list)
    """Levels on the other side."""
    weights: dict[str, float] = field(default_factory=dict)
    """Own weights that sum to 0, instead of the sides."""


class CodingDocument(Document):
    """What the comparisons of a group variable ask."""

    coding: CodingName
    """The kind of comparisons."""
    reference: str | None = None
    """Dummy: the reference, by code or label; null: nobody chose one."""
    without: str | None = None
    """Effect codes: the level without a comparison; null: the last."""
    spacing: dict[str, float] = field(default_factory=dict)
    """Trends: the place of every level; empty: equal steps."""
    questions: list[QuestionDocument] = field(default_factory=list)
    """Planned: one less than there are levels are coded; what follows from others is tested only."""
    names: dict[str, str] = field(default_factory=dict)
    """Names of comparisons: by the code of their level, of trends by their degree."""


class ErrorsDocument(Document):
    """Standard errors clustered by an id, or from resamples."""

    cluster: str | None = None
    """The variable that tells which cases belong together; of a bootstrap its clusters are drawn whole."""
    bootstrap: IntervalWay | UnsetType = UNSET
    """How intervals are read off the resamples."""
    draws: Annotated[int, Meta(ge=FEWEST_DRAWS, le=MOST_DRAWS)] | UnsetType = UNSET
    """How many resamples are drawn; without it 5,000."""
    seed: Annotated[int, Meta(ge=0)] | UnsetType = UNSET
    """Makes the same resamples come again; without it 1."""

    def __post_init__(self) -> None:
        if self.bootstrap is UNSET and (self.draws is not UNSET or self.seed is not UNSET):
            raise ValueError("“draws” and “seed” belong to a bootstrap; “bootstrap” is missing.")
        if self.bootstrap is UNSET and self.cluster is None:
            raise ValueError("“cluster” or “bootstrap” is expected here.")


Treated = ReadyTreatment | TreatmentDocument
Coded = CodingName | CodingDocument
ErrorsOf = ErrorsName | ErrorsDocument


class RuleDocument(Document):
    """One rule: a variable with one comparison, or `all`, `any` or `not` with other rules."""

    variable: str | None = None
    """The variable that is asked."""
    is_: str | float | None = field(default=None, name="is")
    """Is this value, or this level by code or label."""
    one_of: list[str | float] | None = field(default=None, name="one of")
    """Is one of these."""
    at_least: float | None = field(default=None, name="at least")
    """Is that or more."""
    at_most: float | None = field(default=None, name="at most")
    """Is that or less."""
    between: tuple[float, float] | None = None
    """Lies between the two, both included."""
    missing: bool | None = None
    """Has no value: true."""
    all_: list[RuleDocument] | None = field(default=None, name="all")
    """All of these hold."""
    any_: list[RuleDocument] | None = field(default=None, name="any")
    """At least one of these holds."""
    not_: RuleDocument | None = field(default=None, name="not")
    """This does not hold."""


class AsideDocument(Document):
    """Cases set aside by hand."""

    rows: list[Annotated[int, Meta(ge=1)]]
    """Row numbers of the table, from 1."""
    reason: str
    """Why."""


class SampleDocument(Document):
    """Which cases a model may rest on."""

    name: str
    """What models call it."""
    rule: RuleDocument | str | None = None
    """A rule, or a typed condition as in “practice at least 5”; without one all cases."""
    aside: list[AsideDocument] = field(default_factory=list)
    """Cases set aside."""


class BlockDocument(Document):
    """Terms entered together."""

    terms: list[Names]
    """Each the list of variables it multiplies."""
    id: str = ""
    """By which probes know the block."""
    name: str = ""
    """What the block asks."""
    on: bool = True
    """A block that is off has no step."""


class SecondDocument(Document):
    """A second moderator."""

    variable: str
    """Its name."""
    pick: PickRule = PickRule.MEAN_AND_SD
    """Where a number is looked at; a group in all its levels."""
    values: list[float] = field(default_factory=list)
    """Pick points, for the rule “own values”."""


class SmallestDocument(Document):
    """The smallest effect that matters."""

    size: Annotated[float, Meta(gt=0)]
    """Its size."""
    unit: EffectUnit = EffectUnit.TREATED
    """The unit of its size."""


class ProbeDocument(Document):
    """A question to one model: the focal predictor's effect along a moderator."""

    focal: str
    """The predictor whose effect is asked."""
    moderator: str
    """What the effect may depend on; the focal predictor itself where it is in no product."""
    step: int | str | None = None
    """Counted from 1, or the id of the block that makes it; without it the last step."""
    pick: PickRule = PickRule.MEAN_AND_SD
    """Where a number moderator is looked at."""
    values: list[float] = field(default_factory=list)
    """Pick points, for the rule “own values”."""
    held: dict[str, str | float] = field(default_factory=dict)
    """A value for another number, a level for another group; others stand at mean or shares."""
    second: SecondDocument | None = None
    """A second moderator, with a panel for each of its places."""
    band: RegionRule = RegionRule.POINTWISE
    """How the region of significance is bounded."""
    model: str | None = None
    """Id or name of the model; without it the current one."""
    unit: EffectUnit = EffectUnit.TREATED
    """In which units effects are given."""
    smallest: SmallestDocument | None = None
    """The smallest effect that matters."""
    compared: Compared = Compared.PAIRS
    """Which differences between the groups of a moderator are given."""
    name: Annotated[str, Meta(max_length=LONGEST_NAME)] = ""
    """The name under which it is kept."""


class EntryDocument(Document):
    """How a variable enters a further model."""

    treatment: Treated | None = None
    """How a number enters."""
    coding: Coded | None = None
    """What the comparisons of a group ask."""
    reference: str | None = None
    """Code or label of the reference group."""


class VariableDocument(EntryDocument):
    """What is said about one column; what is left out is guessed."""

    kind: Literal["number", "group", "text"] | None = None
    """How the column is understood."""
    label: str | None = None
    """Its name in words."""
    short: str | None = None
    """A name of at most 18 characters."""
    unit: str | None = None
    """Singular, as in “hour”."""
    units: str | None = None
    """Plural, as in “hours”."""
    limits: tuple[float, float] | None = None
    """Declared limits of a scale."""
    reliability: Annotated[float, Meta(gt=0, le=1)] | None = None
    """Of a scale, as in 0.82."""
    levels: dict[str, str] | None = None
    """Label of each code, in the order wanted; codes of the same label are one level."""
    missing: list[str] | None = None
    """Codes that stand for a missing value."""


Blocks = list[BlockDocument | list[Names]]


class FurtherModelDocument(Document):
    """Another model of the same table; what it leaves out is as in the first one."""

    name: str
    """What it is called."""
    outcome: str | None = None
    """The variable to be explained."""
    blocks: Blocks | None = None
    """Its blocks."""
    variables: dict[str, EntryDocument] = field(default_factory=dict)
    """How variables enter, where it differs."""
    constant: bool | None = None
    """With or without a constant."""
    sample: str | None = None
    """Name of its sample."""
    level: Confidence | None = None
    """Confidence level."""
    errors: ErrorsOf | None = None
    """Kind of standard errors."""
    by: str | None = None
    """A group variable: the last step is also fitted in each of its levels."""
    reported: Step | None = None
    """The step that is reported, from 1; without it the last."""


class SpecDocument(Document):
    """A small description of a model, from which a study is made of a table file."""

    outcome: str
    """The variable to be explained."""
    blocks: Blocks
    """Each a list of terms, or an object with a name."""
    name: str | None = None
    """Name of the study."""
    derived: dict[str, str] = field(default_factory=dict)
    """New variables, each with its expression."""
    variables: dict[str, VariableDocument] = field(default_factory=dict)
    """What is said about columns."""
    samples: list[SampleDocument] = field(default_factory=list)
    """Samples that models may rest on."""
    level: Confidence = 0.95
    """Confidence level."""
    constant: bool = True
    """With or without a constant."""
    sample: str | None = None
    """Name of the sample; without it all cases."""
    errors: ErrorsOf = "classical"
    """Kind of standard errors."""
    by: str | None = None
    """A group variable: the last step is also fitted in each of its levels."""
    reported: Step | None = None
    """The step that is reported, from 1; without it the last."""
    models: list[FurtherModelDocument] = field(default_factory=list)
    """Further models."""
    probes: list[ProbeDocument] = field(default_factory=list)
    """Questions to the models."""
