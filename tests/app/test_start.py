"""A window is there at once: what only some need is loaded once they ask for it, or while nobody waits."""

from __future__ import annotations

import subprocess
import sys

LATER = ("matplotlib.figure", "pandas", "pyarrow", "pydantic", "PIL", "docx", "odf", "reportlab", "jinja2", "openpyxl")
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
