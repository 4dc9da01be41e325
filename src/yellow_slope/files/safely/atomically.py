"""Writing whole or not at all: a temporary file beside the target, fsync, rename."""

from __future__ import annotations

import os
import re
import shutil
import stat
import tempfile
from collections.abc import Iterable, Sequence
from contextlib import suppress
from pathlib import Path

from yellow_slope.core.errors import FileError
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.files.safely.plans import KEPT, PART, Move, begin_of, planned
from yellow_slope.files.safely.regular import reason_of, why_not
from yellow_slope.values import dataclass, replace


def write_whole(path: Path, content: bytes) -> tuple[str, ...]:
    """Write the file so that a reader sees the old content or the new one, never a part; remarks, usually none.
    FileError says why not.

    A symbolic link is followed; a file that was there keeps its permissions, and as far as the system allows its owner
    and its extended attributes; what is no regular file is refused.
    """
    return write_together([(path, content)])


def write_together(files: Iterable[tuple[Path, bytes]]) -> tuple[str, ...]:
    """Write several files, all of them or none; remarks on what is written, usually none. FileError says which cannot
    be, and why.

    Each is written beside its target, and what stands there is kept beside it under a second name. When all are there
    a plan is written down and they are put in their places; where one cannot be, what was kept comes back. After a
    program that was killed in the middle, the next one finishes the plan: see `recover`.
    """
    parts: list[Part] = []
    needed: set[str] = set()
    try:
        for path, content in files:
            parts.append(_part(Path(path), content))
        if len(parts) > 1:
            for i, part in enumerate(parts):
                parts[i] = _with_kept(part)
            with planned([part.move for part in parts]):
                _put_in_place(parts, needed)
        elif parts:
            parts[0].put_in_place()
    finally:
        for left in {name for part in parts for name in (part.move.part, part.move.kept) if name} - needed:
            with suppress(OSError):
                os.unlink(left)
    return _synced(parts)


@dataclass(frozen=True, slots=True)
class Part:
    """A file that is written beside its target."""

    shown: Path
    move: Move

    def refused(self, error: OSError) -> FileError:
        """Why it cannot be written."""
        return FileError(f"{self.shown} cannot be written: {reason_of(error)}.")

    def put_in_place(self) -> None:
        """Let it take the place of its target. FileError where it cannot."""
        try:
            os.replace(self.move.part, self.move.target)
        except OSError as error:
            raise self.refused(error) from error


def _put_in_place(parts: Sequence[Part], needed: set[str]) -> None:
    """Let all take the places of their targets, or let all stay as they were. FileError with the reason.

    needed: takes the names of what is kept of a file that could not be brought back.
    """
    done: list[Part] = []
    try:
        for part in parts:
            part.put_in_place()
            done.append(part)
    except BaseException as error:
        stuck = [part for part in done if not part.move.undo()]
        if stuck:
            needed |= {part.move.kept for part in stuck}
            names = listed([f"{part.shown}{f' (before: {part.move.kept})' * bool(part.move.kept)}" for part in stuck])
            raise FileError(f"{error} Written already, and not to be taken back: {names}.") from error
        raise


def _synced(parts: Sequence[Part]) -> tuple[str, ...]:
    """Bring the folders to the disk; what is said of those where the system cannot tell. The files stand there."""
    said = []
    by_folder = {os.path.dirname(part.move.target): part for part in reversed(parts)}
    for folder, part in reversed(by_folder.items()):
        try:
            _sync_folder(folder)
        except OSError as error:
            said.append(
                f"{part.shown} is written, but the system could not confirm that it would outlast a power cut: "
                f"{reason_of(error)}."
            )
    return tuple(said)


def _part(path: Path, content: bytes) -> Part:
    """The content beside its target, with the permissions and belongings of what it will take the place of."""
    temporary = ""
    try:
        target = Path(os.path.realpath(path))
        mode = _mode_of(target, path)
        _clear_leftovers(target)
        handle, temporary = tempfile.mkstemp(prefix=f"{begin_of(target)}{os.getpid()}.", suffix=PART, dir=target.parent)
        try:
            write_all(handle, content)
            _keep_belongings(target, temporary)
            os.chmod(temporary, mode)
            os.fsync(handle)
        finally:
            os.close(handle)
    except BaseException as error:
        if temporary:
            with suppress(OSError):
                Path(temporary).unlink(missing_ok=True)
        if isinstance(error, OSError | ValueError):
            raise FileError(f"{path} cannot be written: {why_not(error)}.") from error
        raise
    return Part(path, Move(str(target), temporary))


def _with_kept(part: Part) -> Part:
    """The part with what stands at its target kept under a second name; as it is where nothing stands there."""
    move = part.move
    kept = f"{move.part.removesuffix(PART)}{KEPT}"
    try:
        try:
            os.link(move.target, kept)
        except FileNotFoundError:
            if os.path.lexists(move.target):
                raise
            return part
        except OSError:  # a file system without second names
            shutil.copy2(move.target, kept)
        return replace(part, move=replace(move, kept=kept))
    except OSError as error:
        with suppress(OSError):
            os.unlink(kept)
        raise part.refused(error) from error


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
        raise FileError(f"{shown} cannot be written: it is not a regular file.")
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


def _clear_leftovers(target: Path) -> None:
    """Remove parts left by a save that was killed; those of a program still running, and what is not ours to remove,
    stay."""
    pattern = re.compile(re.escape(begin_of(target)) + r"(\d+)\..*" + f"(?:{re.escape(PART)}|{re.escape(KEPT)})")
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


def _umask() -> int:
    now = os.umask(0)
    os.umask(now)
    return now


def _sync_folder(folder: str) -> None:
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return  # a folder that may be written but not listed: the file itself is written
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
