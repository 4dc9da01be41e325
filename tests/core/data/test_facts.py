"""What is a fact of a column is asked once for each."""

from __future__ import annotations

import gc
import weakref

import numpy as np

from yellow_slope.core.data.facts import asked_once
from yellow_slope.core.data.guessing import why_identifier
from yellow_slope.core.data.table import NumberColumn, number_column


def test_it_is_asked_once_and_forgotten_with_its_column() -> None:
    asked = []

    @asked_once
    def largest(column: NumberColumn) -> float:
        asked.append(column.name)
        return float(column.numbers.max())

    one, other = number_column("one", np.arange(4.0)), number_column("other", np.arange(9.0))
    assert [largest(one), largest(other), largest(one), largest(one)] == [3.0, 8.0, 3.0, 3.0]
    assert asked == ["one", "other"]
    left = weakref.ref(one)
    del one
    gc.collect()
    assert left() is None


def test_the_same_numbers_under_another_name_are_another_column() -> None:
    numbers = np.arange(1.0, 301.0)
    assert why_identifier(number_column("learner_id", numbers))
    assert why_identifier(number_column("year", numbers)) == ""
