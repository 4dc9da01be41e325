"""The questions of the waypoint Checks."""

from __future__ import annotations

from enum import Enum


class Check(Enum):
    """A question that a plot answers; the value is its short name."""

    STAND = "stand"
    SPREAD = "spread"
    NORMAL = "normal"
    STRAIGHT = "straight"
    PULL = "pull"
    FAR = "far"
    MOVES = "moves"
    ORDER = "order"
    OVERLAP = "overlap"
    OWN = "own"
