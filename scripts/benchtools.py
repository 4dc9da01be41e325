"""What every benchmark needs: a typical time, and a line that says whether its aim is met."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable


def typical(call: Callable[[], object], times: int) -> float:
    """Median seconds of a call."""
    call()
    spent: list[float] = []
    for _ in range(times):
        begin = time.perf_counter()
        call()
        spent.append(time.perf_counter() - begin)
    return statistics.median(spent)


def say(what: str, value: str, aim: str, met: bool) -> None:
    """One line of the result."""
    print(f"{'ok ' if met else 'NOT'}  {what}: {value}   (aim: {aim})", flush=True)
