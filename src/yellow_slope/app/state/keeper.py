"""Keeps the journal of the window's study: what happens is on the disk within a second, off the interface thread."""

from __future__ import annotations

import logging
from collections import deque
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.core.study.history import Step
from yellow_slope.core.study.study import Study
from yellow_slope.files.safely.regular import reason_of

if TYPE_CHECKING:
    from yellow_slope.files.journal.keeping import Journal

log = logging.getLogger(__name__)
PAUSE = 300
"""Milliseconds from an edit until it is written, so that what follows at once is written with it."""


class Keeper(QObject):
    """Told of every step by the session."""

    def __init__(self, session: StudySession, worker: Worker, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session, self._worker = session, worker
        self.journal: Journal | None = None
        """From the first step on."""
        self._waiting: deque[tuple[datetime, Step[Study]]] = deque()
        self._replaced: list[Path] = []
        self._said = ""
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(PAUSE)
        self._timer.timeout.connect(self.flush)
        session.record = self._take

    def _take(self, step: Step[Study]) -> None:
        self._waiting.append((datetime.now().astimezone(), step))
        if not self._timer.isActive():
            self._timer.start()

    @property
    def file(self) -> Path | None:
        """The journal of this window, once there is one."""
        return self.journal.file if self.journal is not None else None

    def replace(self, file: Path) -> None:
        """Once what waits is written, that journal is no longer needed."""
        self._replaced.append(file)

    def flush(self) -> None:
        """Write what waits."""
        self._worker.newest(Lane.JOURNAL, self._write, self._written)

    def _write(self, job: Job) -> str:
        from yellow_slope.files.journal.keeping import Journal

        self.journal = self.journal or Journal()
        steps: list[tuple[datetime, Step[Study]]] = []
        while self._waiting:
            steps.append(self._waiting.popleft())
        try:
            self.journal.take(steps)
        except OSError as error:
            log.warning("the journal cannot be written: %s", error.strerror)
            return reason_of(error)
        while self._replaced:
            self._replaced.pop().unlink(missing_ok=True)
        return ""

    def _written(self, trouble: str) -> None:
        if trouble and trouble != self._said:
            self._session.say(f"Your edits are not protected against a crash: {trouble}. Save often.")
        self._said = trouble

    def end(self) -> None:
        """The window is left in the ordinary way, and its worker has ended."""
        self._timer.stop()
        if self.journal is not None:
            self.journal.end()
