"""What is wrong with a document of ours, as a sentence: where, what was meant to stand there, and what stands there."""

from __future__ import annotations

import difflib
import json
import types
from collections import Counter
from collections.abc import Iterator
from typing import Annotated, Any, Union, get_args, get_origin

from pydantic import BaseModel, ValidationError

from yellow_slope.core.errors import FileError
from yellow_slope.core.words.spelling.numerals import listed

WANTED = {
    "string_type": "a text in quotes",
    "list_type": "a list in brackets",
    "tuple_type": "a list in brackets",
    "dict_type": "an object in braces",
    "model_type": "an object in braces",
    "model_attributes_type": "an object in braces",
    "float_type": "a number",
    "float_parsing": "a number",
    "int_type": "a whole number",
    "int_parsing": "a whole number",
    "int_from_float": "a whole number",
    "bool_type": "true or false",
    "bool_parsing": "true or false",
    "finite_number": "a number that is not infinite",
}
TRIED = {"str", "float", "int", "bool", "literal", "is-instance"}
"""How the validation calls kinds that it tried."""
LONGEST = 60
"""Characters of what stands there that are repeated."""
NAMED = {"blocks": "block", "terms": "term", "models": "model", "samples": "sample", "probes": "probe"}
"""Lists whose entries are counted by their own name."""


def explained(error: ValidationError, source: str, document: type[BaseModel]) -> FileError:
    """The complaint that tells most, as a sentence with its place."""
    faults = error.errors(include_url=False)
    # Of a thing that may be this or that each is tried: what came furthest with the least to complain of was meant.
    tried = Counter(_tried(fault["loc"]) for fault in faults)
    rank = {"extra_forbidden": 2, "missing": 0}
    fault = max(faults, key=lambda f: (len(_steps(f["loc"])), -tried[_tried(f["loc"])], rank.get(f["type"], 1)))
    steps = _steps(fault["loc"])
    if fault["type"] == "extra_forbidden":
        *steps, unknown = steps
        known = sorted(_names_at(document, steps))
        near = difflib.get_close_matches(str(unknown), known, 1, 0.6)
        hint = f"did you mean “{near[0]}”?" if near else f"known are {listed(known)}."
        return FileError(f"{source}: {_place(steps)}“{unknown}” is not known here; {hint}")
    if fault["type"] == "missing":
        *steps, name = steps
        return FileError(f"{source}: {_place(steps)}“{name}” is missing.")
    here = [f for f in faults if _steps(f["loc"]) == steps]
    alike = [f for f in here if f["type"] not in ("extra_forbidden", "missing")]
    wanted = list(dict.fromkeys(_wanted(f) for f in alike))
    given = json.dumps(fault["input"], ensure_ascii=False, default=str)
    shown = given if len(given) <= LONGEST else f"{given[:LONGEST]}…"
    return FileError(f"{source}: {_place(steps)}{listed(wanted, 'or')} should stand here, not {shown}.")


def _steps(location: tuple[int | str, ...]) -> list[int | str]:
    """The place without the names of the kinds that were tried."""
    return [part for part in location if isinstance(part, int) or _is_own(part)]


def _tried(location: tuple[int | str, ...]) -> tuple[str, ...]:
    """The names of the kinds that were tried."""
    return tuple(part for part in location if isinstance(part, str) and not _is_own(part))


def _is_own(part: str) -> bool:
    return not part.endswith(("Document", "]")) and part not in {
        "str",
        "float",
        "int",
        "bool",
        "literal",
        "is-instance",
    }


def _place(steps: list[int | str]) -> str:
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
            said.append(str(part))
    return f"{', '.join(said)}: " if said else ""


def _wanted(fault: Any) -> str:
    context = fault.get("ctx", {})
    match fault["type"]:
        case "literal_error" | "enum":
            return _quoted(str(context["expected"]))
        case "less_than":
            return f"a number below {context['lt']}"
        case "less_than_equal":
            return f"a number of at most {context['le']}"
        case "greater_than":
            return f"a number above {context['gt']}"
        case "greater_than_equal":
            return f"a number of at least {context['ge']}"
        case "too_short":
            return f"at least {context['min_length']} of them"
        case kind:
            return WANTED.get(str(kind), str(fault["msg"]).lower())


def _quoted(expected: str) -> str:
    """“as it is”, “centered” or “standardized”, of what the validation lists in straight quotes."""
    return listed([f"“{part}”" for part in expected.split("'")[1::2]], "or")


def _names_at(document: type[BaseModel], steps: list[int | str]) -> set[str]:
    """The names that an object at the place may have."""
    kinds: set[type[BaseModel]] = {document}
    for step in steps:
        if isinstance(step, int):
            continue
        found: set[type[BaseModel]] = set()
        for kind in kinds:
            for name, field in kind.model_fields.items():
                if step in (name, field.alias):
                    found |= set(_documents(field.annotation))
        kinds = found or kinds
    return {field.alias or name for kind in kinds for name, field in kind.model_fields.items()}


def _documents(annotation: Any) -> Iterator[type[BaseModel]]:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    elif get_origin(annotation) in (Union, types.UnionType, list, dict, tuple, Annotated):
        for part in get_args(annotation):
            yield from _documents(part)
