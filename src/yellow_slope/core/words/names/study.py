"""Names of what a study holds: how variables enter, zero points, models, errors."""

from __future__ import annotations

from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.data.variable import Kind, Variable, shortened
from yellow_slope.core.fit.design.bases import Basis, GroupBasis, NumberBasis
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import variables_of
from yellow_slope.core.study.treatment import AS_IS, Mean, Median, WithinGroups
from yellow_slope.core.words.names.groups import asks, level_label, side_name
from yellow_slope.core.words.names.numbers import transformed_name, treatment_name
from yellow_slope.core.words.spelling.numerals import counted, number_or_place, place

SEPARATORS = {",": "commas", "\t": "tabs", ";": "semicolons", "|": "bars", " ": "spaces"}


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
