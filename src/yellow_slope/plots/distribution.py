"""Small distributions: bars over a number's range, at its values where these are few."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.asked.histograms import Bars
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Frame, Part, Rects

SLIT = 0.35
"""Points that a bar of a range ends before the next."""


def distribution(look: Look, bars: Bars, frame: Frame, colour: str, tallest: float = 0.0) -> Rects:
    """Bars in a frame; the tallest, or so many cases, are as high as it."""
    area, slit = frame.area, 0.0 if bars.at_values else look.of(SLIT)
    here = (bars.counts > 0) & (bars.right > frame.x[0]) & (bars.left < frame.x[1])
    left = np.maximum(frame.at_x(bars.left[here]) + slit, area.left)
    right = np.minimum(frame.at_x(bars.right[here]) - slit, area.right)
    # A bar that is too slim to be seen has half a point.
    thin = np.maximum(0.0, look.of(0.5) - (right - left)) / 2
    top = area.bottom - bars.counts[here] / (tallest or max(1.0, float(bars.counts.max()))) * area.height
    boxes = np.column_stack([left - thin, top, right + thin, np.full(left.size, area.bottom)])
    return Rects(boxes, colour, Part.DISTRIBUTION)
