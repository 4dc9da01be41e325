"""Data: sample rules by typing and by clicking, cases set aside, computed columns, sorting and finding; in the real
window."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QItemSelection, QItemSelectionModel, Qt
from PyQt6.QtWidgets import QLineEdit, QPushButton, QToolButton

from tests.support import worlds
from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from yellow_slope.app.data.rulebuilder import Asks
from yellow_slope.app.widgets.exportdialog import ExportDialog
from yellow_slope.app.widgets.picker import Further
from yellow_slope.core.data.conditions import AtLeast, Is, Not, OneOf
from yellow_slope.core.data.source import ReadAs
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import FileError
from yellow_slope.core.study.study import Study
from yellow_slope.files.opening import first_rows, open_anything
from yellow_slope.files.written.exporting import ExportChoices
from yellow_slope.values import replace


@pytest.fixture
def at_data(demo_hands: Hands) -> Hands:
    demo_hands.press("Alt+1")
    return demo_hands


def study_of(hands: Hands) -> Study:
    return hands.place.session.study


def shown_count(hands: Hands) -> str:
    return hands.place.data.cases.count.text()


def chips(hands: Hands) -> list[QToolButton]:
    strip = hands.place.data.cases.chips
    found = [strip.itemAt(i).widget() for i in range(strip.count())]  # type: ignore[union-attr]
    return [w for w in found if isinstance(w, QToolButton)]


def cell(hands: Hands, name: str, place: int) -> str:
    grid = hands.place.data.grid
    column = grid.place_of(name)
    assert column is not None
    return str(grid.data(grid.index(place, column)))


def choose_rows(hands: Hands, *places: int) -> None:
    data = hands.place.data
    data.view.setFocus()
    picked = QItemSelection()
    for place in places:
        picked.select(data.grid.index(place, 1), data.grid.index(place, 1))
    model = data.view.selectionModel()
    assert model is not None
    model.select(picked, QItemSelectionModel.SelectionFlag.ClearAndSelect)


def says(hands: Hands, text: str | None) -> None:
    hands.place.dialogs.text = lambda title, question, text_=None, said=text: said  # type: ignore[method-assign,misc]


def test_a_typed_rule_counts_while_it_is_typed_and_then_holds(at_data: Hands) -> None:
    cases = at_data.place.data.cases
    at_data.press("Ctrl+U")
    QTest.keyClicks(at_data.focus(), "coaching is none")
    at_data.settle()
    here = study_of(at_data).columns.levels("coaching") == 0
    assert f"{here.sum()} of 240 cases" in cases.echo.text
    at_data.press("Enter")
    model = study_of(at_data).model
    assert study_of(at_data).sample_of(model).rule == Is("coaching", "0")  # type: ignore[union-attr]
    assert shown_count(at_data).startswith(f"{here.sum()} of 240 cases")
    assert at_data.place.session.view is not None
    assert at_data.place.session.view.evaluation.cases.n < here.sum()
    # typed after what is there, a rule is added to it
    at_data.clicks(cases.field)
    at_data.types("practice hours at least 5")
    with np.errstate(invalid="ignore"):
        both = here & (study_of(at_data).columns.numbers("practice") >= 5)
    assert shown_count(at_data).startswith(f"{both.sum()} of 240 cases")
    assert [b.text() for b in chips(at_data)] == ["coaching is “none”", "×", "practice at least 5", "×"]
    # the whole rule is changed with Ctrl+U
    at_data.press("Ctrl+U")
    assert cases.field.text() == "coaching is “none” and practice at least 5"
    assert cases.field.selectedText() == cases.field.text()
    at_data.press("End")
    at_data.types(" or age at most 30")
    assert "or age at most 30" in cases.said.text() or shown_count(at_data)
    at_data.press("Ctrl+Z")
    assert shown_count(at_data).startswith(f"{both.sum()} of 240 cases")
    at_data.clicks(chips(at_data)[3])
    assert shown_count(at_data).startswith(f"{here.sum()} of 240 cases")
    at_data.clicks(chips(at_data)[1])
    assert study_of(at_data).sample_of(study_of(at_data).model).rule is None  # type: ignore[union-attr]
    assert shown_count(at_data) == "all 240 cases"


def test_a_mistake_in_a_rule_is_pointed_at_and_nothing_changes(at_data: Hands) -> None:
    before = study_of(at_data)
    cases = at_data.place.data.cases
    at_data.press("Ctrl+U")
    at_data.types("coaching is nobody")
    assert cases.echo.wrong
    assert "no such group" in cases.echo.text
    assert cases.echo.isVisible()
    expected = cases.field.x() - cases.echo.x() + cases.field.fontMetrics().horizontalAdvance("coaching is ")
    assert cases.echo.at == pytest.approx(expected, abs=20)
    assert study_of(at_data) is before
    at_data.press("Escape")
    assert cases.field.text() == ""
    assert at_data.focus() is at_data.place.data.view


def test_a_rule_is_built_by_clicking_and_changed_at_its_chip(at_data: Hands) -> None:
    cases = at_data.place.data.cases
    at_data.place.session.look(variable="coaching")
    at_data.clicks(cases.add)
    builder = cases.builder
    assert builder.isVisible()
    assert not builder.use.isEnabled()
    for i in (0, 2):
        builder.levels.item(i).setCheckState(Qt.CheckState.Checked)  # type: ignore[union-attr]
    levels = study_of(at_data).columns.levels("coaching")
    assert builder.counted.text().startswith(f"{np.isin(levels, [0, 2]).sum()} of 240 cases")
    at_data.clicks(builder.use)
    assert cases.rule() == OneOf("coaching", ("0", "2"))
    at_data.clicks(chips(at_data)[0])
    assert builder.levels.item(2).checkState() is Qt.CheckState.Checked  # type: ignore[union-attr]
    builder.levels.item(2).setCheckState(Qt.CheckState.Unchecked)  # type: ignore[union-attr]
    builder.way.choose(Asks.NONE_OF)
    at_data.clicks(builder.use)
    assert cases.rule() == Not(Is("coaching", "0"))
    at_data.place.session.look(variable="practice")
    at_data.clicks(cases.add)
    assert builder.range.text().startswith("runs from ")
    builder.first.setText("3.5")
    builder.first.textEdited.emit("3.5")
    at_data.clicks(builder.use)
    assert cases.parts()[1] == (Not(Is("coaching", "0")), AtLeast("practice", 3.5))


def test_several_samples_in_a_study(at_data: Hands) -> None:
    cases = at_data.place.data.cases
    at_data.press("Ctrl+U")
    at_data.types("age at most 30")
    says(at_data, "older")
    cases.sample.choose(Further.ASK)
    at_data.settle()
    assert [s.name for s in study_of(at_data).samples] == ["sample 1", "older"]
    assert cases.rule() is None
    at_data.clicks(cases.field)
    at_data.types("age more than 30")
    cases.sample.choose("sample 1")
    at_data.settle()
    assert cases.rule() is not None
    assert study_of(at_data).model.sample == "sample 1"
    says(at_data, "young")
    cases.rename_sample()
    assert study_of(at_data).model.sample == "young"
    cases.remove_sample()
    assert [s.name for s in study_of(at_data).samples] == ["older"]
    assert study_of(at_data).model.sample is None
    says(at_data, "older")
    cases.new_sample()
    assert "already" in at_data.place.session.message


def test_cases_are_set_aside_with_a_reason_and_brought_back(at_data: Hands) -> None:
    before = at_data.place.session.view.evaluation.cases.n  # type: ignore[union-attr]
    says(at_data, "wrong boots")
    choose_rows(at_data, 0, 2)
    at_data.press("Delete")
    sample = study_of(at_data).sample_of(study_of(at_data).model)
    assert sample is not None
    assert [(a.rows, a.reason) for a in sample.aside] == [((0, 2), "wrong boots")]
    assert at_data.place.session.view.evaluation.cases.n == before - 2  # type: ignore[union-attr]
    assert "2 set aside" in shown_count(at_data)
    assert "wrong boots" in at_data.place.data.cases.said.text()
    font = at_data.place.data.grid.data(at_data.place.data.grid.index(2, 1), Qt.ItemDataRole.FontRole)
    assert font.strikeOut()
    at_data.press("Delete")
    assert "already" in at_data.place.session.message
    choose_rows(at_data, 2)
    at_data.press("Shift+Delete")
    assert at_data.place.session.view.evaluation.cases.n == before - 1  # type: ignore[union-attr]
    at_data.press("Shift+Delete")
    assert "None of the chosen" in at_data.place.session.message
    says(at_data, "  ")
    choose_rows(at_data, 5)
    at_data.press("Delete")
    assert "A reason is needed" in at_data.place.session.message
    at_data.press("Ctrl+Z")
    at_data.press("Ctrl+Z")
    assert at_data.place.session.view.evaluation.cases.n == before  # type: ignore[union-attr]


def test_a_column_is_computed_changed_and_removed(at_data: Hands) -> None:
    data = at_data.place.data
    at_data.press("Ctrl+Shift+N")
    QTest.keyClicks(at_data.focus(), "short sleep = 8 - slee")
    at_data.settle()
    assert "value" in data.derive.line.echo.text
    QTest.keyClick(at_data.focus(), Qt.Key.Key_Tab)
    assert data.derive.line.field.text() == "short sleep = 8 - sleep"
    at_data.press("Enter")
    assert not data.derive.isVisible()
    study = study_of(at_data)
    np.testing.assert_array_equal(study.columns.numbers("short sleep"), 8 - study.columns.numbers("sleep"))
    assert study.variable("short sleep").unit == study.variable("sleep").unit
    assert at_data.place.session.desk.variable == "short sleep"
    assert cell(at_data, "short sleep", 0) == "1.7"
    link = next(b for b in data.card.findChildren(QPushButton) if b.text() == "Change the expression")
    at_data.clicks(link)
    assert data.derive.line.field.text() == "short sleep = 8 − sleep"
    data.derive.line.field.clear()
    at_data.types("sleep debt = 9 - sleep")
    study = study_of(at_data)
    assert study.variable("short sleep").label == "sleep debt"
    assert study.columns.numbers("short sleep")[0] == pytest.approx(9 - study.columns.numbers("sleep")[0])
    titles = [shown.title for shown in data.grid._shown]
    assert titles.index("sleep debt") == titles.index("sleep") + 1, "a computed column stands beside its source"
    at_data.press("Ctrl+Shift+N")
    at_data.types("often = 1 if practice at least 5 els 0")
    assert data.derive.line.echo.wrong
    assert data.derive.line.field.text().endswith("els 0")
    data.derive.line.field.clear()
    at_data.types("often = 1 if practice at least 5 else 0")
    assert study_of(at_data).variable("often").kind is Kind.GROUP
    data.verbs.remove_computed()
    at_data.settle()
    assert [d.name for d in study_of(at_data).derived] == ["short sleep"]
    at_data.press("Ctrl+Shift+N")
    at_data.types("sleep = 3")
    assert "already" in data.derive.line.echo.text


def test_the_table_is_sorted_in_the_view_only(at_data: Hands) -> None:
    data = at_data.place.data
    before = study_of(at_data)
    at_data.place.session.look(variable="age")
    data.view.setFocus()
    ages = before.columns.numbers("age")
    at_data.press("S")
    assert float(cell(at_data, "age", 0)) == np.nanmin(ages)
    assert data.grid.headerData(0, Qt.Orientation.Vertical) == str(int(np.nanargmin(ages)) + 1)
    at_data.press("S")
    assert float(cell(at_data, "age", 0)) == np.nanmax(ages)
    assert cell(at_data, "age", 239) == "–"
    assert study_of(at_data) is before
    says(at_data, "oldest")
    choose_rows(at_data, 0)
    at_data.press("Delete")
    aside = study_of(at_data).samples[0].aside[0]
    assert aside.rows == (int(np.nanargmax(ages)),)
    at_data.press("S")
    assert data.grid.headerData(0, Qt.Orientation.Vertical) == "1"


def test_find_and_go_to_a_case(at_data: Hands) -> None:
    data = at_data.place.data
    at_data.press("Ctrl+Shift+F")
    at_data.types("video")
    levels = study_of(at_data).columns.levels("coaching")
    rows = np.flatnonzero(levels == 2)
    assert data.finder.said.text() == f"1 of {rows.size} cells: case {rows[0] + 1}, coaching"
    at_data.press("Enter")
    assert data.view.currentIndex().row() == rows[1]
    assert at_data.place.session.desk.variable == "coaching"
    QTest.keyClick(at_data.focus(), Qt.Key.Key_Return, Qt.KeyboardModifier.ShiftModifier)
    assert data.view.currentIndex().row() == rows[0]
    data.finder.field.clear()
    at_data.types("nowhere at all")
    assert data.finder.said.text() == "No cell contains “nowhere at all”"
    at_data.press("Ctrl+G")
    data.finder.field.clear()
    at_data.types("171")
    assert data.view.currentIndex().row() == 170
    data.finder.field.clear()
    at_data.types("999")
    assert data.finder.said.text() == "The table has cases 1 to 240"
    at_data.press("Escape")
    assert at_data.focus() is data.view
    assert not data.finder.isVisible()


def test_the_table_is_exported_from_the_window(at_data: Hands, tmp_path: Path) -> None:
    window = at_data.window
    dialog = ExportDialog(f"{tmp_path}/out.csv {tmp_path}/out.parquet", tmp_path, True)
    dialog.boxes["model_columns"].setChecked(True)
    window.place.dialogs.export = lambda suggestion, folder, has_fit: (dialog.names.text(), dialog.choices())  # type: ignore[method-assign]
    at_data.press("Ctrl+Shift+E")
    assert window.place.session.message.startswith("Saved: ")
    assert sorted(p.name for p in tmp_path.iterdir()) == [
        "out.codebook.csv",
        "out.csv",
        "out.parquet",
        "out.schema.json",
    ]
    assert "practice × worry" in open_anything(tmp_path / "out.csv").table.names
    window.place.dialogs.export = lambda suggestion, folder, has_fit: (f"{tmp_path}/out.doc", ExportChoices())  # type: ignore[method-assign]
    at_data.press("Ctrl+Shift+E")
    assert "a table is written as" in window.place.session.message
    bare = ExportDialog("x.csv", tmp_path, False)
    assert not bare.boxes["used_only"].isEnabled()


def field(hands: Hands, name: str) -> QLineEdit:
    return next(f for f in hands.place.data.card.findChildren(QLineEdit) if f.accessibleName() == name)


def test_levels_are_merged_ordered_and_taken_apart_on_the_card(at_data: Hands) -> None:
    window = at_data.window
    window.place.session.look(variable="coaching")
    at_data.settle()
    names = field(at_data, "Name of level 3")
    at_data.clicks(names)
    names.selectAll()
    at_data.types("video feedback")
    levels = [(x.codes, x.label) for x in study_of(at_data).variable("coaching").levels]
    assert levels == [(("0",), "none"), (("1",), "group lesson"), (("2", "3"), "video feedback")]
    assert "one level of the codes 2, 3 now" in window.place.session.message
    link = next(
        b for b in window.place.data.card.findChildren(QPushButton) if b.text().startswith("Take 1 merged level")
    )
    at_data.clicks(link)
    assert [x.label for x in study_of(at_data).variable("coaching").levels][2:] == ["video feedback", "3"]
    at_data.press("Ctrl+Z")
    at_data.press("Ctrl+Z")
    order = field(at_data, "Order of the levels")
    at_data.clicks(order)
    at_data.types("video feedback, one-to-one")
    assert [x.code for x in study_of(at_data).variable("coaching").levels] == ["2", "3", "0", "1"]
    names = field(at_data, "Name of level 0")
    at_data.clicks(names)
    at_data.press("Alt+Up")
    assert [x.code for x in study_of(at_data).variable("coaching").levels] == ["2", "0", "3", "1"]
    up = next(b for b in window.place.data.card.findChildren(QToolButton) if b.accessibleName() == "Move none up")
    at_data.clicks(up)
    assert [x.code for x in study_of(at_data).variable("coaching").levels] == ["0", "2", "3", "1"]
    window.place.roster.setFocus()
    at_data.press("O")
    assert window.place.session.message.startswith("In the order of the codes: none, group lesson")


def test_columns_with_the_same_codes_are_named_at_once(hands: Hands, tmp_path: Path) -> None:
    rows = "\n".join(f"{i % 2},{(i // 2) % 2},{(i // 3) % 2},{i}" for i in range(24))
    (tmp_path / "t.csv").write_text(f"a,b,c,y\n{rows}\n")
    hands.types(str(tmp_path / "t.csv"))
    window = hands.window
    for name in ("a", "b", "c"):
        window.place.session.look(variable=name)
        window.place.roster.setFocus()
        hands.press("Space")
    window.place.session.look(variable="a")
    hands.settle()
    names = field(hands, "Names of all levels")
    hands.clicks(names)
    hands.types("no, yes")
    for name in ("a", "b", "c"):
        assert [x.label for x in study_of(hands).variable(name).levels] == ["no", "yes"]
    assert "In 3 columns" in window.place.session.message
    hands.press("Ctrl+Z")
    assert [x.label for x in study_of(hands).variable("c").levels] == ["0", "1"]


def test_a_way_of_reading_is_looked_at_before_it_is_chosen(hands: Hands, tmp_path: Path) -> None:
    (tmp_path / "t.csv").write_text("x;y\n" + "".join(f"1,5;{i}\n" for i in range(20)))
    hands.types(str(tmp_path / "t.csv"))
    data, before = hands.place.data, study_of(hands)
    assert before.table.names == ("x", "y")
    data.read_as.separator.looked_at.emit(",")
    hands.settle()
    assert data.first_rows.isVisible()
    assert data.first_rows.text().startswith("2 columns: row 1, x;y 5;0")
    data.read_as.decimal.looked_at.emit(".")
    hands.settle()
    assert data.first_rows.text() == "2 columns: x 1,5, y 0"
    assert study_of(hands) is before
    data.read_as.decimal.shut.emit()
    assert not data.first_rows.isVisible()
    data.read_as.names.looked_at.emit(None)
    hands.settle()
    assert data.first_rows.text() == "2 columns: column 1, column 2"
    data.read_as.names.looked_at.emit(0)
    assert not data.first_rows.isVisible(), "that is how it was read"


def test_first_rows_of_a_large_text_and_of_none(tmp_path: Path) -> None:
    way = ReadAs()
    large = tmp_path / "large.csv"
    large.write_text("a,b\n" + "1.5,2\n" * 700_000)
    table = first_rows(large, way)
    assert table is not None
    assert table.names == ("a", "b")
    assert 1000 < table.n_rows < 60_000
    assert first_rows(tmp_path / "large.csv", replace(way, decimal=",")) is not None
    with pytest.raises(FileError):
        first_rows(tmp_path / "none.csv", way)


def test_several_columns_are_left_out_with_one_key(at_data: Hands) -> None:
    window = at_data.window
    for name in ("sleep", "site"):
        window.place.session.look(variable=name)
        window.place.roster.setFocus()
        at_data.press("Space")
    at_data.press("L")
    study = study_of(at_data)
    assert [study.variable(name).kind for name in ("sleep", "site")] == [Kind.TEXT, Kind.TEXT]
    at_data.press("Ctrl+Z")
    assert study_of(at_data).variable("site").kind is Kind.GROUP


def test_a_rule_is_shown_with_every_digit_and_what_cannot_be_shown_is_a_line(at_data: Hands) -> None:
    cases = at_data.place.data.cases
    at_data.press("Ctrl+U")
    at_data.types("age at least 12345678.25 and not (age between 3 and 4)")
    at_data.clicks(chips(at_data)[0])
    assert cases.builder.first.text() == "12345678.25"
    assert cases.builder.rule() == AtLeast("age", 12345678.25)
    cases.builder.close()
    at_data.settle()
    more = chips(at_data)[2]
    at_data.clicks(more)
    assert not cases.builder.isVisible()
    assert cases.field.text() == "age at least 12345678.25 and not (age between 3 and 4)"


def test_of_very_many_variables_that_cost_cases_the_tip_names_all(hands: Hands) -> None:
    rng = np.random.default_rng(13)
    data = {name: rng.normal(size=80) for name in (*(f"v{k}" for k in range(10)), "y")}
    for k in range(9):
        data[f"v{k}"][k] = np.nan
    hands.place.session.open(worlds.study_of(data, "y", ", ".join(f"v{k}" for k in range(10))))
    hands.press("Alt+1")
    hands.settle()
    said = hands.place.data.cases.said
    assert "(v0 1, v1 1, v2 1, and 6 other variables)" in said.text()
    assert "v7 1, v8 1)" in said.toolTip()
