"""Where a table came from and how it was read: values, not phrases."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class ReadAs:
    """How a text is read; every part can be chosen otherwise."""

    separator: str = ","
    decimal: str = "."
    names_in_row_1: bool = True
    encoding: str = "utf-8"


@dataclass(frozen=True, slots=True)
class Source:
    """The file a table was read from. The path is empty for a table that came from nowhere."""

    path: str = ""
    checksum: str = ""
    """SHA-256 of the file's bytes, in hexadecimal."""
    read_as: ReadAs = ReadAs()
    description: str = ""
    """Name of the description file that stood beside the table."""
