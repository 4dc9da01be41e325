"""One window per test, closed afterwards."""

from __future__ import annotations

import pytest

from tests.app.hands import Hands


@pytest.fixture
def demo_hands(hands: Hands) -> Hands:
    """A window with the demo study."""
    hands.window.commands.open_demo()
    hands.settle()
    return hands
