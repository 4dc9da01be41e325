"""Writing whole or not at all: a temporary file beside the target, fsync, rename."""

from __future__ import annotations

import os
import re
import stat
import tempfile
from pathlib import Path

from yellow_slope.core.errors import FileError


def write_whole(path: Path, content: bytes) -> None:
    """Write the file so that a reader sees the old content or the new one, never a part. FileError says why not.

    A symbolic link is followed; a file that was there keeps its permissions; what is no regular file is refused.
    """
    path = Path(path)
    target = Path(os.path.realpath(path))
    mode = _mode_of(target, path)
    _clear_leftovers(target)
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{target.name}.{os.getpid()}.", suffix=".part", dir=target.parent)
    except OSError as error:
        raise FileError(f"{path} cannot be written: {_reason(error)}.") from error
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(temporary, mode)
        os.replace(temporary, target)
        _sync_folder(target.parent)
    except OSError as error:
        Path(temporary).unlink(missing_ok=True)
        raise FileError(f"{path} cannot be written: {_reason(error)}.") from error
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise


def _mode_of(target: Path, shown: Path) -> int:
    """The permissions that the written file gets: those of the file that was there, else the usual ones."""
    try:
        found = os.stat(target)
    except OSError:
        return 0o666 & ~_umask()
    if not stat.S_ISREG(found.st_mode):
        raise FileError(f"{shown} cannot be written: it is no regular file.")
    return stat.S_IMODE(found.st_mode)


def _clear_leftovers(target: Path) -> None:
    """Remove parts left by a save that was killed; those of a program still running stay."""
    pattern = re.compile(re.escape(f".{target.name}.") + r"(\d+)\..*\.part")
    try:
        names = os.listdir(target.parent)
    except OSError:
        return
    for name in names:
        found = pattern.fullmatch(name)
        if found and not _runs(int(found.group(1))):
            (target.parent / name).unlink(missing_ok=True)


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return process != os.getpid()


def read_bytes(path: Path, most: int | None = None) -> bytes:
    """The file's content; FileError with the reason where it cannot be read, is no regular file, or is larger than
    `most`."""
    try:
        there = os.stat(path)
        if not stat.S_ISREG(there.st_mode):
            raise FileError(f"{path} cannot be read: it is no regular file.")
        if most is not None and there.st_size > most:
            raise FileError(f"{path} cannot be read: it is larger than {most >> 30} GB.")
        return Path(path).read_bytes()
    except (OSError, ValueError) as error:
        reason = _reason(error) if isinstance(error, OSError) else "no file can have such a name"
        raise FileError(f"{path} cannot be read: {reason}.") from error


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
