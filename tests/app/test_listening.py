"""Who is told of what: each thing on the desk has its topic, and a part that is not seen does nothing."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from typing import Any, get_type_hints

import pytest

from tests.support.windowdriver import Hands
from yellow_slope.app.state.desk import Desk, Looking, Seeing, Waypoint
from yellow_slope.app.state.topics import TOPIC_OF, Topic
from yellow_slope.app.widgets.following import Bench, Follows
from yellow_slope.core.probe.seen import Seen
from yellow_slope.values import names_of

pytestmark = pytest.mark.no_cover  # what it runs through others run through

MOST_CALLS = 41
"""Parts that one dropped term concerns, told once of the study and once of its results; half of them are not seen."""


def test_each_thing_on_the_desk_has_its_topic() -> None:
    assert set(names_of(Desk)) == set(TOPIC_OF)


def test_what_may_be_changed_is_what_there_is() -> None:
    assert get_type_hints(Looking) == get_type_hints(Desk)
    assert get_type_hints(Seeing) == get_type_hints(Seen)


def counted(hands: Hands, act: Callable[[], object]) -> tuple[int, Counter[str]]:
    """How many listeners were called, and which parts took what is newest."""
    session, renewed, calls = hands.place.session, Counter[str](), 0
    tell = session._tell

    def telling(*topics: Topic) -> None:
        nonlocal calls
        calls += len(dict.fromkeys(call for topic in topics for call in session._listeners.get(topic, ())))
        tell(*topics)

    def watched(part: Any) -> None:
        renew = part.renew

        def renewing() -> None:
            renewed[type(part).__name__] += 1
            renew()

        part.renew = renewing

    parts = [w for w in hands.window.findChildren(Bench) if isinstance(w, Follows)]
    for part in parts:
        watched(part)
    session._tell = telling  # type: ignore[method-assign]
    try:
        act()
        hands.settle()
    finally:
        session._tell = tell  # type: ignore[method-assign]
        for part in parts:
            del part.__dict__["renew"]
    return calls, renewed


@pytest.mark.parametrize("waypoint", Waypoint)
def test_a_dropped_term_makes_only_the_bench_that_is_seen_work(demo_hands: Hands, waypoint: Waypoint) -> None:
    window = demo_hands.window
    window.place.go(Waypoint.BLOCKS)
    demo_hands.settle()
    window.place.blocks.focus_ladder()
    for _ in range(3):
        demo_hands.press("Down")
    window.place.go(waypoint)
    demo_hands.settle()
    calls, renewed = counted(demo_hands, window.place.entering.take_out)
    seen = type(window.place.bench(waypoint)).__name__
    assert set(renewed) <= {seen}
    assert calls <= MOST_CALLS, f"{calls} listeners were called"
