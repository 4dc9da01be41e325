"""The window: opening, looking around, saving, and what it does when things are unusual."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QApplication, QInputDialog

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands, number, numbers_in
from tests.support.worlds import noise_world, study_of
from yellow_slope import looks
from yellow_slope.app.data.bench import DataBench
from yellow_slope.app.prepare.strips import GroupStrip
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.recentfiles import recent_files
from yellow_slope.app.verbs.standarderrors import StandardErrors
from yellow_slope.app.widgets.numberdialog import NumberDialog
from yellow_slope.core.data.source import Ragged
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.treatment import STANDARDIZED
from yellow_slope.core.words.sentences.checks import check_title
from yellow_slope.core.words.sentences.sources import source_phrases
from yellow_slope.demo.learners import STUDY, TABLE
from yellow_slope.files.opening import open_anything


def test_first_sight_has_the_keyboard_and_opens_what_is_typed(hands: Hands) -> None:
    assert hands.window.first.path.hasFocus()
    hands.types(str(STUDY))
    assert hands.place.session.desk.waypoint is Waypoint.BLOCKS
    assert hands.place.header.cases.text() == "221 of 240 cases"
    assert recent_files() == [STUDY.resolve()]


def test_a_file_that_cannot_be_opened_is_said_where_one_looks(hands: Hands, tmp_path: Path) -> None:
    broken = tmp_path / "broken.csv"
    broken.write_text("a,b\n1,2\n3\n")
    hands.answers("Do not open it")
    hands.types(str(broken))
    assert hands.window.first.trouble.isVisible()
    assert "row 3: 1 value where there are 2 columns" in hands.window.first.trouble.text()
    assert not hands.place.session.is_open


def test_opening_a_table_asks_nothing_and_says_how_it_was_read(hands: Hands) -> None:
    hands.types(str(TABLE))
    bench = hands.place.bench(Waypoint.DATA)
    assert isinstance(bench, DataBench)
    assert bench.isVisible()
    assert bench.read_as.text().startswith("Read as: separated by commas, decimal point, names in row 1, 240 rows")


@pytest.mark.parametrize("waypoint", Waypoint)
def test_every_waypoint_is_reached_by_key_and_by_click(demo_hands: Hands, waypoint: Waypoint) -> None:
    demo_hands.press(f"Alt+{list(Waypoint).index(waypoint) + 1}")
    assert demo_hands.place.bench(waypoint).isVisible()
    demo_hands.press("Alt+3")
    trail = demo_hands.place.header.trail
    demo_hands.clicks(trail, trail.place_of(waypoint))
    assert demo_hands.place.session.desk.waypoint == waypoint


def test_no_data_yet_is_said_at_every_waypoint(hands: Hands) -> None:
    hands.types(str(TABLE))
    for waypoint in Waypoint:
        hands.place.go(waypoint)
        hands.settle()
        hands.window.grab()
    hands.place.go(Waypoint.PROBE)
    assert hands.place.foot.title.text() == "Nothing to probe yet"
    hands.place.go(Waypoint.BLOCKS)
    assert "Choose an outcome here" in hands.place.blocks.problem.text()


def test_the_table_shows_labels_or_codes_by_one_key(demo_hands: Hands) -> None:
    demo_hands.press("Alt+1")
    grid = demo_hands.place.data.grid
    column = [grid.shown(j).variable for j in range(grid.columnCount())].index("coaching")
    raw = open_anything(TABLE).table.column("coaching")
    label = grid.data(grid.index(1, column))
    assert label in ("none", "group lesson", "video feedback", "one-to-one")
    demo_hands.press("Ctrl+J")
    assert grid.data(grid.index(1, column)) == raw.text(1)


def test_a_million_cells_cost_nothing_to_show(hands: Hands) -> None:
    rng = np.random.default_rng(1)
    world = {f"v{k}": rng.normal(size=25_000) for k in range(40)}
    hands.place.session.open(study_of(world, "v0", "v1"))
    hands.settle()
    hands.press("Alt+1")
    grid = hands.place.data.grid
    assert grid.rowCount() * grid.columnCount() == 1_000_000
    view = hands.place.data.view
    view.scrollToBottom()
    hands.app.processEvents()
    shown = number(grid.data(grid.index(24_999, 39)))
    assert shown == pytest.approx(world["v39"][-1], abs=1e-6)


def test_the_card_changes_kind_and_names_and_can_be_undone(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.session.look(variable="site")
    window.place.roster.setFocus()
    demo_hands.press("N")
    study = window.place.session.study
    assert study.variable("site").kind is Kind.NUMBER
    demo_hands.press("G")
    assert [x.label for x in window.place.session.study.variable("site").levels] == ["north hall", "quarry", "harbour"]
    demo_hands.press("Ctrl+Z")
    demo_hands.press("Ctrl+Z")
    assert window.place.session.study is window.place.session.saved


def test_prepare_treats_several_at_once(hands: Hands) -> None:
    hands.types(str(TABLE))
    hands.press("Alt+2")
    prepare = hands.place.prepare
    strips = {s.name: s for s in prepare.strips}
    hands.clicks(strips["practice"], QPoint(40, 30))
    for name in ("worry", "sleep", "age"):
        hands.clicks(strips[name], QPoint(40, 14), ctrl=True)
    hands.press("Z")
    study = hands.place.session.study
    assert {v.name for v in study.variables if study.model.treatment(v.name) == STANDARDIZED} == {
        "practice",
        "worry",
        "sleep",
        "age",
    }
    before_mean, _, before_skew, after_mean, after_sd, after_skew, *_ = numbers_in(strips["sleep"].figures())  # type: ignore[attr-defined]
    assert before_mean == pytest.approx(7.0, abs=0.1)
    assert before_skew == after_skew
    assert (after_mean, after_sd) == (0, 1)


def test_a_click_on_a_level_makes_it_the_reference(demo_hands: Hands) -> None:
    demo_hands.press("Alt+2")
    prepare = demo_hands.place.prepare
    strip = next(s for s in prepare.strips if s.name == "coaching")
    assert isinstance(strip, GroupStrip)
    demo_hands.clicks(strip, QPoint(40, 14))
    demo_hands.clicks(prepare.card.sheet, prepare.card.sheet.level_rect(3).center())
    study = demo_hands.place.session.study
    assert study.model.reference("coaching") == "3"
    assert strip._treated(study.variable("coaching")) == "3 comparisons with one-to-one"


def test_checks_change_the_large_plot(demo_hands: Hands) -> None:
    demo_hands.press("Alt+4")
    bench = demo_hands.place.bench(Waypoint.CHECKS)
    demo_hands.clicks(bench.small[Check.NORMAL])  # type: ignore[attr-defined]
    assert bench.title.text() == check_title(Check.NORMAL)  # type: ignore[attr-defined]
    assert "Shapiro-Wilk W = .978" in demo_hands.sentence()


def test_the_handle_follows_mouse_keys_and_typing(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+5")
    window.grab()
    probed = window.place.session.probed()
    assert probed is not None
    curve = probed.panels[0].foci[0].curve
    assert curve is not None
    plots = window.place.probe.plots
    frame = plots.frame(Pane.EFFECT)
    assert frame is not None
    demo_hands.clicks(plots, QPointF(float(frame.at_x(5.0)), float(frame.at_y(0.0))))
    assert window.place.session.desk.seen.handle == pytest.approx(5.0, abs=0.03)
    plots.setFocus()
    demo_hands.press("Home")
    low, high = curve.boundaries()
    assert window.place.session.desk.seen.handle == pytest.approx(low)
    demo_hands.press("End")
    assert window.place.session.desk.seen.handle == pytest.approx(high)
    demo_hands.press("Right")
    assert window.place.session.desk.seen.handle > high  # type: ignore[operator]
    window.place.probe.at.setFocus()
    window.place.probe.at.selectAll()
    demo_hands.types("2.5")
    shown = window.place.probe.table.rows()[0]
    assert shown.value == "2.50"
    assert shown.effect.effect == pytest.approx(float(curve.effect(np.array([2.5]))[0]))
    assert "at worry 2.50, per further hour of practice" in demo_hands.sentence()


def test_swap_and_keep_as_pick_point(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+5")
    window.grab()
    window.place.probe.plots.put_handle(5.5)
    window.place.probe.plots.setFocus()
    demo_hands.press("Ctrl+M")
    assert [row.value for row in window.place.probe.table.rows()][-1] == "5.50"
    demo_hands.press("Ctrl+I")
    probe = window.place.session.current_probe()
    assert probe is not None
    assert (probe.focal, probe.moderator) == ("worry", "practice")


@pytest.mark.parametrize(
    "probe", [Probe("practice", "coaching"), Probe("coaching", "practice"), Probe("returner", "balance")]
)
def test_probes_of_every_kind_are_drawn(demo_hands: Hands, probe: Probe) -> None:
    window = demo_hands.window
    window.place.session.edit("probe", lambda s: put_probe(s, probe))
    demo_hands.press("Alt+5")
    window.grab()
    rows = window.place.probe.table.rows()
    assert len(rows) == (10 if probe.moderator == "coaching" else 4)
    assert {frame.pane for frame in window.place.probe.plots.frames} >= {Pane.LINES, Pane.EFFECT}
    window.place.probe.table.choose(len(rows) - 1)
    assert window.place.foot.title.text()
    assert demo_hands.sentence().startswith("In words: ")


def test_group_by_group_is_drawn(hands: Hands) -> None:
    hands.types(str(TABLE))
    hands.press("Ctrl+L")
    hands.types("control = returner, coaching from none; returner x coaching")
    hands.press("Alt+5")
    hands.window.grab()
    assert len(hands.place.probe.table.rows()) == 4 + 6


def test_saving_and_opening_again(demo_hands: Hands, tmp_path: Path) -> None:
    window = demo_hands.window
    window.place.session.history.path = tmp_path / "mine.yslope"
    window.place.session.edit("rename", lambda s: rename_study(s, "mine"))
    assert not window.place.session.is_saved
    demo_hands.press("Ctrl+S")
    assert window.place.session.is_saved
    assert open_anything(tmp_path / "mine.yslope").name == "mine"


def test_a_disk_that_refuses_is_said_and_the_study_is_kept(demo_hands: Hands, tmp_path: Path) -> None:
    window = demo_hands.window
    window.place.session.history.path = tmp_path / "nowhere" / "mine.yslope"
    window.place.session.edit("rename", lambda s: rename_study(s, "mine"))
    demo_hands.answers("Leave it unsaved")
    demo_hands.press("Ctrl+S")
    assert "cannot be written" in window.place.status.message.text()
    assert not window.place.session.is_saved


def test_figures_are_written_for_every_name_on_the_line(
    demo_hands: Hands, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    line = f"{tmp_path / 'slopes.png'} {tmp_path / 'slopes.svg'} 120 dpi"
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: (line, True))
    demo_hands.press("Ctrl+E")
    png = (tmp_path / "slopes.png").read_bytes()
    assert int.from_bytes(png[16:20], "big") == int(6.5 * 120)
    assert b"<svg" in (tmp_path / "slopes.svg").read_bytes()
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("slopes.bmp", True))
    demo_hands.press("Ctrl+E")
    assert "written as .png, .svg, .pdf, .tiff or .csv" in demo_hands.place.session.message


def test_the_report_stands_on_screen_and_the_equation_is_copied(demo_hands: Hands) -> None:
    demo_hands.press("Alt+6")
    report = demo_hands.place.report
    text = report.page.toPlainText()
    assert "What each block adds to control score" in text
    assert "Regions of significance along worry" in text
    report.copy_button.choose(demo_hands.place.equations.copy_text)
    demo_hands.settle()
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    assert clipboard.text().startswith("control score = ")
    report.copy_button.choose(demo_hands.place.equations.copy_latex)
    demo_hands.settle()
    assert clipboard.text().startswith(r"\widehat{\text{control score}} = ")
    report.copy_button.choose(demo_hands.place.equations.copy_picture)
    demo_hands.settle()
    assert clipboard.image().width() == 1950, "6.5 inches at 300 dpi"


def test_the_step_that_is_reported_is_chosen_once(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+3")
    window.place.blocks.ladder.setFocus()
    demo_hands.press("Left")
    demo_hands.press("ctrl+shift+R")
    study = window.place.session.study
    assert study.model.reported_step == 1
    assert window.place.session.desk.open_step is None
    assert window.place.blocks.ladder.open_step() == 1
    demo_hands.press("Alt+6")
    text = window.place.report.page.toPlainText()
    assert "Equation of step 2" in text
    assert window.place.report.step.current == 1
    window.place.report.step.choose(2)
    demo_hands.settle()
    assert "Equation of step 3" in window.place.report.page.toPlainText()
    demo_hands.press("Ctrl+Z")
    assert "Equation of step 2" in window.place.report.page.toPlainText()


def test_a_flag_is_put_aside_with_a_reason(demo_hands: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("a wet form", True))
    demo_hands.clicks(demo_hands.place.header.cases)
    assert demo_hands.place.foot.title.text() == "19 cases excluded for missing values"
    demo_hands.clicks(demo_hands.foot_button("Dismiss …"))
    assert demo_hands.place.session.view.flags == ()  # type: ignore[union-attr]
    assert demo_hands.place.status.flags.text() == "no flags"


def test_forty_variables_and_long_names(hands: Hands) -> None:
    rng = np.random.default_rng(5)
    long = "hours spent on the practice slope outside of the lessons and before the season"
    world = {f"{long} {k}": rng.normal(size=200) for k in range(40)}
    names = list(world)
    study = study_of(world, names[0], f"{names[1]}, {names[2]}; {names[1]}*{names[2]}")
    hands.place.session.open(study)
    hands.settle()
    for waypoint in Waypoint:
        hands.place.go(waypoint)
        hands.settle()
        hands.window.grab()
    assert hands.place.roster.verticalScrollBar().maximum() > 0
    assert all(len(v.short) <= 18 for v in hands.place.session.study.variables)


def test_a_narrow_window_folds_the_roster(hands: Hands) -> None:
    hands.place.fileactions.open_demo()
    hands.window.resize(1120, 700)
    hands.settle()
    assert hands.place.side.width() == looks.SIZES.roster_folded
    hands.window.resize(1280, 800)
    hands.settle()
    assert hands.place.side.width() == looks.SIZES.roster


def test_dark_is_dark_and_light_again_is_light(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Ctrl+Shift+L")
    assert window.grab().toImage().pixelColor(400, 790) == QColor(looks.DARK.paper)
    demo_hands.press("Ctrl+Shift+L")
    assert window.grab().toImage().pixelColor(400, 790) == QColor(looks.LIGHT.paper)


def test_typing_into_the_search_box_narrows_the_roster(demo_hands: Hands) -> None:
    demo_hands.press("Ctrl+F")
    QTest.keyClicks(demo_hands.place.search, "pr")
    assert [v.name for v in demo_hands.place.roster.shown()] == ["practice"]


def test_a_variable_that_turns_the_model_impossible_is_said(hands: Hands) -> None:
    world = {k: v[:6] for k, v in noise_world(71).items()}
    hands.place.session.open(study_of(world, "y", "x, w, z, g, d"))
    hands.settle()
    assert "coefficients from 6 cases" in hands.place.blocks.problem.text()
    assert hands.place.blocks.problem.isVisibleTo(hands.place.blocks)


def test_a_phrase_of_the_reading_can_be_changed(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "mixed.csv"
    path.write_text("a;b\n1,5;2\n2,5;3\n")
    hands.types(str(path))
    study = hands.place.session.study
    assert source_phrases(study.source, study.table.n_rows)[:2] == ("separated by semicolons", "decimal comma")
    strip = hands.place.data.read_as
    strip.decimal.choose(".")
    hands.settle()
    study = hands.place.session.study
    assert source_phrases(study.source, study.table.n_rows)[1] == "decimal point"
    assert not study.table.column("a").is_numeric
    strip.names.choose(None)
    hands.settle()
    assert hands.place.session.study.table.names == ("column 1", "column 2")


def test_a_reading_that_does_not_fit_is_said_and_changes_nothing(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "notes.csv"
    path.write_text("a,b\nx;1,2\ny,3\n")
    hands.types(str(path))
    before = hands.place.session.study
    hands.answers("Do not open it")
    hands.place.data.read_as.separator.choose(";")
    hands.settle()
    assert hands.place.session.study is before
    assert "row " in hands.place.session.message


def test_rows_of_another_length_are_asked_about(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "odd.csv"
    path.write_text("a,b\n1,x\n2\n3,z,9\n4,u\n")
    hands.answers("Skip these rows")
    hands.types(str(path))
    study = hands.place.session.study
    assert study.table.n_rows == 2
    assert "2 rows of another length skipped: 3, 4" in hands.place.data.read_as.rest.text()
    hands.place.data.read_as.ragged.choose(Ragged.FILL)
    hands.settle()
    assert hands.place.session.study.table.n_rows == 4
    assert "2 rows more" in hands.place.session.message


def test_reading_again_keeps_the_model_and_can_be_undone(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    rows = [f"{k % 7}.5,{k * k % 11},{k % 3},{k}.5" for k in range(40)]
    path.write_text("x,w,g,y\n" + "\n".join(rows) + "\n")
    hands.types(str(path))
    hands.press("Ctrl+L")
    hands.types("y = x, w; x times w".replace("times", "x"))
    before = hands.place.session.study
    assert before is not None
    path.write_text("x,g,y,more\n" + "\n".join(f"{r.split(',')[0]},{r.split(',', 2)[2]},1" for r in rows[:30]) + "\n")
    hands.press("F5")
    study = hands.place.session.study
    assert (study.table.n_rows, study.model.outcome) == (30, "y")
    assert [t.variables for t in study.model.terms] == [("x",)]
    said = hands.place.session.message
    assert "10 rows fewer; 1 column new (“more”); 1 column gone (“w”)" in said
    assert "These could not be kept: w and x × w." in said
    hands.press("Ctrl+Z")
    assert hands.place.session.study is before


def test_a_copied_table_can_be_pasted(hands: Hands) -> None:
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setText("a\tb\n1,5\tx\n2,5\ty\n")
    hands.press("Ctrl+Shift+V")
    study = hands.place.session.study
    assert study.table.names == ("a", "b")
    assert "separated by tabs, decimal comma" in hands.place.data.read_as.text()


def test_a_file_dropped_anywhere_is_opened(hands: Hands) -> None:
    from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
    from PyQt6.QtGui import QDragEnterEvent, QDropEvent

    carried = QMimeData()
    carried.setUrls([QUrl.fromLocalFile(str(TABLE))])
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    entering = QDragEnterEvent(QPoint(300, 300), Qt.DropAction.CopyAction, carried, left, none)
    QApplication.sendEvent(hands.window, entering)
    assert entering.isAccepted()
    dropped = QDropEvent(QPointF(300, 300), Qt.DropAction.CopyAction, carried, left, none)
    QApplication.sendEvent(hands.window, dropped)
    hands.settle()
    assert hands.place.session.study.table.n_rows == 240


def test_recent_files_are_offered_at_first_sight(hands: Hands) -> None:
    hands.types(str(TABLE))
    again = Hands()
    try:
        buttons = {
            b.accessibleName(): b for b in again.window.first.findChildren(type(again.window.first.browse_button))
        }
        again.clicks(buttons[f"Open {TABLE.name}"])
        assert again.place.session.source == TABLE.resolve()
    finally:
        again.close()


def test_the_level_of_the_intervals_is_chosen_once_for_all(demo_hands: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    fit = demo_hands.place.session.view.evaluation.fit  # type: ignore[union-attr]
    assert fit is not None
    before = fit.last.high - fit.last.low

    def answered(dialog: NumberDialog) -> int:
        dialog.field.setText("99")
        return 1

    monkeypatch.setattr(NumberDialog, "exec", answered)
    demo_hands.place.actions_table.of(StandardErrors.ask_level).run()
    demo_hands.settle()
    fit = demo_hands.place.session.view.evaluation.fit  # type: ignore[union-attr]
    assert fit is not None
    assert np.all(fit.last.high - fit.last.low > before)
    status = demo_hands.place.status
    assert (status.level.text(), status.errors.text()) == ("99% intervals  ▾", "classical SE  ▾")
    demo_hands.place.blocks.focus_ladder()
    demo_hands.press("Down")
    demo_hands.press("Down")
    assert "(99% CI " in demo_hands.sentence()


def test_a_changed_study_is_not_left_without_asking(demo_hands: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    from PyQt6.QtWidgets import QMessageBox

    window = demo_hands.window
    window.place.session.edit("rename", lambda s: rename_study(s, "mine"))
    asked: list[str] = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: asked.append(box.text()))
    window.open_path(str(TABLE))
    demo_hands.settle()
    assert asked == ["“mine” has changes that are not saved."]
    assert window.place.session.study.name == "mine", "no answer means: stay"
