"""Journals of windows that were not left in the ordinary way: what was there, and taking it up again."""

from __future__ import annotations

import fcntl
import logging
import os
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from datetime import datetime
from pathlib import Path
from typing import Any

from yellow_slope.core.errors import FileError, YellowSlopeError
from yellow_slope.core.study.gone import Gone, What
from yellow_slope.core.study.history import Edited, History, Opened, Redone, Saved, Undone
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import counted, listed_some
from yellow_slope.files.journal.keeping import MOST_BYTES
from yellow_slope.files.journal.lines import Line, path_of, unpacked_lines
from yellow_slope.files.journal.places import UNFINISHED, journals
from yellow_slope.files.safely.atomically import Stamp, stamp_of
from yellow_slope.files.safely.jsontext import json_text
from yellow_slope.files.safely.regular import read_bytes
from yellow_slope.files.study.studydocument import read_document, study_document
from yellow_slope.files.study.studyfile import on_table
from yellow_slope.files.study.typed import as_json
from yellow_slope.files.tables.tableschema import fitting, schema_of
from yellow_slope.values import dataclass, replace

log = logging.getLogger(__name__)
MOST_KEPT = 20
"""Further journals are not kept: the oldest go."""


@dataclass(frozen=True, slots=True, eq=False)
class Unclosed:
    """What a window left that was not closed in the ordinary way."""

    file: Path
    when: datetime
    """Of the last thing that was done."""
    history: History[int]
    lines: dict[int, Line]
    columns: dict[int, dict[str, Any]]

    @property
    def last(self) -> dict[str, Any]:
        """The study's own part, as it was at the end."""
        found = self.lines[self.history.study or 0].study
        return found if found is not None else {}

    @property
    def name(self) -> str:
        """The study's name."""
        return str(self.last.get("name", ""))

    @property
    def table(self) -> str:
        """The name of the table file, as the study says it."""
        return str((self.last.get("source") or {}).get("path", ""))

    def is_of(self, path: Path) -> bool:
        """Whether it is work on what stands in that file."""
        here = os.path.realpath(path)
        return any(p is not None and os.path.realpath(p) == here for p in (self.history.path, self.history.source))

    @property
    def sentence(self) -> str:
        """What would be lost: “3 edits up to 28 November, 14:02: …”."""
        edits = self.history.unsaved()
        named = listed_some([f"“{what}”" for what in dict.fromkeys(reversed(edits))], 3)
        when = f"{counted(len(edits), 'edit')} up to {self.when.astimezone():%Y-%m-%d %H:%M}: {named}"
        file = self.history.path or self.history.source
        return f"{when}; on {file.name}" if file is not None else when


@dataclass(frozen=True, slots=True, eq=False)
class TakenUp:
    """A study as it was, with its past."""

    history: History[Study]
    remark: str
    """What is not as it was; empty where all is."""
    stamp: Stamp | None = None
    """How its study file stands on the disk, where that is still what was saved."""


def unclosed_work(folder: Path | None = None) -> list[Unclosed]:
    """Work that would be lost, the newest first. Journals of which nothing is left to be offered are removed."""
    found: list[Unclosed] = []
    followed: set[str] = set()
    for file in journals(folder, (UNFINISHED,)):
        with _held(file) as is_left:
            if is_left:
                file.unlink(missing_ok=True)
    for file in journals(folder):
        with _held(file) as is_left:
            if not is_left:
                continue
            content = _content(file)
            if content is None:
                continue
            read = _read(file, content)
            first = next(unpacked_lines(content), None)
            followed |= set(first.follows.split()) if first is not None else set()
            if read is not None and read.history.unsaved():
                found.append(read)
            elif first is not None or _is_old(file):
                file.unlink(missing_ok=True)
    found = sorted((u for u in found if u.file.name not in followed), key=lambda u: u.when, reverse=True)
    for work in found[MOST_KEPT:]:
        throw_away(work)
    return found[:MOST_KEPT]


def open_elsewhere(path: Path, own: Path | None, folder: Path | None = None) -> datetime | None:
    """Since when another window has this study file open; None: no window that is seen from here has."""
    for file in journals(folder):
        if own is not None and file.name == own.name:
            continue
        with _held(file) as is_left:
            if is_left:
                continue
        content = _content(file)
        read = _read(file, content) if content is not None else None
        if read is not None and read.history.path is not None and read.is_of(path):
            return min(line.when for line in read.lines.values())
    return None


def throw_away(work: Unclosed) -> None:
    """Remove a journal that nobody wants."""
    with suppress(OSError):
        work.file.unlink(missing_ok=True)


def taken_up(
    work: Unclosed, table: Path | None = None, progress: Callable[[float], None] = lambda share: None
) -> TakenUp:
    """The study as it was. The journal holds no table: that is read from the study file or the table file, or from
    `table`. FileError where none can be read."""
    current = work.history.study
    assert current is not None
    if not os.path.exists(work.file):
        raise FileError(f"“{work.name}” was recovered or discarded in another window.")
    wanted = _identity(work.last)
    opened, tried = None, []
    for path in [table] if table is not None else _candidates(work):
        try:
            study = _opened(path, work, progress)
        except YellowSlopeError as error:
            tried.append(str(error))
            continue
        if opened is None or _read_from(study) == wanted:
            opened = study
        if _read_from(opened) == wanted:
            break
    if opened is None:
        why = f": {tried[0]}" if tried else "."
        raise FileError(f"The table of “{work.name}” was not found{why} Say where it is now.")
    is_same = _read_from(opened) == wanted
    made: dict[int, Study] = {}

    def study_of(number: int) -> Study:
        if number not in made:
            made[number] = _on_table(work, number, opened)
        return made[number]

    now = study_of(current)
    history: History[Study] = History(now, path=work.history.path, source=work.history.source)
    if is_same:
        history.past = _as_far(work, work.history.past, wanted, study_of)
        history.future = _as_far(work, work.history.future, wanted, study_of)
        history.saved = made.get(work.history.saved) if work.history.saved is not None else None
        return TakenUp(history, "", _stamp_as_saved(work))
    return TakenUp(history, f"The table has changed: the study now uses {opened.source.path} as it is.")


def _stamp_as_saved(work: Unclosed) -> Stamp | None:
    """How the study file stands on the disk; None where it is none, or no longer what was saved."""
    from yellow_slope.files.opening import open_anything

    path, saved = work.history.path, work.lines.get(work.history.saved or 0)
    if path is None or saved is None:
        return None
    stamp = stamp_of(path)
    try:
        there = open_anything(path)
        said = json_text(as_json(read_document(saved.study or {}, "the journal")))
    except YellowSlopeError:
        return None
    is_same = said == json_text(study_document(there)) and schema_of(there) == work.columns[saved.number]
    return stamp if is_same else None


def _as_far(
    work: Unclosed, line: list[tuple[str, int]], wanted: object, study_of: Callable[[int], Study]
) -> list[tuple[str, Study]]:
    """The edits as far back as they are of the same table and can be read."""
    out: list[tuple[str, Study]] = []
    for what, number in reversed(line):
        if _identity(work.lines[number].study or {}) != wanted:
            break
        try:
            out.append((what, study_of(number)))
        except YellowSlopeError:
            log.info("an earlier state that cannot be read", exc_info=True)
            break
    return out[::-1]


def _on_table(work: Unclosed, number: int, opened: Study) -> Study:
    line, columns = work.lines[number], work.columns[number]
    if _identity(line.study or {}) == _read_from(opened):
        return on_table(line.study or {}, columns, opened.table, "the journal")
    study = on_table(line.study or {}, fitting(opened.table, columns), opened.table, "the journal")
    study = replace(study, source=opened.source)
    if line.rows == opened.table.n_rows:
        return study
    aside = [Gone(What.CASES, (sample.name,)) for sample in study.samples if sample.aside]
    samples = tuple(replace(sample, aside=()) for sample in study.samples)
    return replace(study, samples=samples, went=(*study.went, *aside))


def _identity(document: dict[str, Any]) -> tuple[object, object]:
    """What a study says of the file that its table was read from, and how."""
    source = document.get("source") or {}
    return source.get("checksum"), json_text(source.get("read_as"))


def _read_from(study: Study) -> tuple[object, object]:
    """That of a study."""
    return _identity(study_document(study))


def _candidates(work: Unclosed) -> list[Path]:
    """Where the table may be: the file it was read from, the study file, a table file beside that."""
    source, path, name = work.history.source, work.history.path, Path(work.table).name
    beside = [p.with_name(name) for p in (path, source) if p is not None and name]
    return list(dict.fromkeys(p for p in (source, path, *beside) if p is not None))


def _opened(path: Path, work: Unclosed, progress: Callable[[float], None]) -> Study:
    from yellow_slope.files.opening import open_anything

    study = open_anything(path, progress=progress)
    said = replace(study, name=work.name)
    wanted = _identity(work.last)
    if _read_from(study) == wanted or path.suffix == ".yslope":
        return study
    # The same file, read in another way: the document says how.
    current = work.history.study
    assert current is not None
    read_as = on_table(work.last, work.columns[current], said.table, "the journal").source.read_as
    return open_anything(path, read_as, progress)


# ---- reading


@contextmanager
def _held(file: Path) -> Iterator[bool]:
    """Whether nobody keeps this journal any longer; it is held meanwhile."""
    try:
        handle = os.open(file, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK)
    except OSError:
        yield False
        return
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            yield False
            return
        yield True
    finally:
        os.close(handle)


def _is_old(file: Path) -> bool:
    """Whether a file that holds nothing that this version can read has lain for three months."""
    try:
        return time.time() - file.stat().st_mtime > 90 * 86400
    except OSError:
        return False


def _content(file: Path) -> bytes | None:
    try:
        return read_bytes(file, 8 * MOST_BYTES)
    except FileError:
        return None


def _read(file: Path, content: bytes) -> Unclosed | None:
    """What a journal holds; None where it holds no study."""
    history = History[int]()
    lines: dict[int, Line] = {}
    columns: dict[int, dict[str, Any]] = {}
    schema: dict[str, Any] = {}
    when: datetime | None = None
    for line in unpacked_lines(content):
        if line.study is not None:
            schema = line.columns if line.columns is not None else schema
            lines[line.number], columns[line.number] = line, schema
        elif line.step in ("opened", "edited"):
            break
        match line.step:
            case "opened":
                history.take(Opened(line.number, path_of(line.path), path_of(line.source), line.is_saved))
            case "edited":
                history.take(Edited(line.what, line.number, line.quiet))
            case "undone":
                history.take(Undone())
            case "redone":
                history.take(Redone())
            case "saved":
                path = path_of(line.path)
                if path is not None:
                    history.take(Saved(line.number, path))
            case "begun":
                pass
        when = line.when
    if history.study is None or when is None:
        return None
    return Unclosed(file, when, history, lines, columns)
