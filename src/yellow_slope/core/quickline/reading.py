"""What a typed line says, as a value: outcome, blocks, what leaves, how variables enter; and the study it makes."""

from __future__ import annotations

from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.coding import Coding, LevelMeans
from yellow_slope.core.study.edits.blocks import enter, name_block, set_blocks, set_outcome, take_out
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import levels_to_be, set_kind
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.edits.questions import choose_coding
from yellow_slope.core.study.model import means_of
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.study.treatment import Treatment
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.numerals import counted, listed
from yellow_slope.values import dataclass, field

MOST_NAMED = 6


@dataclass(frozen=True, slots=True)
class Summary:
    """What a line would do: “7 columns” “in 2 blocks”, “2 columns” “in block 4” and “sleep leaves”."""

    columns: str
    """How many columns come; empty where none does."""
    where: str
    others: tuple[str, ...]

    @property
    def rest(self) -> str:
        """All but the number of columns."""
        return "; ".join(text for text in (self.where, *self.others) if text)

    @property
    def text(self) -> str:
        """All of it, the number of columns first."""
        return f"{self.columns} {self.rest}".strip()


@dataclass(frozen=True, slots=True)
class SaidBlock:
    """A block of the line. `place`: the block of the model that it adds to, from 0; None: a new one."""

    terms: tuple[Term, ...]
    name: str = ""
    place: int | None = None
    on: bool = True


@dataclass(slots=True)
class Reading:
    """What a line says; or the first mistake in it."""

    line: str
    outcome: str | None = None
    blocks: list[SaidBlock] = field(default_factory=list)
    without: list[Term] = field(default_factory=list)
    groups: list[str] = field(default_factory=list)
    """Columns that the line takes for groups."""
    names: dict[str, tuple[str, ...]] = field(default_factory=dict)
    """Groups whose levels the line names, in their order."""
    treatments: dict[str, Treatment] = field(default_factory=dict)
    codings: dict[str, Coding] = field(default_factory=dict)
    constant: bool | None = None
    """With or without an intercept; None where the line says nothing of it."""
    adds: bool = False
    """Whether the line adds to the model; a line with an outcome says the whole model."""
    stays: list[Term] = field(default_factory=list)
    """Terms of the model that are only named to say something about them."""
    mistake: Mistake | None = None

    def apply(self, study: Study) -> Study:
        """The study that the line describes; the line must be free of mistakes."""
        for name in self.groups:
            study = set_kind(study, name, Kind.GROUP)
        for name, labels in self.names.items():
            study = name_levels(study, name, labels)
        for name, treatment in self.treatments.items():
            study = treat(study, [name], treatment)
        if self.constant is False:
            study = set_constant(study, False)
        for name, coding in self.codings.items():
            study = choose_coding(study, name, coding)
        if self.outcome is not None:
            study = set_outcome(study, self.outcome)
        study = self._with_blocks(study)
        # A line that says a whole model has an intercept unless it says otherwise.
        whole = self.constant is None and not self.adds and self.blocks and not means_of(study.model)
        return set_constant(study, True) if self.constant or whole else study

    def _with_blocks(self, study: Study) -> Study:
        if not self.adds:
            return set_blocks(study, _named(self.blocks, study.model.blocks)) if self.blocks else study
        # Blocks are counted as they stand on the sheet, before anything leaves.
        ids = [block.id for block in study.model.blocks]
        for said in self.blocks:
            terms = [t for t in said.terms if t not in self.stays]
            place = None
            if said.place is not None and said.place < len(ids):
                now = [block.id for block in study.model.blocks]
                place = now.index(ids[said.place]) if ids[said.place] in now else None
            study = enter(study, terms, place, said.name) if terms else study
            if said.name and place is not None:
                study = name_block(study, place, said.name)
        return take_out(study, self.without) if self.without else study

    @property
    def says_nothing(self) -> bool:
        """Whether nothing would change for it."""
        return (
            not (
                self.blocks
                or self.without
                or self.treatments
                or self.codings
                or self.groups
                or self.names
                or self.outcome
            )
            and self.constant is None
        )

    @property
    def coming(self) -> list[Term]:
        """The terms that would come."""
        return [t for block in self.blocks for t in block.terms if t not in self.stays]

    def summary(self, study: Study, n: int | None = None) -> Summary:
        """What Enter would do. n: how many columns come, where the cases have told it; else it is counted from the
        levels."""
        parts: list[str] = []
        coming, where = self.coming, ""
        n = sum(self.columns(study, t) for t in coming) if n is None else n
        if self.adds and coming:
            first = len(study.model.blocks)
            places: dict[int, None] = {}
            for block in self.blocks:
                if all(t in self.stays for t in block.terms):
                    continue
                places[first if block.place is None else block.place] = None
                first += block.place is None
            names = listed([str(place + 1) for place in places])
            where = f"in block{'s' if len(places) > 1 else ''} {names}"
        elif coming:
            where = f"in {counted(len(self.blocks), 'block')}"
        if self.stays:
            parts.append(f"{_some(study, self.stays)} {'enters' if len(self.stays) == 1 else 'enter'} otherwise")
        gone = self.without or ([] if self.adds else [t for t in study.model.terms if coming and t not in coming])
        if gone:
            parts.append(f"{_some(study, gone)} {'leaves' if len(gone) == 1 else 'leave'}")
        constant = self.constant_after(study)
        if constant != study.model.constant:
            parts.append("with an intercept" if constant else "no intercept")
        return Summary(counted(n, "column") if coming else "", where, tuple(parts))

    def constant_after(self, study: Study) -> bool:
        """Whether the model would have an intercept."""
        if self.constant is not None:
            return self.constant
        if any(isinstance(coding, LevelMeans) for coding in self.codings.values()):
            return False
        if self.adds or not self.blocks:
            return study.model.constant
        entered = {name for term in self.coming for name in term.variables if name not in self.codings}
        return not any(isinstance(study.model.entries.get(name), LevelMeans) for name in entered)

    def columns(self, study: Study, term: Term) -> int:
        """How many columns a term makes, of the levels that are known."""
        n = 1
        for name in term.variables:
            variable = study.variable(name)
            if name in self.groups and variable.kind is not Kind.GROUP:
                n *= max(1, levels_to_be(study, name) - 1)
            elif variable.kind is Kind.GROUP:
                means = isinstance(self.codings.get(name, study.model.coding(name)), LevelMeans)
                n *= max(1, len(variable.levels) - (0 if means else 1))
        return n


def _some(study: Study, terms: list[Term]) -> str:
    shown = [label(study, t) for t in terms[:MOST_NAMED]]
    return listed([*shown, f"{len(terms) - MOST_NAMED:,} more"] if len(terms) > MOST_NAMED else shown)


def _named(blocks: list[SaidBlock], before: tuple[Block, ...]) -> list[Block]:
    """The blocks with the names of those before, where they share a term; each name serves once."""
    left = list(before)
    named: list[Block] = []
    for block in blocks:
        same = next((old for old in left if set(old.terms) & set(block.terms)), None)
        if same is not None:
            left.remove(same)
        name = block.name or (same.name if same is not None else "")
        named.append(Block(block.terms, name, block.on, same.id if same is not None else ""))
    return named
