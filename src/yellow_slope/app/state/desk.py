"""The desk: what is looked at and chosen in the window. It belongs to the window, not to the study."""

from __future__ import annotations

from enum import Enum, auto
from typing import TypedDict, assert_never

from yellow_slope.core.probe.seen import Seen, Spot
from yellow_slope.core.stand.rivals import Rival
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import ProbeShown
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.terms import Term
from yellow_slope.core.told.origins import Origin
from yellow_slope.plots.parts import PartRef
from yellow_slope.values import dataclass


class Waypoint(Enum):
    """A stretch of the way from a table to a report."""

    DATA = auto()
    PREPARE = auto()
    BLOCKS = auto()
    CHECKS = auto()
    PROBE = auto()
    REPORT = auto()

    @property
    def title(self) -> str:
        """What it is called."""
        match self:
            case Waypoint.DATA:
                return "Data"
            case Waypoint.PREPARE:
                return "Prepare"
            case Waypoint.BLOCKS:
                return "Blocks"
            case Waypoint.CHECKS:
                return "Checks"
            case Waypoint.PROBE:
                return "Probe"
            case Waypoint.REPORT:
                return "Report"
            case _:
                assert_never(self)


class Density(Enum):
    """How much the open step of the ladder shows of each coefficient."""

    NONE = auto()
    FEW = auto()
    USUAL = auto()
    ERRORS = auto()
    SHARED = auto()


class Under(Enum):
    """What stands below the ladder."""

    STEPS = auto()
    VARIABLES = auto()
    MODELS = auto()
    TRUST = auto()
    NOTHING = auto()


class Overlay(Enum):
    """What may be laid over the effect along a moderator."""

    NOTHING = auto()
    LEFT_OUT = auto()
    """Boundaries and crossing without any one case."""
    RESAMPLED = auto()
    """The same over resamples."""
    THIRDS = auto()
    """The effect in thirds of the moderator."""

    @property
    def title(self) -> str:
        """What it is called in a menu."""
        match self:
            case Overlay.NOTHING:
                return "nothing"
            case Overlay.LEFT_OUT:
                return "leave one case out"
            case Overlay.RESAMPLED:
                return "resamples"
            case Overlay.THIRDS:
                return "thirds"
            case _:
                assert_never(self)


class CardView(Enum):
    """What the code card of a group shows."""

    COMPARISONS = auto()
    COLUMNS = auto()
    GROUPS = auto()
    ADJUSTED = auto()


@dataclass(frozen=True, slots=True)
class Cell:
    """A thing on the ladder's sheet: a block, a term, one column of a term, or the constant; seen in a step."""

    block: int | None = None
    term: Term | None = None
    column: int | None = None
    """Position of a model column; -1 for the constant; None for a whole term or block."""


class Looking(TypedDict, total=False):
    """What may change on the desk; a test keeps it in step."""

    waypoint: Waypoint
    variable: str | None
    chosen: tuple[Term, ...]
    clicked: Term | None
    waiting: tuple[Term, ...]
    cell: Cell | None
    group_cell: tuple[int, int | None] | None
    open_step: int | None
    own_scales: bool
    density: Density
    compared: str | None
    below: Under | None
    dark: bool
    codes: bool
    beside: tuple[Term, ...]
    sort: tuple[str, bool] | None
    flag: FlagKey | None
    seen: Seen
    zero: tuple[str, float] | None
    card: CardView
    comparison: int | None
    unfolded: bool | None
    check: Check
    along: str | None
    rival: Rival | None
    before_and_after: bool
    lit: tuple[int, ...]
    probe_view: ProbeShown
    overlay: Overlay
    beside_probe: str | None
    figure: str | None
    part: PartRef | None
    sought: Origin | None


class Choosing(TypedDict):
    """What a click changes."""

    chosen: tuple[Term, ...]
    clicked: Term | None


class Seeing(TypedDict, total=False):
    """What may change of what is seen of a probe."""

    panel: int
    focus: int
    place: Spot
    handle: float | None
    second: float | None


@dataclass(frozen=True, slots=True)
class Desk:
    """Where the user is. Steps count from 0; None means the last."""

    waypoint: Waypoint = Waypoint.DATA
    variable: str | None = None
    """The variable that roster, Data and Prepare show as current."""
    chosen: tuple[Term, ...] = ()
    """What Space or a click has chosen, to be entered or multiplied."""
    clicked: Term | None = None
    """What a plain click took last: the first of several, if a Ctrl+click follows."""
    waiting: tuple[Term, ...] = ()
    """The one set of a product of sets, kept until the other is chosen."""
    cell: Cell | None = None
    group_cell: tuple[int, int | None] | None = None
    """Of one model per group the chosen row (-1: the intercept, -2: R²) and group; no group: the test that they
    differ."""
    open_step: int | None = None
    own_scales: bool = False
    density: Density = Density.USUAL
    """Which figures the open step of the ladder shows."""
    compared: str | None = None
    """Id of the kept model that stands beside the current one."""
    below: Under | None = None
    """What stands below the ladder; None: the steps where there is room."""
    dark: bool = False
    codes: bool = False
    """Data shows codes instead of labels."""
    beside: tuple[Term, ...] = ()
    """Terms whose model columns Data shows beside their sources."""
    sort: tuple[str, bool] | None = None
    """The variable by which Data shows the cases, and whether the largest come first; the file stays as it is."""
    flag: FlagKey | None = None
    """The flag shown in the foot."""
    seen: Seen = Seen()
    """What Probe shows: which panel, which effect, which place."""
    zero: tuple[str, float] | None = None
    """A number whose zero point is being moved, and the coordinate where it is now."""
    card: CardView = CardView.COMPARISONS
    """What the code card shows."""
    comparison: int | None = None
    """The chosen comparison of the code card, or the chosen pair of its overview."""
    unfolded: bool | None = None
    """Prepare lists the columns that are not in the model; None: as long as nothing is in it."""
    check: Check = Check.STAND
    """The question that Checks shows large."""
    along: str | None = None
    """What residuals are drawn along; None: what is predicted."""
    rival: Rival | None = None
    """The chosen rival; None: the product as it stands."""
    before_and_after: bool = False
    """Checks shows what changes with the cases set aside, and with the lit ones, in place of a plot."""
    lit: tuple[int, ...] = ()
    """Rows of the table, from 0, that are lit in every plot and in the table."""
    probe_view: ProbeShown = ProbeShown.BOTH
    """What Probe shows beside the effect."""
    overlay: Overlay = Overlay.NOTHING
    """What Probe lays over the effect."""
    beside_probe: str | None = None
    """The name of the kept probe with which the current one is compared."""
    figure: str | None = None
    """The name of the figure that is tuned at Report; None: the report itself."""
    part: PartRef | None = None
    """What of that figure is chosen."""
    sought: Origin | None = None
    """What is to be shown in the report."""

    def clicking(self, term: Term, add: bool, keep: bool = False) -> Choosing:
        """What a click on a term changes: a plain click begins a choice, one that adds goes on with it.

        `keep`: a plain click leaves what was chosen with Space.
        """
        if not add:
            return {"chosen": self.chosen if keep else (), "clicked": term}
        begun = self.chosen or ((self.clicked,) if self.clicked is not None and self.clicked != term else ())
        chosen = tuple(t for t in begun if t != term) if term in begun else (*begun, term)
        return {"chosen": chosen, "clicked": None}

    def spanning(self, order: list[str], to: str) -> Choosing:
        """What a Shift+click changes: everything from what was clicked last to there is chosen."""
        begun = self.clicked.variables[0] if self.clicked is not None else self.variable
        if begun not in order or to not in order:
            return self.clicking(Term((to,)), False)
        a, b = sorted((order.index(begun), order.index(to)))
        return {"chosen": tuple(Term((name,)) for name in order[a : b + 1]), "clicked": Term((begun,))}

    def step(self, model: Model) -> int:
        """The open step of a model, without a choice the one that is reported. The one rule for it."""
        return model.reported_step if self.open_step is None else min(self.open_step, len(model.steps) - 1)
