"""Names that a person reads: terms, levels, comparisons, columns, treatments, codings, zero points."""

from __future__ import annotations

from functools import partial

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.data.variable import Kind, Variable, shortened
from yellow_slope.core.fit.design.bases import Basis, GroupBasis, NumberBasis
from yellow_slope.core.fit.design.design import Atom, ModelColumn
from yellow_slope.core.fit.fitted.evaluate import Fit
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
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.study.treatment import (
    AS_IS,
    At,
    Given,
    Mean,
    Median,
    OneSD,
    Transform,
    Treatment,
    WithinGroups,
    Zero,
)
from yellow_slope.core.words.spelling.numerals import counted, listed, number_or_place, place

SEPARATORS = {",": "commas", "\t": "tabs", ";": "semicolons", "|": "bars", " ": "spaces"}
INTERCEPT = "intercept: the level at the zero points"


def label(study: Study, term: Term) -> str:
    """The term in the study's words, as in “practice × coaching”; a square is written “practice²”."""
    return term.text(lambda name: study.variable(name).label)


def labels_of(study: Study, terms: tuple[Term, ...]) -> str:
    """Several terms, as they stand in an edit's name."""
    return ", ".join(label(study, term) for term in terms)


# ---- groups


def level_label(study: Study, basis: GroupBasis, index: int) -> str:
    """The label of a level by its position among the levels present."""
    return study.variable(basis.variable).level(basis.levels[index]).label


def quoted(study: Study, basis: GroupBasis, index: int) -> str:
    """The level's label in quotes."""
    return f"“{level_label(study, basis, index)}”"


def sides(weights: FloatArray) -> tuple[FloatArray, FloatArray] | None:
    """A comparison as two averages of levels, (one, other), each summing to 1; None where it is no difference of such."""
    one, other = np.where(weights > 0, weights, 0.0), np.where(weights < 0, -weights, 0.0)
    if abs(one.sum() - 1) > 1e-9 or abs(other.sum() - 1) > 1e-9:
        return None
    return one, other


def comparison_sides(basis: GroupBasis, index: int) -> tuple[FloatArray, FloatArray] | None:
    """The two averages of levels that a comparison sets against each other; of effect codes a level and the mean of all."""
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
    if len(here) == len(basis.levels):
        if even:
            return "the mean of all groups"
        if np.allclose(weights, basis.shares):
            return "the mean of all cases"
    if len(here) > 4:
        return f"the mean of {len(here)} groups"
    return f"the {'' if even else 'weighted '}mean of {listed([name(i) for i in here])}"


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
    if isinstance(coding, Effect):
        return "vs the mean of all groups"
    if isinstance(coding, WeightedEffect):
        return "vs the mean of all cases"
    if isinstance(coding, Adjacent):
        return "vs the level before"
    if isinstance(coding, AgainstMean):
        return "vs the mean of the later levels" if coding.later else "vs the mean of the earlier levels"
    if isinstance(coding, Trends):
        return "trends"
    if isinstance(coding, Planned):
        return "planned questions"
    return "level means" if isinstance(coding, LevelMeans) else "each vs the reference"


# ---- columns


def column_name(study: Study, fit: Fit, column: int) -> str:
    """A column's title, as in “practice × coaching: one-to-one vs none”."""
    if column < 0:
        return INTERCEPT
    model_column = fit.design.columns[column]
    title = label(study, model_column.term)
    compared = comparisons_of(study, fit, model_column)
    return f"{title}: {', '.join(compared)}" if compared else title


def comparisons_of(study: Study, fit: Fit, column: ModelColumn, short: bool = False) -> list[str]:
    """The names of the comparisons in a column."""
    return [
        comparison_name(study, fit.design.group(atom.variable), atom.comparison, short)
        for atom in column.atoms
        if atom.comparison is not None
    ]


def short_column_name(study: Study, fit: Fit, column: int) -> str:
    """The comparisons of a column below the head of its set, or the term where it compares none."""
    model_column = fit.design.columns[column]
    return ", ".join(comparisons_of(study, fit, model_column, short=True)) or label(study, model_column.term)


def atom_name(study: Study, fit: Fit, atom: Atom) -> str:
    """A factor of a column in an equation."""
    variable, basis = study.variable(atom.variable), fit.design.bases[atom.variable]
    if isinstance(basis, GroupBasis):
        assert atom.comparison is not None
        if basis.reference is not None:
            level = [i for i in range(len(basis.levels)) if i != basis.reference][atom.comparison]
            return f"[{variable.label}: {level_label(study, basis, level)}]"
        return f"[{variable.label}: {comparison_name(study, basis, atom.comparison)}]"
    name = transformed_name(variable, basis.treatment)
    if basis.is_within:
        assert isinstance(basis.treatment.zero, WithinGroups)
        name = f"({name} − its mean in the group of {study.variable(basis.treatment.zero.of).label})"
    if basis.center == 0 and basis.scale == 1:
        return name
    shifted = name
    if basis.center:
        shifted = f"({name} {'+' if basis.center < 0 else '−'} {number_or_place(abs(basis.center))})"
    return shifted if basis.scale == 1 else f"({shifted}/{number_or_place(basis.scale)})"


# ---- numbers


TRANSFORMED = {
    Transform.LOG: "the natural log", Transform.LOG1P: "the natural log of 1 + x", Transform.ROOT: "the square root",
    Transform.SQUARE: "squaring", Transform.RECIPROCAL: "the reciprocal", Transform.REVERSE: "reversing the scale",
    Transform.RANKS: "ranking",
}  # fmt: skip
"""Transformations as they stand in a sentence."""


def zero_name(study: Study, zero: Zero) -> str:
    """A zero point as it goes on after “zero at”."""
    if isinstance(zero, Mean):
        return "the mean"
    if isinstance(zero, Median):
        return "the median"
    if isinstance(zero, At):
        return number_or_place(zero.value)
    if isinstance(zero, WithinGroups):
        return f"the mean within each group of {study.variable(zero.of).label}"
    return "where it is"


def transformed_name(variable: Variable, treatment: Treatment) -> str:
    """The number with its transformations, as in “log of practice”."""
    text = variable.label
    words = {
        Transform.LOG: "log of {}", Transform.LOG1P: "log of 1 + {}", Transform.ROOT: "square root of {}",
        Transform.SQUARE: "{} squared", Transform.RECIPROCAL: "1 / {}", Transform.REVERSE: "reversed {}",
        Transform.RANKS: "rank of {}",
    }  # fmt: skip
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
    if isinstance(zero, Mean):
        parts.append("standardized" if isinstance(scale, OneSD) else "centered")
    elif isinstance(zero, Median):
        parts.append("centered at the median")
    elif isinstance(zero, At):
        parts.append(f"centered at {number_or_place(zero.value)}")
    elif isinstance(zero, WithinGroups):
        parts.append(f"centered within {study.variable(zero.of).label}")
    if isinstance(scale, OneSD) and not isinstance(zero, Mean):
        parts.append("in SDs")
    if isinstance(scale, Given):
        parts.append(f"in units of {number_or_place(scale.value)}")
    return ", ".join(parts) or "as it is"


def treated_as(study: Study, variable: Variable, basis: Basis | None) -> str:
    """In words how a variable enters, as in “centered at 3.92” or “3 comparisons with none”."""
    model = study.model
    if variable.name == model.outcome:
        return "outcome, as it is"
    used = variable.name in variables_of(model.terms)
    if not variable.kind.enters:
        return {Kind.DATE: "dates", Kind.IDENTIFIER: "tells cases apart"}.get(variable.kind, "free texts")
    if variable.kind is Kind.GROUP:
        if not used:
            return f"{len(variable.levels)} groups, not used"
        if isinstance(basis, GroupBasis):
            n = len(basis.comparisons)
            if basis.reference is not None:
                name = shortened(level_label(study, basis, basis.reference))
                return f"{counted(n, 'comparison')} with {name}" if n > 1 else f"compared with {name}"
            return f"{counted(n, 'column')}, {asks(basis.coding)}"
        coding = model.coding(variable.name)
        reference = model.reference(variable.name) or (variable.levels[0].code if variable.levels else None)
        if isinstance(coding, Dummy) and reference is not None:
            return f"compared with {variable.level(reference).short}"
        return asks(coding)
    treatment = model.treatment(variable.name)
    words = treatment_name(study, treatment)
    if isinstance(basis, NumberBasis) and isinstance(treatment.zero, Mean) and not treatment.transforms:
        if basis.is_per_sd:
            words = f"z ({place(basis.center, basis.sd)}, SD {place(basis.scale, basis.sd)})"
        elif words == "centered":
            words = f"centered at {place(basis.center, basis.sd)}"
    if used:
        return words
    computed = next((d for d in study.derived if d.name == variable.name), None)
    if computed is not None:
        known = {v.name: v for v in study.variables}
        return f"{expression_text(computed.expression, known, stored=False)}, not used"
    return "not used" if treatment == AS_IS else f"{words}, not used"


def zero_point(study: Study, basis: Basis) -> str:
    """Where the variable stands when its treated value is 0, as in “at average worry (3.6)”, “in the group “none””."""
    variable = study.variable(basis.variable)
    if isinstance(basis, GroupBasis):
        if basis.zero_weights is None:
            return f"at no level of {variable.label}"
        name = side_name(study, basis, basis.zero_weights)
        if basis.reference is not None:
            return f"in the group {name}"
        return f"at {name} of {variable.label}" if name.startswith("the mean of all") else f"at {name}"
    name = transformed_name(variable, basis.treatment)
    zero = basis.treatment.zero
    if isinstance(zero, WithinGroups):
        return f"at the average {name} of one's own group ({study.variable(zero.of).label})"
    if isinstance(zero, Mean | Median):
        word = "average" if isinstance(zero, Mean) else "median"
        return f"at {word} {name} ({place(basis.center, basis.axis_sd)})"
    reach = f"{place(basis.low, basis.sd)} to {place(basis.high, basis.sd)}"
    at = basis.zero_place
    text = f"at {name} {number_or_place(basis.center)}"
    if at is None or not basis.low <= at <= basis.high:
        return f"{text} (outside its observed range, {reach})"
    return text


def at_place(study: Study, basis: NumberBasis, value: float) -> str:
    """“at worry 5.2”."""
    variable = study.variable(basis.variable)
    if basis.is_within:
        return f"at {variable.label} {place(value, basis.sd)} from the mean of its group"
    return f"at {variable.label} {place(value, basis.sd)}"


# ---- the study


def model_name(study: Study, model: Model) -> str:
    """A model's name; of one without a name its place among the study's models."""
    if model.name:
        return model.name
    return "this model" if model.id == study.current else f"model {[m.id for m in study.models].index(model.id) + 1}"


def errors_name(study: Study, errors: Errors) -> str:
    """The kind of standard errors."""
    if isinstance(errors, HC):
        return f"HC{errors.kind} SE"
    if isinstance(errors, Bootstrap):
        of = f" of {study.variable(errors.cluster).label}" if errors.cluster is not None else ""
        return f"{errors.way} bootstrap{of}, {errors.draws:,} draws"
    return f"SE clustered by {study.variable(errors.id).label}" if isinstance(errors, Cluster) else "classical SE"
