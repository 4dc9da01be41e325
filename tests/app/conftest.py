"""One window per test, closed afterwards."""

from __future__ import annotations

import time
from collections.abc import Iterator

import pytest
from _pytest.runner import runtestprotocol

from tests.support.clock import stolen
from tests.support.heartbeat import stalls
from tests.support.windowdriver import Hands

STOPPED = "the window did not answer"
TAKEN = 0.05
"""Share of one processor that a test can do without."""


@pytest.fixture(autouse=True)
def the_window_answers() -> Iterator[None]:
    """A test in which the interface thread does not answer for 0.3 s fails."""
    stalls()
    yield
    found = stalls()
    assert not found, f"{STOPPED} for {found} s"


def pytest_runtest_protocol(item: pytest.Function, nextitem: pytest.Item | None) -> bool:
    """Where the machine was taken away during a test, one in which the window stopped is asked again."""
    item.ihook.pytest_runtest_logstart(nodeid=item.nodeid, location=item.location)
    begun, before = time.monotonic(), stolen()
    reports = runtestprotocol(item, log=False, nextitem=nextitem)
    was_taken = stolen() - before > TAKEN * (time.monotonic() - begun)
    if was_taken and any(report.failed and STOPPED in str(report.longrepr) for report in reports):
        item._initrequest()
        reports = runtestprotocol(item, log=False, nextitem=nextitem)
    for report in reports:
        item.ihook.pytest_runtest_logreport(report=report)
    item.ihook.pytest_runtest_logfinish(nodeid=item.nodeid, location=item.location)
    return True


@pytest.fixture
def demo_hands(hands: Hands) -> Hands:
    """A window with the demo study."""
    hands.place.fileactions.open_demo()
    hands.settle()
    return hands


@pytest.fixture(autouse=True)
def questions_are_answered(no_question_waits_for_ever: None) -> None:
    """In every test of a window."""
