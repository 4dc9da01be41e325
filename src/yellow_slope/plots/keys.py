"""Which line, group or row of a probe's plots is which, by its code, rank or name: the keys that figures tune by."""

from __future__ import annotations

from yellow_slope.core.figured.subjects import comparison_id
from yellow_slope.core.fit.design.bases import Basis, GroupBasis
from yellow_slope.core.probe.places import LevelPlace, NumberPlace, Place
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import LineKey, LineOf


def level_key(basis: GroupBasis, index: int) -> LineKey:
    """A level of a group."""
    return LineKey(LineOf.LEVEL, basis.variable, basis.levels[index])


def place_key(basis: Basis, place: Place, index: int) -> LineKey | None:
    """A place of a moderator; None of one that is everywhere."""
    if isinstance(place, LevelPlace):
        return LineKey(LineOf.LEVEL, basis.variable, place.code)
    return LineKey(LineOf.PLACE, basis.variable, str(index + 1)) if isinstance(place, NumberPlace) else None


def line_key(sight: Sight, index: int) -> LineKey | None:
    """A line of the interaction plot; None of the one line of a predictor along itself."""
    probed, line = sight.probed, sight.panel.lines[index]
    if line.level is not None and isinstance(probed.focal, GroupBasis):
        return level_key(probed.focal, line.level)
    if line.place is None or probed.by_itself:
        return None
    return place_key(probed.moderator, probed.places[line.place], line.place)


def number_of(key: LineKey | None) -> str:
    """The number whose place a line is; empty for a group's level."""
    return key.variable if key is not None and key.kind is LineOf.PLACE else ""


def panel_key(sight: Sight, index: int) -> LineKey | None:
    """A place of the second moderator."""
    probed = sight.probed
    at = probed.panels[index].second
    if probed.second is None or at is None:
        return None
    return place_key(probed.second, at, index)


def focus_key(sight: Sight, index: int) -> LineKey:
    """A comparison of a group focal predictor, or the slope of a number."""
    focal = sight.probed.focal
    if not isinstance(focal, GroupBasis):
        return LineKey(LineOf.COMPARISON, focal.variable, "")
    return LineKey(LineOf.COMPARISON, focal.variable, comparison_id(focal, index))
