"""Work that was not closed in the ordinary way: offered, taken up with its past, or thrown away."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from yellow_slope.app.state.keeper import Keeper
from yellow_slope.app.state.leftwork import look_round
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.saving import Saving

if TYPE_CHECKING:
    from yellow_slope.files.journal.unclosed import TakenUp, Unclosed

TABLES = "Tables and studies (*.csv *.tsv *.txt *.dat *.xlsx *.ods *.parquet *.json *.zip *.yslope);;All files (*)"


class UnclosedWork:
    """What earlier windows left behind."""

    def __init__(self, session: StudySession, worker: Worker, saving: Saving, keeper: Keeper) -> None:
        self.session, self.worker, self.saving, self.keeper = session, worker, saving, keeper
        self.found: Callable[[list[Path], list[Unclosed]], None] = lambda recent, works: None
        """Told of recent files, and of the work that there is to be offered."""

    def look(self) -> None:
        """Look for recent files and for what was left."""
        look_round(self.worker, lambda recent, works: self.found(recent, works))

    def about(self, path: Path) -> tuple[Unclosed | None, datetime | None]:
        """Unsaved work on what stands in that file, and since when another window has it open. Not for the interface
        thread."""
        from yellow_slope.files.journal.unclosed import open_elsewhere, unclosed_work

        left = next((work for work in unclosed_work() if work.is_of(path)), None)
        return left, open_elsewhere(path, self.keeper.file)

    def is_wanted(self, work: Unclosed) -> bool:
        """Ask whether it is taken up instead of the file as it stands."""
        said = f"A window with “{work.name}” did not close normally. Not saved: {work.sentence}."
        answers = ("Recover it", "Discard it", "Open the saved file")
        answer = self.saving.dialogs.choose("Unsaved work", said, *answers)
        if answer == 1:
            self.throw_away(work)
        return answer == 0

    def ask_to_throw_away(self, work: Unclosed) -> None:
        """Keep it no longer, if that is meant."""
        said = f"The unsaved work on “{work.name}” will be lost: {work.sentence}."
        if self.saving.dialogs.choose("Discard it?", said, "Discard it", "Keep it") == 0:
            self.throw_away(work)

    def throw_away(self, work: Unclosed) -> None:
        """Keep it no longer."""
        from yellow_slope.files.journal.unclosed import throw_away

        throw_away(work)
        self.look()

    def take_up(self, work: Unclosed, table: Path | None = None) -> None:
        """The study as it was, with its past; the table is read again."""

        def reading(job: Job) -> TakenUp:
            from yellow_slope.files.journal.unclosed import taken_up

            return taken_up(work, table, job.told)

        def there(found: TakenUp) -> None:
            if self.saving.may_leave():
                self.session.take_up(found.history, found.remark, found.stamp)
                self.keeper.replace(work.file)

        def not_there(why: str) -> None:
            self.session.say(why)
            answers = ("Show where its table is", "Leave it for later")
            if self.saving.dialogs.choose("The work cannot be recovered", why, *answers) == 0:
                path = self.saving.dialogs.open_path(f"The table of “{work.name}”", TABLES)
                if path is not None:
                    self.take_up(work, path)

        self.worker.in_order(f"recovering {work.name}", reading, there, not_there)
