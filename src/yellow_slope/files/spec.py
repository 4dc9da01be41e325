"""A study from a table file and a small JSON description of its model."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

from pydantic import ValidationError

from yellow_slope.core import edits
from yellow_slope.core.errors import FileError, YellowSlopeError
from yellow_slope.core.study import Study
from yellow_slope.core.terms import Block, Term
from yellow_slope.core.variable import Kind, Level, Treatment
from yellow_slope.files.atomically import read_bytes
from yellow_slope.files.documents import BlockDocument, SpecDocument, VariableDocument, explained
from yellow_slope.files.opening import open_anything
from yellow_slope.files.studyfile import probe_of


def read_spec(path: Path) -> SpecDocument:
    """The description in a file; FileError with the place of the first mistake."""
    try:
        return SpecDocument.model_validate(json.loads(read_bytes(path).decode("utf-8")))
    except ValidationError as error:
        raise explained(error, Path(path).name) from error
    except ValueError as error:
        raise FileError(f"{Path(path).name} is not readable JSON: {error}.") from error


def study_from(table_file: Path, spec: SpecDocument, source: str = "the description") -> Study:
    """A study of the table with the description's kinds, labels, treatments, blocks and probes."""
    study = open_anything(table_file)
    try:
        for name, said in spec.variables.items():
            study = _described(study, name, said)
        study = edits.set_level(edits.set_outcome(study, spec.outcome), spec.level)
        study = edits.set_blocks(study, [_block(b) for b in spec.blocks])
        for probe in reversed(spec.probes):
            study = edits.put_probe(study, probe_of(probe))
    except YellowSlopeError as error:
        raise FileError(f"{source}: {error}") from error
    return edits.rename(study, spec.name) if spec.name else study


def _block(block: BlockDocument | list[list[str]]) -> Block:
    if isinstance(block, BlockDocument):
        return Block(tuple(Term(tuple(t)) for t in block.terms), block.name)
    return Block(tuple(Term(tuple(t)) for t in block))


def _described(study: Study, name: str, said: VariableDocument) -> Study:
    variable = study.variable(name)
    variable = replace(
        variable,
        label=said.label or variable.label,
        short_label=said.short or variable.short_label,
        unit=variable.unit if said.unit is None else said.unit,
        units=variable.units if said.units is None else said.units,
        missing=variable.missing if said.missing is None else tuple(said.missing),
    )
    if said.levels is not None:
        variable = replace(variable, levels=tuple(Level(code, label) for code, label in said.levels.items()))
    study = edits.change_variable(study, variable)
    if said.kind is not None and Kind(said.kind) is not variable.kind:
        study = edits.set_kind(study, name, Kind(said.kind))
    if said.treatment is not None:
        study = edits.treat(study, [name], Treatment(said.treatment))
    if said.reference is not None:
        level = study.variable(name).find_level(said.reference)
        study = edits.set_reference(study, name, level.code if level else said.reference)
    return study
