"""The equation of a step as a picture: lines of text that break before a sign, in the figures' own font."""

from __future__ import annotations

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.equation import equation
from yellow_slope.looks import LIGHT
from yellow_slope.report.figures import figure_bytes, figure_style, new_figure, plain

WIDTH = 6.5
"""Inches: the text width of a printed page."""
SIZE = 11
CHARACTERS = 78
"""Of that size in a line of that width."""


def equation_lines(text: str, width: int = CHARACTERS) -> list[str]:
    """The equation in lines of at most that many characters, broken before a sign that stands between summands."""
    lines: list[str] = []
    for part in _summands(text):
        if lines and len(lines[-1]) + 1 + len(part) <= width:
            lines[-1] += f" {part}"
        else:
            lines.append(part if not lines else f"    {part}")
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


def equation_picture(study: Study, fit: Fit, step: int, dpi: int = 300) -> bytes:
    """A PNG of the equation."""
    lines = equation_lines(equation(study, fit, step))
    with figure_style(SIZE):
        figure = new_figure(WIDTH, 0.3 + 0.24 * len(lines), dpi)
        for i, line in enumerate(lines):
            figure.text(
                0.02,
                1 - (0.15 + 0.24 * (i + 0.5)) / (0.3 + 0.24 * len(lines)),
                plain(line),
                va="center",
                color=LIGHT.ink,
            )
        return figure_bytes(figure, "png", dpi)
