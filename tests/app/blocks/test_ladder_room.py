"""Room in the ladder: names, densities, folded steps, the parts below and beside; what every control is called."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtWidgets import QAbstractButton, QLineEdit, QWidget

from tests.support.windowdriver import Hands
from tests.support.worlds import term
from yellow_slope.app.blocks.layout import FIGURES, LEAST_CLOSED, LEAST_FOLDED, LEAST_NAMES, MOST_OPEN, steps_across
from yellow_slope.app.blocks.sheet import RowKind
from yellow_slope.app.state.desk import Density, Under
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.quickline import read_line
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.told.coefficients import CoefficientColumn


@given(st.integers(700, 2600), st.integers(1, 14), st.integers(0, 13), st.integers(60, 900), st.sampled_from(Density))
def test_no_step_overlaps_another_and_names_keep_their_room(
    width: int, n: int, chosen: int, wanted: int, shown: Density
) -> None:
    chosen = min(chosen, n - 1)
    figures = sum(width for _, width in FIGURES[shown])
    columns = steps_across(width, n, chosen, wanted, figures)
    assert [c.step for c in columns] == list(range(n))
    for left, right in pairwise(columns):
        assert left.x + left.width == right.x
    assert columns[-1].x + columns[-1].width <= width
    assert columns[chosen].is_open
    assert not columns[chosen].is_folded
    assert sum(c.is_open for c in columns) <= MOST_OPEN
    for column in columns:
        assert column.width >= (LEAST_FOLDED if column.is_folded else min(LEAST_CLOSED, 50))
    room = LEAST_NAMES + figures + 50 + (n - 1) * LEAST_FOLDED + 4
    if width >= room:
        assert columns[0].x >= LEAST_NAMES, "names keep what they need"
    if any(c.is_folded for c in columns):
        far = max(abs(c.step - chosen) for c in columns if not c.is_folded)
        assert all(abs(c.step - chosen) >= far - 1 for c in columns if c.is_folded), "the distant steps fold first"


def test_names_get_what_the_steps_leave() -> None:
    narrow = steps_across(1000, 2, 1, 400, 344)
    assert narrow[0].x >= 400
    short = steps_across(1000, 2, 1, 120, 344)
    assert short[1].axis >= narrow[1].axis, "what names do not need goes to the intervals"


def large(blocks: int, per_block: int, letters: int) -> Study:
    rng = np.random.default_rng(3)
    k = blocks * per_block
    names = [f"{'steadiness on the board after a long week of '[: letters - 4]}{i:03d}" for i in range(k)]
    x = rng.normal(size=(400, k)).round(2)
    y = x[:, 0] + rng.normal(size=400)
    study = new_study(Table((*(number_column(n, x[:, i]) for i, n in enumerate(names)), number_column("score", y))))
    parts = [", ".join(f"[{n}]" for n in names[b * per_block : (b + 1) * per_block]) for b in range(blocks)]
    reading = read_line(study, "score = " + "; ".join(parts))
    assert reading.mistake is None, reading.mistake
    return reading.apply(study)


@pytest.mark.parametrize(("blocks", "per_block", "letters"), [(12, 2, 40), (6, 7, 44), (3, 4, 45)])
@pytest.mark.parametrize("size", [(1000, 700), (1280, 800), (1920, 1080)])
def test_many_blocks_long_names_every_size(
    hands: Hands, blocks: int, per_block: int, letters: int, size: tuple[int, int]
) -> None:
    hands.window.resize(*size)
    hands.place.session.open(large(blocks, per_block, letters))
    hands.settle()
    hands.press("Alt+3")
    ladder = hands.place.blocks.ladder
    columns = ladder.columns()
    assert len(columns) == blocks
    assert columns[0].x >= LEAST_NAMES - 10
    rows = [i for i, row in enumerate(ladder.sheet.rows) if row.kind is RowKind.TERM]
    names = [ladder.name_of(i, ladder.names_width()) for i in rows]
    assert len(set(names)) == len(names), "names are told apart whatever their width"
    ladder.setFocus()
    for _ in range(blocks):
        hands.press("Left")
    assert ladder.open_step() == 0
    assert ladder.columns()[0].is_open


def test_every_density_has_its_figures(demo_hands: Hands) -> None:
    demo_hands.press("Alt+3")
    bench, session = demo_hands.place.blocks, demo_hands.place.session
    fit = session.view.fit  # type: ignore[union-attr]
    assert fit is not None
    column = fit.design.columns_of(term("practice"))[0]
    seen: list[Density] = []
    for _ in Density:
        seen.append(session.desk.density)
        bench.next_density()
        demo_hands.settle()
    assert set(seen) == set(Density)
    c = fit.last.coefficient(column)
    for density in seen:
        session.look(density=density)
        demo_hands.settle()
        figures = bench.ladder.figures()
        assert figures is not None
        texts = dict(zip([figure for figure, _ in figures.figures], figures.texts(fit.last, column)))
        assert set(texts) == {figure for figure, _ in FIGURES[density]}
        for wanted, value in (
            (CoefficientColumn.SEMIPARTIAL, np.sign(c.t) * np.sqrt(c.sr2)),
            (CoefficientColumn.PARTIAL, c.partial_r),
            (CoefficientColumn.ZERO_ORDER, c.r),
            (CoefficientColumn.TOLERANCE, 1 / c.vif),
        ):
            if wanted in texts:
                shown = texts[wanted].replace("−", "-")
                assert float(shown) == pytest.approx(value, abs=0.006), wanted


def test_a_density_is_chosen_in_the_bar_and_kept_over_a_change(demo_hands: Hands) -> None:
    demo_hands.press("Alt+3")
    bench = demo_hands.place.blocks
    bench.density.choose(Density.SHARED)
    demo_hands.settle()
    assert bench.density.current is Density.SHARED
    demo_hands.press("Ctrl+L")
    demo_hands.types("without worry")
    assert demo_hands.place.session.desk.density is Density.SHARED
    figures = bench.ladder.figures()
    assert figures is not None
    fit = demo_hands.place.session.view.fit  # type: ignore[union-attr]
    assert fit is not None
    assert figures.gvif(fit.last, term("coaching")) > 1


def test_the_lower_half_is_never_empty(demo_hands: Hands) -> None:
    demo_hands.window.resize(1920, 1080)
    demo_hands.settle()
    demo_hands.press("Alt+3")
    bench = demo_hands.place.blocks
    assert bench.below.isVisible()
    assert bench.plot.isVisible()
    bottom = bench.below.mapTo(bench, bench.below.rect().bottomLeft()).y()
    assert bench.height() - bottom <= 4
    demo_hands.window.resize(1280, 800)
    demo_hands.settle()
    assert not bench.plot.isVisible(), "the ladder keeps the width"


@pytest.mark.parametrize(
    ("chord", "part"),
    [("Ctrl+1", Under.STEPS), ("Ctrl+2", Under.VARIABLES), ("Ctrl+3", Under.MODELS), ("Ctrl+4", Under.TRUST)],
)
def test_the_parts_below_open_by_key_and_close(demo_hands: Hands, chord: str, part: Under) -> None:
    demo_hands.press("Alt+3")
    bench = demo_hands.place.blocks
    demo_hands.press(chord)
    assert bench.below.isVisible()
    assert bench.below.shown == part
    assert bench.below.buttons[part].isChecked()
    demo_hands.clicks(bench.below.close_button)
    assert not bench.below.isVisible()


def test_everything_at_blocks_has_a_name_and_says_what_it_does(demo_hands: Hands) -> None:
    demo_hands.window.resize(1920, 1080)
    demo_hands.press("Alt+3")
    for part in ("Ctrl+1", "Ctrl+2", "Ctrl+3", "Ctrl+4"):
        demo_hands.press(part)
        controls: list[QWidget] = [
            *demo_hands.place.blocks.findChildren(QAbstractButton),
            *demo_hands.place.blocks.findChildren(QLineEdit),
            *demo_hands.place.status.findChildren(QAbstractButton),
        ]
        for widget in controls:
            if widget.isVisibleTo(demo_hands.window) and not widget.objectName().startswith("qt_"):
                assert widget.accessibleName(), widget
                assert widget.toolTip(), widget.accessibleName()


def test_text_columns_are_no_burden(hands: Hands) -> None:
    rng = np.random.default_rng(1)
    study = new_study(
        Table(
            (
                number_column("x", rng.normal(size=60).round(2)),
                number_column("y", rng.normal(size=60).round(2)),
                text_column("note", [f"a long remark number {i}" for i in range(60)]),
            )
        )
    )
    hands.place.session.open(read_line(study, "y = x").apply(study))
    hands.settle()
    hands.press("Alt+3")
    hands.press("Ctrl+2")
    assert [row.name for row in hands.place.blocks.below.table.rows] == ["1   y", "2   x"]
