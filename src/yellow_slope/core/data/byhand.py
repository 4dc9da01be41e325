"""Columns that somebody made by hand from others of the file: indicators of groups, centered numbers, products.

They are found by their values, not by their names; what is found of a table is remembered with it.
"""

from __future__ import annotations

import weakref
from itertools import combinations

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray
from yellow_slope.core.data.table import NumberColumn, Table, TextColumn, number_text
from yellow_slope.values import dataclass

FEWEST_LEVELS, MOST_LEVELS = 3, 24
MOST_FACTORS = 120
"""Among more columns products are not looked for: there would be too many pairs."""
MOST_INDICATORS = 400
MOST_COMPARED = 5000
"""Products compared row by row: in a table where more look like one, none is what somebody made."""
PROBES, MOST_LOOKED = 12, 2000
"""Rows by which pairs are told apart before all rows are compared: the best filled of so many."""
NEAR_ZERO = 0.3
"""A column made by centering averages less than this many SDs."""


@dataclass(frozen=True, slots=True)
class IndicatorSet:
    """Columns of 0 and 1 that say which group a case is in."""

    columns: tuple[str, ...]
    of: str | None
    """The column whose groups they indicate; None: that of no other column."""
    codes: tuple[str, ...]
    """The code that each indicates; empty where they are of no other column."""
    is_whole: bool
    """Whether every case is in exactly one of them: they then say what a constant says."""


@dataclass(frozen=True, slots=True)
class Shifted:
    """A column that is (source - shift) / scale."""

    column: str
    source: str
    shift: float
    scale: float


@dataclass(frozen=True, slots=True)
class HandProduct:
    """A column that is the product of two others."""

    column: str
    factors: tuple[str, str]


@dataclass(frozen=True, slots=True)
class ByHand:
    """All that was found in a table."""

    indicators: tuple[IndicatorSet, ...] = ()
    shifted: tuple[Shifted, ...] = ()
    multiplied: tuple[HandProduct, ...] = ()


_known: weakref.WeakKeyDictionary[Table, ByHand] = weakref.WeakKeyDictionary()


def made_by_hand(table: Table) -> ByHand:
    """What somebody made by hand in a table."""
    if table not in _known:
        numbers = [c for c in table.columns if isinstance(c, NumberColumn) and not c.stray]
        shifted = _shifted(numbers)
        _known[table] = ByHand(_indicators(table, numbers), shifted, _multiplied(numbers, {s.column for s in shifted}))
    return _known[table]


def made_by_computing(numbers: list[NumberColumn], computed: frozenset[str]) -> ByHand:
    """Which computed columns are products of two of these numbers, or one of them with another zero and unit."""
    shifted = tuple(s for s in _shifted(numbers) if s.column in computed)
    multiplied = _multiplied(numbers, {s.column for s in shifted})
    return ByHand((), shifted, tuple(m for m in multiplied if m.column in computed))


# ---- indicators


def is_indicator(values: FloatArray) -> bool:
    """Whether a column holds 0 and 1, both of them, and nothing else."""
    here = values[~np.isnan(values)]
    return bool(here.size and here.min() == 0.0 and here.max() == 1.0 and np.all((here == 0.0) | (here == 1.0)))


def _indicators(table: Table, numbers: list[NumberColumn]) -> tuple[IndicatorSet, ...]:
    ones = [c for c in numbers if is_indicator(c.numbers)][:MOST_INDICATORS]
    if len(ones) < 2:
        return ()
    by_value = {_key(c.numbers): c.name for c in reversed(ones)}
    found: list[IndicatorSet] = []
    taken: set[str] = set()
    for column in table.columns:
        if column.name in by_value.values():
            continue
        masks = _levels(column)
        if masks is None:
            continue
        missing, levels = masks
        here: list[tuple[str, str]] = []
        for code, mask in levels:
            plain = mask.astype(np.float64)
            name = by_value.get(_key(np.where(missing, np.nan, plain))) or by_value.get(_key(plain))
            if name is not None and name not in taken:
                here.append((name, code))
        if len(here) >= 2 and not {name for name, _ in here} & taken:
            taken |= {name for name, _ in here}
            found.append(
                IndicatorSet(
                    tuple(n for n, _ in here), column.name, tuple(c for _, c in here), len(here) == len(levels)
                )
            )
    left = [c for c in ones if c.name not in taken]
    found += _of_each_other(left, [c.name for c in table.columns])
    return tuple(found)


def _key(values: FloatArray) -> tuple[bytes, bytes]:
    return np.packbits(values == 1.0).tobytes(), np.packbits(np.isnan(values)).tobytes()


def _levels(column: object) -> tuple[BoolArray, list[tuple[str, BoolArray]]] | None:
    """Where a column of few values has none, and where it has each of them; None for any other column."""
    if isinstance(column, TextColumn):
        if not FEWEST_LEVELS <= len(column.texts) <= MOST_LEVELS:
            return None
        return column.codes < 0, [(text, column.codes == i) for i, text in enumerate(column.texts)]
    if not isinstance(column, NumberColumn):
        return None
    here = column.numbers[~np.isnan(column.numbers)]
    if here.size == 0 or not np.array_equal(here, np.rint(here)) or np.ptp(here) > 1000:
        return None
    values = np.unique(here)
    if not FEWEST_LEVELS <= values.size <= MOST_LEVELS:
        return None
    return np.isnan(column.numbers), [(number_text(float(v)), column.numbers == v) for v in values]


def _of_each_other(ones: list[NumberColumn], order: list[str]) -> list[IndicatorSet]:
    """Columns that stand side by side, of which each case has exactly one; or at most one, under names of one stem."""
    place = {name: i for i, name in enumerate(order)}
    found: list[IndicatorSet] = []
    i = 0
    while i < len(ones) - 1:
        total = np.nan_to_num(ones[i].numbers)
        missing = np.isnan(ones[i].numbers)
        best: tuple[int, bool] | None = None
        for j in range(i + 1, len(ones)):
            if place[ones[j].name] - place[ones[j - 1].name] > 1 or not np.array_equal(
                missing, np.isnan(ones[j].numbers)
            ):
                break
            total = total + np.nan_to_num(ones[j].numbers)
            if total.max() > 1:
                break
            if bool(np.all(total[~missing] == 1)):
                best = (j, True)
                break
            if stem([c.name for c in ones[i : j + 1]]):
                best = (j, False)
        if best is None:
            i += 1
            continue
        found.append(IndicatorSet(tuple(c.name for c in ones[i : best[0] + 1]), None, (), best[1]))
        i = best[0] + 1
    return found


def stem(names: list[str]) -> str:
    """What names begin with in common, without what parts it from the rest; empty where that is too little."""
    first, last = min(names), max(names)
    n = 0
    while n < min(len(first), len(last)) and first[n] == last[n]:
        n += 1
    found = first[:n].rstrip("0123456789_-. =")
    return (
        found
        if len(found) >= 3 or (found and all(name[len(found) : len(found) + 1] in set("_-. ") for name in names))
        else ""
    )


# ---- centered and multiplied


def _tolerance(values: FloatArray) -> float:
    """How far a cell may be off what it was computed as: half of its last written digit, or rounding."""
    size = float(np.nanmax(np.abs(values)))
    for decimals in range(7):
        scaled = values * 10.0**decimals
        if np.allclose(scaled, np.rint(scaled), rtol=0, atol=1e-6 * max(1.0, size), equal_nan=True):
            return 0.5001 * 10.0**-decimals if decimals else 1e-9 * max(1.0, size)
    return 1e-9 * max(1.0, size)


def _shifted(columns: list[NumberColumn]) -> tuple[Shifted, ...]:
    """Pairs whose lowest and highest values stand in the same rows, one of them about zero and the other not."""
    centered: dict[tuple[int, int, int], list[NumberColumn]] = {}
    others: dict[tuple[int, int, int], list[NumberColumn]] = {}
    for column in columns:
        values = column.numbers
        n = int((~np.isnan(values)).sum())
        if n < 4:
            continue
        low, high = int(np.nanargmin(values)), int(np.nanargmax(values))
        if values[low] == values[high]:
            continue
        with np.errstate(over="ignore"):
            off = abs(float(np.nanmean(values)))
            about_zero = off <= NEAR_ZERO * float(np.nanstd(values))
        (centered if about_zero else others).setdefault((low, high, n), []).append(column)
    found: list[Shifted] = []
    for place, some in centered.items():
        for made in some:
            pairs = (_is_shifted(made, source) for source in others.get(place, ()))
            pair = next((p for p in pairs if p is not None), None)
            if pair is not None:
                found.append(pair)
    return tuple(found)


def _is_shifted(made: NumberColumn, source: NumberColumn) -> Shifted | None:
    m, x = made.numbers, source.numbers
    here = ~np.isnan(x)
    if not np.array_equal(here, ~np.isnan(m)):
        return None
    m, x = m[here], x[here]
    sd = float(m.std(ddof=1))
    scale = float(np.ptp(x) / np.ptp(m))
    plain = abs(scale - 1.0) < 1e-3
    if not plain and abs(sd - 1.0) > 0.02:
        return None
    scale = 1.0 if plain else scale
    shift = float(np.mean(x - scale * m))
    slack = (_tolerance(m) * scale + (0.0 if plain else abs(scale) * 2e-3 * float(np.abs(m).max()))) + 1e-12 * float(
        np.abs(x).max()
    )
    if np.abs(x - scale * m - shift).max() > 2 * slack:
        return None
    return Shifted(made.name, source.name, shift, scale)


def _multiplied(columns: list[NumberColumn], shifted: set[str]) -> tuple[HandProduct, ...]:
    able = [c for c in columns if np.isfinite(c.numbers).any() and np.nanmax(c.numbers) != np.nanmin(c.numbers)]
    if not 3 <= len(able) <= MOST_FACTORS:
        return ()
    n = len(able[0])
    looked = np.unique(np.linspace(0, n - 1, min(n, MOST_LOOKED)).astype(np.int64))
    sample = np.column_stack([c.numbers[looked] for c in able])
    filled = np.argsort(np.isnan(sample).sum(axis=1), kind="stable")
    pairs = np.array(list(combinations(range(len(able)), 2)))
    found: list[HandProduct] = []
    left = MOST_COMPARED
    for k, column in enumerate(able):
        slack = _tolerance(sample[:, k]) if np.isfinite(sample[:, k]).any() else 0.0
        # Where most of a column is 0, nearly all pairs agree with it: the rows where it is not tell them apart.
        telling = np.flatnonzero(np.nan_to_num(sample[:, k]))
        telling = telling[np.linspace(0, telling.size - 1, min(telling.size, PROBES)).astype(np.int64)]
        at = sample[np.union1d(filled[:PROBES], telling)]
        with np.errstate(over="ignore", invalid="ignore"):
            off = np.abs(at[:, pairs[:, 0]] * at[:, pairs[:, 1]] - at[:, [k]])
        near = np.all((off <= slack * 2 + 1e-9 * np.abs(at[:, [k]])) | np.isnan(off), axis=0)
        near &= ~np.all(np.isnan(off), axis=0)
        for a, b in pairs[np.flatnonzero(near)]:
            left -= 1
            if left < 0:
                return tuple(found)
            own, one, other = column.numbers, able[int(a)].numbers, able[int(b)].numbers
            if k not in (a, b) and _is_product(own, one, other, _tolerance(own)):
                names = (able[int(a)].name, able[int(b)].name)
                found.append(HandProduct(column.name, names))
                break
    return tuple(found)


def _is_product(made: FloatArray, a: FloatArray, b: FloatArray, slack: float) -> bool:
    here = ~(np.isnan(a) | np.isnan(b) | np.isnan(made))
    if int(here.sum()) < 4 or int(here.sum()) < 0.9 * int((~np.isnan(made)).sum()):
        return False
    made, a, b = made[here], a[here], b[here]
    if np.ptp(made) == 0 or np.array_equal(made, a) or np.array_equal(made, b):
        return False
    with np.errstate(over="ignore", invalid="ignore"):
        return bool(np.all(np.abs(a * b - made) <= 2 * slack + 1e-9 * np.abs(made)))
