"""Reading files, and none that would let the program wait: pipes, devices and what the system makes up are refused."""

from __future__ import annotations

import errno
import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from yellow_slope.core.errors import FileError

PIECE = 1 << 22


def read_bytes(path: Path, most: int | None = None) -> bytes:
    """The file's content; FileError with the reason where it cannot be read, is no regular file, or is larger than
    `most`."""
    with _opened(path) as handle:
        size = os.fstat(handle).st_size
        pieces, n = [], 0
        while (most is None or max(size, n) <= most) and (piece := os.read(handle, max(size + 1 - n, PIECE))):
            pieces.append(piece)
            n += len(piece)
    if most is not None and max(size, n) > most:
        raise FileError(f"{path} cannot be read: it is larger than {size_text(most)}.")
    return pieces[0] if len(pieces) == 1 else b"".join(pieces)


def read_head(path: Path, most: int) -> bytes:
    """The file's first bytes, so many at most; FileError as for the whole."""
    with _opened(path) as handle:
        return os.read(handle, most)


def refuse_no_file(path: Path) -> None:
    """OSError where something stands there that is no regular file: opening it could wait for ever."""
    try:
        is_file = stat.S_ISREG(os.stat(path).st_mode)
    except FileNotFoundError:
        return
    if not is_file:
        raise OSError(errno.EINVAL, "it is not a regular file", str(path))


@contextmanager
def _opened(path: Path) -> Iterator[int]:
    """The file, to be read; FileError where it cannot be or is no regular one. What is no file is not even opened."""
    try:
        if not stat.S_ISREG(os.stat(path).st_mode):
            raise FileError(f"{path} cannot be read: it is not a regular file.")
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        try:
            if not stat.S_ISREG(os.fstat(handle).st_mode):
                raise FileError(f"{path} cannot be read: it is not a regular file.")
            yield handle
        finally:
            os.close(handle)
    except (OSError, ValueError) as error:
        raise FileError(f"{path} cannot be read: {why_not(error)}.") from error


def size_text(n: int) -> str:
    """A number of bytes in the largest unit that divides it into whole ones, as in “2 GB”."""
    unit = next(k for k in (30, 20, 10, 0) if n >> k or not k)
    return f"{n >> unit} {('bytes', 'KB', 'MB', 'GB')[unit // 10]}"


def why_not(error: OSError | ValueError) -> str:
    """Why the system refused a file, in its own words."""
    return reason_of(error) if isinstance(error, OSError) else "no file can have such a name"


def reason_of(error: OSError) -> str:
    """Why the system refused, in its own words."""
    return (error.strerror or str(error)).lower()
