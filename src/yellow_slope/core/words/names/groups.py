"""Names of groups: levels, comparisons, codings, and what they ask."""

from __future__ import annotations

from functools import partial
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import Level, Variable, shortened
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.edits.levels import Order
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import listed


def level_label(study: Study, basis: GroupBasis, index: int) -> str:
    """The label of a level by its position among the levels present."""
    return study.variable(basis.variable).level(basis.levels[index]).label


def is_only_code(level: Level) -> bool:
    """Whether a level is called by a code that is a number: it says nothing without its variable."""
    return level.label in level.codes and level.label.removeprefix("-").replace(".", "", 1).isdecimal()


def level_name(variable: Variable, code: str) -> str:
    """A level in a sentence: “none”; one that has no name but its code stands with its variable, as in night 1."""
    level = variable.level(code)
    return f"{variable.label} {level.label}" if is_only_code(level) else f"“{level.label}”"


def plain_level(variable: Variable, code: str, short: bool = False) -> str:
    """A level without quotes, as at its line: none; night 1."""
    level = variable.level(code)
    if is_only_code(level):
        return f"{variable.short if short else variable.label} {level.label}"
    return shortened(level.label) if short else level.label


def in_group(variable: Variable, code: str) -> str:
    """“in the group “none” (coaching)”, “in night 1”."""
    name = level_name(variable, code)
    return f"in {name}" if is_only_code(variable.level(code)) else f"in the group {name} ({variable.label})"


def level_of(study: Study, basis: GroupBasis, index: int) -> str:
    """The level with its variable: “none” (coaching), night 1."""
    variable, name = study.variable(basis.variable), quoted(study, basis, index)
    return name if is_only_code(variable.level(basis.levels[index])) else f"{name} ({variable.label})"


def quoted(study: Study, basis: GroupBasis, index: int) -> str:
    """The level as it stands in a sentence."""
    return level_name(study.variable(basis.variable), basis.levels[index])


def sides(weights: FloatArray) -> tuple[FloatArray, FloatArray] | None:
    """A comparison as two averages of levels, (one, other), each summing to 1; None where it is no difference of
    such."""
    one, other = np.where(weights > 0, weights, 0.0), np.where(weights < 0, -weights, 0.0)
    if abs(one.sum() - 1) > 1e-9 or abs(other.sum() - 1) > 1e-9:
        return None
    return one, other


def comparison_sides(basis: GroupBasis, index: int) -> tuple[FloatArray, FloatArray] | None:
    """The two averages of levels that a comparison sets against each other; of effect codes a level and the mean of
    all."""
    weights = basis.contrasts[index].weights
    if isinstance(basis.coding, Effect | WeightedEffect) and basis.zero_weights is not None:
        return weights + basis.zero_weights, basis.zero_weights
    return sides(weights) if not isinstance(basis.coding, Trends) else None


def side_name(study: Study, basis: GroupBasis, weights: FloatArray, quotes: bool = True) -> str:
    """An average of levels in words: “none”, the mean of “a” and “b”, the mean of all groups."""
    here = [int(i) for i in np.flatnonzero(np.abs(weights) > 1e-12)]
    name = partial(quoted if quotes else level_label, study, basis)
    if len(here) == 1 and abs(weights[here[0]] - 1) < 1e-9:
        return name(here[0])
    even = bool(np.ptp(weights[here]) < 1e-9)
    if is_of_all(basis, weights):
        return "the mean of all groups" if even else "the mean of all cases"
    if len(here) > 4:
        return f"the mean of {len(here)} groups"
    variable = study.variable(basis.variable)
    if quotes and all(is_only_code(variable.level(basis.levels[i])) for i in here):
        names = f"{variable.label} {listed([level_label(study, basis, i) for i in here])}"
    else:
        names = listed([name(i) for i in here])
    return f"the {'' if even else 'weighted '}mean of {names}"


def plain_side(study: Study, basis: GroupBasis, weights: FloatArray) -> str:
    """An average of levels without quotes; codes with their variable."""
    codes = [basis.levels[int(i)] for i in np.flatnonzero(np.abs(weights) > 1e-12)]
    variable = study.variable(basis.variable)
    return side_name(study, basis, weights, quotes=all(is_only_code(variable.level(code)) for code in codes))


def is_of_all(basis: GroupBasis, weights: FloatArray) -> bool:
    """Whether an average of levels is that of all groups alike, or of all cases."""
    return bool(np.all(np.abs(weights) > 1e-12) and (np.ptp(weights) < 1e-9 or np.allclose(weights, basis.shares)))


def comparison_name(study: Study, basis: GroupBasis, index: int, short: bool = False) -> str:
    """A comparison as a name: its own, else “one-to-one vs none”, “quarry vs the mean of all groups”, “quarry”."""
    comparison = basis.contrasts[index] if index < len(basis.contrasts) else None
    if basis.zero_weights is None:
        return level_label(study, basis, index)
    assert comparison is not None
    if comparison.name:
        return comparison.name
    both = comparison_sides(basis, index)
    if both is None:
        return f"question {index + 1}"
    one, other = (side_name(study, basis, side, quotes=False) for side in both)
    if short and isinstance(basis.coding, Dummy | Effect | WeightedEffect):
        return one  # what it is set against stands in the head of the set
    return f"{one} vs {other}"


def minus_name(study: Study, basis: GroupBasis, index: int, limit: int | None = None) -> str:
    """A comparison as a difference: “returner minus first season”."""
    comparison = basis.contrasts[index]
    both = comparison_sides(basis, index)
    if comparison.name or both is None:
        return comparison.name or f"question {index + 1}"
    if limit is None:
        return " minus ".join(plain_side(study, basis, side) for side in both)
    return " minus ".join(shortened(side_name(study, basis, side, quotes=False), limit) for side in both)


def difference_name(study: Study, basis: GroupBasis, index: int) -> str:
    """A comparison as what is looked at: “the difference returner minus first season”, “the linear trend over site”."""
    own, both = basis.contrasts[index].name, comparison_sides(basis, index)
    if both is None:
        return f"the {own or f'question {index + 1}'} over {study.variable(basis.variable).label}"
    said = " minus ".join(plain_side(study, basis, side) for side in both)
    return f"the difference “{own}” ({said})" if own else f"the difference {said}"


def against(study: Study, basis: GroupBasis) -> str:
    """What all comparisons of a coding have in common, as “each vs none”."""
    coding = basis.coding
    if basis.reference is not None:
        return f"each vs {level_label(study, basis, basis.reference)}"
    return (
        f"each {asks(coding)}" if isinstance(coding, Effect | WeightedEffect | Adjacent | AgainstMean) else asks(coding)
    )


def asks(coding: Coding) -> str:
    """What a coding asks, in a few words."""
    match coding:
        case Dummy():
            return "each vs the reference"
        case Effect():
            return "vs the mean of all groups"
        case WeightedEffect():
            return "vs the mean of all cases"
        case Adjacent():
            return "vs the level before"
        case AgainstMean(later):
            return "vs the mean of the later levels" if later else "vs the mean of the earlier levels"
        case Trends():
            return "trends"
        case Planned():
            return "planned comparisons"
        case LevelMeans():
            return "level means"
        case _:
            assert_never(coding)


def order_name(order: Order) -> str:
    """How levels stand now, as a sentence begins."""
    match order:
        case Order.WORDS:
            return "In the order of the words"
        case Order.CODES:
            return "In the order of the codes"
        case Order.NAMES:
            return "In the order of the names"
        case Order.FILE:
            return "In the order in the file"
        case Order.TURNED:
            return "In reverse order"
        case _:
            assert_never(order)
