"""What a written file keeps of the one that it takes the place of, and faults in every call that writes."""

from __future__ import annotations

import errno
import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from tests.support.faults import failing
from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.atomically import has_other_names, stamp_of, write_together, write_whole

OLD, NEW = b"old" * 1000, b"new" * 3000


def test_permissions_attributes_and_owner_stay(tmp_path: Path) -> None:
    path = tmp_path / "a.yslope"
    path.write_bytes(OLD)
    path.chmod(0o640)
    try:
        os.setxattr(path, "user.project", b"crews")
    except OSError:
        pytest.skip("this file system keeps no attributes")
    if os.geteuid() == 0:
        os.chown(path, 1234, 4321)
    write_whole(path, NEW)
    assert path.read_bytes() == NEW
    assert path.stat().st_mode & 0o777 == 0o640
    assert os.getxattr(path, "user.project") == b"crews"
    if os.geteuid() == 0:
        assert (path.stat().st_uid, path.stat().st_gid) == (1234, 4321)


def test_a_symbolic_link_stays_one_and_a_hard_link_is_told(tmp_path: Path) -> None:
    path, link, hard = tmp_path / "a", tmp_path / "link", tmp_path / "hard"
    path.write_bytes(OLD)
    link.symlink_to(path)
    write_whole(link, NEW)
    assert link.is_symlink()
    assert path.read_bytes() == NEW
    assert not has_other_names(path)
    os.link(path, hard)
    assert has_other_names(path)
    assert not has_other_names(tmp_path / "none")


def test_a_stamp_tells_another_file(tmp_path: Path) -> None:
    path = tmp_path / "a"
    assert stamp_of(path) is None
    path.write_bytes(OLD)
    first = stamp_of(path)
    assert first == stamp_of(path)
    write_whole(path, OLD)
    assert stamp_of(path) != first


def test_several_files_are_written_all_or_none(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    a, b, c = (tmp_path / name for name in "abc")
    a.write_bytes(OLD)
    write_together([(a, NEW), (b, NEW)])
    assert (a.read_bytes(), b.read_bytes()) == (NEW, NEW)
    with pytest.raises(FileError, match="nowhere"):
        write_together([(a, OLD), (c, OLD), (tmp_path / "nowhere" / "d", OLD)])
    with monkeypatch.context() as patched:
        patched.setattr(os, "write", failing(os.write, errno.ENOSPC, 3))
        with pytest.raises(FileError, match="c cannot be written: no space left"):
            write_together([(a, OLD), (b, OLD), (c, OLD)])
    assert (a.read_bytes(), b.read_bytes(), c.exists()) == (NEW, NEW, False)
    assert sorted(os.listdir(tmp_path)) == ["a", "b"]


CALLS = ("open", "write", "fsync", "replace", "chmod", "chown", "setxattr", "listxattr", "close", "stat", "unlink")
ERRORS = (errno.ENOSPC, errno.EACCES, errno.EIO, errno.ENOENT, errno.EDQUOT, errno.EROFS)


@pytest.mark.parametrize("name", CALLS)
@pytest.mark.parametrize("code", ERRORS)
def test_a_fault_leaves_the_old_file_or_the_new_one(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, name: str, code: int
) -> None:
    """Whatever call fails, whenever: old or new whole, no part left, and a reason in a sentence."""
    for at in (1, 2, 3):
        path = tmp_path / f"{name} {at}"
        path.write_bytes(OLD)
        with monkeypatch.context() as patched:
            patched.setattr(os, name, failing(getattr(os, name), code, at))
            try:
                write_whole(path, NEW)
                said = ""
            except FileError as error:
                said = str(error)
        assert path.read_bytes() == NEW or (said and path.read_bytes() == OLD)
        if name != "unlink":
            assert {p.name for p in tmp_path.iterdir()} <= {f"{name} {k}" for k in (1, 2, 3)}


def test_a_write_that_is_cut_short_goes_on(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The system may take fewer bytes than it is given."""
    path, write = tmp_path / "a", os.write
    monkeypatch.setattr(os, "write", lambda handle, content: write(handle, bytes(content[:1000])))
    write_whole(path, NEW)
    assert path.read_bytes() == NEW


LIMITED = """
import resource, signal, sys
from pathlib import Path
from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.atomically import write_whole
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
path, new = Path(sys.argv[1]), b"new" * 3000
for room in range(0, 9000, 450):
    resource.setrlimit(resource.RLIMIT_FSIZE, (room, resource.RLIM_INFINITY))
    try:
        write_whole(path, new)
    except FileError as error:
        assert "too large" in str(error), error
    else:
        raise AssertionError(f"{room} bytes were enough")
"""


def test_a_file_that_may_not_grow_is_told(tmp_path: Path) -> None:
    """The system itself refuses, after any number of bytes."""
    path = tmp_path / "a"
    path.write_bytes(OLD)
    done = subprocess.run([sys.executable, "-c", LIMITED, str(path)], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert path.read_bytes() == OLD
    assert [p.name for p in tmp_path.iterdir()] == ["a"]


SAVER = """
import sys
from pathlib import Path
from yellow_slope.files.safely.atomically import write_whole
path = Path(sys.argv[1])
for k in range(1_000_000):
    write_whole(path, f"{k % 10}".encode() * 400_000)
    print(k, flush=True)
"""


@pytest.mark.parametrize("seed", range(int(os.environ.get("KILLS", "6"))))
def test_killed_while_it_is_saved(tmp_path: Path, seed: int) -> None:
    """Old or new whole, whenever the program is killed; what is left over goes with the next save."""
    path, rng = tmp_path / "a", random.Random(seed)
    with subprocess.Popen([sys.executable, "-c", SAVER, str(path)], stdout=subprocess.PIPE) as process:
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(rng.uniform(0, 0.1))
        process.send_signal(signal.SIGKILL)
    content = path.read_bytes()
    assert len(content) == 400_000
    assert len(set(content)) == 1
    write_whole(path, NEW)
    assert [p.name for p in tmp_path.iterdir()] == ["a"]
