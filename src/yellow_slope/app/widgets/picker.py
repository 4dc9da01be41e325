"""A chip that shows the current choice and offers the others in a menu."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QToolButton, QWidget

from yellow_slope.core.data.variable import shortened


class Picker(QToolButton):
    """Offers (value, text) pairs; says which value was chosen."""

    chosen = pyqtSignal(str)
    looked_at = pyqtSignal(str)
    """A choice of the open menu, by mouse or arrow keys."""
    shut = pyqtSignal()

    def __init__(self, name: str, help: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("chip")
        self.setAccessibleName(name)
        self.setToolTip(help)
        self.setFixedHeight(30)
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self)
        menu.aboutToHide.connect(self.shut.emit)
        self.setMenu(menu)
        self._choices: list[tuple[str, str]] = []
        self._help = help
        self.current: str | None = None
        self.limit = 26
        """Characters of the choice that the chip shows."""
        self.caption = ""
        """What the chip shows instead of the current choice, which then has a mark in the menu."""

    def set_choices(self, choices: list[tuple[str, str]], current: str | None, empty: str = "choose …") -> None:
        """Offer these choices."""
        if choices != self._choices:
            self._choices = choices
            menu = self.menu()
            assert menu is not None
            menu.clear()
            for value, text in choices:
                action = QAction(text, menu)
                action.triggered.connect(lambda _=False, v=value: self.chosen.emit(v))
                action.hovered.connect(lambda v=value: self.looked_at.emit(v))
                menu.addAction(action)
        self.set_current(current, empty)

    def set_current(self, current: str | None, empty: str = "choose …") -> None:
        """Show this value as the current one."""
        self.current = current
        text = dict(self._choices).get(current or "", empty)
        self.setText(f"{self.caption or shortened(text, self.limit)}  ▾")
        menu = self.menu()
        if self.caption and menu is not None:
            for action, (value, _) in zip(menu.actions(), self._choices):
                action.setCheckable(True)
                action.setChecked(value == current)
        self.setToolTip(f"{text}. {self._help}" if current else self._help)
        self.setEnabled(bool(self._choices))
