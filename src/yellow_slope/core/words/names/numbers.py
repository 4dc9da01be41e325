"""Names of numbers: transformations, treatments, zero points, units, places."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import (
    At,
    Base,
    Given,
    Mean,
    Median,
    One,
    OneSD,
    Raw,
    Transform,
    Treatment,
    WithinGroups,
    Zero,
)
from yellow_slope.core.words.spelling.numerals import number_or_place, place

TRANSFORMED = {
    Transform.LOG: "the natural log",
    Transform.LOG1P: "the natural log of 1 + x",
    Transform.ROOT: "the square root",
    Transform.SQUARE: "squaring",
    Transform.RECIPROCAL: "the reciprocal",
    Transform.REVERSE: "reversing the scale",
    Transform.RANKS: "ranking",
}
"""Transformations as they stand in a sentence."""


def zero_name(study: Study, zero: Zero) -> str:
    """A zero point as it goes on after “zero at”."""
    match zero:
        case Raw():
            return "where it is"
        case Mean():
            return "the mean"
        case Median():
            return "the median"
        case At(value):
            return number_or_place(value)
        case WithinGroups(of):
            return f"the mean within each group of {study.variable(of).label}"
        case _:
            assert_never(zero)


def base_name(base: Base) -> str:
    """The cases over which a mean is taken, as they go on after “of”."""
    match base:
        case Base.MODEL:
            return "the model's cases"
        case Base.ALL:
            return "all cases"
        case _:
            assert_never(base)


def transformed_name(variable: Variable, treatment: Treatment) -> str:
    """The number with its transformations, as in “log of practice”."""
    text = variable.label
    words = {
        Transform.LOG: "log of {}",
        Transform.LOG1P: "log of 1 + {}",
        Transform.ROOT: "square root of {}",
        Transform.SQUARE: "{} squared",
        Transform.RECIPROCAL: "1 / {}",
        Transform.REVERSE: "reversed {}",
        Transform.RANKS: "rank of {}",
    }
    for transform in treatment.transforms:
        text = words[transform].format(text)
    return text


def unit_of(variable: Variable, basis: NumberBasis) -> str:
    """One unit of the treated number: “hour”, “SD”, “unit”."""
    if basis.is_per_sd:
        return "SD"
    if isinstance(basis.treatment.scale, Given):
        return f"{number_or_place(basis.scale)} {variable.many}"
    return variable.one if basis.axis.is_identity else "unit"


def treatment_name(study: Study, treatment: Treatment) -> str:
    """A treatment in words: “centered”, “standardized”, “centered at 3”, “as it is”."""
    parts = [str(t) for t in treatment.transforms]
    zero, scale = treatment.zero, treatment.scale
    match zero:
        case Raw():
            pass
        case Mean():
            parts.append("standardized" if isinstance(scale, OneSD) else "centered")
        case Median():
            parts.append("centered at the median")
        case At(value):
            parts.append(f"centered at {number_or_place(value)}")
        case WithinGroups(of):
            parts.append(f"centered within {study.variable(of).label}")
        case _:
            assert_never(zero)
    match scale:
        case One():
            pass
        case OneSD():
            if not isinstance(zero, Mean):
                parts.append("in SDs")
        case Given(value):
            parts.append(f"in units of {number_or_place(value)}")
        case _:
            assert_never(scale)
    return ", ".join(parts) or "as it is"


def at_place(study: Study, basis: NumberBasis, value: float) -> str:
    """“at worry 5.2”."""
    variable = study.variable(basis.variable)
    if basis.is_within and value == 0:
        return f"at the mean of {variable.label} in the own group"
    if basis.is_within:
        return f"at {variable.label} {place(value, basis.sd)} from the mean of its group"
    return f"at {variable.label} {place(value, basis.sd)}"
