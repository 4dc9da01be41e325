"""What is loaded and built while nobody waits, so that nothing is while somebody does."""

from __future__ import annotations

import gc
import importlib
import threading
import time
from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

from yellow_slope.app.state.needed import load_needed

LATER = (
    "yellow_slope.files.journal.keeping",
    "yellow_slope.report.parts",
    "yellow_slope.report.writers.html",
    "yellow_slope.report.drawing",
    "yellow_slope.files.text.delimited",
)

PARTS = ("workplace", "data.bench", "prepare.bench", "blocks.bench", "checks.bench", "probe.bench", "report.bench")
"""What the window builds, in its order."""

PAUSE = 0.02
"""Seconds until it is asked again whether somebody waits, and from one part that is built to the next."""
PATIENCE = 0.5
"""Seconds that loading waits for what is loaded to be built."""
LONGEST = 2.0
"""Seconds after which a part is built although somebody waits: its keys are not to be silent for minutes."""


class Warmth(QObject):
    """Loads on a thread what the window will need, and lets it build part by part, while nobody waits."""

    def __init__(self, build_next: Callable[[], bool], is_awaited: Callable[[], bool], parent: QObject) -> None:
        super().__init__(parent)
        self._build_next, self._is_awaited = build_next, is_awaited
        self._loaded, self._built = 0, 0
        self._is_built = threading.Event()
        self._until = time.monotonic() + LONGEST
        self._thread = threading.Thread(target=self.load, daemon=True)
        self._timer = QTimer(self)
        self._timer.setInterval(int(1000 * PAUSE))
        self._timer.timeout.connect(self._build)

    def begin(self) -> None:
        """Load and build from now on."""
        self._thread.start()
        self._timer.start()

    def load(self) -> None:
        """Load all that is needed later; what somebody waits for goes first."""
        try:
            for part in PARTS:
                importlib.import_module(f"yellow_slope.app.{part}")
                self._is_built.clear()
                self._loaded += 1
                self._is_built.wait(PATIENCE)  # building and loading at once would take turns, and the window wait
            load_needed()
        finally:
            _keep()
            gc.enable()
        for module in LATER:
            while self._is_awaited():
                time.sleep(PAUSE)
            importlib.import_module(module)
        _keep()

    def _build(self) -> None:
        if self._built == len(PARTS):
            self._timer.stop()
        elif self._built < self._loaded and (not self._is_awaited() or time.monotonic() > self._until):
            self._until = time.monotonic() + LONGEST
            self._built += 1
            self._build_next()
            self._is_built.set()


def _keep() -> None:
    """What is loaded stays: it is not looked through whenever something else is tidied up, nor once before, for which
    the window would stand still for 0.2 s; of 250,000 objects 4,500 could have gone."""
    gc.freeze()
