"""Opening whatever a person points at: a study file, or a table of any common form with its description beside it."""

from __future__ import annotations

import io
import os
import posixpath
import zipfile
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yellow_slope.core.data.source import Format, Ragged, ReadAs, Source
from yellow_slope.core.data.table import Table
from yellow_slope.core.errors import FileError, YellowSlopeError
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.files.safely.archives import MOST_JSON, member, room_for
from yellow_slope.files.safely.checksums import checksum_or_later, sum_later
from yellow_slope.files.safely.paths import expanded
from yellow_slope.files.safely.regular import read_bytes, read_head
from yellow_slope.files.tables.codebook import code_book_beside
from yellow_slope.files.tables.recognition import FileKind, kind_of
from yellow_slope.files.tables.tableschema import declared, described_variables, read_schema, schema_beside, strings
from yellow_slope.values import replace

if TYPE_CHECKING:
    from yellow_slope.files.text.delimited import TableReading

Progress = Callable[[float], None]
MOST_BYTES = 4 << 30
"""A larger table would not fit beside its work."""


def open_anything(path: Path, read_as: ReadAs | None = None, progress: Progress = lambda share: None) -> Study:
    """The study in a study file, or a new study of a table file. FileError says what is wrong with it."""
    path = expanded(path)
    if os.path.isdir(path):  # a path's own question fails where no file can have such a name
        raise FileError(f"{path} is a folder; name a table file or a study file in it.")
    content = read_bytes(path, MOST_BYTES)
    kind = kind_of(content, path.name)
    if kind is FileKind.STUDY:
        from yellow_slope.files.study.studyfile import unpacked

        return unpacked(content, path.name)
    name = path.stem.replace("_", " ").replace("-", " ").strip().capitalize()
    if kind is FileKind.PACKAGE:
        study = _of_package(content, path, name, read_as, progress)
        sum_later(study.table, content)
        return study
    beside = schema_beside(path)
    texts = strings(read_schema(beside)) if beside is not None else frozenset[str]()
    study = _described(_new(_read(kind, content, path.name, read_as, progress, texts), name, path.name, content), path)
    sum_later(study.table, content)
    return study


def _described(study: Study, path: Path) -> Study:
    """The study with what a schema or a code book beside the file says of its columns."""
    beside = schema_beside(path)
    if beside is not None:
        schema = read_schema(beside)
        table = declared(study.table, schema)
        variables = described_variables(table, schema, beside.name)
        source = replace(study.source, description=beside.name)
        return replace(study, table=table, variables=variables, source=source)
    book = code_book_beside(path)
    if book is not None:
        from yellow_slope.files.tables.codebook import described_by_code_book

        try:
            variables = described_by_code_book(study.table, study.variables, book)
        except FileError:
            return study  # a code book of another table
        return replace(study, variables=variables, source=replace(study.source, description=book.name))
    return study


HEAD_BYTES, WHOLE_BYTES = 1 << 18, 3 << 20
"""So much of a text is read for its first rows; a spreadsheet is read whole, if it is no larger."""


def first_rows(path: Path, read_as: ReadAs) -> Table | None:
    """The first rows of a table file, read in that way; None where looking would take long. FileError as for
    opening."""
    path = expanded(path)
    size = os.path.getsize(path) if os.path.isfile(path) else 0
    if size <= WHOLE_BYTES:
        content = read_bytes(path, WHOLE_BYTES)
    else:
        content = read_head(path, HEAD_BYTES)
    kind = kind_of(content, path.name)
    if kind in (FileKind.STUDY, FileKind.PACKAGE) or (size > WHOLE_BYTES and kind is not FileKind.TEXT):
        return None
    if kind is FileKind.TEXT and len(content) >= HEAD_BYTES:  # whole lines, in units that every encoding has
        end = max(content.rfind(b"\n", 0, HEAD_BYTES), content.rfind(b"\r", 0, HEAD_BYTES))
        content = content[: (end + 1) // 4 * 4 or HEAD_BYTES]
    return _read(kind, content, path.name, replace(read_as, ragged=Ragged.FILL), lambda share: None).table


def open_text(text: str, read_as: ReadAs | None = None) -> Study:
    """A new study of a table that was copied as text."""
    content = text.encode("utf-8", errors="replace")
    reading = _read(FileKind.TEXT, content, "The clipboard", read_as, lambda share: None)
    return _new(reading, "Pasted table", "the clipboard", content)


def _new(reading: TableReading, name: str, path: str, content: bytes) -> Study:
    source = Source(path, checksum_or_later(content), reading.way, found=reading.found)
    return new_study(reading.table, name or "Untitled study", source)


def _read(
    kind: FileKind,
    content: bytes,
    name: str,
    read_as: ReadAs | None,
    progress: Progress,
    texts: frozenset[str] = frozenset(),
) -> TableReading:
    if kind is FileKind.WORKBOOK:
        from yellow_slope.files.tables.spreadsheets import read_workbook

        return read_workbook(content, name, read_as, progress)
    if kind is FileKind.OPEN_DOCUMENT:
        from yellow_slope.files.tables.spreadsheets import read_open_document

        return read_open_document(content, name, read_as, progress)
    if kind in (FileKind.PARQUET, FileKind.RECORDS):
        from yellow_slope.files.tables.arrowtables import read_parquet, read_records

        return (read_parquet if kind is FileKind.PARQUET else read_records)(content, name, read_as)
    from yellow_slope.files.text.delimited import parse_delimited

    return parse_delimited(content, name, read_as, progress, texts)


# ---- data packages: a description, and tables beside it or in the same archive


def _of_package(content: bytes, path: Path, name: str, read_as: ReadAs | None, progress: Progress) -> Study:
    parts, package = _package(content, path)
    resources = [r for r in package.get("resources", ()) if isinstance(r, Mapping) and isinstance(r.get("path"), str)]
    if not resources:
        raise FileError(f"{path.name} describes no table.")
    names = [str(r.get("name") or r["path"]) for r in resources]
    wanted = read_as.sheet if read_as is not None and read_as.sheet else names[0]
    if wanted not in names:
        raise FileError(f"{path.name} describes no table “{wanted}”.")
    resource = resources[names.index(wanted)]
    inside = posixpath.normpath(str(resource["path"]))
    if inside.startswith(("/", "..")) or "://" in str(resource["path"]):
        raise FileError(f"{path.name}: the table “{wanted}” lies outside the package; it is not read.")
    data = parts(inside)
    kind = kind_of(data, inside)
    if kind in (FileKind.STUDY, FileKind.PACKAGE):
        raise FileError(f"{path.name}: “{wanted}” is not a table.")
    described = resource.get("schema")
    texts = strings(described) if isinstance(described, Mapping) else frozenset[str]()
    reading = _read(kind, data, f"{path.name}: {inside}", _of_dialect(resource), progress, texts)
    reading = replace(
        reading,
        way=replace(reading.way, format=Format.PACKAGE, sheet=wanted),
        found=replace(reading.found, sheets=tuple(names)),
    )
    title = str(package.get("title") or name)
    study = _new(reading, title, path.name, content)
    schema = resource.get("schema")
    if not isinstance(schema, Mapping):
        return study
    try:
        table = declared(reading.table, schema)
        variables = described_variables(table, schema, f"{path.name}: its schema")
    except YellowSlopeError as error:
        raise FileError(str(error)) from error
    return replace(study, table=table, variables=variables, source=replace(study.source, description="the package"))


def _package(content: bytes, path: Path) -> tuple[Callable[[str], bytes], dict[str, Any]]:
    """How to get at a part, and the package's description."""
    from yellow_slope.files.safely.jsontext import json_object

    if not content.startswith(b"PK"):
        return lambda inside: read_bytes(path.parent / inside, MOST_BYTES), json_object(content, path.name)

    def part(inside: str) -> bytes:
        try:
            with zipfile.ZipFile(io.BytesIO(content)) as archive:
                most = MOST_JSON if inside == "datapackage.json" else room_for(len(content))
                return member(archive, inside, path.name, most)
        except FileError:
            raise
        except Exception as error:  # damaged archives end in errors of every kind
            raise FileError(f"{path.name}: {inside} is not there, or damaged.") from error

    return part, json_object(part("datapackage.json"), f"{path.name}: datapackage.json")


def _of_dialect(resource: Mapping[str, Any]) -> ReadAs | None:
    """How a package says that its text is written; None where it says nothing."""
    dialect = resource.get("dialect")
    if not isinstance(dialect, Mapping):
        return None
    separator = str(dialect.get("delimiter", ","))
    quote = dialect.get("quoteChar", '"')
    if len(separator) != 1 or quote not in ('"', "'", ""):
        return None
    return ReadAs(separator=separator, quote=quote, names=dialect.get("header", True) is not False, encoding="")
