"""How much of what is drawn by its number a run takes: in every run what finds most in its time, in a thorough one
(`make thorough`) all."""

from __future__ import annotations

import os

THOROUGH = os.environ.get("SEEDS") == "all"


def few(usual: int, every: int) -> int:
    """How many are taken."""
    return every if THOROUGH else usual
