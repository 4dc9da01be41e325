"""What a written file keeps of the one that it takes the place of, and faults in every call that writes."""

from __future__ import annotations

import errno
import json
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
from yellow_slope.files.safely.plans import Move, plan_folder, planned, recover

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


CALLS = (
    *("open", "write", "fsync", "replace", "chmod", "chown", "setxattr", "listxattr", "close", "stat", "unlink"),
    *("link", "rename", "lstat", "mkdir", "listdir"),
)
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


@pytest.mark.parametrize("name", CALLS)
@pytest.mark.parametrize("n_old", [0, 1, 3])
def test_a_fault_at_every_number_leaves_a_set_old_or_new(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, name: str, n_old: int
) -> None:
    """All files of a set are those of before or all are new, whichever call fails; nothing is left beside them."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    files = [tmp_path / "set" / f"{k}.csv" for k in range(3)]
    files[0].parent.mkdir()
    for at, code in zip(range(1, 60), ERRORS * 10):
        for k, path in enumerate(files):
            path.unlink(missing_ok=True)
            if k < n_old:
                path.write_bytes(OLD + bytes([k]))
        fault = failing(getattr(os, name), code, at)
        with monkeypatch.context() as patched:
            patched.setattr(os, name, fault)
            try:
                said = write_together([(path, NEW + bytes([k])) for k, path in enumerate(files)])
                done = True
            except FileError as error:
                done, said = False, (str(error),)
        there = [path.read_bytes() if path.exists() else b"" for path in files]
        new = [NEW + bytes([k]) for k in range(3)]
        old = [OLD + bytes([k]) if k < n_old else b"" for k in range(3)]
        assert there == (new if done else old), (at, code, said)
        assert name == "unlink" or {p.name for p in files[0].parent.iterdir()} <= {p.name for p in files}
        if not fault.has_failed:
            assert at > 1 or name in ("lstat", "setxattr") or n_old == 0
            break
    recover()
    assert not list((tmp_path / "state" / "yellow-slope" / "writing").glob("*"))


def test_a_folder_that_cannot_be_synchronized_is_told_and_the_file_is_there(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    sync, path = os.fsync, tmp_path / "a"

    def fail_for_folders(handle: int) -> None:
        if os.path.isdir(f"/proc/self/fd/{handle}"):
            raise OSError(errno.EIO, os.strerror(errno.EIO))
        sync(handle)

    monkeypatch.setattr(os, "fsync", fail_for_folders)
    said = write_whole(path, NEW)
    assert path.read_bytes() == NEW
    assert said == (
        f"{path} is written, but the system could not confirm that it would outlast a power cut: input/output error.",
    )
    assert len(write_together([(path, OLD), (tmp_path / "b", OLD)])) == 1


def test_what_cannot_be_brought_back_stays_under_its_second_name(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    a, b = tmp_path / "a", tmp_path / "b"
    a.write_bytes(OLD)
    place = os.replace

    def fail_after_the_first(one: str, other: str) -> None:
        if place_calls.append(one) or len(place_calls) > 1:  # type: ignore[func-returns-value]
            raise OSError(errno.EIO, os.strerror(errno.EIO))
        place(one, other)

    place_calls: list[str] = []
    monkeypatch.setattr(os, "replace", fail_after_the_first)
    with pytest.raises(FileError, match=r"Written already, and not to be taken back: .*a \(before: (.*)\)") as refused:
        write_together([(a, NEW), (b, NEW)])
    kept = Path(str(refused.value).split("(before: ")[1].removesuffix(")."))
    assert (a.read_bytes(), kept.read_bytes(), b.exists()) == (NEW, OLD, False)


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


SETS = """
import sys
from pathlib import Path
from yellow_slope.files.safely.atomically import write_together
from yellow_slope.files.safely.plans import recover
recover()
paths = [Path(name) for name in sys.argv[1:]]
for k in range(1_000_000):
    write_together([(path, f"{k} ".encode() * 2000) for path in paths])
    if k % 20 == 3:
        paths[-1].unlink()
    print(k, flush=True)
"""


@pytest.mark.parametrize("seed", range(int(os.environ.get("KILLS", "6"))))
def test_killed_while_a_set_is_written(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, seed: int) -> None:
    """After the next start all files of the set are of one time, whenever the program is killed."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    paths, rng = [tmp_path / "set" / f"{k}" for k in range(4)], random.Random(seed)
    paths[0].parent.mkdir()
    for _ in range(3):
        command = [sys.executable, "-c", SETS, *map(str, paths)]
        with subprocess.Popen(command, stdout=subprocess.PIPE) as process:
            assert process.stdout is not None
            process.stdout.readline()
            time.sleep(rng.uniform(0, 0.05))
            process.send_signal(signal.SIGKILL)
        recover()
        there = {path.read_bytes() for path in paths if path.exists()}
        assert len(there) == 1, {text[:6] for text in there}
        assert len(set(there.pop().split())) == 1
    write_together([(path, NEW) for path in paths])
    assert {p.name for p in paths[0].parent.iterdir()} == {p.name for p in paths}
    assert not list(plan_folder().iterdir())


def _half_done(folder: Path) -> tuple[list[Path], list[Move]]:
    """Three targets, the first in its place already, as a program leaves them that is killed between two renames."""
    targets = [folder / name for name in "abc"]
    moves = []
    for k, target in enumerate(targets):
        part, kept = folder / f".{target.name}.1234.x.part", folder / f".{target.name}.1234.x.kept"
        target.write_bytes(OLD if k else NEW)
        kept.write_bytes(OLD)
        if k:
            part.write_bytes(NEW)
        moves.append(Move(str(target), str(part), str(kept)))
    return targets, moves


def test_the_next_start_finishes_a_plan_and_says_so(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    targets, moves = _half_done(tmp_path)
    with planned(moves):
        (plan,) = plan_folder().iterdir()
        content = plan.read_bytes()
        assert recover() == ()  # it is somebody's
        assert targets[1].read_bytes() == OLD
    assert not plan.exists()
    plan.write_bytes(content)
    assert recover() == ("The program was stopped while it wrote a, b and c; this has been finished now.",)
    assert {t.read_bytes() for t in targets} == {NEW}
    assert {p.name for p in tmp_path.iterdir()} == {"a", "b", "c", "state"}
    assert recover() == ()


def test_a_target_that_was_changed_since_is_left_as_it_is(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    targets, moves = _half_done(tmp_path)
    with planned(moves):
        (plan,) = plan_folder().iterdir()
        content = plan.read_bytes()
    plan.write_bytes(content)
    os.utime(plan, ns=(1, 1))
    for target in targets:
        os.utime(target, ns=(0, 0))
    targets[1].write_bytes(b"mine")
    (said,) = recover()
    assert said.endswith("Changed since, and left as it is: b.")
    assert [t.read_bytes() for t in targets] == [NEW, b"mine", NEW]


@pytest.mark.parametrize("change", ["../x", "/etc/x", "", "none"])
def test_a_plan_that_somebody_changed_moves_nothing(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, change: str
) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    targets, moves = _half_done(tmp_path)
    victim = tmp_path / "victim"
    victim.write_bytes(OLD)
    plan_folder().mkdir(parents=True)
    (plan_folder() / "x.plan").write_text(
        json.dumps([{"target": str(victim), "part": moves[1].part if change == "none" else change, "kept": ""}])
    )
    (plan_folder() / "y.plan").write_text("[" * 100_000)
    os.mkfifo(plan_folder() / "z.plan")
    assert recover() == ()
    assert victim.read_bytes() == OLD
    assert targets[1].read_bytes() == OLD
