"""What can be done next where a waypoint has nothing to show yet, as buttons."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from yellow_slope.values import dataclass

BELOW = 34
"""Pixels below the middle, where the sentence stands."""


@dataclass(frozen=True, slots=True)
class NextStep:
    """A button: what it says, what it does in a sentence, and that."""

    text: str
    help: str
    run: Callable[[], object]


class NextSteps(QWidget):
    """A row of buttons; with a host it floats below the middle of it."""

    def __init__(self, host: QWidget | None = None) -> None:
        super().__init__(host)
        self.steps: tuple[NextStep, ...] = ()
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(8 if host is None else 0, 0, 0, 0)
        self.row.setSpacing(8)
        self._host = host
        if host is not None:
            host.installEventFilter(self)
        self.hide()

    def offer(self, steps: Sequence[NextStep]) -> None:
        """Offer these; none: nothing is shown."""
        is_same = [step.text for step in steps] == [step.text for step in self.steps]
        self.steps = tuple(steps)
        if not is_same:
            self._fill()
        self.setVisible(bool(steps))
        self._place()

    @property
    def buttons(self) -> list[QPushButton]:
        """The buttons, from the left."""
        items = (self.row.itemAt(i) for i in range(self.row.count()))
        return [w for item in items if item is not None and isinstance(w := item.widget(), QPushButton)]

    def _fill(self) -> None:
        while (item := self.row.takeAt(0)) is not None:
            if (old := item.widget()) is not None:
                old.deleteLater()
        for index, step in enumerate(self.steps):
            button = QPushButton(step.text, self)
            button.setObjectName("chip" if index else "main")
            button.setToolTip(step.help)
            button.setAccessibleName(step.text)
            button.clicked.connect(lambda _checked, i=index: self.steps[i].run())
            self.row.addWidget(button)
        if self._host is None:
            self.row.addStretch(1)

    def _place(self) -> None:
        if self._host is None or not self.steps:
            return
        size = self.row.sizeHint()
        at = self._host.rect().center()
        self.setGeometry(at.x() - size.width() // 2, at.y() + BELOW, size.width(), size.height())
        self.raise_()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() is QEvent.Type.Resize:
            self._place()
        return super().eventFilter(watched, event)
