"""Terms of the model: a variable, or a product of variables; and the ordered blocks that hold them."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import combinations

from yellow_slope.core.letters import letters_only
from yellow_slope.values import dataclass

MANY_FACTORS = 6
"""Products of more factors than this have too many parts to be entered or listed one by one."""


MOST_FACTORS = 64
"""Products of more factors than this are not made."""


class Term:
    """A product of one or more variables, in the order in which it was made; x by x is the square of x.

    Two terms are equal when they multiply the same variables, whatever the order. In files a term is their list.
    """

    __slots__ = ("key", "variables")
    variables: tuple[str, ...]
    key: tuple[str, ...]
    """The variables, sorted: by which terms are known."""

    def __init__(self, variables: tuple[str, ...]) -> None:
        object.__setattr__(self, "variables", variables)
        object.__setattr__(self, "key", tuple(sorted(variables)))

    def __setattr__(self, name: str, content: object) -> None:
        raise AttributeError(f"{name} of a term never changes")

    def __eq__(self, other: object) -> bool:
        return self.key == other.key if isinstance(other, Term) else NotImplemented

    def __hash__(self) -> int:
        return hash(self.key)

    def __repr__(self) -> str:
        return f"Term({self.variables!r})"

    @property
    def is_product(self) -> bool:
        """Whether more than one factor stands in it."""
        return len(self.variables) > 1

    def contains(self, other: Term) -> bool:
        """Whether the other term is a proper part of this one."""
        if len(other.variables) >= len(self.variables):
            return False
        rest = list(self.variables)
        for name in other.variables:
            if name not in rest:
                return False
            rest.remove(name)
        return True

    def parts(self) -> tuple[Term, ...]:
        """Every proper part, the single variables first; of a product of more than six factors the singles only."""
        found: dict[Term, None] = {}
        sizes = range(1, len(self.variables)) if len(self.variables) <= MANY_FACTORS else (1,)
        for size in sizes:
            for some in combinations(self.variables, size):
                found.setdefault(Term(some))
        return tuple(found)

    def text(self, label_of: Callable[[str], str]) -> str:
        """The product in words, as in “practice × coaching”; a square is written “practice²”."""
        parts: list[str] = []
        for name in dict.fromkeys(self.variables):
            times = self.variables.count(name)
            power = {1: "", 2: "²", 3: "³"}.get(times, f" to the power {times}")
            parts.append(label_of(name) + power)
        return " × ".join(parts)

    def times(self, other: Term) -> Term:
        """The product of both."""
        return Term(self.variables + other.variables)


@dataclass(frozen=True, slots=True, eq=False)
class Block:
    """Terms entered together, with a name that may be empty. A block that is off has no step.

    Two blocks are equal when they hold the same, whatever their ids.
    """

    terms: tuple[Term, ...]
    name: str = ""
    on: bool = True
    id: str = ""
    """By which steps and probes know the block; a model gives one to a block that has none."""

    def __post_init__(self) -> None:
        letters_only(self, "name")

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Block):
            return NotImplemented
        return (self.terms, self.name, self.on) == (other.terms, other.name, other.on)

    def __hash__(self) -> int:
        return hash((self.terms, self.name, self.on))


def variables_of(terms: Iterable[Term]) -> tuple[str, ...]:
    """The variables that stand in the terms, each once, in order of appearance."""
    return tuple(dict.fromkeys(name for term in terms for name in term.variables))
