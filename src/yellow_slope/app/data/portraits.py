"""Small pictures on the card: a number's histogram, and the outcome by levels."""

from __future__ import annotations

import math

from yellow_slope.app.figures.drawn import screen_look
from yellow_slope.app.figures.pageview import PageView
from yellow_slope.core.fit.asked.summaries import LevelSummary, Portrait
from yellow_slope.core.words.spelling.numerals import place
from yellow_slope.looks import SIZES
from yellow_slope.plots.portraits import levels_height, levels_page, portrait_page

HEIGHT = 104
NAMES = 12.0
"""Size of levels' names."""


def histogram(portrait: Portrait, label: str) -> PageView:
    """Bars over the range, mean and SD above, quartiles below."""
    summary = portrait.rest
    said = "Where the values lie"
    if math.isfinite(summary.sd):
        said = f"Mean {place(summary.mean, summary.sd)} and SD {place(summary.sd, summary.sd)} above, quartiles below"
    return PageView(
        lambda look, width, height: portrait_page(portrait, look, width, height),
        f"Distribution of {label}",
        said,
        HEIGHT,
        SIZES.small,
    )


def outcome_by_level(names: list[str], levels: tuple[LevelSummary, ...], outcome: str) -> PageView:
    """The outcome's mean in each level with its interval, on one axis."""
    told = [f"{name}: {place(level.mean, 1.0)}" for name, level in zip(names, levels) if math.isfinite(level.mean)]
    return PageView(
        lambda look, width, height: levels_page(names, levels, look, width, height),
        f"Mean of {outcome} by level",
        f"Mean of {outcome} with its interval from the level's own cases\n" + "\n".join(told),
        round(levels_height(screen_look(), len(names))),
        NAMES,
    )
