"""Study files (.yslope): a ZIP with datapackage.json, data.csv.gz and study.json."""

from __future__ import annotations

import io
import logging
import zipfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from yellow_slope.core.data.table import Table
from yellow_slope.core.errors import FileError, YellowSlopeError
from yellow_slope.core.study.study import Study
from yellow_slope.files.safely.archives import MOST_JSON, member, room_for
from yellow_slope.files.safely.atomically import write_whole
from yellow_slope.files.safely.jsontext import json_object, json_text
from yellow_slope.files.study.packedtable import most_bytes, packed_table, unpacked_table
from yellow_slope.files.study.studydocument import StudyDocument, read_document, study_document, study_of
from yellow_slope.files.tables.tableschema import described_variables, schema_of
from yellow_slope.files.text.delimited import read_typed

log = logging.getLogger(__name__)
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
        "study.json": json_text(study_document(study), 1) + b"\n",
        DATA: packed_table(study.table),
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in parts.items():
            method = zipfile.ZIP_STORED if name == DATA else zipfile.ZIP_DEFLATED
            archive.writestr(zipfile.ZipInfo(name, _STILL), content, method)
    return out.getvalue()


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
    document = read_document(raw, name)
    try:
        schema = package["resources"][0]["schema"]
        types = {str(field["name"]): str(field["type"]) for field in schema["fields"]}
    except (KeyError, IndexError, TypeError) as error:
        raise FileError(f"{name}: datapackage.json describes no table.") from error
    table = read_typed(data, types, f"{name}: its table")
    if not table.n_rows:  # as of every other file: there is nothing to look at, and what is written reads back
        raise FileError(f"{name}: its table holds no rows.")
    return _put_together(document, schema, table, name)


def on_table(raw: dict[str, Any], schema: Mapping[str, Any], table: Table, name: str) -> Study:
    """The study of a study document on a table that its columns describe, as far as they are there. FileError says what
    is wrong."""
    return _put_together(read_document(raw, name), schema, table, name)


def _put_together(document: StudyDocument, schema: Mapping[str, Any], table: Table, name: str) -> Study:
    variables = described_variables(table, schema, f"{name}: datapackage.json")
    try:
        return study_of(document, table, variables)
    except YellowSlopeError as error:
        raise FileError(f"{name}: {error}") from error


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


def _slug(name: str) -> str:
    return "".join(c if c.isalnum() else "-" for c in name.lower()).strip("-") or "study"
