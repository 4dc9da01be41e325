"""What a person met first and should not meet again: freezes, choices that get lost, silence, markup in names."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QLabel, QMessageBox

from tests.support.clock import Watch
from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from tests.support.worlds import blocks_of, noise_world, study_of, term
from yellow_slope import looks
from yellow_slope.app.state.desk import Cell, Waypoint
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.probe.seen import AtPlace, Seen
from yellow_slope.core.study.edits.blocks import set_blocks, take_out
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, CENTERED


def opened(hands: Hands, study: Study) -> None:
    hands.place.session.open(study)
    hands.settle(60)


def many_groups(k: int, n: int = 1200) -> Study:
    rng = np.random.default_rng(3)
    world = {"g": rng.integers(0, k, n).astype(float), "x": rng.normal(size=n), "y": rng.normal(size=n)}
    study = set_kind(study_of(world, "y", "x"), "g", Kind.GROUP)
    return set_blocks(study, blocks_of("x, g; x*g"))


def test_many_groups_in_a_product_never_stop_the_window(hands: Hands) -> None:
    opened(hands, many_groups(120))
    for waypoint in Waypoint:
        hands.place.go(waypoint)
        end = time.monotonic() + 60
        while not hands.window.worker.is_idle and time.monotonic() < end:
            watch = Watch()
            hands.app.processEvents()
            assert not watch.is_over(3.0), f"{waypoint} stopped the window"
            time.sleep(0.001)
        hands.settle(60)
        watch = Watch()
        hands.window.grab()
        assert not watch.is_over(3.0)
    assert len(hands.place.blocks.ladder.sheet.rows) < 20


def test_before_a_column_becomes_many_groups_the_program_asks(hands: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    rng = np.random.default_rng(4)
    world = {"x": np.round(rng.normal(size=200), 2), "w": rng.normal(size=200), "y": rng.normal(size=200)}
    opened(hands, study_of(world, "y", "x, w; x*w"))
    asked: list[str] = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: asked.append(box.text()))
    hands.place.session.look(variable="x")
    hands.place.roster.setFocus()
    hands.press("G")
    k = len(np.unique(world["x"]))
    assert asked == [
        f"x has {k} different values: as groups it would make {k - 1} comparisons and {2 * (k - 1)} columns in the "
        "model."
    ]
    study = hands.place.session.study
    assert study.variable("x").kind is Kind.NUMBER, "a closed dialog changes nothing"


def test_cases_of_leverage_1_are_drawn_without_a_coordinate_that_is_not_finite(hands: Hands) -> None:
    rng = np.random.default_rng(5)
    groups = [f"alone {i}" for i in range(8)] + ["together"] * 28
    y = rng.normal(size=36)
    y[:8] += 20
    study = study_of({"x": rng.normal(size=36), "g": groups, "y": y}, "y", "x, g")
    opened(hands, study)
    hands.press("Alt+4")
    hands.window.grab()
    hands.settle()
    assert "8 of 36 cases have a leverage of 1" in hands.sentence()
    perfect = np.arange(1.0, 20)
    opened(hands, study_of({"x": perfect, "y": 2 * perfect + 1}, "y", "x"))
    hands.press("Alt+4")
    hands.settle()
    hands.window.grab()
    assert "residuals cannot be studentized" in hands.sentence()


def test_names_of_a_file_are_plain_text(hands: Hands, tmp_path: Path) -> None:
    world = noise_world(120)
    study = study_of(world, "y", "x, w; x*w")
    for name, label in (("x", "<img src='nowhere.png'>price ($)"), ("w", "cost ($) & $\\frac{a$"), ("y", "<b>y</b>")):
        study = describe(study, name, label=label)
    opened(hands, study)
    for waypoint in Waypoint:
        hands.place.go(waypoint)
        hands.settle()
        hands.window.grab()
        for text in hands.window.findChildren(QLabel):
            if "<img" in text.text() or "<b>" in text.text():
                assert text.textFormat() is Qt.TextFormat.PlainText, (waypoint, text.accessibleName())
    hands.place.go(Waypoint.PROBE)
    hands.place.exports.write_figures(str(tmp_path / "f.svg"))
    hands.settle()
    assert (tmp_path / "f.svg").exists(), hands.place.session.message


def test_the_printed_page_stays_white_in_the_dark(demo_hands: Hands) -> None:
    demo_hands.press("Ctrl+Shift+L")
    demo_hands.press("Alt+6")
    page = demo_hands.place.report.page
    image = page.grab().toImage()
    try:
        assert image.pixelColor(image.width() - 30, 6).name() == looks.LIGHT.panel.lower()
        assert page.palette().text().color().name() == looks.LIGHT.ink.lower()
    finally:
        demo_hands.press("Ctrl+Shift+L")


def test_a_0_1_column_opens_as_two_groups_and_becomes_a_number_as_outcome(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    path.write_text("passed,practice\n" + "".join(f"{int(k % 3 > 0)},{k}\n" for k in range(30)))
    hands.types(str(path))
    study = hands.place.session.study
    assert study.variable("passed").kind is Kind.GROUP
    hands.place.session.look(variable="passed")
    hands.press("N")
    assert hands.place.session.study.variable("passed").kind is Kind.NUMBER
    hands.press("Ctrl+Z")
    hands.press("Ctrl+L")
    hands.types("passed = practice")
    study = hands.place.session.study
    assert study.variable("passed").kind is Kind.NUMBER
    assert "two values of passed" in [f.key.text for f in hands.place.session.view.flags]  # type: ignore[union-attr]


def test_all_level_names_in_one_entry(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+1")
    window.place.session.look(variable="returner")
    demo_hands.settle()
    from PyQt6.QtWidgets import QLineEdit

    field = next(
        f for f in window.place.data.card.findChildren(QLineEdit) if f.accessibleName() == "Names of all levels"
    )
    field.setFocus()
    demo_hands.types("new here, back again")
    study = window.place.session.study
    assert [level.label for level in study.variable("returner").levels] == ["new here", "back again"]
    field = next(
        f for f in window.place.data.card.findChildren(QLineEdit) if f.accessibleName() == "Names of all levels"
    )
    field.setFocus()
    demo_hands.types("only one")
    assert "has 2 levels (0, 1); 1 name was given" in window.place.session.message


def test_a_line_that_only_says_treatments_changes_nothing_else(demo_hands: Hands) -> None:
    window = demo_hands.window
    before = window.place.session.study
    assert before is not None
    demo_hands.press("Ctrl+L")
    demo_hands.types("practice as it is, coaching from one-to-one, worry centered")
    study = window.place.session.study
    assert study.model.blocks == before.model.blocks
    assert study.model.treatment("practice") == AS_IS
    assert study.model.treatment("worry") == CENTERED
    assert study.model.reference("coaching") == "3"
    demo_hands.press("Ctrl+L")
    demo_hands.types("(sleep, coaching from none) x age")
    study = window.place.session.study
    assert {term("sleep*age"), term("coaching*age")} <= set(study.model.terms)


def test_a_plain_click_is_the_first_of_several(demo_hands: Hands) -> None:
    window = demo_hands.window
    viewport = window.place.roster.viewport()
    for name, ctrl in (("sleep", False), ("age", True)):
        area = window.place.roster.row_rect(name)
        assert area is not None
        demo_hands.clicks(viewport, area.center(), ctrl=ctrl)
    assert window.place.session.desk.chosen == (term("sleep"), term("age"))
    window.place.roster.setFocus()
    demo_hands.press("X")
    assert term("sleep*age") in window.place.session.study.model.terms
    assert window.place.session.desk.chosen == (), "the choice ends with the action it served"


def test_after_a_remedy_the_keyboard_is_where_it_was(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.blocks.focus_ladder()
    demo_hands.press("F8")
    button = next(b for b in window.place.foot._buttons if b.text().startswith("Remove"))
    demo_hands.clicks(button)
    assert demo_hands.focus() is window.place.blocks.ladder
    demo_hands.press("Ctrl+K")
    QTest.keyClicks(demo_hands.focus(), "own scale")
    QTest.keyClick(demo_hands.focus(), Qt.Key.Key_Return)
    demo_hands.settle()
    assert demo_hands.focus() is window.place.blocks.ladder


def test_find_chooses_and_clears(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Ctrl+F")
    demo_hands.types("bal")
    assert window.place.session.desk.variable == "balance"
    assert window.place.search.text() == ""
    assert demo_hands.focus() is window.place.roster
    demo_hands.press("Ctrl+F")
    QTest.keyClicks(demo_hands.focus(), "wor")
    demo_hands.press("Escape")
    assert window.place.search.text() == ""
    assert len(window.place.roster.shown()) == 10


def test_below_1240_the_search_has_room(hands: Hands) -> None:
    hands.window.resize(1100, 700)
    hands.place.fileactions.open_demo()
    hands.settle()
    assert hands.place.roster.folded
    hands.press("Ctrl+F")
    assert hands.place.search.width() > 150
    hands.press("Escape")
    assert hands.place.roster.folded


@pytest.mark.parametrize("y", [8, 5000])
def test_a_variable_lands_anywhere_on_the_sheet(demo_hands: Hands, y: int) -> None:
    window = demo_hands.window
    ladder = window.place.blocks.ladder
    before = len(window.place.session.study.model.blocks)
    demo_hands.carries("site", QPoint(300, min(y, ladder.viewport().height() - 3)))
    study = window.place.session.study
    assert len(study.model.blocks) == before + 1
    assert study.model.blocks[-1].terms == (term("site"),)


def test_messages_end_with_what_they_were_about(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.roster.setFocus()
    demo_hands.press("X")
    assert "Choose two or more" in window.place.session.message
    demo_hands.press("Down")
    assert window.place.session.message == ""


def test_a_move_that_moves_nothing_is_no_step(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.place.session.edit("leave one", lambda s: take_out(s, s.model.blocks[2].terms[1:]))
    demo_hands.settle()
    window.place.session.look(cell=Cell(2, term("practice*coaching")))
    window.place.blocks.focus_ladder()
    name = window.place.session.undo_name
    demo_hands.press("Alt+Down")
    assert window.place.session.undo_name == name


def test_making_a_predictor_the_outcome_says_what_it_took_out(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.session.look(variable="practice")
    window.place.roster.setFocus()
    demo_hands.press("Y")
    assert (
        "practice is the outcome now; removed from the model: practice, practice × coaching and practice × worry."
        in window.place.session.message
    )


def test_a_new_row_far_down_is_scrolled_to(hands: Hands) -> None:
    rng = np.random.default_rng(6)
    world = {f"v{k:02}": rng.normal(size=80) for k in range(40)}
    study = study_of({**world, "y": rng.normal(size=80)}, "y", ", ".join(world))
    opened(hands, study)
    hands.press("Alt+3")
    hands.press("Ctrl+L")
    hands.types("v00 x v01")
    ladder = hands.place.blocks.ladder
    area = ladder.rect_of(Cell(1, term("v00*v01")))
    assert area is not None
    assert 0 <= area.top() <= ladder.viewport().height() - area.height()


def test_distributions_belong_to_their_table(hands: Hands) -> None:
    for shift in (0, 1):
        world = noise_world(130 + shift)
        opened(hands, study_of(world, "y", "x"))
        hands.window.grab()
        study = hands.place.session.study
        shown = hands.place.roster._bars[(study.variable("x"),)]
        assert shown is not None
        np.testing.assert_allclose(shown.counts, np.histogram(world["x"], 12)[0])


def test_flags_put_aside_are_listed_and_come_back(demo_hands: Hands) -> None:
    window = demo_hands.window
    (flag,) = window.place.session.view.flags  # type: ignore[union-attr]
    window.place.session.edit("put aside", lambda s: dismiss(s, flag.key, "few"))
    demo_hands.settle()
    assert window.place.status.flags.text() == "no flags"
    assert window.place.status.aside.text().startswith("1 flag dismissed")
    entry = window.place.status.aside.menu().actions()[0]  # type: ignore[union-attr]
    assert entry.text() == "19 cases excluded for missing values (few)"
    entry.trigger()
    demo_hands.settle()
    assert window.place.status.flags.text() == "1 flag"
    assert not window.place.status.aside.isVisible()


def test_a_dismissal_leaves_with_its_term(demo_hands: Hands) -> None:
    study = study_of(noise_world(140), "y", "x; x*w")
    opened(demo_hands, study)
    flag = next(f for f in demo_hands.place.session.view.flags if f.term == term("x*w"))  # type: ignore[union-attr]
    session = demo_hands.place.session
    session.edit("aside", lambda s: dismiss(s, flag.key, "meant so"))
    session.edit("out", lambda s: take_out(s, [term("x*w")]))
    assert session.is_open
    assert session.study.dismissals == ()


def test_a_product_entered_before_its_parts_raises_the_flag(hands: Hands) -> None:
    opened(hands, study_of(noise_world(141), "y", "x*w; x, w"))
    flag = next(f for f in hands.place.session.view.flags if f.term == term("x*w"))  # type: ignore[union-attr]
    assert flag.title == "x × w is entered before x and w"
    remedy = flag.remedies[0]
    assert remedy.label == "Move x and w before it"
    hands.place.session.edit("move", remedy.edit)
    hands.settle()
    assert [f for f in hands.place.session.view.flags if f.term == term("x*w")] == []  # type: ignore[union-attr]


def test_a_chosen_row_does_not_carry_over_to_another_probe(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+5")
    window.place.session.see(place=AtPlace(2))
    assert window.place.session.sight().seen.place == AtPlace(2)  # type: ignore[union-attr]
    window.place.probe.focal.choose("returner")
    demo_hands.settle()
    assert window.place.session.desk.seen == Seen()


def test_the_region_rule_is_in_the_study_and_in_the_report(demo_hands: Hands) -> None:
    from yellow_slope.report.parts import build_report

    window = demo_hands.window
    demo_hands.press("Alt+5")
    window.place.probe.rule.choose(RegionRule.SIMULTANEOUS)
    demo_hands.settle()
    view = window.place.session.view
    assert view is not None
    tables = [t for s in build_report(view.evaluation).sections for t in s.tables]
    regions = next(t for t in tables if t.title == "Regions of significance along worry")
    assert "all points at once" in regions.note
    assert [row[0].text for row in regions.rows] == [line.bounds for line in window.place.probe.card.lines()]


def test_results_that_arrive_take_nothing_away_under_typing(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+1")
    window.place.session.look(variable="age")
    demo_hands.settle()
    from PyQt6.QtWidgets import QLineEdit

    field = next(f for f in window.place.data.card.findChildren(QLineEdit) if f.accessibleName() == "Label")
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "years of")
    window.place.session.edit("treat practice", lambda s: treat(s, ["practice"], AS_IS))
    demo_hands.settle()
    assert window.focusWidget() is field
    demo_hands.types(" life")
    study = window.place.session.study
    assert study.variable("age").label == "years of life"
    QTest.keyClick(demo_hands.focus(), Qt.Key.Key_End)
    QTest.keyClicks(demo_hands.focus(), "?")
    window.place.session.look(variable="sleep")
    demo_hands.settle()
    study = window.place.session.study
    assert study.variable("age").label == "years of life?"
    shown = next(f for f in window.place.data.card.findChildren(QLineEdit) if f.accessibleName() == "Label")
    assert shown.text() == study.variable("sleep").label


def test_the_card_shows_strays_codes_and_what_can_be_done(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "worries.csv"
    cells = [f"{1 + k % 13 / 2}" for k in range(60)]
    cells[7], cells[20] = "n/k", "7 or 8"
    cells[30:36] = ["99"] * 6
    path.write_text("worry;score\n" + "".join(f"{c};{k % 17}.5\n" for k, c in enumerate(cells)))
    hands.types(str(path))
    window = hands.window
    window.place.session.look(variable="worry")
    hands.settle()
    card = window.place.data.card
    assert {f.title for f in window.place.session.view.flags} == {  # type: ignore[union-attr]
        "99 occurs 6 times in worry: a code for missing?",
        "2 cells of worry are not numbers",
    }
    assert "without 99" in [label.text() for label in card.findChildren(QLabel)]
    grid = window.place.data.grid
    column = next(j for j in range(grid.columnCount()) if grid.variable_at(j) == "worry")
    assert grid.data(grid.index(7, column)) == "n/k"
    assert grid.data(grid.index(30, column), Qt.ItemDataRole.ToolTipRole) == "Perhaps a code for missing"
    from PyQt6.QtWidgets import QLineEdit, QPushButton

    field = next(f for f in card.findChildren(QLineEdit) if f.accessibleName() == "Value of 7 or 8")
    field.setFocus()
    hands.types("7,5")
    study = window.place.session.study
    assert study.columns.numbers("worry")[20] == 7.5
    button = next(b for b in card.findChildren(QPushButton) if b.text() == "Count 99 as missing")
    hands.clicks(button)
    study = window.place.session.study
    assert study.variable("worry").missing == ("99",)
    assert [f.title for f in window.place.session.view.flags] == ["1 cell of worry is not a number"]  # type: ignore[union-attr]
    hands.press("Ctrl+Z")
    assert window.place.session.study.variable("worry").missing == ()


def test_several_columns_become_groups_in_one_step(demo_hands: Hands) -> None:
    window = demo_hands.window
    viewport = window.place.roster.viewport()
    before = window.place.session.study
    for name, ctrl in (("returner", False), ("site", True), ("coaching", True)):
        area = window.place.roster.row_rect(name)
        assert area is not None
        demo_hands.clicks(viewport, area.center(), ctrl=ctrl)
    window.place.roster.setFocus()
    demo_hands.press("N")
    study = window.place.session.study
    assert {study.variable(n).kind for n in ("returner", "site", "coaching")} == {Kind.NUMBER}
    assert window.place.session.desk.chosen == ()
    demo_hands.press("Ctrl+Z")
    assert window.place.session.study is before
