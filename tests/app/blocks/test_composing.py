"""Composing by hand: sets multiplied, parts, powers, orders; blocks ordered, split, merged, switched; the model as a
line."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from yellow_slope.app.blocks.sheet import RowChange, RowKind
from yellow_slope.app.state.desk import Cell
from yellow_slope.core.quickline import read_line
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.demo.learners import TABLE


@pytest.fixture
def blank(hands: Hands) -> Hands:
    """The demo's table at Blocks, with its outcome and nothing entered."""
    hands.types(str(TABLE))
    hands.press("Alt+3")
    hands.press("Ctrl+L")
    hands.types("control = practice")
    hands.press("Ctrl+L")
    hands.types("without practice")
    hands.place.roster.setFocus()
    return hands


def model(hands: Hands) -> list[list[str]]:
    study = hands.place.session.study
    return [["*".join(t.variables) for t in block.terms] for block in study.model.blocks]


def choose(hands: Hands, *variables: str) -> None:
    """Choose in the roster with clicks."""
    roster = hands.place.roster
    viewport = roster.viewport()
    assert viewport is not None
    for i, variable in enumerate(variables):
        area = roster.row_rect(variable)
        assert area is not None
        roster.setFocus()
        hands.clicks(viewport, area.center(), ctrl=i > 0)


def go_to(hands: Hands, *variables: str) -> None:
    """Click a term's row in the ladder."""
    ladder = hands.place.blocks.ladder
    hands.clicks(ladder.viewport(), hands.place_of(*variables))
    ladder.setFocus()


def test_two_sets_are_multiplied_each_with_each(blank: Hands) -> None:
    choose(blank, "practice", "worry")
    blank.press("E")
    assert "2 terms kept" in blank.place.session.message
    choose(blank, "age", "coaching")
    blank.press("E")
    assert model(blank)[-1] == ["practice*age", "practice*coaching", "worry*age", "worry*coaching"]
    assert blank.place.session.desk.waiting == ()
    blank.press("Ctrl+Z")
    assert model(blank) == []


def test_the_second_press_without_a_choice_says_what_to_do(blank: Hands) -> None:
    choose(blank, "practice")
    blank.press("E")
    blank.place.session.look(chosen=(), clicked=None, variable=None)
    blank.press("E")
    assert "second set" in blank.place.session.message
    assert model(blank) == []


def test_a_product_with_its_parts_and_without(blank: Hands) -> None:
    choose(blank, "practice", "coaching")
    blank.press("Shift+X")
    assert model(blank) == [["practice", "coaching"], ["practice*coaching"]]
    blank.press("Ctrl+Z")
    choose(blank, "practice", "coaching")
    blank.press("X")
    assert model(blank) == [["practice*coaching"]], "parts are refused where nobody asks for them"
    assert any(f.key.kind is FlagKind.PARTS for f in blank.place.session.view.flags)  # type: ignore[union-attr]


def test_all_products_up_to_an_order(blank: Hands) -> None:
    blank.place.dialogs.number = lambda *a: 3.0  # type: ignore[method-assign]
    choose(blank, "practice", "worry", "age")
    blank.press("U")
    assert model(blank) == [
        ["practice", "worry", "age"],
        ["practice*worry", "practice*age", "worry*age"],
        ["practice*worry*age"],
    ]
    choose(blank, "practice")
    blank.press("U")
    assert "two or more" in blank.place.session.message


def test_powers_follow_one_another_and_groups_have_none(blank: Hands) -> None:
    choose(blank, "age")
    blank.press("P")
    assert model(blank) == [["age"], ["age*age"]]
    go_to(blank, "age", "age")
    blank.press("P")
    assert model(blank)[-1][-1] == "age*age*age"
    ladder = blank.place.blocks.ladder
    assert any(row.text == "age²" for row in ladder.sheet.rows)
    choose(blank, "coaching")
    before = model(blank)
    blank.press("P")
    assert model(blank) == before
    assert blank.place.session.message


def test_no_intercept_and_back(blank: Hands) -> None:
    choose(blank, "practice")
    blank.press("Enter")
    blank.press("I")
    assert blank.place.session.study.model.constant is False
    last = blank.place.blocks.ladder.sheet.rows[-1]
    assert last.text == "no intercept: the fit goes through the origin"
    assert [key.kind for key in last.flags] == [FlagKind.NO_INTERCEPT]
    blank.press("I")
    assert blank.place.session.study.model.constant is True


@pytest.fixture
def three(blank: Hands) -> Hands:
    """Three blocks."""
    blank.press("Ctrl+L")
    blank.types('control = "first": age, balance; practice, worry; practice x worry')
    return blank


def test_blocks_are_moved_by_their_row(three: Hands) -> None:
    go_to(three, "practice")
    three.press("Ctrl+Shift+Up")
    assert model(three) == [["practice", "worry"], ["age", "balance"], ["practice*worry"]]
    three.press("Ctrl+Shift+Down")
    three.press("Ctrl+Shift+Down")
    assert model(three)[-1] == ["practice", "worry"]
    three.press("Ctrl+Shift+Down")
    assert model(three)[-1] == ["practice", "worry"], "it is the last"
    assert three.place.session.message


def test_blocks_are_split_and_merged(three: Hands) -> None:
    go_to(three, "balance")
    three.press("S")
    assert model(three)[:2] == [["age"], ["balance"]]
    go_to(three, "balance")
    three.press("M")
    assert model(three) == [["age", "balance"], ["practice", "worry"], ["practice*worry"]]
    assert three.place.session.study.model.blocks[0].name == "first"
    go_to(three, "age")
    three.press("M")
    assert three.place.session.message, "there is none before it"


def test_a_block_is_switched_off_for_a_moment(three: Hands) -> None:
    go_to(three, "practice", "worry")
    three.press("B")
    study, view = three.place.session.study, three.place.session.view
    assert view is not None
    assert not study.model.blocks[2].on
    assert view.fit is not None
    assert len(view.fit.steps) == 2
    assert any("off" in row.text for row in three.place.blocks.ladder.sheet.rows if row.kind is RowKind.BLOCK)
    three.place.blocks.ladder.setFocus()
    three.place.session.look(cell=Cell(2))
    three.press("B")
    assert len(three.place.session.view.fit.steps) == 3  # type: ignore[union-attr]


def test_without_a_row_the_verbs_of_blocks_say_what_they_need(three: Hands) -> None:
    three.place.blocks.ladder.setFocus()
    for chord in ("S", "M", "B", "Ctrl+Shift+Up"):
        three.place.session.look(cell=None, chosen=(), clicked=None)
        three.place.session.say("")
        before = model(three)
        three.press(chord)
        assert model(three) == before
        assert "first" in three.place.session.message


def test_the_model_goes_out_as_a_line(three: Hands) -> None:
    three.press("Ctrl+Shift+T")
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    line = clipboard.text()
    study = three.place.session.study
    assert line == "control = “first”: age, balance; practice, worry; practice x worry"
    again = read_line(study, line)
    assert again.mistake is None
    three.place.inference.hc3()
    three.settle()
    three.press("Ctrl+Shift+T")
    assert "does not include the kind of standard errors" in three.place.session.message


def test_what_a_line_would_do_stands_pale_and_enter_makes_it_solid(three: Hands) -> None:
    ladder, quick = three.place.blocks.ladder, three.place.blocks.quick
    three.press("Ctrl+L")
    QTest.keyClicks(three.focus(), "without worry; practice x age")
    three.settle()
    assert ladder.coming is not None
    changed = {row.text: row.change for row in ladder.sheet.rows if row.change}
    assert changed["worry"] is RowChange.LEAVES
    assert changed["practice × age"] is RowChange.COMES
    assert len(model(three)) == 3, "nothing is done yet"
    assert not quick.echo.text, "below the field stand mistakes only"
    three.clicks(ladder.viewport(), QPoint(60, 90))
    assert len(model(three)) == 3, "a click on what is only coming does nothing"
    quick.field.setFocus()
    QTest.keyClick(three.focus(), Qt.Key.Key_Escape)
    three.settle()
    assert ladder.coming is None
    assert all(not row.change for row in ladder.sheet.rows)
