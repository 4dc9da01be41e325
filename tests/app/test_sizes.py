"""A waypoint that is come back to is laid out for the size that the window has by then."""

from __future__ import annotations

import time

import pytest
from PyQt6.QtGui import QImage

from tests.app.test_window_walks import awkward
from tests.support.clock import behind
from tests.support.heartbeat import process_events
from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from yellow_slope.app.state.desk import Waypoint


def at_rest(hands: Hands) -> QImage:
    """What is seen once nothing moves any more: long pages are laid out piece by piece after they are shown."""
    seen = hands.place.grab().toImage()
    for _ in range(40):
        QTest.qWait(25)
        before, seen = seen, hands.place.grab().toImage()
        if seen == before:
            break
    return seen


@pytest.mark.parametrize("size", [(1000, 700), (1920, 1080)])
@pytest.mark.parametrize("waypoint", list(Waypoint))
def test_the_window_got_another_size_meanwhile(demo_hands: Hands, waypoint: Waypoint, size: tuple[int, int]) -> None:
    hands, place = demo_hands, demo_hands.place
    place.go(waypoint)
    hands.settle()
    elsewhere = Waypoint.DATA if waypoint is not Waypoint.DATA else Waypoint.BLOCKS
    place.go(elsewhere)
    hands.settle()
    hands.window.resize(*size)
    hands.settle()
    place.go(waypoint)
    hands.settle()
    back = at_rest(hands)
    hands.window.resize(1280, 800)
    hands.settle()
    hands.window.resize(*size)
    hands.settle()
    assert back == at_rest(hands)


def test_the_theme_changes_at_once_with_every_waypoint_seen(hands: Hands) -> None:
    hands.place.session.open(awkward(3))
    hands.settle()
    for waypoint in Waypoint:
        hands.place.go(waypoint)
        hands.settle()
    for _ in range(4):
        before = hands.place.session.desk.dark
        begun = time.thread_time()
        hands.place.navigation.switch_theme()
        process_events()
        assert hands.place.session.desk.dark is not before
        assert (time.thread_time() - begun) / behind() < 0.3
