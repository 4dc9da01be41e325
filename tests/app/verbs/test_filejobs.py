"""File jobs: in their order, off the interface thread, given up without a trace."""

from __future__ import annotations

import math
import os
import shutil
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.support.windowdriver import Hands
from yellow_slope.app.frame.filejobline import FileJobLine
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.core.errors import FileError
from yellow_slope.demo.learners import STUDY, TABLE
from yellow_slope.files.safely.atomically import write_whole


@pytest.fixture
def worker(qtbot) -> Iterator[Worker]:  # type: ignore[no-untyped-def]
    made = Worker()
    yield made
    made.end()


class Heard:
    """What a job told."""

    def __init__(self) -> None:
        self.results: list[object] = []
        self.troubles: list[str] = []


def test_file_jobs_run_in_their_order_elsewhere(worker: Worker, qtbot) -> None:  # type: ignore[no-untyped-def]
    heard, threads = Heard(), []
    for number in range(3):

        def work(job: Job, n: int = number) -> int:
            threads.append(threading.current_thread().name)
            return n

        worker.in_order(f"job {number}", work, heard.results.append, heard.troubles.append)
    qtbot.waitUntil(lambda: not worker.open, timeout=30_000)
    assert heard.results == [0, 1, 2]
    assert set(threads) == {"files"}


def test_trouble_is_a_sentence(worker: Worker, qtbot, caplog) -> None:  # type: ignore[no-untyped-def]
    heard = Heard()

    def refused(job: Job) -> None:
        raise FileError("t.csv is empty.")

    def broken(job: Job) -> None:
        raise KeyError("x")

    worker.in_order("reading", refused, heard.results.append, heard.troubles.append)
    worker.in_order("reading", broken, heard.results.append, heard.troubles.append)
    qtbot.waitUntil(lambda: not worker.open, timeout=30_000)
    assert heard.troubles[0] == "t.csv is empty."
    assert "went wrong" in heard.troubles[1]
    assert "KeyError" in caplog.text
    assert not heard.results


def test_what_is_given_up_writes_nothing_and_tells_nothing(worker: Worker, qtbot, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    heard, begun, go = Heard(), threading.Event(), threading.Event()

    def work(job: Job) -> str:
        begun.set()
        go.wait(5)
        job.go_on()
        write_whole(tmp_path / "out.txt", b"late")
        return "written"

    worker.in_order("writing out.txt", work, heard.results.append, heard.troubles.append)
    worker.in_order("after it", lambda job: "after", heard.results.append, heard.troubles.append)
    assert begun.wait(3)
    worker.give_up()
    go.set()
    qtbot.waitUntil(lambda: not worker.open, timeout=30_000)
    assert heard.troubles == ["Canceled: writing out.txt"]
    assert heard.results == ["after"]
    assert not (tmp_path / "out.txt").exists()


def test_a_long_job_shows_its_time_and_can_be_given_up(worker: Worker, qtbot) -> None:  # type: ignore[no-untyped-def]
    line, heard, go = FileJobLine(), Heard(), threading.Event()
    qtbot.addWidget(line)
    line.watch(worker)
    line.show()
    begun = time.monotonic()
    worker.in_order("reading big.csv", lambda job: go.wait(60), heard.results.append, heard.troubles.append)
    assert line.state.text() == "reading big.csv …"
    assert not line.give_up.isVisible()
    qtbot.waitUntil(lambda: line.give_up.isVisible(), timeout=30_000)
    seconds = line.state.text().removeprefix("reading big.csv … ").removesuffix(" s")
    assert 1 <= int(seconds) <= time.monotonic() - begun
    line.give_up.click()
    go.set()
    assert heard.troubles == ["Canceled: reading big.csv"]
    assert line.state.text() == ""


def test_the_window_stays_alive_while_a_large_table_is_read(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "large.csv"
    row = ",".join(str(k) for k in range(60))
    path.write_text(",".join(f"v{k}" for k in range(60)) + "\n" + (row + "\n") * 8000)
    hands.window.open_path(str(path))
    turns = 0
    while hands.window.worker.open:
        hands.app.processEvents()
        turns += 1
    hands.settle()
    assert turns > 20
    assert hands.place.session.study.table.n_rows == 8000


def test_a_table_beside_a_study_is_looked_for_while_the_window_goes_on(
    hands: Hands, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A share may take long to say whether it is there."""
    table, study = tmp_path / TABLE.name, tmp_path / "mine.yslope"
    shutil.copy(STUDY, study)
    asked, answer, answered = os.path.isfile, threading.Event(), list[bool]()
    answer.set()

    def slow(path: str | Path) -> bool:
        if Path(path) == table:
            answer.wait(10)
            answered.append(asked(path))
        return asked(path)

    monkeypatch.setattr(os.path, "isfile", slow)
    hands.window.open_path(str(study))
    hands.settle()
    files = hands.place.fileactions
    assert Path(files.session.study.source.path).name == table.name
    answer.clear()
    before = len(answered)
    files._beside_when = -math.inf  # it is asked anew
    assert not files.has_file()
    assert len(answered) == before, "the window waited for the answer"
    answer.set()
    hands.settle()
    assert len(answered) > before
    assert not files.has_file()
    shutil.copy(TABLE, table)
    files._beside_when = -math.inf  # two seconds later
    files.has_file()
    hands.settle()
    assert files.file() == table
