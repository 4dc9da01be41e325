"""Letters at the beginning of sentences, and what is no letter."""

from __future__ import annotations

import re

NO_LETTER = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff]")
"""Control characters, halves of characters as stand in names of files that are no text, and what turns the direction
in which a text is read, so that it shows something else than it says."""
UNKNOWN = "\ufffd"


def capital(text: str) -> str:
    """The text with a capital first letter."""
    return text[:1].upper() + text[1:]


def shown(text: str) -> str:
    """The text as it can be shown anywhere: what is no letter in it is marked as that."""
    return NO_LETTER.sub(UNKNOWN, text)


def continued(text: str) -> str:
    """A sentence as it goes on after a colon, its first word in lower case unless it is an abbreviation."""
    return text[:1].lower() + text[1:] if text[1:2].islower() or text[1:2] == " " else text
