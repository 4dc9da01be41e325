"""Names of places where a moderator is looked at, and of the rules that find them."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.data.variable import Variable
from yellow_slope.core.probe.places import Everywhere, LevelPlace, NumberPlace, Place, Point
from yellow_slope.core.study.probe import PickRule

_POINTS = {
    Point.SD_BELOW: ("low", "1 SD below"),
    Point.MEAN: ("mean", ""),
    Point.SD_ABOVE: ("high", "1 SD above"),
    Point.LOW_PERCENTILE: ("low", "16th percentile"),
    Point.MEDIAN: ("median", ""),
    Point.HIGH_PERCENTILE: ("high", "84th percentile"),
    Point.LOWER_QUARTILE: ("lower quartile", ""),
    Point.UPPER_QUARTILE: ("upper quartile", ""),
    Point.LOWEST: ("lowest", ""),
    Point.HIGHEST: ("highest", ""),
    Point.OBSERVED: ("observed value", ""),
    Point.OWN: ("own value", ""),
}


def point_name(point: Point, short: bool = False) -> str:
    """What a pick point is called: “low, 1 SD below”; short: “low”."""
    name, how = _POINTS[point]
    return name if short or not how else f"{name}, {how}"


def place_name(variable: Variable, place: Place, short: bool = False) -> str:
    """The name of a pick point, or the label of a level; empty where the effect is the same everywhere."""
    match place:
        case NumberPlace(_, point):
            return point_name(point, short)
        case LevelPlace(_, code):
            return variable.level(code).label
        case Everywhere():
            return ""
        case _:
            assert_never(place)


def pick_rule_name(rule: PickRule) -> str:
    """The rule by which pick points are found, as it stands in a menu."""
    match rule:
        case PickRule.MEAN_AND_SD:
            return "mean and SD"
        case PickRule.PERCENTILES:
            return "percentiles"
        case PickRule.QUARTILES:
            return "quartiles"
        case PickRule.EXTREMES:
            return "extremes"
        case PickRule.OBSERVED:
            return "observed values"
        case PickRule.OWN:
            return "own values"
        case _:
            assert_never(rule)
