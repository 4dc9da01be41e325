"""Numbers as they are written: true minus signs, APA decimals, no leading zero where a value cannot pass 1."""

from __future__ import annotations

import math
from collections.abc import Sequence

MINUS = "−"
NONE = "–"
DIGIT_SPACE = "\u2007"
"""As wide as a digit; stands for decimals that a number in a column does not have."""


MOST_DECIMALS = 8
FEW_DIGITS = 1e-6
"""Of what is smaller, eight decimals would show no more than two digits."""


def fixed(value: float, decimals: int = 2) -> str:
    """A number with that many decimals and a true minus sign; a dash for NaN; no “−0.00”; of what is too small for
    eight decimals its first digits."""
    if math.isnan(value):
        return NONE
    if math.isinf(value):
        return "∞" if value > 0 else f"{MINUS}∞"
    if value != 0 and abs(value) >= 1e9:
        return f"{value:.3e}".replace("-", MINUS)
    if decimals >= MOST_DECIMALS and 0 < abs(value) < FEW_DIGITS:
        return f"{value:.2e}".replace("-", MINUS)
    text = f"{value:.{decimals}f}"
    if text.startswith("-"):
        text = text[1:] if float(text) == 0 else MINUS + text[1:]
    return text


def bounded(value: float, decimals: int = 3) -> str:
    """A value that cannot pass 1 in size, without its leading zero (.081, −.12)."""
    text = fixed(value, decimals)
    if text.startswith("0."):
        return text[1:]
    return MINUS + text[2:] if text.startswith(MINUS + "0.") else text


def f2_text(f2: float) -> str:
    """An effect size f², which may pass 1: with its leading zero."""
    return fixed(f2, 3 if f2 < 1 else 2)


LEVELS = (0.05, 0.01)
"""Levels that a p is read against: one that lies beside them is written with the digit that decides."""


def p_value(p: float) -> str:
    """A p value in APA style: three decimals, “< .001” below and “> .999” above that; more where it would be written as
    a level itself."""
    if math.isnan(p):
        return NONE
    if p < 0.001:
        return "< .001"
    if p >= 0.9995:
        return "> .999"
    decimals = 3
    for level in LEVELS:
        while decimals < MOST_DECIMALS and p != level and round(p, decimals) == level:
            decimals += 1
    return bounded(p, decimals)


def p_relation(p: float) -> str:
    """“= .015”, “< .001” or “> .999”."""
    text = p_value(p)
    return text if text[0] in "<>" else f"= {text}"


def p_equals(p: float) -> str:
    """“p = .015” or “p < .001”."""
    return f"p {p_relation(p)}"


def t_and_p(t: float, df: int, p: float) -> str:
    """“t(206) = 2.95, p = .004”; p alone where errors come from resamples, for then there is no t."""
    return p_equals(p) if math.isnan(t) else f"t({df}) = {fixed(t, 2)}, {p_equals(p)}"


COARSE = 0.02
"""A standard error from which two decimals say enough."""


def estimate_decimals(se: float, *values: float, least: int = 2) -> int:
    """Decimals for an estimate, in tables and sentences alike: two (or as many as were chosen), more where the
    standard error is small.

    So many that none of the values (the estimate, its bounds) is written as 0 unless it is 0.
    """
    decimals = least
    if 0 < se < COARSE * 10.0 ** (2 - least):
        decimals = min(MOST_DECIMALS, max(least, 1 - math.floor(math.log10(se))))
    sizes = [abs(v) for v in values if v and not math.isnan(v) and not math.isinf(v)]
    if sizes and min(sizes) > 1e-8:
        while decimals < MOST_DECIMALS and min(sizes) < 0.5 * 10.0**-decimals:
            decimals += 1
    return decimals


def place_decimals(sd: float) -> int:
    """Decimals for a value on a variable's own scale, from its standard deviation."""
    if not sd > 0 or math.isinf(sd):
        return 2
    return min(8, max(0, 2 - math.floor(math.log10(1.5 * sd))))


def place(value: float, sd: float) -> str:
    """A value on a variable's own scale."""
    return fixed(value, place_decimals(sd))


def percent(share: float, decimals: int = 0) -> str:
    """A share in percent, as in “40%”."""
    return NONE if math.isnan(share) else f"{fixed(100 * share, decimals)}%"


def level_text(level: float) -> str:
    """A confidence level, as in “95%”."""
    return f"{100 * level:g}%"


def interval(low: float, high: float, decimals: int) -> str:
    """“1.35 to 4.05”."""
    return f"{fixed(low, decimals)} to {fixed(high, decimals)}"


def bracketed(low: float, high: float, decimals: int) -> str:
    """“[−1.95, −0.90]”, as intervals stand in a report."""
    return f"[{fixed(low, decimals)}, {fixed(high, decimals)}]"


def bracketed_bounds(low: float, high: float) -> str:
    """“[.06, .20]”, of what cannot exceed 1."""
    return f"[{bounded(low, 2)}, {bounded(high, 2)}]"


def counted(n: int, one: str, many: str = "") -> str:
    """“1 case”, “18 cases”."""
    return f"{n:,} {one if n == 1 else many or one + 's'}"


def listed(texts: list[str], last: str = "and") -> str:
    """“a”, “a and b”, “a, b and c”."""
    if len(texts) < 2:
        return "".join(texts)
    return f"{', '.join(texts[:-1])} {last} {texts[-1]}"


def listed_some(texts: Sequence[str], most: int) -> str:
    """The first of many, and how many more there are: “a, b and 3 more”."""
    more = len(texts) - most
    return listed([*texts[:most], f"{more} more"] if more > 0 else list(texts))


def number_or_place(value: float) -> str:
    """A zero point or scale in an equation: six significant digits, without trailing zeros."""
    return f"{value:.6g}".replace("-", MINUS)


def exact(value: float) -> str:
    """A number that somebody typed, with all its digits."""
    return f"{value:.15g}".replace("-", MINUS)


def with_decimals(value: float, decimals: int) -> str:
    """A number with that many decimals, as one reckons with it: without a limit to them, in powers of ten where there
    are too many to be read."""
    size = math.floor(math.log10(abs(value))) if value else 0
    if value and (decimals > MOST_DECIMALS or size >= 9):
        return f"{value:.{max(0, decimals + size)}e}".replace("-", MINUS)
    return fixed(value, decimals)


def written_value(text: str) -> float:
    """The number that was written."""
    return float(text.replace(MINUS, "-"))


def padded(text: str, missing: int) -> str:
    """The text with room for that many decimals, so that a right-aligned column stands at its decimal points."""
    return text + DIGIT_SPACE * missing


def aligned(texts: list[str]) -> list[str]:
    """A column of numbers, each padded to the decimals of the one that has most; texts without a figure stay."""
    bare = [text.rstrip("*") for text in texts]
    places = [len(text.rpartition(".")[2]) if "." in text and text[-1:].isdigit() else 0 for text in bare]
    marks = [len(text) - len(one) for text, one in zip(texts, bare)]
    most, starred = max(places, default=0), max(marks, default=0)
    found = []
    for text, one, n, m in zip(texts, bare, places, marks):
        is_number = one[-1:].isdigit() and "." in one
        found.append(padded(one, most - n) + text[len(one) :] + padded("", starred - m) if is_number else text)
    return found
