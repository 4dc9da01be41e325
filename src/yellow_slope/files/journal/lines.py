"""The lines of a journal: a checksum and a JSON object each, so that a line that was not written to its end is seen."""

from __future__ import annotations

import os
import zlib
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any, Literal
from urllib.parse import quote_from_bytes, unquote_to_bytes

import msgspec

from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.jsontext import json_object, json_text
from yellow_slope.files.study.typed import as_json, from_json

VERSION = 1


class Line(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """One line: what happened, when, and the study after it where that is new."""

    step: Literal["begun", "opened", "edited", "undone", "redone", "saved"]
    when: datetime
    version: int = 0
    """begun: of these lines."""
    follows: str = ""
    """begun: the journals that this one takes the place of, by blanks."""
    what: str = ""
    quiet: bool = False
    path: str = ""
    """opened and saved: the study file, as `path_text` writes it; empty: none."""
    source: str = ""
    is_saved: bool = True
    number: int = 0
    """Of the study that the step is about."""
    study: dict[str, Any] | None = None
    """The study's own part, as it stands in a study file."""
    columns: dict[str, Any] | None = None
    """The Table Schema of its columns; None: that of the line before that has one."""
    rows: int = 0


def path_text(path: Path | None) -> str:
    """A path in letters that every text can hold."""
    return quote_from_bytes(os.fsencode(path)) if path is not None else ""


def path_of(text: str) -> Path | None:
    """The path that was written so."""
    return Path(os.fsdecode(unquote_to_bytes(text))) if text else None


def packed_line(line: Line) -> bytes:
    """The line as it stands in the file."""
    content = json_text(as_json(line))
    return f"{zlib.crc32(content):08x} ".encode() + content + b"\n"


def unpacked_lines(content: bytes) -> Iterator[Line]:
    """The lines up to the first that is not whole: what stands after it was never finished, or is damaged."""
    for raw in content.split(b"\n"):
        sum_, _, text = raw.partition(b" ")
        try:
            if int(sum_, 16) != zlib.crc32(text):
                return
            line = from_json(json_object(text, "a line of the journal"), Line, "a line of the journal")
        except (ValueError, FileError):
            return
        if line.version > VERSION:
            return
        yield line
