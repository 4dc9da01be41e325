"""Prepare by mouse and keys: the zero point, the sentence, the code card, the question builder, the groups
themselves."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QWidget

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands, numbers_in
from yellow_slope.app.prepare import bench, drawnnumber, lookedat
from yellow_slope.app.prepare.drawnsheet import weight_text
from yellow_slope.app.prepare.lookedat import LookedAt
from yellow_slope.app.prepare.numberstrip import NumberStrip
from yellow_slope.app.prepare.overviewpanel import NAME, SAID
from yellow_slope.app.prepare.strips import LINE, GroupStrip, Strip
from yellow_slope.app.state.desk import CardView, Waypoint
from yellow_slope.app.widgets.picker import Further, Picker
from yellow_slope.core.data.table import Column, Table, number_column, text_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.coding import Adjacent, Dummy, Effect, LevelMeans, Planned, Question, Trends
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.questions import questions_of
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term, variables_of
from yellow_slope.core.study.treatment import (
    AS_IS,
    CENTERED,
    STANDARDIZED,
    At,
    Base,
    Given,
    Mean,
    Median,
    OneSD,
    Raw,
    Transform,
    WithinGroups,
)


@pytest.fixture
def prepare(demo_hands: Hands) -> Hands:
    """The demo at Prepare."""
    demo_hands.press("Alt+2")
    return demo_hands


def study_of(hands: Hands) -> Study:
    return hands.place.session.study


def strip_of(hands: Hands, name: str) -> Strip:
    return next(s for s in hands.place.prepare.strips if s.name == name)


def number_strip(hands: Hands, name: str) -> NumberStrip:
    """A number's strip, made the current one by a click."""
    strip = strip_of(hands, name)
    assert isinstance(strip, NumberStrip)
    hands.clicks(strip, QPoint(40, 14))
    return strip


def at_group(hands: Hands, name: str) -> None:
    hands.clicks(strip_of(hands, name), QPoint(40, 14))


def drag(hands: Hands, strip: NumberStrip, to: float, release: bool = True) -> None:
    """Take the handle to a coordinate."""
    start = QPoint(round(strip.zero_x()), 80)
    QTest.mousePress(strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    x = strip.span().x(to)
    for part in (0.3, 0.7, 1.0):
        QTest.mouseMove(strip, QPoint(round(start.x() + (x - start.x()) * part), 80))
        hands.app.processEvents()
    if release:
        QTest.mouseRelease(strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(round(x), 80))
        hands.settle()


def choose(hands: Hands, chip: Picker[Any], value: object) -> None:
    """A choice of a chip's menu."""
    chip.choose(value)
    hands.settle()


# ---- the zero point


def test_the_zero_point_is_dragged_and_says_what_is_asked_there(prepare: Hands) -> None:
    strip = number_strip(prepare, "practice")
    before = study_of(prepare)
    drag(prepare, strip, 5.0, release=False)
    assert study_of(prepare) is before, "looking at a zero point chooses nothing yet"
    assert prepare.place.foot.title.text().startswith("practice: zero at 5")
    assert prepare.sentence().startswith("With zero at practice 5.0")
    assert "worry" in prepare.sentence()
    QTest.mouseRelease(
        strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(round(strip.zero_x()), 80)
    )
    prepare.settle()
    assert study_of(prepare).model.treatment("practice").zero == At(5.0), "whole values catch the handle"
    fit = prepare.place.session.view.fit  # type: ignore[union-attr]
    assert fit is not None
    assert fit.design.number("practice").center == 5.0
    prepare.press("Ctrl+Z")
    assert study_of(prepare).model.treatment("practice") == CENTERED


def test_the_handle_snaps_to_named_places(prepare: Hands) -> None:
    strip = number_strip(prepare, "practice")
    named = {point.name: point for point in strip.points}
    assert {"the mean", "the median", "the first quartile", "the third quartile", "the lowest value"} <= set(named)
    span = strip.span()
    near = named["the median"].at + 2.0 * (span.high - span.low) / span.width
    drag(prepare, strip, near)
    assert study_of(prepare).model.treatment("practice").zero == Median()
    drag(prepare, strip, named["the first quartile"].at)
    assert study_of(prepare).model.treatment("practice").zero == At(named["the first quartile"].at)
    drag(prepare, strip, named["the mean"].at)
    assert study_of(prepare).model.treatment("practice").zero == Mean()


def test_escape_puts_the_handle_back(prepare: Hands) -> None:
    strip = number_strip(prepare, "practice")
    before = study_of(prepare)
    drag(prepare, strip, 6.5, release=False)
    QTest.keyClick(strip, Qt.Key.Key_Escape)
    assert prepare.place.session.desk.zero is None
    QTest.mouseRelease(strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(300, 80))
    prepare.settle()
    assert study_of(prepare) is before


def test_keys_move_the_zero_point_from_place_to_place(prepare: Hands) -> None:
    strip = number_strip(prepare, "worry")
    strip.setFocus()
    places = [point.at for point in strip.points]
    here = strip.basis.center
    prepare.press("Right")
    basis = prepare.place.session.view.fit.design.number("worry")  # type: ignore[union-attr]
    assert basis.center == min(p for p in places if p > here + 1e-9)
    prepare.press("Left")
    assert study_of(prepare).model.treatment("worry").zero == Mean()


def test_before_and_after_stand_on_one_axis_with_their_figures(prepare: Hands) -> None:
    strip = number_strip(prepare, "practice")
    assert [row[0] for row in strip.looked.figures] == ["before", "after"]
    before, after = (numbers_in(" ".join(row[1:])) for row in strip.looked.figures)
    assert after[0] == 0
    assert before[1:] == after[1:]
    assert strip.mean_note() == "mean after: 0 (exactly, up to rounding)"
    prepare.press("A")
    assert [row[0] for row in strip.looked.figures] == ["before"]


def test_strips_of_many_rows_are_computed_off_the_interface_thread(
    demo_hands: Hands, monkeypatch: pytest.MonkeyPatch
) -> None:
    threads: set[bool] = set()

    def look_at(*args: object) -> LookedAt:
        threads.add(threading.current_thread() is threading.main_thread())
        return lookedat.look_at(*args)  # type: ignore[arg-type]

    monkeypatch.setattr(drawnnumber, "MOST_AT_ONCE", 10)
    monkeypatch.setattr(bench, "look_at", look_at)
    demo_hands.press("Alt+2")
    demo_hands.window.grab()
    demo_hands.settle()
    strip = number_strip(demo_hands, "practice")
    demo_hands.window.grab()
    demo_hands.settle()
    assert threads == {False}
    assert [row[0] for row in strip.looked.figures] == ["before", "after"]
    demo_hands.press("A")
    demo_hands.window.grab()
    demo_hands.settle()
    assert [row[0] for row in strip.looked.figures] == ["before"]


def test_what_centering_changes_is_shown_for_the_current_number(prepare: Hands) -> None:
    strip = number_strip(prepare, "practice")
    assert strip.changes is not None
    _, _, rows, left = strip.changes
    assert rows[-1].what == "R²"
    assert [row.stays for row in rows if row.what.startswith("practice × ")] == [True] * 4
    assert left == 0
    assert strip.height() > 300
    assert prepare.sentence().startswith("Centering practice: the largest VIF goes from")
    assert number_strip(prepare, "age").changes is None, "age is in no product"
    assert strip.height() == LINE


# ---- the sentence


def test_the_sentence_treats_what_is_chosen_and_keeps_the_rest(prepare: Hands) -> None:
    bar = prepare.place.prepare.bar
    number_strip(prepare, "practice")
    prepare.clicks(strip_of(prepare, "worry"), QPoint(40, 14), ctrl=True)
    assert bar.who.text().startswith("worry, practice") or bar.who.text().startswith("practice, worry")
    choose(prepare, bar.after, (Transform.LOG,))
    choose(prepare, bar.units, OneSD())
    choose(prepare, bar.base, Base.ALL)
    for name in ("practice", "worry"):
        treatment = study_of(prepare).model.treatment(name)
        assert treatment.transforms == (Transform.LOG,)
        assert treatment.scale == OneSD()
        assert treatment.base is Base.ALL
        assert treatment.zero == Mean(), "what was not changed stays"
    assert study_of(prepare).model.treatment("age") == CENTERED
    choose(prepare, bar.after, (Transform.LOG, Transform.SQUARE))
    assert study_of(prepare).model.treatment("worry").transforms == (Transform.LOG, Transform.SQUARE)
    choose(prepare, bar.zero, Raw())
    assert study_of(prepare).model.treatment("worry").zero == Raw()
    assert "where it is" in bar.zero.text()


def test_values_are_asked_for_and_wrong_ones_said(prepare: Hands) -> None:
    bar, window = prepare.place.prepare.bar, prepare.window
    number_strip(prepare, "practice")
    window.place.dialogs.text = lambda *_: "3.8"  # type: ignore[method-assign]
    choose(prepare, bar.zero, Further.ASK)
    assert study_of(prepare).model.treatment("practice").zero == At(3.8)
    assert any(flag.key.text == "rounded mean of practice" for flag in window.place.session.view.flags)  # type: ignore[union-attr]
    choose(prepare, bar.after, (Transform.ROOT,))
    assert study_of(prepare).model.treatment("practice").zero == Mean()
    assert "belonged to the previous scale" in window.place.session.message
    for said in ("four", "inf", "nan", "1e999"):
        window.place.dialogs.text = lambda *_, said=said: said  # type: ignore[method-assign]
        before = study_of(prepare)
        choose(prepare, bar.zero, Further.ASK)
        assert study_of(prepare) is before
        assert said in window.place.session.message
    window.place.dialogs.text = lambda *_: "4; 2"  # type: ignore[method-assign]
    choose(prepare, bar.base, Further.ASK)
    treatment = study_of(prepare).model.treatment("practice")
    assert (treatment.zero, treatment.scale) == (At(4.0), Given(2.0))
    assert "given numbers" in bar.base.text()


def test_centering_within_groups_offers_the_means(prepare: Hands) -> None:
    bar = prepare.place.prepare.bar
    strip = number_strip(prepare, "practice")
    choose(prepare, bar.zero, WithinGroups("site"))
    assert study_of(prepare).model.treatment("practice").zero == WithinGroups("site")
    assert not strip.can_move()
    prepare.clicks(prepare.foot_button("Add the group means"))
    study = study_of(prepare)
    made = study.derived[-1].name
    means, sites = study.columns.numbers(made), study.columns.levels("site")
    practice = study.columns.numbers("practice")
    for k in range(3):
        here = (sites == k) & ~np.isnan(practice)
        assert means[here] == pytest.approx(np.full(int(here.sum()), practice[here].mean()))


def test_all_numbers_of_the_model_and_a_span_of_strips(prepare: Hands) -> None:
    prepare.press("Ctrl+A")
    chosen = {t.variables[0] for t in prepare.place.session.desk.chosen}
    assert chosen == {"age", "balance", "sleep", "worry", "practice"}
    prepare.press("A")
    assert {study_of(prepare).model.treatment(n) for n in chosen} == {AS_IS}
    number_strip(prepare, "balance")
    prepare.clicks(strip_of(prepare, "worry"), QPoint(40, 14), shift=True)
    assert {t.variables[0] for t in prepare.place.session.desk.chosen} == {"balance", "sleep", "worry"}
    prepare.press("Z")
    assert study_of(prepare).model.treatment("age") == AS_IS
    assert study_of(prepare).model.treatment("sleep").scale == OneSD()


# ---- what is listed


def test_columns_outside_the_model_are_one_line_until_they_are_wanted(prepare: Hands) -> None:
    bench = prepare.place.prepare
    assert [s.name for s in bench.strips] == ["age", "balance", "sleep", "worry", "practice", "returner", "coaching"]
    assert bench.fold.text().startswith("▸  not in the model: 1 column")
    assert "site" in bench.fold.text()
    prepare.clicks(bench.fold)
    assert [s.name for s in bench.strips][-1] == "site"
    prepare.clicks(bench.fold)
    area = prepare.place.roster.row_rect("site")
    assert area is not None
    prepare.clicks(prepare.place.roster.viewport(), area.center())
    assert [s.name for s in bench.strips][-1] == "site", "the chosen one is seen"
    assert bench.card.isVisible()
    assert bench.card.name == "site"
    assert bench.card.card is not None
    assert bench.card.card.is_alone


def test_forty_variables_stay_readable(hands: Hands) -> None:
    rng = np.random.default_rng(1)
    columns: list[Column] = [
        number_column(f"a long name of a column, number {k}", rng.normal(k, 1, 50)) for k in range(38)
    ]
    columns.append(text_column("group", [("a", "b", "c")[i % 3] for i in range(50)]))
    study = new_study(Table(tuple(columns)))
    study = set_outcome(study, columns[0].name)
    study = set_blocks(study, [Block((Term((columns[1].name,)), Term(("group",))))])
    hands.place.session.open(study)
    hands.settle()
    hands.place.go(Waypoint.PREPARE)
    hands.settle()
    bench = hands.place.prepare
    assert len(bench.strips) <= 3
    hands.clicks(bench.fold)
    assert len(bench.strips) == 38
    assert sum(strip.height() for strip in bench.strips) <= 38 * (LINE + 1) + 120


# ---- the code card


def test_every_coding_is_offered_and_says_what_it_asks(prepare: Hands) -> None:
    at_group(prepare, "coaching")
    card = prepare.place.prepare.card
    r2 = prepare.place.session.view.fit.last.r2  # type: ignore[union-attr]
    wanted = [
        ("reference", Dummy("0"), "the intercept is the level in “none”"),
        ("of all levels", Effect(), "the mean of all groups"),
        ("of all cases", None, "the mean of all cases"),
        ("one before", Adjacent(), "the mean of all groups"),
        ("later", None, "the mean of all groups"),
        ("earlier", None, "the mean of all groups"),
        ("trends", Trends(), "the mean of all groups"),
        ("planned", Planned(()), "the mean of all groups"),
    ]
    for word, coding, intercept in wanted:
        button = next(b for b in card.buttons if word in b.accessibleName())
        prepare.clicks(button)
        assert button.isChecked()
        if coding is not None:
            assert study_of(prepare).model.coding("coaching") == coding
        assert intercept in card.intercept.text()
        assert prepare.place.session.view.fit.last.r2 == pytest.approx(r2, rel=1e-9)  # type: ignore[union-attr]
        assert card.sheet.n_columns == 3


def test_level_means_take_the_constant_out_and_say_so(hands: Hands) -> None:
    rng = np.random.default_rng(2)
    study = new_study(
        Table((number_column("y", rng.normal(5, 1, 30)), text_column("g", [("a", "b", "c")[i % 3] for i in range(30)])))
    )
    study = set_blocks(set_outcome(study, "y"), [Block((Term(("g",)),))])
    hands.place.session.open(study)
    hands.settle()
    hands.place.session.look(variable="g")
    hands.place.go(Waypoint.PREPARE)
    hands.settle()
    card = hands.place.prepare.card
    hands.clicks(next(b for b in card.buttons if "level means" in b.accessibleName()))
    assert study_of(hands).model.coding("g") == LevelMeans()
    assert "intercept was removed" in hands.place.session.message
    assert "there is no intercept" in card.intercept.text()
    hands.press("Ctrl+Z")
    assert study_of(hands).model.constant


def test_levels_are_put_on_sides_by_click_and_key(prepare: Hands) -> None:
    at_group(prepare, "coaching")
    card = prepare.place.prepare.card
    sheet = card.sheet
    prepare.clicks(next(b for b in card.buttons if "planned" in b.accessibleName()))
    assert card.line.field.hasFocus()
    assert "added by the program" in sheet.remark(0)
    prepare.clicks(sheet, sheet.head_rect(sheet.n_columns).center())
    assert questions_of(study_of(prepare), "coaching") == (Question(),)
    column = sheet.n_columns - 1
    assert sheet.place_of(column) == 0
    assert "no level is on the + side and − side yet" in sheet.remark(column)
    prepare.clicks(sheet, sheet.cell(0, column).center() - QPoint(40, 0).toPointF())
    assert questions_of(study_of(prepare), "coaching") == (Question("", (), ("0",)),)
    # By key: down to the last level, and on the + side.
    sheet.setFocus()
    for _ in range(3):
        QTest.keyClick(sheet, Qt.Key.Key_Down)
    column = next(j for j in range(sheet.n_columns) if sheet.place_of(j) == 0)
    prepare.place.session.look(comparison=column)
    QTest.keyClick(sheet, Qt.Key.Key_Plus)
    prepare.settle()
    assert questions_of(study_of(prepare), "coaching") == (Question("", ("3",), ("0",)),)
    assert sheet.card is not None
    assert sheet.card.basis.n_asked == 1
    assert sheet.title(0) == "one-to-one vs none"
    assert list(sheet.weights(0)) == [-1, 0, 0, 1]
    prepare.place.session.look(comparison=0)
    prepare.press("T")
    assert list(sheet.weights(0)) == [1, 0, 0, -1]
    prepare.place.dialogs.text = lambda *_: "alone or with somebody"  # type: ignore[method-assign]
    prepare.press("F2")
    assert sheet.title(0) == "alone or with somebody"
    assert prepare.place.foot.title.text() == "alone or with somebody"
    prepare.press("0")
    prepare.place.session.look(comparison=None)
    card.complete()
    prepare.settle()
    assert len([q for q in questions_of(study_of(prepare), "coaching") if not q.is_empty]) == 3


def test_a_dependent_question_is_explained_and_taken_out_by_its_flag(prepare: Hands) -> None:
    at_group(prepare, "coaching")
    card = prepare.place.prepare.card
    prepare.clicks(next(b for b in card.buttons if "planned" in b.accessibleName()))
    prepare.types("group against none; video against group; video against none")
    sheet = card.sheet
    last = next(j for j in range(sheet.n_columns) if sheet.place_of(j) == 2)
    assert "it follows from those before it: this one is tested, not coded" in sheet.remark(last)
    prepare.clicks(sheet, sheet.head_rect(last).center())
    assert "It follows from the questions before it" in prepare.sentence()
    flag = next(f for f in prepare.place.session.view.flags if f.key.kind.value == "questions about")  # type: ignore[union-attr]
    assert flag.title == "1 of 3 questions about coaching is not coded"
    prepare.place.navigation.show_flag(flag.key)
    prepare.settle()
    prepare.clicks(prepare.foot_button("Remove it"))
    assert len(questions_of(study_of(prepare), "coaching")) == 2


def test_a_mistyped_question_stays_in_its_line(prepare: Hands) -> None:
    at_group(prepare, "coaching")
    card = prepare.place.prepare.card
    prepare.clicks(next(b for b in card.buttons if "planned" in b.accessibleName()))
    before = study_of(prepare)
    prepare.types("group against nobody")
    assert card.line.echo.wrong
    assert "“nobody” is not a level" in card.line.echo.text
    assert study_of(prepare) is before
    assert card.line.field.text() == "group against nobody"


def test_the_reference_is_taken_by_key_on_the_card_and_in_the_ladder(prepare: Hands) -> None:
    at_group(prepare, "coaching")
    sheet = prepare.place.prepare.card.sheet
    sheet.setFocus()
    QTest.keyClick(sheet, Qt.Key.Key_Down)
    prepare.press("R")
    assert study_of(prepare).model.reference("coaching") == "1"
    prepare.press("Alt+3")
    ladder = prepare.place.blocks.ladder
    shown = [row.whole for row in ladder.sheet.rows]
    row = shown.index("coaching: one-to-one vs group lesson")
    prepare.clicks(ladder.viewport(), QPoint(60, int(ladder.row_top(row) + 12)))
    prepare.press("R")
    assert study_of(prepare).model.reference("coaching") == "3"


def test_code_columns_and_groups_on_request(prepare: Hands) -> None:
    at_group(prepare, "coaching")
    card = prepare.place.prepare.card
    prepare.clicks(card.views[CardView.COLUMNS])
    assert card.sheet.as_columns
    prepare.clicks(card.views[CardView.GROUPS])
    assert card.panel.found is not None
    assert card.panel.found.held is None
    prepare.clicks(card.panel, card.panel.pair_rect(2).center())
    assert prepare.place.foot.title.text() == "one-to-one minus none"
    assert "Holm adjusted" in prepare.sentence()
    assert card.panel.hasFocus()
    QTest.keyClick(card.panel, Qt.Key.Key_Down)
    assert prepare.place.session.desk.comparison == 3
    prepare.clicks(card.views[CardView.ADJUSTED])
    assert card.panel.found.held is not None
    assert "adjusted to" in card.panel.lines[1]
    assert "practice 3.79" in card.panel.lines[1]


def test_many_levels_are_said_not_drawn(hands: Hands) -> None:
    rng = np.random.default_rng(4)
    groups = [f"level {i % 60:02}" for i in range(240)]
    study = new_study(Table((number_column("y", rng.normal(5, 1, 240)), text_column("g", groups))))
    study = set_kind(study, "g", Kind.GROUP)
    study = set_blocks(set_outcome(study, "y"), [Block((Term(("g",)),))])
    hands.place.session.open(study)
    hands.settle()
    hands.place.session.look(variable="g")
    hands.place.go(Waypoint.PREPARE)
    hands.settle()
    card = hands.place.prepare.card
    assert "60 levels make 59 comparisons: too many to draw" in card.said.text()
    hands.clicks(card.views[CardView.GROUPS])
    assert not card.panel.is_drawn
    assert card.panel.found is not None
    assert card.panel.found.pairs == ()
    assert "F(59, 180)" in card.panel.lines[0]


def test_without_an_outcome_the_card_says_what_is_missing(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    path.write_text("y,g\n" + "".join(f"{i}.5,{'abc'[i % 3]}\n" for i in range(20)))
    hands.types(str(path))
    hands.place.session.look(variable="g")
    hands.press("Alt+2")
    card = hands.place.prepare.card
    assert card.said.text() == "Choose an outcome to see it by group."
    assert isinstance(strip_of(hands, "g"), GroupStrip)


def test_everything_has_a_name_and_a_tooltip(prepare: Hands) -> None:
    at_group(prepare, "coaching")
    bench = prepare.place.prepare
    for widget in bench.findChildren(QWidget):
        if widget.focusPolicy() != Qt.FocusPolicy.NoFocus and widget.isVisible():
            assert widget.accessibleName(), widget
    sheet = bench.card.sheet
    assert "make it the reference group" in sheet.tip_at(sheet.level_rect(1).center())
    assert sheet.tip_at(sheet.head_rect(0).center()) == "group lesson vs none"
    assert all(button.toolTip() for button in bench.card.buttons)


@pytest.mark.parametrize(
    ("weight", "text"), [(1.0, "+1"), (-1 / 3, "−1/3"), (0.0, ""), (2 / 3, "+2/3"), (0.7071, "+.71"), (-1.25, "−5/4")]
)
def test_weights_are_written_as_people_do(weight: float, text: str) -> None:
    assert weight_text(weight) == text


def test_several_numbers_stay_chosen_and_the_foot_tells_of_all(prepare: Hands) -> None:
    prepare.press("Ctrl+A")
    prepare.press("C")
    bar, foot = prepare.place.prepare.bar, prepare.place.foot
    labels = [study_of(prepare).variable(t.variables[0]).label for t in prepare.place.session.desk.chosen]
    assert len(labels) > 2
    assert bar.who.text().startswith(labels[0])
    assert foot.title.text() == f"{len(labels)} variables are chosen"
    assert all(label in foot.sentence.text() for label in labels)
    assert foot.sentence.text().count("centered") == 1
    prepare.press("Z")
    assert "standardized" in foot.sentence.text()
    assert [study_of(prepare).model.treatment(t.variables[0]) for t in prepare.place.session.desk.chosen] == [
        STANDARDIZED
    ] * len(labels)


def test_something_is_open_at_prepare_and_a_group_has_its_own_sentence(demo_hands: Hands) -> None:
    window = demo_hands.window
    assert window.place.session.desk.variable == study_of(demo_hands).model.outcome
    demo_hands.press("Alt+2")
    first = variables_of(study_of(demo_hands).model.terms)[0]
    assert window.place.session.desk.variable == first
    assert strip_of(demo_hands, first).is_open
    bar = window.place.prepare.bar
    assert bar.zero.isVisible()
    assert not bar.asked.isVisible()
    at_group(demo_hands, "coaching")
    demo_hands.settle()
    assert bar.who.text().startswith("coaching")
    assert bar.asked.text() == "as 4 groups, asking each level against a reference"
    assert not any(part.isVisible() for part in (bar.zero, bar.base, bar.units, bar.after, bar.words["with zero at"]))
    demo_hands.press("Alt+3")
    demo_hands.press("Alt+2")
    assert window.place.session.desk.variable == "coaching", "what was open stays open"


def test_means_of_the_overview_stand_at_their_rows(prepare: Hands) -> None:
    """Mean and number of cases are written right of the plot, in the middle of their row."""
    at_group(prepare, "coaching")
    prepare.place.session.look(card=CardView.GROUPS)
    prepare.settle()
    panel = prepare.place.prepare.card.panel
    span = panel._span()
    assert span is not None
    assert span.left + span.width <= NAME + panel._plot - SAID
    image = panel.grab().toImage()
    top = panel._top + 22
    for row in range(4):
        ink = [
            y
            for y in range(int(top + row * panel._level), int(top + (row + 1) * panel._level))
            if any(
                image.pixelColor(x, y).lightness() < 110
                for x in range(int(NAME + panel._plot - SAID), int(NAME + panel._plot))
            )
        ]
        middle = top + (row + 0.5) * panel._level
        assert abs((ink[0] + ink[-1]) / 2 - middle) <= 3, row
