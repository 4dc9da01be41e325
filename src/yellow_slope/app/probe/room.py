"""Where plots, table and card stand at Probe."""

from __future__ import annotations

from yellow_slope.core.probe.probed import Probed
from yellow_slope.looks import SIZES
from yellow_slope.plots.marks import Box
from yellow_slope.plots.probeplots import Room, beside_effect
from yellow_slope.values import dataclass

GAP = 12.0
WIDE = 1360
"""A bench wider than this has a third view beside the others."""
LEAST_BELOW, MOST_BELOW = 158, 250
"""Pixels for table and card below two plots."""
LEAST_TWICE = 112
"""Below two probes."""
BELOW = 0.29
LOW = 480.0
"""Pixels: in a lower room panels and card make way for eight rows of the table."""
TABLE = 9 * SIZES.row + 8
"""Head and eight rows."""
LEAST_CARD = SIZES.row + 20


@dataclass(frozen=True, slots=True)
class Placed:
    """Where everything stands, in pixels."""

    room: Room
    below: Box
    """Table and card."""
    is_upright: bool
    """Whether the card stands below the table."""
    card: float | None = None
    """How high the card below the table is at most; None: as it shares the room."""


def placed(probed: Probed, width: float, height: float, twice: bool = False) -> Placed:
    """Two plots beside each other over table and card; with a second moderator the panels above, the effect below at
    the left, table and card at the right. twice: two probes, one above the other."""
    has_third = width >= WIDE and len(beside_effect(probed)) > 1 and not twice
    if len(probed.panels) > 1 and not twice:
        is_low = height < LOW
        upper = round((0.31 if is_low else 0.41) * height)
        lines, top = Box(0.0, 0.0, width, upper), upper + GAP
        card = max(LEAST_CARD, height - top - TABLE - 6) if is_low else None
        if has_third:
            first = round(0.37 * width)
            second = round(0.67 * width)
            third = Box(first + GAP, top, second, height)
            room = Room(lines, Box(0.0, top, first, height), third, True)
            return Placed(room, Box(second + GAP, top, width, height), True, card)
        half = round((0.5 if width > 820 else 0.48) * width)
        room = Room(lines, Box(0.0, top, half, height), None, True)
        return Placed(room, Box(half + GAP, top, width, height), True, card)
    under = LEAST_TWICE if twice else min(MOST_BELOW, max(LEAST_BELOW, round(BELOW * height)))
    bottom = height - under - 8
    count = 3 if has_third else 2
    each = (width - (count - 1) * GAP) / count
    boxes = [Box(k * (each + GAP), 0.0, k * (each + GAP) + each, bottom) for k in range(count)]
    room = Room(boxes[0], boxes[1], boxes[2] if has_third else None, False)
    return Placed(room, Box(0.0, height - under, width, height), False)
