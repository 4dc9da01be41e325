"""The window: the first sight, and the workplace once somebody has something to work on."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QMainWindow, QStackedWidget

from yellow_slope.app.frame.firstsight import FirstSight
from yellow_slope.app.state.leftwork import look_round
from yellow_slope.app.state.worker import Worker

if TYPE_CHECKING:
    from yellow_slope.app.workplace import Workplace


class Window(QMainWindow):
    """One window. The first sight needs little and is there at once; all the rest is imported and built when it is
    wanted, or before, in idle moments (`build_next`)."""

    def __init__(self) -> None:
        super().__init__()
        self.worker = Worker(self)
        self._place: Workplace | None = None
        self.setWindowTitle("Yellow Slope")
        self.setMinimumSize(1000, 640)
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self.first = first = FirstSight(self.worker)
        self.pages = QStackedWidget()
        self.pages.addWidget(first)
        self.setCentralWidget(self.pages)
        first.open_wanted.connect(self.open_path)
        first.browse_wanted.connect(lambda: self.place.fileactions.browse())
        first.demo_wanted.connect(lambda: self.place.fileactions.open_demo())
        first.take_up_wanted.connect(lambda work: self.place.unclosed.take_up(work))
        first.throw_away_wanted.connect(lambda work: self.place.unclosed.ask_to_throw_away(work))
        first.jobs.watch(self.worker)
        look_round(self.worker, first.offer)
        first.path.setFocus()

    @property
    def place(self) -> Workplace:
        """All but the first sight."""
        if self._place is None:
            from yellow_slope.app.workplace import Workplace

            self._place = place = Workplace(self, self.worker, self.first)
            self.pages.addWidget(place)
            place.shown.connect(lambda: self.pages.setCurrentWidget(place))
        return self._place

    @property
    def is_bare(self) -> bool:
        """Whether there is nothing but the first sight."""
        return self._place is None

    def build_next(self) -> bool:
        """Build the next part that nobody has wanted yet; whether there may be a further one."""
        return self.place.build_next() if not self.is_bare else not self.place.is_built

    def take_trouble(self, said: str) -> None:
        """Say that the program made a mistake, and keep what there is."""
        if self._place is not None:
            self._place.keeper.flush()
        self.place.session.say(said)

    def open_path(self, text: str) -> None:
        """Open a table or study file."""
        self.place.fileactions.open_path(text)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        urls = data.urls() if data is not None else []
        if urls and urls[0].isLocalFile():
            self.open_path(str(Path(urls[0].toLocalFile())))

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if self._place is not None and not self._place.saving.may_leave():
            event.ignore()
            return
        self.worker.end()
        if self._place is not None:
            self._place.keeper.end()
        event.accept()

    def sizeHint(self) -> QSize:
        return QSize(1280, 800)
