"""The log: what happened, without a value, a name or a text of anybody's data; in the user's state folder, rotated."""

from __future__ import annotations

import faulthandler
import logging
import platform
import re
import sys
import traceback
from contextlib import suppress
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType
from typing import TextIO

from yellow_slope import __version__
from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.paths import state_folder
from yellow_slope.files.safely.regular import read_bytes, refuse_no_file

log = logging.getLogger(__name__)
PROGRAM = "yellow_slope"
MOST_BYTES, KEPT = 256 << 10, 3
"""A log file grows to this size; so many are kept."""
SHOWN_BYTES = 48 << 10
FOLDERS = re.compile(r'(?<=File ")/[^"\n]*/(?=[^"/\n]+")')
"""What the interpreter writes of this machine's folders."""
_faults: list[TextIO] = []


def log_file() -> Path:
    """Where the log stands. OSError where it can stand nowhere."""
    return state_folder() / "log.txt"


def log_place() -> str:
    """Where the log stands, for people."""
    try:
        return str(log_file())
    except OSError as error:
        return f"no file: {error.strerror}"


def fault_file() -> Path:
    """Where the last moments of a program stand that the system ended."""
    return state_folder() / "fault.txt"


class Plain(logging.Formatter):
    """When, which part, what. Of an error its kind and where it came from: its message may hold data."""

    def __init__(self) -> None:
        super().__init__("%(asctime)s %(levelname)s %(name)s: %(message)s", "%Y-%m-%d %H:%M:%S")

    def formatException(
        self, ei: tuple[type[BaseException], BaseException, TracebackType | None] | tuple[None, None, None]
    ) -> str:
        _, error, _ = ei
        return told(error) if error is not None else ""


def told(error: BaseException) -> str:
    """The kind of an error, and the way that led to it: no message, no value, no folder of this machine."""
    lines: list[str] = []
    seen: BaseException | None = error
    while seen is not None:
        for frame in traceback.extract_tb(seen.__traceback__):
            parts = Path(frame.filename).parts
            where = parts[parts.index(PROGRAM) :] if PROGRAM in parts else parts[-1:]
            lines.append(f"  {'/'.join(where)}:{frame.lineno} {frame.name}")
        lines.append(type(seen).__name__)
        seen = seen.__cause__ or seen.__context__
        if seen is not None:
            lines.append("came after")
    return "\n".join(lines)


def begin_log(verbose: bool = False, on_terminal: bool = True) -> None:
    """Write the log to its file, and errors to the terminal unless it is said not to; with `verbose` all of it to the
    terminal too. No trouble where neither can be."""
    root = logging.getLogger(PROGRAM)
    root.setLevel(logging.DEBUG if verbose else logging.INFO)
    root.propagate = False
    for handler in list(root.handlers):
        root.removeHandler(handler)
        handler.close()
    handlers: list[logging.Handler] = []
    if on_terminal or verbose:
        terminal = logging.StreamHandler(sys.stderr)
        terminal.setLevel(logging.DEBUG if verbose else logging.ERROR)
        handlers.append(terminal)
    with suppress(OSError):  # a state folder that cannot be written, nobody's home
        log_file().parent.mkdir(parents=True, exist_ok=True)
        refuse_no_file(log_file())
        handlers.append(RotatingFileHandler(log_file(), maxBytes=MOST_BYTES, backupCount=KEPT - 1, encoding="utf-8"))
    for handler in handlers:
        handler.setFormatter(Plain())
        root.addHandler(handler)
    log.info("Yellow Slope %s begins", __version__)


def watch_faults() -> None:
    """Let a program that the system ends say where it was."""
    with suppress(OSError, ValueError):
        refuse_no_file(fault_file())
        _faults.append(fault_file().open("a+", encoding="utf-8", errors="replace"))  # open as long as the program lives
        faulthandler.enable(_faults[-1])


def log_text() -> str:
    """The end of the log, and of what was said when the system ended the program."""
    parts = []
    for file, title in ((fault_file, "When the system ended the program:"), (log_file, "The log:")):
        with suppress(OSError, FileError):
            text = read_bytes(file())[-SHOWN_BYTES:].decode("utf-8", "replace").strip()
            text = FOLDERS.sub("", text)
            if text:
                parts.append(f"{title}\n{text}")
    return "\n\n".join(parts) or "Nothing has been written down."


def machine_text() -> str:
    """The program and what it runs on."""
    return (
        f"Yellow Slope {__version__}\nPython {platform.python_version()}, {platform.system()} {platform.release()}, "
        f"{platform.machine()}"
    )
