"""Errands: reading and writing files off the interface thread, one after the other; each can be given up."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from queue import SimpleQueue
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from yellow_slope.core.errors import YellowSlopeError

log = logging.getLogger(__name__)


class GivenUp(Exception):
    """The user gave the errand up; nothing has been written."""


@dataclass(slots=True, eq=False)
class Errand:
    """One piece of work; `go_on` is called by the work where it may stop."""

    what: str
    work: Callable[[Errand], Any]
    then: Callable[[Any], None]
    trouble: Callable[[str], None]
    begun: float = field(default_factory=time.monotonic)
    stopped: threading.Event = field(default_factory=threading.Event)

    def go_on(self) -> None:
        """Raise GivenUp if the user gave this errand up."""
        if self.stopped.is_set():
            raise GivenUp


class Errands(QObject):
    """Runs errands in their order on one thread of its own."""

    _finished = pyqtSignal(object, object, str)
    changed = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._waiting: SimpleQueue[Errand | None] = SimpleQueue()
        self.open: list[Errand] = []
        self._finished.connect(self._end)
        self._thread = threading.Thread(target=self._run, name="errands", daemon=True)
        self._thread.start()

    @property
    def current(self) -> Errand | None:
        """What is being done; None while there is nothing to do."""
        return self.open[0] if self.open else None

    def run(
        self, what: str, work: Callable[[Errand], Any], then: Callable[[Any], None], trouble: Callable[[str], None]
    ) -> None:
        """Do the work off the interface thread, then call `then` with its result, or `trouble` with a sentence."""
        errand = Errand(what, work, then, trouble)
        self.open.append(errand)
        self._waiting.put(errand)
        self.changed.emit()

    def give_up(self) -> None:
        """Give up what is being done: its result is dropped."""
        if self.open:
            errand = self.open.pop(0)
            errand.stopped.set()
            errand.trouble(f"Given up: {errand.what}")
            self.changed.emit()

    def end(self) -> None:
        """No more errands; what is being written is finished first."""
        self._waiting.put(None)
        self._thread.join(timeout=30)

    def _run(self) -> None:
        while (errand := self._waiting.get()) is not None:
            result, said = None, ""
            try:
                errand.go_on()
                result = errand.work(errand)
            except GivenUp:
                said = "given up"
            except YellowSlopeError as error:
                said = str(error)
            except Exception:
                log.exception("errand failed: %s", errand.what)
                said = "Something went wrong inside Yellow Slope; the study is as it was. See the log."
            try:
                self._finished.emit(errand, result, said)
            except RuntimeError:
                return

    def _end(self, errand: Errand, result: object, said: str) -> None:
        if errand not in self.open:
            return
        self.open.remove(errand)
        self.changed.emit()
        if said:
            errand.trouble(said)
        else:
            errand.then(result)
