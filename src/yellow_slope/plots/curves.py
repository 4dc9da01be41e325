"""The focal effects that are drawn in one plot: the one that is seen, and beside it those of the other panels or
comparisons, each with its name and its look."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.mattering import Mattering
from yellow_slope.core.probe.places import LevelPlace, NumberPlace
from yellow_slope.core.probe.regions import Regions
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import comparison_sides, plain_level, plain_side
from yellow_slope.core.words.names.places import point_name
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.spelling.numerals import place
from yellow_slope.looks import Palette
from yellow_slope.plots.keys import focus_key, panel_key
from yellow_slope.plots.look import LineLook, Look, group_look, place_look
from yellow_slope.plots.marks import OfFocus, OfPanel
from yellow_slope.values import dataclass

MOST_CURVES = 12
"""More curves than this are not drawn beside each other."""


@dataclass(frozen=True, slots=True, eq=False)
class DrawnCurve:
    """A focal effect along the moderator."""

    curve: Curve
    regions: Regions | None
    mattering: Mattering | None
    name: str
    look: LineLook
    about: OfPanel | OfFocus
    is_seen: bool


def drawn_curves(study: Study, sight: Sight, look: Look) -> tuple[list[DrawnCurve], int]:
    """The curves of all panels, or without a second moderator of all comparisons, and how many more there are; the one
    that is seen always among them."""
    probed, seen = sight.probed, sight.seen
    found: list[DrawnCurve] = []
    if len(probed.panels) > 1:
        for k, panel in enumerate(probed.panels):
            focus = panel.foci[seen.focus]
            if focus.curve is None:
                continue
            name = look.name(panel_key(sight, k), panel_name(study, sight, k))
            hue = look.line(panel_key(sight, k), panel_look(sight, k, look.palette))
            found.append(
                DrawnCurve(focus.curve, focus.regions, focus.mattering, name, hue, OfPanel(k), k == seen.panel)
            )
    else:
        names = focus_names(study, sight)
        for k, focus in enumerate(sight.panel.foci):
            if focus.curve is None:
                continue
            own = focus_key(sight, k)
            name = look.name(own, names[k]) if names[k] else ""
            hue = look.line(own, focus_look(sight, k, look.palette))
            found.append(
                DrawnCurve(focus.curve, focus.regions, focus.mattering, name, hue, OfFocus(k), k == seen.focus)
            )
    if len(found) <= MOST_CURVES:
        return found, 0
    kept = [c for i, c in enumerate(found) if i < MOST_CURVES - 1 or c.is_seen][:MOST_CURVES]
    if not any(c.is_seen for c in kept):
        kept[-1] = next(c for c in found if c.is_seen)
    return kept, len(found) - len(kept)


def focus_names(study: Study, sight: Sight) -> list[str]:
    """What tells the comparisons apart: where all take the same level from theirs, that which it is taken from."""
    focal, foci = sight.probed.focal, sight.panel.foci
    if not isinstance(focal, GroupBasis) or len(foci) < 2:
        return [""] * len(foci)
    read = EffectReader(study, sight.probed, sight.seen.panel)
    both = [comparison_sides(focal, k) for k in range(len(foci))]
    if any(comparison.name for comparison in focal.contrasts) or any(pair is None for pair in both):
        return [read.focus_name(k) for k in range(len(foci))]
    known = [pair for pair in both if pair is not None]
    if any(not np.array_equal(other, known[0][1]) for _, other in known):
        return [read.focus_name(k) for k in range(len(foci))]
    return [plain_side(study, focal, one) for one, _ in known]


def panel_name(study: Study, sight: Sight, index: int) -> str:
    """“one-to-one”, “low 2.4”: where the second moderator stands in a panel; empty without one."""
    probed, at = sight.probed, sight.probed.panels[index].second
    if probed.second is None or at is None:
        return ""
    variable = study.variable(probed.second.variable)
    if isinstance(at, LevelPlace):
        return plain_level(variable, at.code)
    if isinstance(at, NumberPlace) and not isinstance(probed.second, GroupBasis):
        said = place(at.value, probed.second.sd)
        short = point_name(at.point, short=True)
        return f"{variable.short} {said}" if short in ("own value", "observed value") else f"{short} {said}"
    return ""


def panel_look(sight: Sight, index: int, palette: Palette) -> LineLook:
    """How a panel's curve looks."""
    if isinstance(sight.probed.second, GroupBasis):
        return group_look(index, palette)
    return place_look(index, len(sight.probed.panels), palette)


def focus_look(sight: Sight, index: int, palette: Palette) -> LineLook:
    """How a comparison's curve looks: as the one group that it sets against the others, where it is one."""
    focal = sight.probed.focal
    if not isinstance(focal, GroupBasis) or len(sight.panel.foci) == 1:
        return LineLook(palette.groups[0], (), group_look(0, palette).shape)
    weights = focal.contrasts[index].weights
    above = [i for i, weight in enumerate(weights) if weight > 0]
    own = above[0] if len(above) == 1 else len(focal.levels) + index
    return group_look(own, palette)
