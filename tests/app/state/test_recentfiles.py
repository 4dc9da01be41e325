"""Recent files: whatever stands in the way of them, the window starts."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from tests.support.windowdriver import Hands
from yellow_slope.app.state import recentfiles
from yellow_slope.app.state.recentfiles import recent_files, remember
from yellow_slope.values import replace


@pytest.fixture
def state(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    file = tmp_path / "state" / "recent.json"
    file.parent.mkdir()
    monkeypatch.setattr(recentfiles, "_file", lambda: file)
    return file


def test_the_newest_stand_first_and_those_that_are_gone_are_left_out(state: Path, tmp_path: Path) -> None:
    paths = [tmp_path / f"{i}.csv" for i in range(10)]
    for path in paths:
        path.touch()
        remember(path)
    assert recent_files() == paths[:1:-1]
    paths[-1].unlink()
    assert recent_files()[0] == paths[-2]


@pytest.mark.parametrize(
    "text", ["[" * 100_000, json.dumps(["x" * 300, "a\0b", 7, None, "/"]), "{}", "\x00\xff", json.dumps(["\ud800"])]
)
def test_what_stands_in_the_list_is_no_trouble(state: Path, tmp_path: Path, text: str) -> None:
    state.write_text(text, encoding="latin-1")
    assert recent_files() == []
    here = tmp_path / "a.csv"
    here.touch()
    remember(here)
    assert recent_files() == [here]


def test_a_locked_folder_is_no_trouble(state: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    state.write_text(json.dumps([str(tmp_path / "locked" / "a.csv")]))

    def denied(self: Path) -> bool:
        raise PermissionError(13, "denied")

    monkeypatch.setattr(Path, "is_file", denied)
    assert recent_files() == []


def test_the_window_starts_where_nobody_is_at_home() -> None:
    """Neither HOME nor a line in the list of users."""
    code = (
        "import os, pwd\n"
        "def nobody(*a): raise KeyError('nobody')\n"
        "pwd.getpwuid = pwd.getpwnam = nobody\n"
        "from yellow_slope.app.main import application\n"
        "app = application()\n"
        "from yellow_slope.app.window import Window\n"
        "window = Window(); window.show(); app.processEvents(); window.worker.end()\n"
        "window.place.fileactions.open_path('~/a.csv'); print(window.first.trouble.text())\n"
    )
    env = {k: v for k, v in os.environ.items() if k not in ("HOME", "XDG_STATE_HOME", "COV_CORE_SOURCE")}
    done = subprocess.run(
        [sys.executable, "-c", code], env={**env, "QT_QPA_PLATFORM": "offscreen"}, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stderr
    assert "no such user" in done.stdout


@pytest.mark.parametrize("text", ["~nob", "~nobody_of_this_name/a", "~", "~/", "/", "//", "a\0b", "x" * 5000, "/root/"])
def test_whatever_is_typed_at_first_sight_is_no_trouble(hands: Hands, text: str) -> None:
    hands.window.first.path.setText(text)
    hands.app.processEvents()
    hands.window.first.path.textEdited.emit(text)
    hands.app.processEvents()
    hands.place.fileactions.open_path(text)
    hands.settle()
    assert not hands.place.session.is_open
    assert hands.window.first.trouble.text().endswith(".")


def test_recent_files_of_strange_names_are_listed(state: Path, tmp_path: Path) -> None:
    path = tmp_path / os.fsdecode(b"caf\xe9.csv")
    path.touch()
    remember(path)
    hands = Hands()
    hands.window.grab()
    hands.close()


def test_a_study_whose_table_was_called_like_a_folder_opens_and_saves(demo_hands: Hands, tmp_path: Path) -> None:
    session = demo_hands.place.session
    assert session.is_open
    strange = replace(session.study, source=replace(session.study.source, path="/"))
    session.open(strange, tmp_path / "a.yslope")
    demo_hands.settle()
    assert demo_hands.place.fileactions.file() is None
    demo_hands.place.exports.write_figures("f.png")
    demo_hands.settle()
    assert (tmp_path / "f.png").exists()
