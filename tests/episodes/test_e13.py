"""E13: from where on do two groups differ? Cut-off and figure."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from xml.etree import ElementTree

import mpmath
import numpy as np
import pytest
from pypdf import PdfReader
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QLineEdit

from tests.support.oracle import t_quantile
from tests.support.plaintable import fitted, plain_table, raw
from tests.support.windowdriver import Hands, number

pytestmark = pytest.mark.no_cover  # what it runs through others run through


def test_e13(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    hands.types(str(plain_table(tmp_path)))
    hands.press("Ctrl+L")
    typed = "control = balance, returner as groups (first season, returner) from first season; returner x balance"
    hands.types(typed)
    hands.press("Alt+5")

    # Boundaries: the roots of (b2 + b3 w)² = c² (V22 + 2 w V23 + w² V33), in high precision.
    data = raw("control", "balance", "returner")
    w, d = data["balance"], data["returner"]
    fit = fitted(data["control"], w, d, d * w)
    c = t_quantile("0.95", fit.df)
    v = [[fit.cov[i, j] for j in (2, 3)] for i in (2, 3)]
    a2 = fit.b[3] ** 2 - c**2 * v[1][1]
    a1 = 2 * (fit.b[2] * fit.b[3] - c**2 * v[0][1])
    a0 = fit.b[2] ** 2 - c**2 * v[0][0]
    roots = sorted(float((-a1 + s * mpmath.sqrt(a1**2 - 4 * a2 * a0)) / (2 * a2)) for s in (-1, 1))
    inside = [r for r in roots if w.min() < r < w.max()]
    assert inside, "the made-up world puts a cut-off inside the data"

    # On screen: bounds, on which side the groups differ, and how many live there.
    lines = window.place.probe.card.lines()
    edges = [number(line.bounds.split()[-1]) for line in lines[:-1]]
    assert edges == pytest.approx(inside, abs=0.06)
    bounds = [-np.inf, *inside, np.inf]
    for line, low, high in zip(lines, bounds[:-1], bounds[1:]):
        there = (w >= low) & (w < high)
        of_each = [int(np.sum(there & (d == value))) for value in (1, 0)]
        assert line.cases == f"{sum(of_each)} cases ({of_each[0]} + {of_each[1]})"
    effect = float(fit.b[2] + fit.b[3] * w.max())
    assert lines[-1].words == ("returner higher" if effect > 0 else "first season higher")
    assert "returner minus first season" in window.place.foot.title.text()

    # The figure with cut-off and region, group names at the lines.
    plots = window.place.probe.plots
    assert plots.is_current
    names = " ".join(str(tmp_path / f"cutoff.{kind}") for kind in ("png", "svg", "pdf"))

    def answer() -> None:
        dialog = QApplication.activeModalWidget()
        assert dialog is not None
        field = dialog.findChild(QLineEdit)
        assert field is not None
        field.selectAll()
        field.setFocus()
        hands.types(names)

    QTimer.singleShot(300, answer)
    hands.press("Ctrl+E")
    png = (tmp_path / "cutoff.png").read_bytes()
    assert int.from_bytes(png[16:20], "big") == 6.5 * 300
    root = ElementTree.fromstring((tmp_path / "cutoff.svg").read_bytes())
    texts = {node.text for node in root.iter("{http://www.w3.org/2000/svg}text")}
    assert {"first season", "returner", "balance", *(line.bounds.split()[-1] for line in lines[:-1])} <= texts
    assert any(text is not None and text.endswith("higher") for text in texts)
    printed = PdfReader(tmp_path / "cutoff.pdf").pages[0].extract_text()
    assert "returner" in printed
    assert "control" in printed
    record("E13", "From where on do two groups differ? Cut-off and figure, with the groups' names", 6, hands.actions)
