"""Random walks in the window on awkward tables: actions, keys, clicks, typed lines. No exception, no stall; undo leads
back to the start, and what is there is saved and opened again the same. `make walks FROM=0 TO=200` for more."""

from __future__ import annotations

import os
import random
from itertools import combinations
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLineEdit, QWidget

from tests.support.heartbeat import process_events, stalls, watched
from tests.support.qtest import QTest
from tests.support.seeds import few
from tests.support.walking import Walk, every_edit, start
from tests.support.windowdriver import Hands
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.data.table import Column, Table, number_column, text_column
from yellow_slope.core.quickline import write_line
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.standarderrors import Bootstrap
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.files.study.studydocument import study_document
from yellow_slope.files.study.studyfile import packed, unpacked

pytestmark = pytest.mark.no_cover  # what it runs through others run through

BEGIN, END = int(os.environ.get("WALKS_FROM", "0")), int(os.environ.get("WALKS_TO") or few(5, 8))
STEPS, STEPS_OF_SIXTY = 60, 15
LONG = 500
"""Letters that are no longer typed one by one."""
LEFT_OUT = {"Files.quit", "Files.paste", "Files.browse", "Files.open_demo", "Files.read_newly"}
"""What leaves the study for another, or reads a file that is none."""
KINDS = ["action", "action", "key", "key", "click", "click", "type", "go", "edit", "look", "size"]
KEYS = [
    Qt.Key.Key_Return,
    Qt.Key.Key_Escape,
    Qt.Key.Key_Up,
    Qt.Key.Key_Down,
    Qt.Key.Key_Left,
    Qt.Key.Key_Right,
    Qt.Key.Key_Home,
    Qt.Key.Key_End,
    Qt.Key.Key_Space,
    Qt.Key.Key_Delete,
    Qt.Key.Key_Tab,
    Qt.Key.Key_PageDown,
    Qt.Key.Key_F8,
    *(getattr(Qt.Key, f"Key_{letter}") for letter in "ABCDEFGMNOPRSTUVXZ"),
]
TYPED = [
    "",
    "3",
    "-1e300",
    "nan",
    "x",
    "<b>",
    "y = x, g; x x g",
    "group means",
    "0.9",
    "z = x + 1",
    "x more than 3",
    "((",
]


def is_huge(seed: int) -> bool:
    """Whether a walk goes through sixty predictors with all their products: none of the first eight, for time."""
    return seed >= 8 and seed % 5 == 4


def sixty(rng: np.random.Generator) -> Study:
    """Sixty numbers, their 1,770 products, and cases enough to judge them."""
    n, names = 2000, [f"p{k:02}" for k in range(60)]
    columns: list[Column] = [number_column(name, np.round(rng.normal(k, 1, n), 3)) for k, name in enumerate(names)]
    y = columns[0].numbers + columns[1].numbers * columns[2].numbers  # type: ignore[union-attr]
    columns = [number_column("y", np.round(y + rng.normal(size=n), 3)), *columns]
    study = set_outcome(new_study(Table(tuple(columns)), "Sixty"), "y")
    singles = Block(tuple(Term((name,)) for name in names))
    return set_blocks(study, [singles, Block(tuple(Term(pair) for pair in combinations(names, 2)))])


def awkward(seed: int) -> Study:
    """One of several tables: plain, wide, of few cases, of one value, of eight groups with long names; of sixty
    predictors with all their products."""
    rng = np.random.default_rng(seed)
    if is_huge(seed):
        return sixty(rng)
    if seed % 4 == 0:
        study = start(seed % 40)
        blocks = [Block((Term(("x",)), Term(("g",)))), Block((Term(("x", "g")), Term(("item",))))]
        return set_blocks(set_outcome(study, "y"), blocks)
    n = {1: 5, 2: 40, 3: 300}[seed % 4]
    long = "everything that the learners of the evening said about it"
    columns: list[Column] = [
        number_column("y", rng.normal(1e6, 1, n)),
        number_column("x", np.round(rng.normal(size=n), 2)),
        number_column(long, np.where(rng.random(n) < 0.2, np.nan, rng.normal(size=n))),
        number_column("same", np.ones(n)),
        number_column("code", rng.integers(0, 2, n).astype(float)),
        text_column("<b>crew</b>", [f"crew of the {'north ' * (k % 3)}{k % 8}" for k in range(n)]),
        number_column("copy", rng.normal(size=n)),
        *(number_column(f"item{k:02}", rng.integers(1, 6, n).astype(float)) for k in range(30 if seed % 4 == 2 else 2)),
    ]
    study = set_outcome(new_study(Table(tuple(columns)), "Awkward"), "y")
    product = Term(("x", "<b>crew</b>")) if seed % 4 == 3 else Term(("x", long))
    return set_blocks(study, [Block(tuple(Term((v,)) for v in product.variables)), Block((product,))])


class Stroll:
    """One walk in one window."""

    def __init__(self, hands: Hands, seed: int, folder: Path) -> None:
        self.hands, self.rng, self.walk, self.folder = hands, random.Random(seed), Walk(seed), folder
        self.done: list[str] = []
        self.shutter = QTimer(hands.window)  # a menu that was opened waits for an answer, within its own loop
        self.shutter.setInterval(200)
        self.shutter.timeout.connect(self._shut_popups)
        self.shutter.start()
        dialogs, rng = hands.place.dialogs, self.rng
        dialogs.text = lambda *_: rng.choice([None, *TYPED])  # type: ignore[method-assign]
        dialogs.words = lambda *_: rng.choice([None, *TYPED, "{n} of them, {b a x b}"])  # type: ignore[method-assign]
        dialogs.number = lambda *_: rng.choice([None, 0.0, 3.5, -2.0])  # type: ignore[method-assign]
        dialogs.one_of = lambda title, question, choices: rng.choice([None, *range(len(choices))])  # type: ignore[method-assign]
        dialogs.choose = lambda title, question, *answers: rng.randrange(len(answers))  # type: ignore[method-assign]
        dialogs.bootstrap = lambda begin, ids: rng.choice([None, Bootstrap(draws=200)])  # type: ignore[method-assign]
        dialogs.save_path = lambda title, suggestion, kinds, suffix: rng.choice([None, folder / f"saved{suffix}"])  # type: ignore[method-assign]
        dialogs.open_path = lambda *_: None  # type: ignore[method-assign]
        dialogs.export = lambda *_: None  # type: ignore[method-assign]

    def step(self) -> None:
        """One thing that somebody could do."""
        kind = self.rng.choice(KINDS)
        self.done.append(kind)
        with watched():
            getattr(self, f"_{kind}")()
        self._shut_popups()
        if self.rng.random() < 0.6:
            self.hands.settle(120)
        else:
            process_events()
        slow = stalls()
        assert not slow, f"the window stood still for {max(slow):.2f} s"

    def _shut_popups(self) -> None:
        for _ in range(4):
            popup = QApplication.activePopupWidget() or QApplication.activeModalWidget()
            if popup is None:
                return
            popup.close()

    def _action(self) -> None:
        found = self.rng.choice([a for a in self.hands.place.actions_table if a.id not in LEFT_OUT])
        self.done[-1] = found.id
        self.hands.place.actions_table.run(found.id)

    def _key(self) -> None:
        widget = QApplication.focusWidget()
        key = self.rng.choice(KEYS)
        modifier = self.rng.choice([Qt.KeyboardModifier.NoModifier] * 4 + [Qt.KeyboardModifier.ShiftModifier])
        self.done[-1] = f"key {key.name}"
        if widget is not None and widget.window() is self.hands.window:
            QTest.keyClick(widget, key, modifier)

    def _widgets(self, kind: type[QWidget]) -> list[QWidget]:
        window = self.hands.window
        left_out = {window.first.browse_button, window.first.demo}
        return [w for w in window.place.findChildren(kind) if w.isVisible() and w.isEnabled() and w not in left_out]

    def _click(self) -> None:
        widget = self.rng.choice(self._widgets(QWidget))
        at = QPoint(self.rng.randrange(max(1, widget.width())), self.rng.randrange(max(1, widget.height())))
        self.done[-1] = f"click {type(widget).__name__} {widget.accessibleName()} {at.x()},{at.y()}"
        if isinstance(widget, QAbstractButton) and hasattr(widget, "menu") and widget.menu() is not None:
            return  # a menu that opens waits for an answer
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)

    def _type(self) -> None:
        fields = self._widgets(QLineEdit)
        study = self.hands.place.session.study
        if not fields:
            return
        field = self.rng.choice(fields)
        text = self.rng.choice([*TYPED, write_line(study, study.model)])
        text = text.encode("ascii", "ignore").decode()  # the toolkit's test keys know no others
        self.done[-1] = f"type {text!r} into {field.accessibleName()}"
        field.setFocus()
        if (
            isinstance(field, QLineEdit) and len(text) > LONG
        ):  # nobody types a thousand products: they are pasted, and that is one act
            field.insert(text)
        else:
            QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)

    def _go(self) -> None:
        waypoint = self.rng.choice(list(Waypoint))
        self.done[-1] = f"go to {waypoint}"
        self.hands.place.go(waypoint)

    def _edit(self) -> None:
        session = self.hands.place.session
        assert session.is_open
        if session.study.table.n_rows != start(0).table.n_rows:
            return  # its arguments are drawn for that table
        name, function = self.walk.pick(sorted(every_edit().items()))
        session.edit(name, self.walk.edit(session.study, name, function))
        self.done[-1] = self.walk.done[-1]

    def _look(self) -> None:
        session = self.hands.place.session
        assert session.is_open
        name = self.rng.choice(session.study.variables).name
        self.done[-1] = f"look at {name}"
        session.look(variable=name)

    def _size(self) -> None:
        width, height = self.rng.choice([(1000, 700), (1280, 800), (1920, 1080)])
        self.done[-1] = f"{width}x{height}"
        self.hands.window.resize(width, height)


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", range(BEGIN, END))
def test_walks_in_the_window(hands: Hands, seed: int, tmp_path: Path) -> None:
    session = hands.place.session
    hands.place.build_all()
    session.open(awkward(seed))
    hands.settle(60)
    begin = session.study
    stroll = Stroll(hands, seed, tmp_path)
    try:
        for _ in range(STEPS_OF_SIXTY if is_huge(seed) else STEPS):
            stroll.step()
        hands.settle(60)
        study = session.study
        again = unpacked(packed(study), "walk.yslope")
        assert not again.went
        assert study_document(again) == study_document(study)
        assert again.variables == study.variables
        is_changed = bool(session.undo_name)
        while session.undo_name:
            session.undo()
        assert session.study is begin or not is_changed
        hands.settle(60)
    except BaseException as error:
        error.add_note(f"walk {seed}: " + "\n".join(stroll.done))
        raise
