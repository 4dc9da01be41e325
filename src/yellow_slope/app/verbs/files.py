"""What can be done with files, the clipboard and the study as a whole; every refusal becomes a sentence."""

from __future__ import annotations

import logging
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.state.recentfiles import remember
from yellow_slope.app.state.requests import Request
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import WRONG, Job, Worker, given_up
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.verbs.targets import Targets
from yellow_slope.core.data.missingcodes import suspects
from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.core.study.edits.retabling import Reread, with_table
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.sources import change_sentence

if TYPE_CHECKING:
    from yellow_slope.core.data.source import ReadAs
    from yellow_slope.files.text.delimited import DoubtfulError

log = logging.getLogger(__name__)
KINDS = "Tables and studies (*.csv *.tsv *.txt *.dat *.xlsx *.ods *.parquet *.json *.zip *.yslope);;All files (*)"


class Files:
    """Opening and saving, off the interface thread."""

    def __init__(self, session: StudySession, worker: Worker, targets: Targets) -> None:
        self.session, self.worker, self.targets, self.dialogs = session, worker, targets, targets.dialogs
        self.trouble: Callable[[str], None] = session.say
        """Says what is wrong with a file where the user looks; an empty text takes it back."""

    def has_study(self) -> bool:
        """Whether there is a study."""
        return self.session.study is not None

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

        def opened(study: Study) -> None:
            if self.may_leave():
                self.session.open(study, path if path.suffix == ".yslope" else None, path)
                remember(path)

        self._open(path, opened, read_as)

    @action("paste a table", "Open the table that was copied in another program", "Ctrl+Shift+V", menu=Menu.STUDY)
    def paste(self) -> None:
        """Open the text on the clipboard as a table."""
        clipboard = QApplication.clipboard()
        text = clipboard.text() if clipboard is not None else ""
        if not text.strip():
            self.trouble("The clipboard holds no text.")
            return

        def work(job: Job) -> Study:
            from yellow_slope.files.opening import open_text

            return open_text(text)

        def opened(study: Study) -> None:
            if self.may_leave():
                self.session.open(study)

        self.trouble("")
        self.worker.in_order("reading the clipboard", work, opened, self.trouble)

    @action(
        "read the table again",
        "Read the table file again after it changed; the model stays",
        "F5",
        menu=Menu.STUDY,
        available="has_file",
    )
    def read_newly(self) -> None:
        """Read the table file again as it was read."""
        study = self.session.study
        if study is not None:
            self.read_again(study.source.read_as)

    def has_file(self) -> bool:
        """Whether the study's table file is at hand."""
        return self.file() is not None

    def file(self) -> Path | None:
        """The table file: where it was read from, else of that name beside the study file."""
        session = self.session
        if session.source is not None and session.source.suffix != ".yslope":
            return session.source
        name = Path(session.study.source.path).name if session.study is not None else ""
        if session.path is None or not name:
            return None
        beside = session.path.with_name(name)
        return beside if beside.is_file() else None

    def read_again(self, read_as: ReadAs) -> None:
        """Read the table file again in this way. The model stays; what changed is said; one step takes it back."""
        path = self.file()
        if path is None:
            self.session.say("The table file is not at hand: open it anew.")
            return

        self._read(path, read_as, self._take_table, self.session.say)

    def _take_table(self, other: Study) -> None:
        """Put the study on the table that was read. What was edited meanwhile is kept: then it is put together anew."""
        study = self.session.study
        if study is None:
            return

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

        def opened(study: Study) -> None:
            if self.may_leave():
                self.session.open(study)

        self._open(STUDY, opened)

    def _open(self, path: Path, opened: Callable[[Study], None], read_as: ReadAs | None = None) -> None:
        self.trouble("")
        self._read(path, read_as, opened, self.trouble)

    def _read(
        self, path: Path, read_as: ReadAs | None, then: Callable[[Study], None], trouble: Callable[[str], None]
    ) -> None:
        """Read a file on the worker; what is doubtful is asked about."""

        def work(job: Job) -> Study | DoubtfulError:
            from yellow_slope.files.opening import open_anything
            from yellow_slope.files.text.delimited import DoubtfulError

            try:
                found = open_anything(path, read_as, job.told)
                look_through(found)
                return found
            except DoubtfulError as error:
                return error

        def read(found: Study | DoubtfulError) -> None:
            if isinstance(found, Study):
                then(found)
                return
            trouble(str(found))
            answer = self.dialogs.choose(found.title, str(found), *found.ways, "Do not open it")
            if answer < len(found.ways):
                trouble("")
                self._read(path, list(found.ways.values())[answer], then, trouble)

        self.worker.in_order(f"reading {path.name}", work, read, trouble)

    def may_leave(self) -> bool:
        """Ask before a changed study is left."""
        study = self.session.study
        if study is None or self.session.is_saved:
            return True
        said = f"“{study.name}” has changes that are not saved."
        path = self.session.path
        while True:
            answer = self.dialogs.choose("Leave the study?", said, "Save", "Leave without saving", "Stay")
            if answer != 0:
                return answer == 1
            path = path or self._ask_path()
            wrong = self._save_now(path) if path is not None else "It was not said where to save it."
            if not wrong:
                return True
            self.session.say(wrong)
            said, path = f"“{study.name}” is not saved. {wrong} Save it elsewhere?", None

    # ---- saving

    @action("save", "Save the study where it stands", "Ctrl+S", menu=Menu.STUDY, available="has_study")
    def save(self) -> None:
        """Save where the study stands, else ask where."""
        self._save_to(self.session.path or self._ask_path())

    @action("save as", "Save the study in another file", "Ctrl+Shift+S", menu=Menu.STUDY, available="has_study")
    def save_as(self) -> None:
        """Ask where to save."""
        self._save_to(self._ask_path())

    def _ask_path(self) -> Path | None:
        study = self.session.study
        if study is None:
            return None
        return self.targets.asked("Save study", ".yslope", "Studies (*.yslope)")

    def _save_to(self, path: Path | None) -> None:
        study = self.session.study
        if study is None or path is None:
            return

        def work(job: Job) -> None:
            from yellow_slope.files.safely.atomically import write_whole
            from yellow_slope.files.study.studyfile import packed

            content = packed(study)
            job.go_on()
            write_whole(path, content)

        def saved(_: object) -> None:
            self.session.mark_saved(path, study)
            self.session.say(f"Saved: {path}")
            remember(path)

        def not_saved(why: str) -> None:
            self.session.say(why)
            if why == given_up(f"saving {path.name}"):
                return
            if self.dialogs.choose("The study is not saved", why, "Save elsewhere", "Leave it unsaved") == 0:
                self._save_to(self._ask_path())

        self.worker.in_order(f"saving {path.name}", work, saved, not_saved)

    def _save_now(self, path: Path) -> str:
        """Save before the study is left; why that failed, whatever it was, else nothing."""
        from yellow_slope.files.study.studyfile import write_study

        assert self.session.study is not None
        try:
            write_study(self.session.study, path)
        except YellowSlopeError as error:
            return str(error)
        except Exception:
            log.exception("the study could not be saved")
            return WRONG
        self.session.mark_saved(path, self.session.study)
        return ""

    @action("rename the study", "Give the study a name", menu=Menu.STUDY, available="has_study")
    def rename(self) -> None:
        """Ask for the study's name."""
        study = self.session.study
        if study is None:
            return
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

    @action("undo", "Take back the last edit", "Ctrl+Z", menu=Menu.STUDY, available="can_undo")
    def undo(self) -> None:
        """Take back the last edit."""
        self.session.undo()

    @action("redo", "Do again what was undone", "Ctrl+Shift+Z", "Ctrl+Y", menu=Menu.STUDY, available="can_redo")
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
