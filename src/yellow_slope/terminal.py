"""What is said on the terminal, and what is given out through standard output.

Results that cannot be given out are an error; what is said beside them never stands in the way.
"""

from __future__ import annotations

import io
import logging
import os
import sys
from contextlib import suppress

from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.letters import shown
from yellow_slope.files.safely.regular import reason_of

NOWHERE = "Standard output cannot be written: it is closed."


def begin() -> None:
    """Let no file that is opened later become standard output by chance, and let every letter be written somehow."""
    for handle in (0, 1, 2):
        try:
            os.fstat(handle)
        except OSError:
            os.open(os.devnull, os.O_RDWR)
    logging.lastResort = logging.NullHandler()  # what libraries remark is for the log
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")


def say(text: str) -> None:
    """A line on standard output. YellowSlopeError where it cannot be written."""
    _put(f"{shown(text)}\n")


def give(text: str) -> None:
    """A result on standard output, every letter of it. YellowSlopeError where it cannot be written."""
    encoding = getattr(sys.stdout, "encoding", None) or "utf-8"
    try:
        shown(text).encode(encoding)
    except UnicodeEncodeError as error:
        letter = error.object[error.start]
        raise YellowSlopeError(
            f"Standard output is written as {encoding}, which has no “{letter}”. Set PYTHONIOENCODING=utf-8."
        ) from error
    say(text)


def give_bytes(content: bytes) -> None:
    """A result on standard output as it is. YellowSlopeError where it cannot be written."""
    if sys.stdout is None:
        raise YellowSlopeError(NOWHERE)
    buffer = getattr(sys.stdout, "buffer", None)
    if buffer is None:
        _put(content.decode("utf-8"))
        return
    with _Refused():
        sys.stdout.flush()
        buffer.write(content)
        buffer.flush()


def remark(text: str) -> None:
    """A line beside the results, on standard error if there is one."""
    with suppress(OSError, ValueError, AttributeError):
        sys.stderr.write(f"yellow-slope: {shown(text)}\n")
        sys.stderr.flush()


def end() -> None:
    """Write what is still on its way. YellowSlopeError where it cannot be."""
    if sys.stdout is not None:
        with _Refused():
            sys.stdout.flush()


def _put(text: str) -> None:
    if sys.stdout is None:
        raise YellowSlopeError(NOWHERE)
    with _Refused():
        sys.stdout.write(text)


class _Refused:
    """A refusal of the system becomes a sentence, and standard output takes nothing more."""

    def __enter__(self) -> None:
        pass

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> None:
        if isinstance(error, OSError):
            with suppress(OSError, ValueError):  # what is still on its way would be tried again at the end
                os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
            raise YellowSlopeError(f"Standard output cannot be written: {reason_of(error)}.") from error
