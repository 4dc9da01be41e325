"""The window's heartbeat: how long the interface thread works before it answers again, so that a test in which it stops
is one that fails. Measured around what a test lets it do, not within it: events stay the toolkit's own."""

from __future__ import annotations

import os
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache

from PyQt6.QtWidgets import QApplication

from yellow_slope.core.data.formula import find_mistake
from yellow_slope.core.data.variable import Kind, Variable

LONGEST = 0.3
"""Seconds of the thread's own work: what it waits for the machine, or for the counting of lines that tests run through,
is no fault of the window."""
STEP = 50e-9
"""Seconds of one plain step where the bound holds as it stands; a machine slower than that gets as much more."""
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


def _behind() -> float:
    """How many times as long a plain step takes now, lines counted or not; never less than 1."""
    tracer, steps, done = sys.gettrace(), 1_000_000, 0
    sys.settrace(None)
    begun = time.thread_time()
    for at in range(steps):
        done += at
    taken = time.thread_time() - begun
    sys.settrace(tracer)
    return max(1.0, taken / steps / STEP)


def stolen() -> float:
    """Seconds for which the machine was not given its time, of one processor on average; 0 where nobody says."""
    try:
        with open("/proc/stat", encoding="ascii") as file:
            return int(file.readline().split()[8]) / os.sysconf("SC_CLK_TCK") / (os.cpu_count() or 1)
    except (OSError, IndexError, ValueError):
        return 0.0


@contextmanager
def watched() -> Iterator[None]:
    """Note how long the window works at what is done here."""
    begun, before = time.thread_time(), stolen()
    yield
    worked = (time.thread_time() - begun) / _slowed()
    if worked > LONGEST and (worked := (worked - (stolen() - before)) / _behind()) > LONGEST:
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
