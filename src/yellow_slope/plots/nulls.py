"""What a mark means, the same in every plot: filled, its interval leaves out 0; hollow, it includes 0; grey, there is
no interval."""

from __future__ import annotations

from math import isnan

from yellow_slope.plots.look import Look


def fill(look: Look, hue: str, low: float, high: float) -> str:
    """The colour within a point: that of its edge, or the ground where its interval includes 0; grey without one."""
    if isnan(low) or isnan(high):
        return look.palette.line
    return hue if low > 0 or high < 0 else look.palette.panel
