"""Errands: in their order, off the interface thread, given up without a trace."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.app.hands import Hands
from yellow_slope.app.errandline import ErrandLine
from yellow_slope.app.errands import Errand, Errands
from yellow_slope.core.errors import FileError
from yellow_slope.files.atomically import write_whole


@pytest.fixture
def errands(qtbot) -> Iterator[Errands]:  # type: ignore[no-untyped-def]
    made = Errands()
    yield made
    made.end()


class Heard:
    """What an errand told."""

    def __init__(self) -> None:
        self.results: list[object] = []
        self.troubles: list[str] = []


def test_errands_run_in_their_order_elsewhere(errands: Errands, qtbot) -> None:  # type: ignore[no-untyped-def]
    heard, threads = Heard(), []
    for number in range(3):

        def work(errand: Errand, n: int = number) -> int:
            threads.append(threading.current_thread().name)
            return n

        errands.run(f"errand {number}", work, heard.results.append, heard.troubles.append)
    qtbot.waitUntil(lambda: not errands.open, timeout=3000)
    assert heard.results == [0, 1, 2]
    assert set(threads) == {"errands"}


def test_trouble_is_a_sentence(errands: Errands, qtbot, caplog) -> None:  # type: ignore[no-untyped-def]
    heard = Heard()

    def refused(errand: Errand) -> None:
        raise FileError("t.csv is empty.")

    def broken(errand: Errand) -> None:
        raise KeyError("x")

    errands.run("reading", refused, heard.results.append, heard.troubles.append)
    errands.run("reading", broken, heard.results.append, heard.troubles.append)
    qtbot.waitUntil(lambda: not errands.open, timeout=3000)
    assert heard.troubles[0] == "t.csv is empty."
    assert "went wrong" in heard.troubles[1]
    assert "KeyError" in caplog.text
    assert not heard.results


def test_what_is_given_up_writes_nothing_and_tells_nothing(errands: Errands, qtbot, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    heard, begun, go = Heard(), threading.Event(), threading.Event()

    def work(errand: Errand) -> str:
        begun.set()
        go.wait(5)
        errand.go_on()
        write_whole(tmp_path / "out.txt", b"late")
        return "written"

    errands.run("writing out.txt", work, heard.results.append, heard.troubles.append)
    errands.run("after it", lambda errand: "after", heard.results.append, heard.troubles.append)
    assert begun.wait(3)
    errands.give_up()
    go.set()
    qtbot.waitUntil(lambda: not errands.open, timeout=3000)
    assert heard.troubles == ["Given up: writing out.txt"]
    assert heard.results == ["after"]
    assert not (tmp_path / "out.txt").exists()


def test_a_long_errand_shows_its_time_and_can_be_given_up(errands: Errands, qtbot) -> None:  # type: ignore[no-untyped-def]
    line, heard, go = ErrandLine(), Heard(), threading.Event()
    qtbot.addWidget(line)
    line.watch(errands)
    line.show()
    errands.run("reading big.csv", lambda errand: go.wait(10), heard.results.append, heard.troubles.append)
    assert line.state.text() == "reading big.csv …"
    assert not line.give_up.isVisible()
    qtbot.waitUntil(lambda: line.give_up.isVisible(), timeout=4000)
    assert line.state.text() == "reading big.csv … 1 s"
    line.give_up.click()
    go.set()
    assert heard.troubles == ["Given up: reading big.csv"]
    assert line.state.text() == ""


def test_the_window_stays_alive_while_a_large_table_is_read(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "large.csv"
    row = ",".join(str(k) for k in range(60))
    path.write_text(",".join(f"v{k}" for k in range(60)) + "\n" + (row + "\n") * 8000)
    hands.window.open_path(str(path))
    turns = 0
    while hands.window.errands.open:
        hands.app.processEvents()
        turns += 1
    hands.settle()
    assert turns > 20
    assert hands.window.session.study is not None
    assert hands.window.session.study.table.n_rows == 8000
