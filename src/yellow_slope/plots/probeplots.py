"""The two plots of a probe on one page: side by side for print and screen, or one below the other."""

from __future__ import annotations

from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.study import Study
from yellow_slope.plots.effect import effect
from yellow_slope.plots.interaction import interaction
from yellow_slope.plots.look import PRINT, Look
from yellow_slope.plots.marks import Box, Page, page_of

WIDTH, HEIGHT = 6.5 * 72, 3.4 * 72
"""A figure over the width of a page, in points."""
BETWEEN = 10.0


def beside(
    study: Study,
    sight: Sight,
    look: Look = PRINT,
    width: float = WIDTH,
    height: float = HEIGHT,
    between: float = BETWEEN,
    handle: bool = False,
) -> Page:
    """The interaction plot at the left, the effect at the right."""
    each = (width - between) / 2
    left = interaction(study, sight, look, Box(0.0, 0.0, each, height), handle)
    right = effect(study, sight, look, Box(each + between, 0.0, width, height))
    return page_of(width, height, (left, right))


def stacked(study: Study, sight: Sight, look: Look, width: float, height: float, between: float) -> Page:
    """The interaction plot above, the effect below."""
    each = (height - between) / 2
    above = interaction(study, sight, look, Box(0.0, 0.0, width, each))
    below = effect(study, sight, look, Box(0.0, each + between, width, height))
    return page_of(width, height, (above, below))
