"""What all tests share: the demo study, and a state folder of their own."""

from __future__ import annotations

import os
from collections.abc import Iterator
from typing import TYPE_CHECKING

import pytest

from yellow_slope.core.study.study import Study

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from yellow_slope.demo.learners import STUDY
from yellow_slope.files.opening import open_anything

if TYPE_CHECKING:
    from tests.support.windowdriver import Hands


@pytest.fixture(autouse=True)
def own_state_folder(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """Recent files, journals and logs of the tests never mix with those of the user."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path_factory.mktemp("state")))


@pytest.fixture(scope="session")
def demo() -> Study:
    """The finished demo study."""
    return open_anything(STUDY)


@pytest.fixture
def hands() -> Iterator[Hands]:
    """A window at first sight, closed afterwards."""
    from tests.support.windowdriver import Hands

    made = Hands()
    yield made
    made.close()
