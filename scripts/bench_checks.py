"""Benchmarks of Checks: leaving each case out, the rivals of a product, a brush over very many cases."""

from __future__ import annotations

import time

import numpy as np
from benchtools import cases, say, typical
from PyQt6.QtCore import QEventLoop, QRectF

from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.fit.asked.leftout import left_out_range
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.stand.standing import ProductAsked, stand_of
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term

PRODUCT = Term(("x0", "x1"))


def numbers(n: int, k: int) -> Study:
    """A study of k columns, the last of them a product, over n cases."""
    rng = np.random.default_rng(17)
    columns = {f"x{i}": rng.normal(5, 2, n) for i in range(k - 1)}
    columns["y"] = np.exp(sum(columns[f"x{i}"] for i in range(3)) / 20 + rng.normal(size=n) / 3)
    study = set_outcome(new_study(Table(tuple(number_column(name, v) for name, v in columns.items()))), "y")
    singles = tuple(Term((f"x{i}",)) for i in range(k - 1))
    return set_blocks(study, [Block(singles), Block((PRODUCT,))])


def fit_of(study: Study) -> Fit:
    """The study's fit."""
    found = evaluate(study).fit
    assert found is not None
    return found


def left_out() -> None:
    """All figures of leaving each case out, to one evaluation."""
    study = numbers(cases(10_000), 30)
    fit = fit_of(study)
    whole = typical(lambda: evaluate(study), 7)
    each = typical(lambda: left_out_range(fit, 1, [29], 0.95), 7)
    text = f"{1e3 * each:.1f} ms / {1e3 * whole:.1f} ms = {each / whole:.2f}"
    say("leaving each of 10,000 cases x 30 columns out to one evaluation", text, "at most 1.5", each <= 1.5 * whole)


def rivals() -> None:
    """All rivals but the resampled one."""
    study = numbers(cases(1000), 12)
    fit = fit_of(study)
    taken = typical(lambda: stand_of(study, fit, 1, ProductAsked(PRODUCT)), 5)
    say("all rivals but the resampled of 1,000 cases x 12 columns", f"{taken:.3f} s", "at most 0.3 s", taken <= 0.3)


def brushing() -> None:
    """A brush over 100,000 cases until all plots are repainted."""
    from yellow_slope.app.main import application
    from yellow_slope.app.window import Window

    app = application()
    window = Window()
    window.show()

    def settle() -> None:
        while not (window.place.session.is_settled and window.worker.is_idle):
            app.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)
            time.sleep(0.005)
        app.processEvents()

    window.place.session.open(numbers(cases(100_000), 6))
    settle()
    window.place.go(Waypoint.CHECKS)
    window.place.session.look(check=Check.SPREAD)
    settle()
    large = window.place.checks.large
    assert large.placed is not None
    assert large.placed.points is not None
    x, y = np.nanmedian(large.placed.points, axis=0)
    large.brushed.emit(large.within(QRectF(x, y, 50.0, 50.0)), False)  # the table of lit cases takes its room
    settle()
    x, y = np.nanmedian(large.placed.points, axis=0)
    slowest = 0.0
    for reach in (10.0, 40.0, 90.0):
        begin = time.perf_counter()
        large.brushed.emit(large.within(QRectF(x - reach, y - reach, 2 * reach, 2 * reach)), False)
        for plot in (large, *window.place.checks.small.values()):
            plot.repaint()
        slowest = max(slowest, time.perf_counter() - begin)
        settle()
    text = f"{1e3 * slowest:.0f} ms, {len(window.place.session.desk.lit):,} cases lit at last"
    say("a brush over 100,000 cases until repainted", text, "at most 50 ms", slowest <= 0.05)
    window.place.session.let_go()
    window.close()


def checks() -> None:
    """All of them."""
    left_out()
    rivals()
    brushing()


if __name__ == "__main__":
    checks()
