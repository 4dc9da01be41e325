"""The ladder by mouse, by keyboard, by carrying, and by the quick line."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt

from tests.support.windowdriver import Hands, numbers_in
from tests.support.worlds import term
from yellow_slope.app.blocks.sheet import RowChange, RowKind, sheet_of
from yellow_slope.app.state.desk import Cell
from yellow_slope.core.fit.asked.lowtohigh import low_to_high
from yellow_slope.core.quickline import read_line
from yellow_slope.core.study.edits.blocks import set_outcome
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.core.words.spelling.numerals import fixed
from yellow_slope.demo.learners import TABLE
from yellow_slope.plots.scales import one_mark, signed

ZERO = FlagKey(FlagKind.ZERO, ("practice",))


@pytest.fixture
def blank(hands: Hands) -> Hands:
    """The demo's table at Blocks, nothing entered."""
    hands.types(str(TABLE))
    hands.press("Alt+3")
    return hands


def model(hands: Hands) -> list[list[str]]:
    study = hands.place.session.study
    return [["*".join(t.variables) for t in block.terms] for block in study.model.blocks]


def choose(hands: Hands, variable: str) -> None:
    area = hands.place.roster.row_rect(variable)
    viewport = hands.place.roster.viewport()
    assert area is not None
    assert viewport is not None
    hands.place.roster.setFocus()
    hands.clicks(viewport, area.center())


def test_by_keyboard_alone(blank: Hands) -> None:
    choose(blank, "control")
    blank.press("Y")
    choose(blank, "practice")
    blank.press("Enter")
    choose(blank, "worry")
    blank.press("Enter")
    assert model(blank) == [["practice", "worry"]]
    blank.press("Space")
    choose(blank, "practice")
    blank.press("Space")
    blank.press("X")
    assert model(blank) == [["practice", "worry"], ["worry*practice"]]
    blank.press("C")
    study = blank.place.session.study
    assert study.model.treatment("practice") == CENTERED
    choose(blank, "sleep")
    blank.press("Shift+Enter")
    assert model(blank)[2] == ["sleep"]
    blank.place.blocks.focus_ladder()
    blank.press("Alt+Up")
    assert model(blank) == [["practice", "worry"], ["worry*practice", "sleep"]]
    blank.press("Delete")
    assert model(blank) == [["practice", "worry"], ["worry*practice"]]
    for _ in range(9):
        blank.press("Ctrl+Z")
    assert model(blank) == []
    for _ in range(9):
        blank.press("Ctrl+Y")
    assert model(blank) == [["practice", "worry"], ["worry*practice"]]


def test_by_carrying_variables(blank: Hands) -> None:
    blank.place.session.edit("outcome", lambda s: set_outcome(s, "control"))
    blank.settle()
    ladder = blank.place.blocks.ladder
    blank.carries("practice", QPoint(200, ladder.row_top(0) + 10))
    assert model(blank) == [["practice"]]
    blank.carries("worry", QPoint(100, ladder.row_top(0) + 10))
    assert model(blank) == [["practice", "worry"]]
    viewport = ladder.viewport()
    assert viewport is not None
    row = blank.place_of("practice")
    blank.carries("worry", QPoint(100, row.y()))
    assert model(blank) == [["practice", "worry"]], "beside the pad a drop enters and never multiplies"
    blank.carries("worry", QPoint(viewport.width() - 24, blank.place_of("practice").y()))
    assert model(blank) == [["practice", "worry"], ["practice*worry"]]
    blank.carries("sleep", QPoint(100, ladder.row_top(len(ladder.sheet.rows)) + 10))
    assert model(blank)[2] == ["sleep"]


def test_dropping_beside_the_ladder_does_nothing(blank: Hands) -> None:
    blank.place.session.edit("outcome", lambda s: set_outcome(s, "control"))
    blank.carries("practice", QPoint(100, -60))
    assert model(blank) == []


def test_the_typed_line_is_read_back_in_the_ladder_while_typing(blank: Hands) -> None:
    from tests.support.qtest import QTest

    blank.press("Ctrl+L")
    quick, ladder = blank.place.blocks.quick, blank.place.blocks.ladder
    QTest.keyClicks(quick.field, "control = practice centered, coaching from none; practice x coaching")
    blank.settle()
    assert quick.echo.text == "", "below the field stand mistakes only"
    assert ladder.coming is not None
    assert ladder.coming.summary.text == "7 columns in 2 blocks"
    assert {row.change for row in ladder.sheet.rows if row.kind is not RowKind.CONSTANT} == {RowChange.COMES}
    assert ladder.pale == {0, 1}
    fit = ladder.fit
    assert fit is not None
    assert len(fit.design.columns) == 7
    assert model(blank) == [], "nothing is entered yet"
    blank.press("Enter")
    assert model(blank) == [["practice", "coaching"], ["practice*coaching"]]
    assert ladder.coming is None
    assert not ladder.pale
    solid = ladder.fit
    assert solid is not None
    assert list(solid.last.b) == list(fit.last.b), "Enter only makes it solid"
    assert ladder.hasFocus()
    assert "taken together, the slope of practice on control score differs" in blank.sentence()


def test_what_a_line_takes_out_is_struck_through(demo_hands: Hands) -> None:
    from tests.support.qtest import QTest
    from yellow_slope.app.blocks.drawing import row_font

    window = demo_hands.window
    demo_hands.press("Ctrl+L")
    QTest.keyClicks(window.place.blocks.quick.field, "practice x returner, without sleep, practice x coaching")
    demo_hands.settle()
    ladder = window.place.blocks.ladder
    changed = {row.whole: row.change for row in ladder.sheet.rows if row.change}
    assert changed == {
        "sleep": RowChange.LEAVES,
        "practice × coaching": RowChange.LEAVES,
        "name this block": RowChange.COMES,
        "practice × returner: returner vs first season": RowChange.COMES,
    }
    rows = [row.whole for row in ladder.sheet.rows]
    assert rows.index("sleep") < rows.index("the course"), "what leaves stands where it stood"
    struck = next(row for row in ladder.sheet.rows if row.whole == "sleep")
    assert row_font(struck).strikeOut()
    window.grab()
    QTest.keyClicks(window.place.blocks.quick.field, " x wory")
    demo_hands.settle()
    assert ladder.coming is None, "a line with a mistake shows nothing"
    demo_hands.press("Escape")
    assert ladder.coming is None
    assert [row.change for row in ladder.sheet.rows] == [None] * len(ladder.sheet.rows)


def test_a_click_on_the_ladder_ends_the_preview_and_keeps_the_text(demo_hands: Hands) -> None:
    from tests.support.qtest import QTest

    window = demo_hands.window
    demo_hands.press("Ctrl+L")
    QTest.keyClicks(window.place.blocks.quick.field, "practice x sleep")
    demo_hands.settle()
    assert window.place.blocks.ladder.coming is not None
    window.place.blocks.focus_ladder()
    demo_hands.settle()
    assert window.place.blocks.ladder.coming is None
    assert window.place.blocks.quick.field.text() == "practice x sleep"
    window.place.blocks.quick.field.setFocus()
    demo_hands.settle()
    assert window.place.blocks.ladder.coming is not None, "with the keyboard it comes again"


def test_examples_are_made_of_the_studys_own_names(blank: Hands, hands: Hands) -> None:
    placeholder = blank.place.blocks.quick.field.placeholderText()
    assert placeholder.startswith("Type a model:  ")
    line = placeholder.removeprefix("Type a model:  ")
    study = blank.place.session.study
    reading = read_line(study, line)
    assert reading.mistake is None, "an example that could be typed"
    assert reading.outcome == "control", "what is measured, not a code"


def test_the_whole_model_can_be_edited_as_a_line(demo_hands: Hands) -> None:
    window = demo_hands.window
    before = window.place.session.study
    assert before is not None
    demo_hands.press("Ctrl+T")
    field = window.place.blocks.quick.field
    assert field.text().startswith("control score = “what they bring”: age centered, balance standardized")
    assert not window.place.blocks.quick.echo.wrong
    field.setText(field.text().replace(", practice x worry", ""))
    demo_hands.press("Enter")
    study = window.place.session.study
    assert set(before.model.terms) - set(study.model.terms) == {term("practice*worry")}
    assert study.variables == before.variables
    assert [b.name for b in study.model.blocks] == [b.name for b in before.model.blocks]


def test_a_mistake_is_pointed_at_and_nothing_is_lost(blank: Hands) -> None:
    blank.press("Ctrl+L")
    quick = blank.place.blocks.quick
    blank.types("control = age, wory")
    assert quick.echo.wrong
    assert "no variable “wory”" in quick.echo.text
    assert quick.field.text() == "control = age, wory"
    metrics = quick.field.fontMetrics()
    expected = metrics.horizontalAdvance("control = age, ")
    assert quick.echo.at == pytest.approx(expected, abs=16)
    assert model(blank) == []


def test_figures_of_the_chosen_cell_follow_the_open_step(demo_hands: Hands) -> None:
    window = demo_hands.window
    fit = window.place.session.view.evaluation.fit  # type: ignore[union-attr]
    assert fit is not None
    window.place.session.look(cell=Cell(0, term("worry"), 3))
    for step in (0, 2):
        window.place.session.look(open_step=step)
        c = fit.steps[step].coefficient(3)
        shown = numbers_in(demo_hands.figures())
        assert shown[0] == step + 1
        assert shown[1:4] == pytest.approx([c.b, c.se, c.t], abs=0.006)
    assert demo_hands.sentence().startswith("In words: from step 3 on: per further point of worry, control score is ")


def test_a_click_on_a_head_opens_its_step(demo_hands: Hands) -> None:
    ladder = demo_hands.place.blocks.ladder
    viewport = ladder.viewport()
    assert viewport is not None
    first = ladder.columns()[0]
    assert [c.is_open for c in ladder.columns()] == [False, False, True]
    demo_hands.clicks(viewport, QPoint(first.x + 30, 20))
    assert [c.is_open for c in ladder.columns()] == [True, False, False]
    ladder.setFocus()
    demo_hands.press("Right")
    assert ladder.open_step() == 1


def test_a_click_on_a_block_tells_what_it_adds(demo_hands: Hands) -> None:
    ladder = demo_hands.place.blocks.ladder
    viewport = ladder.viewport()
    assert viewport is not None
    row = next(i for i, r in enumerate(ladder.sheet.rows) if r.kind is RowKind.BLOCK and r.block == 2)
    demo_hands.clicks(viewport, QPoint(150, ladder.row_top(row) + 8))
    fit = demo_hands.place.session.view.evaluation.fit  # type: ignore[union-attr]
    assert fit is not None
    assert f"explain {fixed(100 * fit.last.change.r2, 1)}% of the variance" in demo_hands.sentence()


def test_a_block_is_named_in_place(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.session.look(cell=Cell(block=1))
    window.place.blocks.focus_ladder()
    demo_hands.press("F2")
    demo_hands.types("weeks on the slope")
    assert window.place.session.study.model.blocks[1].name == "weeks on the slope"


def test_every_row_stands_in_the_triangle(demo: Study, demo_hands: Hands) -> None:
    results = demo_hands.place.session.view
    assert results is not None
    sheet = sheet_of(demo, results)
    kinds = [row.kind for row in sheet.rows]
    assert kinds.count(RowKind.BLOCK) == 3
    assert kinds.count(RowKind.CONSTANT) == 1
    assert kinds.count(RowKind.HEAD) == 2
    fit = results.evaluation.fit
    assert fit is not None
    shown = [row.cell.column for row in sheet.rows if row.cell.column is not None and row.cell.column >= 0]
    assert sorted(shown) == list(range(len(fit.design.columns)))


def test_low_to_high_is_two_sd_per_number_and_one_per_comparison(demo_hands: Hands) -> None:
    fit = demo_hands.place.session.view.evaluation.fit  # type: ignore[union-attr]
    assert fit is not None
    scale = low_to_high(fit)
    sd = {name: fit.design.number(name).sd for name in ("age", "practice", "worry")}
    by_term = {c.term.key: s for c, s in zip(fit.design.columns, scale)}
    assert by_term["age",] == pytest.approx(2 * sd["age"])
    assert by_term["balance",] == pytest.approx(2)
    assert by_term["returner",] == 1
    assert by_term["coaching", "practice"] == pytest.approx(2 * sd["practice"])
    assert by_term["practice", "worry"] == pytest.approx(4 * sd["practice"] * sd["worry"])


@pytest.mark.parametrize(("limit", "expected"), [(12.0, 5.0), (7.0, 5.0), (0.03, 0.02), (150.0, 100.0)])
def test_ticks_are_round_and_inside(limit: float, expected: float) -> None:
    mark = one_mark(limit)
    assert mark.value == pytest.approx(expected)
    assert signed(mark, -1) == f"−{expected:g}"


def test_flags_are_shown_with_their_remedies_and_can_be_undone(blank: Hands) -> None:
    blank.press("Ctrl+L")
    blank.types("control = practice, worry, coaching; practice x worry")
    window = blank.window
    seen = []
    for _ in range(len(window.place.session.view.flags)):  # type: ignore[union-attr]
        blank.press("F8")
        seen.append(window.place.foot.title.text())
    assert "The reference group of coaching was set by default" in seen
    assert "practice is multiplied without centering, but is never near 0" in seen
    while window.place.session.desk.flag != ZERO:
        blank.press("F8")
    blank.clicks(blank.foot_button("Center practice"))
    study = window.place.session.study
    assert study.model.treatment("practice") == CENTERED
    assert window.place.session.flag(ZERO) is None
    blank.press("Ctrl+Z")
    assert window.place.session.flag(ZERO) is not None


def test_a_pennant_stands_on_its_row(blank: Hands) -> None:
    blank.press("Ctrl+L")
    blank.types("control = practice; practice x worry")
    ladder = blank.place.blocks.ladder
    rows = {row.text: row.flags for row in ladder.sheet.rows}
    assert rows["practice × worry"] == (FlagKey(FlagKind.PARTS, ("practice", "worry")),)
    viewport = ladder.viewport()
    assert viewport is not None
    y = blank.place_of("practice", "worry").y()
    blank.clicks(viewport, QPoint(ladder.names_width() - 10, y))
    assert blank.place.foot.title.text() == "practice × worry is entered without worry"
    blank.clicks(blank.foot_button("Enter worry before it"))
    assert model(blank) == [["practice", "worry"], ["practice*worry"]]


def test_a_long_line_is_seen_whole_while_it_is_typed(demo_hands: Hands) -> None:
    from tests.support.qtest import QTest

    demo_hands.press("Alt+3")
    demo_hands.press("Ctrl+T")
    quick = demo_hands.place.blocks.quick
    whole, text = quick.line.whole, quick.field.text()
    assert quick.fontMetrics().horizontalAdvance(text) > quick.field.width()
    assert whole.isVisible()
    assert whole.shown() == text
    assert whole.geometry().right() < demo_hands.window.width()
    QTest.keyClicks(quick.field, "; practice x wory")
    assert "did you mean “worry”" in whole.note
    start, length = whole.mistake
    assert quick.field.text()[start : start + length] == "wory"
    QTest.mouseClick(whole, Qt.MouseButton.LeftButton, pos=QPoint(12, 8))
    assert quick.field.cursorPosition() == 0
    demo_hands.press("Escape")
    demo_hands.settle()
    assert not whole.isVisible(), "without the keyboard the field is as it was"


def test_a_line_of_long_names_is_seen_whole_in_a_small_window(hands: Hands, demo: Study) -> None:
    from tests.support.qtest import QTest

    study = demo
    for name in ("practice", "worry", "age", "sleep"):
        study = describe(study, name, label=f"{name} of all learners in every week of the whole season")
    hands.place.session.open(study)
    hands.window.resize(1000, 700)
    hands.settle()
    hands.press("Alt+3")
    hands.press("Ctrl+T")
    hands.settle()
    quick = hands.place.blocks.quick
    QTest.keyClicks(quick.field, "; practice x sleep")
    assert quick.line.whole.shown() == quick.field.text()
