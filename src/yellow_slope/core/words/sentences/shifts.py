"""In words: why a coefficient changes much from one step to the next."""

from __future__ import annotations

import math

from yellow_slope.core.fit.asked.shifts import Shift, shift_of
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.study import zero_point
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.spelling.numerals import estimate_decimals, fixed, listed

MOST_TOLD = 3
MUCH = (0.8, 1.25)
"""Ratios of standard errors between which a change is not worth a sentence."""
LEAST = 0.05
"""Parts of the change that are smaller than this share of it are told together."""


def shift_sentence(read: Reader, step: int, column: int) -> str:
    """Why the coefficient is not what it was one step before; empty where it has not changed much."""
    found = shift_of(read.fit, step, column)
    if found is None or not found.is_much or not found.parts:
        return ""
    d = estimate_decimals(found.before_se, found.change)
    term = read.fit.design.columns[column].term
    said = f"In step {step} it was {fixed(found.before, d)}. Of the change of {fixed(found.change, d)}, "
    return f"{said}{listed(_parts(read, term, found, d))}.{_spread(read, step, column, found)}"


def _spread(read: Reader, step: int, column: int, found: Shift) -> str:
    """What became of the standard error, where that changed much; else empty."""
    before, now = found.before_se, read.fit.steps[step].coefficient(column).se
    if math.isnan(before) or math.isnan(now) or not before or MUCH[0] < now / before < MUCH[1]:
        return ""
    d = max(estimate_decimals(before), estimate_decimals(now))
    verb = "rose" if now > before else "fell"
    return f" Its standard error {verb} from {fixed(before, d)} to {fixed(now, d)}."


def _parts(read: Reader, term: Term, found: Shift, d: int) -> list[str]:
    """Each part with its reason: a new zero point for products of the term, shared variance for all others."""
    size = sum(abs(value) for _, value in found.parts)
    told = [(t, v) for t, v in found.parts[:MOST_TOLD] if abs(v) >= LEAST * size]
    asked = [(t, v) for t, v in told if t.contains(term)]
    shared = [(t, v) for t, v in told if not t.contains(term)]
    parts = [f"{fixed(v, d)} is due to {label(read.study, t)}" for t, v in asked]
    if asked:
        parts[-1] += f" ({_new_zero(read, term, [t for t, _ in asked])})"
    parts += [f"{fixed(v, d)} is variance shared with {label(read.study, t)}" for t, v in shared]
    rest = sum(v for t, v in found.parts if (t, v) not in told)
    if abs(rest) >= 0.5 * 10.0**-d:
        parts.append(f"{fixed(rest, d)} is due to other new terms")
    return parts


def _new_zero(read: Reader, term: Term, products: list[Term]) -> str:
    """“it now stands in the group “none”, at average worry (3.73)”."""
    partners: dict[str, None] = {}
    for product in products:
        rest = list(product.variables)
        for name in term.variables:
            rest.remove(name)
        partners |= dict.fromkeys(rest)
    places = [zero_point(read.study, read.fit.design.bases[name]) for name in partners]
    return f"it is now the effect {', '.join(places)}"
