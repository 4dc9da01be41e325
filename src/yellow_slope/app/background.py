"""Evaluation off the interface thread: the newest study wins, an older one is dropped."""

from __future__ import annotations

import logging
import threading

from PyQt6.QtCore import QObject, pyqtSignal

from yellow_slope.app.session import Results, StudySession, results_of
from yellow_slope.core.study import Study

log = logging.getLogger(__name__)


class Background(QObject):
    """One worker thread that evaluates the newest study handed to it."""

    done = pyqtSignal(int, object)
    failed = pyqtSignal(int, str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._condition = threading.Condition()
        self._waiting: tuple[Study, int] | None = None
        self._ended = False
        self._thread = threading.Thread(target=self._work, name="evaluation", daemon=True)
        self._thread.start()

    def submit(self, study: Study, serial: int) -> None:
        """Evaluate this study next; whatever waited before it is forgotten."""
        with self._condition:
            self._waiting = (study, serial)
            self._condition.notify()

    def end(self) -> None:
        """Stop after the evaluation at hand."""
        with self._condition:
            self._ended = True
            self._condition.notify()
        self._thread.join(timeout=5)

    def serve(self, session: StudySession) -> None:
        """Deliver results to a session on the interface thread."""

        def deliver(serial: int, results: object) -> None:
            assert isinstance(results, Results)
            session.arrive(serial, results)

        self.done.connect(deliver)
        self.failed.connect(lambda _serial, text: session.say(text))

    def _is_worthless(self) -> bool:
        return self._waiting is not None or self._ended

    def _work(self) -> None:
        while True:
            with self._condition:
                while self._waiting is None and not self._ended:
                    self._condition.wait()
                if self._ended:
                    return
                assert self._waiting is not None
                study, serial = self._waiting
                self._waiting = None
            try:
                results = results_of(study, self._is_worthless)
            except Exception:
                log.exception("evaluation failed")
                self.failed.emit(
                    serial, "Something went wrong inside Yellow Slope; the study is as it was. See the log."
                )
                continue
            if results is not None:
                self.done.emit(serial, results)
