"""Hands on the real window: clicks, key chords, typed entries, each counted; and eyes that read what is shown."""

from __future__ import annotations

import re
import time

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QApplication, QWidget

from tests.support.heartbeat import process_events, watched
from tests.support.qtest import QTest
from yellow_slope.app.main import application
from yellow_slope.app.state.desk import Cell
from yellow_slope.app.window import Window
from yellow_slope.core.study.terms import Term

CHORD = re.compile(r"(?:(ctrl|alt|shift)\+)", re.I)
KEYS = {
    "enter": Qt.Key.Key_Return,
    "space": Qt.Key.Key_Space,
    "delete": Qt.Key.Key_Delete,
    "escape": Qt.Key.Key_Escape,
    "pagedown": Qt.Key.Key_PageDown,
    "pageup": Qt.Key.Key_PageUp,
    "up": Qt.Key.Key_Up,
    "down": Qt.Key.Key_Down,
    "left": Qt.Key.Key_Left,
    "right": Qt.Key.Key_Right,
    "home": Qt.Key.Key_Home,
    "end": Qt.Key.Key_End,
    "tab": Qt.Key.Key_Tab,
    "f5": Qt.Key.Key_F5,
}
MODIFIERS = {
    "ctrl": Qt.KeyboardModifier.ControlModifier,
    "alt": Qt.KeyboardModifier.AltModifier,
    "shift": Qt.KeyboardModifier.ShiftModifier,
}


class Hands:
    """Drives one window."""

    def __init__(self, width: int = 1280, height: int = 800) -> None:
        self.app = application()
        self.window = Window()
        self.place = self.window.place
        self.mistakes: list[str] = []
        """What jobs that failed by a mistake of the program said; the log has their tracebacks."""
        self.window.worker.went_wrong.connect(self.mistakes.append)
        self.window.resize(width, height)
        self.window.show()
        self.window.activateWindow()
        QTest.qWaitForWindowExposed(self.window)
        self.window.first.path.setFocus()
        self.actions = 0
        self.settle()

    def answers(self, text: str) -> None:
        """The answer to the next questions."""
        self.place.fileactions.dialogs.choose = lambda title, question, *answers: answers.index(text)  # type: ignore[method-assign]

    def answering(self, *wanted: str) -> list[str]:
        """Answer the next questions so, in this order; what was asked."""
        asked: list[str] = []
        left = list(wanted)

        def choose(title: str, question: str, *answers: str) -> int:
            asked.append(question)
            return answers.index(left.pop(0))

        self.place.dialogs.choose = choose  # type: ignore[method-assign]
        return asked

    def close(self) -> None:
        """Leave without saving."""
        self.place.session.let_go()
        self.window.close()
        self.window.deleteLater()
        process_events()

    def settle(self, seconds: float = 90) -> None:
        """Wait until what is shown belongs to the current study; waiting counts nothing."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            process_events()
            if self.window.worker.is_idle:
                process_events()  # what has arrived may make room anew, and draw again
                if self.window.worker.is_idle:
                    break
            time.sleep(0.002)
        else:
            raise AssertionError("the window did not settle")
        process_events()
        assert not self.mistakes

    # ---- hands

    def focus(self) -> QWidget:
        """The widget with the keyboard."""
        widget = QApplication.focusWidget()
        assert widget is not None, "nothing has the focus"
        return widget

    def types(self, text: str) -> None:
        """One typed entry with its closing Enter."""
        for letter in text:
            with watched():
                QTest.keyClicks(self.focus(), letter)
        with watched():
            QTest.keyClick(self.focus(), Qt.Key.Key_Return)
        self._done()

    def press(self, chord: str) -> None:
        """One key chord, as in “Alt+5”."""
        modifier = Qt.KeyboardModifier.NoModifier
        for name in CHORD.findall(chord):
            modifier |= MODIFIERS[name.lower()]
        last = chord.split("+")[-1]
        key = KEYS.get(last.lower())
        if key is None:
            key = getattr(Qt.Key, f"Key_{last.upper()}")
        with watched():
            QTest.keyClick(self.focus(), key, modifier)
        self._done()

    def clicks(
        self, widget: QWidget, at: QPoint | QPointF | None = None, ctrl: bool = False, shift: bool = False
    ) -> None:
        """One click."""
        modifier = Qt.KeyboardModifier.ControlModifier if ctrl else Qt.KeyboardModifier.NoModifier
        modifier = Qt.KeyboardModifier.ShiftModifier if shift else modifier
        place = at.toPoint() if isinstance(at, QPointF) else (at or widget.rect().center())
        with watched():
            QTest.mouseClick(widget, Qt.MouseButton.LeftButton, modifier, place)
        self._done()

    def carries(self, variable: str, to: QPoint) -> None:
        """One drag and drop: a variable of the roster to a place of the ladder's viewport."""
        roster = self.place.roster.viewport()
        ladder = self.place.blocks.ladder.viewport()
        area = self.place.roster.row_rect(variable)
        assert roster is not None
        assert ladder is not None
        assert area is not None
        start = area.center().toPoint()
        end = roster.mapFromGlobal(ladder.mapToGlobal(to))
        QTest.mousePress(roster, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
        for part in (0.1, 0.5, 1.0):
            QTest.mouseMove(roster, start + (end - start) * part)
            process_events()
        QTest.mouseRelease(roster, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end)
        self._done()

    def _done(self) -> None:
        self.actions += 1
        self.settle()

    # ---- eyes

    def sentence(self) -> str:
        """What the foot says."""
        return self.place.foot.sentence.text()

    def figures(self) -> str:
        """The foot's figures."""
        return self.place.foot.figures.text()

    def foot_button(self, text: str) -> QWidget:
        """A link of the foot."""
        return next(b for b in self.place.foot._buttons if b.text() == text)

    def place_of(self, *variables: str) -> QPoint:
        """Where a term's row stands in the ladder's viewport, at its name."""
        study = self.place.session.study
        assert study is not None
        wanted = Term(variables)
        area = self.place.blocks.ladder.rect_of(Cell(study.model.block_of(wanted), wanted))
        assert area is not None
        return QPoint(60, int(area.center().y()))


def number(text: str) -> float:
    """A shown number: true minus sign, no leading zero."""
    return float(text.replace("−", "-").replace(",", ""))


def numbers_in(text: str) -> list[float]:
    """All numbers of a text in order."""
    return [number(found) for found in re.findall(r"−?\d*\.?\d+", text)]
