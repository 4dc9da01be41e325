"""Make docs/screenshots from the demo data: one picture of each main view, at 1280 x 800 (one at 1920 x 1080).

Usage: pictures.py [FOLDER] [WIDTH HEIGHT]
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from itertools import combinations
from pathlib import Path
from typing import Any

from yellow_slope.app.state.desk import CardView, Under, Waypoint
from yellow_slope.core.data.conditiontext import typed_condition
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.probe.seen import Handle
from yellow_slope.core.stand.rivals import OneLevel
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.blocks import enter
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import keep_model, make_current
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.edits.questions import ask
from yellow_slope.core.study.edits.samples import set_aside, set_rule
from yellow_slope.core.study.figures import PAPER_GREY, FigureSize, LineKey, LineOf, LineTuning, Pattern
from yellow_slope.core.study.probe import Probe, Second
from yellow_slope.core.study.questiontext import read_questions
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import AS_IS
from yellow_slope.values import replace

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="pictures-")  # nobody's recent files stand in them
os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp(prefix="pictures-")  # nor looks of their own

from PyQt6 import QtTest
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.main import application, forget
from yellow_slope.app.state.desk import Cell
from yellow_slope.app.window import Window
from yellow_slope.demo.learners import TABLE

HANDS: Any = QtTest.QTest
"""Its type stubs take static methods for methods."""
FOLDER = Path(sys.argv[1] if len(sys.argv) > 1 else "docs/screenshots")
SIZE = (int(sys.argv[2]), int(sys.argv[3])) if len(sys.argv) > 3 else (1280, 800)


def settle(window: Window) -> None:
    """Wait until what is shown belongs to the current study."""
    app = QApplication.instance()
    assert app is not None
    end = time.monotonic() + 20
    while time.monotonic() < end:
        app.processEvents()
        if window.worker.is_idle and window.place.session.is_settled:
            for _ in range(5):  # what has arrived may make room anew, and draw again
                app.processEvents()
            if window.worker.is_idle:
                break
        time.sleep(0.005)


def sample_rules(window: Window) -> None:
    """Two rules, cases set aside, a computed column, and a third rule while it is typed."""
    session = window.place.session
    session.edit("compute", lambda s: derive(s, "short sleep", "8 - sleep"))
    rule = "practice at least 2 and coaching is none or video feedback"
    session.edit("rule", lambda s: set_rule(s, typed_condition(rule, s.variables)))
    session.edit("aside", lambda s: set_aside(s, [2, 6], "wrong boots"))
    settle(window)
    session.look(variable="short sleep")
    window.place.data.cases.field.setFocus()
    HANDS.keyClicks(window.place.data.cases.field, "site is harb")


def side_by_side(window: Window) -> None:
    """A kept model without centering beside the current one, and a further block while it is typed."""
    session = window.place.session
    names = list(session.study.model.entries) if session.study else []
    kept = session.study.current if session.study else ""
    session.edit("keep", lambda s: keep_model(s, "raw, not centered"))
    session.edit("there", lambda s: make_current(s, kept))
    numbers = [n for n in names if session.study.variable(n).kind is Kind.NUMBER]
    session.edit("raw", lambda s: treat(s, numbers, AS_IS))
    session.edit("back", lambda s: make_current(s, next(m.id for m in s.models if m.id != kept)))
    settle(window)
    session.look(cell=Cell(2, Term(("practice", "worry")), 12), compared=kept, below=Under.STEPS)
    field = window.place.blocks.quick.field
    field.setFocus()
    HANDS.keyClicks(field, "practice x returner, worry x returner, without sleep")


def three_factors(window: Window, take: Callable[[str], None]) -> None:
    """A product of three in panels and strips, and one of three numbers with its map in a wide window."""
    session = window.place.session
    before = session.study
    pictures = {"probe-three-way": ("practice", "worry", "coaching"), "probe-map": ("practice", "worry", "sleep")}
    for name, names in pictures.items():
        terms = [Term(chosen) for count in (2, 3) for chosen in combinations(names, count)]
        session.edit("product", lambda s, t=terms: enter(s, [x for x in t if x not in s.model.terms]))  # type: ignore[misc]
        second = Second(names[2])
        session.edit("probe", lambda s, p=second: put_probe(s, Probe("practice", "worry", second=p)))  # type: ignore[misc]
        session.see(handle=4.9, place=Handle(), panel=3 if names[2] == "coaching" else 0)
        if names[2] == "sleep":
            window.resize(1920, 1080)
            session.see(second=6.6)
        settle(window)
        take(name)
        while session.study is not before:
            session.undo()
    window.resize(1280, 800)
    settle(window)


def tuned_figures(window: Window, take: Callable[[str], None]) -> None:
    """A figure while a name is tuned, and in a dark window while a line is."""
    session, tuner = window.place.session, window.place.report.tuner
    before = session.study
    session.edit("probe", lambda s: put_probe(s, Probe("returner", "balance")))
    window.place.go(Waypoint.PROBE)
    settle(window)
    window.place.figuring.make()
    settle(window)
    name = next(one.part for one in tuner.session.figured.parts.located() if one.name.startswith("name “returner”"))  # type: ignore[union-attr]
    tuner.parts.choose(name)
    settle(window)
    take("figure-text")
    figure = tuner.figure
    assert figure is not None
    line = LineKey(LineOf.LEVEL, "returner", "1")
    grey = figure.in_look(PAPER_GREY).with_line(line, LineTuning(pattern=Pattern.DOTTED, width=2.5))
    tuner.tune("look", replace(grey, size=FigureSize(8.5)))
    session.look(dark=True)
    settle(window)
    tuner.parts.choose(line)
    settle(window)
    take("figure-line-dark")
    session.look(dark=False, figure=None, part=None)
    while session.study is not before:
        session.undo()
    settle(window)


def awkward(window: Window) -> None:
    """The demo's table as a survey export might look: stray cells, 99 for missing, names of 40 characters."""
    rows = [line.split(",") for line in TABLE.read_text().splitlines()]
    names = {
        "0": "no coaching at all, on their own slope",
        "1": "lessons in a group of six to eight",
        "2": "video feedback",
        "3": "one-to-one",
    }
    at, worry = rows[0].index("coaching"), rows[0].index("worry")
    rows[0][at] = "what_kind_of_coaching_was_taken_up_here"
    for i, row in enumerate(rows[1:]):
        row[at] = f'"{names.get(row[at], "")}"'
        if i % 17 == 3:
            row[worry] = "99"
        elif i % 61 == 11:
            row[worry] = "n/a?"
    folder = Path(tempfile.mkdtemp(prefix="pictures-"))
    (folder / "survey.csv").write_text("\n".join(",".join(row) for row in rows) + "\n")
    window.place.session.let_go()
    window.place.fileactions.open_path(str(folder / "survey.csv"))


def main() -> None:
    """Take all pictures."""
    application()
    FOLDER.mkdir(parents=True, exist_ok=True)
    window = Window()
    window.resize(*SIZE)
    window.show()

    def take(name: str) -> None:
        settle(window)
        window.grab().save(str(FOLDER / f"{name}.png"))

    window.place.unclosed.found = lambda recent, works: None
    take("first-sight")
    window.place.fileactions.open_demo()
    settle(window)
    session = window.place.session
    product = Term(("practice", "coaching"))
    session.look(cell=Cell(2, product, 11))
    take("blocks")
    session.look(cell=Cell(2, Term(("practice", "worry")), 12), below=Under.TRUST)
    take("blocks-trust")
    window.resize(1920, 1080)
    side_by_side(window)
    take("blocks-wide")
    window.place.blocks.quick.field.clear()
    window.resize(*SIZE)
    session.look(compared=None, below=None)
    for _ in range(4):
        session.undo()
    settle(window)
    session.look(variable="practice", beside=(Term(("practice", "worry")),))
    window.place.go(Waypoint.DATA)
    take("data")
    session.look(beside=())
    sample_rules(window)
    take("data-sample-rules")
    session.undo()
    session.undo()
    session.undo()
    window.place.go(Waypoint.DATA)
    session.look(variable="practice", cell=None)
    window.place.go(Waypoint.PREPARE)
    take("prepare")
    session.look(variable="coaching")
    questions = (
        "any coaching: the rest against none; video feedback, one-to-one against group lesson; one-to-one against "
        "video feedback"
    )
    read = read_questions(session.study.variable("coaching"), questions)
    session.edit("questions", lambda s: ask(s, "coaching", read))  # type: ignore[arg-type]
    settle(window)
    session.look(comparison=0)
    take("prepare-questions")
    session.look(card=CardView.GROUPS, comparison=None)
    take("prepare-groups")
    session.look(card=CardView.COMPARISONS, variable="practice")
    session.undo()
    window.place.go(Waypoint.CHECKS)
    worry = Term(("practice", "worry"))
    session.look(cell=Cell(session.study.model.block_of(worry), worry))
    settle(window)
    row = next(r for r in session.stand.rows if isinstance(r.rival, OneLevel))  # type: ignore[union-attr]
    session.look(rival=row.rival)
    take("checks")
    session.look(check=Check.PULL)
    settle(window)
    window.place.checks.light_all_beyond()
    take("checks-cases")
    session.look(check=Check.STAND, lit=(), rival=None)
    window.place.go(Waypoint.PROBE)
    session.see(handle=4.9)
    take("probe-number-by-number")
    session.see(handle=60.0, place=Handle())
    session.edit("probe", lambda s: put_probe(s, Probe("returner", "balance")))
    take("probe-group-by-number")
    three_factors(window, take)
    tuned_figures(window, take)
    window.place.go(Waypoint.REPORT)
    take("report")
    awkward(window)
    settle(window)
    session.look(variable="worry")
    window.place.go(Waypoint.DATA)
    take("data-strays")
    window.worker.end()
    forget(window)


if __name__ == "__main__":
    main()
