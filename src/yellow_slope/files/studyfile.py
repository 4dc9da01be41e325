"""Study files (.yslope): a ZIP with datapackage.json, data.csv and study.json."""

from __future__ import annotations

import io
import json
import zipfile
import zlib
from dataclasses import replace
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from yellow_slope.core.errors import FileError, YellowSlopeError
from yellow_slope.core.study import Dismissal, PickPoints, Probe, Study
from yellow_slope.core.table import Column, Table, number_column, text_column
from yellow_slope.core.terms import Block, Term
from yellow_slope.core.variable import Treatment, Variable
from yellow_slope.files.atomically import write_whole
from yellow_slope.files.delimited import written
from yellow_slope.files.documents import (
    BlockDocument,
    DismissalDocument,
    ProbeDocument,
    StudyDocument,
    TreatedDocument,
    explained,
)
from yellow_slope.files.tableschema import described_variables, schema_of

SUFFIX = ".yslope"
PARTS = ("datapackage.json", "data.csv", "study.json")
_STILL = (1980, 1, 1, 0, 0, 0)


def write_study(study: Study, path: Path) -> None:
    """Write a study file whole or not at all."""
    write_whole(path, packed(study))


def packed(study: Study) -> bytes:
    """The bytes of a study file; the same study gives the same bytes."""
    package = {
        "profile": "tabular-data-package",
        "name": _slug(study.name),
        "title": study.name,
        "resources": [
            {
                "name": "data",
                "path": "data.csv",
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "profile": "tabular-data-resource",
                "schema": schema_of(study),
            }
        ],
    }
    parts = {
        "datapackage.json": _json(package),
        "data.csv": written(study.table),
        "study.json": _json(study_document(study).model_dump()),
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in parts.items():
            archive.writestr(zipfile.ZipInfo(name, _STILL), content, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def study_document(study: Study) -> StudyDocument:
    """The study's own part as a document."""
    return StudyDocument(
        format="yellow-slope-study",
        version=1,
        name=study.name,
        outcome=study.outcome,
        level=study.level,
        variables={
            v.name: TreatedDocument(treatment=str(v.treatment), reference=v.reference)  # type: ignore[arg-type]
            for v in study.variables
        },
        blocks=[BlockDocument(name=b.name, terms=[list(t.variables) for t in b.terms]) for b in study.blocks],
        probes=[probe_document(p) for p in study.probes],
        dismissals=[DismissalDocument(flag=d.flag, reason=d.reason) for d in study.dismissals],
        first_out=[list(t.variables) for t in study.first_out],
        read_as=list(study.read_as),
    )


def probe_document(probe: Probe) -> ProbeDocument:
    """A probe as a document; steps are counted from 1 there."""
    return ProbeDocument(
        focal=probe.focal,
        moderator=probe.moderator,
        step=None if probe.step is None else probe.step + 1,
        pick=probe.pick.rule,  # type: ignore[arg-type]
        values=list(probe.pick.values),
        held=dict(probe.held),
    )


def probe_of(document: ProbeDocument) -> Probe:
    """A probe from its document."""
    return Probe(
        document.focal,
        document.moderator,
        None if document.step is None else document.step - 1,
        PickPoints(document.pick, tuple(document.values)),
        tuple(document.held.items()),
    )


def unpacked(content: bytes, name: str) -> Study:
    """The study in the bytes of a study file."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            missing = [part for part in PARTS if part not in archive.namelist()]
            if missing and {"[Content_Types].xml", "mimetype"} & set(archive.namelist()):
                raise FileError(f"{name} is a spreadsheet or an office document; save its table as text (.csv) first.")
            if missing:
                raise FileError(f"{name} is not a Yellow Slope study: it holds no {missing[0]}.")
            parts = {part: archive.read(part) for part in PARTS}
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError) as error:
        raise FileError(f"{name} is not a Yellow Slope study, or it is damaged: {error}.") from error
    package = _object(parts["datapackage.json"], f"{name}: datapackage.json")
    raw = _object(parts["study.json"], f"{name}: study.json")
    if raw.get("format") == "yellow-slope-study" and isinstance(raw.get("version"), int) and raw["version"] > 1:
        raise FileError(
            f"{name} was written by a newer Yellow Slope (study version {raw['version']}; this one reads 1)."
        )
    try:
        document = StudyDocument.model_validate(raw)
    except ValidationError as error:
        raise explained(error, f"{name}: study.json") from error
    try:
        schema = package["resources"][0]["schema"]
        types = {field["name"]: field["type"] for field in schema["fields"]}
    except (KeyError, IndexError, TypeError) as error:
        raise FileError(f"{name}: datapackage.json describes no table.") from error
    table = _typed_table(parts["data.csv"], types, name)
    variables = tuple(_treated(v, document) for v in described_variables(table, schema, f"{name}: datapackage.json"))
    study = Study(
        table,
        variables,
        document.name,
        document.outcome,
        tuple(Block(tuple(Term(tuple(t)) for t in b.terms), b.name) for b in document.blocks),
        document.level,
        tuple(probe_of(p) for p in document.probes),
        tuple(Dismissal(d.flag, d.reason) for d in document.dismissals),
        tuple(Term(tuple(t)) for t in document.first_out),
        tuple(document.read_as),
    )
    return _checked(study, name)


def _treated(variable: Variable, document: StudyDocument) -> Variable:
    said = document.variables.get(variable.name)
    if said is None:
        return variable
    return replace(variable, treatment=Treatment(said.treatment), reference=said.reference)


def _checked(study: Study, name: str) -> Study:
    from yellow_slope.core import edits

    try:
        if study.outcome is not None:
            study.variable(study.outcome)
        for term in study.terms:
            edits.check_term(study, term)
        for variable in study.variables:
            if variable.reference is not None:
                variable.level(variable.reference)
    except YellowSlopeError as error:
        raise FileError(f"{name}: {error}") from error
    return study


def _typed_table(content: bytes, types: dict[str, str], name: str) -> Table:
    """data.csv by the schema's types; nothing is guessed."""
    import csv

    try:
        rows = list(csv.reader(io.StringIO(content.decode("utf-8"))))
    except (UnicodeDecodeError, csv.Error) as error:
        raise FileError(f"{name}: data.csv cannot be read: {error}.") from error
    if not rows:
        raise FileError(f"{name}: data.csv is empty.")
    columns: list[Column] = []
    for j, column in enumerate(rows[0]):
        try:
            cells = [row[j] for row in rows[1:]]
            if types.get(column) == "number":
                columns.append(number_column(column, [float(cell) if cell else float("nan") for cell in cells]))
            else:
                columns.append(text_column(column, cells))
        except (ValueError, IndexError) as error:
            raise FileError(f"{name}: data.csv, column “{column}”: {error}.") from error
    return Table(tuple(columns))


def _object(content: bytes, source: str) -> dict[str, Any]:
    try:
        found = json.loads(content.decode("utf-8"))
    except ValueError as error:
        raise FileError(f"{source} is not readable JSON: {error}.") from error
    if not isinstance(found, dict):
        raise FileError(f"{source} is not a JSON object.")
    return found


def _json(value: Any) -> bytes:
    return (json.dumps(value, indent=1, ensure_ascii=False) + "\n").encode("utf-8")


def _slug(name: str) -> str:
    return "".join(c if c.isalnum() else "-" for c in name.lower()).strip("-") or "study"
