"""How fast the window answers: a dropped term, a key on the quick line, Probe's sentence, a plot, another table."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Callable
from itertools import cycle
from pathlib import Path

import numpy as np
from benchtools import cases, say, settled, turns, typical
from PyQt6.QtCore import QEventLoop, QSize, Qt
from PyQt6.QtGui import QImage, QKeyEvent, QPainter
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.main import application, forget
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.window import Window
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.study.edits.blocks import enter, set_blocks, set_outcome, take_out
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term

LINE = "x9, x10 centered; x9 x x10, x0 x g"


def opened(study: Study, waypoint: Waypoint) -> Window:
    """A window of 1280 x 800 with the study."""
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.place.session.open(study)
    window.place.go(waypoint)
    settled(window)
    window.grab()
    return window


def closed(window: Window) -> None:
    """Leave without saving."""
    window.place.session.let_go()
    window.close()
    forget(window)


def dropping(study: Study) -> None:
    """A term is dropped into the ladder and taken out again, until the newest results are painted."""
    window = opened(study, Waypoint.BLOCKS)
    term = Term(("x5", "x6"))
    edits = cycle([lambda s: enter(s, [term], 2), lambda s: take_out(s, [term])])

    def drop() -> None:
        window.place.session.edit("drop", next(edits))
        while not window.place.session.is_settled:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        QApplication.processEvents()  # what has to be painted is

    spent = typical(drop, 40)
    say("a dropped term until it is repainted, 10,000 x 30", f"{1e3 * spent:.0f} ms", "at most 40 ms", spent <= 0.04)
    closed(window)


def typing(study: Study) -> None:
    """Each key of a line: what the interface thread does before it is free again."""
    window = opened(study, Waypoint.BLOCKS)
    field = window.place.blocks.quick.field
    field.setFocus()
    spent: list[float] = []
    for _ in range(turns(3)):
        field.clear()
        settled(window)
        for letter in LINE:
            press = QKeyEvent(QKeyEvent.Type.KeyPress, 0, Qt.KeyboardModifier.NoModifier, letter)
            begin = time.perf_counter()
            QApplication.sendEvent(field, press)
            spent.append(time.perf_counter() - begin)
            settled(window)
    middle, worst = statistics.median(spent), max(spent)
    text = f"{1e3 * middle:.1f} ms, at most {1e3 * worst:.1f} ms"
    say("a key on the quick line, on the interface thread", text, "under 5 ms", middle < 0.005)
    field.clear()
    closed(window)


def probing(study: Study) -> None:
    """Probe's sentence is changed: focal predictor and moderator change places, until both plots are painted."""
    window = opened(study, Waypoint.PROBE)

    def turn() -> None:
        window.place.probe.swap_roles()
        settled(window)

    spent = typical(turn, 20)
    text = f"{1e3 * spent:.0f} ms"
    say("Probe's sentence changed until it is repainted, 10,000 x 30", text, "at most 80 ms", spent <= 0.08)
    closed(window)


def thousand() -> Study:
    """1,000 cases, and a product of two numbers."""
    rng = np.random.default_rng(13)
    x, w = rng.normal(size=cases(1000)), rng.normal(size=cases(1000))
    y = x + 0.3 * x * w + rng.normal(size=x.size)
    study = new_study(Table(tuple(number_column(name, values) for name, values in (("x", x), ("w", w), ("y", y)))))
    singles, product = Block((Term(("x",)), Term(("w",)))), Block((Term(("x", "w")),))
    return set_blocks(set_outcome(study, "y"), [singles, product])


def plotting(study: Study) -> None:
    """Both plots of Probe at 1,000 cases, laid out and painted, each by itself."""
    from yellow_slope.app.figures.drawn import screen_look
    from yellow_slope.app.figures.painter import paint
    from yellow_slope.plots.effect import effect
    from yellow_slope.plots.interaction import interaction
    from yellow_slope.plots.marks import Box, Plot, page_of

    window = opened(study, Waypoint.PROBE)
    sight = window.place.session.sight()
    assert sight is not None
    image = QImage(QSize(560, 400), QImage.Format.Format_RGB32)
    look, room = screen_look(), Box(0.0, 0.0, 560.0, 400.0)
    plots: dict[str, Callable[[], Plot]] = {
        "the interaction plot": lambda: interaction(study, sight, look, room),
        "the plot of the effect": lambda: effect(study, sight, look, room),
    }
    for name, made in plots.items():

        def draw(made: Callable[[], Plot] = made) -> None:
            painter = QPainter(image)
            paint(painter, page_of(560.0, 400.0, (made(),)))
            painter.end()

        spent = typical(draw, 30)
        text = f"{1e3 * spent:.1f} ms"
        say(f"{name}, laid out and painted, 1,000 cases", text, "at most 5 ms", spent <= 0.005)
    closed(window)


def reading_again() -> None:
    """A table of 200,000 x 20 is read again: how long the window does not answer."""
    rng = np.random.default_rng(31)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "table.csv"
        rows = rng.normal(size=(cases(200_000), 20)).round(4)
        head = ",".join([*(f"x{k}" for k in range(20)), "word"])
        words = np.array(["early", "late", "never"])[rng.integers(0, 3, cases(200_000))]
        lines = [",".join([*map(str, row), word]) for row, word in zip(rows, words)]
        path.write_text("\n".join([head, *lines]) + "\n")
        window = Window()
        window.show()
        window.open_path(str(path))
        while not window.place.session.is_open:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 5)
        settled(window)
        path.write_text("\n".join([head, *lines[1:]]) + "\n")
        window.place.fileactions.read_newly()
        pauses, last = 0.0, time.perf_counter()
        while not window.worker.is_idle:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 5)
            now = time.perf_counter()
            pauses, last = max(pauses, now - last), now
        closed(window)
    text = f"{1e3 * pauses:.0f} ms"
    say("a table of 200,000 x 21 read again, longest pause of the window", text, "at most 100 ms", pauses <= 0.1)


def windows(study: Study) -> None:
    """All of them. study: 10,000 x 30."""
    application()
    dropping(study)
    typing(study)
    probing(study)
    plotting(thousand())
    reading_again()
