"""Opening files, the clipboard and the study as a whole; every refusal becomes a sentence."""

from __future__ import annotations

import math
import os
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.recentfiles import remember
from yellow_slope.app.state.requests import Request
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.verbs.saving import Saving
from yellow_slope.app.verbs.unclosed import UnclosedWork
from yellow_slope.core.data.missingcodes import suspects
from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.core.study.edits.retabling import Reread, with_table
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.sources import change_sentence
from yellow_slope.files.safely.atomically import Stamp, stamp_of
from yellow_slope.values import dataclass

if TYPE_CHECKING:
    from datetime import datetime

    from yellow_slope.core.data.source import ReadAs
    from yellow_slope.files.journal.unclosed import Unclosed
    from yellow_slope.files.text.delimited import DoubtfulError

KINDS = "Tables and studies (*.csv *.tsv *.txt *.dat *.xlsx *.ods *.parquet *.json *.zip *.yslope);;All files (*)"


@dataclass(frozen=True, slots=True)
class Read:
    """A file as it was read, and what else is known of it."""

    study: Study
    stamp: Stamp | None
    unclosed: Unclosed | None
    """Work on it that was not saved."""
    elsewhere: datetime | None
    """Since when another window has it open."""
    letters: str
    """What is said where no font has a letter of its names."""


LOOKED_FOR = 2.0
"""Seconds for which it is known whether a table lies beside a study."""


class Files:
    """Opening, off the interface thread."""

    def __init__(self, session: StudySession, worker: Worker, saving: Saving, unclosed: UnclosedWork) -> None:
        self.session, self.worker, self.saving, self.dialogs = session, worker, saving, saving.dialogs
        self.unclosed = unclosed
        self._beside: Path | None = None
        self._beside_asked: Path | None = None
        self._beside_when = -math.inf
        self.trouble: Callable[[str], None] = session.say
        """Says what is wrong with a file where the user looks; an empty text takes it back."""

    def can_undo(self) -> bool:
        """Whether there is something to undo."""
        return bool(self.session.undo_name)

    def can_redo(self) -> bool:
        """Whether there is something to redo."""
        return bool(self.session.redo_name)

    # ---- opening

    @action("open a file", "Open a table or a study", "Ctrl+O", menu=Menu.STUDY)
    def browse(self) -> None:
        """Choose a file in the system's dialog."""
        path = self.dialogs.open_path("Open", KINDS)
        if path is not None:
            self.open_path(str(path))

    def open_path(self, text: str, read_as: ReadAs | None = None) -> None:
        """Open a table or a study; what is wrong with it is said where the user looks."""
        if not text:
            return
        from yellow_slope.files.safely.paths import expanded

        try:
            path = expanded(Path(text))
        except YellowSlopeError as error:
            self.trouble(str(error))
            return

        def opened(read: Read) -> None:
            if not self.saving.may_leave():
                return
            if read.unclosed is not None and self.unclosed.is_wanted(read.unclosed):
                self.unclosed.take_up(read.unclosed)
                return
            self.session.open(read.study, path if path.suffix == ".yslope" else None, path, read.stamp)
            self.worker.newest(Lane.RECENT, lambda job: remember(path), lambda _: None)
            said = [self.session.message, read.letters]
            if read.elsewhere is not None:
                said.append(
                    f"“{path.name}” is open in another window too, since {read.elsewhere.astimezone():%H:%M}: "
                    "whoever saves later is asked first."
                )
            self.session.say(" ".join(part for part in said if part))

        self._open(path, opened, read_as)

    @action("paste a table", "Open the table that was copied in another program", "Ctrl+Shift+V", menu=Menu.STUDY)
    def paste(self) -> None:
        """Open the text on the clipboard as a table."""
        clipboard = QApplication.clipboard()
        text = clipboard.text() if clipboard is not None else ""
        if not text.strip():
            self.trouble("The clipboard contains no text.")
            return

        def work(job: Job) -> Study:
            from yellow_slope.files.opening import open_text

            return open_text(text)

        def opened(study: Study) -> None:
            if self.saving.may_leave():
                self.session.open(study)

        self.trouble("")
        self.worker.in_order("reading the clipboard", work, opened, self.trouble)

    @action(
        "read the table again",
        "Read the table file again after it changed; the model is kept",
        "F5",
        menu=Menu.STUDY,
        available="has_file",
    )
    def read_newly(self) -> None:
        """Read the table file again as it was read."""
        study = self.session.study
        if self.session.is_open:
            self.read_again(study.source.read_as)

    def has_file(self) -> bool:
        """Whether the study's table file is at hand."""
        return self.file() is not None

    def file(self) -> Path | None:
        """The table file: where it was read from, else of that name beside the study file."""
        session = self.session
        if session.source is not None and session.source.suffix != ".yslope":
            return session.source
        name = Path(session.study.source.path).name
        if session.path is None or not name:
            return None
        self._look_beside(session.path.with_name(name))
        return self._beside

    def _look_beside(self, path: Path) -> None:
        """Look whether there is such a file, off the interface thread: a share may be slow. Again after a while, for it
        may come or go."""
        if path != self._beside_asked:
            self._beside_asked, self._beside, self._beside_when = path, None, -math.inf
        if time.monotonic() - self._beside_when < LOOKED_FOR:
            return
        self._beside_when = time.monotonic()

        def found(there: bool) -> None:
            now = path if there else None
            if path == self._beside_asked and now != self._beside:
                self._beside = now
                self.session.look_again(Topic.TABLE_FILE)

        self.worker.newest(Lane.BESIDE_STUDY, lambda job: os.path.isfile(path), found)

    def read_again(self, read_as: ReadAs) -> None:
        """Read the table file again in this way. The model stays; what changed is said; one step takes it back."""
        path = self.file()
        if path is None:
            self.session.say("The table file is not available. Open it again.")
            return

        self._read(path, read_as, lambda read: self._take_table(read.study), self.session.say)

    def _take_table(self, other: Study) -> None:
        """Put the study on the table that was read. What was edited meanwhile is kept: then it is put together anew."""
        study = self.session.study

        def put(found: tuple[Study, Reread]) -> None:
            if self.session.study is not study:
                self._take_table(other)
                return
            new, change = found
            self.session.edit("read the table again", lambda _: new, say=change_sentence(new, change))

        def work(job: Job) -> tuple[Study, Reread]:
            found = with_table(study, other.table, other.source)
            look_through(found[0])
            return found

        self.worker.in_order("comparing the tables", work, put, self.session.say)

    @action("open the demo", "Open the made-up learners with a finished model", menu=Menu.STUDY)
    def open_demo(self) -> None:
        """Open the demo study as a new study."""
        from yellow_slope.demo.learners import STUDY

        def opened(read: Read) -> None:
            if self.saving.may_leave():
                self.session.open(read.study, source=STUDY)

        self._open(STUDY, opened)

    def _open(self, path: Path, opened: Callable[[Read], None], read_as: ReadAs | None = None) -> None:
        self.trouble("")
        self._read(path, read_as, opened, self.trouble)

    def _read(
        self, path: Path, read_as: ReadAs | None, then: Callable[[Read], None], trouble: Callable[[str], None]
    ) -> None:
        """Read a file on the worker; what is doubtful is asked about."""

        def work(job: Job) -> Read | DoubtfulError:
            from yellow_slope.files.opening import open_anything
            from yellow_slope.files.text.delimited import DoubtfulError
            from yellow_slope.report.fontchain import remark_on_names

            stamp = stamp_of(path)
            try:
                found = open_anything(path, read_as, job.told)
            except DoubtfulError as error:
                return error
            look_through(found)
            return Read(found, stamp, *self.unclosed.about(path), remark_on_names(found))

        def read(found: Read | DoubtfulError) -> None:
            if isinstance(found, Read):
                then(found)
                return
            trouble(str(found))
            answer = self.dialogs.choose(found.title, str(found), *found.ways, "Do not open it")
            if answer < len(found.ways):
                trouble("")
                self._read(path, list(found.ways.values())[answer], then, trouble)

        self.worker.in_order(f"reading {path.name}", work, read, trouble)

    # ---- the study as a whole

    @action("rename the study", "Give the study a name", menu=Menu.STUDY, available="session.is_open")
    def rename(self) -> None:
        """Ask for the study's name."""
        study = self.session.study
        name = self.dialogs.text("Name of the study", "Name:", study.name)
        if name is not None:
            self.session.edit("rename the study", lambda s: rename_study(s, name))

    # ---- the clipboard

    def copy(self, text: str) -> None:
        """Put a text on the clipboard."""
        clipboard = QApplication.clipboard()
        if clipboard is not None and text:
            clipboard.setText(text)
            self.session.say("Copied.")

    def copy_picture(self, png: bytes) -> None:
        """Put a picture on the clipboard."""
        clipboard = QApplication.clipboard()
        if clipboard is not None and png:
            clipboard.setImage(QImage.fromData(png))
            self.session.say("Copied.")

    # ---- the study as a whole

    @action("undo", "Undo the last edit", "Ctrl+Z", menu=Menu.STUDY, available="can_undo")
    def undo(self) -> None:
        """Take back the last edit."""
        self.session.undo()

    @action("redo", "Redo the last undone edit", "Ctrl+Shift+Z", "Ctrl+Y", menu=Menu.STUDY, available="can_redo")
    def redo(self) -> None:
        """Do again what was undone."""
        self.session.redo()

    @action("quit", "Close the window", "Ctrl+Q", menu=Menu.STUDY)
    def quit(self) -> None:
        """Close the window."""
        self.session.ask(Request.QUIT)


def look_through(study: Study) -> None:
    """Find what the table's cells are marked by while nobody waits; it is remembered with the columns."""
    for variable in study.variables:
        column = study.table.column(variable.name) if variable.name in study.table else None
        if isinstance(column, NumberColumn) and variable.kind is Kind.NUMBER:
            suspects(column, variable.missing)
