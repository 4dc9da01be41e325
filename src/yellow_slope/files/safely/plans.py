"""Plans of what is put in its place together, written down so that a program that is killed leaves nothing half done.

A plan lies in the user's state folder and is locked by the program that carries it out: one without a lock is nobody's.
"""

from __future__ import annotations

import fcntl
import json
import logging
import os
import re
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path

from yellow_slope.core.errors import FileError
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.files.safely.paths import state_folder
from yellow_slope.files.safely.regular import read_bytes
from yellow_slope.values import dataclass, names_of

log = logging.getLogger(__name__)
MOST_OF_A_NAME = 40
PART, KEPT = ".part", ".kept"
SUFFIX, UNFINISHED = ".plan", ".new"
MOST_BYTES = 1 << 20


def begin_of(target: Path) -> str:
    """How a part of the file is called at first: no longer than the longest name of a file has room for."""
    return f".{target.name[:MOST_OF_A_NAME]}."


@dataclass(frozen=True, slots=True)
class Move:
    """A written part that takes the place of its target."""

    target: str
    part: str
    kept: str = ""
    """What stood at the target, under a second name; empty where nothing stood there."""

    def undo(self) -> bool:
        """Let what stood at the target stand there again; whether it does."""
        try:
            if self.kept:
                os.replace(self.kept, self.target)
            else:
                os.unlink(self.target)
        except OSError:
            return False
        return True

    def finish(self, written: int) -> bool:
        """Let the part take the place of the target, if it has not yet; whether the target is as it was planned.

        written: when the plan was, in nanoseconds since 1970. A target that was changed later stays. OSError where the
        part cannot take its place.
        """
        try:
            os.stat(self.part)
        except FileNotFoundError:
            return True
        try:
            if os.stat(self.target).st_mtime_ns > written:
                os.unlink(self.part)
                return False
        except FileNotFoundError:
            pass
        os.replace(self.part, self.target)
        return True

    @property
    def is_ours(self) -> bool:
        """Whether its names are such as a plan has: a plan that somebody changed moves nothing else."""
        begin, folder = re.escape(begin_of(Path(self.target))), os.path.dirname(self.target)
        names = [(self.part, PART), *([(self.kept, KEPT)] if self.kept else [])]
        return os.path.isabs(self.target) and all(
            os.path.dirname(name) == folder
            and re.fullmatch(rf"{begin}\d+\.[^/]*{re.escape(ending)}", os.path.basename(name))
            for name, ending in names
        )


def plan_folder() -> Path:
    """Where plans lie. OSError where there can be none."""
    return state_folder() / "writing"


@contextmanager
def planned(moves: Sequence[Move]) -> Iterator[None]:
    """The plan stands while the moves are made. Where nobody has a state folder they are made without one."""
    plan, handle = "", -1
    try:
        plan, handle = _written_down(moves)
    except OSError as error:
        log.warning("files are put in their places without a plan: %s", error.strerror)
    try:
        yield
    finally:
        for name in (plan, f"{plan}{UNFINISHED}"):
            with suppress(OSError):
                if plan:
                    os.unlink(name)
        if handle >= 0:
            with suppress(OSError):
                os.close(handle)


def _written_down(moves: Sequence[Move]) -> tuple[str, int]:
    """The plan's file, and the handle that keeps it locked. OSError where it cannot be written."""
    folder = plan_folder()
    folder.mkdir(parents=True, exist_ok=True)
    handle, unfinished = tempfile.mkstemp(suffix=f"{SUFFIX}{UNFINISHED}", dir=folder)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        said = [{name: getattr(move, name) for name in names_of(Move)} for move in moves]
        left = memoryview(json.dumps(said).encode("ascii"))
        while left:
            left = left[os.write(handle, left) :]
        os.fsync(handle)
        plan = unfinished.removesuffix(UNFINISHED)
        os.rename(unfinished, plan)
    except BaseException:
        with suppress(OSError):
            os.close(handle)
        with suppress(OSError):
            os.unlink(unfinished)
        raise
    return plan, handle


def recover() -> tuple[str, ...]:
    """Finish what a program that was killed had begun to put in its places; what is said of it, usually nothing."""
    try:
        plans = sorted(os.scandir(plan_folder()), key=lambda entry: entry.name)
    except OSError:
        return ()
    said = []
    for plan in plans:
        if plan.name.endswith((SUFFIX, UNFINISHED)) and plan.is_file(follow_symlinks=False):
            with suppress(OSError):
                if text := _finished(plan.path):
                    said.append(text)
    return tuple(said)


def _finished(plan: str) -> str:
    """Carry out a plan that is nobody's. OSError where it is somebody's."""
    handle = os.open(plan, os.O_RDONLY | os.O_NONBLOCK)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        moves = [] if plan.endswith(UNFINISHED) else _read(plan)
        written = os.fstat(handle).st_mtime_ns
        changed = [move for move in moves if not move.finish(written)]
        for move in moves:
            with suppress(OSError):
                if move.kept:
                    os.unlink(move.kept)
        os.unlink(plan)
    finally:
        os.close(handle)
    if not moves:
        return ""
    said = f"The program was stopped while it wrote {_names(moves)}; this has been finished now."
    return f"{said} Changed since, and left as it is: {_names(changed)}." if changed else said


def _names(moves: Sequence[Move]) -> str:
    return listed([os.path.basename(move.target) for move in moves])


def _read(plan: str) -> list[Move]:
    """The moves of a plan; none where it is no plan of ours."""
    try:
        moves = [Move(**said) for said in json.loads(read_bytes(Path(plan), MOST_BYTES))]
        return moves if all(move.is_ours for move in moves) else []
    except (ValueError, TypeError, AttributeError, RecursionError, FileError):
        return []
