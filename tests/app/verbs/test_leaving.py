"""Leaving a study: only after it was saved, or with a word; whatever goes wrong, the work is still there."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.support.windowdriver import Hands
from yellow_slope.core.errors import FileError
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.files.study import studyfile


@pytest.fixture
def changed(demo_hands: Hands) -> Hands:
    """The demo with an edit that is not saved."""
    demo_hands.place.session.edit("rename", lambda s: rename_study(s, "Evening"))
    demo_hands.settle()
    return demo_hands


def failing(error: BaseException) -> Callable[..., None]:
    def write(*_: object) -> None:
        raise error

    return write


@pytest.mark.parametrize(
    "error", [FileError("the disk is full."), OSError(5, "broken"), MemoryError(), ValueError("x")]
)
def test_a_save_that_fails_keeps_the_window_open(
    changed: Hands, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, error: BaseException
) -> None:
    window = changed.window
    monkeypatch.setattr(studyfile, "write_study", failing(error))
    window.place.dialogs.save_path = lambda *_: tmp_path / "a.yslope"  # type: ignore[method-assign]
    asked = changed.answering("Save", "Save", "Stay")
    assert not window.close()
    assert window.isVisible()
    assert len(asked) == 3
    assert "is not saved" in asked[1]
    assert not window.place.session.is_saved
    assert window.place.session.study.name == "Evening"


def test_a_save_that_fails_can_go_elsewhere(changed: Hands, tmp_path: Path) -> None:
    window = changed.window
    protected = tmp_path / "a.yslope"
    protected.write_bytes(b"mine")
    protected.chmod(0o444)
    places = [protected, tmp_path / "b.yslope"]
    window.place.dialogs.save_path = lambda *_: places.pop(0)  # type: ignore[method-assign]
    asked = changed.answering("Save", "Save")
    assert window.place.saving.may_leave()
    assert "protected against writing" in asked[1]
    assert protected.read_bytes() == b"mine"
    assert studyfile.unpacked((tmp_path / "b.yslope").read_bytes(), "b").name == "Evening"
    assert window.place.session.is_saved


def test_saving_that_fails_offers_another_place(changed: Hands, tmp_path: Path) -> None:
    window = changed.window
    (tmp_path / "a.yslope").mkdir()
    places = [tmp_path / "a.yslope", tmp_path / "b.yslope"]
    window.place.dialogs.save_path = lambda *_: places.pop(0)  # type: ignore[method-assign]
    asked = changed.answering("Save elsewhere")
    window.place.saving.save_as()
    changed.settle()
    assert "not a regular file" in asked[0]
    assert window.place.session.path == tmp_path / "b.yslope"
    assert window.place.session.message == f"Saved: {tmp_path}/b.yslope"


def test_a_name_that_is_no_text_is_saved_and_said(changed: Hands, tmp_path: Path) -> None:
    window = changed.window
    path = tmp_path / os.fsdecode(b"caf\xe9.yslope")
    window.place.dialogs.save_path = lambda *_: path  # type: ignore[method-assign]
    window.place.saving.save_as()
    changed.settle()
    assert window.place.session.message == f"Saved: {tmp_path}/caf\ufffd.yslope"
    assert window.place.session.path == path
    window.grab()
    window.place.saving.save()
    changed.settle()
    assert window.place.session.is_saved


def test_what_came_back_to_what_it_was_is_no_change(changed: Hands, tmp_path: Path) -> None:
    """Nothing would be lost, so nothing is asked, whatever was done meanwhile."""
    session = changed.place.session
    name = session.history.past[0][1].name
    session.edit("rename", lambda s: rename_study(s, name))
    assert session.undo_name
    asked = changed.answering()
    assert session.is_saved
    assert changed.place.saving.may_leave()
    assert asked == []
