"""Coding: what the comparisons of a group variable ask, as a value. Levels are named by their codes."""

from __future__ import annotations

from yellow_slope.core.letters import letters_only, shown
from yellow_slope.values import dataclass, settle

Names = tuple[tuple[str, str], ...]
"""(key, name) of comparisons that were given a name of their own; keys are those of `core.fit.codes`."""


class _Named:
    """Comparisons with names of one's own."""

    __slots__ = ()
    names: Names

    def __post_init__(self) -> None:
        settle(self, "names", tuple((key, shown(name)) for key, name in self.names))


@dataclass(frozen=True, slots=True)
class Dummy(_Named):
    """Each level against a reference. None: nobody chose one; the first level among the cases then serves."""

    stored_as = "dummy"
    reference: str | None = None
    names: Names = ()


@dataclass(frozen=True, slots=True)
class Effect(_Named):
    """Each level but one against the plain mean of all. None: the last level has no comparison of its own."""

    stored_as = "effect"
    without: str | None = None
    names: Names = ()


@dataclass(frozen=True, slots=True)
class WeightedEffect(_Named):
    """Each level but one against the mean of all, weighted by cases."""

    stored_as = "weighted effect"
    without: str | None = None
    names: Names = ()


@dataclass(frozen=True, slots=True)
class Adjacent(_Named):
    """Each level against the one before it."""

    stored_as = "adjacent"
    names: Names = ()


@dataclass(frozen=True, slots=True)
class AgainstMean(_Named):
    """Each level against the mean of the later levels, or of the earlier ones."""

    stored_as = "against mean"
    later: bool = True
    names: Names = ()


@dataclass(frozen=True, slots=True)
class Trends(_Named):
    """Orthogonal polynomials over the levels, unit length, highest level positive."""

    stored_as = "trends"
    spacing: tuple[tuple[str, float], ...] = ()
    """(code, place) of every level; empty: equal steps."""
    names: Names = ()


@dataclass(frozen=True, slots=True)
class Question:
    """A planned comparison: the mean of the levels on one side against that of the other; or own weights."""

    name: str = ""
    one: tuple[str, ...] = ()
    other: tuple[str, ...] = ()
    weights: tuple[tuple[str, float], ...] = ()
    """(code, weight) pairs that sum to 0; used instead of the sides where they are given."""

    def __post_init__(self) -> None:
        letters_only(self, "name")

    @property
    def is_empty(self) -> bool:
        """Whether a side has no level yet."""
        return not self.weights and not (self.one and self.other)

    def why_not(self) -> str:
        """What is wrong with it, as the end of a sentence about the question; empty where nothing is."""
        if set(self.one) & set(self.other):
            return "has a level on both sides"
        weights = [weight for _, weight in self.weights]
        if abs(sum(weights)) > 1e-9 * max(map(abs, weights), default=1.0):
            return "has weights that do not sum to 0"
        return ""


@dataclass(frozen=True, slots=True)
class Planned:
    """Planned comparisons, one less than there are levels, or fewer. What follows from those before is tested, not
    coded."""

    stored_as = "planned"
    questions: tuple[Question, ...]


@dataclass(frozen=True, slots=True)
class LevelMeans(_Named):
    """A column for every level, in a model without a constant: coefficients are level means."""

    stored_as = "level means"
    names: Names = ()


Coding = Dummy | Effect | WeightedEffect | Adjacent | AgainstMean | Trends | Planned | LevelMeans
DEFAULT = Dummy()
"""How a group enters about which nobody said anything."""
