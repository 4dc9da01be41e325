"""A flag: a remark on something that deserves care. That it stands is known at once; its cost when somebody looks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property

from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.whole import Edit
from yellow_slope.values import dataclass, field


@dataclass(frozen=True, slots=True)
class Remedy:
    """One click: what it says and what it does to the study."""

    label: str
    edit: Edit
    then: FlagKey | None = None
    """The flag to be looked at afterwards."""


def together(study: Study, kind: FlagKind, names: Sequence[str]) -> list[tuple[str, ...]]:
    """Variables of which the same is to be said, in one flag; those about which it was put aside stay together."""
    left, found = list(names), []
    for dismissal in study.dismissals:
        if dismissal.flag.kind is kind and any(name in left for name in dismissal.flag.about):
            found.append(dismissal.flag.about)
            left = [name for name in left if name not in dismissal.flag.about]
    return [*found, tuple(left)] if left else found


@dataclass(frozen=True)
class Flag:
    """A remark. `term` or `variable` says where it stands; both None: at the cases in use."""

    key: FlagKey
    title: str
    tell: Callable[[], tuple[str, tuple[Remedy, ...]]] = field(repr=False, compare=False)
    """Computes cost and remedies; may take a while."""
    variable: str | None = None
    term: Term | None = None
    also: tuple[str, ...] = ()
    """Further variables at which it stands."""

    def stands_at(self, name: str) -> bool:
        """Whether it stands at the variable."""
        return self.variable == name or name in self.also

    @cached_property
    def _told(self) -> tuple[str, tuple[Remedy, ...]]:
        return self.tell()

    @property
    def cost(self) -> str:
        """What it costs, in numbers of this study; computed at the first look."""
        return self._told[0]

    @property
    def remedies(self) -> tuple[Remedy, ...]:
        """What can be done about it with one click."""
        return self._told[1]

    @property
    def is_told(self) -> bool:
        """Whether cost and remedies have been computed."""
        return "_told" in self.__dict__
