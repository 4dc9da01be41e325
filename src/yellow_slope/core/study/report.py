"""What of the report is printed, in which order, and what is said beside it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

LONGEST_COMMENT = 4000
"""Characters of a comment."""


class PartKind(StrEnum):
    """A part of the report; the value is the id in files and commands."""

    FINDINGS = "findings"
    SAMPLE = "sample"
    VARIABLES = "variables"
    STEPS = "steps"
    WORDS = "coefficients in words"
    GROUPS = "one model per group"
    MODELS = "models side by side"
    PROBES = "conditional effects"
    CHECKS = "checks"
    FIGURES = "figures"
    EQUATION = "equation"
    METHODS = "methods"
    REPEAT = "how to repeat it"


class ReadySet(StrEnum):
    """Parts for a purpose; the value is its id in commands."""

    PAPER = "paper"
    APPENDIX = "appendix"
    EVERYTHING = "everything"


def parts_of(ready: ReadySet) -> frozenset[PartKind]:
    """The parts that a ready set prints."""
    kinds = PartKind
    match ready:
        case ReadySet.PAPER:
            return frozenset({kinds.FINDINGS, kinds.VARIABLES, kinds.STEPS, kinds.PROBES, kinds.FIGURES})
        case ReadySet.APPENDIX:
            return frozenset(set(kinds) - {kinds.FINDINGS, kinds.WORDS})
        case ReadySet.EVERYTHING:
            return frozenset(kinds)


@dataclass(frozen=True, slots=True)
class ReportPart:
    """A part with whether it is printed, and what somebody says above and below it."""

    kind: PartKind
    on: bool = True
    above: str = ""
    below: str = ""


OFF_AT_FIRST = frozenset({PartKind.WORDS})
USUAL_PARTS = tuple(ReportPart(kind, kind not in OFF_AT_FIRST) for kind in PartKind)


@dataclass(frozen=True, slots=True)
class ReportChoice:
    """Which parts the report has, in their order, and how they are written."""

    parts: tuple[ReportPart, ...] = USUAL_PARTS
    assigned: tuple[str, ...] = ()
    """Variables to which cases were assigned: of them a causal word may be said."""

    def part(self, kind: PartKind) -> ReportPart:
        """A part as it was chosen."""
        return next((part for part in self.parts if part.kind is kind), ReportPart(kind, kind not in OFF_AT_FIRST))

    def with_part(self, new: ReportPart) -> ReportChoice:
        """With a part otherwise."""
        return replace(self, parts=tuple(new if part.kind is new.kind else part for part in self.whole().parts))

    def whole(self) -> ReportChoice:
        """With every part there is, those that nobody placed last."""
        known = {part.kind for part in self.parts}
        missing = tuple(part for part in USUAL_PARTS if part.kind not in known)
        return replace(self, parts=(*self.parts, *missing)) if missing else self

    def of_set(self, ready: ReadySet) -> ReportChoice:
        """With the parts of a ready set, in the order they have, and the words about them."""
        wanted = parts_of(ready)
        return replace(self, parts=tuple(replace(part, on=part.kind in wanted) for part in self.whole().parts))

    @property
    def ready(self) -> ReadySet | None:
        """The ready set that it is; None where it is none."""
        on = {part.kind for part in self.whole().parts if part.on}
        return next((ready for ready in ReadySet if parts_of(ready) == on), None)


USUAL_REPORT = ReportChoice()
