"""Writing whole or not at all: a temporary file beside the target, fsync, rename."""

from __future__ import annotations

import os
import re
import stat
import tempfile
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from yellow_slope.core.errors import FileError

MOST_OF_A_NAME = 40


def write_whole(path: Path, content: bytes) -> None:
    """Write the file so that a reader sees the old content or the new one, never a part. FileError says why not.

    A symbolic link is followed; a file that was there keeps its permissions, and as far as the system allows its owner
    and its extended attributes; what is no regular file is refused.
    """
    write_together([(path, content)])


def write_together(files: Iterable[tuple[Path, bytes]]) -> None:
    """Write several files, all of them or none: each is written beside its target first, and put in its place when
    all are. FileError says which cannot be, and why."""
    parts: list[_Part] = []
    try:
        for path, content in files:
            parts.append(_part(Path(path), content))
        while parts:
            parts[0].put_in_place()
            parts.pop(0)
    finally:
        for part in parts:
            with suppress(OSError):
                Path(part.temporary).unlink(missing_ok=True)


@dataclass(frozen=True, slots=True)
class _Part:
    """A file that is written beside its target."""

    shown: Path
    target: Path
    temporary: str
    mode: int

    def put_in_place(self) -> None:
        """Let it take the place of its target."""
        try:
            _keep_belongings(self.target, self.temporary)
            os.chmod(self.temporary, self.mode)
            os.replace(self.temporary, self.target)
            _sync_folder(self.target.parent)
        except OSError as error:
            raise FileError(f"{self.shown} cannot be written: {reason_of(error)}.") from error


def _part(path: Path, content: bytes) -> _Part:
    """The content beside its target."""
    target = Path(os.path.realpath(path))
    mode = _mode_of(target, path)
    _clear_leftovers(target)
    try:
        handle, temporary = tempfile.mkstemp(
            prefix=f"{_begin_of(target)}{os.getpid()}.", suffix=".part", dir=target.parent
        )
    except OSError as error:
        raise FileError(f"{path} cannot be written: {reason_of(error)}.") from error
    try:
        try:
            write_all(handle, content)
            os.fsync(handle)
        finally:
            os.close(handle)
    except OSError as error:
        Path(temporary).unlink(missing_ok=True)
        raise FileError(f"{path} cannot be written: {reason_of(error)}.") from error
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise
    return _Part(path, target, temporary, mode)


def write_all(handle: int, content: bytes) -> None:
    """Every byte, however few the system takes at a time."""
    left = memoryview(content)
    while left:
        left = left[os.write(handle, left) :]


def _mode_of(target: Path, shown: Path) -> int:
    """The permissions that the written file gets: those of the file that was there, else the usual ones. FileError for
    what may not be written."""
    try:
        found = os.stat(target)
    except OSError:
        return 0o666 & ~_umask()
    if not stat.S_ISREG(found.st_mode):
        raise FileError(f"{shown} cannot be written: it is no regular file.")
    if not found.st_mode & 0o222:
        raise FileError(f"{shown} cannot be written: it is protected against writing.")
    return stat.S_IMODE(found.st_mode)


def _keep_belongings(target: Path, temporary: str) -> None:
    """Give the part the owner, the group and the extended attributes of the file that it takes the place of, as far as
    the system allows."""
    try:
        was = os.stat(target)
    except OSError:
        return
    for owner, group in ((was.st_uid, -1), (-1, was.st_gid)):  # the one may be allowed where the other is not
        with suppress(OSError):
            os.chown(temporary, owner, group)
    with suppress(OSError):
        for name in os.listxattr(target):
            with suppress(OSError):
                os.setxattr(temporary, name, os.getxattr(target, name))


def has_other_names(path: Path) -> bool:
    """Whether the file stands under further names (hard links): writing it whole parts it from them."""
    try:
        return os.stat(path).st_nlink > 1
    except (OSError, ValueError):
        return False


@dataclass(frozen=True, slots=True)
class Stamp:
    """How a file stood on the disk when it was read or written; another stamp is another file."""

    changed: int
    """Nanoseconds since 1970."""
    size: int
    place: int


def stamp_of(path: Path) -> Stamp | None:
    """How the file stands on the disk; None where there is none that can be looked at."""
    try:
        found = os.stat(path)
    except (OSError, ValueError):
        return None
    return Stamp(found.st_mtime_ns, found.st_size, found.st_ino)


def _begin_of(target: Path) -> str:
    """How a part of the file is called at first: no longer than the longest name of a file has room for."""
    return f".{target.name[:MOST_OF_A_NAME]}."


def _clear_leftovers(target: Path) -> None:
    """Remove parts left by a save that was killed; those of a program still running, and what is not ours to remove,
    stay."""
    pattern = re.compile(re.escape(_begin_of(target)) + r"(\d+)\..*\.part")
    try:
        names = os.listdir(target.parent)
    except OSError:
        return
    for name in names:
        found = pattern.fullmatch(name)
        if found and not _runs(int(found.group(1))):
            with suppress(OSError):  # a folder of that name, or somebody else's
                (target.parent / name).unlink(missing_ok=True)


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except (ProcessLookupError, OverflowError):
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
        reason = reason_of(error) if isinstance(error, OSError) else "no file can have such a name"
        raise FileError(f"{path} cannot be read: {reason}.") from error


def reason_of(error: OSError) -> str:
    """Why the system refused, in its own words."""
    return (error.strerror or str(error)).lower()


def _umask() -> int:
    now = os.umask(0)
    os.umask(now)
    return now


def _sync_folder(folder: Path) -> None:
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return  # a folder that may be written but not listed: the file itself is written
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
