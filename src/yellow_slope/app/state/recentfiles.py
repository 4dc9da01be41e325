"""Recent files, remembered in the user's state folder."""

from __future__ import annotations

import json
import logging
import os
from pathlib import Path

from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.atomically import write_whole
from yellow_slope.files.safely.paths import state_folder
from yellow_slope.files.safely.regular import read_bytes

log = logging.getLogger(__name__)
KEPT = 8
MOST_BYTES = 1 << 20


def _file() -> Path:
    return state_folder() / "recent.json"


def recent_files() -> list[Path]:
    """Files opened or saved lately that still exist, the newest first."""
    try:
        found = json.loads(read_bytes(_file(), MOST_BYTES)) if os.path.exists(_file()) else []
    except (OSError, FileError, ValueError, RuntimeError) as error:  # nested without end; nobody's home
        log.warning("the list of recent files is left aside: %s", type(error).__name__)
        return []
    names = [Path(name) for name in found if isinstance(name, str)] if isinstance(found, list) else []
    return [path for path in names if _is_there(path)]


def _is_there(path: Path) -> bool:
    """Whether it is a file that may be looked at; a locked folder and a name that no file can have are no trouble."""
    return os.path.isfile(path)


def remember(path: Path) -> None:
    """Put a file first among the recent ones; a state folder that cannot be written is no trouble."""
    try:
        path = path.resolve()
        names = [str(path), *(str(p) for p in recent_files() if p != path)][:KEPT]
        _file().parent.mkdir(parents=True, exist_ok=True)
        write_whole(_file(), json.dumps(names).encode())
    except (OSError, FileError, RuntimeError):
        return
