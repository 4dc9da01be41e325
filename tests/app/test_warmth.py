"""The window is built part by part: when a part is first wanted, or before, while nobody waits."""

from __future__ import annotations

import time

import pytest

from tests.support.heartbeat import process_events
from tests.support.windowdriver import Hands
from yellow_slope.app.main import application
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.warmth import PARTS, Warmth
from yellow_slope.app.window import Window


def test_all_is_built_in_idle_moments() -> None:
    application()
    window = Window()
    window.show()
    is_awaited = True
    warmth = Warmth(window.build_next, lambda: is_awaited, window)
    warmth.begin()
    _wait(0.2)
    assert window.is_bare, "nothing is built while somebody waits"
    is_awaited = False
    _wait(30, lambda: not window.is_bare and len(window.place.benches) == len(Waypoint))
    assert tuple(window.place.benches) == tuple(Waypoint)
    assert len(PARTS) == 1 + len(Waypoint)
    assert not window.build_next()
    window.close()


def test_nothing_is_put_off_for_ever(monkeypatch: pytest.MonkeyPatch) -> None:
    application()
    monkeypatch.setattr("yellow_slope.app.warmth.LONGEST", 0.1)
    window = Window()
    window.show()
    is_awaited = True
    warmth = Warmth(window.build_next, lambda: is_awaited, window)
    warmth.begin()
    _wait(30, lambda: not window.is_bare and window.place.is_built)
    assert window.place.is_built
    is_awaited = False
    window.close()


def _wait(seconds: float, until=lambda: False) -> None:  # type: ignore[no-untyped-def]
    end = time.monotonic() + seconds
    while time.monotonic() < end and not until():
        process_events()
        time.sleep(0.005)


@pytest.mark.parametrize("waypoint", list(Waypoint))
@pytest.mark.parametrize("is_dark", [False, True])
def test_a_bench_that_comes_late_shows_what_one_shows_that_was_there(waypoint: Waypoint, is_dark: bool) -> None:
    seen, offered = [], []
    for is_early in (True, False):
        hands = Hands()
        if is_early:
            hands.place.build_all()
        else:
            assert not hands.place.benches
        hands.place.fileactions.open_demo()
        hands.settle()
        hands.place.session.look(dark=is_dark)
        hands.place.go(waypoint)
        hands.settle()
        seen.append(hands.place.grab().toImage())
        offered.append([link.text for link in hands.place._foot_links()])
        if not is_early:
            assert set(hands.place.benches) <= {Waypoint.BLOCKS, waypoint}
        hands.place.session.look(dark=False)
        hands.close()
    assert seen[0] == seen[1]
    assert offered[0] == offered[1]


def test_a_first_sight_that_is_closed_at_once_has_built_nothing() -> None:
    application()
    window = Window()
    window.show()
    process_events()
    window.close()
    assert window.is_bare
