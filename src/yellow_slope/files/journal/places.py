"""Where journals lie, and whether there are any: asked at every start, before anything is read."""

from __future__ import annotations

from pathlib import Path

from yellow_slope.files.safely.paths import state_folder

SUFFIX, UNFINISHED = ".journal", ".new"


def journal_folder() -> Path:
    """Where journals lie: in the user's state folder. OSError where there can be none."""
    return state_folder() / "journal"


def journals(folder: Path | None = None, suffixes: tuple[str, ...] = (SUFFIX,)) -> list[Path]:
    """The files of journals there, the oldest first; none where the folder cannot be read."""
    try:
        return sorted(path for path in (folder or journal_folder()).iterdir() if path.name.endswith(suffixes))
    except OSError:
        return []
