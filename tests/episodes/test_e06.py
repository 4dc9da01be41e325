"""E6: three blocks with a set of indicators, and the equation."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication

from tests.support.plaintable import plain_table, raw
from tests.support.windowdriver import Hands, numbers_in

pytestmark = pytest.mark.no_cover  # what it runs through others run through


def sse(y: np.ndarray, *columns: np.ndarray) -> float:
    x = np.column_stack([np.ones(y.size), *columns])
    return float(((y - x @ np.linalg.lstsq(x, y, rcond=None)[0]) ** 2).sum())


def test_e06(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))
    hands.press("Ctrl+L")
    hands.types("control = age, practice, balance; returner; site as groups from 1")

    data = raw("control", "age", "practice", "balance", "returner", "site")
    y, n = data["control"], data["control"].size
    sets = [
        [data["age"], data["practice"], data["balance"]],
        [data["returner"]],
        [(data["site"] == k) * 1.0 for k in (2, 3)],
    ]
    total, before, entered = float(((y - y.mean()) ** 2).sum()), 0.0, []
    before = total

    # The level .01 is chosen once, in the status line.
    level = window.place.status.level.menu()
    assert level is not None
    next(a for a in level.actions() if a.text().startswith("99%")).trigger()
    hands.settle()
    hands.actions += 2  # a click on the level, one on 99%

    hands.press("Ctrl+1")
    rows = window.place.blocks.below.table.rows
    titles = [column.title for column in window.place.blocks.below.table.head]
    read = window.place.session.view.reader  # type: ignore[union-attr]
    assert read is not None
    for step, some in enumerate(sets):
        entered += some
        rest = sse(y, *entered)
        df = n - len(entered) - 1
        f = ((before - rest) / len(some)) / (rest / df)
        shown = dict(zip(titles, rows[step].cells))
        assert shown["ΔR²"] == "+" + f"{(before - rest) / total:.3f}"[1:]
        assert shown["F"] == f"{f:.2f} ({len(some)}, {df})"
        assert numbers_in(shown["p"])[0] <= 1
        before = rest
    assert "99% intervals" in window.place.blocks.below.table.corner

    # The coefficients of block 1 as they change over the steps stand in their rows; VIF beside them.
    fit = window.place.session.view.fit  # type: ignore[union-attr]
    assert fit is not None
    ladder = window.place.blocks.ladder
    assert [c.step for c in ladder.columns()] == [0, 1, 2]
    x = np.column_stack([np.ones(n), *entered])
    for step, m in enumerate((4, 5, 7)):
        b = np.linalg.lstsq(x[:, :m], y, rcond=None)[0]
        np.testing.assert_allclose(fit.steps[step].b, b, rtol=1e-8)
    inverse = np.linalg.inv(np.corrcoef(x[:, 1:].T))
    figures = ladder.figures()
    assert figures is not None
    for j in range(6):
        assert figures.texts(fit.last, j)[-1] == f"{inverse[j, j]:.1f}"

    # Descriptives and correlations of exactly these cases.
    hands.press("Ctrl+2")
    assert window.place.blocks.below.said.text().startswith(f"The {n} cases of the model")
    table = window.place.blocks.below.table
    practice = next(row for row in table.rows if row.name.endswith("practice"))
    r = float(np.corrcoef(y, data["practice"])[0, 1])
    assert practice.cells[4] == f"{r:.2f}".replace("0.", ".").replace("-", "−")
    z, half = np.arctanh(r), 2.5758293 / np.sqrt(n - 3)
    assert numbers_in(practice.below[4]) == pytest.approx([np.tanh(z - half), np.tanh(z + half)], abs=0.006)

    # Step 2 is the one to report, and its equation is copied.
    column = ladder.columns()[1]
    hands.clicks(ladder.viewport(), QPoint(column.x + 20, 12))
    hands.press("ctrl+shift+R")
    hands.press("ctrl+shift+Q")
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    text = clipboard.text()
    assert text.startswith("control = ")
    b = np.linalg.lstsq(x[:, :5], y, rcond=None)[0]
    written = [float(v) for v in re.findall(r"(\d+\.\d+)(?:·|$| )", text)]
    assert written == pytest.approx(np.abs(b), abs=0.006)
    assert "site" not in text

    # Residuals of that step.
    hands.press("Alt+4")
    assert window.place.checks.choices.step.current == 1
    record("E6", "Three blocks with a set of indicators, and the equation", 11, hands.actions)
