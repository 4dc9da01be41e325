"""The two answers below a dialog that asks for something: take it, or leave everything as it is."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton


def answers(dialog: QDialog, take: str, help: str, taken: Callable[[], object], by_enter: bool = True) -> QHBoxLayout:
    """A row with both. taken: what the first one does; the other closes the dialog. by_enter: whether Enter in a
    field means the first."""
    first, other = QPushButton(take), QPushButton("Cancel")
    first.setObjectName("main")
    other.setObjectName("chip")
    first.setToolTip(help)
    other.setToolTip("Change nothing (Esc)")
    for button in (first, other):
        button.setAccessibleName(button.text())
    first.setDefault(by_enter)
    first.clicked.connect(lambda _=False: taken())
    other.clicked.connect(dialog.reject)
    row = QHBoxLayout()
    row.addStretch(1)
    row.addWidget(other)
    row.addWidget(first)
    return row
