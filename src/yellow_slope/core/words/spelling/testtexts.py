"""A test as it is written, wherever one stands: F with its degrees of freedom and p; of draws p alone; or why there is
none."""

from __future__ import annotations

from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.words.spelling.numerals import fixed, p_equals, p_relation
from yellow_slope.core.words.spelling.reasons import DASH, reason
from yellow_slope.core.words.spelling.rich import Run, sym


def f_text(test: FTest, decimals: int = 2) -> str:
    """“F(3, 206) = 4.02”; empty where there is no F."""
    return f"F({test.df1}, {test.df2}) = {fixed(test.f, decimals)}" if test.has_f else ""


def written_test(test: FTest, before: str = "", between: str = ", ", decimals: int = 2) -> str:
    """“F(3, 206) = 4.02, p = .008”, of draws “p = .008”; empty where there is no test. before: what F is headed by."""
    if not test.exists:
        return ""
    return f"{before}{f_text(test, decimals)}{between}{p_equals(test.p)}" if test.has_f else p_equals(test.p)


def written_or_why(test: FTest, before: str = "", between: str = ", ") -> str:
    """The same, or why there is no test."""
    return written_test(test, before, between) or f"no test ({reason(test.why)})"


def written_pieces(test: FTest) -> list[str | Run]:
    """The same with slanted symbols; where there is no test, why."""
    if not test.exists:
        return [f"not tested: {reason(test.why)}" if test.why is not None else "not tested"]
    p: list[str | Run] = [sym("p"), f" {p_relation(test.p)}"]
    if not test.has_f:
        return p
    return [sym("F"), f"({test.df1}, {test.df2}) = {fixed(test.f, 2)}, ", *p]


def written_cells(test: FTest) -> tuple[str, str]:
    """F and its degrees of freedom, each in a column of its own; dashes where there is no F."""
    return (fixed(test.f, 2), f"{test.df1}, {test.df2}") if test.has_f else (DASH, DASH)
