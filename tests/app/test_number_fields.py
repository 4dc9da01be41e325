"""Every number field reads in one way: under C, English and German settings, with a point or a comma."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QLocale, QPoint
from PyQt6.QtWidgets import QLineEdit, QWidget

import yellow_slope.app
from tests.support.windowdriver import Hands
from tests.support.worlds import noise_world, study_of
from yellow_slope.app.data.rulebuilder import Asks
from yellow_slope.app.probe.sentence import Ask
from yellow_slope.app.verbs.exporting import typed_line
from yellow_slope.app.widgets.bootstrapdialog import BootstrapDialog
from yellow_slope.app.widgets.numberdialog import NumberDialog, Wanted
from yellow_slope.app.widgets.picker import Further
from yellow_slope.core.data.conditions import AtLeast, Is
from yellow_slope.core.data.finding import find_cells
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.coding import Trends
from yellow_slope.core.study.edits.entries import set_coding
from yellow_slope.core.study.edits.figures import add_figure
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.figures import AxisKey, Figure, FigureSize, Pane, ShowsProbe
from yellow_slope.core.study.probe import EffectUnit, Probe, Smallest
from yellow_slope.core.study.standarderrors import Bootstrap, IntervalWay
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.treatment import At, Given, Treatment

HALF = ("2.5", "2,5")
"""Two and a half, as either half of the world writes it."""


@pytest.fixture(params=["C", "en_US", "de_DE"])
def at_work(request: pytest.FixtureRequest, hands: Hands) -> Iterator[Hands]:
    """A model with a probe and a figure, on a machine of that language."""
    before = QLocale()
    QLocale.setDefault(QLocale(request.param))
    study = study_of(noise_world(51), "y", "x, w, z, g; x*w, x*z, x*g; x*w*z")
    study = put_probe(set_coding(study, "g", Trends()), Probe("x", "w"))
    hands.place.session.open(add_figure(study, Figure("slopes", ShowsProbe("x", "w"))))
    hands.settle()
    yield hands
    QLocale.setDefault(before)


def study_in(hands: Hands) -> Study:
    return hands.place.session.study


def probe_in(hands: Hands) -> Probe:
    found = hands.place.session.current_probe()
    assert found is not None
    return found


def answer(hands: Hands, monkeypatch: pytest.MonkeyPatch, text: str) -> None:
    """The next dialog, a real one, gets that text and Enter."""

    def typed(dialog: NumberDialog) -> int:
        dialog.field.setText(text)
        dialog._take()
        return dialog.result()

    monkeypatch.setattr(NumberDialog, "exec", typed)
    monkeypatch.setattr(hands.place.dialogs, "text", lambda *_: text)


def enter(field: QLineEdit, text: str) -> None:
    field.setText(text)
    field.setModified(True)
    field.returnPressed.emit()
    field.editingFinished.emit()


def named(parent: QWidget, name: str) -> QLineEdit:
    return next(f for f in parent.findChildren(QLineEdit) if f.accessibleName() == name)


def test_in_prepare(at_work: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    hands = at_work
    hands.press("Alt+2")
    hands.place.session.look(variable="x")
    hands.settle()
    bar, card = hands.place.prepare.bar, hands.place.prepare.card
    for text in HALF:
        answer(hands, monkeypatch, text)
        hands.place.treating.center_at()
        assert study_in(hands).model.treatment("x").zero == At(2.5)
        bar.units.choose(Further.ASK)
        assert study_in(hands).model.treatment("x").scale == Given(2.5)
        hands.press("Ctrl+Z")
        hands.press("Ctrl+Z")
    for text in ("3.5; 2.5", "3,5;2,5"):
        answer(hands, monkeypatch, text)
        bar.base.choose(Further.ASK)
        assert study_in(hands).model.treatment("x") == Treatment(zero=At(3.5), scale=Given(2.5))
        hands.press("Ctrl+Z")
    hands.place.session.look(variable="g")
    hands.settle()
    for text in ("0 1 2.5", "0; 1; 2,5", "0, 1, 2,5", "0, 1, 2.5"):
        answer(hands, monkeypatch, text)
        card.space()
        hands.settle()
        assert study_in(hands).model.coding("g") == Trends((("low", 0), ("mid", 1), ("top", 2.5)))
        hands.press("Ctrl+Z")


def test_in_probe(at_work: Hands) -> None:
    hands = at_work
    hands.press("Alt+5")
    bench = hands.place.probe
    chip = bench.sentence.chip_of("z")
    assert chip is not None
    chip.picker.choose(Ask.PLACE)
    hands.settle()
    for text in HALF:
        enter(bench.at, text)
        hands.settle()
        handle = hands.place.session.desk.seen.handle
        assert handle == pytest.approx(2.5)
        enter(bench.at, "3")
        enter(bench.choices.smallest, f"{text} SD")
        hands.settle()
        assert probe_in(hands).smallest == Smallest(2.5, EffectUnit.SD)
        enter(bench.choices.smallest, "")
        enter(chip.field, text)
        hands.settle()
        assert dict(probe_in(hands).held)["z"] == 2.5
        enter(chip.field, "1")
    for text in ("2.5 3", "2,5 3", "2,5; 3", "2.5, 3"):
        enter(bench.own, text)
        hands.settle()
        assert probe_in(hands).pick.values == (2.5, 3.0)
        enter(bench.own, "")


def test_in_checks_blocks_and_data(at_work: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    hands = at_work
    window = hands.window
    hands.press("Alt+4")
    window.place.session.look(check=Check.PULL)
    hands.settle()
    for text in ("0.25", "0,25"):
        answer(hands, monkeypatch, text)
        window.place.checks.choices.cutoff.choose("another")
        hands.settle()
        assert study_in(hands).checks.cutoffs.cook == 0.25
        window.place.checks.choices.cutoff.choose("usual")
        hands.press("Ctrl+4")
        hands.clicks(window.place.blocks.ladder.viewport(), hands.place_of("x", "w"))
        trust = window.place.blocks.below.trust
        enter(trust.fields[0], text)
        hands.settle()
        assert study_in(hands).variable("x").reliability == 0.25
        hands.press("Ctrl+Z")
        hands.press("Alt+4")
        hands.settle()
    hands.press("Alt+1")
    data = window.place.data
    for text in HALF:
        data.cases.builder.begin(QPoint(0, 0))
        builder = data.cases.builder
        builder.variable.setCurrentIndex(builder.variable.findData("x"))
        builder.way.choose(Asks.AT_LEAST)
        builder.first.setText(text)
        assert builder.rule() == AtLeast("x", 2.5)
        builder.way.choose(Asks.IS)
        assert builder.rule() == Is("x", 2.5)
        builder.close()
        table = Table((number_column("v", [1.0, 2.5, 25.0, 2.5]),))
        small = new_study(table)
        assert find_cells(small.columns, table, small.variables, text)[0].rows.tolist() == [1, 3]
    for text in ("12", "case 12"):
        data.finder.begin("case")
        data.finder.field.setText(text)
        data.finder._go_to_case(study_in(hands), text)
        assert data.view.currentIndex().row() == 11


def test_of_the_model(at_work: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    hands = at_work
    for text in ("97.5", "97,5"):
        answer(hands, monkeypatch, text)
        hands.place.inference.ask_level()
        assert study_in(hands).model.level == 0.975
        hands.press("Ctrl+Z")
    dialog = BootstrapDialog(Bootstrap(IntervalWay.BCA, 5000, 1), [], hands.window)
    for text in ("10000", "10,000", "10.000", "10 000"):
        dialog.draws.setText(text)
        made = dialog.errors()
        assert made is not None
        assert made.draws == 10_000
    dialog.deleteLater()
    asked = NumberDialog("Products", "Up to which order?", 2, Wanted(2, 4, whole=True), hands.window)
    for text, number in (("3", 3.0), ("2.5", None), ("5", None), ("many", None)):
        asked.field.setText(text)
        assert asked.number() == number
        asked._take()
        assert asked.result() == (number is not None)
        assert bool(asked.trouble.text()) is (number is None)
        asked.setResult(0)
    asked.deleteLater()


def test_of_figures(at_work: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    hands = at_work
    hands.press("Alt+6")
    hands.place.figuring.tune("slopes")
    hands.settle()
    tuner = hands.place.report.tuner
    axis = AxisKey(Pane.LINES, False)
    tuner.parts.choose(axis)
    hands.settle()
    for text in HALF:
        field = named(tuner.strip, "Where the axis begins")
        enter(field, text)
        hands.settle()
        assert tuner.figure is not None
        assert tuner.figure.axis(axis).low == 2.5
        hands.press("Ctrl+Z")
        hands.settle()
        answer(hands, monkeypatch, f"1{text} x 1{text} cm")
        assert hands.place.figuring.ask_size() == FigureSize(12.5, 12.5)
        assert typed_line(f"a.png 1{text} pt").points == 12.5
        assert typed_line(f"a.png 1{text} pt").names.strip() == "a.png"


FORBIDDEN = ("getDouble", "getInt", "QSpinBox", "QDoubleSpinBox", "QDoubleValidator", "QIntValidator", "QLocale")


def test_no_field_reads_by_the_machine() -> None:
    """Nothing of the toolkit that reads or writes numbers by the machine's settings is used, and nobody makes numbers
    of a field's text without the one reader."""
    found = []
    for path in sorted(Path(yellow_slope.app.__path__[0]).rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            name = node.attr if isinstance(node, ast.Attribute) else node.id if isinstance(node, ast.Name) else ""
            if name in FORBIDDEN:
                found.append(f"{path.name}: {name}")
            made = isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("float", "int")
            if made and "text()" in ast.unparse(node):
                found.append(f"{path.name}: {ast.unparse(node)}")
    assert found == []
