"""The study: one immutable value that holds table, descriptions, model, probes and choices."""

from __future__ import annotations

from dataclasses import dataclass, field

from yellow_slope.core.errors import StudyError
from yellow_slope.core.table import Table
from yellow_slope.core.terms import Block, Term
from yellow_slope.core.variable import Kind, Variable, guessed_variable


@dataclass(frozen=True, slots=True)
class PickPoints:
    """Where a number moderator is looked at: “mean and SD”, “percentiles”, “quartiles”, “extremes”, or own values."""

    rule: str = "mean and SD"
    values: tuple[float, ...] = ()


PICK_RULES = ("mean and SD", "percentiles", "quartiles", "extremes", "own values")


@dataclass(frozen=True, slots=True)
class Probe:
    """A question to one product: the focal predictor's effect along a moderator, in a step (None: the last)."""

    focal: str
    moderator: str
    step: int | None = None
    pick: PickPoints = PickPoints()
    held: tuple[tuple[str, str], ...] = ()
    """Levels at which other groups are held; a group that is not named here stands at its shares in the sample."""


@dataclass(frozen=True, slots=True)
class Dismissal:
    """A flag that was put aside, and why."""

    flag: str
    reason: str


@dataclass(frozen=True, slots=True, eq=False)
class Study:
    """Everything an analysis is made of. Edits make a new one; nothing in it ever changes."""

    table: Table
    variables: tuple[Variable, ...]
    name: str = "Untitled study"
    outcome: str | None = None
    blocks: tuple[Block, ...] = ()
    level: float = 0.95
    probes: tuple[Probe, ...] = ()
    dismissals: tuple[Dismissal, ...] = ()
    first_out: tuple[Term, ...] = ()
    """Terms chosen to be left out first where columns depend on each other; without a choice the last entered is."""
    read_as: tuple[str, ...] = field(default=())
    """How the table file was read, phrase by phrase."""

    def variable(self, name: str) -> Variable:
        """The description of that column; StudyError if there is none."""
        for variable in self.variables:
            if variable.name == name:
                return variable
        raise StudyError(f"There is no variable named “{name}”.")

    @property
    def terms(self) -> tuple[Term, ...]:
        """All terms in block order."""
        return tuple(term for block in self.blocks for term in block.terms)

    def block_of(self, term: Term) -> int | None:
        """The index of the block that holds the term."""
        for index, block in enumerate(self.blocks):
            if term in block.terms:
                return index
        return None

    def label(self, term: Term) -> str:
        """The term in the study's words, as in “practice × coaching”."""
        return " × ".join(self.variable(name).label for name in term.variables)

    @property
    def numbers(self) -> tuple[Variable, ...]:
        """The variables that are numbers."""
        return tuple(v for v in self.variables if v.kind is Kind.NUMBER)


def new_study(table: Table, name: str = "Untitled study", read_as: tuple[str, ...] = ()) -> Study:
    """A study of a table about which nothing has been said yet."""
    return Study(table, tuple(guessed_variable(column) for column in table.columns), name=name, read_as=read_as)
