"""Letters at the beginning of sentences."""

from __future__ import annotations


def capital(text: str) -> str:
    """The text with a capital first letter."""
    return text[:1].upper() + text[1:]
