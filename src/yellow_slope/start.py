"""The first moment of the program: from here on Ctrl+C ends it without a word, with the code that shells expect."""

from __future__ import annotations

import os
import signal
from types import FrameType

INTERRUPTED = 130


def _leave(number: int, frame: FrameType | None) -> None:
    os._exit(INTERRUPTED)


def main() -> int:
    """Run the command line; the exit code."""
    signal.signal(signal.SIGINT, _leave)  # while the program is loaded there is nothing to clean up
    from contextlib import suppress

    from yellow_slope.cli import main as run

    signal.signal(signal.SIGINT, signal.default_int_handler)
    code = INTERRUPTED
    with suppress(KeyboardInterrupt):
        code = run()
    signal.signal(signal.SIGINT, _leave)
    return code
