"""A model: outcome, blocks of terms, how each variable enters, sample, level and kind of standard errors."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from types import MappingProxyType
from typing import Annotated

from msgspec import Meta

from yellow_slope.core.letters import letters_only
from yellow_slope.core.study.coding import DEFAULT, Coding, Dummy, LevelMeans
from yellow_slope.core.study.standarderrors import Classical, Errors
from yellow_slope.core.study.terms import Block, Term, variables_of
from yellow_slope.core.study.treatment import AS_IS, Treatment
from yellow_slope.values import dataclass, field, replace, settle

Entry = Treatment | Coding
_NONE: Mapping[str, Entry] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class Model:
    """One analysis of the table."""

    id: str = "m1"
    name: str = ""
    outcome: str | None = None
    blocks: tuple[Block, ...] = ()
    entries: Mapping[str, Entry] = field(default_factory=lambda: _NONE)
    """What was said of how a variable enters; of the others `treatment` and `coding` give the default."""
    constant: bool = True
    sample: str | None = None
    """Name of the sample; None: all cases."""
    level: Annotated[float, Meta(ge=0.5, lt=1)] = 0.95
    errors: Errors = Classical()
    leave_out_first: tuple[Term, ...] = ()
    """Terms chosen to be left out first where columns depend on each other; without a choice the last entered is."""
    by: str | None = None
    """A group variable: the last step is fitted in each of its levels too."""
    reported: str | None = None
    """Id of the block whose step is reported; None: the last."""

    def __post_init__(self) -> None:
        letters_only(self, "name", "sample")
        if not isinstance(self.entries, MappingProxyType):
            settle(self, "entries", MappingProxyType(self.entries))
        taken = [block.id for block in self.blocks if block.id]
        if len(set(taken)) < len(self.blocks):
            settle(self, "blocks", _identified(self.blocks))

    def treatment(self, name: str) -> Treatment:
        """How a number enters."""
        entry = self.entries.get(name, AS_IS)
        return entry if isinstance(entry, Treatment) else AS_IS

    def coding(self, name: str) -> Coding:
        """How a group enters."""
        entry = self.entries.get(name, DEFAULT)
        return DEFAULT if isinstance(entry, Treatment) else entry

    def reference(self, name: str) -> str | None:
        """The code of the chosen reference group; None where nobody chose one or the coding has none."""
        coding = self.coding(name)
        return coding.reference if isinstance(coding, Dummy) else None

    @property
    def steps(self) -> tuple[Block, ...]:
        """The blocks that are on: each makes a step of all blocks up to it."""
        return tuple(block for block in self.blocks if block.on)

    @property
    def terms(self) -> tuple[Term, ...]:
        """All terms in block order, also those of blocks that are off."""
        return tuple(term for block in self.blocks for term in block.terms)

    @property
    def active_terms(self) -> tuple[Term, ...]:
        """The terms of the last step."""
        return tuple(term for block in self.steps for term in block.terms)

    @property
    def variables(self) -> tuple[str, ...]:
        """Outcome and all variables of the last step."""
        names = variables_of(self.active_terms)
        return (self.outcome, *names) if self.outcome else names

    def block_of(self, term: Term) -> int | None:
        """The index of the block that holds the term."""
        for index, block in enumerate(self.blocks):
            if term in block.terms:
                return index
        return None

    def step_of(self, term: Term) -> int | None:
        """The index of the first step that holds the term."""
        for index, block in enumerate(self.steps):
            if term in block.terms:
                return index
        return None

    def missing_parts(self, term: Term, entered: Iterable[Term]) -> list[Term]:
        """Parts of a product that are not entered. A part that lacks only groups of level means is implied by the
        larger one."""
        here = set(entered)
        missing = [part for part in term.parts() if part not in here]
        means = {name for name in term.variables if isinstance(self.entries.get(name), LevelMeans)}
        if not means:
            return missing
        larger = [term, *(part for part in term.parts() if part in here)]
        return [part for part in missing if not any(_only_adds(part, other, means) for other in larger)]

    @property
    def reported_step(self) -> int:
        """The step that is reported: the chosen one while its block is on, else the last. The one rule for it."""
        ids = [block.id for block in self.steps]
        return ids.index(self.reported) if self.reported in ids else len(ids) - 1

    def step_index(self, block_id: str | None) -> int:
        """The step that a block makes; None: the one that is reported. -1 where no block that is on has that id."""
        if block_id is None:
            return self.reported_step
        ids = [block.id for block in self.steps]
        return ids.index(block_id) if block_id in ids else -1


def means_of(model: Model) -> tuple[str, ...]:
    """The groups of the model that have a column for every level."""
    entered = variables_of(model.terms)
    return tuple(name for name in entered if isinstance(model.entries.get(name), LevelMeans))


def _only_adds(part: Term, other: Term, groups: set[str]) -> bool:
    """Whether another term holds the part and besides it only those groups."""
    return other.contains(part) and set(other.variables) - set(part.variables) <= groups


def _identified(blocks: tuple[Block, ...]) -> tuple[Block, ...]:
    """The blocks with ids that differ; those a block already has are kept."""
    seen: set[str] = set()
    taken = {block.id for block in blocks}
    out: list[Block] = []
    number = 1
    for block in blocks:
        if block.id and block.id not in seen:
            seen.add(block.id)
            out.append(block)
            continue
        while f"b{number}" in taken:
            number += 1
        taken.add(f"b{number}")
        seen.add(f"b{number}")
        out.append(replace(block, id=f"b{number}"))
    return tuple(out)
