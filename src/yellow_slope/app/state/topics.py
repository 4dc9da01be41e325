"""What changes in the window: parts follow the topics that concern them, and no others."""

from __future__ import annotations

from collections.abc import Mapping
from enum import Enum, auto
from types import MappingProxyType


class Topic(Enum):
    """Something that changed."""

    STUDY = auto()
    """The study, or whether it is saved."""
    RESULTS = auto()
    OPENED = auto()
    """Another study was opened."""
    MESSAGE = auto()
    REQUEST = auto()
    """A part asks something of the window."""
    COMPUTED = auto()
    """Something that is looked at has been computed: residuals, what Prepare shows."""
    TABLE_FILE = auto()
    """Whether the table file is at hand."""
    WAYPOINT = auto()
    CHOICE = auto()
    """The current variable, and what is chosen to be entered or multiplied."""
    ROW = auto()
    """The row of the ladder that is looked at, and the step that is open."""
    LADDER = auto()
    """How the ladder shows what it shows, and what stands below it."""
    TABLE = auto()
    """How Data shows the table."""
    CARD = auto()
    """What Prepare shows of the current variable."""
    CHECK = auto()
    """Which question Checks shows, and which of its rows is chosen."""
    LIT = auto()
    """The cases that are lit."""
    FLAG = auto()
    SEEN = auto()
    """What is seen of the probe."""
    FIGURE = auto()
    """Which figure is tuned, and what of it is chosen."""
    THEME = auto()


TOPIC_OF: Mapping[str, Topic] = MappingProxyType(
    {
        "waypoint": Topic.WAYPOINT,
        "variable": Topic.CHOICE,
        "chosen": Topic.CHOICE,
        "clicked": Topic.CHOICE,
        "waiting": Topic.CHOICE,
        "cell": Topic.ROW,
        "group_cell": Topic.ROW,
        "open_step": Topic.ROW,
        "own_scales": Topic.LADDER,
        "density": Topic.LADDER,
        "compared": Topic.LADDER,
        "below": Topic.LADDER,
        "codes": Topic.TABLE,
        "beside": Topic.TABLE,
        "sort": Topic.TABLE,
        "zero": Topic.CARD,
        "card": Topic.CARD,
        "comparison": Topic.CARD,
        "unfolded": Topic.CARD,
        "check": Topic.CHECK,
        "along": Topic.CHECK,
        "rival": Topic.CHECK,
        "before_and_after": Topic.CHECK,
        "lit": Topic.LIT,
        "flag": Topic.FLAG,
        "seen": Topic.SEEN,
        "probe_view": Topic.SEEN,
        "overlay": Topic.SEEN,
        "beside_probe": Topic.SEEN,
        "figure": Topic.FIGURE,
        "part": Topic.FIGURE,
        "sought": Topic.FIGURE,
        "dark": Topic.THEME,
    }
)
"""The topic of each thing on the desk."""
