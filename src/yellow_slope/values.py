"""Values: classes that are made of their fields and of nothing else.

A value is written as a dataclass and checked as one by the type checker, every `replace` included. When the program
runs it is a Struct of msgspec: hundreds of them are made before the first sight, a Struct in a fiftieth of the time and
with no code of its own. What a Struct does not know (a field that is not given, not compared or not told) stays a
dataclass.

What stands in files is described by its type alone (`files/study/typed.py`). A kind that stands where another one may
as well gives its id there: `stored_as = "dummy"`.
"""

from __future__ import annotations

import dataclasses
import inspect
from typing import TYPE_CHECKING, Any

from msgspec import Struct, structs
from msgspec import field as struct_field

if TYPE_CHECKING:
    from dataclasses import dataclass as dataclass
    from dataclasses import field as field
    from dataclasses import replace as replace  # noqa: TID251
else:
    OfStruct = type(Struct)
    TAG = "is"

    def dataclass(cls=None, /, *, frozen=False, slots=False, eq=True, weakref_slot=False):
        """The class as a value. Without slots it keeps what is computed once with it."""
        if cls is None:
            return lambda cls: dataclass(cls, frozen=frozen, slots=slots, eq=eq, weakref_slot=weakref_slot)
        if isinstance(cls, OfStruct):
            return _inherited(cls, frozen, eq)
        declared = (cls.__dict__.get(name) for name in inspect.get_annotations(cls))
        own_kinds = {type(base) for base in cls.__bases__} - {type, OfStruct}
        is_other = any(base is not object and dataclasses.is_dataclass(base) for base in cls.__bases__)
        if own_kinds or is_other or any(isinstance(one, dataclasses.Field) for one in declared):
            return dataclasses.dataclass(frozen=frozen, slots=slots, eq=eq, weakref_slot=weakref_slot)(cls)
        bases = tuple(base for base in cls.__bases__ if base is not object)
        content = {name: one for name, one in cls.__dict__.items() if name not in ("__dict__", "__weakref__")}
        kept = {"dict": not slots, "weakref": weakref_slot or not slots}
        if "stored_as" in content:
            kept |= {"tag": content["stored_as"], "tag_field": TAG}
        return OfStruct(
            cls.__name__, (Struct, *bases), content, frozen=frozen, eq=eq, forbid_unknown_fields=True, **kept
        )

    def _inherited(cls, frozen, eq):
        """A class that is a Struct by what it inherits: as it is, if it is as it says."""
        of = cls.__struct_config__
        if (of.frozen, of.eq) != (frozen, eq) or any(isinstance(d, dataclasses.Field) for d in cls.__struct_defaults__):
            raise TypeError(f"{cls.__name__} is another kind of value than what it inherits from")
        return cls

    def field(*, default=dataclasses.MISSING, default_factory=dataclasses.MISSING, **more):
        """What a field holds where nothing is given."""
        if more:
            return dataclasses.field(default=default, default_factory=default_factory, **more)
        return struct_field(default_factory=default_factory) if default is dataclasses.MISSING else default

    def replace(one, /, **changes):
        """The value with other contents in some fields."""
        return structs.replace(one, **changes) if isinstance(one, Struct) else dataclasses.replace(one, **changes)  # noqa: TID251


def names_of(kind: Any) -> tuple[str, ...]:
    """The names of the fields of a value, or of a kind of values."""
    own = getattr(kind, "__struct_fields__", None)
    return tuple(own) if own is not None else tuple(one.name for one in dataclasses.fields(kind))


def settle(one: Any, name: str, content: object) -> None:
    """Give a field of a frozen value what it holds from then on: only while the value is made."""
    if isinstance(one, Struct):
        structs.force_setattr(one, name, content)
    else:
        object.__setattr__(one, name, content)
