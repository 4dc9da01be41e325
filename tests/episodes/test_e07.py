"""E7: five levels: wrong as a number, right as four indicators."""

from __future__ import annotations

import csv
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands


def with_lifts(path: Path) -> list[float]:
    """A fifth of the learners for each of five ski lifts, coded 1 to 5, as a further column of the table."""
    with path.open() as file:
        rows = list(csv.reader(file))
    lifts = [1 + (7 * i + i // 11) % 5 for i in range(len(rows) - 1)]
    path.write_text("\n".join(",".join([*row, str(x)]) for row, x in zip(rows, ["lift", *lifts])) + "\n")
    return [float(x) for x in lifts]


def test_e07(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    path = plain_table(tmp_path)
    lifts = with_lifts(path)
    hands.types(str(path))
    hands.actions = 0  # from an open table

    hands.press("Ctrl+L")
    hands.types("control = practice, lift")
    hands.press("F8")
    assert window.place.foot.told.title == "Is lift a quantity, or a code?"
    hands.clicks(hands.foot_button("Treat as groups"))
    shown = [row.whole for row in window.place.blocks.ladder.sheet.rows]
    assert [text for text in shown if text.startswith("lift: ")] == [f"lift: {k} vs 1" for k in (2, 3, 4, 5)]

    # The right joint test beside the wrong single slope, both against least squares of the test's own.
    with path.open() as file:
        table = list(csv.DictReader(file))
    kept = [i for i, row in enumerate(table) if row["control"] and row["practice"]]
    data = raw("control", "practice")
    lift = [lifts[i] for i in kept]
    codes = np.array(lift)
    wrong = fitted(data["control"], data["practice"], codes)
    b, se, _, _, _ = wrong.effect([0, 0, 1])
    said = hands.sentence()
    assert f"b = {b:.2f}, t({wrong.df}) = {b / se:.2f}".replace("-", "−") in said
    y, x = data["control"], np.column_stack([np.ones(codes.size), data["practice"]])
    groups = np.column_stack([x, *[(codes == k) * 1.0 for k in (2, 3, 4, 5)]])

    def sse(columns: np.ndarray) -> float:
        return float(((y - columns @ np.linalg.lstsq(columns, y, rcond=None)[0]) ** 2).sum())

    df = y.size - 6
    f = ((sse(x) - sse(groups)) / 4) / (sse(groups) / df)
    assert f"F(4, {df}) = {f:.2f}" in said
    record("E7", "Five levels: wrong as a number, right as four indicators", 4, hands.actions)

    # It stands until it is put aside.
    hands.press("Escape")
    assert any(flag.key.kind.value == "one slope of" for flag in window.place.session.view.flags)  # type: ignore[union-attr]
    assert pytest.approx(f) == window.place.session.view.fit.last.joint[window.place.session.study.model.terms[1]].f  # type: ignore[union-attr]
