"""E15: a file that is not what its name says; one model in three forms."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QInputDialog

from tests.support.plaintable import plain_table, raw
from tests.support.windowdriver import Hands
from tests.support.worlds import term


def sse(y: np.ndarray, columns: list[np.ndarray]) -> float:
    x = np.column_stack([np.ones(y.size), *columns])
    return float(((y - x @ np.linalg.lstsq(x, y, rcond=None)[0]) ** 2).sum())


def errors_of(y: np.ndarray, columns: list[np.ndarray]) -> np.ndarray:
    x = np.column_stack([np.ones(y.size), *columns])
    return np.asarray(np.sqrt(np.diag(np.linalg.inv(x.T @ x)) * sse(y, columns) / (y.size - x.shape[1])))


def test_e15(
    hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = hands.window

    def keep(name: str) -> None:
        monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: (name, True))
        hands.press("ctrl+shift+K")
        hands.actions += 1  # the name, typed with its Enter

    path = plain_table(tmp_path, separator="\t")
    assert path.suffix == ".csv"
    hands.types(str(path))
    study = window.place.session.study
    assert study.table.names[:3] == ("learner", "control", "practice")
    assert study.table.n_rows == 240
    assert window.place.data.read_as.text().startswith(
        "Read as: separated by tabs, decimal point, names in row 1, 240 rows"
    )
    practice = study.columns.numbers("practice")
    np.testing.assert_array_equal(practice[~np.isnan(practice)], raw("practice")["practice"])

    # Four groups by a number, the reference chosen: the parts without products, products only, and all of it.
    hands.press("Ctrl+L")
    hands.types("control = practice, coaching as groups from 3")
    keep("parts")
    hands.press("Ctrl+L")
    hands.types("control = practice x coaching")
    keep("products only")
    hands.press("Ctrl+L")
    hands.types("control = practice, coaching; practice x coaching")

    data = raw("control", "practice", "coaching")
    y, x = data["control"], data["practice"]
    groups = [(data["coaching"] == k) * 1.0 for k in (0, 1, 2)]
    products = [x * g for g in groups]
    study = window.place.session.study
    assert study.model.reference("coaching") == "3"
    assert not [f for f in window.place.session.view.flags if f.key.kind.value == "reference of"]  # type: ignore[union-attr]
    fit = window.place.session.view.fit  # type: ignore[union-attr]
    assert fit is not None
    b = np.linalg.lstsq(np.column_stack([np.ones(y.size), x, *groups, *products]), y, rcond=None)[0]
    np.testing.assert_allclose(fit.last.b, b, rtol=1e-7)

    # Nothing of it is the same fit; products alone and parts alone are nested in the whole, with their F.
    whole, df = sse(y, [x, *groups, *products]), y.size - 8
    strip = window.place.blocks.strip
    assert strip.isVisible()
    f = ((sse(y, products) - whole) / 4) / (whole / df)
    assert strip.said.text().startswith(
        f"“products only” is nested in this model, which adds 4 columns: F(4, {df}) = {f:.2f}"
    )
    hands.clicks(strip.next)
    f = ((sse(y, [x, *groups]) - whole) / 3) / (whole / df)
    assert strip.said.text().startswith(f"“parts” is nested in this model, which adds 3 columns: F(3, {df}) = {f:.2f}")

    # Why a single term is not what it was is said in numbers.
    column = fit.design.columns_of(term("coaching"))[0]
    ladder = window.place.blocks.ladder
    row = next(i for i, r in enumerate(ladder.sheet.rows) if r.cell.column == column)
    ladder.show_row(row)
    hands.clicks(ladder.viewport(), QPoint(60, ladder.row_top(row) + 12))
    before = np.linalg.lstsq(np.column_stack([np.ones(y.size), x, *groups]), y, rcond=None)[0]
    said = window.place.foot.more.text()
    old, new = f"{before[2]:.2f}".replace("-", "−"), f"{b[2] - before[2]:.2f}".replace("-", "−")
    assert f"In step 1 it was {old}. Of the change of {new}, {new} is due to practice × coaching" in said
    assert "it is now the effect at practice 0" in said
    old_se, new_se = (errors_of(y, m)[2] for m in ([x, *groups], [x, *groups, *products]))
    assert f"Its standard error rose from {old_se:.2f} to {new_se:.2f}." in said
    record("E15", "A file that is not what its name says; one model in three forms", 13, hands.actions)

    # Side by side below the ladder they are to be had as well; a click on one compares with it.
    hands.press("Ctrl+3")
    table = window.place.blocks.below.table
    assert [column.title for column in table.head] == ["parts", "products only", "this model"]
    hands.clicks(table.viewport(), QPoint(table._left(1) + 12, 12))
    assert strip.said.text().startswith("“products only” is nested in this model")

    # The same model in another form is recognised as that.
    keep("whole")
    hands.press("Ctrl+L")
    hands.types("practice centered, coaching from 0")
    assert strip.said.text().startswith("“whole” is an equivalent model")
    assert "The joint test of practice × coaching is the same." in strip.said.text()
    assert f"because of other zero points and codings: practice {x.mean():.2f} to 0.00" in strip.said.text()
