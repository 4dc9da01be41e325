"""A window is there at once: what only some need is loaded once they ask for it, or while nobody waits."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

LATER = (
    "yellow_slope.app.workplace",
    "yellow_slope.core.fit",
    "numpy",
    "scipy",
    "matplotlib",
    "pandas",
    "pyarrow",
    "PIL",
    "docx",
    "odf",
    "reportlab",
    "jinja2",
    "openpyxl",
)
SHOWN = f"""
import os, sys
from yellow_slope.app.main import application
app = application()
from yellow_slope.app.window import Window
window = Window()
window.show()
while not window.worker.is_idle:
    app.processEvents()
print([name for name in {LATER!r} if name in sys.modules], window.isVisible(), flush=True)
os._exit(0)
"""


def test_a_window_loads_nothing_that_only_files_and_pages_need() -> None:
    done = subprocess.run([sys.executable, "-c", SHOWN], capture_output=True, check=True, text=True, timeout=120)
    assert done.stdout.strip() == "[] True"


STARTED = """
import os
from PyQt6.QtCore import QTimer
from yellow_slope.app import main
from yellow_slope.app.state.recentfiles import recent_files
from yellow_slope.files.written.ownlooks import own_looks

app = main.application()

def seen():
    window = next((w for w in app.topLevelWidgets() if w.isVisible()), None)
    if window is None or not window.worker.is_idle:
        QTimer.singleShot(20, seen)
        return
    print(type(window).__name__, recent_files(), own_looks(), flush=True)
    os._exit(0)

QTimer.singleShot(20, seen)
main.run()
"""
READ_AT_A_START = (
    "state/recent.json",
    "config/looks.json",
    "state/log.txt",
    "state/fault.txt",
    "state/journal/a.journal",
    "state/journal/b.journal.new",
    "state/writing/a.plan",
)


@pytest.mark.parametrize("kind", ["pipe", "device", "folder", "damaged"])
def test_what_is_read_at_a_start_is_a_file_or_left_aside(kind: str, tmp_path: Path) -> None:
    """A pipe that nobody writes to, a device without end, a folder, a file of anything: the window is there at once."""
    for name in READ_AT_A_START:
        base, rest = name.split("/", 1)
        path = tmp_path / base / "yellow-slope" / rest
        path.parent.mkdir(parents=True, exist_ok=True)
        if kind == "pipe":
            os.mkfifo(path)
        elif kind == "device":
            path.symlink_to("/dev/zero")
        elif kind == "folder":
            path.mkdir()
        else:
            path.write_bytes(b"\xff\x00[[{" * 50)
    folders = {"XDG_STATE_HOME": str(tmp_path / "state"), "XDG_CONFIG_HOME": str(tmp_path / "config")}
    done = subprocess.run(
        [sys.executable, "-c", STARTED], capture_output=True, text=True, timeout=60, env=os.environ | folders
    )
    assert (done.returncode, done.stdout) == (0, "Window [] ()\n")
    assert "Traceback" not in done.stderr
