"""A chip that shows the current choice and offers the others in a menu."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from enum import Enum, auto
from typing import Generic, TypeVar

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QToolButton, QWidget

from yellow_slope.core.data.variable import shortened

T = TypeVar("T")
MOST_LISTED = 400
"""Choices: a longer menu is no help, and takes long to be made."""


class Further(Enum):
    """A choice that asks for more before anything is changed."""

    ASK = auto()


class Picker(QToolButton, Generic[T]):
    """Offers values, each with what the menu says of it; carries the value that was chosen."""

    chosen = pyqtSignal(object)
    looked_at = pyqtSignal(object)
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
        menu.aboutToShow.connect(self._fill)
        menu.aboutToHide.connect(self.shut.emit)
        self.setMenu(menu)
        self._choices: list[tuple[T, str]] = []
        self._is_filled = True
        self._help = help
        self.current: T | None = None
        self.limit = 26
        """Characters of the choice that the chip shows."""
        self.caption = ""
        """What the chip shows instead of the current choice, which then has a mark in the menu."""

    def whenever_chosen(self, call: Callable[[T], object]) -> None:
        """Call with every value that is chosen."""
        self.chosen.connect(lambda value: call(value))

    def choose(self, value: T) -> None:
        """Choose a value, as a click in the menu does."""
        self.chosen.emit(value)

    def set_choices(self, choices: Sequence[tuple[T, str]], current: T | None, empty: str = "choose …") -> None:
        """Offer these choices."""
        if list(choices) != self._choices:
            self._choices, self._is_filled = list(choices), False
        self.set_current(current, empty)

    def menu(self) -> QMenu:
        """The menu with the choices: it is filled when somebody looks."""
        self._fill()
        menu = super().menu()
        assert menu is not None
        return menu

    def _fill(self) -> None:
        menu = super().menu()
        if self._is_filled or menu is None:
            return
        self._is_filled = True
        menu.clear()
        for value, text in self._choices[:MOST_LISTED]:
            action = QAction(text, menu)
            action.triggered.connect(lambda _=False, v=value: self.chosen.emit(v))
            action.hovered.connect(lambda v=value: self.looked_at.emit(v))
            menu.addAction(action)
        left = len(self._choices) - MOST_LISTED
        if left > 0:
            more = QAction(f"{left:,} more: look for them in the list at the left (Ctrl+F)", menu)
            more.setEnabled(False)
            menu.addAction(more)
        self._mark()

    def _mark(self) -> None:
        """The current choice has a mark in the menu, where the chip shows something else."""
        menu = super().menu()
        if self.caption and menu is not None and self._is_filled:
            for action, (value, _) in zip(menu.actions(), self._choices[:MOST_LISTED]):
                action.setCheckable(True)
                action.setChecked(value == self.current)

    def text_of(self, value: T | None) -> str:
        """What the menu says of a value; empty where it is not offered."""
        return next((text for offered, text in self._choices if offered == value), "")

    def show_text(self, text: str) -> None:
        """Show a text of its own in place of the current choice."""
        self.setText(f"{shortened(text, self.limit)}  ▾")

    def set_current(self, current: T | None, empty: str = "choose …") -> None:
        """Show this value as the current one; where it is not offered, what stands for none."""
        self.current = current
        said = self.text_of(current)
        self.setText(f"{self.caption or shortened(said or empty, self.limit)}  ▾")
        self._mark()
        self.setToolTip(f"{said}. {self._help}" if said else self._help)
        self.setEnabled(bool(self._choices))
