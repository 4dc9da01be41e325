"""Where a table came from, how it was read, and what the reading came upon: values, not phrases."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Literal

from msgspec import Meta

from yellow_slope.values import dataclass

MISSING_WORDS = ("NA", "N/A", "#N/A", "#NA", "NaN", "NULL", "missing", ".", "..", "-", "–", "—", "?", "*")
"""What is usually written where a value is missing, whatever its case. “none” is not among them: it is a group's
name."""


Decimal = Literal[".", ","]


class Format(StrEnum):
    """What kind of file a table was read from."""

    TEXT = "text"
    SPREADSHEET = "spreadsheet"
    PARQUET = "parquet"
    RECORDS = "records"
    PACKAGE = "package"


class Ragged(StrEnum):
    """What is done with rows that hold more or fewer cells than there are columns."""

    REFUSE = "refuse"
    FILL = "fill"
    SKIP = "skip"


@dataclass(frozen=True, slots=True)
class ReadAs:
    """How a file is read; every part can be chosen otherwise."""

    separator: str = ","
    decimal: Decimal = "."
    names: bool = True
    """Whether names stand in the first row of the table."""
    above: Annotated[int, Meta(ge=0)] = 0
    """Lines above the table that do not belong to it: a title, comments."""
    encoding: str = "utf-8"
    quote: Literal['"', "'", ""] = '"'
    ragged: Ragged = Ragged.REFUSE
    missing: tuple[str, ...] = MISSING_WORDS
    format: Format = Format.TEXT
    sheet: str = ""
    """Name of the sheet of a spreadsheet, or of the resource of a package."""


@dataclass(frozen=True, slots=True)
class Found:
    """What the reading came upon that somebody should know of."""

    missing: tuple[tuple[str, int], ...] = ()
    """Words that counted as missing, and in how many cells."""
    ragged: tuple[int, ...] = ()
    """The first rows that were filled or skipped, counted from 1 as in the file."""
    n_ragged: int = 0
    doubtful: str = ""
    """A number that could be meant otherwise, as in “1.234”, where nothing in the file decides."""
    doubtful_columns: tuple[str, ...] = ()
    empty_columns: int = 0
    """Columns without a name and without a value, left out."""
    sheets: tuple[str, ...] = ()
    """The sheets of a spreadsheet, or the resources of a package."""


@dataclass(frozen=True, slots=True)
class Source:
    """The file a table was read from. The path is empty for a table that came from nowhere."""

    path: str = ""
    checksum: str = ""
    """SHA-256 of the file's bytes, in hexadecimal."""
    read_as: ReadAs = ReadAs()
    description: str = ""
    """Name of the description file that stood beside the table."""
    found: Found = Found()
