"""The window's heartbeat: how long the interface thread is at the events that wait, so that a test in which it stops is
one that fails. Measured around the loop, not within it: events themselves stay the toolkit's own."""

from __future__ import annotations

import os
import time

from PyQt6.QtWidgets import QApplication

LONGEST = 1.5 if "PYTEST_XDIST_WORKER" in os.environ else 0.3
"""Seconds of its own work in which the window is to answer; tests that run beside others are no measure of less."""
_slow: list[float] = []


def process_events() -> None:
    """Let the window take in what waits, and note how long it worked at it."""
    begun = time.thread_time()
    QApplication.processEvents()
    worked = time.thread_time() - begun
    if worked > LONGEST:
        _slow.append(worked)


def stalls() -> list[float]:
    """Seconds of work that took too long since this was asked last."""
    found = list(_slow)
    _slow.clear()
    return found
