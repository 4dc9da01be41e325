"""The command finder: type a few letters of an action or a variable, press Enter."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from yellow_slope.app.verbs.actions import Action, ActionTable


class Finder(QDialog):
    """A list of the actions that match what is typed."""

    chosen = pyqtSignal()
    """A command was chosen; the keyboard goes back before it is run."""

    def __init__(self, actions: ActionTable, parent: QWidget | None = None) -> None:
        super().__init__(parent, Qt.WindowType.FramelessWindowHint | Qt.WindowType.Dialog)
        self._table = actions
        self.setAccessibleName("Command finder")
        self.setModal(True)
        self.resize(560, 420)
        self.field = QLineEdit()
        self.field.setPlaceholderText("What do you want to do?")
        self.field.setAccessibleName("Command finder: what do you want to do?")
        self.field.setToolTip("Type a few letters, choose with the arrow keys, press Enter")
        self.field.setFixedHeight(38)
        self.list = QListWidget()
        self.list.setAccessibleName("Commands found")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 10, 10, 10)
        layout.addWidget(self.field)
        layout.addWidget(self.list)
        self.field.textChanged.connect(self._search)
        self.field.returnPressed.connect(self._run)
        self.list.itemClicked.connect(lambda _: self._run())
        self._found: list[Action] = []
        self._search("")

    def _search(self, text: str) -> None:
        self._found = self._table.matching(text)
        self.list.clear()
        for action in self._found:
            keys = f"   {action.keys[0]}" if action.keys else ""
            item = QListWidgetItem(f"{action.title}{keys}\n{action.help}")
            item.setToolTip(action.tooltip)
            self.list.addItem(item)
        if self._found:
            self.list.setCurrentRow(0)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
            return
        super().keyPressEvent(event)

    def _run(self) -> None:
        row = self.list.currentRow()
        self.accept()
        self.chosen.emit()
        if 0 <= row < len(self._found):
            self._found[row].run()
