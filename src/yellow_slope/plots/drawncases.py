"""Which cases are drawn as points: all, or of very many so many that each can still be seen, and a word about it."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import IntArray
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Box, Mark, Part, Text

MOST = 5000
"""More points than this cover each other; a figure file of a million would hold a hundred megabytes."""


def drawn_cases(cases: IntArray, most: int = MOST) -> IntArray:
    """So many of the cases, drawn by lot once and for all, in their order."""
    if cases.size <= most:
        return cases
    return np.asarray(np.sort(np.random.default_rng(cases.size).choice(cases, most, replace=False)))


def undrawn_note(look: Look, area: Box, drawn: int, there: int) -> list[Mark]:
    """What is said above a plot that shows some of its cases."""
    if drawn == there:
        return []
    text = f"{drawn:,} of {counted(there, 'case')}, at random"
    return [Text(text, area.left + look.of(2), area.top - look.of(3), look.small, look.palette.soft_ink, Part.NOTE)]
