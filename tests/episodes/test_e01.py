"""E1: a group variable as predictor; a product; the same model in one subgroup."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands
from yellow_slope.core.data.variable import Kind

SEASONS = {"0": "first season", "1": "returner"}


def test_e1(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path, words={"returner": SEASONS})))

    # Names, kinds, missing, n.
    study = window.place.session.study
    assert [v.name for v in window.place.roster.shown()] == list(study.table.names)
    assert study.variable("returner").kind is Kind.GROUP
    assert study.variable("learner").kind is Kind.IDENTIFIER
    assert "240 cases, 10 variables" in window.place.data.cases.said.text()
    gaps = window.place.data.grid.gaps(study.table.names.index("worry"))
    assert gaps == pytest.approx(np.mean(~study.columns.present("worry")))

    # A text-valued group beside numbers: its indicator appears by itself, named by the level, with its reference
    # stated.
    hands.press("Ctrl+L")
    hands.types("control = practice, returner")
    rows = {row.whole for row in window.place.blocks.ladder.sheet.rows}
    assert "returner: returner vs first season" in rows
    data = raw("control", "practice", "returner")
    fit = fitted(data["control"], data["practice"], data["returner"])
    step = window.place.session.view.evaluation.fit.last  # type: ignore[union-attr]
    assert step.b[1:] == pytest.approx([fit.effect([0, 1, 0])[0], fit.effect([0, 0, 1])[0]], rel=1e-9)

    # Only the product of group and number: a flag says which part is missing, and adds it in one click.
    hands.press("Ctrl+L")
    hands.types("balance x returner")
    link = next(b for b in window.place.foot._buttons if "balance" in b.text())
    assert "balance" in window.place.foot.title.text()
    hands.clicks(link)
    study = window.place.session.study
    assert [t.variables for t in study.model.terms if t.variables == ("balance",)] == [("balance",)]

    # The sample restricted to one level: n and degrees of freedom agree with the count shown.
    hands.press("Ctrl+U")
    hands.types("returner is returner")
    whole = raw("control", "practice", "returner", "balance")
    there = whole["returner"] == 1
    levels = study.columns.levels("returner")
    assert window.place.data.cases.count.text().startswith(f"{np.sum(levels == 1)} of 240 cases")
    evaluation = window.place.session.view.evaluation  # type: ignore[union-attr]
    assert evaluation.cases.n == there.sum()
    assert f"leaving n = {there.sum()}." in window.place.data.cases.said.text()
    assert window.place.header.cases.text().startswith(f"{there.sum()} of 240")
    alone = fitted(whole["control"][there], whole["practice"][there], whole["balance"][there])
    last = evaluation.fit.last  # type: ignore[union-attr]
    assert last.df == alone.df
    kept = [j + 1 for j in range(last.n_columns) if not last.is_left_out(j)]
    assert next(last.b[j] for j in kept) == pytest.approx(alone.effect([0, 1, 0])[0], rel=1e-9)

    # Then to practice at least 5.
    hands.press("Ctrl+U")
    hands.types("practice at least 5")
    often = whole["practice"] >= 5
    with np.errstate(invalid="ignore"):
        n_often = int(np.sum(study.columns.numbers("practice") >= 5))
    assert window.place.data.cases.count.text().startswith(f"{n_often} of 240 cases")
    assert window.place.session.view.evaluation.cases.n == often.sum()  # type: ignore[union-attr]

    # One model per group, side by side.
    hands.press("Ctrl+B")
    groups = window.place.session.view.groups  # type: ignore[union-attr]
    assert groups is not None
    assert window.place.blocks.groups.isVisible()
    p, b = whole["practice"], whole["balance"]
    for group, code in zip(groups.found.groups, (0, 1)):
        here = often & (whole["returner"] == code)
        own = fitted(whole["control"][here], p[here], b[here])
        assert groups.level_label(group) == SEASONS[str(code)]
        assert (group.n, group.fit.last.df) == (here.sum(), own.df)
        assert group.fit.last.b[1] == pytest.approx(own.effect([0, 1, 0])[0], rel=1e-9)
        assert group.fit.last.se[2] == pytest.approx(own.effect([0, 0, 1])[1], rel=1e-9)
    record("E1", "A group variable as predictor; a product; the same model in one subgroup", 11, hands.actions)
