"""E8: standardize one, then many."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from tests.support.plaintable import plain_table, raw
from tests.support.windowdriver import Hands, numbers_in
from yellow_slope.app.prepare.numberstrip import NumberStrip
from yellow_slope.core.study.treatment import STANDARDIZED


def test_e08(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))
    hands.actions = 0  # from an open table
    area = window.place.roster.row_rect("practice")
    assert area is not None
    hands.clicks(window.place.roster.viewport(), area.center())
    hands.press("Z")

    # Before and after, with mean 0 at full precision.
    values = raw("practice")["practice"]
    said = hands.sentence()
    assert "0 (exactly, up to rounding) after" in said
    _, before, after_mean, sd_before, sd_after, *_ = numbers_in(said)
    assert (before, sd_before) == pytest.approx((values.mean(), values.std(ddof=1)), abs=0.006)
    assert (after_mean, sd_after) == (0, 1)

    # Four more at once.
    first, last = window.place.roster.row_rect("worry"), window.place.roster.row_rect("age")
    assert first is not None
    assert last is not None
    hands.clicks(window.place.roster.viewport(), last.center(), shift=True)
    hands.press("Z")
    record("E8", "Standardize one, then many", 4, hands.actions)
    study = window.place.session.study
    treated = {v.name for v in study.variables if study.model.treatment(v.name) == STANDARDIZED}
    assert treated == {"practice", "worry", "balance", "sleep", "age"}
    hands.press("Alt+2")
    strips = {s.name: s for s in window.place.prepare.strips if isinstance(s, NumberStrip)}
    for name in treated:
        column = strips[name].basis.treated(strips[name].values)
        assert abs(float(column.mean())) < 1e-14
        assert float(np.std(column, ddof=1)) == pytest.approx(1, abs=1e-14)
