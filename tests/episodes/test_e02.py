"""E2: does a slope differ between two groups? And along a number?"""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands, number, numbers_in
from yellow_slope.app.state.desk import Waypoint

pytestmark = pytest.mark.no_cover  # what it runs through others run through


def test_e2(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))
    hands.press("Ctrl+L")
    hands.types("control = age, practice centered, returner from 0; practice x returner")

    # The product as a column beside its sources, for a few cases.
    hands.press("Ctrl+D")
    assert window.place.session.desk.waypoint is Waypoint.DATA
    grid = window.place.data.grid
    titles = [grid.shown(j).title for j in range(grid.columnCount())]
    data = raw("control", "age", "practice", "returner")
    x, d = data["practice"] - data["practice"].mean(), data["returner"]
    product = titles.index("practice × returner: 1 vs 0")
    source = titles.index("practice centered")
    heads, viewport = window.place.data.heads, window.place.data.heads.viewport()
    assert viewport is not None
    for name in ("practice", "practice centered", "returner", "returner: 1 vs 0", "practice × returner: 1 vs 0"):
        left, size = (of(titles.index(name)) for of in (heads.sectionViewportPosition, heads.sectionSize))
        assert 0 <= left <= viewport.width() - size, f"{name} stands in sight without scrolling"
    shown = [grid.data(grid.index(row, product)) for row in range(12)]
    parts = [grid.data(grid.index(row, source)) for row in range(12)]
    assert [number(v) for v in shown if v] == pytest.approx((x * d)[: sum(bool(v) for v in shown)], abs=0.006)
    assert [number(v) for v in parts if v] == pytest.approx(x[: sum(bool(v) for v in parts)], abs=0.006)
    names_before = window.place.session.study.table.names

    # The slope in the reference group, in the other group, and their difference, each as a sentence with units.
    hands.press("Alt+5")
    fit = fitted(data["control"], data["age"], x, d, x * d)
    said = hands.sentence().removeprefix("In words: ").split(". ")
    slopes = [text for text in said if text.lower().startswith("in returner ")]
    assert len(slopes) == 2
    for text, group, g in (
        (slopes[0], "in returner 0", [0, 0, 1, 0, 0]),
        (slopes[1], "in returner 1", [0, 0, 1, 0, 1]),
    ):
        effect, _, _, low, high = fit.effect([float(v) for v in g])
        assert group in text.lower()
        assert "per further unit of practice, control is " in text
        assert " higher (95% CI " in text
        figures = numbers_in(text.split("control is")[1])
        assert figures[0] == pytest.approx(abs(effect), abs=0.006)
        assert figures[2:4] == pytest.approx([low, high], abs=0.006)
    effect, _, p, low, high = fit.effect([0, 0, 0, 0, 1])
    difference = next(text for text in said if "he slope of practice" in text)
    in_first, in_returner = fit.effect([0, 0, 1, 0, 0])[0], fit.effect([0, 0, 1, 0, 1])[0]
    assert "in returner 0 and " in difference
    assert "per unit more" in difference
    assert numbers_in(re.sub("returner [01]", "", difference))[:3] == pytest.approx(
        [in_first, in_returner, abs(effect)], abs=0.006
    )
    probed = window.place.session.probed()
    assert probed is not None
    rows = window.place.probe.table.rows()
    assert rows[-1].effect.p == pytest.approx(p, rel=1e-9)
    assert (rows[-1].effect.low, rows[-1].effect.high) == pytest.approx((low, high), rel=1e-9)

    # Drop this hypothesis and try another: the slope as a function of worry.
    hands.press("Ctrl+L")
    hands.types("practice x worry centered and their parts, without practice x returner")
    hands.press("Alt+5")
    data = raw("control", "age", "practice", "returner", "worry")
    x, w = data["practice"] - data["practice"].mean(), data["worry"] - data["worry"].mean()
    fit = fitted(data["control"], data["age"], x, data["returner"], w, x * w)
    probed = window.place.session.probed()
    assert probed is not None
    assert (probed.probe.focal, probed.probe.moderator) == ("practice", "worry")
    for at, row in zip((0.0, -w.std(ddof=1), 0.0, w.std(ddof=1)), window.place.probe.table.rows()):
        effect, se, p, low, high = fit.effect([0, 0, 1, 0, 0, at])
        assert row.effect.effect == pytest.approx(effect, rel=1e-8, abs=1e-9)
        assert row.effect.se == pytest.approx(se, rel=1e-9)
        assert row.effect.p == pytest.approx(p, rel=1e-8)
    bounds = [line.bounds for line in window.place.probe.card.lines()]
    edge = number(bounds[0].split()[-1]) - data["worry"].mean()
    _, _, p_at_edge, _, _ = fit.effect([0, 0, 1, 0, 0, edge])
    assert p_at_edge == pytest.approx(0.05, abs=0.003)
    assert window.place.session.study.table.names == names_before
    window.place.go(Waypoint.DATA)
    assert not np.any([grid.shown(j).computed is not None for j in range(grid.columnCount())])
    record("E2", "Does a slope differ between two groups? And along a number?", 8, hands.actions)
