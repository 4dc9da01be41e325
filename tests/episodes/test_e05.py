"""E5: planned comparisons instead of an omnibus test."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint

from tests.support.oracle import f_p, t_p
from tests.support.plaintable import plain_table, raw
from tests.support.windowdriver import Hands, number, numbers_in
from yellow_slope.app.state.desk import CardView
from yellow_slope.core.words.sentences.comparisons import pair_cells


def test_e05(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))
    hands.actions = 0  # from an open table
    area = window.place.roster.row_rect("control")
    assert area is not None
    hands.clicks(window.place.roster.viewport(), area.center())
    hands.press("Y")
    area = window.place.roster.row_rect("coaching")
    assert area is not None
    hands.clicks(window.place.roster.viewport(), QPoint(14, int(area.center().y())))
    hands.types("none, group lesson, video feedback, one-to-one")
    hands.press("Alt+2")
    card = window.place.prepare.card
    hands.clicks(card.views[CardView.GROUPS])

    # The omnibus F with effect size, by sums of squares of the test's own.
    data = raw("control", "coaching")
    y, g = data["control"], data["coaching"]
    by = [y[g == k] for k in range(4)]
    n = y.size
    between = sum(len(v) * (v.mean() - y.mean()) ** 2 for v in by)
    within = sum(((v - v.mean()) ** 2).sum() for v in by)
    f = (between / 3) / (within / (n - 4))
    said = card.panel.lines[0]
    assert f"F(3, {n - 4}) = {f:.2f}" in said
    assert f"η² = {between / (between + within):.3f}".replace("0.", ".") in said
    assert "is the same test" in said
    # Adjusted pairwise differences with d, on the screen.
    sd = np.sqrt(within / (n - 4))
    found = card.panel.found
    assert found is not None
    ps = []
    for i, (a, b) in enumerate([(0, 1), (0, 2), (0, 3), (1, 2), (1, 3), (2, 3)]):
        cells = pair_cells(found, card.prepared.study, i)  # type: ignore[union-attr]
        difference = by[b].mean() - by[a].mean()
        assert number(cells[1]) == pytest.approx(difference, abs=0.006)
        assert number(cells[5]) == pytest.approx(difference / sd, abs=0.006)
        ps.append(float(t_p(difference / (sd * np.sqrt(1 / len(by[a]) + 1 / len(by[b]))), n - 4)))
    smallest = int(np.argmin(ps))
    assert found.pairs[smallest].p_holm == pytest.approx(min(1.0, 6 * ps[smallest]))
    assert card.panel.is_drawn

    # Three questions; weights and independence appear, each coefficient is its question.
    hands.clicks(next(b for b in card.buttons if "planned" in b.text()))
    hands.types("none against the rest; group against video, one-to-one; video against one-to-one")
    sheet = card.sheet
    assert sheet.card is not None
    wanted = [[1, -1 / 3, -1 / 3, -1 / 3], [0, 1, -1 / 2, -1 / 2], [0, 0, 1, -1]]
    means = np.array([v.mean() for v in by])
    for j, row in enumerate(wanted):
        assert list(sheet.weights(j)) == pytest.approx(row)
        assert "independent of" in sheet.remark(j)
        assert sheet.card.effects[j].effect == pytest.approx(float(np.array(row) @ means), rel=1e-9)
    assert sheet.card.joint.f == pytest.approx(float(f), rel=1e-9), "the joint test is the omnibus test"
    assert float(f_p(f, 3, n - 4)) == pytest.approx(sheet.card.joint.p, rel=1e-6)
    record("E5", "Planned comparisons instead of an omnibus test", 8, hands.actions)

    hands.clicks(sheet, sheet.head_rect(1).center())
    assert numbers_in(hands.sentence())[0] == pytest.approx(abs(float(np.array(wanted[1]) @ means)), abs=0.006)
    assert "“group lesson”" in hands.sentence()
