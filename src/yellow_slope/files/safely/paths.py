"""Paths as people type them."""

from __future__ import annotations

import errno
from contextlib import suppress
from pathlib import Path

from platformdirs import user_state_path

from yellow_slope.core.errors import FileError


def expanded(path: Path) -> Path:
    """The path with “~” written out; FileError for a user that is not known."""
    try:
        return Path(path).expanduser()
    except RuntimeError as error:
        raise FileError(f"{path} is not known: there is no such user.") from error


def state_folder() -> Path:
    """The program's own folder for what it remembers; OSError where nobody is at home. It need not exist."""
    try:
        return user_state_path("yellow-slope")
    except RuntimeError as error:
        raise OSError(errno.ENOENT, "nobody has a home here") from error


def working_folder() -> Path:
    """Where the program was started; where that is gone, the user's home, and for nobody the root."""
    for folder in (Path.cwd, Path.home):
        with suppress(OSError, RuntimeError):
            return folder()
    return Path("/")
