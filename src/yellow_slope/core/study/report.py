"""What of the report is printed, in which order, and what is said beside it."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta

from yellow_slope.core.kinds import Named
from yellow_slope.core.letters import letters_only
from yellow_slope.values import dataclass, replace

LONGEST_COMMENT = 4000
"""Characters of a comment."""


class PartKind(Named):
    """A part of the report; the value is the id in files and commands. Those of a paper come first, in the order of a
    results section; the others are its appendix."""

    FINDINGS = "findings"
    VARIABLES = "descriptives"
    STEPS = "steps"
    COEFFICIENTS = "coefficients"
    PROBES = "conditional effects"
    FIGURES = "figures"
    SAMPLE = "sample"
    EXCLUSIONS = "exclusions"
    CODES = "variables and codes"
    WORDS = "coefficients in words"
    GROUPS = "one model per group"
    MODELS = "models side by side"
    REGIONS = "regions"
    CROSSOVER = "crossover"
    CHECKS = "checks"
    FLAGS = "flags"
    EQUATION = "equation"
    METHODS = "methods"
    REPEAT = "how to repeat it"


class CoefficientFigure(Named):
    """What stands beside a coefficient; the value is its id in files."""

    INTERVAL = "interval"
    SE = "standard error"
    BETA = "standardized"
    T = "t"
    P = "p"
    SR2 = "share of its own", "sr²"
    VIF = "variance inflation", "VIF"


class BesideCorrelation(Named):
    """What stands beside a correlation; the value is its id in files."""

    NOTHING = "alone"
    P = "with p"
    INTERVAL = "with intervals"


FEWEST_DECIMALS, USUAL_DECIMALS, MOST_CHOSEN = 1, 2, 5
"""Decimals of estimates that can be chosen; more stand where fewer would say nothing."""


class ReadySet(Named):
    """Parts for a purpose; the value is its id in commands."""

    PAPER = "paper"
    APPENDIX = "appendix"
    EVERYTHING = "everything"


PAPER_PARTS = (
    PartKind.FINDINGS,
    PartKind.VARIABLES,
    PartKind.STEPS,
    PartKind.COEFFICIENTS,
    PartKind.PROBES,
    PartKind.FIGURES,
)
"""The parts of a paper, in the order of a results section; every other part belongs to its appendix."""


def parts_of(ready: ReadySet) -> frozenset[PartKind]:
    """The parts that a ready set prints."""
    kinds = PartKind
    match ready:
        case ReadySet.PAPER:
            return frozenset(PAPER_PARTS)
        case ReadySet.APPENDIX:
            return frozenset(set(kinds) - {*PAPER_PARTS, kinds.WORDS})
        case ReadySet.EVERYTHING:
            return frozenset(kinds)


Comment = Annotated[str, Meta(max_length=LONGEST_COMMENT)]


@dataclass(frozen=True, slots=True)
class ReportPart:
    """A part with whether it is printed, and what somebody says above and below it."""

    kind: PartKind
    on: bool = True
    above: Comment = ""
    below: Comment = ""

    def __post_init__(self) -> None:
        letters_only(self, "above", "below")


OFF_AT_FIRST = frozenset({PartKind.WORDS})
USUAL_PARTS = tuple(ReportPart(kind, kind not in OFF_AT_FIRST) for kind in PartKind)
USUAL_FIGURES = tuple(CoefficientFigure)


@dataclass(frozen=True, slots=True)
class ReportChoice:
    """Which parts the report has, in their order, and how they are written."""

    parts: Annotated[tuple[ReportPart, ...], Meta(max_length=100)] = USUAL_PARTS
    assigned: tuple[str, ...] = ()
    """Variables to which cases were assigned: of them a causal word may be said."""
    decimals: Annotated[int, Meta(ge=FEWEST_DECIMALS, le=MOST_CHOSEN)] = USUAL_DECIMALS
    """Of estimates in tables and findings."""
    stars: bool = False
    """Whether tables mark p below .05, .01 and .001."""
    beside: tuple[CoefficientFigure, ...] = USUAL_FIGURES
    """What stands beside each coefficient, in the order of the enumeration."""
    correlations: BesideCorrelation = BesideCorrelation.NOTHING

    def part(self, kind: PartKind) -> ReportPart:
        """A part as it was chosen."""
        return next((part for part in self.parts if part.kind is kind), ReportPart(kind, kind not in OFF_AT_FIRST))

    def with_part(self, new: ReportPart) -> ReportChoice:
        """With a part otherwise."""
        return replace(self, parts=tuple(new if part.kind is new.kind else part for part in self.whole().parts))

    def whole(self) -> ReportChoice:
        """With every part there is, those that nobody placed behind the one they usually follow."""
        known = {part.kind for part in self.parts}
        if known == set(PartKind):
            return self
        parts, kinds = list(self.parts), list(PartKind)
        for i, usual in enumerate(USUAL_PARTS):
            if usual.kind not in known:
                before = [j for j, part in enumerate(parts) if part.kind in kinds[:i]]
                parts.insert(max(before) + 1 if before else 0, usual)
        return replace(self, parts=tuple(parts))

    def of_set(self, ready: ReadySet) -> ReportChoice:
        """With the parts of a ready set and the words about them: a paper in the order of a results section, others in
        the order they have."""
        wanted = parts_of(ready)
        parts = tuple(replace(part, on=part.kind in wanted) for part in self.whole().parts)
        if ready is ReadySet.PAPER:
            own = [next(part for part in parts if part.kind is kind) for kind in PAPER_PARTS]
            parts = (*own, *(part for part in parts if part.kind not in wanted))
        return replace(self, parts=parts)

    @property
    def appendix(self) -> PartKind | None:
        """The first printed part behind those of a paper; None where there is none, or where the parts of a paper are
        not all printed before the others."""
        printed = [part.kind for part in self.whole().parts if part.on]
        paper = [kind in PAPER_PARTS for kind in printed]
        n = sum(paper)
        return printed[n] if 0 < n < len(printed) and all(paper[:n]) else None

    @property
    def ready(self) -> ReadySet | None:
        """The ready set that it is; None where it is none."""
        on = {part.kind for part in self.whole().parts if part.on}
        return next((ready for ready in ReadySet if parts_of(ready) == on), None)


USUAL_REPORT = ReportChoice()
