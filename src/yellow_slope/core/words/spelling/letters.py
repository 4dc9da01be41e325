"""Letters at the beginning of sentences."""

from __future__ import annotations


def capital(text: str) -> str:
    """The text with a capital first letter; a symbol or a name of one letter stays as it is."""
    is_symbol = text[:1].lower() != "a" and not text[1:2].isalpha() and text[1:2] != "-"
    return text if is_symbol else text[:1].upper() + text[1:]


def continued(text: str) -> str:
    """A sentence as it goes on after a colon, its first word in lower case unless it is an abbreviation."""
    return text[:1].lower() + text[1:] if text[1:2].islower() or text[1:2] == " " else text


def ended(text: str) -> str:
    """A sentence with its full stop, where it does not end with a mark of its own."""
    return text if text.endswith((".", "?", "!")) else f"{text}."
