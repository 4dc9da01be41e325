"""What is drawn of the place where lines cross: the place, and the set of places where it may be, inside the data."""

from __future__ import annotations

import math

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.curve import FiellerKind
from yellow_slope.core.probe.probed import Panel


def crossing_place(panel: Panel, x: NumberBasis | None) -> float | None:
    """Where the lines cross, inside the observed range of x and where the place is determined; else None."""
    found = panel.crossing_set
    if not panel.crossing or x is None or found is None or found.kind is FiellerKind.WHOLE_LINE:
        return None
    return panel.crossing[0] if x.low <= panel.crossing[0] <= x.high else None


def crossing_stretches(panel: Panel, x: NumberBasis | None) -> list[tuple[float, float]]:
    """The stretches of x, inside its observed range, where the lines may cross."""
    found = panel.crossing_set
    if not panel.crossing or x is None or found is None:
        return []
    match found.kind:
        case FiellerKind.BOUNDED:
            ends = [(found.low, found.high)]
        case FiellerKind.TWO_RAYS:
            ends = [(-math.inf, found.low), (found.high, math.inf)]
        case FiellerKind.WHOLE_LINE:
            ends = [(-math.inf, math.inf)]
        case FiellerKind.FIXED:
            ends = []
    inside = [(max(low, x.low), min(high, x.high)) for low, high in ends]
    return [(low, high) for low, high in inside if high > low]
