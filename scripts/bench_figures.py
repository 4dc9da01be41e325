"""Figures: a change on the figure until it is repainted, with 1,000 cases; files of every kind."""

from __future__ import annotations

import math
import statistics
import time
from itertools import cycle
from pathlib import Path
from unittest.mock import patch

import numpy as np
from bench_probe import study_of
from bench_window import closed, opened
from benchtools import cases, say, settled, typical
from PyQt6.QtCore import QEventLoop
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.main import application
from yellow_slope.app.report.canvas import FigureCanvas
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.figured.subjects import subject_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.figures import add_figure
from yellow_slope.core.study.figures import AxisKey, AxisTuning, Figure, FigureSize, Pane, ShowsProbe
from yellow_slope.report.figures import FigureFile, drawn_figure
from yellow_slope.values import replace

TUNED = 40


class Painted:
    """When a canvas was painted last, and where the upright axis of its first plot begins."""

    def __init__(self, canvas: FigureCanvas) -> None:
        self.at, self.low = 0.0, math.nan
        paint = FigureCanvas.paintEvent

        def painting(of: FigureCanvas, event: QPaintEvent | None) -> None:
            paint(of, event)
            if of is canvas and canvas.drawn is not None:
                self.at, self.low = time.perf_counter(), canvas.drawn.page.frames[0].y[0]

        patch.object(FigureCanvas, "paintEvent", painting).start()


def figures() -> None:
    """All of them."""
    application()
    rng = np.random.default_rng(5)
    n = cases(1000)
    x, w = (rng.normal(size=n) for _ in range(2))
    g = ["abcd"[i] for i in rng.integers(0, 4, n)]
    y = x + 0.4 * x * w + rng.normal(size=n)
    study = study_of({"x": x, "w": w, "g": g, "y": y}, ("x", "w", "g", "x*w", "x*g"))
    figure = Figure("slopes", ShowsProbe("x", "w"), size=FigureSize(17.5))
    study = add_figure(study, figure)
    window = opened(study, Waypoint.PROBE)
    window.place.figuring.tune("slopes")
    tuner = window.place.report.tuner
    wait = time.perf_counter() + 20
    while not tuner.is_current and time.perf_counter() < wait:
        QApplication.processEvents()
    window.grab()
    painted = Painted(tuner.canvas)
    axis, spent = AxisKey(Pane.LINES, True), []
    for low in (v for _, v in zip(range(TUNED), cycle([-6.0, -7.0]))):
        begin = time.perf_counter()
        tuner.tune("axis", figure.with_axis(axis, AxisTuning(low=low)))
        while painted.low != low:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        spent.append(painted.at - begin)
        settled(window)
    took = statistics.median(spent)
    say("a change on a figure of 1,000 cases until it is repainted", f"{1000 * took:.0f} ms", "30 ms", took <= 0.03)
    closed(window)
    evaluation = evaluate(study)
    made = drawn_figure(figure, subject_of(evaluation, figure.shows), numbers=True)
    for kind, aim in (("png", 0.5), ("svg", 0.3), ("pdf", 0.6), ("tiff", 0.8), ("csv", 0.1)):
        file = FigureFile(Path(f"slopes.{kind}"), 300)
        took = typical(lambda file=file: file.content(made), 3)  # type: ignore[misc]
        say(f"  the figure as {kind}", f"{took:.2f} s", f"{aim} s", took <= aim)
    panels = replace(figure, shows=ShowsProbe("x", "w"))
    took = typical(lambda: drawn_figure(panels, subject_of(evaluation, panels.shows)), 3)
    say("  the figure laid out anew, with its probe", f"{1000 * took:.0f} ms", "40 ms", took <= 0.04)
