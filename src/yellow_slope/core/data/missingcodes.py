"""Numbers that may be codes for missing: round, and apart from all other values."""

from __future__ import annotations

import weakref

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.data.variable import missing_numbers
from yellow_slope.values import dataclass

CODES = frozenset(
    float(sign * value)
    for value in (
        7,
        8,
        9,
        66,
        77,
        88,
        96,
        97,
        98,
        99,
        666,
        777,
        888,
        997,
        998,
        999,
        7777,
        8888,
        9998,
        9999,
        99999,
        999999,
    )
    for sign in (1, -1)
) | {-1.0, -2.0, -3.0}
"""What is used as a code for missing."""
GAP = 0.5
"""A code lies further from all other values than this share of their range."""
GAP_OF_ONE_DIGIT = 0.75
MOST_SHARE = 0.4
FEWEST_OTHERS = 3
_known: weakref.WeakKeyDictionary[NumberColumn, dict[tuple[str, ...], tuple[Suspect, ...]]] = (
    weakref.WeakKeyDictionary()
)


@dataclass(frozen=True, slots=True)
class Suspect:
    """A value that may be a code for missing."""

    value: float
    count: int
    low: float
    """The smallest of all other values."""
    high: float


def suspects(column: NumberColumn, missing: tuple[str, ...]) -> tuple[Suspect, ...]:
    """Values that may be codes for missing. `missing`: codes that count as missing already. Looked for once per
    column."""
    known = _known.setdefault(column, {})
    if missing not in known:
        known[missing] = tuple(_found(column.numbers, np.array(missing_numbers(missing))))
    return known[missing]


def _found(numbers: FloatArray, declared: FloatArray) -> list[Suspect]:
    values = numbers[~np.isnan(numbers)]
    if declared.size:
        values = values[~np.isin(values, declared)]
    found: list[Suspect] = []
    for _ in range(4):
        if values.size < FEWEST_OTHERS:
            break
        ends = [v for v in (float(values.max()), float(values.min())) if v in CODES]
        suspect = next((s for v in ends if (s := _suspect(values, v)) is not None), None)
        if suspect is None:
            break
        found.append(suspect)
        values = values[values != suspect.value]
    # The range of the others is that without any of the codes.
    low, high = (float(values.min()), float(values.max())) if values.size else (0.0, 0.0)
    return [Suspect(s.value, s.count, low, high) for s in found]


def _suspect(values: FloatArray, value: float) -> Suspect | None:
    rest = values[values != value]
    count = int(values.size - rest.size)
    if count > MOST_SHARE * values.size or np.unique(rest[:20000]).size < FEWEST_OTHERS:
        return None
    inner = rest[~np.isin(rest, list(CODES))] if abs(value) >= 10 else rest
    if inner.size == 0:
        return None
    low, high = float(inner.min()), float(inner.max())
    gap = value - high if value > high else low - value
    if value < 0 <= low and bool(np.all(inner[:2000] == np.round(inner[:2000]))):
        return Suspect(value, count, low, high)
    needed = (GAP_OF_ONE_DIGIT if abs(value) < 10 else GAP) * (high - low)
    return Suspect(value, count, low, high) if gap > 0 and gap >= needed else None
