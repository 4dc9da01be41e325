"""What a file is, by its content, whatever its name says."""

from __future__ import annotations

import io
import zipfile
from enum import StrEnum

from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.archives import member


class FileKind(StrEnum):
    """What can be opened."""

    STUDY = "study"
    TEXT = "text"
    WORKBOOK = "spreadsheet (.xlsx)"
    OPEN_DOCUMENT = "spreadsheet (.ods)"
    PARQUET = "Parquet file"
    RECORDS = "JSON records"
    PACKAGE = "data package"


ZIP = (b"PK\x03\x04", b"PK\x05\x06")
SIGNATURES = (
    (b"%PDF", "a PDF; a table in it has to be copied out first"),
    (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", "a spreadsheet or document of the old binary format: save it as .xlsx"),
    (b"\x7fELF", "a program"),
    (b"MZ\x90", "a program"),
    (b"\x89PNG", "a picture"),
    (b"\xff\xd8\xff", "a picture"),
    (b"GIF8", "a picture"),
    (b"\x1f\x8b", "compressed: unpack it first"),
    (b"BZh", "compressed: unpack it first"),
    (b"\xfd7zXZ", "compressed: unpack it first"),
    (b"(\xb5/\xfd", "compressed: unpack it first"),
    (b"7z\xbc\xaf", "an archive: unpack it first"),
    (b"Rar!", "an archive: unpack it first"),
    (b"SQLite format 3", "a database: export the table as text first"),
    (b"{\\rtf", "a rich-text document: save its table as text first"),
)
PAGES = (
    (b"<!doctype html", "an HTML page"),
    (b"<html", "an HTML page"),
    (b"<?xml", "an XML file"),
    (b"<svg", "a picture"),
)


def kind_of(content: bytes, name: str) -> FileKind:
    """What the content is. FileError says what it is instead of a table or a study."""
    if content.startswith(ZIP):
        return _of_archive(content, name)
    if content.startswith(b"PAR1"):
        return FileKind.PARQUET
    for signature, what in SIGNATURES:
        if content.startswith(signature):
            raise FileError(f"{name} is {what}.")
    head = content[:4096].removeprefix(b"\xef\xbb\xbf").lstrip()
    for signature, what in PAGES:
        if head.lower().startswith(signature):
            raise FileError(f"{name} is {what}; save its table as text (.csv) or as a spreadsheet first.")
    if head[:1] in (b"[", b"{") and _seems_json(head):
        return FileKind.PACKAGE if name.endswith("datapackage.json") else FileKind.RECORDS
    return FileKind.TEXT


def _seems_json(head: bytes) -> bool:
    rest = head[1:].lstrip()
    return rest[:1] in (b'"', b"{", b"[", b"}", b"]") or (head[:1] == b"[" and rest[:1] in b"-0123456789")


def _of_archive(content: bytes, name: str) -> FileKind:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            parts = set(archive.namelist())
            if "mimetype" in parts and "content.xml" in parts:
                said = member(archive, "mimetype", name, 1 << 16)[:80]
                if b"spreadsheet" in said:
                    return FileKind.OPEN_DOCUMENT
                raise FileError(f"{name} is an office document without a table of cells; save its table as text first.")
    except FileError:
        raise
    except Exception as error:  # damaged archives end in errors of every kind
        raise FileError(f"{name} is not a study, a spreadsheet or a data package, or it is damaged.") from error
    if "study.json" in parts:
        return FileKind.STUDY
    if "xl/workbook.xml" in parts:
        return FileKind.WORKBOOK
    if "xl/workbook.bin" in parts:
        raise FileError(f"{name} is a spreadsheet of a binary format: save it as .xlsx.")
    if "word/document.xml" in parts or "ppt/presentation.xml" in parts:
        raise FileError(f"{name} is an office document; save its table as text (.csv) first.")
    if "datapackage.json" in parts:
        return FileKind.PACKAGE
    raise FileError(f"{name} is not a Yellow Slope study: it is an archive of other files. Unpack it first.")
