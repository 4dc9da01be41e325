"""What the views show: roster, table, card, region card, stories; read as a user reads them."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QLineEdit, QScrollArea, QToolButton

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands, number
from tests.support.worlds import noise_world, study_of, term
from yellow_slope.app.explanations.explanation import explanation
from yellow_slope.app.frame.roster import bars_in
from yellow_slope.app.state.desk import Cell, Waypoint
from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.probe import Probe, RegionRule
from yellow_slope.core.study.treatment import STANDARDIZED
from yellow_slope.core.words.names.study import treated_as
from yellow_slope.core.words.spelling.letters import continued


def words(hands: Hands, name: str) -> str:
    session = hands.place.session
    assert session.is_open
    assert session.view is not None
    basis = session.view.fit.design.bases.get(name) if session.view.fit is not None else None
    return treated_as(session.study, session.study.variable(name), basis)


def test_the_roster_says_how_each_variable_is_treated(demo_hands: Hands) -> None:
    expected = {
        "control": "outcome, as it is",
        "practice": "centered at 3.79",
        "balance": "z (50.5, SD 12.1)",
        "coaching": "3 comparisons with none",
        "returner": "compared with first season",
        "site": "3 groups, not used",
        "learner": "free texts",
    }
    assert {name: words(demo_hands, name) for name in expected} == expected
    demo_hands.place.session.edit("out", lambda s: take_out(s, s.model.terms))
    demo_hands.settle()
    assert words(demo_hands, "practice") == "centered, not used"


def test_tiny_distributions(demo_hands: Hands) -> None:
    study = demo_hands.place.session.study
    bars, many = bars_in(study, study.variable("coaching")), bars_in(study, study.variable("worry"))
    assert bars is not None
    assert bars.counts.tolist() == [67, 68, 50, 50]
    assert many is not None
    assert many.counts.size == 12
    assert bars_in(study, study.variable("learner")) is None


def test_the_rosters_tooltip_has_the_whole_name_and_its_flags(hands: Hands) -> None:
    study = study_of({**noise_world(111), "site": [1.0, 2.0, 3.0, 4.0] * 20}, "y", "x, site")
    hands.place.session.open(study)
    hands.settle()
    roster = hands.place.roster
    shown = {v.name: roster._flags(v) for v in roster.shown()}
    assert [key.text for key in shown["site"]] == ["code site"]
    area = roster.row_rect("site")
    viewport = roster.viewport()
    assert area is not None
    assert viewport is not None
    hands.clicks(viewport, QPoint(viewport.width() - 10, int(area.top()) + 32))
    assert hands.place.foot.title.text() == "Is site a quantity, or a code?"
    hands.clicks(hands.foot_button("Treat as groups"))
    assert hands.place.session.study.variable("site").kind is Kind.GROUP


def test_ctrl_click_chooses_several_and_keys_treat_them(demo_hands: Hands) -> None:
    roster = demo_hands.place.roster
    viewport = roster.viewport()
    assert viewport is not None
    for name in ("sleep", "age"):
        area = roster.row_rect(name)
        assert area is not None
        demo_hands.clicks(viewport, area.center(), ctrl=True)
    roster.setFocus()
    demo_hands.press("Z")
    study = demo_hands.place.session.study
    assert [study.model.treatment(n) for n in ("sleep", "age")] == [STANDARDIZED] * 2
    assert demo_hands.place.session.desk.chosen == ()


def test_numbers_of_a_column_have_the_same_decimals(demo_hands: Hands) -> None:
    demo_hands.press("Alt+1")
    grid = demo_hands.place.data.grid
    names = [grid.shown(j).variable for j in range(grid.columnCount())]
    for name, places in (("practice", 1), ("age", 0)):
        column = names.index(name)
        texts = [grid.data(grid.index(row, column)) for row in range(60)]
        assert {len(t.split(".")[1]) if "." in t else 0 for t in texts if t != "–"} == {places}
        assert "–" in texts or name == "age", "a gap is seen as one"


def test_column_heads_know_their_gaps(demo_hands: Hands) -> None:
    demo_hands.press("Alt+1")
    grid = demo_hands.place.data.grid
    names = [grid.shown(j).variable for j in range(grid.columnCount())]
    study = demo_hands.place.session.study
    column = study.table.column("worry")
    assert isinstance(column, NumberColumn)
    worry = column.numbers
    assert worry is not None
    assert grid.gaps(names.index("worry")) == pytest.approx(np.isnan(worry).mean())
    tip = grid.headerData(names.index("worry"), Qt.Orientation.Horizontal, Qt.ItemDataRole.ToolTipRole)
    assert f"{100 * np.isnan(worry).mean():.1f}% without a value" in tip


def test_computed_columns_stand_after_their_sources_and_are_the_models_own(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.session.look(cell=Cell(2, term("practice*worry")))
    demo_hands.press("Ctrl+D")
    grid = window.place.data.grid
    titles = [grid.shown(j).title for j in range(grid.columnCount())]
    start = titles.index("practice")
    assert titles[start : start + 5] == ["practice", "practice centered", "worry", "worry centered", "practice × worry"]
    results = window.place.session.view
    assert results is not None
    fit = results.evaluation.fit
    assert fit is not None
    row = int(results.evaluation.cases.rows[4])
    j = fit.design.columns_of(term("practice*worry"))[0]
    assert number(grid.data(grid.index(row, titles.index("practice × worry")))) == pytest.approx(
        fit.x[4, j], abs=0.0006
    )
    demo_hands.press("Alt+3")
    window.place.blocks.focus_ladder()
    demo_hands.press("Ctrl+D")
    assert "practice × worry" not in [grid.shown(j).title for j in range(grid.columnCount())]


def typed(hands: Hands, name: str, text: str) -> None:
    card = hands.place.data.card
    field = next(w for w in card.findChildren(QLineEdit) if w.accessibleName() == name)
    field.selectAll()
    field.setFocus()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)
    hands.settle()


def test_the_card_takes_labels_units_and_level_names(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+1")
    window.place.session.look(variable="practice")
    typed(demo_hands, "Label", "time on the slope")
    typed(demo_hands, "Unit, as in “hour”", "afternoon")
    window.place.session.look(variable="coaching", cell=Cell(1, term("practice")))
    typed(demo_hands, "Name of level 0", "nobody")
    study = window.place.session.study
    assert study.variable("coaching").levels[0].label == "nobody"
    demo_hands.press("Alt+3")
    said = demo_hands.sentence()
    assert "per further afternoon of time on the slope" in said
    assert "in the group “nobody”" in said
    assert window.place.session.undo_name == "name a level"


def test_the_card_chooses_reference_and_kind(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+1")
    window.place.session.look(variable="coaching")
    demo_hands.settle()
    buttons = {b.accessibleName(): b for b in window.place.data.card.findChildren(QToolButton)}
    buttons["Use one-to-one as the reference group"].click()
    demo_hands.settle()
    study = window.place.session.study
    assert study.model.reference("coaching") == "3"
    window.place.session.look(variable="worry")
    demo_hands.settle()
    buttons = {b.accessibleName(): b for b in window.place.data.card.findChildren(QToolButton)}
    buttons["Treat worry as leave out"].click()
    demo_hands.settle()
    study = window.place.session.study
    assert study.variable("worry").kind is Kind.TEXT
    assert not [t for t in study.model.terms if "worry" in t.variables]
    assert window.place.header.cases.text() == "225 of 240 cases"


def test_the_card_of_regions_says_what_the_regions_are(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+5")
    results = window.place.session.view
    assert results is not None
    fit = results.evaluation.fit
    assert fit is not None
    regions = probe_fit(results.evaluation.study, fit, Probe("practice", "worry")).panels[0].foci[0].regions
    assert regions is not None
    lines = window.place.probe.card.lines()
    assert [line.bounds for line in lines] == ["below 4.26", "4.26 to 5.68", "above 5.68"]
    assert [line.words for line in lines] == ["slope above 0", "not significant", "slope below 0"]
    assert [int(line.cases.split()[0]) for line in lines] == [r.n for r in regions.within]
    assert "lines meet inside the data" in " ".join(window.place.probe.card.notes())


def test_all_points_at_once_narrow_the_regions(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+5")
    before = [number(line.bounds.split()[1]) for line in window.place.probe.card.lines()[:1]]
    window.place.probe.rule.choose(RegionRule.SIMULTANEOUS)
    demo_hands.settle()
    assert number(window.place.probe.card.lines()[0].bounds.split()[1]) < before[0]


def test_probe_sentence_chooses_step_focal_and_held_level(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+5")
    chip = window.place.probe.sentence.chip_of("coaching")
    assert chip is not None
    chip.picker.choose("3")
    demo_hands.settle()
    assert window.place.session.current_probe().held == (("coaching", "3"),)  # type: ignore[union-attr]
    assert "in the group “one-to-one” (coaching)" in demo_hands.sentence()
    window.place.probe.focal.choose("returner")
    demo_hands.settle()
    probe = window.place.session.current_probe()
    assert probe is not None
    assert (probe.focal, probe.moderator) == ("returner", "balance")
    assert window.place.probe.sentence.of.text() == "difference by"


def test_a_group_focal_predictor_offers_its_comparisons(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.session.edit("probe", lambda s: put_probe(s, Probe("coaching", "practice")))
    demo_hands.press("Alt+5")
    assert window.place.probe.comparison.isVisible()
    window.place.probe.comparison.choose(2)
    demo_hands.settle()
    assert window.place.foot.title.text().startswith("one-to-one minus none at practice")


def test_the_frames_of_the_plots_map_pixels_to_values(demo_hands: Hands) -> None:
    demo_hands.press("Alt+5")
    for pane in (Pane.LINES, Pane.EFFECT):
        frame = demo_hands.place.probe.plots.frame(pane)
        assert frame is not None
        (x, y), area = (sum(frame.x) / 2, sum(frame.y) / 2), frame.area
        assert (float(frame.at_x(x)), float(frame.at_y(y))) == pytest.approx(area.middle)
        assert frame.value_x(area.left) == pytest.approx(frame.x[0])
    right = demo_hands.place.probe.plots.frame(Pane.EFFECT)
    assert right is not None
    assert right.x == pytest.approx((1.0, 7.0))


def test_opening_probe_is_no_step_for_undo_and_nothing_to_save(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.session.look(cell=Cell(2, term("returner*balance")))
    demo_hands.press("Alt+5")
    assert window.place.session.current_probe() == Probe("returner", "balance")
    assert window.place.session.undo_name == ""
    assert window.place.session.is_saved


def test_stories_without_anything_to_tell(hands: Hands) -> None:
    assert explanation(hands.place.session).title == ""
    study = study_of(noise_world(112), "y", "x")
    hands.place.session.open(take_out(study, study.model.terms))
    hands.settle()
    assert explanation(hands.place.session).title == "y"
    hands.place.session.look(variable=None)
    assert explanation(hands.place.session).title == "Choose a variable to read about it"
    hands.place.go(Waypoint.CHECKS)
    assert explanation(hands.place.session).title == "Nothing to check yet"


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Each further hour", "each further hour"),
        ("BMI is", "BMI is"),
        ("A slope", "a slope"),
        ("221 of 240", "221 of 240"),
    ],
)
def test_sentences_go_on_after_in_words(text: str, expected: str) -> None:
    assert continued(text) == expected


def test_copying_the_sentence(demo_hands: Hands) -> None:
    from PyQt6.QtWidgets import QApplication

    demo_hands.place.session.look(cell=Cell(0, term("age"), 0))
    demo_hands.press("Ctrl+Shift+C")
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    assert clipboard.text().startswith("age. step 3    b = −0.16")
    assert clipboard.text().endswith("other predictors held constant.")


def test_wide_windows_open_more_steps() -> None:
    hands = Hands(2440, 1000)  # the chosen product's plot takes its part of the width
    try:
        hands.place.fileactions.open_demo()
        hands.settle()
        assert [c.is_open for c in hands.place.blocks.ladder.columns()] == [True, True, True]
    finally:
        hands.close()


def test_own_scales_fill_each_row(demo_hands: Hands) -> None:
    from yellow_slope.app.blocks.drawing import LadderDrawing

    window = demo_hands.window
    window.place.session.look(own_scales=True)
    demo_hands.window.grab()
    ladder = window.place.blocks.ladder
    drawing = LadderDrawing(ladder, None)  # type: ignore[arg-type]
    fit = ladder.fit
    assert fit is not None
    for j in (0, 5, 13):
        reach = max(
            max(abs(float(s.low[j + 1])), abs(float(s.high[j + 1]))) * float(ladder.sheet.scale[j])
            for s in fit.steps
            if j < s.n_columns
        )
        assert drawing._row_limit(j) == pytest.approx(1.08 * reach)


def test_tooltips_of_the_ladder_say_what_a_cell_means(demo_hands: Hands) -> None:
    ladder = demo_hands.place.blocks.ladder
    y = demo_hands.place_of("practice", "worry").y()
    column = ladder.columns()[-1]
    tip = ladder.tip_at(QPoint(column.x + 20, y))
    assert tip.startswith(
        "practice × worry\nThe slope of practice on control score changes by −1.43 points per hour per further point "
        "of worry (95% CI"
    )


@pytest.mark.parametrize("chord", ["Alt+1", "Alt+2", "Alt+3", "Alt+4", "Alt+5", "Alt+6"])
def test_going_to_a_waypoint_never_puts_the_keyboard_on_a_button(demo_hands: Hands, chord: str) -> None:
    from PyQt6.QtWidgets import QAbstractButton

    demo_hands.press("Ctrl+L")
    demo_hands.press("Alt+6" if chord != "Alt+6" else "Alt+1")
    demo_hands.press(chord)
    focused = demo_hands.focus()
    assert not isinstance(focused, QAbstractButton)
    bench = demo_hands.place.bench(demo_hands.place.session.desk.waypoint)
    assert bench.isAncestorOf(focused)


def test_all_pick_points_are_seen_in_a_small_window() -> None:
    hands = Hands(1000, 700)
    try:
        hands.place.fileactions.open_demo()
        hands.settle()
        hands.press("Alt+5")
        table = hands.place.probe.table
        assert table.whole_height() <= table.room
    finally:
        hands.close()


def test_many_links_of_the_foot_leave_its_text_the_width(demo_hands: Hands) -> None:
    demo_hands.window.resize(1000, 700)
    demo_hands.place.go(Waypoint.PROBE)
    demo_hands.settle()
    foot = demo_hands.place.foot
    links = [button.geometry() for button in foot._buttons]
    said = foot.findChild(QScrollArea)
    assert said is not None
    assert len(links) > 4
    assert said.width() > 0.9 * foot.width()
    assert foot.sentence.height() <= 3 * foot.sentence.fontMetrics().lineSpacing()
    assert all(link.top() >= said.mapTo(foot, said.rect().bottomLeft()).y() for link in links)
    assert all(link.bottom() <= foot.height() for link in links)
    demo_hands.place.go(Waypoint.DATA)
    demo_hands.settle()
    assert foot._buttons[0].x() > said.width(), "few links stand beside it"


def test_one_flag_of_many_columns_is_one_pennant_with_their_number(hands: Hands) -> None:
    """Thirty items of five values: one pennant that says thirty, and an edge down to the last; none is missed."""
    n = 60
    random = np.random.default_rng(8)
    items = {f"item{i:02d}": random.integers(1, 6, n) for i in range(1, 31)}
    world = {**items, "y": np.cos(np.arange(n) * 1.3)}
    hands.place.session.open(study_of(world, "y", ", ".join(items)))
    hands.settle()
    roster, view = hands.place.roster, hands.place.session.view
    assert view is not None
    shared = [flag for flag in view.flags if len({flag.variable, *flag.also}) == 30]
    assert len(shared) == 1
    pennants = roster._pennants_now()
    assert pennants["item01"] == 30
    assert all(pennants[f"item{i:02d}"] == 0 for i in range(2, 31))
    roster.search("item1")
    assert roster._pennants_now()["item10"] == 10, "of those that are listed"
    roster.search("")
    chosen: list[object] = []
    roster.flag_chosen.connect(chosen.append)
    row, viewport = roster.row_rect("item03"), roster.viewport()
    assert row is not None
    assert viewport is not None
    hands.clicks(viewport, QPoint(viewport.width() - 2, int(row.bottom()) - 6))
    assert chosen == [shared[0].key]


def test_columns_far_apart_are_chosen_at_their_heads_and_treated_at_once(demo_hands: Hands) -> None:
    demo_hands.press("Alt+1")
    window = demo_hands.window
    heads, grid = window.place.data.heads, window.place.data.grid
    viewport = heads.viewport()
    assert viewport is not None

    def click(name: str, ctrl: bool = False, shift: bool = False) -> None:
        place = grid.place_of(name)
        assert place is not None
        at = QPoint(heads.sectionViewportPosition(place) + 40, 14)
        demo_hands.clicks(viewport, at, ctrl=ctrl, shift=shift)

    names = [v.name for v in window.place.session.study.variables if v.kind is Kind.NUMBER]
    near = [n for n in names if heads.sectionViewportPosition(grid.place_of(n) or 0) < viewport.width() - 60]
    first, last = near[0], near[-1]
    assert abs((grid.place_of(first) or 0) - (grid.place_of(last) or 0)) > 1
    click(first)
    click(last, ctrl=True)
    assert [t.variables[0] for t in window.place.session.desk.chosen] == [first, last]
    assert window.place.foot.title.text() == "2 variables are chosen"
    click(first)
    assert window.place.session.desk.chosen == ()
    click(last, shift=True)
    assert len(window.place.session.desk.chosen) == abs((grid.place_of(first) or 0) - (grid.place_of(last) or 0)) + 1


def test_a_product_of_far_columns_stands_beside_its_sources(hands: Hands) -> None:
    """Thirty columns: sources and product stand first, seen together; it is said, and undone by the same key."""
    n = 50
    random = np.random.default_rng(4)
    world = {f"v{i:02d}": random.normal(size=n) for i in range(30)}
    hands.place.session.open(study_of({**world, "y": random.normal(size=n)}, "y", "v01, v28; v01*v28"))
    hands.settle()
    hands.place.go(Waypoint.BLOCKS)
    hands.settle()
    hands.place.session.look(cell=Cell(1, term("v01*v28")))
    hands.press("Ctrl+D")
    grid, heads = hands.place.data.grid, hands.place.data.heads
    place = grid.last_of(term("v01*v28"))
    assert place is not None
    assert grid.shown(place).title == "v01 × v28"
    viewport = heads.viewport()
    assert viewport is not None
    assert [grid.shown(j).title for j in range(4)] == ["v01", "v28", "v01 × v28", "v00"]
    for j in range(3):
        left = heads.sectionViewportPosition(j)
        assert 0 <= left <= viewport.width() - heads.sectionSize(j)
    said = "v01 × v28 and what it is made of are shown first in the table; Ctrl+D puts them back."
    assert hands.place.session.message == said
    hands.place.session.look(cell=Cell(1, term("v01*v28")))
    hands.press("Ctrl+D")
    assert [grid.shown(j).title for j in range(3)] == ["v00", "v01", "v02"]
    assert hands.place.session.message == "v01 × v28 is no longer shown in the table."
    hands.place.session.look(cell=Cell(0, term("v28")))
    hands.press("Ctrl+D")
    assert [grid.shown(j).title for j in range(2)] == ["v28", "v00"]
    assert hands.place.session.message == "v28 is shown first in the table; Ctrl+D puts it back."
