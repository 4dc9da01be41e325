"""Where steps and figures stand across: names get what they need, steps what is left, distant steps fold to their
heads."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from types import MappingProxyType
from typing import assert_never

from yellow_slope.app.state.desk import Density
from yellow_slope.core.told.coefficients import CoefficientColumn
from yellow_slope.values import dataclass

HEAD = 58
"""Pixels of the steps' heads; the other widths below are pixels too."""
LEAST_NAMES, OPEN_NAMES = 200, 250
"""What the names keep at the least, and what they keep where further steps are opened."""
AXIS, LEAST_AXIS, WIDEST_AXIS = 118, 96, 230
CLOSED, LEAST_CLOSED = 104, 64
FOLDED, LEAST_FOLDED = 26, 18
RIGHT = 4
MOST_OPEN = 3


FIGURES: Mapping[Density, tuple[tuple[CoefficientColumn, int], ...]] = MappingProxyType(
    {
        Density.NONE: (),
        Density.FEW: ((CoefficientColumn.B, 66), (CoefficientColumn.INTERVAL, 130)),
        Density.USUAL: (
            (CoefficientColumn.B, 62),
            (CoefficientColumn.INTERVAL, 126),
            (CoefficientColumn.BETA, 48),
            (CoefficientColumn.P, 60),
            (CoefficientColumn.VIF, 48),
        ),
        Density.ERRORS: (
            (CoefficientColumn.B, 62),
            (CoefficientColumn.SE, 54),
            (CoefficientColumn.INTERVAL, 126),
            (CoefficientColumn.BETA, 48),
            (CoefficientColumn.T, 56),
            (CoefficientColumn.P, 60),
        ),
        Density.SHARED: (
            (CoefficientColumn.B, 62),
            (CoefficientColumn.VIF, 54),
            (CoefficientColumn.TOLERANCE, 76),
            (CoefficientColumn.ZERO_ORDER, 80),
            (CoefficientColumn.PARTIAL, 64),
            (CoefficientColumn.SEMIPARTIAL, 86),
        ),
    }
)
"""The figures of each density in their order, and how wide each is at the least."""


def density_name(density: Density) -> str:
    """What a density is called in the menu."""
    match density:
        case Density.NONE:
            return "intervals only"
        case Density.FEW:
            return "b and interval"
        case Density.USUAL:
            return "b, interval, β, p, VIF"
        case Density.ERRORS:
            return "b, SE, interval, β, t, p"
        case Density.SHARED:
            return "zero-order r, partial r, sr²"
        case _:
            assert_never(density)


@dataclass(frozen=True, slots=True)
class StepColumn:
    """Where a step stands across."""

    step: int
    x: int
    axis: int
    """Width of the interval part."""
    is_open: bool
    figures: int = 0
    """Width of the figures of an open step."""
    is_folded: bool = False

    @property
    def width(self) -> int:
        """Whole width."""
        return self.axis + (self.figures if self.is_open else 0)


def steps_across(width: int, n: int, chosen: int, wanted: int, figures: int) -> list[StepColumn]:
    """The columns of n steps, right-aligned in a width, the chosen one open.

    wanted: the width that the longest name needs. Wide sheets open up to three steps. Names take what the steps leave
    and what they need; steps far from the open one fold to their heads where there is no room for all.
    """
    if n < 1:
        return []
    opened = _opened(width, n, chosen, min(wanted, OPEN_NAMES), figures)
    folded: set[int] = set()
    far_first = sorted((s for s in range(n) if s not in opened), key=lambda s: -abs(s - chosen))

    def least(axis: int) -> int:
        closed = n - len(opened) - len(folded)
        return LEAST_NAMES + len(opened) * (axis + figures) + closed * LEAST_CLOSED + len(folded) * FOLDED + RIGHT

    for step in far_first:
        if least(LEAST_AXIS) <= width:
            break
        folded.add(step)
    closed_steps = [s for s in range(n) if s not in opened and s not in folded]
    spare = width - least(LEAST_AXIS)
    axis, closed = LEAST_AXIS, LEAST_CLOSED
    head = FOLDED
    if spare < 0:
        axis = max(50, LEAST_AXIS + spare // len(opened))
        lack = -spare - len(opened) * (LEAST_AXIS - axis)
        head = max(LEAST_FOLDED, FOLDED - -(-max(0, lack) // max(1, len(folded))))
        spare = 0
    spare -= min(spare, max(0, wanted - LEAST_NAMES))
    if axis < AXIS:
        grow = min(spare, len(opened) * (AXIS - axis))
        axis, spare = axis + grow // len(opened), spare - grow
    if closed_steps:
        grow = min(spare, len(closed_steps) * (CLOSED - closed))
        closed, spare = closed + grow // len(closed_steps), spare - grow
    grow = min(spare, len(opened) * (WIDEST_AXIS - axis))
    axis += grow // len(opened)
    widths = {s: axis + figures if s in opened else head if s in folded else closed for s in range(n)}
    x = width - sum(widths.values()) - RIGHT
    found: list[StepColumn] = []
    for step in range(n):
        is_open = step in opened
        own = axis if is_open else widths[step]
        found.append(StepColumn(step, x, own, is_open, figures if is_open else 0, step in folded))
        x += widths[step]
    return found


def _opened(width: int, n: int, chosen: int, names: int, figures: int) -> set[int]:
    opened = {chosen}
    for other in _nearest(chosen, n):
        if len(opened) >= MOST_OPEN:
            break
        rest = n - len(opened) - 1
        if names + (len(opened) + 1) * (LEAST_AXIS + figures) + rest * CLOSED + RIGHT <= width and figures:
            opened.add(other)
    return opened


def _nearest(chosen: int, n: int) -> Iterable[int]:
    return [*range(chosen - 1, -1, -1), *range(chosen + 1, n)]
