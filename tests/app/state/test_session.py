"""The session without any toolkit: edits, undo, newest evaluation wins."""

from __future__ import annotations

import threading
from collections.abc import Callable

import pytest
from pytestqt.qtbot import QtBot

from tests.support.worlds import noise_world, study_of, term
from yellow_slope.app.state.desk import Cell
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.view import View, view_of
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.core.study.edits.blocks import enter, take_out
from yellow_slope.core.study.edits.models import rename_study, set_level
from yellow_slope.core.study.study import Study


@pytest.fixture
def session() -> StudySession:
    made = StudySession()
    made.open(study_of(noise_world(61), "y", "x, w; x*w"))
    return made


def test_undo_and_redo_walk_through_the_same_values(session: StudySession) -> None:
    first = session.study
    session.edit("take out w", lambda s: take_out(s, [term("w")]))
    second = session.study
    session.edit("rename", lambda s: rename_study(s, "other"))
    assert session.undo_name == "rename"
    session.undo()
    assert session.study is second
    session.undo()
    assert session.study is first
    assert session.is_saved
    session.redo()
    session.redo()
    assert session.is_open
    assert session.study.name == "other"
    session.undo()
    session.edit("again", lambda s: rename_study(s, "third"))
    assert not session.redo_name


def test_a_refused_edit_is_said_and_changes_nothing(session: StudySession) -> None:
    before = session.study
    assert not session.edit("enter y", lambda s: enter(s, [term("y")]))
    assert session.study is before
    assert "is the outcome" in session.message
    assert not session.undo_name


def test_an_older_evaluation_is_worthless() -> None:
    submitted: list[tuple[Study, int]] = []
    session = StudySession(lambda study, serial: submitted.append((study, serial)))
    session.open(study_of(noise_world(62), "y", "x"))
    session.edit("enter w", lambda s: enter(s, [term("w")], 0))
    old, new = (view_of(study) for study, _ in submitted)
    assert isinstance(old, View)
    assert isinstance(new, View)
    session.arrive(submitted[1][1], new)
    session.arrive(submitted[0][1], old)
    assert session.view is new
    assert session.is_settled


def test_evaluation_is_given_up_as_soon_as_it_is_worthless() -> None:
    assert view_of(study_of(noise_world(63), "y", "x"), None, lambda: True) is None


def test_what_no_longer_exists_leaves_the_desk(session: StudySession) -> None:
    session.look(cell=Cell(1, term("x*w"), 2), open_step=1, beside=(term("x*w"),))
    session.edit("take out", lambda s: take_out(s, [term("x*w")]))
    assert session.desk.cell is None
    assert session.desk.open_step is None
    assert session.desk.beside == ()


def test_probing_is_done_once_per_result(session: StudySession) -> None:
    assert session.probed() is session.probed()
    first = session.probed()
    session.edit("level", lambda s: set_level(s, 0.9))
    assert session.probed() is not first


def session_on(worker: Worker, view: Callable[[Study], View | None]) -> StudySession:
    """A session whose studies are evaluated by a worker."""
    session = StudySession()

    def submit(study: Study, serial: int) -> None:
        worker.newest(
            Lane.EVALUATION, lambda job: view(study), lambda found: session.arrive(serial, found), session.say
        )

    session._submit = submit
    return session


def test_the_worker_evaluates_the_newest_and_drops_the_rest(qtbot) -> None:  # type: ignore[no-untyped-def]
    started, go = threading.Event(), threading.Event()
    seen: list[str] = []

    def slow(study: Study) -> View | None:
        seen.append(study.name)
        started.set()
        go.wait(5)
        return view_of(study)

    worker = Worker()
    session = session_on(worker, slow)
    try:
        study = study_of(noise_world(64), "y", "x")
        session.open(rename_study(study, "first"))
        assert started.wait(5)
        for name in ("second", "third", "fourth"):
            session.edit(name, lambda s, n=name: rename_study(s, n))  # type: ignore[misc]
        go.set()
        qtbot.waitUntil(lambda: session.is_settled, timeout=30_000)
        assert seen == ["first", "fourth"]
        assert session.view is not None
        assert session.view.study.name == "fourth"
    finally:
        worker.end()


def test_a_mistake_in_the_program_is_said_and_costs_nothing(qtbot, caplog) -> None:  # type: ignore[no-untyped-def]
    broken = [True]

    def sometimes(study: Study) -> View | None:
        if broken[0]:
            raise ZeroDivisionError("a mistake")
        return view_of(study)

    worker = Worker()
    session = session_on(worker, sometimes)
    try:
        study = study_of(noise_world(65), "y", "x")
        session.open(study)
        qtbot.waitUntil(lambda: "went wrong" in session.message, timeout=30_000)
        assert session.study is study
        assert "ZeroDivisionError" in caplog.text
        broken[0] = False
        session.edit("try again", lambda s: rename_study(s, "again"))
        qtbot.waitUntil(lambda: session.is_settled, timeout=30_000)
    finally:
        worker.end()


def test_an_ended_worker_delivers_nothing(qtbot) -> None:  # type: ignore[no-untyped-def]
    """Closing the window while something is computed leaves no error behind."""
    started, go = threading.Event(), threading.Event()
    heard: list[object] = []

    def work(job: Job) -> int:
        started.set()
        go.wait(5)
        return 1

    worker = Worker()
    worker.newest(Lane.EVALUATION, work, heard.append)
    assert started.wait(5)
    threading.Timer(0.1, go.set).start()
    worker.end()
    qtbot.wait(20)
    assert heard == []


@pytest.mark.parametrize("error", [IndexError("no such row"), ArithmeticError("odd"), SystemExit(3)])
@pytest.mark.parametrize("part", ["probe_fit", "told_flags", "evaluate"])
def test_a_part_that_fails_by_a_mistake_leaves_the_others(
    monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture, part: str, error: BaseException
) -> None:
    """Whatever it is that a part raises: it is logged and said, and what else there is to see is there."""
    study = study_of(noise_world(61), "y", "x, w; x*w")

    def fails(*_given: object) -> None:
        raise error

    monkeypatch.setattr(f"yellow_slope.app.state.view.{part}", fails)
    if isinstance(error, SystemExit):
        with pytest.raises(SystemExit):  # what ends a program is the worker's to catch
            view_of(study)
        return
    view = view_of(study)
    assert view is not None
    assert str(error) in caplog.text
    if part == "evaluate":
        assert "went wrong" in view.evaluation.problem
    else:
        assert view.fit is not None
        assert ("went wrong" in view.refusal) is (part == "probe_fit")


def test_a_job_that_ends_by_anything_is_said_and_the_lane_goes_on(qtbot: QtBot) -> None:
    worker, said, done = Worker(), list[str](), list[int]()
    worker.went_wrong.connect(said.append)

    def fails(_job: Job) -> None:
        raise SystemExit(3)

    worker.newest(Lane.ROSTER, fails, done.append)
    qtbot.waitUntil(lambda: worker.is_idle, timeout=30_000)
    worker.newest(Lane.ROSTER, lambda job: 7, done.append)
    qtbot.waitUntil(lambda: worker.is_idle, timeout=30_000)
    assert done == [7]
    assert len(said) == 1
    assert "went wrong" in said[0]
    worker.end()
