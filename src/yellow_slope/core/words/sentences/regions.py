"""In words: regions of significance and the rules that bound them; for screen, report, caption and results alike."""

from __future__ import annotations

import math
from typing import assert_never

from yellow_slope.core.probe.regions import Regions
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.core.words.sentences.works import Method, Work, method
from yellow_slope.core.words.spelling.numerals import level_text, place
from yellow_slope.core.words.spelling.reasons import reason


def rule_name(rule: RegionRule) -> str:
    """The rule as it stands in a menu and after “region for”."""
    match rule:
        case RegionRule.POINTWISE:
            return "each point"
        case RegionRule.SIMULTANEOUS:
            return "all points at once"
        case RegionRule.FALSE_DISCOVERY:
            return "the false discovery rate"
        case _:
            assert_never(rule)


def rule_help(rule: RegionRule) -> str:
    """What the rule does, in a line."""
    match rule:
        case RegionRule.POINTWISE:
            return "Each point by itself: among many points, some are significant by chance"
        case RegionRule.SIMULTANEOUS:
            return "All points at once: wider, and valid for all points together"
        case RegionRule.FALSE_DISCOVERY:
            return "Of the observed values called significant, few are so by chance"
        case _:
            assert_never(rule)


def rule_source(rule: RegionRule) -> str:
    """By which rule boundaries were found, with its source."""
    return rule_method(rule).text


def rule_method(rule: RegionRule) -> Method:
    """The same with the works that it cites."""
    match rule:
        case RegionRule.POINTWISE:
            said = "Boundaries lie where |t| equals its critical value at each point ({})."
            return method(said, Work.JOHNSON_NEYMAN)
        case RegionRule.SIMULTANEOUS:
            return method("Boundaries are valid for all points at once ({}).", Work.POTTHOFF)
        case RegionRule.FALSE_DISCOVERY:
            said = "Boundaries control the false discovery rate over the observed values ({}; {})."
            return method(said, Work.BENJAMINI_HOCHBERG, Work.ESAREY_SUMNER)
        case _:
            assert_never(rule)


def band_note(found: Regions, level: float) -> str:
    """What the band along a moderator is, where it is not that of each point by itself."""
    if found.rule is RegionRule.POINTWISE:
        return ""
    if math.isinf(found.critical):
        why = f"No observed value is significant at {rule_name(found.rule)}"
        if found.why is not None:
            why = f"There is no region for {rule_name(found.rule)}: {reason(found.why)}"
        return f"{why}; the band is that of each point ({level_text(level)})."
    return f"Band and region for {rule_name(found.rule)}."


def bounds_text(low: float, high: float, sd: float, short: bool = False) -> str:
    """“below 5.38”, “47.75 to 59.70”, “the whole observed range”."""
    if math.isinf(low) and math.isinf(high):
        return "whole range" if short else "the whole observed range"
    if math.isinf(low):
        return f"below {place(high, sd)}"
    return f"above {place(low, sd)}" if math.isinf(high) else f"{place(low, sd)} to {place(high, sd)}"
