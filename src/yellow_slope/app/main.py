"""Start of the window."""

from __future__ import annotations

import atexit
import gc
import logging
import os
import signal
import sys
from pathlib import Path

from PyQt6 import sip
from PyQt6.QtCore import QMessageLogContext, QTimer, QtMsgType, qInstallMessageHandler
from PyQt6.QtWidgets import QApplication, QWidget

from yellow_slope.app.state.worker import WRONG
from yellow_slope.app.warmth import Warmth
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.plaintext import PLAIN_TEXTS
from yellow_slope.files.safely.logfile import begin_log, log_place, watch_faults
from yellow_slope.files.safely.plans import recover

log = logging.getLogger(__name__)
TURN = 1e-4
"""Seconds until a worker that computes lets the window have its turn: it wants thousands of them to draw once."""

_app: QApplication | None = None


def _no_window(kind: QtMsgType, context: QMessageLogContext, text: str | None) -> None:
    """What the toolkit says while it looks for a display; where it finds none the program ends with a sentence."""
    if kind is not QtMsgType.QtFatalMsg:
        log.warning("before the window: %s", text)
        return
    display = os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or ""
    where = f" on display “{display}”" if display else ""
    sys.stderr.write(f"yellow-slope: The window cannot be opened{where}. The log says more: {log_place()}.\n")
    log.warning("no window: %s", " ".join((text or "").split()))
    sys.stderr.flush()
    os._exit(1)


def application() -> QApplication:
    """The application object with fonts and looks; made once and kept. The program ends where there is no display."""
    global _app
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        before = qInstallMessageHandler(_no_window)
        app = QApplication(sys.argv[:1])
        qInstallMessageHandler(before)
        app.setApplicationName("Yellow Slope")
        app.setDesktopFileName("yellow-slope")
        atexit.register(_forget_all)
    _app = app
    sys.setswitchinterval(TURN)
    PLAIN_TEXTS.watch(app)
    theme.load_fonts()
    theme.dress(app)
    return app


def run(file: Path | None = None, verbose: bool = False) -> int:
    """Open the window and stay until it is closed."""
    gc.disable()  # nothing that is loaded is garbage; `Warmth` sets it going again
    begin_log(verbose)
    watch_faults()
    app = application()
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    from yellow_slope.app.window import Window

    window = Window()
    window.show()
    for text in recover():
        window.place.session.say(text)
    if file is not None:
        QTimer.singleShot(0, lambda: window.open_path(str(file)))
    warmth = Warmth(window.build_next, lambda: not window.worker.is_idle, window)
    QTimer.singleShot(0, warmth.begin)
    report_bugs(window)
    code = app.exec()
    forget(window)
    return code


def forget(window: QWidget) -> None:
    """Destroy a window with all that is in it, while its application is still there.

    At the interpreter's end the toolkit visits all that is left and deletes the window among it, with its parts that it
    has yet to visit: one end in ten to twenty was a crash.
    """
    sys.excepthook = sys.__excepthook__
    if not sip.isdeleted(window):
        sip.delete(window)


def _forget_all() -> None:
    """Destroy what windows are left at the interpreter's end, before the toolkit visits them."""
    if _app is not None and not sip.isdeleted(_app):
        for window in _app.topLevelWidgets():
            if not sip.isdeleted(window) and window.parent() is None:
                forget(window)


def report_bugs(window) -> None:  # type: ignore[no-untyped-def]
    """A mistake in the program is logged with its traceback, said in the window, and costs nothing of the study."""

    def hook(kind, error, trace) -> None:  # type: ignore[no-untyped-def]
        log.critical("unexpected error", exc_info=(kind, error, trace))
        window.take_trouble(WRONG)

    sys.excepthook = hook
