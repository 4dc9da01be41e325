"""A window is there at once: what only some need is loaded once they ask for it, or while nobody waits."""

from __future__ import annotations

import subprocess
import sys

LATER = ("matplotlib.figure", "pandas", "pyarrow", "pydantic", "PIL", "docx", "odf", "reportlab", "jinja2", "openpyxl")


def test_a_window_loads_nothing_that_only_files_and_pages_need() -> None:
    told = f"import sys, yellow_slope.app.window; print([name for name in {LATER!r} if name in sys.modules])"
    done = subprocess.run([sys.executable, "-c", told], capture_output=True, check=True, text=True)
    assert done.stdout.strip() == "[]"
