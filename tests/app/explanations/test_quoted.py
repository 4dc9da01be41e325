"""Labels that would be read as part of a sentence are quoted in the foot, as they are in the report."""

from __future__ import annotations

import pytest

from tests.support.windowdriver import Hands
from yellow_slope.app.explanations.explanation import explanation
from yellow_slope.app.state.desk import Cell, Waypoint
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term


@pytest.fixture
def by_car(demo: Study) -> Study:
    """The demo with labels that read on."""
    return describe(describe(demo, "practice", label="by car"), "worry", label="mean of tests")


@pytest.mark.parametrize("waypoint", [Waypoint.BLOCKS, Waypoint.PROBE, Waypoint.CHECKS])
def test_the_foot_quotes_what_reads_on(hands: Hands, by_car: Study, waypoint: Waypoint) -> None:
    hands.place.session.open(by_car)
    hands.settle()
    hands.place.go(waypoint)
    hands.settle()
    if waypoint is Waypoint.BLOCKS:
        product = Term(("practice", "worry"))
        home = by_car.model.block_of(product)
        assert home is not None
        hands.place.session.look(cell=Cell(home, product, None))
        hands.settle()
    shown = explanation(hands.place.session)
    assert "“by car”" in shown.text or waypoint is Waypoint.CHECKS, shown.text
    for label in ("by car", "mean of tests"):
        assert label not in shown.text.replace(f"“{label}”", ""), shown.text
    names = [v.label for v in hands.place.session.study.variables]
    assert "by car" in names, "the variable itself keeps its name"
