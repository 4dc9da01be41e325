"""One window per test, closed afterwards."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.app.hands import Hands


@pytest.fixture
def hands() -> Iterator[Hands]:
    """A window at first sight."""
    made = Hands()
    yield made
    made.close()


@pytest.fixture
def demo_hands(hands: Hands) -> Hands:
    """A window with the demo study."""
    hands.window.commands.open_demo()
    hands.settle()
    return hands
