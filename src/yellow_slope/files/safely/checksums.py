"""Checksums of table files. That of a large file is worked out while its table is looked at, and is there when it is
saved."""

from __future__ import annotations

import hashlib
import weakref
from concurrent.futures import Future, ThreadPoolExecutor

from yellow_slope.core.data.table import Table

LARGE = 8 << 20
"""Smaller files are summed at once: a hundredth of a second."""
_pool: list[ThreadPoolExecutor] = []
_pending: weakref.WeakKeyDictionary[Table, Future[str]] = weakref.WeakKeyDictionary()


def checksum(content: bytes) -> str:
    """SHA-256 of the bytes."""
    return hashlib.sha256(content).hexdigest()


def checksum_or_later(content: bytes) -> str:
    """The checksum of a small file; empty for a large one, of which `sum_later` is told."""
    return checksum(content) if len(content) < LARGE else ""


def sum_later(table: Table, content: bytes) -> None:
    """Begin to work out the checksum of the large file that a table was read from."""
    if len(content) >= LARGE:
        if not _pool:
            _pool.append(ThreadPoolExecutor(1, "checksum"))
        _pending[table] = _pool[0].submit(checksum, content)


def checksum_of(table: Table) -> str:
    """The checksum of the file that a table was read from, waited for if need be; empty where there is none."""
    pending = _pending.get(table)
    return pending.result() if pending is not None else ""
