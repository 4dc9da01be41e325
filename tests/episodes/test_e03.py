"""E3: a binary moderator, from the start to a figure that can be printed."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QLineEdit

from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands, number
from yellow_slope.core.study.figures import Pane
from yellow_slope.plots.marks import Line, OfLine


def test_e3(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))

    # Exactly two values, with their counts; they get their names.
    area = window.place.roster.row_rect("returner")
    assert area is not None
    hands.clicks(window.place.roster.viewport(), area.center())
    every = raw("returner")["returner"]
    assert set(every) == {0.0, 1.0}
    said = " ".join(label.text() for label in window.place.data.card.findChildren(type(window.place.foot.title)))
    for value in (0.0, 1.0):
        assert str(int(np.sum(every == value))) in said
    field = next(
        f for f in window.place.data.card.findChildren(QLineEdit) if f.accessibleName() == "Names of all levels"
    )
    window.place.data.card.ensureWidgetVisible(field)
    hands.clicks(field)
    hands.types("first season, returner")

    # Only the number is centered; the group never is.
    hands.press("Ctrl+L")
    hands.types("control = practice centered, returner from first season; practice x returner")
    assert not window.place.session.study.model.treatment("returner").transforms
    data = raw("control", "practice", "returner")
    x, d = data["practice"] - data["practice"].mean(), data["returner"]
    assert window.place.status.said.text().startswith(f"{d.size} cases ({240 - d.size} incomplete)")

    # Conditional effects, whether or not the product is significant.
    hands.press("Alt+5")
    fit = fitted(data["control"], x, d, x * d)
    rows = window.place.probe.table.rows()
    for row, g in ((rows[0], [0.0, 1.0, 0.0, 0.0]), (rows[1], [0.0, 1.0, 0.0, 1.0])):
        effect, _, p, low, high = fit.effect(g)
        assert row.effect.effect == pytest.approx(effect, rel=1e-9)
        assert (row.effect.low, row.effect.high) == pytest.approx((low, high), rel=1e-9)
        assert row.effect.p == pytest.approx(p, rel=1e-7)
    assert [row.name for row in rows[:2]] == ["first season", "returner"]
    _, _, p, _, _ = fit.effect([0.0, 0.0, 0.0, 1.0])
    found = re.search(r"p = (\.\d+)", " ".join(window.place.probe.card.notes()))
    assert found is not None
    assert number(found.group(1)) == pytest.approx(p, abs=0.0006)

    # Two lines, named by the groups, in different patterns; axis labels in words.
    page = window.place.probe.plots.drawn.page  # type: ignore[union-attr]
    texts = {text.text for text in page.texts}
    assert {"first season", "returner"} <= texts
    assert any(text.startswith("control") for text in texts)
    assert "practice" in texts
    lines = [m for m in page.marks if isinstance(m, Line) and isinstance(m.about, OfLine) and m.ink.width > 2]
    assert len({line.ink.dash for line in lines}) == 2
    assert page.frame(Pane.LINES) is not None

    # A chosen size of letters, white ground; PNG at 300 dpi, SVG and PDF.
    def answer() -> None:
        dialog = QApplication.activeModalWidget()
        assert dialog is not None
        names = dialog.findChild(QLineEdit)
        assert names is not None
        names.selectAll()
        names.setFocus()
        hands.types(" ".join(str(tmp_path / name) for name in ("two.png", "two.svg", "two.pdf")) + " 11 pt")

    QTimer.singleShot(300, answer)
    hands.press("Ctrl+E")
    png = (tmp_path / "two.png").read_bytes()
    assert int.from_bytes(png[16:20], "big") == 6.5 * 300
    svg = (tmp_path / "two.svg").read_text(encoding="utf-8")
    assert "#ffffff" in svg.lower()
    words = {node.text for node in ElementTree.fromstring(svg).iter("{http://www.w3.org/2000/svg}text")}
    assert {"first season", "returner", "practice"} <= words
    assert any(text is not None and text.startswith("control") for text in words)
    assert "font-size: 11px" in svg
    assert "returner" in PdfReader(tmp_path / "two.pdf").pages[0].extract_text()
    with Image.open(tmp_path / "two.png") as picture:
        assert picture.info["dpi"] == pytest.approx((300, 300), rel=1e-3)
    assert window.place.session.study.figure_letters == 11.0
    record("E3", "Binary moderator, start to publishable figure", 9, hands.actions)
