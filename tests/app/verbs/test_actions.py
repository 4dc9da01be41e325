"""One table of actions: nothing twice, everything reachable, the page of keys is current."""

from __future__ import annotations

import pytest
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QAbstractButton, QAbstractScrollArea, QLabel, QLineEdit, QWidget

from tests.support.places import ROOT
from tests.support.windowdriver import Hands
from yellow_slope.app.frame.commandfinder import Finder
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.verbs.actions import Action, ActionTable, Menu, Scope, id_of, keys_page


def test_the_page_of_keys_is_made_from_the_table(hands: Hands) -> None:
    hands.place.build_all()
    assert (ROOT / "docs" / "keys.md").read_text() == keys_page(hands.place.actions_table)


@pytest.mark.parametrize("scope", [Scope.EVERYWHERE, Scope.TERMS])
def test_two_actions_never_share_a_key(scope: Scope) -> None:
    table = ActionTable()
    table.add(Action("A.one", "one", "does one", lambda: None, ("Ctrl+A",)))
    with pytest.raises(ValueError, match="share"):
        table.add(Action("A.two", "two", "does two", lambda: None, ("Ctrl+A",), scope))
    with pytest.raises(ValueError, match="two actions"):
        table.add(Action("B.one", "one", "again", lambda: None))
    with pytest.raises(ValueError, match="twice"):
        table.add(Action("A.one", "another", "again", lambda: None))


def test_every_action_has_a_key_or_stands_in_a_menu_or_the_finder(hands: Hands) -> None:
    hands.place.build_all()
    table = hands.place.actions_table
    bound = {a.text() for w in hands.window.findChildren(QWidget) for a in w.actions()}
    bound |= {a.text() for a in hands.window.actions()}
    for home in (hands.window, *hands.window.findChildren(QWidget)):
        heard = [key.toString() for action in home.actions() for key in action.shortcuts()]
        assert len(heard) == len(set(heard)), "a key that is bound twice at one place is heard by nobody"
    for action in table:
        assert action.title in bound
        assert len(action.help) > 8


def test_the_finder_finds_and_runs(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Ctrl+K")
    finder = window.findChild(Finder)
    assert finder is not None
    assert finder.isVisible()
    demo_hands.types("go to checks")
    assert window.place.session.desk.waypoint is Waypoint.CHECKS


def test_the_finder_gives_the_keyboard_back(demo_hands: Hands) -> None:
    before = demo_hands.focus()
    demo_hands.press("Ctrl+K")
    assert demo_hands.focus().accessibleName().startswith("Command finder")
    demo_hands.press("Escape")
    assert demo_hands.focus() is before


def test_the_finder_ranks_names_before_helps(demo_hands: Hands) -> None:
    found = demo_hands.place.actions_table.matching("center")
    assert found[0].name == "center"


def test_the_search_box_runs_a_command_where_no_variable_matches(demo_hands: Hands) -> None:
    demo_hands.press("Ctrl+F")
    demo_hands.types("redo")
    demo_hands.press("Ctrl+F")
    demo_hands.types("go to report")
    assert demo_hands.place.session.desk.waypoint is Waypoint.REPORT


@pytest.mark.parametrize("waypoint", Waypoint)
def test_every_control_has_a_name_and_a_tooltip(demo_hands: Hands, waypoint: Waypoint) -> None:
    window = demo_hands.window
    window.place.go(waypoint)
    demo_hands.settle()
    missing = []
    for widget in window.findChildren(QWidget):
        if not widget.isVisible() or widget.focusPolicy().value == 0 or type(widget).__name__.startswith("QScrollBar"):
            continue
        if not widget.accessibleName():
            missing.append(f"{type(widget).__name__} has no name: {widget.objectName()}")
        told = type(widget).event is not QWidget.event or isinstance(widget, QAbstractScrollArea | QLabel)
        if not widget.toolTip() and (isinstance(widget, QAbstractButton | QLineEdit) or not told):
            missing.append(f"{widget.accessibleName()} has no tooltip")
    assert not missing


def test_menus_are_made_from_the_table(demo_hands: Hands) -> None:
    window = demo_hands.window
    texts = [a.text() for a in window.place.menus.menu(Menu.STUDY).actions() if isinstance(a, QAction)]
    assert texts == [a.title for a in window.place.actions_table.menu(Menu.STUDY)]


def test_without_a_study_no_action_makes_one_or_fails(hands: Hands) -> None:
    place = hands.place
    place.build_all()
    ask = {place.fileactions.browse, place.fileactions.paste, place.fileactions.open_demo, place.fileactions.quit}
    ask |= {place.happened.show, place.navigation.find_command}
    asks = {id_of(method) for method in ask}
    found = [action for action in place.actions_table if action.available() and action.id not in asks]
    assert len(found) > 30
    assert "save" not in {action.name for action in found}
    for action in found:
        action.run()
        hands.settle()
    session = place.session
    assert not session.is_open
    assert session.is_saved
    assert session.undo_name == ""
    assert session.study.table.columns == ()
    place.blocks.quick.begin("y = x")
    hands.settle()
    assert not session.is_open
