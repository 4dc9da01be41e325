"""The equation of a step as a page: lines that break before a sign, in the figures' own font."""

from __future__ import annotations

from yellow_slope.looks import LIGHT
from yellow_slope.plots.marks import Page, Part, Text
from yellow_slope.plots.measuring import ASCENT, LEADING, text_width, wrapped

WIDTH = 6.5 * 72
"""Points: the text width of a printed page."""
SIZE = 11.0
PAD = 9.0
INDENT = 2 * SIZE
LEADS = LEADING * 1.15


def equation_lines(text: str, room: float = WIDTH - 2 * PAD, size: float = SIZE) -> list[str]:
    """The equation in lines that have room, broken before a sign that stands between summands, else between words."""
    lines: list[str] = []
    for part in _summands(text):
        left = room - (INDENT if lines else 0.0)
        if lines and text_width(f"{lines[-1]} {part}", size) <= room - (INDENT if len(lines) > 1 else 0.0):
            lines[-1] += f" {part}"
        else:
            lines += wrapped(part, left, size) or [part]
    return lines


def _summands(text: str) -> list[str]:
    """The text cut before every sign that stands outside of parentheses and brackets."""
    parts, depth, begin = [], 0, 0
    for i, mark in enumerate(text):
        depth += (mark in "([") - (mark in ")]")
        if depth == 0 and mark in "+−" and text[i - 1 : i] == " " and text[i + 1 : i + 2] == " ":
            parts.append(text[begin:i].strip())
            begin = i
    return [*parts, text[begin:].strip()]


def equation_page(text: str) -> Page:
    """A page as wide as a printed one's text, and as high as the equation needs."""
    lines = equation_lines(text)
    height = 2 * PAD + len(lines) * LEADS * SIZE
    wide = max(WIDTH, *(2 * PAD + (INDENT if i else 0.0) + text_width(line, SIZE) for i, line in enumerate(lines)))
    marks = tuple(
        Text(
            line, PAD + (INDENT if i else 0.0), PAD + i * LEADS * SIZE + ASCENT * SIZE + 1, SIZE, LIGHT.ink, Part.TITLE
        )
        for i, line in enumerate(lines)
    )
    return Page(wide, height, marks, ground=LIGHT.panel)
