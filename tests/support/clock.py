"""How long something works by itself: without the time that the machine was not given, and by what a plain step takes
there now. So a bound on work is one of the program and not of the machine that it is tested on."""

from __future__ import annotations

import gc
import os
import signal
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

STEP = 50e-9
"""Seconds of one plain step where a bound holds as it stands; a machine slower than that gets as much more."""
WAITS = 5
"""So many times a bound may pass while it waits for another thread or a disk."""
HANGS = 20
"""So many times a bound may pass by the clock on the wall, whatever the machine does."""


def behind() -> float:
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


FRESH = 0.02
"""Seconds for which it is not asked again what the machine was not given: to ask takes 2 ms."""
_asked = (-1.0, 0.0)


def _stolen_lately() -> float:
    """The same, at most that much old."""
    global _asked
    now = time.monotonic()
    if now - _asked[0] > FRESH:
        _asked = (now, stolen())
    return _asked[1]


class _Tidying:
    """Seconds for which the main thread looked through all that the tests of a process have loaded and left, 0.3 each
    time; in the program what is loaded is not looked through again."""

    def __init__(self) -> None:
        self.seconds = self._begun = 0.0
        gc.callbacks.append(self._told)

    def _told(self, phase: str, info: dict[str, int]) -> None:
        if info["generation"] < 2 or threading.current_thread() is not threading.main_thread():
            return
        if phase == "start":
            self._begun = time.thread_time()
        else:
            self.seconds += time.thread_time() - self._begun


_tidying = _Tidying()


class Watch:
    """The work of the main thread since it was made."""

    def __init__(self) -> None:
        self._when = time.monotonic()
        self._begun, self._stolen, self._tidied = time.thread_time(), _stolen_lately(), _tidying.seconds

    def spent(self) -> float:
        """Seconds that it had the processor, or seemed to have it."""
        return time.thread_time() - self._begun

    def own(self) -> float:
        """Seconds that it worked at what it was asked for."""
        return self.spent() - (_tidying.seconds - self._tidied) - (stolen() - self._stolen)

    def is_over(self, seconds: float) -> bool:
        """It worked longer than so many seconds, or waited for others many times as long."""
        lasted = time.monotonic() - self._when - (stolen() - self._stolen)
        worst = max(self.own(), lasted / WAITS)
        return worst > seconds and worst > seconds * behind()


@contextmanager
def within(seconds: int) -> Iterator[None]:
    """TimeoutError where it works longer."""
    watch, end = Watch(), time.monotonic() + HANGS * seconds

    def late(*_: object) -> None:
        if time.monotonic() > end or watch.is_over(seconds):
            raise TimeoutError(f"more than {seconds} s")
        signal.alarm(1)

    before = signal.signal(signal.SIGALRM, late)
    signal.alarm(seconds)
    try:
        yield
    finally:
        signal.alarm(0)
        signal.signal(signal.SIGALRM, before)
