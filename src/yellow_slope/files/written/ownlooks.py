"""Looks of one's own, kept by name for all studies in the user's settings."""

from __future__ import annotations

import json
import logging
import os
from pathlib import Path

from platformdirs import user_config_path

from yellow_slope.core.errors import FileError
from yellow_slope.core.study.figures import READY_LOOKS, FigureLook
from yellow_slope.core.study.probe import LONGEST_NAME
from yellow_slope.files.safely.atomically import write_whole
from yellow_slope.files.safely.regular import read_bytes
from yellow_slope.files.study.typed import as_json, from_json
from yellow_slope.files.study.version9 import look_from_9
from yellow_slope.values import replace

log = logging.getLogger(__name__)
MOST_LOOKS, MOST_BYTES = 50, 1 << 20


def _file() -> Path:
    try:
        return user_config_path("yellow-slope") / "looks.json"
    except RuntimeError as error:
        raise FileError("Looks of one's own are kept in a home folder, and there is none.") from error


def own_looks() -> tuple[FigureLook, ...]:
    """Looks that were saved, by name; none where the file is not there or cannot be read, which the log says."""
    try:
        return _kept()
    except FileError as error:
        log.warning("looks of one's own are left aside: %s", type(error.__cause__ or error).__name__)
        return ()


def _kept() -> tuple[FigureLook, ...]:
    """Looks that were saved. FileError where their file is there and cannot be read."""
    file = _file()
    if not os.path.lexists(file):
        return ()
    try:
        raw = json.loads(read_bytes(file, MOST_BYTES))
        said = from_json([look_from_9(one) for one in raw], tuple[FigureLook, ...], file.name)
        if any(not one.name.strip() for one in said):
            raise ValueError("a look without a name")
    except (ValueError, TypeError, AttributeError, KeyError, FileError, RecursionError) as error:
        raise FileError(f"{file} holds no looks that can be read: move it away, then looks can be saved.") from error
    ready = {look.name for look in READY_LOOKS}
    looks = [one for one in said if one.name not in ready]
    return tuple({look.name: look for look in looks}.values())


def save_look(look: FigureLook) -> None:
    """Keep a look under its name for all studies; one of that name is replaced. FileError where it cannot be."""
    name = " ".join(look.name.split())
    if not name:
        raise FileError("A look is saved under a name; none was given.")
    if len(name) > LONGEST_NAME:
        raise FileError(f"A name of a look has at most {LONGEST_NAME} characters; this one has {len(name)}.")
    if name in {ready.name for ready in READY_LOOKS}:
        raise FileError(f"“{name}” is a look of the program; save yours under another name.")
    others = [one for one in _kept() if one.name != name]
    if len(others) >= MOST_LOOKS:
        raise FileError(f"{MOST_LOOKS} looks are saved already; there is no room for another.")
    _write([*others, replace(look, name=name)])


def drop_look(name: str) -> None:
    """Keep a look no longer. FileError where that cannot be written down."""
    _write([one for one in _kept() if one.name != name])


def _write(looks: list[FigureLook]) -> None:
    said = as_json(sorted(looks, key=lambda one: one.name))
    path = _file()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError(f"{path.parent} cannot be written: {error.strerror}.") from error
    write_whole(path, json.dumps(said, ensure_ascii=False, indent=1).encode("utf-8"))
