"""The plots of a probe on one page: which stand where, on screen and in print."""

from __future__ import annotations

from yellow_slope.core.probe.maps import has_map, has_outcome_map
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import ProbeShown
from yellow_slope.core.study.study import Study
from yellow_slope.plots.effect import effect
from yellow_slope.plots.extras import NOTHING, Extras
from yellow_slope.plots.interaction import interaction
from yellow_slope.plots.look import PRINT, Look
from yellow_slope.plots.maps import above_plot, map_plot
from yellow_slope.plots.marks import Box, Page, Plot, page_of
from yellow_slope.plots.panels import panels_row, shown_panels
from yellow_slope.values import dataclass

WIDTH, HEIGHT = 6.5 * 72, 3.4 * 72
"""A figure over the width of a page, in points."""
BETWEEN = 10.0
PANELS_HEIGHT, BELOW_HEIGHT = 2.4 * 72, 3.2 * 72
"""Points: a row of panels in print, and the effect with its strips below."""


def beside_effect(probed: Probed) -> tuple[ProbeShown, ...]:
    """What can stand beside the effect on a screen: the lines, the outcome from above, the map."""
    found = [ProbeShown.BOTH]
    if has_outcome_map(probed):
        found.append(ProbeShown.ABOVE)
    if has_map(probed):
        found.append(ProbeShown.MAP)
    return tuple(found)


@dataclass(frozen=True, slots=True)
class Room:
    """Where the plots of a screen stand; boxes are in the unit of the page."""

    lines: Box
    effect: Box
    third: Box | None
    is_three_way: bool


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


def on_screen(
    study: Study,
    sight: Sight,
    look: Look,
    width: float,
    height: float,
    room: Room,
    view: ProbeShown,
    extras: Extras = NOTHING,
) -> Page:
    """A probe on screen: what is seen at the left, or above, the effect beside it, and where there is room a third
    view."""
    views = beside_effect(sight.probed)
    view = view if view in views else ProbeShown.BOTH
    plots: list[Plot] = []
    if room.is_three_way and len(sight.probed.panels) > 1:
        plots.append(panels_row(study, sight, look, room.lines, shown_panels(sight), True, extras))
        if room.third is None and view is not ProbeShown.BOTH:
            plots.append(_view(study, sight, look, room.effect, view))
        else:
            plots.append(effect(study, sight, look, room.effect, extras))
    else:
        if view is ProbeShown.BOTH or room.third is not None:
            plots.append(interaction(study, sight, look, room.lines, True, extras=extras))
        else:
            plots.append(_view(study, sight, look, room.lines, view))
        plots.append(effect(study, sight, look, room.effect, extras))
    if room.third is not None and len(views) > 1:
        plots.append(_view(study, sight, look, room.third, view if view is not ProbeShown.BOTH else views[-1]))
    return page_of(width, height, plots, look.palette.paper)


def _view(study: Study, sight: Sight, look: Look, box: Box, view: ProbeShown) -> Plot:
    return map_plot(study, sight, look, box) if view is ProbeShown.MAP else above_plot(study, sight, look, box)
