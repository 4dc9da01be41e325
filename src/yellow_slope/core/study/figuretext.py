"""Sizes and looks of figures as they are typed."""

from __future__ import annotations

import re
from collections.abc import Iterable

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.figures import (
    CM_PER_INCH,
    LEAST_CM,
    MOST_CM,
    READY_LOOKS,
    READY_SIZES,
    FigureLook,
    FigureSize,
    is_between,
)
from yellow_slope.core.typed import typed_number

_SIZE = re.compile(
    r"\s*([\d.,]+)\s*(?:(cm|mm|in|inch|inches)?\s*(?:x|×|by)\s*([\d.,]+))?\s*(cm|mm|in|inch|inches)?\s*", re.IGNORECASE
)
_PER_CM = {"cm": 1.0, "mm": 0.1, "in": CM_PER_INCH, "inch": CM_PER_INCH, "inches": CM_PER_INCH}


def read_size(text: str) -> FigureSize:
    """“8.5 cm”, “17.5 x 9 cm”, “3.5 in”, or the name of a size, as in “single column”. StudyError for anything else."""
    named = {name.casefold(): size for name, size in READY_SIZES.items()}
    found = named.get(" ".join(text.split()).casefold())
    if found is not None:
        return found
    said = _SIZE.fullmatch(text)
    lengths = [typed_number(length) for length in said.group(1, 3) if length] if said else []
    known = [length for length in lengths if length is not None]
    if said is None or len(known) < len(lengths):
        names = ", ".join(f"“{name}”" for name in READY_SIZES)
        raise StudyError(f"“{text.strip()}” is not a size; type “8.5 cm”, “17.5 x 9 cm”, “3.5 in”, or {names}.")
    unit = _PER_CM[(said.group(4) or said.group(2) or "cm").lower()]
    width, height = known[0] * unit, known[1] * unit if len(known) == 2 else None
    for length, which in ((width, "wide"), (height, "high")):
        if length is not None and not is_between(length, LEAST_CM, MOST_CM):
            raise StudyError(f"A figure is {LEAST_CM:g} to {MOST_CM:g} cm {which}, not {length:g}.")
    return FigureSize(width, height)


def read_look(text: str, own: Iterable[FigureLook] = ()) -> FigureLook:
    """The look of a name, one's own before those that are ready. StudyError with those there are."""
    wanted = " ".join(text.split()).casefold()
    looks = {look.name.casefold(): look for look in (*READY_LOOKS, *own)}
    if wanted not in looks:
        names = ", ".join(f"“{look.name}”" for look in looks.values())
        raise StudyError(f"There is no look “{text.strip()}”; there are {names}.")
    return looks[wanted]


def size_name(size: FigureSize) -> str:
    """“single column, 8.5 cm”, “12 × 8 cm”."""
    for name, ready in READY_SIZES.items():
        if ready == size:
            return f"{name}, {round(size.width, 2):g} cm"
    if size.height is None:
        return f"{round(size.width, 2):g} cm wide"
    return f"{round(size.width, 2):g} × {round(size.height, 2):g} cm"
