"""Opening whatever a person points at: a study file, or a table file with its description beside it."""

from __future__ import annotations

import hashlib
from dataclasses import replace
from pathlib import Path

from yellow_slope.core.data.source import ReadAs, Source
from yellow_slope.core.errors import FileError
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.files.atomically import read_bytes
from yellow_slope.files.delimited import parse_delimited
from yellow_slope.files.tableschema import described_variables, read_schema, schema_beside


def open_anything(path: Path, read_as: ReadAs | None = None) -> Study:
    """The study in a study file, or a new study of a table file. FileError says what is wrong with it."""
    path = Path(path).expanduser()
    if path.is_dir():
        raise FileError(f"{path} is a folder; name a table file or a study file in it.")
    content = read_bytes(path)
    if content.startswith(b"PK"):
        from yellow_slope.files.studyfile import unpacked

        return unpacked(content, path.name)
    table, way = parse_delimited(content, path.name, read_as)
    source = Source(path.name, hashlib.sha256(content).hexdigest(), way)
    study = new_study(table, path.stem.replace("_", " ").replace("-", " ").strip().capitalize(), source)
    beside = schema_beside(path)
    if beside is not None:
        variables = described_variables(table, read_schema(beside), beside.name)
        study = replace(study, variables=variables, source=replace(source, description=beside.name))
    return study
