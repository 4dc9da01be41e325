"""Two probes of one study, one above the other, with the same axes."""

from __future__ import annotations

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.study import Study
from yellow_slope.plots.axes import ground
from yellow_slope.plots.effect import effect, effect_span
from yellow_slope.plots.extras import NOTHING, Extras
from yellow_slope.plots.interaction import Among, heights, interaction, line_names
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import Box, Mark, Page, Part, Plot, Text, Weight, page_of
from yellow_slope.plots.measuring import ASCENT, text_width
from yellow_slope.plots.placing import fitted_names
from yellow_slope.values import dataclass, replace

GAP = 10.0
LABELS = 0.34


@dataclass(frozen=True, slots=True, eq=False)
class Named:
    """A probe as it is seen, under the name it is kept by."""

    name: str
    sight: Sight


def twice(
    study: Study, one: Named, other: Named, look: Look, width: float, height: float, extras: Extras = NOTHING
) -> Page:
    """The probe that is looked at above, the one it is compared with below; only the first has frames that the mouse
    finds."""
    sights = [one.sight, other.sight]
    outcome = _shared([heights(sight, look) for sight in sights])
    alike = len({isinstance(sight.probed.moderator, NumberBasis) for sight in sights}) == 1
    units = len({sight.probed.unit for sight in sights}) == 1 and alike
    effects = _shared([effect_span(study, sight) for sight in sights]) if units else None
    names = [name for sight in sights for name in line_names(study, sight, look)]
    plots: list[Plot] = []
    tall, head = (height - look.of(GAP)) / 2, 1.7 * look.text
    half = (width - look.of(GAP)) / 2
    widest = max((text_width(name, look.text, bold=True) for name in names), default=0.0)
    right = min(widest + look.of(13), LABELS * half)
    for k, named in enumerate((one, other)):
        top = k * (tall + look.of(GAP))
        marks: list[Mark] = [ground(look, Box(0.0, top, width, top + tall))]
        shown = fitted_names([named.name], width - look.of(12), look.text, bold=True)[0]
        cut = named.name if shown != named.name else ""
        baseline = top + look.of(4) + ASCENT * look.text
        marks.append(Text(shown, look.of(6), baseline, look.text, look.palette.ink, Part.TITLE, Weight.BOLD, whole=cut))
        left = Box(0.0, top + head, half, top + tall)
        among = Among(outcome, True, right, has_title=True) if outcome is not None else None
        lines = interaction(study, named.sight, look, left, False, among)
        beside = effect(
            study,
            named.sight,
            look,
            Box(half + look.of(GAP), top + head, width, top + tall),
            extras if not k else NOTHING,
            effects,
        )
        frames = (*lines.frames, *beside.frames) if not k else ()
        found = [*marks, *lines.marks[1:], *beside.marks[1:]]
        plots.append(Plot(frames, tuple(found if not k else [replace(mark, about=Part.OTHER) for mark in found])))
    return page_of(width, height, plots, look.palette.paper)


def _shared(spans: list[tuple[float, float] | None]) -> tuple[float, float] | None:
    known = [found for found in spans if found is not None]
    return (min(low for low, _ in known), max(high for _, high in known)) if len(known) == len(spans) else None
