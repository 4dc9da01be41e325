"""The journal: what happened is on the disk, bounded, without the table; what was left is taken up with its past."""

from __future__ import annotations

import errno
import os
import random
import signal
import subprocess
import sys
import time
from collections.abc import Iterable
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path

import pytest

from tests.support.faults import failing
from tests.support.walking import Walk, every_edit, start
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.errors import FileError
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.core.study.history import Edited, Opened, Redone, Saved, Step, Undone
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.files.journal import keeping
from yellow_slope.files.journal.keeping import Journal
from yellow_slope.files.journal.lines import path_of, path_text, unpacked_lines
from yellow_slope.files.journal.unclosed import open_elsewhere, taken_up, throw_away, unclosed_work
from yellow_slope.files.opening import open_anything
from yellow_slope.files.study.studydocument import study_document
from yellow_slope.files.study.studyfile import write_study
from yellow_slope.values import replace

NOON = datetime(2026, 3, 1, 12, tzinfo=UTC)
TABLE = "score,hours,crew\n1,2,a\n2,3,b\n4,1,a\n3,5,b\n"


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """Where the journals of a test lie."""
    return tmp_path / "journal"


@pytest.fixture
def table(tmp_path: Path) -> Path:
    """A table file of one word in every row that no study names."""
    path = tmp_path / "crews.csv"
    path.write_text(TABLE)
    return path


def left(journal: Journal) -> None:
    """The window is killed: the lock goes, the file stays."""
    os.close(journal._handle)
    journal._handle = -1


def keep(journal: Journal, steps: Iterable[Step[Study]]) -> None:
    journal.take((NOON, step) for step in steps)


def named(study: Study, *names: str) -> list[Step[Study]]:
    return [Edited(f"name {name}", rename_study(study, name)) for name in names]


def same(one: Study | None, other: Study | None) -> bool:
    return one is not None and other is not None and study_document(one) == study_document(other)


def test_work_is_taken_up_with_its_past_and_future(folder: Path, table: Path) -> None:
    study = open_anything(table)
    journal = Journal(folder)
    keep(journal, [Opened(study, None, table), *named(study, "A", "B", "C"), Undone(), Undone(), Redone()])
    assert unclosed_work(folder) == []  # its window is still there
    left(journal)
    (work,) = unclosed_work(folder)
    assert (work.name, work.when, work.is_of(table)) == ("B", NOON, True)
    assert work.sentence.startswith("2 edits up to 2026-03-01")
    found = taken_up(work)
    assert found.remark == ""
    assert same(found.history.study, rename_study(study, "B"))
    assert [(what, s.name) for what, s in found.history.past] == [("name A", study.name), ("name B", "A")]
    assert [(what, s.name) for what, s in found.history.future] == [("name C", "C")]
    assert found.history.saved is found.history.past[0][1]
    assert found.history.study is not None
    assert found.history.study.table.names == study.table.names
    throw_away(work)
    assert unclosed_work(folder) == []


def test_nothing_is_offered_where_nothing_would_be_lost(folder: Path, table: Path, tmp_path: Path) -> None:
    study = open_anything(table)
    path = tmp_path / "crews.yslope"
    (edit,) = named(study, "A")
    assert isinstance(edit, Edited)
    ways: list[list[Step[Study]]] = [[], [edit, Undone()], [edit, Saved(edit.study, path)]]
    for steps in ways:
        journal = Journal(folder)
        keep(journal, [Opened(study, None, table), *steps])
        left(journal)
        assert unclosed_work(folder) == []
        assert list(folder.iterdir()) == []


def test_what_was_saved_is_known_after_a_crash(folder: Path, table: Path, tmp_path: Path) -> None:
    study, path = open_anything(table), tmp_path / "crews.yslope"
    first, second = named(study, "A", "B")
    assert isinstance(first, Edited)
    assert isinstance(second, Edited)
    write_study(first.study, path)
    table.unlink()  # the study file has the table too
    journal = Journal(folder)
    keep(journal, [Opened(study, None, table), first, Saved(first.study, path), second])
    left(journal)
    (work,) = unclosed_work(folder)
    assert work.history.unsaved() == ["name B"]
    found = taken_up(work)
    assert found.stamp is not None  # nobody has written the file since
    assert found.history.path == path
    assert found.history.saved is found.history.past[-1][1]
    write_study(rename_study(study, "somebody else's"), path)
    assert taken_up(work).stamp is None  # so saving asks


def test_no_value_of_the_table_is_kept(folder: Path, tmp_path: Path) -> None:
    path = tmp_path / "crews.csv"
    path.write_text("score,note\n" + "".join(f"{k}.73519,told-{k}-in-confidence\n" for k in range(300)))
    study = open_anything(path)
    journal = Journal(folder)
    keep(journal, [Opened(study, None, path), *named(study, "A")])
    left(journal)
    (file,) = folder.iterdir()
    assert b"73519" not in file.read_bytes()
    assert b"in-confidence" not in file.read_bytes()
    assert file.stat().st_mode & 0o077 == 0


def test_a_table_that_changed_is_said(folder: Path, table: Path) -> None:
    study = open_anything(table)
    journal = Journal(folder)
    keep(journal, [Opened(study, None, table), *named(study, "A", "B")])
    left(journal)
    table.write_text(TABLE.replace("crew", "team") + "9,9,b\n")
    (work,) = unclosed_work(folder)
    found = taken_up(work)
    assert "has changed" in found.remark
    assert found.history.study is not None
    assert found.history.study.name == "B"
    assert found.history.study.table.n_rows == 5
    table.unlink()
    with pytest.raises(FileError, match="Say where it is now"):
        taken_up(work)
    elsewhere = table.with_name("moved.csv")
    elsewhere.write_text(TABLE)
    assert taken_up(work, elsewhere).remark == ""


def test_a_table_read_otherwise_is_read_so_again(folder: Path, tmp_path: Path) -> None:
    path = tmp_path / "odd.csv"
    path.write_text("a;b\n1,5;2\n2,5;3\n")
    first = open_anything(path)
    other = open_anything(path, replace(first.source.read_as, separator=","))
    journal = Journal(folder)
    keep(journal, [Opened(first, None, path), Edited("read the table again", other), *named(other, "A")])
    left(journal)
    found = taken_up(unclosed_work(folder)[0])
    assert found.history.study is not None
    assert found.history.study.table.names == other.table.names
    assert [what for what, _ in found.history.past] == ["name A"]  # as far as the table is the same


@pytest.mark.parametrize("seed", range(6))
def test_every_edit_is_kept(seed: int, folder: Path, tmp_path: Path) -> None:
    """Random walks over every edit: what is taken up is what was there, step by step."""
    path = tmp_path / "walk.yslope"
    blocks = [Block((Term(("x",)), Term(("g",)))), Block((Term(("x", "g")), Term(("item",))))]
    write_study(set_blocks(set_outcome(start(seed), "y"), blocks), path)
    steps: list[Step[Study]] = []
    session = StudySession(lambda study, serial: None)
    session.record = steps.append
    session.open(open_anything(path), path, path)
    assert session.is_open
    on_disk = session.study.table
    walk, every = Walk(seed), sorted(every_edit().items())
    for _ in range(12):
        assert session.is_open
        name, function = walk.pick(every)
        session.edit(name, walk.edit(session.study, name, function))
        if walk.chance(0.2):
            session.undo()
    journal = Journal(folder)
    keep(journal, steps)
    left(journal)
    (work,) = unclosed_work(folder)
    taken = taken_up(work)
    found, there = taken.history, session.history
    assert there.study is not None
    if taken.remark:  # the table it stood on is in no file: as much stays as fits the one there is
        assert there.study.table is not on_disk
        assert found.study is not None
        assert found.study.table.names == on_disk.names
        return
    assert [what for what, _ in found.past] == [what for what, _ in there.past][-len(found.past) :]
    got = [study for _, study in found.past] + [found.study]
    expected = [study for _, study in there.past] + [there.study]
    for one, other in zip(got[::-1], expected[::-1], strict=False):
        assert same(one, other)
    is_one_table = all(study is not None and study.table is there.past[0][1].table for study in expected)
    assert len(got) == len(expected) or not is_one_table


def test_it_is_bounded(folder: Path, table: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(keeping, "MOST_BYTES", 60_000)
    study = open_anything(table)
    journal = Journal(folder)
    keep(journal, [Opened(study, None, table)])
    for k in range(300):
        keep(journal, named(study, f"study {k}"))
        (file,) = folder.iterdir()
        assert file.stat().st_size <= 60_000 + 5_000
    left(journal)
    found = taken_up(unclosed_work(folder)[0]).history
    assert found.study is not None
    assert found.study.name == "study 299"
    assert 10 < len(found.past) < 300
    monkeypatch.undo()
    monkeypatch.setattr(keeping, "MOST_EDITS", 20)
    journal = Journal(folder)
    keep(journal, [Opened(study, None, table), *named(study, *(str(k) for k in range(100)))])
    assert len(journal.history.past) <= 20


def test_a_line_that_was_not_finished_is_seen(folder: Path, table: Path) -> None:
    """Whatever is missing or changed of the file: what is taken up is a state that was there."""
    study = open_anything(table)
    journal = Journal(folder)
    keep(journal, [Opened(study, None, table), *named(study, *(f"study {k}" for k in range(8)))])
    left(journal)
    (file,) = folder.iterdir()
    content, rng = file.read_bytes(), random.Random(4)
    for k in range(120):
        at = rng.randrange(len(content))
        broken = content[:at] if k % 3 else content[:at] + bytes([content[at] ^ 1 << k % 8]) + content[at + 1 :]
        broken = broken + b"\0" * (k % 5) * 100
        file.write_bytes(broken)
        works = unclosed_work(folder)
        if works:
            found = taken_up(works[0]).history.study
            assert found is not None
            assert found.name in {f"study {n}" for n in range(8)}
        file.write_bytes(content)


def test_a_full_disk_costs_nothing_that_can_be_written_later(
    folder: Path, table: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    study = open_anything(table)
    journal = Journal(folder)
    keep(journal, [Opened(study, None, table), *named(study, "A")])
    write = os.write

    def full(handle: int, content: bytes) -> int:
        write(handle, bytes(content[:7]))
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "write", full)
    with pytest.raises(OSError, match="No space"):
        keep(journal, named(study, "B", "C"))
    monkeypatch.setattr(os, "write", write)
    keep(journal, named(study, "D"))
    left(journal)
    found = taken_up(unclosed_work(folder)[0]).history
    assert [s.name for _, s in found.past] == [study.name, "A", "B", "C"]
    assert found.study is not None
    assert found.study.name == "D"
    assert len(list(folder.iterdir())) == 1


@pytest.mark.parametrize("name", ["open", "write", "fsync", "rename", "close", "unlink", "ftruncate"])
@pytest.mark.parametrize("code", [errno.ENOSPC, errno.EACCES, errno.EIO, errno.ENOENT])
def test_whatever_call_fails_only_the_last_is_behind(
    folder: Path, table: Path, monkeypatch: pytest.MonkeyPatch, name: str, code: int
) -> None:
    """The system refuses once, whenever: with the next edit everything is there again."""
    monkeypatch.setattr(keeping, "MOST_EDITS", 4)
    study = open_anything(table)
    for at in range(1, 9):
        here = folder / str(at)
        journal = Journal(here)
        with monkeypatch.context() as patched:
            patched.setattr(os, name, failing(getattr(os, name), code, at))
            for step in [Opened(study, None, table), *named(study, *"ABCDEF")]:
                with suppress(OSError):
                    keep(journal, [step])
        keep(journal, named(study, "last"))
        left(journal)
        found = taken_up(unclosed_work(here)[0]).history
        assert found.study is not None
        assert found.study.name == "last"
        assert found.past[-1][1].name == "F"


def test_another_window_is_known(folder: Path, table: Path, tmp_path: Path) -> None:
    study, path = open_anything(table), tmp_path / "crews.yslope"
    write_study(study, path)
    journal = Journal(folder)
    keep(journal, [Opened(study, path, path)])
    assert open_elsewhere(path, None, folder) == NOON
    assert open_elsewhere(path, journal.file, folder) is None
    assert open_elsewhere(table, None, folder) is None
    journal.end()
    assert open_elsewhere(path, None, folder) is None
    assert list(folder.iterdir()) == []


def test_any_path_is_written_and_read() -> None:
    for raw in (b"/tmp/\xff\xfe name", "/tmp/łąka \n %41".encode(), b"/"):
        path = Path(os.fsdecode(raw))
        assert path_of(path_text(path)) == path
    assert path_of(path_text(None)) is None


def test_other_versions_are_left_alone(folder: Path) -> None:
    folder.mkdir()
    file = folder / "later.journal"
    file.write_bytes(b"00000000 {}\n")
    assert unclosed_work(folder) == []
    assert file.exists()
    assert list(unpacked_lines(b"")) == []


KEEPER = """
import sys
from datetime import datetime, UTC
from pathlib import Path
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.files.journal import keeping
from yellow_slope.files.journal.keeping import Journal
from yellow_slope.core.study.history import Edited, Opened
from yellow_slope.files.opening import open_anything
keeping.MOST_BYTES = 40_000
table = Path(sys.argv[2])
study = open_anything(table)
journal = Journal(Path(sys.argv[1]))
journal.take([(datetime.now(UTC), Opened(study, None, table))])
for k in range(100_000):
    journal.take([(datetime.now(UTC), Edited("name", rename_study(study, str(k))))])
    print(k, flush=True)
"""


@pytest.mark.parametrize("seed", range(int(os.environ.get("KILLS", "4"))))
def test_killed_at_any_moment(seed: int, folder: Path, table: Path) -> None:
    """What was said to be written is there after the kill, though the journal was shortened meanwhile."""
    with subprocess.Popen([sys.executable, "-c", KEEPER, str(folder), str(table)], stdout=subprocess.PIPE) as process:
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(random.Random(seed).uniform(0.05, 0.4))
        process.send_signal(signal.SIGKILL)
        said = process.stdout.read().decode().split()
    works = unclosed_work(folder)
    assert len(works) == 1
    found = taken_up(works[0]).history.study
    assert found is not None
    assert int(found.name) >= int(said[-1] if said else 0)
