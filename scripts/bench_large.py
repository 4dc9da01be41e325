"""How long the window pauses with very large tables, and how soon the report of one is there."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np
import pyarrow as pa
from benchtools import cases, say
from pyarrow import csv as arrow
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.main import application
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.warmth import Warmth
from yellow_slope.app.window import Window
from yellow_slope.core.quickline import said_by

MODEL = "y = x1, x2, crew; x1 x x2, x1 x crew"


def made(path: Path, rows: int, columns: int) -> None:
    """A table of numbers with one group."""
    rng = np.random.default_rng(1)
    table = {f"x{j}": rng.normal(50, 9, size=rows).round(3) for j in range(columns - 2)}
    crews = np.array(["red", "blue", "green", "grey"])[rng.integers(0, 4, rows)]
    outcome = (table["x1"] * 0.3 + table["x2"] * 0.2 + rng.normal(size=rows)).round(3)
    arrow.write_csv(pa.table({**table, "crew": crews, "y": outcome}), path)


class Watch:
    """The longest time in which the window took in no event."""

    def __init__(self, window: Window) -> None:
        self.window = window
        self.longest = 0.0

    def during(self, act: Callable[[], object]) -> float:
        """Do it and wait until all is there; the seconds that took."""
        begin = last = time.perf_counter()
        act()
        while not self.window.worker.is_idle or time.perf_counter() - begin < 0.05:
            QApplication.processEvents()
            now = time.perf_counter()
            self.longest = max(self.longest, now - last)
            time.sleep(0.002)
            last = time.perf_counter()
        QApplication.processEvents()
        self.longest = max(self.longest, time.perf_counter() - last)
        return time.perf_counter() - begin


def used(rows: int, columns: int) -> None:
    """A table is opened, a model typed, every waypoint seen, the table read again."""
    warmth = Warmth(lambda: False, lambda: False, application())
    warmth.load()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.csv"
        made(path, rows, columns)
        window = Window()
        window.resize(1280, 800)
        window.show()
        watch, session = Watch(window), window.place.session
        opening = watch.during(lambda: window.open_path(str(path)))
        watch.during(lambda: session.edit("line", lambda study: said_by(study, MODEL)))
        for waypoint in Waypoint:
            if waypoint is not Waypoint.REPORT:
                watch.during(partial(window.place.go, waypoint))
        watch.during(session.undo)
        watch.during(session.redo)
        watch.during(window.place.fileactions.read_newly)
        report = watch.during(lambda: window.place.go(Waypoint.REPORT))
        session.let_go()
        window.close()
    what = f"{rows:,} x {columns:,}"
    say(f"longest pause of the window at {what}", f"{watch.longest:.2f} s", "at most 0.3 s", watch.longest <= 0.3)
    say("  until it is opened", f"{opening:.1f} s", "none", True)
    say("  first page of its report", f"{report:.1f} s", "at most 3 s", report <= 3)


def large_tables() -> None:
    """Long, and wide."""
    used(cases(1_000_000), 20)
    used(cases(300), cases(5_000))


if __name__ == "__main__":
    large_tables()
