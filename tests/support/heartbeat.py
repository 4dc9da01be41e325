"""The window's heartbeat: how long the interface thread is at one event, so that a test in which it stops is one that
fails."""

from __future__ import annotations

import os
import time
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QApplication

LONGEST = 0.3
"""Seconds in which the window is to answer."""
SHARED = 1.5 if "PYTEST_XDIST_WORKER" in os.environ else 1.0
"""Tests that run beside others work so much slower."""
LONGEST_OF_ALL = 2.0
"""Seconds, however busy the machine is with other things."""


@dataclass(frozen=True, slots=True)
class Beat:
    """One event that took long."""

    seconds: float
    worked: float
    """Seconds of them that the thread itself was at work: the rest it waited, for others or for the machine."""
    what: str

    @property
    def is_stall(self) -> bool:
        """Whether the window did not answer: a machine that is busy with other things is no fault of the window."""
        return self.seconds > LONGEST_OF_ALL or self.worked > LONGEST * SHARED


class TimedApplication(QApplication):
    """The application of the tests; `slow` are the events that took long."""

    def __init__(self, arguments: list[str]) -> None:
        super().__init__(arguments)
        self.slow: list[Beat] = []
        self._depth = 0

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        if self._depth or event is None:
            return bool(super().notify(receiver, event))
        self._depth += 1
        kind, begun, worked = event.type(), time.monotonic(), time.thread_time()
        try:
            return bool(super().notify(receiver, event))
        finally:
            self._depth -= 1
            seconds = time.monotonic() - begun
            if seconds > LONGEST / 2:
                beat = Beat(seconds, time.thread_time() - worked, f"{kind.name} of {type(receiver).__name__}")
                self.slow.append(beat)
