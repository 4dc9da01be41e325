"""What is loaded before the first results are there."""

from __future__ import annotations

import importlib

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


def load_needed() -> None:
    """Load what drawing and telling use; on the worker, before the first results arrive."""
    for module in NEEDED:
        importlib.import_module(module)
