"""Typed numbers: a point and a comma mean the same, nothing else is guessed."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yellow_slope.core.typed import typed_number, typed_numbers, typed_whole


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("2.5", 2.5),
        ("2,5", 2.5),
        (" -.5 ", -0.5),
        ("−3", -3.0),
        ("+7", 7.0),
        ("1e−3", 0.001),
        ("5.", 5.0),
        *((text, None) for text in ("", "-", ".", "1_000", "0x10", "١٢", "²", "1e999", "nan", "inf", "1.2.3", "2 5")),
    ],
)
def test_a_number(text: str, value: float | None) -> None:
    assert typed_number(text) == value


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("5000", 5000),
        ("10,000", 10_000),
        ("10 000", 10_000),
        ("10.000", 10_000),
        ("1,234,567", 1_234_567),
        ("−3", -3),
        *((text, None) for text in ("", "1,0", "2.5", "1_000", "²", "9" * 5000, "1e3", "ten")),
    ],
)
def test_a_whole_number(text: str, value: int | None) -> None:
    assert typed_whole(text) == value


@pytest.mark.parametrize(
    ("text", "values"),
    [
        ("2 3.5 5", [2, 3.5, 5]),
        ("2, 3.5, 5", [2, 3.5, 5]),
        ("2,3,5", [2, 3, 5]),
        ("2,5; 3,5", [2.5, 3.5]),
        ("2,5 3,5", [2.5, 3.5]),
        ("0,5", [0.5]),
        ("3.9;1.7", [3.9, 1.7]),
        ("1 2 x", "x"),
        ("1 much 2", "much"),
        ("", ""),
    ],
)
def test_a_list_of_numbers(text: str, values: list[float] | str) -> None:
    assert typed_numbers(text) == values


@given(st.text(max_size=12))
def test_whatever_is_typed_is_a_number_or_none(text: str) -> None:
    value = typed_number(text)
    assert value is None or math.isfinite(value)
    whole = typed_whole(text)
    assert whole is None or isinstance(whole, int)
    assert isinstance(typed_numbers(text), (list, str))


@given(st.floats(allow_nan=False, allow_infinity=False))
def test_what_is_written_out_is_read_back(value: float) -> None:
    assert typed_number(repr(value)) == value
    assert typed_number(repr(value).replace(".", ",").replace("-", "−")) == value
