"""E10: k indicators and an intercept."""

from __future__ import annotations

import csv
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from tests.support.plaintable import plain_table, raw
from tests.support.windowdriver import Hands


def with_indicators(path: Path) -> None:
    """Three columns of 0 and 1 beside the site, as somebody would have made them."""
    with path.open() as file:
        rows = list(csv.reader(file))
    at = rows[0].index("site")
    made = [[str(int(row[at] == k)) if row[at] else "" for k in "123"] for row in rows[1:]]
    lines = [[*row, *more] for row, more in zip(rows, [["quarry", "harbour", "dome"], *made])]
    path.write_text("\n".join(",".join(line) for line in lines) + "\n")


def test_e10(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    path = plain_table(tmp_path)
    with_indicators(path)
    hands.types(str(path))
    hands.actions = 0  # from an open table

    data = raw("control", "site")
    means = [float(data["control"][data["site"] == k].mean()) for k in (1, 2, 3)]

    def predicted() -> list[float]:
        fit = window.place.session.view.fit  # type: ignore[union-attr]
        assert fit is not None
        return [float(fit.predicted(0)[data["site"] == k][0]) for k in (1, 2, 3)]

    hands.press("Ctrl+L")
    hands.types("control = quarry, harbour, dome")
    hands.press("F8")
    assert "dome" in window.place.foot.told.title
    assert "Every case is in exactly one of quarry, harbour and dome" in hands.sentence()
    assert "the model is equivalent" in hands.sentence()
    ways = [link.text for link in window.place.foot.told.links][:3]
    assert ways == [
        "Remove dome: it becomes the reference",
        "Remove the intercept: level means",
        "Enter site as groups instead",
    ]

    hands.clicks(hands.foot_button(ways[1]))
    assert predicted() == pytest.approx(means, rel=1e-10)
    fit = window.place.session.view.fit  # type: ignore[union-attr]
    assert list(fit.last.b[1:]) == pytest.approx(means, rel=1e-10)  # type: ignore[union-attr]
    hands.press("Ctrl+Z")
    hands.press("F8")
    hands.clicks(hands.foot_button(ways[0]))
    assert predicted() == pytest.approx(means, rel=1e-10)
    b = window.place.session.view.fit.last.b  # type: ignore[union-attr]
    assert list(np.array(b)) == pytest.approx([means[2], means[0] - means[2], means[1] - means[2]], rel=1e-9)
    record("E10", "k indicators and an intercept", 7, hands.actions)
