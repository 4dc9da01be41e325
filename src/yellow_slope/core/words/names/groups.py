"""Names of groups: levels, comparisons, codings, and what they ask."""

from __future__ import annotations

from functools import partial
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import shortened
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


def quoted(study: Study, basis: GroupBasis, index: int) -> str:
    """The level's label in quotes."""
    return f"“{level_label(study, basis, index)}”"


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
    return f"the {'' if even else 'weighted '}mean of {listed([name(i) for i in here])}"


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
    names = [side_name(study, basis, side, quotes=False) for side in both]
    return " minus ".join(shortened(n, limit) if limit else n for n in names)


def difference_name(study: Study, basis: GroupBasis, index: int) -> str:
    """A comparison as what is looked at: “the difference returner minus first season”, “the linear trend over site”."""
    own, both = basis.contrasts[index].name, comparison_sides(basis, index)
    if both is None:
        return f"the {own or f'question {index + 1}'} over {study.variable(basis.variable).label}"
    said = " minus ".join(side_name(study, basis, side, quotes=False) for side in both)
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
            return "planned questions"
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
            return "Turned round"
        case _:
            assert_never(order)
