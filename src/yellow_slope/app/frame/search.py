"""The search box above the roster: finds variables and, where none matches, commands."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from yellow_slope.app.frame.roster import Roster
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import ActionTable


class Search(QLineEdit):
    """Enter chooses and clears, Esc clears; the keyboard then goes to the roster."""

    left = pyqtSignal()

    def __init__(
        self, session: StudySession, roster: Roster, actions: ActionTable, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._session, self._roster, self._actions = session, roster, actions
        self.setPlaceholderText("Find a variable or a command")
        self.setAccessibleName("Find a variable or a command")
        self.setToolTip("Type a name; Enter chooses the first variable, or runs the first command found (Ctrl+F)")
        self.textChanged.connect(roster.search)
        self.returnPressed.connect(self._choose)

    @property
    def is_used(self) -> bool:
        """Whether somebody is searching."""
        return self.hasFocus() or bool(self.text())

    def begin(self) -> None:
        """Take the keyboard."""
        self.setVisible(True)
        self.setFocus()
        self.selectAll()

    def _choose(self) -> None:
        shown, text = self._roster.shown(), self.text()
        self._leave()
        if shown:
            self._session.look(variable=shown[0].name)
            self._roster.show_variable(shown[0].name)
            return
        found = self._actions.matching(text)
        if found:
            found[0].run()

    def _leave(self) -> None:
        self.clear()
        self._roster.setFocus()
        self.left.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self._leave()
            return
        super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.left.emit()
