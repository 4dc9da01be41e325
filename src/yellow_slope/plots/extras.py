"""What may be laid over the effect along a moderator: how its boundaries and the crossing move without any one case or
from resample to resample, and the effect in thirds."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.asked.assumptions import Third
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Frame, Line, Mark, Part
from yellow_slope.values import dataclass

MOST_TICKS = 4000
"""Of more values every second, third … is drawn."""


@dataclass(frozen=True, slots=True)
class Extras:
    """Places along the moderator, and thirds; empty where nobody asked."""

    moved: tuple[float, ...] = ()
    """Boundaries, each as it is without one of the cases or in one of the resamples."""
    crossings: tuple[float, ...] = ()
    """Where the lines meet, likewise."""
    thirds: tuple[Third, ...] = ()


NOTHING = Extras()


def ticks_of(look: Look, frame: Frame, extras: Extras) -> list[Mark]:
    """A rug of boundaries at the foot of the effect's frame."""
    return rug(look, frame, extras.moved)


def rug(look: Look, frame: Frame, places: tuple[float, ...]) -> list[Mark]:
    """Short upright ticks on the axis of a frame, as one broken line."""
    low, high = frame.x
    inside = np.array([place for place in places if low <= place <= high])
    if not inside.size:
        return []
    inside = inside[:: 1 + inside.size // MOST_TICKS]
    x = frame.at_x(inside)
    bottom, top = frame.area.bottom, frame.area.bottom - look.of(6)
    points = np.full((3 * x.size, 2), np.nan)
    points[0::3] = np.column_stack([x, np.full(x.size, bottom)])
    points[1::3] = np.column_stack([x, np.full(x.size, top)])
    opacity = max(0.15, min(0.9, 30 / x.size))
    return [Line(points, look.ink(look.palette.amber_ink, 0.8, opacity=opacity), Part.REFERENCE)]
