"""What stands below the ladder: what the steps say, the variables, how far to trust a product."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands, number
from tests.support.worlds import term
from yellow_slope.app.widgets.figuretable import FigureTable
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.asking import default_probe
from yellow_slope.core.quickline import read_line
from yellow_slope.core.study.edits.blocks import enter_product, take_out
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.probe import PickPoints, PickRule
from yellow_slope.core.study.study import new_study
from yellow_slope.core.words.sentences import steps
from yellow_slope.core.words.spelling.numerals import bounded
from yellow_slope.values import replace


@pytest.fixture
def blocks(demo_hands: Hands) -> Hands:
    demo_hands.press("Alt+3")
    return demo_hands


def fit_of_window(hands: Hands) -> Fit:
    view = hands.place.session.view
    assert view is not None
    assert view.fit is not None
    return view.fit


def column(table: FigureTable, title: str) -> int:
    return [c.title for c in table.head].index(title)


def test_every_step_with_its_figures_and_what_its_test_could_have_shown(blocks: Hands) -> None:
    blocks.press("Ctrl+1")
    below = blocks.place.blocks.below
    table, fit = below.table, fit_of_window(blocks)
    assert len(table.rows) == len(fit.steps)
    for row, step in zip(table.rows, fit.steps):
        assert row.cells[column(table, "R²")] == bounded(step.r2)
        assert number(row.cells[column(table, "AIC")]) == pytest.approx(step.aic, abs=0.06)
        low, high = row.below[column(table, "R²")].split(" to ")
        assert number(low) <= step.r2 <= number(high)
        assert row.cells[column(table, "ΔR² at power .95")] >= row.cells[column(table, "ΔR² at power .80")]
    assert below.said.text()
    blocks.clicks(table.viewport(), QPoint(30, table.row_top(0) + 8))
    assert blocks.place.session.desk.open_step == 0
    assert blocks.place.blocks.ladder.open_step() == 0


def test_the_figure_rows_are_gone_through_by_key(blocks: Hands) -> None:
    blocks.press("Ctrl+1")
    table = blocks.place.blocks.below.table
    table.setFocus()
    blocks.press("Down")
    blocks.press("Down")
    assert blocks.place.session.desk.open_step == 1
    blocks.press("Up")
    assert blocks.place.session.desk.open_step == 0


def test_descriptives_and_correlations_are_those_of_the_models_cases(blocks: Hands) -> None:
    blocks.press("Ctrl+2")
    below, study, fit = blocks.place.blocks.below, blocks.place.session.study, fit_of_window(blocks)
    table, used = below.table, fit.cases.rows
    rows = {row.name.split("   ", 1)[1]: row for row in table.rows}
    x, w = (study.columns.numbers(n)[used] for n in ("practice", "worry"))
    label = study.variable("practice").label
    assert number(rows[label].cells[0]) == pytest.approx(x.mean(), abs=0.006)
    names = list(rows)
    i, j = sorted((names.index(label), names.index(study.variable("worry").label)))
    shown = table.rows[j].cells[4 + i]
    r = float(np.corrcoef(x, w)[0, 1])
    assert number(shown) == pytest.approx(r, abs=0.006)
    low, high = (number(v) for v in table.rows[j].below[4 + i].split(" to "))
    z, half = np.arctanh(r), 1.959964 / np.sqrt(x.size - 3)
    assert low == pytest.approx(np.tanh(z - half), abs=0.006)
    assert high == pytest.approx(np.tanh(z + half), abs=0.006)
    assert f"{fit.cases.n} cases" in below.said.text()


def test_how_far_to_trust_the_chosen_product(blocks: Hands) -> None:
    window = blocks.window
    blocks.press("Ctrl+4")
    trust = window.place.blocks.below.trust
    assert window.place.session.chosen_product() is not None
    first = window.place.session.chosen_product()
    assert trust.smallest.text()
    assert len(trust.table.rows) >= 2
    assert "in this model" in trust.table.rows[0].name
    ps = [row.cells[-1] for row in trust.table.rows[1:]]
    values = [float(p.replace("<", "")) for p in ps if p not in ("–", "—")]
    assert values == sorted(values, reverse=True), "the most harmful first"
    other = next(t for t in window.place.session.study.model.terms if t.is_product and t != first)
    blocks.clicks(window.place.blocks.ladder.viewport(), blocks.place_of(*other.variables))
    assert window.place.session.chosen_product() == other


def test_reliabilities_are_typed_kept_and_undone(blocks: Hands) -> None:
    window = blocks.window
    window.place.session.edit("two numbers", lambda s: enter_product(s, term("practice*worry")))
    blocks.settle()
    blocks.press("Ctrl+4")
    blocks.clicks(window.place.blocks.ladder.viewport(), blocks.place_of("practice", "worry"))
    trust = window.place.blocks.below.trust
    assert trust.parts.isVisible()
    assert "product here" in trust.reliability.text()
    for field, text in zip(trust.fields, (".80", ".90")):
        field.setFocus()
        QTest.keyClicks(field, text)
        blocks.press("Enter")
    study, fit = window.place.session.study, fit_of_window(blocks)
    assert (study.variable("practice").reliability, study.variable("worry").reliability) == (0.8, 0.9)
    x, w = (study.columns.numbers(n)[fit.cases.rows] for n in ("practice", "worry"))
    r2 = float(np.corrcoef(x, w)[0, 1]) ** 2
    wanted = (0.8 * 0.9 + r2) / (1 + r2)
    assert f"a reliability of {bounded(wanted, 2)}" in trust.reliability.text()
    trust.fields[0].setFocus()
    trust.fields[0].selectAll()
    QTest.keyClicks(trust.fields[0], "1.4")
    blocks.press("Enter")
    assert window.place.session.study.variable("practice").reliability == 0.8
    assert "between 0 and 1" in window.place.session.message
    window.place.blocks.ladder.setFocus()
    blocks.press("Ctrl+Z")
    assert window.place.session.study.variable("worry").reliability is None


def test_without_a_product_trust_says_so(blocks: Hands) -> None:
    blocks.press("Ctrl+L")
    blocks.types("control = practice, worry")
    blocks.press("Ctrl+4")
    trust = blocks.place.blocks.below.trust
    assert trust.smallest.text() == "There is no product in the model yet."
    assert not trust.table.isVisible()


def test_a_changed_coefficient_says_why_in_the_foot(blocks: Hands) -> None:
    blocks.press("Ctrl+L")
    blocks.types("control = practice as it is; worry as it is, sleep; practice x worry")
    window = blocks.window
    blocks.clicks(window.place.blocks.ladder.viewport(), blocks.place_of("practice"))
    window.place.blocks.ladder.setFocus()
    said = window.place.foot.more.text()
    fit = fit_of_window(blocks)
    j = fit.design.columns_of(term("practice"))[0]
    before = fit.steps[1].b[j + 1]
    assert f"In step 2 it was {before:.2f}".replace("-", "−") in said
    assert "it is now the effect at" in said
    assert window.place.foot.more.isVisible()


def test_the_plot_beside_follows_the_chosen_product(blocks: Hands) -> None:
    window = blocks.window
    window.resize(1920, 1080)
    blocks.settle()
    plot = window.place.blocks.plot
    assert plot.isVisible()
    assert plot.is_current
    first = window.place.session.chosen_product()
    image = plot.grab().toImage()
    other = next(t for t in window.place.session.study.model.terms if t.is_product and t != first)
    blocks.clicks(window.place.blocks.ladder.viewport(), blocks.place_of(*other.variables))
    assert plot.is_current
    assert plot.grab().toImage() != image
    window.place.session.edit("one less", lambda s: take_out(s, [other]))
    blocks.settle()
    assert plot.is_current


def test_the_plot_beside_is_that_of_the_probe_as_it_now_is(blocks: Hands) -> None:
    """Pick points change it and undo brings it back, though no fit is another."""
    window = blocks.window
    window.resize(1920, 1080)
    blocks.settle()
    plot, seen = window.place.blocks.plot, []
    for rule in (PickRule.QUARTILES, PickRule.EXTREMES, PickRule.PERCENTILES):
        seen.append(plot.grab().toImage())
        probe = default_probe(window.place.session.study, fit_of_window(blocks))
        assert probe is not None
        asked = replace(probe, pick=PickPoints(rule))
        window.place.session.edit("pick points", lambda s, asked=asked: put_probe(s, asked))  # type: ignore[misc]
        blocks.settle()
        assert plot.grab().toImage() != seen[-1]
    for image in reversed(seen[1:]):
        window.place.session.undo()
        blocks.settle()
        assert plot.grab().toImage() == image


def test_a_product_of_many_levels_is_not_drawn_in_a_corner(hands: Hands) -> None:
    rng = np.random.default_rng(4)
    x = rng.normal(size=400)
    codes = [f"site {i:02d}" for i in np.arange(400) % 14]
    table = Table((number_column("x", x), text_column("where", codes), number_column("y", x + rng.normal(size=400))))
    hands.window.resize(1920, 1080)
    hands.place.session.open(read_line(new_study(table), "y = x, where; x x where").apply(new_study(table)))
    hands.settle()
    hands.press("Alt+3")
    plot = hands.place.blocks.plot
    assert plot.isVisible()
    assert plot.shown is not None
    assert plot.shown.drawn is None
    assert "14 levels, too many to be drawn here" in plot.shown.why


def test_the_first_product_is_drawn_in_the_room_that_is_left(hands: Hands) -> None:
    hands.window.resize(1920, 1080)
    rng = np.random.default_rng(3)
    columns = (number_column("y", rng.normal(size=60)), number_column("x", rng.normal(size=60)))
    groups = text_column("g", ["abcd"[i % 4] for i in range(60)])
    hands.place.session.open(new_study(Table((*columns, groups))))
    hands.press("Alt+3")
    hands.press("Ctrl+L")
    hands.types("y = x, g; x x g")
    hands.settle()
    plot = hands.place.blocks.plot
    assert plot.shown is not None
    assert plot.shown.drawn is not None
    image = plot.shown.drawn.image
    assert image.height() == round(plot.canvas.height() * image.devicePixelRatio()), (
        "the button takes room when it comes"
    )


def test_press_waits_for_the_table_where_cases_are_many(blocks: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    blocks.place.session.look(cell=None, flag=None)
    assert "PRESS R²" in blocks.place.foot.more.text()
    monkeypatch.setattr(steps, "QUICK_ENTRIES", 10)
    blocks.press("Ctrl+L")
    blocks.types("without worry")
    blocks.place.session.look(cell=None, flag=None)
    blocks.place.foot.renew()
    assert "PRESS R²" not in blocks.place.foot.more.text()
    assert "AIC" in blocks.place.foot.more.text()
    blocks.press("Ctrl+1")
    table = blocks.place.blocks.below.table
    assert all(row.cells[column(table, "PRESS R²")].startswith((".", "−")) for row in table.rows)
