"""A study from a table file and a small JSON description of its models."""

from __future__ import annotations

from pathlib import Path

from yellow_slope.core.data.variable import Kind, Level
from yellow_slope.core.errors import FileError, StudyError, YellowSlopeError
from yellow_slope.core.probe.asking import checked_step
from yellow_slope.core.study.coding import Dummy, LevelMeans
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.edits.entries import set_coding, set_reference, treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.models import (
    make_current,
    put_model,
    rename_study,
    set_by,
    set_constant,
    set_errors,
    set_level,
    set_reported,
)
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.edits.samples import put_sample, set_sample
from yellow_slope.core.study.study import Study
from yellow_slope.files.opening import open_anything
from yellow_slope.files.safely.jsontext import json_value
from yellow_slope.files.safely.regular import read_bytes
from yellow_slope.files.specdocument import EntryDocument, FurtherModelDocument, SpecDocument, VariableDocument
from yellow_slope.files.specvalues import (
    block_of,
    coding_of,
    errors_of,
    probe_of,
    sample_of,
    treatment_of,
    with_reference,
)
from yellow_slope.files.study.typed import from_json
from yellow_slope.values import replace


def read_spec(path: Path) -> SpecDocument:
    """The description in a file; FileError with the place of the first mistake."""
    name = Path(path).name
    return from_json(json_value(read_bytes(path), name), SpecDocument, name)


def study_from(table_file: Path, spec: SpecDocument, source: str = "the description") -> Study:
    """A study of the table with the description's kinds, labels, treatments, models and probes."""
    study = open_anything(table_file)
    try:
        for name, said in spec.variables.items():
            if name not in spec.derived:
                study = _described(study, name, said)
        for name, text in spec.derived.items():
            study = derive(study, name, text)
            if name in spec.variables:
                study = _described(study, name, spec.variables[name])
        study = _used_as_numbers(study, spec)
        for sample in spec.samples:
            study = put_sample(study, sample_of(sample, study))
        study = set_level(set_outcome(study, spec.outcome), spec.level)
        study = set_constant(study, spec.constant)
        for name, said in spec.variables.items():
            study = _entered(study, name, said)
        study = set_errors(set_sample(study, spec.sample), errors_of(spec.errors))
        study = set_by(set_blocks(study, [block_of(b) for b in spec.blocks]), spec.by)
        study = _reporting(study, spec.reported)
        first = study.current
        for number, model in enumerate(spec.models, 2):
            study = _further(make_current(study, first), model, f"m{number}")
        study = make_current(study, first)
        for probe in reversed(spec.probes):
            made = probe_of(probe, study)
            checked_step(study, made)
            study = put_probe(study, made)
    except YellowSlopeError as error:
        raise FileError(f"{source}: {error}") from error
    return rename_study(study, spec.name) if spec.name else study


def _used_as_numbers(study: Study, spec: SpecDocument) -> Study:
    """What a model names is meant to stand in it: a count of the rows is then a number."""
    blocks = [*spec.blocks, *(b for model in spec.models for b in model.blocks or ())]
    used = {name for block in blocks for term in block_of(block).terms for name in term.variables}
    used |= {name for name in (spec.outcome, *(model.outcome for model in spec.models)) if name is not None}
    for variable in study.variables:
        said = spec.variables.get(variable.name)
        counts = variable.kind is Kind.IDENTIFIER and study.columns.is_numeric(variable.name)
        if variable.name in used and counts and (said is None or said.kind is None):
            study = set_kind(study, variable.name, Kind.NUMBER)
    return study


def _further(study: Study, said: FurtherModelDocument, model_id: str) -> Study:
    study = put_model(study, replace(study.model, id=model_id, name=said.name))
    if said.outcome is not None:
        study = set_outcome(study, said.outcome)
    if said.constant is False:
        study = set_constant(study, False)
    for name, entry in said.variables.items():
        study = _entered(study, name, entry)
    if said.constant:  # a group that has a column for every level in the first model is compared in this one
        for name, coding in study.model.entries.items():
            if isinstance(coding, LevelMeans) and name not in said.variables:
                study = set_coding(study, name, Dummy())
        study = set_constant(study, True)
    if said.sample is not None:
        study = set_sample(study, said.sample)
    if said.level is not None:
        study = set_level(study, said.level)
    if said.errors is not None:
        study = set_errors(study, errors_of(said.errors))
    if said.blocks is not None:
        study = set_blocks(study, [block_of(b) for b in said.blocks])
    study = set_by(study, said.by) if said.by is not None else study
    return _reporting(study, said.reported)


def _reporting(study: Study, step: int | None) -> Study:
    if step is None:
        return study
    steps = study.model.steps
    if step > len(steps):
        raise StudyError(f"There is no step {step} to report; the model has {len(steps)}.")
    return set_reported(study, steps[step - 1].id)


def _described(study: Study, name: str, said: VariableDocument) -> Study:
    variable = study.variable(name)
    variable = replace(
        variable,
        label=said.label or variable.label,
        short_label=said.short or variable.short_label,
        unit=variable.unit if said.unit is None else said.unit,
        units=variable.units if said.units is None else said.units,
        missing=variable.missing if said.missing is None else tuple(said.missing),
        limits=variable.limits if said.limits is None else said.limits,
        reliability=variable.reliability if said.reliability is None else said.reliability,
    )
    if said.levels is not None:
        codes: dict[str, list[str]] = {}
        column = study.table.column(name) if name in study.table else None
        for text, label in said.levels.items():
            code = text if column is None else column.level_code(text)
            if code is None:
                raise StudyError(f"“{name}” holds numbers; a level of it cannot have the code “{text[:40]}”.")
            codes.setdefault(label, []).append(code)
        variable = replace(variable, levels=tuple(Level(tuple(c), label) for label, c in codes.items()))
    elif variable.missing and variable.levels:
        kept = tuple(level for level in variable.levels if not set(level.codes) <= set(variable.missing))
        variable = replace(variable, levels=kept)
    study = change_variable(study, variable)
    if said.kind is not None and Kind(said.kind) is not variable.kind:
        study = set_kind(study, name, Kind(said.kind))
    elif said.kind is None and said.treatment is not None and variable.kind is Kind.GROUP:
        # A treatment makes sense for numbers only: what was guessed as two groups is meant as a number.
        study = set_kind(study, name, Kind.NUMBER)
    return study


def _entered(study: Study, name: str, said: VariableDocument | EntryDocument) -> Study:
    if said.treatment is not None:
        study = treat(study, [name], treatment_of(said.treatment))
    if said.coding is not None:
        study = set_coding(study, name, coding_of(said.coding, study.variable(name)))
    if said.reference is not None:
        variable = study.variable(name)
        if variable.kind is not Kind.GROUP:
            study = set_reference(study, name, said.reference)
        study = set_coding(study, name, with_reference(study, name, said.reference))
    return study
