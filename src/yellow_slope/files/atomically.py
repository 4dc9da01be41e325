"""Writing whole or not at all: a temporary file beside the target, fsync, rename."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from yellow_slope.core.errors import FileError


def write_whole(path: Path, content: bytes) -> None:
    """Write the file so that a reader sees the old content or the new one, never a part. FileError says why not."""
    path = Path(path)
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
    except OSError as error:
        raise FileError(f"{path} cannot be written: {_reason(error)}.") from error
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(temporary, 0o666 & ~_umask())
        os.replace(temporary, path)
        _sync_folder(path.parent)
    except OSError as error:
        Path(temporary).unlink(missing_ok=True)
        raise FileError(f"{path} cannot be written: {_reason(error)}.") from error
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise


def read_bytes(path: Path) -> bytes:
    """The file's content; FileError with the reason where it cannot be read."""
    try:
        return Path(path).read_bytes()
    except OSError as error:
        raise FileError(f"{path} cannot be read: {_reason(error)}.") from error


def _reason(error: OSError) -> str:
    return (error.strerror or str(error)).lower()


def _umask() -> int:
    now = os.umask(0)
    os.umask(now)
    return now


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
