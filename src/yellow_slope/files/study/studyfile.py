"""Study files (.yslope): a ZIP with datapackage.json, data.csv.gz and study.json."""

from __future__ import annotations

import io
import logging
import zipfile
from collections.abc import Mapping
from pathlib import Path
from types import MappingProxyType
from typing import Any

from pydantic import ValidationError

from yellow_slope.core.data.derived import Derived, sources_of
from yellow_slope.core.data.formula import expression_text, read_expression
from yellow_slope.core.data.source import Format, Found, Ragged, ReadAs, Source
from yellow_slope.core.data.table import Table
from yellow_slope.core.data.variable import Kind, Level, Variable
from yellow_slope.core.errors import FileError, StudyError, YellowSlopeError
from yellow_slope.core.study.flagkeys import Dismissal, FlagKey, FlagKind
from yellow_slope.core.study.gone import Gone, What
from yellow_slope.core.study.model import Entry, Model
from yellow_slope.core.study.rules import Sample
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import Treatment
from yellow_slope.core.study.whole import made_whole
from yellow_slope.files.safely.archives import MOST_JSON, member, room_for
from yellow_slope.files.safely.atomically import write_whole
from yellow_slope.files.safely.checksums import checksum_of
from yellow_slope.files.safely.jsontext import json_object, json_text
from yellow_slope.files.study.complaints import explained
from yellow_slope.files.study.documents import (
    CodingDocument,
    DerivedDocument,
    DismissalDocument,
    FoundDocument,
    LevelDocument,
    ModelDocument,
    PinnedDocument,
    ReadAsDocument,
    SampleDocument,
    SourceDocument,
    StudyDocument,
)
from yellow_slope.files.study.figures import figure_document, figure_of
from yellow_slope.files.study.migrations import NEWEST, newest
from yellow_slope.files.study.packedtable import most_bytes, packed_table, unpacked_table
from yellow_slope.files.study.values import (
    block_document,
    block_of,
    checks_document,
    checks_of,
    coding_document,
    coding_of,
    errors_document,
    errors_of,
    probe_document,
    probe_of,
    report_document,
    report_of,
    sample_document,
    sample_of,
    treatment_document,
    treatment_of,
)
from yellow_slope.files.tables.tableschema import described_variables, schema_of
from yellow_slope.files.text.delimited import read_typed
from yellow_slope.values import replace

log = logging.getLogger(__name__)
MOST_REMARKS = 20_000
"""Of more remarks of one kind nobody made them."""
SUFFIX = ".yslope"
DATA = "data.csv.gz"
PARTS = ("datapackage.json", "study.json", DATA)
OLD_DATA = "data.csv"
"""The table in files before version 3."""
MOST_MEMBERS = 64
_STILL = (1980, 1, 1, 0, 0, 0)


def write_study(study: Study, path: Path) -> tuple[str, ...]:
    """Write a study file whole or not at all; remarks, usually none."""
    return write_whole(path, packed(study))


def packed(study: Study) -> bytes:
    """The bytes of a study file; the same study gives the same bytes."""
    package = {
        "profile": "tabular-data-package",
        "name": _slug(study.name),
        "title": study.name,
        "resources": [
            {
                "name": "data",
                "path": DATA,
                "format": "csv",
                "compression": "gz",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "profile": "tabular-data-resource",
                "schema": schema_of(study),
            }
        ],
    }
    parts = {
        "datapackage.json": json_text(package, 1) + b"\n",
        "study.json": json_text(study_document(study).model_dump(by_alias=True), 1) + b"\n",
        DATA: packed_table(study.table),
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in parts.items():
            method = zipfile.ZIP_STORED if name == DATA else zipfile.ZIP_DEFLATED
            archive.writestr(zipfile.ZipInfo(name, _STILL), content, method)
    return out.getvalue()


def study_document(study: Study) -> StudyDocument:
    """The study's own part as a document."""
    source = study.source
    return StudyDocument(
        format="yellow-slope-study",
        version=NEWEST,
        name=study.name,
        source=SourceDocument(
            path=source.path,
            checksum=source.checksum or checksum_of(study.table),
            description=source.description,
            read_as=ReadAsDocument(
                separator=source.read_as.separator,
                decimal=source.read_as.decimal,
                names=source.read_as.names,
                above=source.read_as.above,
                encoding=source.read_as.encoding,
                quote=source.read_as.quote,
                ragged=str(source.read_as.ragged),
                missing=list(source.read_as.missing),
                format=str(source.read_as.format),
                sheet=source.read_as.sheet,
            ),
            found=FoundDocument(
                missing=dict(source.found.missing),
                ragged=list(source.found.ragged),
                n_ragged=source.found.n_ragged,
                doubtful=source.found.doubtful,
                doubtful_columns=list(source.found.doubtful_columns),
                empty_columns=source.found.empty_columns,
                sheets=list(source.found.sheets),
            ),
        ),
        derived={d.name: _derived_document(study, d) for d in study.derived},
        otherwise={v.name: str(v.otherwise) for v in study.variables if v.otherwise is not None},
        samples=[sample_document(s) for s in study.samples],
        models=[_model_document(m) for m in study.models],
        current=study.current,
        probes=[probe_document(p) for p in study.probes],
        checks=checks_document(study.checks),
        figure_letters=study.figure_letters,
        figures=[figure_document(f) for f in study.figures],
        report=report_document(study.report),
        dismissals=[
            DismissalDocument(flag=str(d.flag.kind), about=list(d.flag.listed), reason=d.reason)
            for d in study.dismissals
        ],
        pinned=[PinnedDocument(flag=str(key.kind), about=list(key.listed)) for key in study.pinned],
    )


def _derived_document(study: Study, derived: Derived) -> DerivedDocument:
    v = study.variable(derived.name)
    return DerivedDocument(
        expression=expression_text(derived.expression, {x.name: x for x in study.variables}),
        label=v.label,
        short=v.short_label,
        unit=v.unit,
        units=v.units,
        limits=v.limits,
        kind=str(v.kind),
        levels=[LevelDocument(codes=list(x.codes), label=x.label) for x in v.levels],
        ordered=v.ordered,
        missing=list(v.missing),
        reliability=v.reliability,
    )


def _derived_variable(name: str, said: DerivedDocument) -> Variable:
    return Variable(
        name,
        Kind(said.kind),
        said.label or name,
        said.short,
        said.unit,
        said.units,
        tuple(Level(tuple(x.codes), x.label) for x in said.levels),
        said.limits,
        tuple(said.missing),
        ordered=said.ordered,
        reliability=said.reliability,
    )


def _model_document(model: Model) -> ModelDocument:
    return ModelDocument(
        id=model.id,
        name=model.name,
        outcome=model.outcome,
        blocks=[block_document(b) for b in model.blocks],
        entries={
            name: treatment_document(entry) if isinstance(entry, Treatment) else coding_document(entry)
            for name, entry in model.entries.items()
        },
        constant=model.constant,
        sample=model.sample,
        level=model.level,
        errors=errors_document(model.errors),
        by=model.by,
        leave_out_first=[list(t.variables) for t in model.leave_out_first],
        reported=model.reported,
    )


def unpacked(content: bytes, name: str) -> Study:
    """The study in the bytes of a study file."""
    parts = members(content, name)
    if OLD_DATA in parts:
        parts[DATA] = parts.pop(OLD_DATA)
        data = parts[DATA]
    else:
        data = unpacked_table(parts.get(DATA, b""), name) if DATA in parts else b""
    missing = [part for part in PARTS if part not in parts]
    if missing:
        raise FileError(f"{name} is not a Yellow Slope study: it holds no {missing[0]}.")
    package = json_object(parts["datapackage.json"], f"{name}: datapackage.json")
    raw = json_object(parts["study.json"], f"{name}: study.json")
    document = _document(raw, name)
    try:
        schema = package["resources"][0]["schema"]
        types = {str(field["name"]): str(field["type"]) for field in schema["fields"]}
    except (KeyError, IndexError, TypeError) as error:
        raise FileError(f"{name}: datapackage.json describes no table.") from error
    table = read_typed(data, types, f"{name}: its table")
    return _put_together(document, schema, table, name)


def on_table(raw: dict[str, Any], schema: Mapping[str, Any], table: Table, name: str) -> Study:
    """The study of a study document on a table that its columns describe, as far as they are there. FileError says what
    is wrong."""
    return _put_together(_document(raw, name), schema, table, name)


def _put_together(document: StudyDocument, schema: Mapping[str, Any], table: Table, name: str) -> Study:
    variables = described_variables(table, schema, f"{name}: datapackage.json")
    try:
        return _study(document, table, variables)
    except YellowSlopeError as error:
        raise FileError(f"{name}: {error}") from error


def _document(raw: dict[str, Any], name: str) -> StudyDocument:
    """The study's own part, of whatever version."""
    if raw.get("format") == "yellow-slope-study" and isinstance(raw.get("version"), int) and raw["version"] > NEWEST:
        raise FileError(
            f"{name} was written by a newer Yellow Slope (study version {raw['version']}; this one reads {NEWEST})."
        )
    try:
        return StudyDocument.model_validate(newest(raw))
    except (KeyError, TypeError, AttributeError) as error:
        raise FileError(f"{name}: study.json of version {raw.get('version')} lacks {error}.") from error
    except ValidationError as error:
        raise explained(error, f"{name}: study.json", StudyDocument) from error


def members(content: bytes, name: str) -> dict[str, bytes]:
    """The parts of a study file, within bounds. FileError for what is none, is damaged, or is too large."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            known = archive.infolist()
            wanted = [info for info in known if info.filename in (*PARTS, OLD_DATA)]
            if len(known) > MOST_MEMBERS or len({info.filename for info in wanted}) < len(wanted):
                raise FileError(f"{name} is not a Yellow Slope study: it holds too many parts, or one of them twice.")
            found: dict[str, bytes] = {}
            for info in wanted:
                most = min(most_bytes(), room_for(len(content))) if info.filename.startswith("data.") else MOST_JSON
                found[info.filename] = member(archive, info.filename, name, most)
            return found
    except FileError:
        raise
    except Exception as error:  # damaged archives end in errors of every kind, according to how they are packed
        log.info("a damaged study file", exc_info=True)
        raise FileError(f"{name} is not a Yellow Slope study, or it is damaged.") from error


def _study(document: StudyDocument, table: Table, variables: tuple[Variable, ...]) -> Study:
    """The study of a document. What it names but does not hold is let go, and stands in `Study.went`."""
    for what, n in (
        ("flags that were put aside", len(document.dismissals)),
        ("flags that are kept in view", len(document.pinned)),
        ("sets of cases set aside", sum(len(sample.aside) for sample in document.samples)),
    ):
        if n > MOST_REMARKS:
            raise StudyError(f"it holds {n:,} {what}; more than {MOST_REMARKS:,} are not read.")
    study = Study(table, variables, document.name, _source(document.source))
    went: list[Gone] = []
    seen = {v.name for v in study.variables}
    computed = [_derived_variable(name, said) for name, said in document.derived.items()]
    every = (*study.variables, *computed)  # one list for all: what may be named is looked up once
    kept: list[tuple[Derived, Variable]] = []
    for (name, said), variable in zip(document.derived.items(), computed):
        if name in seen:
            raise StudyError(f"two variables are named “{name}”.")
        try:
            expression = read_expression(said.expression, every, stored=True)
        except YellowSlopeError:
            log.info("a computed variable that cannot be read", exc_info=True)
            went.append(Gone(What.COMPUTED, (name,)))
            continue
        if not seen.issuperset(sources_of(expression)):  # what it rests on is gone, or comes after it
            went.append(Gone(What.COMPUTED, (name,)))
            continue
        seen.add(name)
        kept.append((Derived(name, expression), variable))
    study = replace(
        study,
        derived=(*study.derived, *(derived for derived, _ in kept)),
        variables=(*study.variables, *(variable for _, variable in kept)),
    )
    found = replace(
        study,
        variables=tuple(
            replace(v, otherwise=Kind(document.otherwise[v.name]))
            if v.name in document.otherwise and v.kind is Kind.NUMBER
            else v
            for v in study.variables
        ),
        samples=tuple(_sample(one, study, went) for one in document.samples),
        models=tuple(_model(one, study) for one in document.models),
        current=document.current,
        probes=tuple(probe_of(one, study, stored=True) for one in document.probes),
        checks=checks_of(document.checks),
        figure_letters=document.figure_letters,
        figures=tuple(figure_of(one) for one in document.figures),
        report=report_of(document.report),
        dismissals=tuple(
            Dismissal(FlagKey.of(kind, d.about), d.reason)
            for d in document.dismissals
            if (kind := FlagKind.named(d.flag)) is not None
        ),
        pinned=tuple(
            FlagKey.of(kind, p.about)
            for p in document.pinned
            if p.about and (kind := FlagKind.named(p.flag)) is not None
        ),
        went=tuple(went),
    )
    for what, names in (
        ("samples", [s.name for s in found.samples]),
        ("models", [m.id for m in found.models]),
        ("figures", [f.name for f in found.figures]),
    ):
        if len(set(names)) < len(names):
            raise StudyError(f"two {what} have one name.")
    return made_whole(found)


def _sample(said: SampleDocument, study: Study, went: list[Gone]) -> Sample:
    """A sample; without its rule where that names what is not there."""
    try:
        return sample_of(said, study, stored=True)
    except StudyError:
        log.info("a rule that cannot be read", exc_info=True)
        went.append(Gone(What.RULE, (said.name,)))
        return sample_of(said.model_copy(update={"rule": None}), study, stored=True)


def _source(document: SourceDocument | None) -> Source:
    if document is None:
        return Source()
    said = document.read_as
    read_as = ReadAs(
        said.separator,
        said.decimal,
        said.names,
        said.above,
        said.encoding,
        said.quote,
        Ragged(said.ragged),
        tuple(said.missing),
        Format(said.format),
        said.sheet,
    )
    found = document.found
    came_upon = Found(
        tuple(found.missing.items()),
        tuple(found.ragged),
        found.n_ragged,
        found.doubtful,
        tuple(found.doubtful_columns),
        found.empty_columns,
        tuple(found.sheets),
    )
    return Source(document.path, document.checksum, read_as, document.description, came_upon)


def _model(document: ModelDocument, study: Study) -> Model:
    known = {v.name: v for v in study.variables}
    entries: dict[str, Entry] = {}
    for name, said in document.entries.items():
        if isinstance(said, CodingDocument):
            variable = known.get(name)
            if variable is not None:
                entries[name] = coding_of(said, variable, stored=True)
        else:
            entries[name] = treatment_of(said)
    return Model(
        document.id,
        document.name,
        document.outcome,
        tuple(block_of(b) for b in document.blocks),
        MappingProxyType(entries),
        document.constant,
        document.sample,
        document.level,
        errors_of(document.errors),
        tuple(Term(tuple(t)) for t in document.leave_out_first),
        document.by,
        document.reported,
    )


def _slug(name: str) -> str:
    return "".join(c if c.isalnum() else "-" for c in name.lower()).strip("-") or "study"
