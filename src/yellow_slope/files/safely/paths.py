"""Paths as people type them."""

from __future__ import annotations

from pathlib import Path

from yellow_slope.core.errors import FileError


def expanded(path: Path) -> Path:
    """The path with “~” written out; FileError for a user that is not known."""
    try:
        return Path(path).expanduser()
    except RuntimeError as error:
        raise FileError(f"{path} is not known: there is no such user.") from error
