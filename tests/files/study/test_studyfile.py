"""Study files: nothing is lost, writing is whole or not at all, damage is said in a sentence."""

from __future__ import annotations

import gzip
import io
import json
import os
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.data.conditiontext import typed_condition
from yellow_slope.core.data.derived import MOST_COMPUTED, Constant, Derived
from yellow_slope.core.data.formula import MOST_OPERATIONS
from yellow_slope.core.data.scanner import DEEPEST
from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.errors import FileError, StudyError
from yellow_slope.core.letters import shown
from yellow_slope.core.quickline import said_by
from yellow_slope.core.study.edits.blocks import leave_out_first, name_block
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.entries import set_reference
from yellow_slope.core.study.edits.levels import name_level
from yellow_slope.core.study.edits.models import rename_study, set_level
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.edits.samples import set_rule
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.probe import MOST_PROBES, PickPoints, PickRule, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.gone import let_go_sentence
from yellow_slope.files.opening import open_anything
from yellow_slope.files.safely.atomically import write_whole
from yellow_slope.files.study.studydocument import study_document
from yellow_slope.files.study.studyfile import on_table, packed, unpacked, write_study
from yellow_slope.files.tables.tableschema import schema_of
from yellow_slope.values import replace


def busy_study() -> Study:
    world = noise_world(41)
    world["x"][3] = np.nan
    study = study_of(world, "y", "x, w; x*w, g")
    study = set_reference(describe(study, "x", label="practice", unit="hour"), "g", "top")
    probe = Probe("x", "w", study.model.steps[1].id, PickPoints(PickRule.OWN, (1.25, 3.5)), (("g", "mid"),))
    study = put_probe(dismiss(study, FlagKey(FlagKind.LOST), "one forgotten sheet"), probe)
    study = leave_out_first(study, study.model.blocks[0].terms[1])
    return rename_study(set_level(name_block(study, 1, "does it depend?"), 0.9), "A study")


def test_nothing_is_lost(tmp_path: Path) -> None:
    study = busy_study()
    write_study(study, tmp_path / "s.yslope")
    again = open_anything(tmp_path / "s.yslope")
    for name in ("variables", "name", "source", "samples", "derived", "models", "current", "probes", "dismissals"):
        assert getattr(again, name) == getattr(study, name), name
    for column in study.table.columns:
        other = again.table.column(column.name)
        if isinstance(column, NumberColumn):
            assert isinstance(other, NumberColumn)
            np.testing.assert_array_equal(column.numbers, other.numbers)
        else:
            assert [column.text(i) for i in range(80)] == [other.text(i) for i in range(80)]
    np.testing.assert_array_equal(fit_of(study).last.b, fit_of(again).last.b)


def test_the_same_study_gives_the_same_bytes() -> None:
    assert packed(busy_study()) == packed(busy_study())


def test_the_package_follows_the_open_standard() -> None:
    with zipfile.ZipFile(io.BytesIO(packed(busy_study()))) as archive:
        package = json.loads(archive.read("datapackage.json"))
    resource = package["resources"][0]
    assert resource["path"] == "data.csv.gz"
    fields = {field["name"]: field for field in resource["schema"]["fields"]}
    assert fields["x"]["type"] == "number"
    assert fields["x"]["title"] == "practice"
    assert fields["g"]["categories"][0] == {"value": "low", "label": "low"}


def changed(part: str, change: Callable[[str], str]) -> bytes:
    source = zipfile.ZipFile(io.BytesIO(packed(busy_study())))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as target:
        for name in source.namelist():
            content = source.read(name)
            if name == part:
                text = gzip.decompress(content) if name.endswith(".gz") else content
                content = change(text.decode()).encode()
                content = gzip.compress(content) if name.endswith(".gz") else content
            target.writestr(name, content)
    return out.getvalue()


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"PK\x03\x04 not a package", "not a Yellow Slope study, or it is damaged"),
        (changed("study.json", lambda t: t[:-9]), "study.json is not readable JSON"),
        (
            changed("study.json", lambda t: t.replace('"version": 10', '"version": 11')),
            "written by a newer Yellow Slope",
        ),
        (changed("study.json", lambda t: t.replace('"level": 0.9', '"level": "high"')), "level: a number"),
        (changed("data.csv.gz", lambda t: t.replace("\n", "\nq,", 1)), "its table, row 2: 7 values where"),
        (changed("datapackage.json", lambda t: "{}"), "describes no table"),
        (changed("data.csv.gz", lambda t: t.split("\n")[0] + "\n"), "its table holds no rows"),
    ],
)
def test_damage_is_said_in_a_sentence(content: bytes, said: str) -> None:
    with pytest.raises(FileError, match=said):
        unpacked(content, "s.yslope")


@pytest.mark.parametrize(
    ("here", "there", "said"),
    [
        ('"outcome": "y"', '"outcome": "nobody"', "the outcome nobody"),
        ('"reference": "top"', '"reference": "nowhere"', "the choice of “nowhere” in"),
    ],
)
def test_what_a_study_names_but_does_not_hold_is_let_go_and_said(here: str, there: str, said: str) -> None:
    study = unpacked(changed("study.json", lambda t: t.replace(here, there)), "s.yslope")
    assert said in let_go_sentence(study, study.went)
    again = unpacked(packed(study), "s.yslope")
    assert again.went == ()
    assert again.models == study.models


def test_a_foreign_package_is_refused() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("letter.txt", "hello")
    with pytest.raises(FileError, match=r"is not a Yellow Slope study: it holds no datapackage\.json"):
        unpacked(out.getvalue(), "letter.zip")


@pytest.mark.parametrize(
    ("part", "said"),
    [
        ("word/document.xml", "is an office document"),
        ("xl/workbook.bin", "is a spreadsheet of a binary format: save it as .xlsx"),
        ("letter.txt", "is an archive of other files"),
    ],
)
def test_other_archives_are_told_from_a_study(tmp_path: Path, part: str, said: str) -> None:
    with zipfile.ZipFile(tmp_path / "learners.yslope", "w") as archive:
        archive.writestr("[Content_Types].xml", "<Types/>")
        archive.writestr(part, "<nothing/>")
    with pytest.raises(FileError, match=said):
        open_anything(tmp_path / "learners.yslope")


@pytest.mark.parametrize("cut", [0.2, 0.5, 0.9, 0.99])
def test_a_file_cut_short_is_refused(cut: float) -> None:
    content = packed(busy_study())
    with pytest.raises(FileError):
        unpacked(content[: int(len(content) * cut)], "s.yslope")


def test_writing_is_whole_or_not_at_all(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    target = tmp_path / "s.yslope"
    write_whole(target, b"before")

    def full_disk(_: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full_disk)
    with pytest.raises(FileError, match="no space left"):
        write_whole(target, b"after")
    assert target.read_bytes() == b"before"
    assert os.listdir(tmp_path) == ["s.yslope"]


def test_a_folder_that_is_not_there_is_said(tmp_path: Path) -> None:
    with pytest.raises(FileError, match="cannot be written: no such file or directory"):
        write_whole(tmp_path / "nowhere" / "s.yslope", b"x")


def test_what_stands_in_the_way_is_said_or_passed_by(tmp_path: Path) -> None:
    """Parts of others, folders of a part's name, protected files, the longest names, names that are no text."""
    target = tmp_path / "a.yslope"
    (tmp_path / ".a.yslope.99999999999999999999999.x.part").write_text("a process of no such number")
    (tmp_path / ".a.yslope.4194305.x.part").mkdir()
    (tmp_path / ".a.yslope.4194305.x.part" / "kept").write_text("somebody's")
    write_whole(target, b"one")
    assert target.read_bytes() == b"one"
    assert (tmp_path / ".a.yslope.4194305.x.part" / "kept").exists()
    target.chmod(0o444)
    with pytest.raises(FileError, match="protected against writing"):
        write_whole(target, b"two")
    assert target.read_bytes() == b"one"
    target.chmod(0o640)
    write_whole(target, b"three")
    assert target.stat().st_mode & 0o777 == 0o640
    long = tmp_path / ("x" * 248 + ".yslope")
    write_whole(long, b"four")
    assert long.read_bytes() == b"four"
    strange = tmp_path / os.fsdecode(b"caf\xe9.yslope")
    write_whole(strange, b"five")
    assert strange.read_bytes() == b"five"
    assert shown(str(strange)).endswith("caf\ufffd.yslope")
    shown(str(strange)).encode("utf-8")


def nested(depth: int) -> str:
    """A rule of so many parentheses in each other, by turns of “or” and “and”."""
    text = "x at least 1"
    for i in range(depth):
        text = f"({text} or w at least {i}) and x at most {50 + i}"
    return text


@pytest.mark.parametrize(
    "text",
    [
        *(nested(depth) for depth in (1, 10, 19, 30, DEEPEST - 2)),
        "not " * (DEEPEST - 1) + "x at least 1",
        "(" * DEEPEST + "x at least 1" + ")" * DEEPEST,
        " and ".join(["x at least 1"] * 3000),
    ],
)
def test_every_rule_that_can_be_typed_opens_again(text: str) -> None:
    study = study_of(noise_world(41), "y", "x, w")
    ruled = set_rule(study, typed_condition(text, study.variables))
    again = unpacked(packed(ruled), "s")
    assert again.samples == ruled.samples


@pytest.mark.parametrize(
    "text",
    [
        "+".join(["x"] * (MOST_OPERATIONS + 1)),
        "*".join(["x"] * 63),
        " ".join(f"{i} if x at least {i} else" for i in range(DEEPEST)) + " 0",
        "1 if " + "not " * (DEEPEST - 1) + "x at least 1 else 0",
        "(" * DEEPEST + "x" + ")" * DEEPEST,
        "-" * DEEPEST + "x",
        "/".join(["(x+w)"] * 50),
    ],
)
def test_every_column_that_can_be_computed_opens_again(text: str) -> None:
    study = derive(study_of(noise_world(41), "y", "x, w"), "made", text)
    again = unpacked(packed(study), "s")
    assert again.derived == study.derived
    np.testing.assert_array_equal(again.columns.numbers("made"), study.columns.numbers("made"))


@pytest.mark.parametrize(
    "text",
    ["+".join(["x"] * 500), "(" * 400 + "x" + ")" * 400, "-" * 3000 + "x", "1 if " + "not " * 999 + "x is 1 else 0"],
)
def test_what_is_beyond_all_bounds_is_refused_at_once(text: str) -> None:
    study = study_of(noise_world(41), "y", "x, w")
    with pytest.raises(StudyError) as refused:
        derive(study, "made", text)
    assert len(str(refused.value)) < 400
    with pytest.raises(StudyError):
        said_by(study, "y = " + "(" * 500 + "x" + ")" * 500)


@pytest.mark.parametrize("label", ["a\0b", "\\u0000", "\\\\u0000 and \0", "\x01\x1f\x7f", "half \ud800", "x" * 10_000])
def test_whatever_stands_in_a_name_the_study_opens_again(label: str) -> None:
    study = rename_study(describe(study_of(noise_world(41), "y", "x, w"), "x", label=label, unit=label), label or "s")
    again = unpacked(packed(study), "s")
    assert again.variable("x").label == shown(label).strip()
    assert "\ufffd" in again.variable("x").label or label.isprintable()
    assert unpacked(packed(again), "s").variables == again.variables


def test_a_name_has_a_bound() -> None:
    study = study_of(noise_world(41), "y", "x, w, g")
    with pytest.raises(StudyError, match="has 300,000 letters"):
        describe(study, "x", label="x" * 300_000)
    with pytest.raises(StudyError, match="has 10,001 letters"):
        name_level(study, "g", study.variable("g").levels[0].code, "x" * 10_001)


def test_more_than_can_be_worked_with_is_refused() -> None:
    study = study_of(noise_world(41), "y", "x, w; x*w")
    probes = tuple(Probe("x", "w", model=f"m{k}") for k in range(MOST_PROBES))
    with pytest.raises(StudyError, match="1,000 probes already"):
        put_probe(replace(study, probes=probes), Probe("w", "x"))
    with pytest.raises(StudyError, match="2,000 variables already"):
        derive(replace(study, derived=(Derived("d", Constant(1.0)),) * MOST_COMPUTED), "made", "x + 1")
    document = study_document(study)
    document["probes"] = [{"focal": "x", "moderator": "w"}] * (MOST_PROBES + 1)
    with pytest.raises(FileError, match="probes"):
        on_table(document, schema_of(study), study.table, "s")


@pytest.mark.no_cover
def test_a_chain_of_computed_variables_has_no_end() -> None:
    """Each made of the one before, or of the two before: computed once, however deep."""
    study = study_of(noise_world(41), "y", "x, w")
    for text in ("{one} + 1", "{one} / 2 + {other} / 2"):
        found, one, other = study, "x", "w"
        for k in range(120):
            found = derive(found, f"d{k}", text.format(one=one, other=other))
            one, other = f"d{k}", one
        assert np.isfinite(found.columns.numbers(one)).all()
        again = unpacked(packed(found), "s")
        assert np.array_equal(again.columns.numbers(one), found.columns.numbers(one))
