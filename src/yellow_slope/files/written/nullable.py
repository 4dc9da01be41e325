"""Numbers and tests of results: null where there is none."""

from __future__ import annotations

import math

from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.files.written.checkparts import Number, TestPart


def number(value: float) -> Number:
    """The number; null for one that does not exist."""
    return float(value) if math.isfinite(value) else None


def reason(why: Why | None) -> str | None:
    """Why something does not exist."""
    return None if why is None else str(why)


def test_part(test: FTest) -> TestPart:
    """A test."""
    return TestPart(f=number(test.f), df1=test.df1, df2=test.df2, p=number(test.p), why=reason(test.why))
