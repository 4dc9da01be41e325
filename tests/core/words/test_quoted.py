"""Labels that would be read as part of a sentence stand in quotation marks in findings, nowhere else."""

from __future__ import annotations

import pytest

from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.quoted import quoted, spoken
from yellow_slope.values import replace


@pytest.mark.parametrize(
    "label",
    ["by car", "mean of tests", "with a friend", "distance by car", "a", "afraid to fall and get hurt", "x + y", "?"],
)
def test_what_reads_on_is_quoted(label: str) -> None:
    assert quoted(label) == f"“{label}”"


@pytest.mark.parametrize("label", ["practice", "control score", "hours of practice", "x", "fear of falling", "bytes"])
def test_what_is_a_name_stays_as_it_is(label: str) -> None:
    assert quoted(label) == label


def test_what_is_in_quotes_is_not_quoted_again(demo: Study) -> None:
    assert quoted("the “by car” item") == "the “by car” item"
    assert spoken(demo) is demo
    renamed = replace(demo, variables=tuple(replace(v, label=f"by {v.label}") for v in demo.variables))
    assert [v.label for v in spoken(renamed).variables] == [f"“by {v.label}”" for v in demo.variables]
    assert spoken(spoken(renamed)).variables == spoken(renamed).variables
