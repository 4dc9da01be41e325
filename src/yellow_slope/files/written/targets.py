"""Where something is written: names typed on a line, and what must not be written onto."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable
from pathlib import Path

from yellow_slope.core.errors import FileError
from yellow_slope.core.study.study import Study
from yellow_slope.files.safely.paths import expanded
from yellow_slope.files.tables.codebook import code_book_beside
from yellow_slope.files.tables.tableschema import schema_beside

BETWEEN = re.compile(r"\s*[,;]\s*|(?<=\S)(?:(?<=\.[a-z]{3})|(?<=\.[a-z]{4})|(?<=\.parquet))\s+", re.IGNORECASE)
"""Names are parted by commas, and by blanks after an ending, so that a name may hold blanks."""


def names_on(line: str) -> list[str]:
    """The file names on a line: “my slopes.png, my slopes.svg” and “my slopes.png my slopes.svg” are two."""
    return [name for part in BETWEEN.split(line) if (name := part.strip())]


def placed(name: str, folder: Path) -> Path:
    """A typed name as a whole path; without a folder of its own it lies in this one. FileError for an unknown user."""
    return Path(os.path.normpath(folder / expanded(Path(name))))


def is_same_file(one: Path, other: Path) -> bool:
    """Whether both are one file, by whatever names."""
    try:
        return os.path.samefile(one, other)
    except OSError:
        return os.path.realpath(one) == os.path.realpath(other)
    except ValueError:  # a name that no file can have
        return False


def inputs_of(study: Study, file: Path) -> list[Path]:
    """What a study was made from: the file it was opened from, its table beside that, and what describes the table."""
    name = Path(study.source.path).name
    table = file.with_name(name) if name else file
    return [file, table, *(found for found in (schema_beside(table), code_book_beside(table)) if found is not None)]


def refuse_inputs(targets: Iterable[Path], inputs: Iterable[Path]) -> None:
    """FileError where something would be written onto what it is made from, or twice onto one file."""
    given, taken = list(inputs), list[Path]()
    for target in targets:
        if any(is_same_file(target, path) for path in given):
            raise FileError(f"{target} is what this is made from: it is not written over. Name another file.")
        if any(is_same_file(target, path) for path in taken):
            raise FileError(f"{target} is named twice: one would be written over the other.")
        taken.append(target)
