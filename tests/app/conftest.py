"""One window per test, closed afterwards."""

from __future__ import annotations

import pytest

from tests.support.windowdriver import Hands


@pytest.fixture
def demo_hands(hands: Hands) -> Hands:
    """A window with the demo study."""
    hands.window.fileactions.open_demo()
    hands.settle()
    return hands
