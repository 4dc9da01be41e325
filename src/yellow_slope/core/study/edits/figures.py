"""Edits of how figures look."""

from __future__ import annotations

from dataclasses import replace

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit

LEAST_LETTERS, MOST_LETTERS = 5.0, 24.0
"""Points."""


@edit
def set_figure_letters(study: Study, points: float) -> Study:
    """Give the letters of figures a size in points. StudyError for one that nobody could read or that has no room."""
    if not LEAST_LETTERS <= points <= MOST_LETTERS:
        raise StudyError(f"Letters of figures have {LEAST_LETTERS:g} to {MOST_LETTERS:g} points, not {points:g}.")
    return study if points == study.figure_letters else replace(study, figure_letters=points)
