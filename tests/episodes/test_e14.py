"""E14: a code that is not a quantity gets its names."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QLineEdit

from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands
from yellow_slope.core.data.variable import Kind

pytestmark = pytest.mark.no_cover  # what it runs through others run through


def test_e14(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))
    hands.actions = 0  # from an open table

    before = window.place.session.study
    assert before is not None
    assert before.variable("coaching").kind is Kind.NUMBER
    hands.press("Ctrl+L")
    names = "none, group lesson, video feedback, one-to-one"
    hands.types(f"control = practice, coaching as groups ({names}) from none")
    named = window.place.session.study
    assert named is not None
    assert [(x.code, x.label) for x in named.variable("coaching").levels] == [
        ("0", "none"),
        ("1", "group lesson"),
        ("2", "video feedback"),
        ("3", "one-to-one"),
    ]

    # The coefficients carry the names.
    shown = [row.whole for row in window.place.blocks.ladder.sheet.rows]
    wanted = [f"coaching: {name} vs none" for name in ("group lesson", "video feedback", "one-to-one")]
    assert [text for text in shown if text in wanted] == wanted
    data = raw("control", "practice", "coaching")
    indicators = [(data["coaching"] == k).astype(float) for k in (1, 2, 3)]
    fit = fitted(data["control"], data["practice"], *indicators)
    step = window.place.session.view.evaluation.fit.last  # type: ignore[union-attr]
    assert step.b[2:] == pytest.approx(
        [fit.effect([0, 0, *(float(k == j) for k in range(3))])[0] for j in range(3)], rel=1e-9
    )
    record("E14", "A code that is not a quantity gets its names", 2, hands.actions)

    # Kind, names and model were one step: one step takes them back.
    hands.press("Ctrl+Z")
    assert window.place.session.study is before

    # On the card beside the table the same: click it, type the names.
    area = window.place.roster.row_rect("coaching")
    assert area is not None
    hands.press("Alt+1")
    hands.clicks(window.place.roster.viewport(), area.center())
    card = window.place.data.card
    field = next(f for f in card.findChildren(QLineEdit) if f.accessibleName() == "Names of the codes")
    card.ensureWidgetVisible(field)
    hands.clicks(field)
    hands.types(names)
    assert window.place.session.study.variable("coaching").levels == named.variable("coaching").levels
    assert window.place.session.undo_name == "name the codes of coaching"
    hands.press("Ctrl+Z")
    assert window.place.session.study is before
