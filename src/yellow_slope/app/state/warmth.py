"""What is loaded while nobody waits, so that nothing is loaded while somebody does."""

from __future__ import annotations

import gc
import importlib
import time
from collections.abc import Callable

NEEDED = (
    "scipy.linalg",
    "scipy.special",
    "scipy.optimize",
    "scipy.optimize.elementwise",
    "matplotlib",
    "matplotlib.ticker",
)
"""For the first number, and the first tick of an axis: in this order, for no part of a package is used before it is
whole."""
LATER = (
    "yellow_slope.files.journal.keeping",
    "yellow_slope.report.parts",
    "yellow_slope.report.writers.html",
    "yellow_slope.report.drawing",
    "yellow_slope.files.text.delimited",
)

PAUSE = 0.02
"""Seconds until it is asked again whether somebody waits."""


def load_needed() -> None:
    """Load what drawing and telling use; on the worker, before the first results arrive."""
    for module in NEEDED:
        importlib.import_module(module)


def warm_up(is_awaited: Callable[[], bool] = lambda: False) -> None:
    """Load what later waypoints need too, while the user looks at the first one; what somebody waits for goes first."""
    try:
        load_needed()
    finally:
        gc.enable()
    for module in LATER:
        while is_awaited():
            time.sleep(PAUSE)
        importlib.import_module(module)
    gc.collect()
    gc.freeze()  # what is loaded stays: it is not looked through again whenever something else is tidied up
