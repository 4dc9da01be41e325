"""One window per test, closed afterwards."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog, QMessageBox

from tests.support.heartbeat import stalls
from tests.support.windowdriver import Hands


@pytest.fixture(autouse=True)
def the_window_answers() -> Iterator[None]:
    """A test in which the interface thread does not answer for 0.3 s fails."""
    stalls()
    yield
    found = stalls()
    assert not found, f"the window did not answer for {found} s"


@pytest.fixture(autouse=True)
def no_question_waits_for_ever(monkeypatch: pytest.MonkeyPatch) -> None:
    """A question that a test does not answer is a failure, not a run that never ends."""

    def asked(*_args: object, **_more: object) -> None:
        raise AssertionError("a question is asked that the test does not answer")

    for kind in (QDialog, QMessageBox, QFileDialog):
        monkeypatch.setattr(kind, "exec", asked)
    for name in ("getText", "getDouble", "getItem"):
        monkeypatch.setattr(QInputDialog, name, asked)


@pytest.fixture
def demo_hands(hands: Hands) -> Hands:
    """A window with the demo study."""
    hands.window.fileactions.open_demo()
    hands.settle()
    return hands
