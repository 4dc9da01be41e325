"""What is being read or written, after a second with its time and a way to give it up."""

from __future__ import annotations

import time

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from yellow_slope.app.state.worker import Worker


class FileJobLine(QWidget):
    """Empty while there is nothing to do."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.state = QLabel()
        self.state.setObjectName("small")
        self.state.setAccessibleName("What is being read or written")
        self.give_up = QPushButton("cancel")
        self.give_up.setObjectName("link")
        self.give_up.setAccessibleName("Cancel the reading or writing")
        self.give_up.setToolTip("Cancel the reading or writing; nothing is changed")
        self.give_up.hide()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.state)
        layout.addWidget(self.give_up)
        self._worker: Worker | None = None
        self._tick = QTimer(self)
        self._tick.setInterval(250)
        self._tick.timeout.connect(self._renew)

    def watch(self, worker: Worker) -> None:
        """Follow the worker."""
        self._worker = worker
        self.give_up.clicked.connect(worker.give_up)
        worker.changed.connect(self._renew)

    def _renew(self) -> None:
        job = self._worker.current if self._worker else None
        if job is None:
            self._tick.stop()
            self.give_up.hide()
            self.state.setText("")
            return
        spent = time.monotonic() - job.begun
        share = f"{100 * job.share:.0f} %, " if job.share else ""
        self.state.setText(f"{job.what} …" if spent < 1 else f"{job.what} … {share}{spent:.0f} s")
        self.give_up.setVisible(spent >= 1)
        if not self._tick.isActive():
            self._tick.start()
