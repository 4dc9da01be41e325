"""A card without room for its notes has a link to all of them, for mouse and keys; a low window keeps eight rows."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QLabel

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from tests.support.worlds import study_of
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.probe import Probe, Second
from yellow_slope.looks import SIZES


def three_factors(hands: Hands) -> None:
    rng = np.random.default_rng(2)
    n = 240
    data = {
        "light": [("dim", "bright")[i] for i in rng.integers(0, 2, n)],
        "oven": [("deck", "rack")[i] for i in rng.integers(0, 2, n)],
        "shift": [("early", "late", "night")[i] for i in rng.integers(0, 3, n)],
        "loaves": rng.normal(size=n),
    }
    study = study_of(data, "loaves", "light, oven, shift; light*oven, light*shift, oven*shift, light*oven*shift")
    hands.place.session.open(put_probe(study, Probe("light", "oven", second=Second("shift"))))
    hands.settle()
    hands.window.resize(1000, 700)
    hands.place.go(Waypoint.PROBE)
    hands.settle()


def test_three_factors_keep_eight_rows_in_a_low_window(hands: Hands) -> None:
    three_factors(hands)
    table = hands.place.probe.table
    assert len(table.rows()) > 8
    assert table.viewport().height() >= 9 * SIZES.row, "a head and eight rows"


def test_notes_without_room_are_opened_by_click_and_by_key(hands: Hands) -> None:
    three_factors(hands)
    card = hands.place.probe.card
    assert card.more.isVisible()
    assert card.more.geometry().bottom() <= card.height()
    for way in ("click", "key"):
        if way == "click":
            QTest.mouseClick(card.more, Qt.MouseButton.LeftButton)
        else:
            card.more.setFocus()
            QTest.keyClick(card.more, Qt.Key.Key_Space)
        hands.app.processEvents()
        opened = card.more.opened
        assert opened is not None
        assert opened.isVisible()
        assert [label.text() for label in opened.findChildren(QLabel)] == card.notes()
        QTest.keyClick(opened, Qt.Key.Key_Escape)
        hands.app.processEvents()
        assert card.more.opened is None


def test_the_title_of_the_card_makes_way_for_its_links(demo_hands: Hands) -> None:
    demo_hands.window.resize(1000, 700)
    demo_hands.place.go(Waypoint.PROBE)
    demo_hands.settle()
    card = demo_hands.place.probe.card
    first = min(button.x() for button in card.moves.values() if button.isVisible())
    picture = card.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    ground = picture.pixel(first - 3, 6)
    gap = [picture.pixel(first - 4, y) == ground for y in range(2, SIZES.row - 3)]
    assert all(gap), "title and links do not touch"
