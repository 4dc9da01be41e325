"""Archives: how large what they hold may be, known before it is unpacked."""

from __future__ import annotations

import zipfile

from yellow_slope.core.errors import FileError

BASE, TIMES = 128 << 20, 40
MOST_JSON = 64 << 20
"""Unpacked bytes of a document: a study of a thousand models takes a tenth of this."""


def room_for(packed: int) -> int:
    """Bytes that something of this packed size may have unpacked: more than any table has that was not made to fill a
    memory. Writers keep to it too: what packs better than this they store as it is."""
    return BASE + TIMES * packed


def member(archive: zipfile.ZipFile, inside: str, name: str, most: int) -> bytes:
    """A part of the archive. KeyError where it is not there, FileError where it is larger than `most`; other errors
    as the archive has them."""
    info = archive.getinfo(inside)
    check_size(info, name, most)
    with archive.open(info) as stream:
        content = stream.read(most + 1)  # what the archive says of the size may be wrong
    if len(content) > most:
        raise FileError(f"{name} is not opened: its {inside} is larger than it says.")
    return content


def check_size(info: zipfile.ZipInfo, name: str, most: int) -> None:
    """FileError where a part is larger than `most` unpacked."""
    if info.file_size > most:
        raise FileError(
            f"{name} is not opened: its {info.filename[:60]} is {info.file_size >> 20:,} MB large, unpacked."
        )
