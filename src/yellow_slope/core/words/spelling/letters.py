"""Letters at the beginning of sentences, and signs that stand for labels until a text is printed."""

from __future__ import annotations

FIRST_SIGN, CAPITAL = 0x10F000, "\U0010fff0"
"""Code points of private use: what stands for a label, and what says that the label begins a sentence."""
MOST_SIGNS = 0xF00


def sign_of(index: int) -> str:
    """What stands for the label of that position."""
    return chr(FIRST_SIGN + index)


def is_sign(text: str) -> bool:
    """Whether a text is such a sign."""
    return len(text) == 1 and FIRST_SIGN <= ord(text) < FIRST_SIGN + MOST_SIGNS


def capital(text: str) -> str:
    """The text with a capital first letter; a symbol or a name of one letter stays as it is."""
    if is_sign(text[:1]):
        return CAPITAL + text
    is_symbol = text[:1].lower() != "a" and not text[1:2].isalpha() and text[1:2] != "-"
    return text if is_symbol else text[:1].upper() + text[1:]


def continued(text: str) -> str:
    """A sentence as it goes on after a colon, its first word in lower case unless it is an abbreviation."""
    if text.startswith(CAPITAL):
        return text[1:]
    return text[:1].lower() + text[1:] if text[1:2].islower() or text[1:2] == " " else text


def ended(text: str) -> str:
    """A sentence with its full stop, where it does not end with a mark of its own."""
    return text if text.endswith((".", "?", "!")) else f"{text}."
