"""What a mark means, the same in every plot: filled, its interval leaves out 0; hollow, it includes 0."""

from __future__ import annotations

from yellow_slope.plots.look import Look


def leaves_out_zero(low: float, high: float) -> bool:
    """Whether an interval lies on one side of 0; one that does not exist leaves out nothing."""
    return low > 0 or high < 0


def fill(look: Look, hue: str, low: float, high: float) -> str:
    """The colour within a point: that of its edge, or the ground where its interval includes 0."""
    return hue if leaves_out_zero(low, high) else look.palette.panel
