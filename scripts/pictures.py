"""Make docs/screenshots from the demo data: one picture of each main view, at 1280 x 800.

Usage: pictures.py [FOLDER] [WIDTH HEIGHT]
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

from yellow_slope.core.study import edits
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.terms import Term

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="pictures-")  # nobody's recent files stand in them

from PyQt6.QtWidgets import QApplication

from yellow_slope.app.desk import Cell
from yellow_slope.app.main import application
from yellow_slope.app.window import Window

FOLDER = Path(sys.argv[1] if len(sys.argv) > 1 else "docs/screenshots")
SIZE = (int(sys.argv[2]), int(sys.argv[3])) if len(sys.argv) > 3 else (1280, 800)


def settle(window: Window) -> None:
    """Wait until what is shown belongs to the current study."""
    app = QApplication.instance()
    assert app is not None
    end = time.monotonic() + 20
    while time.monotonic() < end:
        app.processEvents()
        if window.worker.is_idle and window.session.is_settled:
            break
        time.sleep(0.005)
    for _ in range(5):
        app.processEvents()


def main() -> None:
    """Take all pictures."""
    application()
    FOLDER.mkdir(parents=True, exist_ok=True)
    window = Window()
    window.resize(*SIZE)
    window.show()

    def take(name: str) -> None:
        settle(window)
        window.grab().save(str(FOLDER / f"{name}.png"))

    window.first.renew_recent = lambda: None  # type: ignore[method-assign]
    take("first-sight")
    window.fileactions.open_demo()
    settle(window)
    session = window.session
    product = Term(("practice", "coaching"))
    session.look(cell=Cell(2, product, 11))
    take("blocks")
    window.actions_table.run("dark or light")
    take("blocks-dark")
    window.actions_table.run("dark or light")
    session.look(variable="practice", beside=(Term(("practice", "worry")),))
    window.go("Data")
    take("data")
    session.look(variable="practice", cell=None)
    window.go("Prepare")
    take("prepare")
    window.go("Checks")
    take("checks")
    window.go("Probe")
    session.look(handle=4.9)
    take("probe-number-by-number")
    for name, probe in (
        ("probe-group-by-number", Probe("returner", "balance")),
        ("probe-number-by-group", Probe("practice", "coaching")),
    ):
        session.look(handle=60.0 if name == "probe-group-by-number" else None, place=None)
        session.edit("probe", lambda s, p=probe: edits.put_probe(s, p))  # type: ignore[misc]
        take(name)
    window.go("Report")
    take("report")
    window.worker.end()


if __name__ == "__main__":
    main()
