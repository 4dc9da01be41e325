"""What every benchmark needs: cases, a typical time, a window that has settled, and a line that says whether its aim is
met. BENCH_ROWS=60 tries every benchmark with few cases, to see that it runs to its end."""

from __future__ import annotations

import os
import statistics
import time
from collections.abc import Callable
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from yellow_slope.app.window import Window

FEW = int(os.environ.get("BENCH_ROWS", "0"))
LINES: list[tuple[str, str, str, bool]] = []
"""What was measured: what, figure, aim, and whether it is met."""


def cases(n: int) -> int:
    """So many cases, or few where it is only tried."""
    return min(n, FEW) if FEW else n


def turns(n: int) -> int:
    """So many times, or twice where it is only tried."""
    return min(n, 2) if FEW else n


def typical(call: Callable[[], object], times: int) -> float:
    """Median seconds of a call."""
    call()
    spent: list[float] = []
    for _ in range(turns(times)):
        begin = time.perf_counter()
        call()
        spent.append(time.perf_counter() - begin)
    return statistics.median(spent)


def settled(window: Window) -> None:
    """Wait until all that is shown is newest, and painted: the one way of waiting."""
    from PyQt6.QtCore import QEventLoop
    from PyQt6.QtWidgets import QApplication

    for _ in range(2):  # what has arrived may make room anew, and draw again
        while not window.worker.is_idle:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        QApplication.processEvents()


def say(what: str, value: str, aim: str, met: bool) -> None:
    """One line of the result."""
    LINES.append((what, value, aim, met))
    print(f"{'ok ' if met else 'NOT'}  {what}: {value}   (aim: {aim})", flush=True)


def table() -> None:
    """All lines once more, as a table."""
    widths = [
        max(map(len, column), default=0) for column in zip(*((what, value, aim) for what, value, aim, _ in LINES))
    ]
    print()
    for what, value, aim, met in LINES:
        cells = "  ".join(text.ljust(width) for text, width in zip((what, value, aim), widths))
        print(f"{cells}  {'met' if met else 'NOT MET'}")
    print(f"{sum(line[3] for line in LINES)} of {len(LINES)} aims are met.")
