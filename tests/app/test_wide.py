"""A table of very many columns: what nobody could look through is not drawn, and said."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QLabel

from tests.support.windowdriver import Hands
from yellow_slope.app.prepare.bench import MOST_STRIPS
from yellow_slope.app.prepare.numberstrip import NumberStrip
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.study.study import new_study


def test_prepare_draws_as_many_strips_as_can_be_looked_at(hands: Hands) -> None:
    columns = tuple(number_column(f"v{k}", [k / 7, 1.5, 2.5 + k, 4.25]) for k in range(300))
    hands.place.session.open(new_study(Table(columns)))
    hands.settle()
    hands.place.session.look(variable="v250")
    hands.place.go(Waypoint.PREPARE)
    hands.settle()
    bench = hands.place.prepare
    assert len(bench.strips) == MOST_STRIPS
    assert bench.strips[0].name == "v250"
    said = [label.text() for label in bench.findChildren(QLabel)]
    assert f"and {300 - MOST_STRIPS} other columns; choose one in the roster to see it first" in said


def test_the_column_chosen_in_the_roster_comes_into_sight_and_dates_keep_their_hyphens(
    hands: Hands, tmp_path: Path
) -> None:
    path = tmp_path / "t.csv"
    names = [f"number {k}" for k in range(30)]
    rows = [",".join([*["1.5"] * 30, f"2024-03-{day:02}"]) for day in range(1, 20)]
    path.write_text("\n".join([",".join([*names, "when"]), *rows]) + "\n")
    hands.types(str(path))
    window = hands.window
    window.place.session.look(variable="when")
    hands.settle()
    place = window.place.data.grid.place_of("when")
    assert place == 30
    bar = window.place.data.view.horizontalScrollBar()
    assert bar is not None
    assert bar.value() > 0
    assert window.place.data.grid.data(window.place.data.grid.index(0, place)) == "2024-03-01"


def test_strips_out_of_sight_are_not_drawn(hands: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    """They have their places before they are first drawn, so that only what is in sight is computed."""
    drawn: set[str] = set()
    paint = NumberStrip.paintEvent

    def seen(strip: NumberStrip, event: QPaintEvent | None) -> None:
        drawn.add(strip.name)
        paint(strip, event)

    monkeypatch.setattr(NumberStrip, "paintEvent", seen)
    columns = tuple(number_column(f"v{k}", [k / 7, 1.5, 2.5 + k, 4.25]) for k in range(300))
    hands.place.session.open(new_study(Table(columns)))
    hands.settle()
    hands.place.go(Waypoint.PREPARE)
    hands.settle()
    assert 8 < len(drawn) < 30
