"""Names of what a study holds: how variables enter, zero points, models, errors."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.data.variable import Kind, Variable, shortened
from yellow_slope.core.fit.design.bases import Basis, GroupBasis, NumberBasis
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, At, Mean, Median, One, Raw, WithinGroups
from yellow_slope.core.words.names.groups import asks, is_of_all, is_only_code, level_label, side_name
from yellow_slope.core.words.names.numbers import transformed_name, treatment_name
from yellow_slope.core.words.spelling.numerals import counted, number_or_place, place

SEPARATORS = {",": "commas", "\t": "tabs", ";": "semicolons", "|": "bars", " ": "spaces"}


def treated_as(study: Study, variable: Variable, basis: Basis | None, with_use: bool = True) -> str:
    """In words how a variable enters, as in “centered at 3.92” or “3 comparisons with none”; with_use: whether it
    does."""
    model, unused = study.model, ", not used" if with_use else ""
    if variable.name == model.outcome:
        return "outcome, as it is"
    used = any(variable.name in term.variables for block in model.blocks for term in block.terms)
    if not variable.kind.enters:
        return {Kind.DATE: "dates", Kind.IDENTIFIER: "identifies cases"}.get(variable.kind, "free texts")
    if variable.kind is Kind.GROUP:
        if not used:
            return f"{len(variable.levels)} groups{unused}"
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
        elif isinstance(treatment.scale, One):
            words = f"centered at {place(basis.center, basis.sd)}"
    if used:
        return words
    computed = next((d for d in study.derived if d.name == variable.name), None)
    if computed is not None:
        known = {v.name: v for v in study.variables}
        return f"{expression_text(computed.expression, known, stored=False)}{unused}"
    return "not used" if treatment == AS_IS and with_use else f"{words}{unused}"


def zero_point(study: Study, basis: Basis) -> str:
    """Where the variable stands when its treated value is 0, as in “at average worry (3.6)”, “in the group “none””."""
    variable = study.variable(basis.variable)
    if isinstance(basis, GroupBasis):
        if basis.zero_weights is None:
            return f"at no level of {variable.label}"
        name = side_name(study, basis, basis.zero_weights)
        if basis.reference is not None:
            is_code = is_only_code(variable.level(basis.levels[basis.reference]))
            return f"in {name}" if is_code else f"in the group {name}"
        return f"at {name} of {variable.label}" if is_of_all(basis, basis.zero_weights) else f"at {name}"
    name = transformed_name(variable, basis.treatment)
    zero = basis.treatment.zero
    match zero:
        case WithinGroups(of):
            return f"at the average {name} of one's own group ({study.variable(of).label})"
        case Mean():
            return f"at average {name} ({place(basis.center, basis.axis_sd)})"
        case Median():
            return f"at median {name} ({place(basis.center, basis.axis_sd)})"
        case Raw() | At():
            text = f"at {name} {number_or_place(basis.center)}"
            if basis.axis_low <= basis.center <= basis.axis_high:
                return text
            reach = f"{place(basis.axis_low, basis.axis_sd)} to {place(basis.axis_high, basis.axis_sd)}"
            return f"{text} (outside its observed range, {reach})"
        case _:
            assert_never(zero)


def model_name(study: Study, model: Model) -> str:
    """A model's name; of one without a name its place among the study's models."""
    if model.name:
        return model.name
    return "this model" if model.id == study.current else f"model {[m.id for m in study.models].index(model.id) + 1}"


def errors_name(study: Study, errors: Errors) -> str:
    """The kind of standard errors."""
    match errors:
        case Classical():
            return "classical SE"
        case HC(kind):
            return f"HC{kind} SE"
        case Cluster(id):
            return f"SE clustered by {study.variable(id).label}"
        case Bootstrap(way, draws, _, cluster):
            of = f" of {study.variable(cluster).label}" if cluster is not None else ""
            return f"{way.label} bootstrap{of}, {draws:,} draws"
        case _:
            assert_never(errors)
