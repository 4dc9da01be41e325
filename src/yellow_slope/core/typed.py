"""Numbers as somebody types them: read in one way, whatever the language of the machine."""

from __future__ import annotations

import math
import re

_NUMBER = re.compile(r"[-−+]?(?:[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+)(?:[eE][-−+]?[0-9]+)?")
_WHOLE = re.compile(r"[-−+]?(?:[0-9]+|[0-9]{1,3}(?:[ ,.\u00a0\u2009\u202f][0-9]{3})+)")
_BETWEEN = re.compile(r"\s*;\s*|,\s+|\s+")
MOST_DIGITS = 15
"""A whole number of more is not kept exactly."""


def typed_number(text: str) -> float | None:
    """The finite number that somebody typed, with a point or a comma before its decimals; None where it is none."""
    text = text.strip()
    if not _NUMBER.fullmatch(text):
        return None
    value = float(text.replace("−", "-").replace(",", "."))
    return value if math.isfinite(value) else None


def typed_whole(text: str) -> int | None:
    """The whole number that somebody typed, also with its digits in threes; None where it is none."""
    text = text.strip()
    if not _WHOLE.fullmatch(text):
        return None
    digits = re.sub(r"[^-−0-9]", "", text).replace("−", "-")
    return int(digits) if len(digits) <= MOST_DIGITS else None


def typed_numbers(text: str) -> list[float] | str:
    """The numbers of a list, divided by semicolons, blanks, or commas with a blank; or the first part that is none.

    Commas without a blank divide only where there are several of them: “0,5” is a half, “0,1,2” are three numbers.
    """
    found: list[float] = []
    for part in _BETWEEN.split(text.strip().strip(";,").strip()):
        pieces = part.split(",") if part.count(",") > 1 else [part]
        for piece in pieces:
            value = typed_number(piece)
            if value is None:
                return piece
            found.append(value)
    return found
