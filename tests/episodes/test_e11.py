"""E11: center two predictors, form the product, judge it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands, numbers_in
from yellow_slope.app.prepare.numberstrip import NumberStrip

pytestmark = pytest.mark.no_cover  # what it runs through others run through


def vif_by_hand(columns: list[np.ndarray], j: int) -> float:
    """1 / (1 - R²) of one column on the others."""
    others = np.column_stack([np.ones(columns[0].size), *(c for i, c in enumerate(columns) if i != j)])
    rest = columns[j] - others @ np.linalg.lstsq(others, columns[j], rcond=None)[0]
    return float(np.var(columns[j]) / np.var(rest))


def test_e11(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))

    # Without centering: one step, two predictors and their product.
    hands.press("Ctrl+L")
    hands.types("control = practice, worry, practice x worry")
    data = raw("control", "practice", "worry")
    y, x, w = data["control"], data["practice"], data["worry"]
    plain = fitted(y, x, w, x * w)
    step = window.place.session.view.evaluation.fit.last  # type: ignore[union-attr]
    raw_vif = step.vif[1:4].copy()
    assert raw_vif == pytest.approx([vif_by_hand([x, w, x * w], j) for j in range(3)], rel=1e-8)
    assert step.p[3] == pytest.approx(plain.effect([0, 0, 0, 1])[2], rel=1e-8)
    raw_t = float(step.t[3])
    assert {f.key.text for f in window.place.session.view.flags} >= {"zero of practice", "zero of worry"}  # type: ignore[union-attr]

    # With centering, and beside it a second product.
    hands.press("Ctrl+L")
    hands.types("control = practice centered, worry centered, practice x worry; sleep centered, practice x sleep")
    fit = window.place.session.view.evaluation.fit  # type: ignore[union-attr]
    assert fit is not None
    both = raw("control", "practice", "worry", "sleep")
    centered = {name: values - values.mean() for name, values in both.items()}
    p, q, s = centered["practice"], centered["worry"], centered["sleep"]
    first = fit.steps[0]
    assert first.vif[1:4] == pytest.approx([vif_by_hand([p, q, p * q], j) for j in range(3)], rel=1e-8)
    assert max(first.vif[1:4]) < 1.2 < min(raw_vif)
    same_cases = fitted(both["control"], both["practice"], both["worry"], both["practice"] * both["worry"])
    _, _, same_p, _, _ = same_cases.effect([0, 0, 0, 1])
    assert first.p[3] == pytest.approx(same_p, rel=1e-7)
    assert first.t[3] == pytest.approx(raw_t, rel=0.05), "three cases fewer, otherwise the same test"
    assert not {f.key.text for f in window.place.session.view.flags} & {"zero of practice", "zero of worry"}  # type: ignore[union-attr]

    # The last product is not significant, and is said to be so.
    judged = fitted(both["control"], p, q, p * q, s, p * s)
    effect, se, p_value, _, _ = judged.effect([0, 0, 0, 0, 0, 1])
    assert p_value > 0.05
    assert "Not significant: values from " in hands.sentence()
    assert numbers_in(hands.figures())[1:4] == pytest.approx([effect, se, effect / se], abs=0.006)

    # Means 0 and SDs unchanged, on the strips.
    hands.press("Alt+2")
    strips = {s.name: s for s in window.place.prepare.strips if isinstance(s, NumberStrip)}
    for name in ("practice", "worry"):
        shown = strips[name].figures()
        before_mean, before_sd, before_skew, after_mean, after_sd, after_skew, *_ = numbers_in(shown)
        assert before_skew == after_skew
        assert before_mean == pytest.approx(both[name].mean(), abs=0.006)
        assert after_mean == 0
        assert before_sd == after_sd == pytest.approx(both[name].std(ddof=1), abs=0.006)

    # Nothing stops anyone from probing it.
    hands.press("Alt+5")
    probed = window.place.session.probed()
    assert probed is not None
    assert (probed.probe.focal, probed.probe.moderator) == ("practice", "sleep")
    assert len(window.place.probe.table.rows()) == 4
    record("E11", "Center two predictors, form the product, judge it", 7, hands.actions)
