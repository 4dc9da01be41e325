"""Parts that work only while they are seen."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker

if TYPE_CHECKING:
    _Seen = QWidget
else:
    _Seen = object


class Follows(_Seen):
    """Stands before the widget that a part is: it follows topics while it is seen, and catches up when it is shown."""

    _missed = True

    def follow(self, session: StudySession, *topics: Topic) -> None:
        """Renew whenever one of these changes."""
        session.on(self._told, *topics)

    def renew(self) -> None:
        """Take what is newest."""
        raise NotImplementedError

    def _told(self) -> None:
        self._missed = not self.isVisible()
        if not self._missed:
            self.renew()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if self._missed:
            self._told()


class Bench(Follows, QWidget):
    """What stands at a waypoint. It works only while it is seen, and on a lane of its own."""

    def __init__(self, session: StudySession, worker: Worker, lane: Lane, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.worker, self.lane = session, worker, lane

    @property
    def is_current(self) -> bool:
        """Whether what is shown belongs to the newest results."""
        return not self.worker.is_busy(self.lane)

    @property
    def main_part(self) -> QWidget:
        """What has the keyboard when somebody comes here."""
        raise NotImplementedError

    def offers(self) -> list[tuple[str, Callable[..., object]]]:
        """What the foot offers here beside the sentence: a short text and the method that was registered as an
        action."""
        return []

    def take_keyboard(self) -> None:
        """Put the keyboard on the main part."""
        self.main_part.setFocus()
