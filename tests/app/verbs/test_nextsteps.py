"""A waypoint that has nothing to show offers what to do next as a button, which does it."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.widgets.nextsteps import NextSteps
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term

EMPTY = (Waypoint.BLOCKS, Waypoint.CHECKS, Waypoint.PROBE, Waypoint.REPORT)


def offered(hands: Hands) -> list[QPushButton]:
    rows = [row for row in hands.window.findChildren(NextSteps) if row.isVisible()]
    return [button for row in rows for button in row.buttons]


def go(hands: Hands, study: Study, waypoint: Waypoint) -> list[str]:
    hands.place.session.open(study)
    hands.settle()
    hands.place.go(waypoint)
    hands.settle()
    return [button.text() for button in offered(hands)]


@pytest.mark.parametrize("waypoint", EMPTY)
def test_without_an_outcome_it_is_chosen(hands: Hands, demo: Study, waypoint: Waypoint) -> None:
    assert go(hands, new_study(demo.table), waypoint) == ["Choose an outcome", "Type a model"]
    for button in offered(hands):
        assert button.toolTip()
        assert button.accessibleName()
    QTest.mouseClick(offered(hands)[1], Qt.MouseButton.LeftButton)
    hands.settle()
    assert hands.place.session.desk.waypoint is Waypoint.BLOCKS
    assert hands.place.blocks.quick.field.hasFocus()


@pytest.mark.parametrize("waypoint", EMPTY)
def test_with_an_outcome_a_model_is_typed(hands: Hands, demo: Study, waypoint: Waypoint) -> None:
    assert go(hands, set_outcome(new_study(demo.table), "control"), waypoint) == ["Type a model"]


def test_without_a_product_two_variables_are_multiplied(hands: Hands, demo: Study) -> None:
    waypoint = Waypoint.PROBE
    study = set_outcome(new_study(demo.table), "control")
    study = set_blocks(study, [Block((Term(("age",)), Term(("practice",)), Term(("worry",))))])
    assert go(hands, study, waypoint) == ["Multiply two variables"]
    QTest.mouseClick(offered(hands)[0], Qt.MouseButton.LeftButton)
    hands.settle()
    assert hands.place.blocks.quick.field.text() == "practice x worry"
    hands.press("Enter")
    hands.settle()
    hands.place.go(waypoint)
    hands.settle()
    assert offered(hands) == [], "there is something to look at now"


def test_where_there_is_a_model_nothing_is_offered(demo_hands: Hands) -> None:
    for waypoint in Waypoint:
        demo_hands.place.go(waypoint)
        demo_hands.settle()
        assert offered(demo_hands) == []
