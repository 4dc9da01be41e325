"""Nothing that was done is lost: what a window left behind is offered, and nobody's file is written over."""

from __future__ import annotations

import errno
import logging
import os
import shutil
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QPlainTextEdit, QPushButton

from tests.support.windowdriver import Hands
from yellow_slope.app.frame.firstsight import UnclosedRow
from yellow_slope.app.main import report_bugs
from yellow_slope.app.state.keeper import PAUSE
from yellow_slope.app.verbs.saving import beside
from yellow_slope.app.widgets.logdialog import LogDialog
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.demo.learners import STUDY
from yellow_slope.files.journal.places import journal_folder
from yellow_slope.files.opening import open_anything
from yellow_slope.files.safely.logfile import begin_log, log_file, log_text, told
from yellow_slope.files.study.studyfile import unpacked, write_study


@pytest.fixture
def path(tmp_path: Path) -> Path:
    """A study file of one's own."""
    path = tmp_path / "mine.yslope"
    shutil.copy(STUDY, path)
    path.chmod(0o644)
    return path


def opened(hands: Hands, path: Path) -> Hands:
    hands.window.open_path(str(path))
    hands.settle()
    return hands


def renamed(hands: Hands, name: str) -> None:
    hands.place.session.edit(f"name {name}", lambda s: rename_study(s, name))
    hands.settle()


def written(hands: Hands) -> None:
    """Wait until the journal has it."""
    end, waits = time.monotonic() + PAUSE / 1000 + 0.05, hands.place.keeper._timer
    while time.monotonic() < end or waits.isActive():
        hands.app.processEvents()
    hands.settle()


def killed(hands: Hands) -> None:
    """The window is no more; nobody has closed it."""
    written(hands)
    journal = hands.place.keeper.journal
    assert journal is not None
    os.close(journal._handle)
    journal._handle, journal.file = -1, None
    hands.close()


@pytest.fixture
def again() -> Iterator[list[Hands]]:
    """Further windows, closed at the end."""
    made: list[Hands] = []
    yield made
    for hands in made:
        hands.close()


def test_first_sight_offers_what_was_left(path: Path, again: list[Hands]) -> None:
    hands = opened(Hands(), path)
    renamed(hands, "Morning")
    renamed(hands, "Evening")
    killed(hands)
    again.append(Hands())
    (row,) = again[0].window.first.findChildren(UnclosedRow)
    take_up, _ = row.findChildren(QPushButton)
    assert "Evening" in take_up.text()
    again[0].clicks(take_up)
    session = again[0].window.place.session
    assert session.is_open
    assert session.study.name == "Evening"
    assert not session.is_saved
    again[0].press("ctrl+z")
    assert session.study.name == "Morning"
    again[0].press("ctrl+shift+z")
    again[0].press("ctrl+s")
    assert session.message == f"Saved: {path}"
    assert unpacked(path.read_bytes(), "x").name == "Evening"
    written(again[0])
    assert len(list(journal_folder().iterdir())) == 1  # the one of this window: the other was replaced


def test_what_was_left_can_be_thrown_away(path: Path, again: list[Hands]) -> None:
    hands = opened(Hands(), path)
    renamed(hands, "Evening")
    killed(hands)
    again.append(Hands())
    (row,) = again[0].window.first.findChildren(UnclosedRow)
    throw_away = row.findChildren(QPushButton)[1]
    asked = again[0].answering("Keep it")
    again[0].clicks(throw_away)
    assert "1 edit up to" in asked[0]
    assert list(journal_folder().iterdir())
    again[0].answering("Discard it")
    again[0].clicks(throw_away)
    assert not list(journal_folder().iterdir())
    again[0].app.processEvents()
    assert not [row for row in again[0].window.first.findChildren(UnclosedRow) if row.isVisible()]


@pytest.mark.parametrize(("answer", "name"), [("Recover it", "Evening"), ("Open the saved file", "")])
def test_opening_the_file_asks(path: Path, again: list[Hands], answer: str, name: str) -> None:
    hands = opened(Hands(), path)
    renamed(hands, "Evening")
    killed(hands)
    again.append(Hands())
    asked = again[0].answering(answer)
    opened(again[0], path)
    assert "1 edit up to" in asked[0]
    session = again[0].window.place.session
    assert session.is_open
    assert session.study.name == (name or open_anything(path).name)


def test_a_window_that_is_closed_leaves_nothing(path: Path) -> None:
    hands = opened(Hands(), path)
    renamed(hands, "Evening")
    written(hands)
    assert len(list(journal_folder().iterdir())) == 1
    hands.close()
    assert not list(journal_folder().iterdir())


def test_a_table_that_is_gone_is_asked_for(tmp_path: Path, again: list[Hands]) -> None:
    table = tmp_path / "crews.csv"
    table.write_text("score,hours\n1,2\n2,4\n3,5\n")
    hands = opened(Hands(), table)
    renamed(hands, "Evening")
    killed(hands)
    table.rename(tmp_path / "elsewhere.csv")
    again.append(Hands())
    window = again[0].window
    window.place.dialogs.open_path = lambda *_: tmp_path / "elsewhere.csv"  # type: ignore[method-assign]
    asked = again[0].answering("Show where its table is")
    again[0].clicks(window.first.findChildren(UnclosedRow)[0].findChildren(QPushButton)[0])
    again[0].settle()
    assert "was not found" in asked[0]
    assert window.place.session.study.name == "Evening"


def test_a_journal_that_cannot_be_written_is_said(hands: Hands, path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    said: list[str] = []
    monkeypatch.setattr(hands.place.session, "say", said.append)
    folder = journal_folder()
    folder.parent.mkdir(parents=True, exist_ok=True)
    folder.write_text("no folder")
    opened(hands, path)
    renamed(hands, "Evening")
    written(hands)
    assert any("are not protected against a crash" in text for text in said)


# ---- someone else's hands


def test_a_file_whose_folder_cannot_be_synchronized_is_saved_and_ones_own(
    hands: Hands, path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The file stands there: it is said that the system could not confirm it, and the next save asks nobody."""
    sync = os.fsync

    def fail_for_folders(handle: int) -> None:
        if os.path.isdir(f"/proc/self/fd/{handle}"):
            raise OSError(errno.EIO, os.strerror(errno.EIO))
        sync(handle)

    monkeypatch.setattr(os, "fsync", fail_for_folders)
    opened(hands, path)
    asked = hands.answering()
    for name in ("Evening", "Night"):
        renamed(hands, name)
        hands.press("ctrl+s")
        hands.settle()
        assert open_anything(path).name == name
        assert "could not confirm that it would outlast a power cut" in hands.place.session.message
        assert hands.place.session.is_saved
    assert asked == []


def test_a_file_that_changed_is_not_written_over(hands: Hands, path: Path) -> None:
    opened(hands, path)
    renamed(hands, "Evening")
    write_study(rename_study(open_anything(path), "Somebody else's"), path)
    asked = hands.answering("Keep both")
    hands.press("ctrl+s")
    hands.settle()
    assert "written by somebody else" in asked[0]
    assert open_anything(path).name == "Somebody else's"
    other = path.with_name("mine 2.yslope")
    assert open_anything(other).name == "Evening"
    assert hands.place.session.path == other
    renamed(hands, "Night")
    hands.press("ctrl+s")
    hands.settle()  # nobody asks: it is as it was written here
    assert open_anything(other).name == "Night"
    assert beside(path).name == "mine 3.yslope"


def test_a_file_that_changed_is_written_over_only_on_request(hands: Hands, path: Path) -> None:
    opened(hands, path)
    renamed(hands, "Evening")
    write_study(rename_study(open_anything(path), "Somebody else's"), path)
    hands.answering("Save", "Do not save", "Save", "Overwrite it")
    hands.answering("Save", "Do not save", "Stay")
    assert not hands.place.saving.may_leave()
    assert open_anything(path).name == "Somebody else's"
    hands.answering("Save", "Overwrite it")
    assert hands.place.saving.may_leave()
    assert open_anything(path).name == "Evening"


def test_a_file_that_was_moved_is_said(hands: Hands, path: Path) -> None:
    opened(hands, path)
    renamed(hands, "Evening")
    path.rename(path.with_name("moved.yslope"))
    asked = hands.answering("Save it there again")
    hands.press("ctrl+s")
    hands.settle()
    assert "moved or deleted" in asked[0]
    assert open_anything(path).name == "Evening"


def test_two_windows_on_one_study_know_of_each_other(hands: Hands, path: Path, again: list[Hands]) -> None:
    opened(hands, path)
    written(hands)
    again.append(opened(Hands(), path))
    assert "open in another window too, since" in again[0].window.place.session.message
    renamed(hands, "Morning")
    hands.place.saving.save()
    hands.settle()
    renamed(again[0], "Evening")
    asked = again[0].answering("Keep both")
    again[0].window.place.saving.save()
    again[0].settle()
    assert "by another window" in asked[0]
    assert open_anything(path).name == "Morning"
    assert open_anything(beside(path).with_name("mine 2.yslope")).name == "Evening"


def test_another_name_of_the_file_is_told_of(hands: Hands, path: Path) -> None:
    opened(hands, path)
    other = path.with_name("linked.yslope")
    os.link(path, other)
    renamed(hands, "Evening")
    hands.press("ctrl+s")
    hands.settle()
    assert "hard link" in hands.place.session.message
    assert open_anything(other).name != "Evening"


# ---- a mistake in the program


def test_a_crash_of_a_screen_leaves_the_study_alive(
    hands: Hands, path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    begin_log()
    report_bugs(hands.window)
    opened(hands, path)
    window = hands.window

    def broken() -> None:
        raise KeyError("Anna of Northfield")

    monkeypatch.setattr(window.place.prepare.list, "paintEvent", lambda event: broken())
    renamed(hands, "A name of its own")
    try:
        broken()
    except KeyError:
        sys.excepthook(*sys.exc_info())
    assert "What happened" in window.place.session.message
    hands.settle()
    assert any(b"A name of its own" in file.read_bytes() for file in journal_folder().iterdir())
    text = window.place.happened.report()
    assert "KeyError" in text
    assert "test_unclosed.py" in text
    for word in ("Anna", "A name of its own", "practice", "learners", str(tmp_path), "mine.yslope"):
        assert word not in text
    window.place.actions_table.run("WhatHappened.show")
    (dialog,) = window.findChildren(LogDialog)
    shown = dialog.findChild(QPlainTextEdit)
    assert shown is not None
    assert "KeyError" in shown.toPlainText()
    target = tmp_path / "happened.txt"
    window.place.dialogs.save_path = lambda *_: target  # type: ignore[method-assign]
    dialog.save_wanted.emit()
    hands.settle()
    assert "KeyError" in target.read_text()
    dialog.close()
    renamed(hands, "It goes on")
    assert window.place.session.study.name == "It goes on"


def test_the_log_is_bounded_and_holds_no_message(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    begin_log()
    log = logging.getLogger("yellow_slope.tests")
    for _ in range(40):
        try:
            raise ValueError("a value of the table") from OSError(2, "said", "/home/somebody/x.csv")
        except ValueError:
            for _ in range(200):
                log.exception("failed")
    files = sorted(log_file().parent.glob("log.txt*"))
    assert 2 <= len(files) <= 3
    assert sum(f.stat().st_size for f in files) <= 3 * (256 << 10)
    text = log_text()
    assert "ValueError" in text
    assert "came after" in text
    assert "a value" not in text
    assert "somebody" not in text
    assert told(ValueError("x")) == "ValueError"
