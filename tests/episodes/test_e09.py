"""E9: large models by typing."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from tests.support.worlds import term
from yellow_slope.app.blocks.sheet import RowKind
from yellow_slope.core.study.study import Study


def survey(folder: Path) -> Path:
    """Forty items and three more numbers, about 300 people."""
    rng = np.random.default_rng(12)
    n, names = 300, [f"item{k:02}" for k in range(1, 41)]
    items = rng.normal(4, 1.2, (n, 40)).round(1)
    more = rng.normal(10, 3, (n, 3)).round(1)
    score = (items[:, 0] + more[:, 0] * 0.4 + rng.normal(0, 2, n)).round(2)
    rows = [",".join([*names, "age", "sleep", "worry", "score"])]
    rows += [",".join(map(str, [*items[i], *more[i], score[i]])) for i in range(n)]
    path = folder / "survey.csv"
    path.write_text("\n".join(rows) + "\n")
    return path


def terms(hands: Hands) -> list[list[str]]:
    study = hands.place.session.study
    return [["*".join(t.variables) for t in block.terms] for block in study.model.blocks]


def test_e09(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(survey(tmp_path)))
    hands.actions = 0  # from an open table
    quick, ladder = window.place.blocks.quick, window.place.blocks.ladder

    # Read back in the ladder as terms and number of columns before it is accepted.
    hands.press("Ctrl+L")
    line = "score = item01 ... item30"
    QTest.keyClicks(quick.field, line)
    hands.settle()
    assert ladder.coming is not None
    assert ladder.coming.summary.text == "30 columns in 1 block"
    assert [row.text for row in ladder.sheet.rows if row.kind is RowKind.TERM] == [f"item{k:02}" for k in range(1, 31)]
    quick.field.clear()
    hands.types(line)
    assert terms(hands) == [[f"item{k:02}" for k in range(1, 31)]]

    # Two sets crossed, all products of three up to the third order with their parts, one taken out: one line says
    # it all.
    hands.press("Ctrl+L")
    line = "(item01, item02) x (item31, item32); (age, sleep, worry) up to third order, without item30"
    QTest.keyClicks(quick.field, line)
    hands.settle()
    assert ladder.coming is not None
    assert ladder.coming.summary.text == "11 columns in blocks 2 and 3; item30 leaves"
    quick.field.clear()
    hands.types(line)
    crossed = ["item01*item31", "item01*item32", "item02*item31", "item02*item32"]
    cubes = ["age", "sleep", "worry", "age*sleep", "age*worry", "sleep*worry", "age*sleep*worry"]
    assert terms(hands) == [[f"item{k:02}" for k in range(1, 30)], crossed, cubes]
    fit = window.place.session.view.fit  # type: ignore[union-attr]
    assert fit is not None
    assert len(fit.design.columns) == 29 + 4 + 7
    record("E9", "Large models by typing", 4, hands.actions)

    # Each of these is a line of its own as well; a mistake is pointed at under its character.
    before = window.place.session.study
    checks: tuple[tuple[str, Callable[[Study], bool]], ...] = (
        ("(item03, item04) x (age, sleep)", lambda s: term("item04*sleep") in s.model.terms),
        ("without item29", lambda s: term("item29") not in s.model.terms),
    )
    for text, check in checks:
        hands.press("Ctrl+L")
        hands.types(text)
        study = window.place.session.study
        assert isinstance(study, Study)
        assert study is not before
        assert check(study)
    hands.press("Ctrl+L")
    hands.types("item01 x wory")
    assert quick.echo.wrong
    assert "no variable “wory”" in quick.echo.text
    expected = quick.field.fontMetrics().horizontalAdvance("item01 x ")
    assert abs(quick.echo.at - expected) < 16
