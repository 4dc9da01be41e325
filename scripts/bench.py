"""Benchmarks, printed as ratios of one run: `make bench`, one part by `make bench PART=window`. They are no tests; the
aims are printed beside them, and at the end which are met.

1. The whole evaluation of 3 blocks, 30 columns, 10,000 cases, to one LAPACK QR of the same matrix: continuous columns,
and thirty five-point items with all their flags.
1b. 1,000,000 cases with 20 columns and raw products: to one numpy least-squares solution, and peak memory beyond the
table to the matrix. 2. An edit in the window until it is repainted, at that size.
3. The handle's frames per second while it is dragged.
4. The first sight to a bare window of the same toolkits, and its processor time.
5. Resamples to a loop of least squares; how often bootstrap intervals hold the truth; a model of 99 products in the
window. 6. A text of 1,000,000 x 20 numbers: time and peak memory to a data-frame reader alone; writing a study of
200,000 x 20 to writing its text, and a second save after a change of the model alone to the first.
7. What the window answers (`bench_window.py`): a dropped term, a key on the quick line, Probe's sentence, a plot,
another table. 8. Checks (`bench_checks.py`): leaving each case out, rivals, a brush over 100,000 cases.
9. Probe (`bench_probe.py`): both handles, and how often bands, regions and smallest effects are wrong by chance.
10. Figures (`bench_figures.py`): a change until it is repainted, files. 11. The report (`bench_report.py`): every
format, and the first page on screen.
"""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import tempfile
import time
import tracemalloc
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from bench_blocks import covering, many_products, resampling
from bench_checks import checks
from bench_figures import figures
from bench_large import large_tables
from bench_probe import probes
from bench_report import reports
from bench_window import windows
from benchtools import cases, say, settled, table, turns, typical

from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.flags import flags_of
from yellow_slope.core.study.edits.blocks import enter, set_blocks, set_outcome
from yellow_slope.core.study.edits.entries import set_reference, treat
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.study.treatment import CENTERED, STANDARDIZED
from yellow_slope.files.study.studyfile import write_study

if TYPE_CHECKING:
    from yellow_slope.app.window import Window

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow
from PyQt6.QtCore import QEventLoop
from scipy.linalg import qr

BARE = """
import sys
from PyQt6.QtWidgets import QApplication, QMainWindow, QLabel
from matplotlib.figure import Figure
from matplotlib.backends.backend_agg import FigureCanvasAgg
app = QApplication(sys.argv)
window = QMainWindow()
window.setCentralWidget(QLabel("bare"))
window.resize(1280, 800)
window.show()
app.processEvents()
window.grab()
import os
os._exit(0)
"""
OURS = """
from yellow_slope.app.main import application
app = application()
from yellow_slope.app.window import Window
window = Window()
window.show()
app.processEvents()
window.grab()
import os
os._exit(0)
"""


def large_study() -> Study:
    """10,000 cases and a model of 3 blocks with 30 columns: numbers, four groups, products of both kinds."""
    rng = np.random.default_rng(7)
    n = cases(10_000)
    columns = [number_column(f"x{k}", rng.normal(size=n)) for k in range(21)]
    groups = text_column("g", ["abcd"[k] for k in rng.integers(0, 4, n)])
    y = sum(c.numbers for c in columns[:4]) + rng.normal(size=n)
    study = set_outcome(new_study(Table((*columns, groups, number_column("y", y)))), "y")
    study = set_reference(study, "g", "a")
    study = treat(study, [f"x{k}" for k in range(8)], CENTERED)
    products = [Term(("x0", "g")), *(Term((f"x{k}", f"x{k + 1}")) for k in range(1, 4))]
    blocks = [
        Block(tuple(Term((f"x{k}",)) for k in range(15))),
        Block((*(Term((f"x{k}",)) for k in range(15, 21)), Term(("g",)))),
        Block(tuple(products)),
    ]
    return set_blocks(study, blocks)


def items_study() -> Study:
    """10,000 cases and thirty five-point items in three blocks."""
    rng = np.random.default_rng(8)
    n = cases(10_000)
    columns = [number_column(f"item{k:02}", rng.integers(1, 6, n).astype(float)) for k in range(30)]
    y = sum(c.numbers for c in columns[:4]) + rng.normal(size=n)
    study = set_outcome(new_study(Table((*columns, number_column("y", y)))), "y")
    blocks = [Block(tuple(Term((f"item{k:02}",)) for k in range(start, start + 10))) for start in (0, 10, 20)]
    return set_blocks(study, blocks)


def evaluation(study: Study, what: str, most: float) -> None:
    """Evaluation and flags against one QR."""
    fit = evaluate(study).fit
    assert fit is not None
    x = np.asfortranarray(fit.x)
    ours = typical(lambda: flags_of(evaluate(study)), 25)
    one_qr = typical(lambda: qr(x, mode="economic", check_finite=False), 25)
    ratio = ours / one_qr
    text = f"{1e3 * ours:.1f} ms / {1e3 * one_qr:.1f} ms = {ratio:.2f}"
    say(f"evaluation of {x.shape[0]:,} x {x.shape[1]}, {what}, to one QR", text, f"at most {most}", ratio <= most)


def million() -> None:
    """A million cases: time to one least-squares solution, memory beyond the table to the matrix."""
    rng = np.random.default_rng(9)
    n = cases(1_000_000)
    columns = [number_column(f"x{k}", rng.normal(3, 1, n)) for k in range(15)]
    y = number_column("y", columns[0].numbers + rng.normal(size=n))
    study = set_outcome(new_study(Table((*columns, y))), "y")
    singles = Block(tuple(Term((f"x{k}",)) for k in range(15)))
    study = set_blocks(study, [singles, Block(tuple(Term((f"x{k}", f"x{k + 1}")) for k in range(5)))])
    ours = typical(lambda: evaluate(study), 3)
    tracemalloc.start()
    fit = evaluate(study).fit
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert fit is not None
    x = np.column_stack([np.ones(n), fit.x])
    theirs = typical(lambda: np.linalg.lstsq(x, fit.y, rcond=None), 3)
    say(
        "1,000,000 x 20 to one least-squares solution",
        f"{ours:.2f} s / {theirs:.2f} s = {ours / theirs:.2f}",
        "at most 1.5",
        ours <= 1.5 * theirs,
    )
    share = peak / (fit.x.nbytes)
    say(
        "its peak memory beyond the table to the matrix",
        f"{peak / 1e6:.0f} MB / {fit.x.nbytes / 1e6:.0f} MB = {share:.2f}",
        "at most 1.5",
        share <= 1.5,
    )


def window_work(study: Study) -> None:
    """An edit until it is repainted, and the handle's frames."""
    from yellow_slope.app.main import application, forget
    from yellow_slope.app.window import Window

    app = application()
    window = Window()
    window.show()
    window.place.session.open(study)

    settled(window)
    window.grab()
    treatments = iter([STANDARDIZED, CENTERED] * 100)

    def edit() -> None:
        treatment = next(treatments)
        window.place.session.edit("treat", lambda s: treat(s, ["x1"], treatment))
        settled(window)

    spent = typical(edit, 25)
    say("an edit until it is repainted", f"{1e3 * spent:.0f} ms", "at most 100 ms", spent <= 0.1)

    window.place.go(Waypoint.PROBE)
    settled(window)
    window.grab()
    probed = window.place.session.probed()
    assert probed is not None
    places = iter(np.tile(np.linspace(-2, 2, 60), 4))

    def drag() -> None:
        window.place.probe.plots.put_handle(float(next(places)))
        window.place.probe.plots.repaint()
        app.processEvents()

    frame = typical(drag, 120)
    say("the handle while it is dragged", f"{1 / frame:.0f} frames a second", "30 or more", frame <= 1 / 30)
    zero_point(window)
    window.place.session.let_go()
    window.close()
    forget(window)


def zero_point(window: Window) -> None:
    """The zero point of a number while it is dragged at Prepare: the strip, and what the foot says of it."""
    from PyQt6.QtWidgets import QApplication

    from yellow_slope.app.prepare.numberstrip import NumberStrip

    window.place.session.look(variable="x1")
    window.place.go(Waypoint.PREPARE)
    settled(window)
    window.grab()
    strip = next(s for s in window.place.prepare.strips if s.name == "x1")
    assert isinstance(strip, NumberStrip)
    span = strip.span()
    places = iter(np.tile(np.linspace(span.low, span.high, 60), 4))

    def drag() -> None:
        strip.move_zero(float(next(places)))
        strip.repaint()
        window.place.foot.repaint()
        QApplication.processEvents()

    frame = typical(drag, 120)
    text = f"{1e3 * frame:.1f} ms at {strip.values.size:,} cases"
    say("the zero point while it is dragged", text, "at most 50 ms", frame <= 0.05)


def start() -> None:
    """Start of the window against a bare one, each in a fresh process."""

    def run(code: str) -> None:
        kept = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
        subprocess.run([sys.executable, "-c", code], check=True, env=kept)

    def worked() -> float:
        used = resource.getrusage(resource.RUSAGE_CHILDREN)
        return used.ru_utime + used.ru_stime

    run(OURS)  # byte code is there from now on
    before = worked()
    run(OURS)
    spent = worked() - before
    ours, bare = typical(lambda: run(OURS), 7), typical(lambda: run(BARE), 7)
    text = f"{ours:.2f} s / {bare:.2f} s = {ours / bare:.2f}"
    say("the first sight to a bare window", text, "at most 0.7", ours / bare <= 0.7)
    say("  its processor time", f"{spent:.2f} s", "at most 0.6 s", spent <= 0.6)


READ = """
import time
{before}
def peak():
    with open("/proc/self/status") as status:
        return next(int(line.split()[1]) for line in status if line.startswith("VmHWM"))
start = peak()
begin = time.perf_counter()
{work}
print(time.perf_counter() - begin, (peak() - start) / 1024)
"""


def reading() -> None:
    """A large text, each reader in a process of its own, the modules loaded before."""
    rng = np.random.default_rng(11)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.csv"
        arrow.write_csv(pa.table({f"x{k}": rng.normal(size=cases(1_000_000)).round(6) for k in range(20)}), path)
        codes = {
            "ours": (
                "from pathlib import Path\nfrom yellow_slope.files.opening import open_anything\nimport "
                "yellow_slope.files.text.delimited, yellow_slope.core.study.study",
                f"open_anything(Path({str(path)!r}))",
            ),
            "theirs": ("import pandas", f"pandas.read_csv({str(path)!r})"),
        }
        found: dict[str, tuple[float, float]] = {}
        for name, (before, work) in codes.items():
            runs = [
                subprocess.run(
                    [sys.executable, "-c", READ.format(before=before, work=work)],
                    capture_output=True,
                    text=True,
                    check=True,
                )
                for _ in range(turns(3))
            ]
            pairs = [tuple(float(part) for part in run.stdout.split()) for run in runs]
            found[name] = (min(p[0] for p in pairs), min(p[1] for p in pairs))
    (ours, our_peak), (theirs, their_peak) = found["ours"], found["theirs"]
    text = f"{ours:.2f} s / {theirs:.2f} s = {ours / theirs:.2f}"
    say("a text of 1,000,000 x 20 to a data-frame reader alone", text, "at most 1.15", ours <= 1.15 * theirs)
    text = f"{our_peak:.0f} MB / {their_peak:.0f} MB = {our_peak / their_peak:.2f}"
    say("  its peak memory", text, "at most 1.2", our_peak <= 1.2 * their_peak)


def giving_up() -> None:
    """A large text is given up while it is read in the window: how soon the next file is there, and the longest
    pause."""
    from yellow_slope.app.main import application
    from yellow_slope.app.window import Window

    rng = np.random.default_rng(12)
    app, slowest, pauses = application(), 0.0, 0.0
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.csv"
        arrow.write_csv(pa.table({f"x{k}": rng.normal(size=cases(1_000_000)).round(6) for k in range(20)}), path)
        for wait in (0.2, 0.5, 0.8):
            window = Window()
            window.show()
            window.open_path(str(path))
            begin = last = time.perf_counter()
            while last - begin < wait:
                app.processEvents()
                now = time.perf_counter()
                pauses, last = max(pauses, now - last), now
            window.worker.give_up()
            begin = time.perf_counter()
            window.place.fileactions.open_demo()
            while not window.place.session.is_open:
                app.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 5)
            slowest = max(slowest, time.perf_counter() - begin)
            window.place.session.let_go()
            window.close()
    say(
        "a text given up while it is read, until the next file is there",
        f"{slowest:.2f} s",
        "at most 1 s",
        slowest <= 1,
    )
    say("  longest pause of the window while it is read", f"{1e3 * pauses:.0f} ms", "at most 250 ms", pauses <= 0.25)


def writing() -> None:
    """A study of 200,000 x 20, and a second save after a change of the model."""
    import pandas

    rng = np.random.default_rng(12)
    columns = {f"x{k}": rng.normal(size=cases(200_000)) for k in range(20)}
    study = set_outcome(new_study(Table(tuple(number_column(n, v) for n, v in columns.items()))), "x0")
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "s.yslope"
        begin = time.perf_counter()
        pandas.DataFrame(columns).to_csv(Path(folder) / "t.csv", index=False)
        theirs = time.perf_counter() - begin
        begin = time.perf_counter()
        write_study(study, target)
        first = time.perf_counter() - begin
        begin = time.perf_counter()
        write_study(enter(study, [Term(("x1",))]), target)
        second = time.perf_counter() - begin
    text = f"{first:.2f} s / {theirs:.2f} s = {first / theirs:.2f}"
    say("a study of 200,000 x 20 to its text by a data-frame writer", text, "at most 2", first <= 2 * theirs)
    say(
        "  a second save to the first",
        f"{second:.3f} s / {first:.2f} s = {second / first:.3f}",
        "at most 0.1",
        second <= 0.1 * first,
    )


def both_evaluations() -> None:
    """Continuous columns, and items with flags."""
    evaluation(large_study(), "continuous", 1.8)
    evaluation(items_study(), "five-point items with flags", 1.9)


PARTS: dict[str, Callable[[], object]] = {
    "evaluation": both_evaluations,
    "million": million,
    "reading": reading,
    "giving-up": giving_up,
    "writing": writing,
    "edit": lambda: window_work(large_study()),
    "window": lambda: windows(large_study()),
    "large": large_tables,
    "checks": checks,
    "probe": probes,
    "figures": figures,
    "report": reports,
    "products": many_products,
    "start": start,
    "resampling": resampling,
    "covering": covering,
}


def main() -> None:
    """Run one part, or all of them, and say at the end which aims are met."""
    wanted = sys.argv[1:] or list(PARTS)
    unknown = [name for name in wanted if name not in PARTS]
    if unknown:
        sys.exit(f"There is no part “{unknown[0]}”; there are {', '.join(PARTS)}.")
    for name in wanted:
        PARTS[name]()
    table()


if __name__ == "__main__":
    main()
