"""Two models side by side: what they are to each other, which tests stay, which change, and what moved."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.asked.matching import matched
from yellow_slope.core.fit.asked.relations import Relation, relation, restrictions
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass

SAME = 1e-6


@dataclass(frozen=True, slots=True)
class Moved:
    """A variable whose zero point differs: of a number its places in both models; of a group whether its coding
    differs."""

    variable: str
    own: float | None
    """Coordinate of zero in the one model; None for a group."""
    its: float | None


@dataclass(frozen=True, slots=True, eq=False)
class ModelsCompared:
    """The last steps of two models, the one seen from the other."""

    relation: Relation
    test: FTest | None
    """Of the larger against the smaller where one is nested in the other."""
    stay: tuple[int, ...]
    """Columns of the one whose test is the same in the other."""
    change: tuple[int, ...]
    """Columns of the one that are in the other as well, with another test."""
    alone: tuple[int, ...]
    """Columns of the one that the other has not."""
    sets_stay: tuple[Term, ...]
    """Sets of several columns, in both models, whose joint test is the same."""
    sets_change: tuple[Term, ...]
    moved: tuple[Moved, ...]


def compare(one: Fit, other: Fit) -> ModelsCompared:
    """Compare two models. Where cases or outcome differ nothing is tested."""
    found = relation(one, other)
    pairs = matched(one, other)
    stay: list[int] = []
    change: list[int] = []
    alone: list[int] = []
    for j in range(one.last.n_columns):
        if j not in pairs or np.isnan(one.last.b[j + 1]):
            alone.append(j)
            continue
        mine, its = _measure(one, j), _measure(other, pairs[j])
        same = abs(mine - its) <= SAME * max(1.0, abs(mine)) or (np.isnan(mine) and np.isnan(its))
        (stay if same else change).append(j)
    test = nested_test(one, other, found) if found in (Relation.INSIDE, Relation.AROUND) else None
    sets_stay, sets_change = _sets(one, other)
    return ModelsCompared(
        found, test, tuple(stay), tuple(change), tuple(alone), sets_stay, sets_change, _moved(one, other)
    )


def _sets(one: Fit, other: Fit) -> tuple[tuple[Term, ...], tuple[Term, ...]]:
    """The sets in both models with the same joint test, and those with another one."""
    stay: list[Term] = []
    change: list[Term] = []
    for term, mine in one.last.joint.items():
        its = other.last.joint.get(term)
        if its is None or not mine.exists or not its.exists:
            continue
        here, there = (mine.f, its.f) if mine.has_f and its.has_f else (mine.p, its.p)
        same = mine.df1 == its.df1 and abs(here - there) <= SAME * max(1.0, here)
        (stay if same else change).append(term)
    return tuple(stay), tuple(change)


def _measure(fit: Fit, column: int) -> float:
    """What tells whether a test is the same: |t|, or of errors from resamples p."""
    step = fit.last
    t = float(step.t[column + 1])
    return abs(t) if not np.isnan(t) else float(step.p[column + 1])


def nested_test(one: Fit, other: Fit, found: Relation) -> FTest:
    """F of the larger model against the smaller, under the larger one's errors: what a block would be tested by."""
    small, large = (one, other) if found is Relation.INSIDE else (other, one)
    return large.last.inference.test(restrictions(large, small))


def _moved(one: Fit, other: Fit) -> tuple[Moved, ...]:
    found: list[Moved] = []
    for name, basis in one.design.bases.items():
        its = other.design.bases.get(name)
        if isinstance(basis, NumberBasis) and isinstance(its, NumberBasis):
            if abs(basis.center - its.center) > 1e-9 * max(basis.axis_sd, abs(basis.center), 1e-300):
                found.append(Moved(name, basis.center, its.center))
        elif isinstance(basis, GroupBasis) and isinstance(its, GroupBasis):
            same = basis.codes.shape == its.codes.shape and np.allclose(basis.codes, its.codes)
            if not same:
                found.append(Moved(name, None, None))
    return tuple(found)
