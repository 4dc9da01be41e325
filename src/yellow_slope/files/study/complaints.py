"""What is wrong with a document of ours, as a sentence: where, what was meant to stand there, and what stands there.

The kinds of a document say what may stand where (`msgspec.inspect`); what is there is gone through beside them.
"""

from __future__ import annotations

import difflib
import json
import operator
from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache
from typing import Any

import msgspec
from msgspec import inspect

from yellow_slope.core.errors import FileError
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.values import dataclass

LONGEST = 60
"""Characters of what stands there that are repeated."""
NAMED = {"blocks": "block", "terms": "term", "models": "model", "samples": "sample", "probes": "probe"}
"""Lists whose entries are counted by their own name."""
Step = int | str


@dataclass(frozen=True, slots=True)
class Fault:
    """A place, and what is wrong there as the end of a sentence."""

    steps: tuple[Step, ...]
    words: str


Convert = Callable[[object, Any], object]


def complaint(raw: object, kind: Any, source: str, convert: Convert) -> FileError:
    """The first fault of what should be of a kind, as a sentence with its place."""
    found = next(_faults(raw, _said_by_type(kind), (), convert), None)
    if found is None:
        return FileError(f"{source} cannot be read.")
    return FileError(f"{source}: {_place(found.steps)}{found.words}")


def _place(steps: tuple[Step, ...]) -> str:
    """“block 1, term 2: ”."""
    said: list[str] = []
    for i, part in enumerate(steps):
        before = steps[i - 1] if i else ""
        if isinstance(part, int):
            name = NAMED.get(str(before)) or ("term" if i > 1 and steps[i - 2] == "blocks" else "entry")
            if str(before) in NAMED and said:
                said.pop()
            said.append(f"{name} {part + 1}")
        else:
            said.append(part)
    return f"{', '.join(said)}: " if said else ""


# ---- finding it


@lru_cache(maxsize=8)
def _said_by_type(kind: Any) -> inspect.Type:
    return inspect.type_info(kind)


def _faults(raw: object, info: inspect.Type, steps: tuple[Step, ...], convert: Convert) -> Iterator[Fault]:
    """What is wrong with what stands at a place; of a thing that may be this or that, by the one it looks like."""
    kinds = info.types if isinstance(info, inspect.UnionType) else (info,)
    like = [kind for kind in kinds if _looks_like(raw, kind)]
    if not like:
        yield _otherwise(steps, _wanted(kinds), raw)
        return
    tagged = [kind for kind in like if isinstance(kind, inspect.StructType) and kind.tag is not None]
    if tagged and isinstance(raw, dict):
        field = str(tagged[0].tag_field)
        if field not in raw:
            yield Fault(steps, f"“{field}” is missing.")
        elif not (meant := [kind for kind in tagged if kind.tag == raw[field]]):
            yield _otherwise((*steps, field), _quoted(kind.tag for kind in tagged), raw[field])
        else:
            yield from _inside(raw, meant[0], steps, convert)
        return
    yield from _inside(raw, like[0], steps, convert)


def _looks_like(raw: object, kind: inspect.Type) -> bool:
    match kind:
        case inspect.StructType() | inspect.DictType():
            return isinstance(raw, dict)
        case inspect.ListType() | inspect.VarTupleType() | inspect.TupleType():
            return isinstance(raw, list | tuple)
        case inspect.StrType():
            return isinstance(raw, str)
        case inspect.FloatType():
            return isinstance(raw, int | float) and not isinstance(raw, bool)
        case inspect.IntType():
            return isinstance(raw, int) and not isinstance(raw, bool)
        case inspect.BoolType():
            return isinstance(raw, bool)
        case inspect.NoneType():
            return raw is None
        case inspect.LiteralType(values=values):
            return any(raw == one and type(raw) is type(one) for one in values)
        case inspect.EnumType(cls=cls):
            return raw in [member.value for member in cls]
        case inspect.CustomType():
            return isinstance(raw, list)
    return True


def _inside(raw: Any, kind: inspect.Type, steps: tuple[Step, ...], convert: Convert) -> Iterator[Fault]:
    """What is wrong in something that looks as it should."""
    match kind:
        case inspect.StructType():
            yield from _in_struct(raw, kind, steps, convert)
        case inspect.DictType(value_type=of):
            for name, one in raw.items():
                yield from _faults(one, of, (*steps, str(name)), convert)
        case inspect.ListType(item_type=of) | inspect.VarTupleType(item_type=of):
            if kind.min_length is not None and len(raw) < kind.min_length:
                yield _otherwise(steps, f"at least {kind.min_length} of them", raw)
            if kind.max_length is not None and len(raw) > kind.max_length:
                yield Fault(steps, f"at most {kind.max_length:,} of them are allowed here, not {len(raw):,}.")
            for i, one in enumerate(raw):
                yield from _faults(one, of, (*steps, i), convert)
        case inspect.TupleType(item_types=each):
            if len(raw) != len(each):
                yield _otherwise(steps, f"a list of {len(each)}", raw)
            for i, (one, of) in enumerate(zip(raw, each)):
                yield from _faults(one, of, (*steps, i), convert)
        case inspect.StrType(max_length=most) if most is not None and len(raw) > most:
            yield Fault(steps, f"a text of at most {most:,} letters is allowed here, not one of {len(raw):,}.")
        case inspect.CustomType():
            if not raw or not all(isinstance(one, str) for one in raw):
                yield _otherwise(steps, "a list of names", raw)
        case inspect.FloatType() | inspect.IntType():
            yield from _in_number(raw, kind, steps)


def _in_struct(
    raw: dict[str, Any], kind: inspect.StructType, steps: tuple[Step, ...], convert: Convert
) -> Iterator[Fault]:
    by_name = {field.encode_name: field for field in kind.fields}
    for name in raw:
        if name not in by_name and name != kind.tag_field:
            yield Fault(steps, _unknown(name, list(by_name)))
    for name, field in by_name.items():
        if name in raw:
            yield from _faults(raw[name], field.type, (*steps, name), convert)
        elif field.required:
            yield Fault(steps, f"“{name}” is missing.")
    yield from _own_complaint(raw, kind, steps, convert)


def _in_number(raw: float, kind: inspect.FloatType | inspect.IntType, steps: tuple[Step, ...]) -> Iterator[Fault]:
    for bound, is_beyond, said in (
        (kind.ge, operator.lt, "of at least"),
        (kind.gt, operator.le, "above"),
        (kind.le, operator.gt, "of at most"),
        (kind.lt, operator.ge, "below"),
    ):
        if bound is not None and is_beyond(raw, bound):
            yield _otherwise(steps, f"a number {said} {bound}", raw)


def _own_complaint(raw: object, kind: inspect.StructType, steps: tuple[Step, ...], convert: Convert) -> Iterator[Fault]:
    """What a value says of itself where all its parts are right."""
    try:
        convert(raw, kind.cls)
    except msgspec.ValidationError as error:
        if error.__cause__ is not None:
            yield Fault(steps, str(error.__cause__))


# ---- saying it


def _otherwise(steps: tuple[Step, ...], wanted: str, raw: object) -> Fault:
    given = json.dumps(raw, ensure_ascii=False, default=str)
    shown = given if len(given) <= LONGEST else f"{given[:LONGEST]}…"
    return Fault(steps, f"{wanted} is expected here, not {shown}.")


def _unknown(name: str, known: list[str]) -> str:
    near = difflib.get_close_matches(str(name), known, 1, 0.6)
    hint = f"did you mean “{near[0]}”?" if near else f"known are {listed(sorted(known))}."
    return f"“{name}” is not known here; {hint}"


def _wanted(kinds: Iterable[inspect.Type]) -> str:
    """“a text in quotes or a list in brackets”."""
    return listed(list(dict.fromkeys(said for kind in kinds if (said := _name(kind)))), "or")


def _name(kind: inspect.Type) -> str:
    match kind:
        case inspect.StructType() | inspect.DictType():
            return "an object in braces"
        case inspect.ListType() | inspect.VarTupleType() | inspect.TupleType() | inspect.CustomType():
            return "a list in brackets"
        case inspect.StrType():
            return "a text in quotes"
        case inspect.FloatType():
            return "a number"
        case inspect.IntType():
            return "a whole number"
        case inspect.BoolType():
            return "true or false"
        case inspect.LiteralType(values=values):
            return _quoted(values)
        case inspect.EnumType(cls=cls):
            return _quoted(member.value for member in cls)
    return ""


def _quoted(ids: Iterable[object]) -> str:
    """“as it is”, “centered” or “standardized”."""
    return listed([f"“{one}”" for one in ids], "or")
