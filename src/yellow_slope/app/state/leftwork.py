"""Looking round for what earlier windows left: recent files, and work that was not closed in the ordinary way."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.recentfiles import recent_files
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.files.journal.places import SUFFIX, UNFINISHED, journals

if TYPE_CHECKING:
    from yellow_slope.files.journal.unclosed import Unclosed


def look_round(worker: Worker, found: Callable[[list[Path], list[Unclosed]], None]) -> None:
    """Tell `found` of recent files and of work that is to be offered, off the interface thread: a share may be
    slow."""

    def work(job: Job) -> tuple[list[Path], list[Unclosed]]:
        recent = recent_files()
        if not journals(suffixes=(SUFFIX, UNFINISHED)):
            return recent, []
        from yellow_slope.files.journal.unclosed import unclosed_work

        return recent, unclosed_work()

    worker.newest(Lane.LOOKING_ROUND, work, lambda there: found(*there))
