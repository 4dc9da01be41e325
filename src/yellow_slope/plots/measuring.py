"""How wide texts are, by the bundled font's own widths."""

from __future__ import annotations

import json
import unicodedata
from functools import lru_cache

from yellow_slope import looks

ASCENT, DESCENT = 0.78, 0.23
"""How far letters reach above and below their baseline, in sizes."""
LEADING = 1.22
"""From one baseline to the next, in sizes."""
WIDE, NARROW = 1.0, 0.72
"""The width of a letter that the font does not have, in sizes: of Chinese and its like, and of all others."""


@lru_cache(maxsize=4)
def _widths(style: str) -> dict[str, float]:
    """The width of each letter of a style, in sizes."""
    known = json.loads((looks.FONT_FOLDER / "widths.json").read_text(encoding="utf-8"))
    return {letter: width / 1000 for letter, width in known[style].items()}


@lru_cache(maxsize=16_384)
def text_width(text: str, size: float, bold: bool = False, italic: bool = False) -> float:
    """The width of a line of text at a size, in the unit of the size."""
    widths = _widths("SemiBold" if bold else "Italic" if italic else "Regular")
    return size * sum(widths[letter] if letter in widths else _width_elsewhere(letter) for letter in text)


def has_letter(letter: str) -> bool:
    """Whether the bundled font has a letter."""
    return letter in _widths("Regular")


@lru_cache(maxsize=4096)
def _width_elsewhere(letter: str) -> float:
    """The width of a letter that another font writes."""
    if unicodedata.combining(letter) or unicodedata.category(letter) == "Cf":
        return 0.0
    return WIDE if unicodedata.east_asian_width(letter) in "WF" else NARROW


def broken_anywhere(text: str, room: float, size: float) -> list[str]:
    """The text in lines that have room, broken between words, and words that have none between letters."""
    lines: list[str] = []
    for word in text.split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and text_width(longer, size) <= room:
            lines[-1] = longer
            continue
        lines.append("")
        for letter in word:
            if lines[-1] and text_width(lines[-1] + letter, size) > room:
                lines.append("")
            lines[-1] += letter
    return lines


def name_lines(name: str, room: float, size: float, bold: bool = False, most: int = 3) -> list[str] | None:
    """A name in at most so many lines; None where it needs more, or a word has no room."""
    lines = wrapped(name, room, size, bold)
    return lines if lines is not None and len(lines) <= most else None


def wrapped(text: str, room: float, size: float, bold: bool = False) -> list[str] | None:
    """The text in lines that have room, broken between words; None where a single word has none."""
    lines: list[str] = []
    line = ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if text_width(longer, size, bold) <= room:
            line = longer
            continue
        if text_width(word, size, bold) > room:
            return None
        lines.append(line)
        line = word
    return [line for line in [*lines, line] if line]
