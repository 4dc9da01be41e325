"""What all tests share: the demo study, and a state folder of their own."""

from __future__ import annotations

import itertools
import os
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

import pytest
from hypothesis import settings

from yellow_slope.core.study.study import Study

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from yellow_slope.demo.learners import STUDY
from yellow_slope.files.opening import open_anything

if TYPE_CHECKING:
    from tests.support.windowdriver import Hands

settings.register_profile("the same", derandomize=True)
settings.load_profile("the same")  # what is drawn is the same in every run; --hypothesis-profile=default draws anew


COUNTED = 3
"""Of one test on many inputs so many are counted for the lines they run through: the others run through the same."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Counting lines doubles the time of a test."""
    seen = Counter[str]()
    for item in items:
        name = item.nodeid.partition("[")[0]
        seen[name] += 1
        if seen[name] > COUNTED:
            item.add_marker("no_cover")


@pytest.fixture(scope="session")
def state_folders(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    """Where the state folders of all tests lie, each known by its number: to look for a free name takes 5 ms."""
    within = tmp_path_factory.mktemp("states")
    return (within / str(number) for number in itertools.count())


@pytest.fixture(autouse=True)
def own_state_folder(state_folders: Iterator[Path], monkeypatch: pytest.MonkeyPatch) -> None:
    """Recent files, journals and logs of the tests never mix with those of the user."""
    folder = next(state_folders)
    folder.mkdir()
    monkeypatch.setenv("XDG_STATE_HOME", str(folder))


@pytest.fixture(scope="session")
def demo() -> Study:
    """The finished demo study."""
    return open_anything(STUDY)


@pytest.fixture
def no_question_waits_for_ever(monkeypatch: pytest.MonkeyPatch) -> None:
    """A question that a test does not answer is a failure, not a run that never ends."""
    from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog, QMessageBox

    def asked(*_args: object, **_more: object) -> None:
        raise AssertionError("a question is asked that the test does not answer")

    for kind in (QDialog, QMessageBox, QFileDialog):
        monkeypatch.setattr(kind, "exec", asked)
    for name in ("getText", "getItem"):
        monkeypatch.setattr(QInputDialog, name, asked)


@pytest.fixture
def hands() -> Iterator[Hands]:
    """A window at first sight, closed afterwards."""
    from tests.support.windowdriver import Hands

    made = Hands()
    yield made
    made.close()
