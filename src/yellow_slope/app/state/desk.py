"""The desk: what is looked at and chosen in the window. It belongs to the window, not to the study."""

from __future__ import annotations

from dataclasses import dataclass

from yellow_slope.core.probe.seen import Seen
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.terms import Term

USUAL = "b, interval, β, p, VIF"
"""The figures of the open step as long as nobody chose others."""
WAYPOINTS = ("Data", "Prepare", "Blocks", "Checks", "Probe", "Report")


@dataclass(frozen=True, slots=True)
class Cell:
    """A thing on the ladder's sheet: a block, a term, one column of a term, or the constant; seen in a step."""

    block: int | None = None
    term: Term | None = None
    column: int | None = None
    """Position of a model column; -1 for the constant; None for a whole term or block."""


@dataclass(frozen=True, slots=True)
class Desk:
    """Where the user is. Steps count from 0; None means the last."""

    waypoint: str = "Data"
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
    """Of one model per group the chosen row (-1: the intercept, -2: R²) and group; no group: the test that they differ."""
    open_step: int | None = None
    own_scales: bool = False
    density: str = USUAL
    """Which figures the open step of the ladder shows."""
    compared: str | None = None
    """Id of the kept model that stands beside the current one."""
    below: str = ""
    """What stands below the ladder: “steps”, “variables”, “models”, “trust”, “nothing”; empty: the steps where there is room."""
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
    card: str = "comparisons"
    """What the code card shows: “comparisons”, “columns”, “groups” or “adjusted”."""
    comparison: int | None = None
    """The chosen comparison of the code card, or the chosen pair of its overview."""
    unfolded: bool | None = None
    """Prepare lists the columns that are not in the model; None: as long as nothing is in it."""

    def clicking(self, term: Term, add: bool, keep: bool = False) -> dict[str, object]:
        """What a click on a term changes: a plain click begins a choice, one that adds goes on with it.

        `keep`: a plain click leaves what was chosen with Space.
        """
        if not add:
            return {"chosen": self.chosen if keep else (), "clicked": term}
        begun = self.chosen or ((self.clicked,) if self.clicked is not None and self.clicked != term else ())
        chosen = tuple(t for t in begun if t != term) if term in begun else (*begun, term)
        return {"chosen": chosen, "clicked": None}

    def spanning(self, order: list[str], to: str) -> dict[str, object]:
        """What a Shift+click changes: everything from what was clicked last to there is chosen."""
        begun = self.clicked.variables[0] if self.clicked is not None else self.variable
        if begun not in order or to not in order:
            return self.clicking(Term((to,)), False)
        a, b = sorted((order.index(begun), order.index(to)))
        return {"chosen": tuple(Term((name,)) for name in order[a : b + 1]), "clicked": Term((begun,))}

    def step(self, model: Model) -> int:
        """The open step of a model, without a choice the one that is reported. The one rule for it."""
        return model.reported_step if self.open_step is None else min(self.open_step, len(model.steps) - 1)
