"""What could not stay in a study, as values; `core.words` says it."""

from __future__ import annotations

from enum import StrEnum, auto

from yellow_slope.values import dataclass


class What(StrEnum):
    """What it was; the value is the id in files."""

    COMPUTED = auto()
    """A computed variable."""
    REPLACED = auto()
    """A computed variable of whose name the file has a column now."""
    TERM = auto()
    OUTCOME = auto()
    LENT = auto()
    """A number that was one only as an outcome."""
    ENTRY = auto()
    """How a variable enters."""
    REFERENCE = auto()
    SPACING = auto()
    """The places of levels on a trend's axis."""
    SIDE = auto()
    """A level on a side of a planned question."""
    QUESTION = auto()
    SAMPLE = auto()
    RULE = auto()
    """The rule of a sample; its cases set aside stay."""
    CASES = auto()
    """Cases set aside."""
    CLUSTERS = auto()
    """The id that errors were clustered by."""
    BY = auto()
    """The group of one model per group."""
    REPORTED = auto()
    """The choice of the reported step."""
    PROBE = auto()
    STEP = auto()
    """The choice of a probe's step."""
    PICK = auto()
    """Pick points of a probe's own."""
    HELD = auto()
    """A place where a probe held a variable."""
    SECOND = auto()
    """The second moderator of a probe."""
    SPLIT = auto()
    """The group in whose levels a product was checked alone."""
    FIGURE = auto()
    """A figure, by its name."""
    TUNED = auto()
    """What was said of a level or a variable on a figure."""
    ASIDE = auto()
    """A flag that was put aside."""


@dataclass(frozen=True, slots=True)
class Gone:
    """One thing that could not stay."""

    what: What
    names: tuple[str, ...] = ()
    """The variables it is about (of a term all factors, of a probe focal predictor and moderator), or a sample's
    name."""
    code: str = ""
    """The level's code, where it is about one."""
    model: str = ""
    """Id of the model it stood in; empty where it belongs to none."""
