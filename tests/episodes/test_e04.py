"""E4: indicators from an ordered three-level code."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint

from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands

pytestmark = pytest.mark.no_cover  # what it runs through others run through


def test_e04(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))
    hands.actions = 0  # from an open table

    # A click on the mark of its kind leads to the names; the names make groups of the code.
    area = window.place.roster.row_rect("site")
    assert area is not None
    hands.clicks(window.place.roster.viewport(), QPoint(14, int(area.center().y())))
    hands.types("quarry, harbour, dome")

    # Codes or names in the table by one key.
    grid = window.place.data.grid
    place = grid.place_of("site")
    assert place is not None
    before = grid.data(grid.index(0, place))
    hands.press("Ctrl+J")
    after = grid.data(grid.index(0, place))
    assert {before, after} == {{"1": "quarry", "2": "harbour", "3": "dome"}[after], after}

    # The reference is chosen; two indicators, named, stand beside practice.
    hands.press("Ctrl+L")
    hands.types("control = practice, site from quarry")
    shown = [row.whole for row in window.place.blocks.ladder.sheet.rows]
    assert [text for text in shown if text.startswith("site: ")] == ["site: harbour vs quarry", "site: dome vs quarry"]
    record("E4", "Indicators from an ordered three-level code", 5, hands.actions)

    data = raw("control", "practice", "site")
    fit = fitted(data["control"], data["practice"], *((data["site"] == k) * 1.0 for k in (2, 3)))
    step = window.place.session.view.evaluation.fit.last  # type: ignore[union-attr]
    assert step.b[2:] == pytest.approx([float(fit.b[2]), float(fit.b[3])], rel=1e-9)
    row = next(i for i, text in enumerate(shown) if text == "site: dome vs quarry")
    hands.clicks(window.place.blocks.ladder.viewport(), QPoint(60, int(window.place.blocks.ladder.row_top(row) + 12)))
    assert "in “dome” than in “quarry”" in hands.sentence()
