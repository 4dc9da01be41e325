"""A value is the same whether it is a Struct or a dataclass."""

from __future__ import annotations

import dataclasses
import importlib
import pkgutil
from collections.abc import Iterator

import pytest
from msgspec import Struct

import yellow_slope
from yellow_slope.values import dataclass, field, names_of, replace, settle


@dataclass(frozen=True, slots=True)
class Plain:
    """A value that is a Struct."""

    size: int
    parts: tuple[str, ...] = ()
    seen: list[int] = field(default_factory=list)

    def __post_init__(self) -> None:
        settle(self, "parts", tuple(part.strip() for part in self.parts))


@dataclass(frozen=True, slots=True)
class Further(Plain):
    """One that inherits."""

    more: str = "more"


@dataclass(frozen=True, slots=True)
class Other:
    """A value with a field that is not compared: a dataclass."""

    size: int
    note: str = field(default="", compare=False)
    twice: int = field(init=False)

    def __post_init__(self) -> None:
        settle(self, "twice", 2 * self.size)


@dataclass(frozen=True, slots=True, eq=False)
class Result:
    """A value that is the same as itself alone."""

    size: int


def test_what_it_is() -> None:
    assert isinstance(Plain(1), Struct)
    assert isinstance(Further(1), Struct)
    assert dataclasses.is_dataclass(Other(1))


@pytest.mark.parametrize("kind", [Plain, Further, Other])
def test_alike_are_the_same(kind: type[Plain] | type[Other]) -> None:
    one, other = kind(3), kind(3)
    assert one == other
    assert one != kind(4)
    assert replace(one, size=4) == kind(4)
    with pytest.raises(TypeError):
        replace(one, sizes=4)  # type: ignore[call-arg]
    with pytest.raises(AttributeError):
        one.size = 4  # type: ignore[misc]
    match one:
        case Plain(size) | Other(size):
            assert size == 3


def test_what_is_not_given() -> None:
    assert Plain(1, (" a", "b ")).parts == ("a", "b")
    assert replace(Plain(1), parts=(" c ",)).parts == ("c",)
    assert Plain(1).seen is not Plain(1).seen
    assert Further(1).more == "more"
    assert replace(Other(1), size=5).twice == 10
    assert Other(1, "a") == Other(1, "b")
    assert hash(Other(1, "a")) == hash(Other(1, "b"))
    assert Result(1) != Result(1)
    assert len({Result(1), Result(1)}) == 2


def test_names() -> None:
    assert names_of(Plain) == names_of(Plain(1)) == ("size", "parts", "seen")
    assert names_of(Further) == ("size", "parts", "seen", "more")
    assert names_of(Other) == ("size", "note", "twice")


def test_another_kind_than_what_it_inherits_from() -> None:
    with pytest.raises(TypeError, match="another kind of value"):

        @dataclass(frozen=True, slots=True, eq=False)
        class _Loose(Plain):
            more: str = ""


def _kinds() -> Iterator[type]:
    for module in pkgutil.walk_packages(yellow_slope.__path__, "yellow_slope."):
        if module.name.endswith("__main__"):
            continue
        for one in vars(importlib.import_module(module.name)).values():
            if isinstance(one, type) and one.__module__ == module.name:
                yield one


def test_nearly_all_values_are_structs() -> None:
    """What the program begins with is made fast: a dataclass is an exception that needs a reason."""
    kinds = list(_kinds())
    structs = [kind for kind in kinds if issubclass(kind, Struct)]
    classes = [kind for kind in kinds if dataclasses.is_dataclass(kind) and ".app." not in kind.__module__]
    assert len(structs) > 15 * len(classes), [kind.__qualname__ for kind in classes]
