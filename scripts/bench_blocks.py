"""Benchmarks of Blocks: resamples, how often their intervals hold the truth, and a model of a hundred levels in the
window."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np
from benchtools import cases, say, turns, typical

from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.resampling import resampled
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.standarderrors import Bootstrap, Classical, Errors, IntervalWay
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term

SAMPLES = turns(1000)
TRUE = 0.4


def _study(columns: dict[str, FloatArray], *terms: tuple[str, ...]) -> Study:
    table = Table(tuple(number_column(name, values) for name, values in columns.items()))
    study = set_outcome(new_study(table), "y")
    return set_blocks(study, [Block(tuple(Term(names) for names in terms))])


def resampling() -> None:
    """5,000 resamples of 500 x 12 to as many least-squares solutions in a loop, at the same draws."""
    rng = np.random.default_rng(21)
    n, k, draws = cases(500), 12, 5000
    x = rng.normal(size=(n, k))
    y = x[:, 0] + rng.normal(size=n)
    columns = {**{f"x{i}": x[:, i] for i in range(k)}, "y": y}
    fit = evaluate(_study(columns, *((f"x{i}",) for i in range(k)))).fit
    assert fit is not None
    errors = Bootstrap(IntervalWay.BCA, draws, 1)
    ours = typical(lambda: resampled(fit.factored, (k,), True, errors), 9)
    whole = np.column_stack([np.ones(n), x])
    part = draws // 10

    def loop() -> None:
        draw = np.random.default_rng(1)
        for _ in range(part):
            chosen = draw.integers(0, n, n)
            np.linalg.lstsq(whole[chosen], y[chosen], rcond=None)

    theirs = typical(loop, 3) * draws / part
    text = f"{1e3 * ours:.0f} ms / {1e3 * theirs:.0f} ms = 1/{theirs / ours:.0f}"
    say("5,000 resamples of 500 x 12 to a loop of least squares", text, "at most 1/20", theirs >= 20 * ours)


def _normal(rng: np.random.Generator, n: int) -> dict[str, FloatArray]:
    x, w, e = rng.normal(size=n), rng.normal(size=n), rng.normal(size=n)
    return {"x": x, "w": w, "y": 1 + 0.5 * x + 0.3 * w + TRUE * x * w + e}


def _skewed(rng: np.random.Generator, n: int) -> dict[str, FloatArray]:
    """A predictor that is exponential and errors that are log-normal, about their mean."""
    x, w, e = rng.exponential(size=n), rng.normal(size=n), rng.lognormal(0, 1, size=n) - np.exp(0.5)
    return {"x": x, "w": w, "y": 1 + 0.5 * x + 0.3 * w + TRUE * x * w + e}


def covering() -> None:
    """How often 95% intervals of a product hold the true value, on normal and on skewed data."""
    ways: dict[str, Callable[[int], Errors]] = {
        "percentile": lambda seed: Bootstrap(IntervalWay.PERCENTILE, 1000, seed),
        "BCa": lambda seed: Bootstrap(IntervalWay.BCA, 1000, seed),
        "classical": lambda seed: Classical(),
    }
    worlds: tuple[tuple[str, Callable[[np.random.Generator, int], dict[str, FloatArray]], int], ...] = (
        ("normal", _normal, 300),
        ("normal", _normal, 50),
        ("skewed", _skewed, 300),
        ("skewed", _skewed, 50),
    )
    error = (0.95 * 0.05 / SAMPLES) ** 0.5
    for name, world, n in worlds:
        rng = np.random.default_rng(22)
        hits = dict.fromkeys(ways, 0)
        for seed in range(SAMPLES):
            study = _study(world(rng, n), ("x",), ("w",), ("x", "w"))
            for way, errors in ways.items():
                fit = evaluate(set_errors(study, errors(seed))).fit
                assert isinstance(fit, Fit)
                hits[way] += bool(fit.last.low[3] <= TRUE <= fit.last.high[3])
        for way in ("percentile", "BCa"):
            share = hits[way] / SAMPLES
            is_aim = name == "normal" and n == 300
            aim = f"within {200 * error:.1f} of 95" if is_aim else "no aim: to be known"
            text = f"{100 * share:.1f} % (classical {100 * hits['classical'] / SAMPLES:.1f} %)"
            met = not is_aim or abs(share - 0.95) <= 2 * error
            say(f"{way} intervals hold a product, {name} data, {n} cases, {SAMPLES:,} samples", text, aim, met)


def many_products() -> None:
    """A group of 100 levels by a number in the window: until an edit is shown, and the longest pause meanwhile."""
    from PyQt6.QtCore import QEventLoop, QTimer

    from yellow_slope.app.main import application
    from yellow_slope.app.window import Window

    rng = np.random.default_rng(23)
    n, k = max(cases(5000), 200), 100
    places = np.concatenate([np.arange(k), rng.integers(0, k, n - k)])
    x = rng.normal(size=n)
    y = x + places / 50 + rng.normal(size=n)
    table = Table((number_column("x", x), text_column("g", [f"level {i:03d}" for i in places]), number_column("y", y)))
    study = set_outcome(set_kind(new_study(table), "g", Kind.GROUP), "y")
    study = set_blocks(study, [Block((Term(("x",)), Term(("g",)))), Block((Term(("x", "g")),))])
    app = application()
    window = Window()
    window.resize(1920, 1080)
    window.show()
    ticks: list[float] = []
    clock = QTimer()
    clock.setInterval(2)
    clock.timeout.connect(lambda: ticks.append(time.perf_counter()))
    clock.start()
    slowest = pauses = 0.0
    for turn in range(5):
        ticks.clear()
        begin = time.perf_counter()
        if turn == 0:
            window.place.session.open(study)
            window.place.go(Waypoint.BLOCKS)
        else:
            window.place.session.edit("treat", lambda s, c=0.5 * turn: treat(s, ["x"], _at(c)))  # type: ignore[misc]
        while not window.worker.is_idle:
            app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        window.grab()
        end = time.perf_counter()
        if turn:  # the first one loads what is loaded when needed
            slowest = max(slowest, end - begin)
            pauses = max(pauses, *np.diff([begin, *ticks, end]))
    for _ in range(30):
        begin = time.perf_counter()
        window.place.blocks.ladder.down()
        app.processEvents()
        pauses = max(pauses, time.perf_counter() - begin)
    say("100 levels by a number, until all is shown", f"{slowest:.2f} s", "at most 1 s", slowest <= 1)
    say("  the longest pause of the window meanwhile", f"{1e3 * pauses:.0f} ms", "at most 150 ms", pauses <= 0.15)
    window.place.session.let_go()
    window.close()


def _at(value: float):  # type: ignore[no-untyped-def]
    from yellow_slope.core.study.treatment import At, Treatment

    return Treatment(zero=At(value))
