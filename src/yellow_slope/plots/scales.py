"""Scales of a plot: ticks with their labels, and titles that keep their unit whatever room they have."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from importlib import import_module
from itertools import pairwise

from yellow_slope.core.words.spelling.numerals import MINUS
from yellow_slope.core.words.spelling.shortening import begun
from yellow_slope.plots.measuring import text_width, wrapped
from yellow_slope.values import dataclass

STEPS = [1, 2, 2.5, 5, 10]
LARGE, SMALL = 1e6, 1e-3
"""Numbers beyond these are written with a power of ten in the title."""
_RAISED = str.maketrans("0123456789-", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻")


@dataclass(frozen=True, slots=True)
class TitleLine:
    """A line of an axis title, and the whole title where not all of it stands there."""

    text: str
    whole: str = ""


@dataclass(frozen=True, slots=True)
class AxisTitle:
    """What an axis shows: a name, the name where there is less room, and its unit, which is never cut."""

    name: str
    short: str = ""
    unit: str = ""

    def with_power(self, power: int) -> AxisTitle:
        """The title of an axis whose numbers are written in a power of ten."""
        if not power:
            return self
        raised = f"×10{str(power).translate(_RAISED)}"
        unit = f"({raised})" if not self.unit else f"{self.unit[:-1]}, {raised})"
        return AxisTitle(self.name, self.short, unit)

    @property
    def whole(self) -> str:
        """Name and unit."""
        return f"{self.name} {self.unit}".strip()

    def lines(self, room: float, size: float, most: int = 2) -> list[TitleLine]:
        """The title in as few lines as it needs. Where not even the short name has room, its beginning stands."""
        texts = self._lines(room, size, most)
        whole = self.whole if " ".join(texts) != self.whole else ""
        return [TitleLine(text, whole) for text in texts]

    def _lines(self, room: float, size: float, most: int) -> list[str]:
        names = [self.name, *([self.short] if self.short else [])]
        for name in names:
            for count in range(1, most + 1):
                found = _with_unit(name, self.unit, room, size, count)
                if found is not None:
                    return found
        unit = wrapped(self.unit, room, size) or [self.unit] if self.unit else []
        return [begun(names[-1], lambda text: text_width(text, size) <= room), *unit]


def _with_unit(name: str, unit: str, room: float, size: float, most: int) -> list[str] | None:
    """Name and unit in so many lines; the unit is not broken."""
    whole = f"{name} {unit}".strip()
    if text_width(whole, size) <= room:
        return [whole]
    if most < 2 or text_width(unit, size) > room:
        return None
    broken = wrapped(name, room, size)
    if broken is None:
        return None
    last = f"{broken[-1]} {unit}".strip()
    joined = [*broken[:-1], last] if text_width(last, size) <= room else [*broken, unit]
    return joined if len(joined) <= most else None


@dataclass(frozen=True, slots=True)
class Tick:
    """A value on an axis, and what stands there."""

    value: float
    label: str


@dataclass(frozen=True, slots=True)
class Ticks:
    """The ticks of an axis, and the power of ten in which they are written."""

    ticks: tuple[Tick, ...]
    power: int = 0


@lru_cache(maxsize=1024)
def _values(low: float, high: float, most: int) -> tuple[float, ...]:
    """Round values within a range, at most so many intervals."""
    # The whole before its part: a thread that is still importing the whole has the part ready before the whole is.
    import_module("matplotlib")
    from matplotlib.ticker import MaxNLocator

    found = MaxNLocator(most, steps=STEPS, min_n_ticks=1).tick_values(low, high)
    slack = 1e-9 * (high - low)
    return tuple(float(v) + 0.0 for v in found if low - slack <= v <= high + slack)


def power_of(low: float, high: float) -> int:
    """The power of ten in which numbers of a range are written: 0 where they are neither huge nor tiny."""
    largest = max(abs(low), abs(high))
    if not largest or not math.isfinite(largest) or SMALL <= largest < LARGE:
        return 0
    # Where the range is small beside the numbers, a power would only move their digits behind the point.
    if high - low < 1e-4 * largest:
        return 0
    return 3 * math.floor(math.log10(largest) / 3)


def labels(values: Sequence[float], power: int = 0) -> list[str]:
    """The values with as many decimals as tell them apart, and a true minus sign."""
    scaled = [value / 10.0**power for value in values]
    close = 1e-7 * max(_gap(scaled), 1e-300)
    decimals = next((d for d in range(13) if all(abs(v - round(v, d)) <= close for v in scaled)), 12)
    return [f"{round(v, decimals) + 0.0:.{decimals}f}".replace("-", MINUS) for v in scaled]


def _gap(values: Sequence[float]) -> float:
    if len(values) < 2:
        return abs(values[0]) if values else 0.0
    return min(b - a for a, b in pairwise(sorted(values)))


@lru_cache(maxsize=1024)
def across(low: float, high: float, room: float, size: float, most: int = 7, powers: bool = True) -> Ticks:
    """Ticks along a horizontal axis of a length: as many as stand beside each other. Without powers numbers are written
    out."""
    power = power_of(low, high) if powers else 0
    for count in range(most, 0, -1):
        values = _values(low, high, count)
        texts = labels(values, power)
        if not values:
            continue
        at = [(v - low) / (high - low) * room for v in values]
        half = [text_width(t, size) / 2 for t in texts]
        gaps = [b - q - (a + p) for a, b, p, q in zip(at, at[1:], half, half[1:])]
        if all(gap >= 0.6 * size for gap in gaps):
            return Ticks(tuple(Tick(v, t) for v, t in zip(values, texts)), power)
    return Ticks((), power)


@lru_cache(maxsize=1024)
def upward(low: float, high: float, room: float, size: float) -> Ticks:
    """Ticks along an upright axis of a length."""
    power = power_of(low, high)
    most = max(1, min(8, int(room / (2.2 * size))))
    values = _values(low, high, most)
    return Ticks(tuple(Tick(v, t) for v, t in zip(values, labels(values, power))), power)


def signed(mark: Tick, sign: int) -> str:
    """What stands at a mark on either side, and at 0 between them: “−5”, “0”, “+5”."""
    return "0" if not sign else f"{'+' if sign > 0 else MINUS}{mark.label}"


@lru_cache(maxsize=1024)
def one_mark(limit: float) -> Tick:
    """The one round number at which an axis from -limit to limit is marked on either side, within three quarters of
    it."""
    if not limit > 0:
        return Tick(1.0, "1")
    value = max(_values(0.0, 0.75 * limit, 2))
    return Tick(value, labels([value])[0])
