"""The window's heartbeat: how long the interface thread works before it answers again, so that a test in which it stops
is one that fails. Measured around what a test lets it do, not within it: events stay the toolkit's own."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager

from PyQt6.QtWidgets import QApplication

LONGEST = 0.3
"""Seconds of the thread's own work: what it waits for the machine is no fault of the window."""
_slow: list[float] = []


@contextmanager
def watched() -> Iterator[None]:
    """Note how long the window works at what is done here."""
    begun = time.thread_time()
    yield
    worked = time.thread_time() - begun
    if worked > LONGEST:
        _slow.append(worked)


def process_events() -> None:
    """Let the window take in what waits."""
    with watched():
        QApplication.processEvents()


def stalls() -> list[float]:
    """Seconds of work that took too long since this was asked last."""
    found = list(_slow)
    _slow.clear()
    return found
