"""JSON as a person or a program wrote it: read within bounds, refused in a sentence."""

from __future__ import annotations

import json
import math
import re
from typing import Any

from yellow_slope.core.data.scanner import DEEPEST
from yellow_slope.core.errors import FileError

ZERO = re.compile(r"((?<!\\)(?:\\\\)*)\\u0000")
"""A character of code 0 as JSON writes it, after an even number of backslashes."""
HALF = re.compile("[\ud800-\udfff]")
MOST_NESTED = 20 + 6 * DEEPEST
"""Room for every condition that can be typed: each parenthesis is up to six levels of JSON."""
MOST_VALUES = 2_000_000
"""A description of 20,000 columns with all that can be said of them holds a tenth of this."""


def json_text(value: Any, indent: int | None = None) -> bytes:
    """The value as JSON that the reader takes: what is no letter in a name is marked as that."""
    text = ZERO.sub("\\1\ufffd", json.dumps(value, indent=indent, ensure_ascii=False))
    return HALF.sub("\ufffd", text).encode("utf-8")


def json_value(content: bytes, source: str) -> Any:
    """The value in a JSON text. FileError says what is wrong and where."""
    try:
        text = content.removeprefix(b"\xef\xbb\xbf").decode("utf-8")
    except UnicodeDecodeError as error:
        line = content.count(b"\n", 0, error.start) + 1
        raise FileError(f"{source} is not in UTF-8: line {line} holds something else.") from error
    try:
        value = json.loads(text, parse_constant=_no_number)
    except json.JSONDecodeError as error:
        raise FileError(
            f"{source} is not readable JSON: line {error.lineno}, character {error.colno} is not valid."
        ) from error
    except RecursionError as error:
        raise FileError(f"{source} is nested too deeply to be read.") from error
    except ValueError as error:
        raise FileError(f"{source} is not readable JSON: {error}.") from error
    _check(value, source)
    return value


def json_object(content: bytes, source: str) -> dict[str, Any]:
    """The object in a JSON text; FileError where it is something else."""
    found = json_value(content, source)
    if not isinstance(found, dict):
        raise FileError(f"{source} is not a JSON object.")
    return found


def _no_number(word: str) -> float:
    raise ValueError(f"“{word}” is not a number")


def _check(value: Any, source: str) -> None:
    """FileError for what is nested too deeply, is too much, or cannot be written again."""
    level, count, depth = [value], 0, 0
    while level:
        depth, count = depth + 1, count + len(level)
        if depth > MOST_NESTED:
            raise FileError(f"{source} is nested more than {MOST_NESTED} deep; it is not read.")
        if count > MOST_VALUES:
            raise FileError(f"{source} holds more than {MOST_VALUES:,} values; it is not read.")
        below: list[Any] = []
        for one in level:
            if isinstance(one, dict):
                below.extend(one)
                below.extend(one.values())
            elif isinstance(one, list):
                below.extend(one)
            elif isinstance(one, str) and not one.isascii() and any("\ud800" <= c <= "\udfff" for c in one):
                raise FileError(f"{source} holds half a character in “{one.encode('utf-8', 'replace').decode()}”.")
            elif isinstance(one, str) and "\x00" in one:
                raise FileError(f"{source} holds a character of code 0.")
            elif (isinstance(one, int) and abs(one) > 1 << 1000) or (isinstance(one, float) and math.isinf(one)):
                raise FileError(f"{source} holds a number that is too large.")
        level = below
