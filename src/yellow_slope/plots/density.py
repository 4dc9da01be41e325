"""Very many points as density: ink by how many lie in each small square."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Frame, Mark, Part, Rects

SHADES = 6


def density_marks(frame: Frame, x: FloatArray, y: FloatArray, look: Look, across: int, hue: str = "") -> list[Mark]:
    """Squares shaded by the logarithm of their count; `across`: how many stand side by side."""
    area = frame.area
    side = area.width / across
    down = max(1, round(area.height / side))
    ends = ((area.left, area.right), (area.top, area.bottom))
    counts, _, _ = np.histogram2d(frame.at_x(x), frame.at_y(y), (across, down), ends)
    most = float(counts.max())
    if most < 1:
        return []
    shade = np.ceil(SHADES * np.log1p(counts) / np.log1p(most)).astype(int)
    tall = area.height / down
    marks: list[Mark] = []
    for k in range(1, SHADES + 1):
        i, j = np.nonzero(shade == k)
        if i.size:
            left, top = area.left + i * side, area.top + j * tall
            boxes = np.column_stack([left, top, left + side, top + tall])
            marks.append(Rects(boxes, hue or look.palette.ink, Part.DISTRIBUTION, 0.08 + 0.72 * k / SHADES))
    return marks
