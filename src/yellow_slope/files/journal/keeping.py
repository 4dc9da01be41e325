"""Keeping a journal: one file for each window, locked as long as the window lives, each line on the disk before it
counts."""

from __future__ import annotations

import fcntl
import os
import secrets
from collections.abc import Iterable
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from typing import Any

from yellow_slope.core.study.history import Edited, History, Opened, Redone, Saved, Step, Undone
from yellow_slope.core.study.study import Study
from yellow_slope.files.journal.lines import VERSION, Line, packed_line, path_text
from yellow_slope.files.journal.places import SUFFIX, UNFINISHED, journal_folder
from yellow_slope.files.safely.atomically import write_all
from yellow_slope.files.study.studydocument import study_document
from yellow_slope.files.tables.tableschema import schema_of
from yellow_slope.values import replace

MOST_BYTES = 8 << 20
"""A journal that grows beyond this is written anew with the newer half of its edits."""
MOST_EDITS = 1000


class Journal:
    """The journal of one window. It is used by one thread at a time; OSError where it cannot be written."""

    def __init__(self, folder: Path | None = None) -> None:
        self._given = folder
        self.history = History[Study]()
        self.file: Path | None = None
        self._handle = -1
        self._size = 0
        self._older: list[Path] = []
        """Journals that this one takes the place of, as long as they cannot be removed."""
        self._is_behind = False
        """Whether something could not be written: then all is written anew."""
        self._numbers: dict[Study, int] = {}
        self._next = 0
        self._columns: tuple[object, object, dict[str, Any]] | None = None

    def take(self, steps: Iterable[tuple[datetime, Step[Study]]]) -> None:
        """Write what happened; on the disk when this returns. What could not be written is written the next time."""
        failed: OSError | None = None
        for when, step in steps:
            self.history.take(step)
            try:
                if failed is not None or (self._is_behind and not isinstance(step, Opened)):
                    continue
                self._write_step(when, step)
            except OSError as error:
                failed, self._is_behind = error, True
        if failed is not None:
            raise failed
        if self._is_behind:
            self._anew(datetime.now().astimezone())
        if self._handle >= 0:
            os.fsync(self._handle)

    def _write_step(self, when: datetime, step: Step[Study]) -> None:
        if isinstance(step, Opened):
            self.end()
            self._is_behind = False
            self._begin(when)
        self._write(packed_line(self._line(when, step)))
        if isinstance(step, Opened):
            self._publish()
        if self._size > MOST_BYTES or len(self.history.past) > MOST_EDITS:
            del self.history.past[: (len(self.history.past) + 1) // 2]
            self._anew(when)

    def end(self) -> None:
        """The window was left in the ordinary way: nothing is kept of it."""
        if self._handle >= 0:
            with suppress(OSError):
                os.close(self._handle)
            self._handle = -1
        if self.file is not None:
            with suppress(OSError):
                self.file.unlink(missing_ok=True)
            self.file = None
        self._remove_older()

    # ---- lines

    def _line(self, when: datetime, step: Step[Study]) -> Line:
        match step:
            case Opened():
                return self._with_study(
                    Line(
                        step="opened",
                        when=when,
                        path=path_text(step.path),
                        source=path_text(step.source),
                        is_saved=step.is_saved,
                    ),
                    step.study,
                )
            case Edited():
                return self._with_study(Line(step="edited", when=when, what=step.what, quiet=step.quiet), step.study)
            case Undone():
                return Line(step="undone", when=when)
            case Redone():
                return Line(step="redone", when=when)
            case Saved():
                return Line(
                    step="saved", when=when, path=path_text(step.path), number=self._numbers.get(step.study, -1)
                )

    def _with_study(self, line: Line, study: Study) -> Line:
        """The line with its study; the columns where they are others than in the line before."""
        columns = None
        known = self._columns
        if known is None or known[0] is not study.variables or known[1] is not study.table:
            found = schema_of(study)
            columns = found if known is None or found != known[2] else None
            self._columns = (study.variables, study.table, found)
        self._next += 1
        self._numbers[study] = self._next
        return replace(line, number=self._next, study=study_document(study), columns=columns, rows=study.table.n_rows)

    # ---- the file

    def _begin(self, when: datetime, follows: str = "") -> None:
        """Begin another file, which has its name once it is locked and whole: see `_publish`."""
        folder = self._given or journal_folder()
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        new = folder / f"{when:%Y%m%d-%H%M%S}-{secrets.token_hex(4)}{UNFINISHED}"
        handle = os.open(new, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_APPEND, 0o600)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            new.unlink(missing_ok=True)
            raise
        self.file, self._handle, self._size = new, handle, 0
        self._numbers, self._columns, self._next = {}, None, 0
        self._write(packed_line(Line(step="begun", when=when, version=VERSION, follows=follows)))

    def _publish(self) -> None:
        """From now on the file is a journal."""
        assert self.file is not None
        os.fsync(self._handle)
        file = self.file.with_suffix(SUFFIX)
        os.rename(self.file, file)
        self.file = file

    def _write(self, content: bytes) -> None:
        if self._handle < 0:
            raise OSError("there is no journal to write to")
        begin = self._size
        try:
            write_all(self._handle, content)
        except OSError:
            with suppress(OSError):  # what was begun is no line, and would hide the lines after it
                os.ftruncate(self._handle, begin)
            raise
        self._size += len(content)

    def _anew(self, when: datetime) -> None:
        """Write all that is known to another file, then remove the one before."""
        old, handle = self.file, self._handle
        try:
            older = [*self._older, *([old] if old is not None else [])]
            self._begin(when, follows=" ".join(file.name for file in older))
            for step in self.history.steps():
                self._write(packed_line(self._line(when, step)))
            self._publish()
        except OSError:
            if self._handle != handle:
                self.end()
                self.file, self._handle = old, handle
            self._is_behind = True
            raise
        self._is_behind = False
        if handle >= 0:
            os.close(handle)
        self._older = older
        self._remove_older()

    def _remove_older(self) -> None:
        left: list[Path] = []
        for file in self._older:
            try:
                file.unlink(missing_ok=True)
            except OSError:
                left.append(file)
        self._older = left
