"""Letters at the beginning of sentences, and what is no letter."""

from __future__ import annotations

import re

NO_LETTER = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\ud800-\udfff]")
"""Control characters, and halves of characters, as stand in names of files that are no text."""
UNKNOWN = "\ufffd"


def capital(text: str) -> str:
    """The text with a capital first letter."""
    return text[:1].upper() + text[1:]


def shown(text: str) -> str:
    """The text as it can be shown anywhere: what is no letter in it is marked as that."""
    return NO_LETTER.sub(UNKNOWN, text)
