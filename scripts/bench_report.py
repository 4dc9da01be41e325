"""The report: the demo in each format; the first page on screen after an edit at 1,000 cases, at a million, with 40
variables and with 100 groups."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
from bench_probe import study_of
from bench_window import closed, opened
from benchtools import cases, say, typical
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.blocks import set_blocks
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.models import set_level
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.demo.learners import STUDY
from yellow_slope.files.opening import open_anything
from yellow_slope.report.formats import Format, ReportFile
from yellow_slope.report.parts import build_report


def reports() -> None:
    """All of them."""
    application = QApplication.instance() or QApplication([])
    demo = open_anything(STUDY)
    for kind in Format:
        file = ReportFile(Path(f"report{kind.value}"))

        def whole(file: ReportFile = file) -> None:
            file.contents(build_report(evaluate(demo)))

        whole()
        took, aim = typical(whole, 3), 0.5 if kind is Format.HTML else 1.5
        say(f"the demo's report as {kind.value}", f"{took:.2f} s", f"{aim:g} s", took <= aim)
    first_pages()
    del application


def first_pages() -> None:
    """The first page on screen after an edit, and the window's longest pause while the pages come."""
    rng = np.random.default_rng(6)
    for n, more, groups, aim in (
        (cases(1_000), 2, 4, 0.3),
        (cases(1_000_000), 16, 4, 3.0),
        (cases(2_000), 40, 4, 1.0),
        (max(cases(5_000), 400), 2, 100, 1.0),
    ):
        columns: dict[str, np.ndarray | list[str]] = {f"v{k}": rng.normal(size=n) for k in range(more)}
        x, w = (rng.normal(size=n) for _ in range(2))
        names = [f"group {i:03d}" for i in range(groups)]
        g = [names[i] for i in rng.integers(0, groups, n)]
        y = x + 0.4 * x * w + rng.normal(size=n)
        table = {**columns, "x": x, "w": w, "g": g, "y": y}
        terms = (*columns, "x", "w", "x*w")
        study = set_kind(study_of(table, terms), "g", Kind.GROUP)
        more_terms = (Term(("g",)), Term(("x", "g"))) if groups <= 4 else (Term(("g",)),)
        study = set_blocks(study, [Block((*study.model.blocks[0].terms, *more_terms))])
        first, whole, pause = pages_of(study)
        what = f"{n:,} cases, {more + 3} variables, {groups} groups"
        say(f"first page of the report after an edit: {what}", f"{first:.2f} s", f"{aim:g} s", first <= aim)
        print(f"    all pages after {whole:.2f} s; the window's longest pause {1000 * pause:.0f} ms")


def pages_of(study: Study) -> tuple[float, float, float]:
    """Seconds until the first page is there, until all are, and the longest pause of the window."""
    window = opened(study, Waypoint.REPORT)
    begin = time.perf_counter()
    while not window.place.report.is_current and time.perf_counter() - begin < 60:
        QApplication.processEvents()
    begin, first, pause = time.perf_counter(), 0.0, 0.0
    window.place.session.edit("level", lambda s: set_level(s, 0.9))
    while time.perf_counter() - begin < 60:
        at = time.perf_counter()
        QApplication.processEvents()
        pause = max(pause, time.perf_counter() - at)
        if not first and "90% CI" in window.place.report.page.toPlainText():
            first = time.perf_counter() - begin
        if first and window.place.report.is_current:
            break
        time.sleep(0.001)
    whole = time.perf_counter() - begin
    closed(window)
    return first, whole, pause


if __name__ == "__main__":
    reports()
