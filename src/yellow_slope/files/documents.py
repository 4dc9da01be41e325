"""The shapes of our own JSON documents: the study's own part, the description of a model, and their schemas."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from yellow_slope.core.errors import FileError

Names = Annotated[list[str], Field(min_length=1, description="the variables that the term multiplies")]
PickRule = Literal["mean and SD", "percentiles", "quartiles", "extremes", "own values"]


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid")


class BlockDocument(_Document):
    """Terms entered together."""

    name: str = ""
    terms: list[Names]


class ProbeDocument(_Document):
    """A question to one product."""

    focal: str
    moderator: str
    step: int | None = Field(None, ge=1, description="counted from 1; without it the last step")
    pick: PickRule = "mean and SD"
    values: list[float] = Field([], description="pick points, for the rule “own values”")
    held: dict[str, str] = Field({}, description="level at which another group is held; others stand at their shares")


class VariableDocument(_Document):
    """What is said about one column; what is left out is guessed."""

    kind: Literal["number", "group", "text"] | None = None
    label: str | None = None
    short: str | None = Field(None, description="a name of at most 18 characters")
    unit: str | None = Field(None, description="singular, as in “hour”")
    units: str | None = Field(None, description="plural, as in “hours”")
    levels: dict[str, str] | None = Field(None, description="label of each code, in the order wanted")
    missing: list[str] | None = Field(None, description="codes that stand for a missing value")
    treatment: Literal["as it is", "centered", "standardized"] | None = None
    reference: str | None = Field(None, description="code or label of the reference group")


class SpecDocument(_Document):
    """A small description of a model, from which a study is made of a table file."""

    name: str | None = None
    variables: dict[str, VariableDocument] = {}
    outcome: str
    level: float = Field(0.95, ge=0.5, lt=1)
    blocks: list[BlockDocument | list[Names]] = Field(description="each a list of terms, or an object with a name")
    probes: list[ProbeDocument] = []


class TreatedDocument(_Document):
    """How a variable enters the model."""

    treatment: Literal["as it is", "centered", "standardized"] = "as it is"
    reference: str | None = Field(None, description="code of the chosen reference group; null: nobody chose one")


class DismissalDocument(_Document):
    """A flag put aside, with the reason."""

    flag: str
    reason: str


class StudyDocument(_Document):
    """study.json: the analysis; the table and its description stand beside it in the package."""

    format: Literal["yellow-slope-study"]
    version: Literal[1]
    name: str
    outcome: str | None
    level: float = Field(ge=0.5, lt=1)
    variables: dict[str, TreatedDocument]
    blocks: list[BlockDocument]
    probes: list[ProbeDocument]
    dismissals: list[DismissalDocument]
    first_out: list[Names] = Field([], description="terms left out first where columns depend on each other")
    read_as: list[str] = []


def explained(error: ValidationError, source: str) -> FileError:
    """The first complaint of a validation as a sentence with its place."""
    first = error.errors()[0]
    place = " → ".join(str(part) for part in first["loc"]) or "the document"
    return FileError(f"{source}: {place}: {first['msg'].lower()}.")
