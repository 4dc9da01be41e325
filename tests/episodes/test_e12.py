"""E12: four groups by a centered number, with screening of cases."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPointF

from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.terms import Term


def test_e12(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    session = window.place.session
    names = {"0": "none", "1": "lesson", "2": "video", "3": "one-to-one"}
    hands.types(str(plain_table(tmp_path, words={"coaching": names})))
    hands.press("Ctrl+L")
    hands.types("control = practice centered, worry centered, coaching from none; practice x coaching")

    # Block 2: three products, their change in R², and the sign of each in words.
    view = session.view
    assert view is not None
    fit = view.fit
    assert fit is not None
    product = Term(("practice", "coaching"))
    assert len(fit.design.columns_of(product)) == 3
    data = raw("control", "practice", "worry", "coaching")
    codes = [(data["coaching"] == k).astype(float) for k in (1, 2, 3)]
    p, w = data["practice"] - data["practice"].mean(), data["worry"] - data["worry"].mean()
    large = fitted(data["control"], p, w, *codes, *(p * c for c in codes))
    read = view.reader
    assert read is not None
    by_name = {read.column_name(j): j for j in fit.design.columns_of(product)}
    for k, level in enumerate(("lesson", "video", "one-to-one")):
        j = by_name[f"practice × coaching: {level} vs none"]
        b, se, p_value, _, _ = large.effect([0.0] * (6 + k) + [1.0] + [0.0] * (2 - k))
        assert (fit.last.b[j + 1], fit.last.se[j + 1]) == pytest.approx((b, se), rel=1e-8)
        assert fit.last.p[j + 1] == pytest.approx(p_value, rel=1e-7)
        said = read.coefficient(1, j)
        assert "slope of practice" in said.lower()
        assert ("more" if b > 0 else "less") in said
    assert fit.last.change.r2 == pytest.approx(fit.steps[1].r2 - fit.steps[0].r2)

    # Checks: Durbin-Watson, residuals by predicted, Mahalanobis distance with its cut-off.
    hands.press("Alt+4")
    assert session.shown_check() is Check.STAND
    assert session.stand is not None
    assert session.stand.asked.product == product
    checks = window.place.checks
    residual = fit.y - fit.predicted(1)
    dw = float(np.sum(np.diff(residual) ** 2) / np.sum(residual**2))
    assert checks.small[Check.ORDER].answer == f"DW {dw:.2f}"
    assert checks.small[Check.SPREAD].drawn is not None
    hands.clicks(checks.small[Check.FAR])
    found = session.checked
    assert found is not None
    assert "The cut-off is the .999 quantile of chi-square" in hands.sentence()

    # The furthest is set aside, both results side by side, and taken back.
    furthest = int(np.argmax(found.away.d2))
    placed = checks.large.placed
    assert placed is not None
    assert placed.points is not None
    hands.clicks(checks.large, QPointF(*(float(v) for v in placed.points[furthest])))
    assert session.desk.lit == (int(found.fit.cases.rows[furthest]),)

    def reason(title: str, question: str, text: str = "") -> str:
        return "far out"

    window.place.dialogs.text = reason  # type: ignore[method-assign]
    hands.press("Delete")
    hands.actions += 1  # the reason
    hands.press("V")
    hands.settle()
    states = checks.states
    assert [column.title for column in states.head] == ["all cases", "without the 1 set aside"]
    cases = next(row for row in states.rows if row.name == "cases")
    assert cases.cells == (str(fit.cases.n), str(fit.cases.n - 1))
    assert any(row.name == "practice × coaching, F" for row in states.rows)
    hands.press("Shift+Delete")
    assert session.view is not None
    assert session.view.evaluation.cases.n == fit.cases.n

    # Leaving the groups' own indicators out raises a flag.
    hands.press("Ctrl+L")
    hands.types("control = practice centered, worry centered; practice x coaching")
    assert any("coaching" in flag.key.about and "part" in str(flag.key.kind) for flag in session.view.flags)
    record("E12", "Four groups by a centered number, with screening of cases", 12, hands.actions)
