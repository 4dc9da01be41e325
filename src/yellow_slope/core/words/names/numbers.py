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
from yellow_slope.core.words.spelling.numerals import listed, number_or_place, place

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


def transformed_name(variable: Variable, treatment: Treatment, short: bool = False) -> str:
    """The number with its transformations, as in “log of practice”."""
    text = variable.short if short else variable.label
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
    parts = [t.label for t in treatment.transforms]
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


def entered_as(study: Study, treatment: Treatment) -> str:
    """How a number entered, after “was”: “log-transformed and mean-centered”; empty where it enters as it is."""
    participles = {
        Transform.LOG: "log-transformed",
        Transform.LOG1P: "log-transformed after 1 was added",
        Transform.ROOT: "square-root-transformed",
        Transform.SQUARE: "squared",
        Transform.RECIPROCAL: "replaced by its reciprocal",
        Transform.REVERSE: "reversed",
        Transform.RANKS: "replaced by its ranks",
    }
    parts = [participles[transform] for transform in treatment.transforms]
    zero, scale = treatment.zero, treatment.scale
    match zero:
        case Raw():
            pass
        case Mean():
            parts.append("standardized" if isinstance(scale, OneSD) else "mean-centered")
        case Median():
            parts.append("centered at the median")
        case At(value):
            parts.append(f"centered at {number_or_place(value)}")
        case WithinGroups(of):
            parts.append(f"centered within each group of {study.variable(of).label}")
        case _:
            assert_never(zero)
    match scale:
        case One():
            pass
        case OneSD():
            if not isinstance(zero, Mean):
                parts.append("divided by its SD")
        case Given(value):
            parts.append(f"divided by {number_or_place(value)}")
        case _:
            assert_never(scale)
    return listed(parts)


def at_place(study: Study, basis: NumberBasis, value: float) -> str:
    """“at worry 5.2”, a value of the file; of a number centered within groups “at worry 1.2 above the average of one's
    own group (site)”."""
    variable, zero = study.variable(basis.variable), basis.treatment.zero
    if not isinstance(zero, WithinGroups):
        return f"at {variable.label} {place(value, basis.sd)}"
    name, group = transformed_name(variable, basis.treatment), study.variable(zero.of).label
    if value == 0:
        return f"at the average {name} of one's own group ({group})"
    side = "above" if value > 0 else "below"
    return f"at {name} {place(abs(value), basis.sd)} {side} the average of one's own group ({group})"


def scale_name(study: Study, basis: NumberBasis, short: bool = False) -> str:
    """Along what the places of a number are told: its values in the file, of one centered within groups “worry
    centered within site”."""
    variable, zero = study.variable(basis.variable), basis.treatment.zero
    if not isinstance(zero, WithinGroups):
        return variable.short if short else variable.label
    group = study.variable(zero.of)
    name = transformed_name(variable, basis.treatment, short)
    return f"{name} centered within {group.short if short else group.label}"


def at_typical(study: Study, basis: NumberBasis) -> str:
    """Where a number is held: “at average worry (3.73)”, of a transformed one at the average of what it is transformed
    to: “at average log of practice (1.21)”."""
    if basis.is_within:
        return at_place(study, basis, basis.typical)
    variable = study.variable(basis.variable)
    back = basis.axis.preimages(basis.axis_mean, basis.low, basis.high)
    if basis.axis.is_identity or len(back) != 1:
        return f"at average {variable.label} ({place(basis.typical, basis.sd)})"
    return f"at average {transformed_name(variable, basis.treatment)} ({place(basis.axis_mean, basis.axis_sd)})"
