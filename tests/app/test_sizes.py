"""A waypoint that is come back to is laid out for the size that the window has by then."""

from __future__ import annotations

import time

import pytest

from tests.app.test_window_walks import awkward
from tests.support.clock import behind
from tests.support.heartbeat import process_events
from tests.support.windowdriver import Hands
from yellow_slope.app.state.desk import Waypoint


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
    back = place.grab().toImage()
    hands.window.resize(1280, 800)
    hands.settle()
    hands.window.resize(*size)
    hands.settle()
    assert back == place.grab().toImage()


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
