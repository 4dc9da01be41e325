"""The window's heartbeat: how long the interface thread works before it answers again, so that a test in which it stops
is one that fails. Measured around what a test lets it do, not within it: events stay the toolkit's own."""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache

from PyQt6.QtWidgets import QApplication

from tests.support.clock import Watch, behind
from yellow_slope.core.data.formula import find_mistake
from yellow_slope.core.data.variable import Kind, Variable

LONGEST = 0.3
"""Seconds of the thread's own work: what it waits for the machine, or for the counting of lines that tests run through,
is no fault of the window."""
_slow: list[float] = []


@cache
def _slowed() -> float:
    """How many times as long the window takes while lines are counted; 1 where nobody counts them. Half of what a
    window does is the toolkit's, of which no lines are counted."""
    tracer, age = sys.gettrace(), Variable("age", Kind.NUMBER, "age")
    if tracer is None:
        return 1.0

    def taken() -> float:
        begun = time.thread_time()
        for _ in range(30):
            find_mistake("(age + 2) * 3 - age / 4 + (1 if age > 30 else 0)", [age], lambda _: True)
        return time.thread_time() - begun

    counted = min(taken() for _ in range(3))
    sys.settrace(None)
    try:
        alone = min(taken() for _ in range(3))
    finally:
        sys.settrace(tracer)
    return max(1.0, (1.0 + counted / alone) / 2.0)


@contextmanager
def watched() -> Iterator[None]:
    """Note how long the window works at what is done here."""
    watch = Watch()
    yield
    if watch.spent() <= LONGEST:
        return
    worked = watch.own() / _slowed()
    if worked > LONGEST and (worked := worked / behind()) > LONGEST:
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
