"""What is no letter: texts that people give or files hold are kept without it."""

from __future__ import annotations

import re

from yellow_slope.values import settle

_LAST_OF_PLANES = "".join(chr(plane + end) for plane in range(0, 0x110000, 0x10000) for end in (0xFFFE, 0xFFFF))
NO_LETTER = re.compile(
    "[\x00-\x08\x0b-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff\ufdd0-\ufdef\ufeff"
    f"{_LAST_OF_PLANES}]"
)
"""Control characters, halves of characters as stand in names of files that are no text, code points that are no
characters, the mark that a text begins with, and what turns the direction in which a text is read, so that it shows
something else than it says."""
UNKNOWN = "\ufffd"


def shown(text: str) -> str:
    """The text as it can be shown and written anywhere: what is no letter in it is marked as that, lines end alike."""
    if text.isascii() and text.isprintable():
        return text
    return NO_LETTER.sub(UNKNOWN, text.replace("\r\n", "\n").replace("\r", "\n"))


def letters_only(value: object, *names: str) -> None:
    """Let the texts of a frozen value hold nothing but letters, None among them: what is said and what is printed is
    made of such values, so that no writer has to think of it."""
    for name in names:
        text = getattr(value, name)
        clean = shown(text) if text is not None else None
        if clean is not text:
            settle(value, name, clean)
