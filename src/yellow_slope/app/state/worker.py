"""The one worker: everything that takes longer than a few milliseconds is done here, off the interface thread.

A lane does its jobs one at a time. On most lanes only the newest job counts; file jobs are done in their order.
"""

from __future__ import annotations

import logging
import threading
import time
from collections import deque
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from yellow_slope.app.state.lanes import Lane
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.values import dataclass, field

log = logging.getLogger(__name__)
WRONG = "Something went wrong inside Yellow Slope; the study is as it was. “What happened” (Ctrl+K) says more."


class GivenUp(Exception):
    """The job was given up; nothing has been written."""


def given_up(what: str) -> str:
    """What is said of a file job that was given up."""
    return f"Canceled: {what}"


LOOKED_AGAIN = 0.05
"""Seconds after which a job that waits for the window asks whether it is still wanted."""


@dataclass(slots=True, eq=False)
class Job:
    """One piece of work. The work may ask `is_worthless` or call `go_on` where it can stop."""

    what: str
    work: Callable[[Job], Any]
    then: Callable[[Any], None]
    trouble: Callable[[str], None]
    lane: Lane = Lane.FILES
    piece: Callable[[Any], None] = lambda _: None
    """Takes a piece of the result, on the interface thread, while the rest is being made."""
    hand_over: Callable[[Job, Any], None] = lambda job, value: None
    share: float = 0.0
    """How much of it is done, 0 to 1; 0 where nobody knows."""
    hear: Callable[[Job, float], None] = lambda job, share: None
    """Is told how much of it is done, on the job's thread."""
    heard: Callable[[float], None] | None = None
    """Who is told, on the interface thread."""
    begun: float = field(default_factory=time.monotonic)
    stopped: threading.Event = field(default_factory=threading.Event)
    taken: threading.Event = field(default_factory=threading.Event)
    """Whether the piece that was handed over last has been taken, and the window has answered since."""

    def __post_init__(self) -> None:
        self.taken.set()

    def is_worthless(self) -> bool:
        """Whether nobody waits for this job any longer."""
        return self.stopped.is_set()

    def go_on(self) -> None:
        """Raise GivenUp if nobody waits for this job any longer."""
        if self.stopped.is_set():
            raise GivenUp

    def give(self, piece: object) -> None:
        """Hand over a piece of the result once the one before has been taken, so that the window answers between two;
        and raise GivenUp if nobody waits any longer."""
        self.go_on()
        while not self.taken.wait(LOOKED_AGAIN):
            self.go_on()
        self.taken.clear()
        self.hand_over(self, piece)

    def told(self, share: float) -> None:
        """Take in how much is done, and raise GivenUp if nobody waits any longer."""
        self.share = share
        self.go_on()
        if self.heard is not None:
            self.hear(self, share)


class Worker(QObject):
    """Runs jobs on a thread for each lane and delivers their results on the interface thread."""

    _finished = pyqtSignal(object, object, str)
    _piece = pyqtSignal(object, object)
    _share = pyqtSignal(object, float)
    went_wrong = pyqtSignal(str)
    """A job failed by a mistake of the program, whoever waits for it."""
    changed = pyqtSignal()
    """The file jobs in hand changed."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.open: list[Job] = []
        """File jobs that are waiting or being done."""
        self._busy: dict[Lane, Job] = {}
        self._condition = threading.Condition()
        self._waiting: dict[Lane, deque[Job]] = {}
        self._threads: dict[Lane, threading.Thread] = {}
        self._ended = False
        self._finished.connect(self._end)
        self._piece.connect(self._hand_on)
        self._share.connect(self._told_share)

    # ---- giving work

    def newest(
        self,
        lane: Lane,
        work: Callable[[Job], Any],
        then: Callable[[Any], None],
        trouble: Callable[[str], None] = lambda said: None,
        piece: Callable[[Any], None] = lambda piece: None,
        heard: Callable[[float], None] | None = None,
    ) -> None:
        """Do this next on the lane; whatever waited there is forgotten, what is being done becomes worthless. `piece`
        takes what the work gives away before it is done, `heard` is told how much is done."""
        job = Job(lane.value, work, then, trouble, lane, piece, self._hand_over, hear=self._hear, heard=heard)
        with self._condition:
            if lane in self._busy:
                self._busy[lane].stopped.set()
            self._waiting[lane] = deque([job])
            self._busy[lane] = job
        self._begin(lane)

    def in_order(
        self, what: str, work: Callable[[Job], Any], then: Callable[[Any], None], trouble: Callable[[str], None]
    ) -> None:
        """Do this after the file jobs before it, then call `then` with its result, or `trouble` with a sentence."""
        job = Job(what, work, then, trouble)
        self.open.append(job)
        with self._condition:
            self._waiting.setdefault(Lane.FILES, deque()).append(job)
        self._begin(Lane.FILES)
        self.changed.emit()

    def drop(self, lane: Lane) -> None:
        """Forget what waits on the lane; what is being done there becomes worthless."""
        with self._condition:
            if lane in self._busy:
                self._busy.pop(lane).stopped.set()
            if lane in self._waiting:
                self._waiting[lane].clear()

    def done(self, lane: Lane) -> float | None:
        """How much of the lane's job is done, 0 to 1; None where nobody waits for one."""
        job = self._busy.get(lane)
        return job.share if job is not None else None

    def is_busy(self, lane: Lane) -> bool:
        """Whether somebody waits for a job of the lane."""
        return lane in self._busy

    @property
    def is_idle(self) -> bool:
        """Whether nobody waits for anything."""
        return not self._busy and not self.open

    @property
    def current(self) -> Job | None:
        """The file job that is being done; None while there is nothing to do."""
        return self.open[0] if self.open else None

    def give_up(self) -> None:
        """Give up the file job that is being done: its result is dropped."""
        if self.open:
            job = self.open.pop(0)
            job.stopped.set()
            job.trouble(given_up(job.what))
            self.changed.emit()

    def end(self) -> None:
        """No more jobs; what is being written is finished first, everything else is dropped."""
        with self._condition:
            self._ended = True
            for lane, job in self._busy.items():
                job.stopped.set()
                self._waiting[lane].clear()
            self._condition.notify_all()
        for lane, thread in self._threads.items():
            thread.join(timeout=30 if lane is Lane.FILES else 5)
        self._busy.clear()

    # ---- doing it

    def _begin(self, lane: Lane) -> None:
        with self._condition:
            if lane not in self._threads and not self._ended:
                thread = threading.Thread(target=self._run, args=(lane,), name=lane.value, daemon=True)
                self._threads[lane] = thread
                thread.start()
            self._condition.notify_all()

    def _run(self, lane: Lane) -> None:
        while True:
            with self._condition:
                while not self._waiting.get(lane) and not self._ended:
                    self._condition.wait()
                if not self._waiting.get(lane):
                    return
                job = self._waiting[lane].popleft()
            result, said = None, ""
            try:
                job.go_on()
                result = job.work(job)
            except GivenUp:
                said = "canceled"
            except YellowSlopeError as error:
                said = str(error)
            except BaseException:  # whatever it is, the lane goes on and somebody is told
                log.exception("failed: %s", lane.value)
                said = WRONG
                with suppress(RuntimeError):
                    self.went_wrong.emit(WRONG)
            if self._ended and lane is not Lane.FILES:
                return
            try:
                self._finished.emit(job, result, said)
            except RuntimeError:
                return

    def _hand_over(self, job: Job, piece: object) -> None:
        """From the thread of a job."""
        try:
            self._piece.emit(job, piece)
        except RuntimeError:  # the window is gone
            job.taken.set()

    def _hear(self, job: Job, share: float) -> None:
        with suppress(RuntimeError):  # the window is gone
            self._share.emit(job, share)

    def _told_share(self, job: Job, share: float) -> None:
        if not self._ended and self._busy.get(job.lane) is job and job.heard is not None:
            job.heard(share)

    def _hand_on(self, job: Job, piece: object) -> None:
        try:
            if not self._ended and self._busy.get(job.lane) is job:
                job.piece(piece)
        finally:
            QTimer.singleShot(0, job.taken.set)

    def _end(self, job: Job, result: object, said: str) -> None:
        if self._ended:
            return
        if job.lane is Lane.FILES:
            if job not in self.open:
                return
            self.open.remove(job)
            self.changed.emit()
        elif self._busy.get(job.lane) is not job:
            return
        else:
            del self._busy[job.lane]
        if said:
            job.trouble(said)
        else:
            job.then(result)
