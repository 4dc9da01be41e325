"""Ticks, asked for from several threads at once."""

from __future__ import annotations

import subprocess
import sys


def test_ticks_wait_for_a_thread_that_is_importing_what_finds_them() -> None:
    """The window draws while the worker imports the same library for the first time."""
    code = (
        "import sys, threading\n"
        "from yellow_slope.plots.scales import one_mark\n"
        "sys.setswitchinterval(1e-5)\n"
        "thread = threading.Thread(target=lambda: __import__('matplotlib'))\n"
        "thread.start()\n"
        "while 'matplotlib.ticker' not in sys.modules: pass\n"
        "while not hasattr(sys.modules['matplotlib.ticker'], 'MaxNLocator'): pass\n"
        "print(one_mark(10.0))\n"
        "thread.join()\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
