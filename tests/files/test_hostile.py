"""Files that mean no good, or were damaged: refused in a sentence or opened, never a traceback, a hang or a study that
cannot be reopened."""

from __future__ import annotations

import json
import os
import random
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from tests.support.mutating import archive_of, members_of, mutated, mutated_archive, rich_study
from tests.support.seeds import few
from tests.support.worlds import noise_world, study_of
from yellow_slope import cli
from yellow_slope.core.errors import FileError, YellowSlopeError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.demo.learners import STUDY, TABLE
from yellow_slope.files.opening import open_anything
from yellow_slope.files.spec import read_spec, study_from
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.files.written.results import results_document

MUTATIONS = int(os.environ.get("YELLOW_SLOPE_MUTATIONS") or few(60, 150))
"""Of each kind of file; 1,400 of each make the 4,000 of a whole run."""
SPEC = {"outcome": "y", "blocks": [[["x"], ["w"]], [["x", "w"]]], "probes": [{"focal": "x", "moderator": "w"}]}


def run(tmp_path: Path, table: str | bytes, spec: dict[str, Any] | bytes) -> int:
    """`new` and then `evaluate`; the exit code of the first that fails, else 0."""
    path, said, study = tmp_path / "t.csv", tmp_path / "s.json", tmp_path / "s.yslope"
    path.write_bytes(table if isinstance(table, bytes) else table.encode())
    said.write_bytes(spec if isinstance(spec, bytes) else json.dumps(spec).encode())
    code = cli.main(["new", str(path), "--spec", str(said), "--to", str(study)])
    return code or cli.main(["evaluate", str(study), "--to", str(tmp_path / "r.json")])


def rows(n: int = 30, more: Callable[[int], str] = lambda k: "1") -> str:
    rng = np.random.default_rng(5)
    x, w = rng.normal(size=n), rng.normal(size=n)
    y = x + w + rng.normal(size=n)
    return "x,w,y,more\n" + "".join(f"{a:.4f},{b:.4f},{c:.4f},{more(k)}\n" for k, (a, b, c) in enumerate(zip(x, w, y)))


def test_infinity_anywhere_is_no_value(tmp_path: Path) -> None:
    assert run(tmp_path, rows(more=lambda k: "inf" if k == 3 else "1.5"), SPEC) == 0
    study = open_anything(tmp_path / "s.yslope")
    assert np.isfinite(study.columns.numbers("more")[[2, 4]]).all()
    assert np.isnan(study.columns.numbers("more")[3])
    assert study.table.column("more").stray[0].text == "inf"  # type: ignore[union-attr]


@pytest.mark.parametrize("cell", ["a\rb", "a\nb", 'a"b', "x" * 200_000, "=1+1", "'", ",", "ü\u2028b"])
def test_whatever_a_cell_or_a_name_holds_is_saved_and_reopened(tmp_path: Path, cell: str) -> None:
    quoted, name = '"' + cell.replace('"', '""') + '"', cell[:9_000]
    head = '"' + name.replace('"', '""') + '"'
    table = rows(more=lambda k: quoted if k % 2 else "z").replace("more\n", f"{head}\n", 1)
    assert run(tmp_path, table, SPEC) == 0
    study = open_anything(tmp_path / "s.yslope")
    assert study.table.names[3] == name
    assert study.table.column(name).text(1) == cell


def test_a_name_beyond_all_bounds_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(tmp_path, rows(more=lambda k: "z").replace("more\n", "x" * 300_000 + "\n", 1), SPEC) == 1
    said = capsys.readouterr().err
    assert "has 300,000 letters" in said
    assert len(said) < 300


def test_a_user_that_is_not_known(capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(FileError, match="no such user"):
        open_anything(Path("~nobody-of-that-name/t.csv"))
    assert cli.main(["evaluate", "~nobody-of-that-name/t.yslope", "--to", "r.json"]) == 1
    assert "no such user" in capsys.readouterr().err


def test_a_name_that_no_file_can_have() -> None:
    with pytest.raises(FileError, match="no file can have such a name"):
        open_anything(Path("a\x00b.csv"))


@pytest.mark.parametrize(
    "field",
    [
        {"name": "more", "categories": [{"value": "inf"}, {"value": 1}]},
        {"name": "more", "categories": [{"value": 1e999}, {"value": 1}]},
        {"name": "more", "categories": [{"value": "low"}, {"value": 1}]},
        {"name": "more", "categories": [{"value": 0, "also": ["zero"]}, {"value": 1}]},
        {"name": "more", "constraints": {"minimum": "-inf", "maximum": 3}},
        {"name": "more", "given": {"x": "inf"}},
        {"name": "more", "categories": 7},
        {"name": "more", "missingValues": 7},
    ],
)
def test_codes_and_limits_that_are_no_numbers(tmp_path: Path, field: dict[str, Any]) -> None:
    (tmp_path / "t.csv").write_text(rows(more=lambda k: str(k % 3)))
    (tmp_path / "t.schema.json").write_text(json.dumps({"fields": [field]}))
    with pytest.raises(FileError, match=r"the description of “more” cannot be understood|is not a number"):
        open_anything(tmp_path / "t.csv")


@pytest.mark.parametrize("code", ["zero", "inf", "-inf", "nan", "1e400", ""])
def test_levels_of_numbers_that_are_no_numbers(tmp_path: Path, code: str, capsys: pytest.CaptureFixture[str]) -> None:
    levels = {"kind": "group", "levels": {code: "none", "1": "one", "2": "two"}}
    assert run(tmp_path, rows(more=lambda k: str(k % 3)), {**SPEC, "variables": {"more": levels}}) == 1
    assert f"“more” holds numbers; a level of it cannot have the code “{code}”." in capsys.readouterr().err


def test_a_code_is_the_number_it_says(tmp_path: Path) -> None:
    levels = {"kind": "group", "levels": {"0.0": "none", "1.0": "one", "2e0": "two"}}
    assert run(tmp_path, rows(more=lambda k: str(k % 3)), {**SPEC, "variables": {"more": levels}}) == 0
    study = open_anything(tmp_path / "s.yslope")
    assert [level.code for level in study.variable("more").levels] == ["0", "1", "2"]
    assert set(study.columns.levels("more").tolist()) == {0, 1, 2}


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"blocks": [[["x"], ["x"]]]}, ""),
        ({"blocks": [[["x"]], [["x"], ["w"]]]}, ""),
        ({"probes": [{"focal": "x", "moderator": "w", "pick": "own values", "values": []}]}, "No pick points"),
        ({"name": "half \ud800 a character"}, "half a character"),
        ({"name": "zero \x00"}, "code 0"),
        ({"level": 10**400}, "too large"),
    ],
)
def test_descriptions_that_cannot_be_meant(
    tmp_path: Path, change: dict[str, Any], said: str, capsys: pytest.CaptureFixture[str]
) -> None:
    code = run(tmp_path, rows(), {**SPEC, **change})
    err = capsys.readouterr().err
    assert "Traceback" not in err
    if code == 0:
        again = open_anything(tmp_path / "s.yslope")
        assert unpacked(packed(again), "again").models == again.models
        terms = again.model.terms
        assert len(set(terms)) == len(terms), "a term stands once"
    else:
        assert said in err


def test_a_mark_at_the_beginning_of_a_description(tmp_path: Path) -> None:
    assert run(tmp_path, rows(), b"\xef\xbb\xbf" + json.dumps(SPEC).encode()) == 0


@pytest.mark.parametrize(
    ("spec", "said"),
    [
        (b"[" * 100_000, "not readable JSON|nested"),
        (b'{"outcome":' * 5000 + b"1" + b"}" * 5000, "nested"),
        (b"\xff\xfe{", "not in UTF-8"),
        (b'{"level": NaN}', "not a number"),
        (b"", "not readable JSON"),
    ],
)
def test_json_that_is_none(tmp_path: Path, spec: bytes, said: str) -> None:
    (tmp_path / "s.json").write_bytes(spec)
    with pytest.raises(FileError, match=said):
        read_spec(tmp_path / "s.json")


def test_a_rule_of_many_mistakes_is_refused_at_once(tmp_path: Path) -> None:
    rule: dict[str, Any] = {"nothing": 1}
    for _ in range(20):
        rule = {"all": [rule, {"any": [rule]}]} if len(json.dumps(rule)) < 4000 else {"not": rule}
    (tmp_path / "s.json").write_text(json.dumps({**SPEC, "samples": [{"name": "s", "rule": rule}]}))
    (tmp_path / "t.csv").write_text(rows())
    with pytest.raises(YellowSlopeError):
        study_from(tmp_path / "t.csv", read_spec(tmp_path / "s.json"))


@pytest.mark.parametrize("dpi", ["0", "-5", "20000", "nan", "many"])
def test_sharpness_out_of_reach(tmp_path: Path, dpi: str, capsys: pytest.CaptureFixture[str]) -> None:
    try:
        code = cli.main(["figure", str(STUDY), "--to", str(tmp_path / "f.png"), "--dpi", dpi])
    except SystemExit as end:
        code = int(end.code or 0)
    assert code in (1, 2)
    assert "Traceback" not in capsys.readouterr().err
    assert not (tmp_path / "f.png").exists()


def test_numbers_at_the_end_of_what_can_be_told() -> None:
    """What is tiny is not said to be the same for all cases, what is huge does not end in an error."""
    world = noise_world(6)
    small = {**world, "x": world["x"] * 1e-200}
    said = evaluate(study_of(small, "y", "x, w")).problem
    assert said.startswith("x nowhere exceeds")
    assert said.endswith("Choose a smaller unit.")
    huge = {**world, "y": world["y"] * 1e155}
    assert evaluate(study_of(huge, "y", "x, w; x*w")).problem.startswith("y runs up to")
    products = {**world, "x": world["x"] * 1e90, "w": world["w"] * 1e90}
    assert evaluate(study_of(products, "y", "x, w; x*w")).problem.startswith("x × w runs up to")
    near = {**world, "x": world["x"] * 1e-60, "y": world["y"] * 1e60}
    fit, usual = evaluate(study_of(near, "y", "x, w")).fit, evaluate(study_of(world, "y", "x, w")).fit
    assert fit is not None
    assert usual is not None
    assert fit.last.r2 == pytest.approx(usual.last.r2, rel=1e-9)


# ---- study files


@pytest.mark.parametrize("method", [zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA])
def test_damage_in_members_of_every_method(method: int) -> None:
    content = bytearray(archive_of(list(members_of(STUDY.read_bytes()).items()), method))
    rng = random.Random(method)
    for _ in range(25):
        hurt = bytearray(content)
        for _ in range(4):
            hurt[rng.randrange(len(hurt))] ^= 1 << rng.randrange(8)
        try:
            unpacked(bytes(hurt), "s.yslope")
        except FileError as error:
            assert "s.yslope" in str(error)  # noqa: PT017


@pytest.mark.filterwarnings("ignore:Duplicate name")
def test_two_members_of_one_name() -> None:
    parts = list(members_of(STUDY.read_bytes()).items())
    with pytest.raises(FileError, match="one of them twice"):
        unpacked(archive_of([*parts, parts[1]]), "s.yslope")


def test_too_many_members() -> None:
    parts = list(members_of(STUDY.read_bytes()).items())
    with pytest.raises(FileError, match="too many parts"):
        unpacked(archive_of([*parts, *((f"x{k}", b"") for k in range(100))]), "s.yslope")


def test_a_table_that_unpacks_beyond_bounds(monkeypatch: pytest.MonkeyPatch) -> None:
    from yellow_slope.files.study import packedtable

    monkeypatch.setattr(packedtable, "most_bytes", lambda: 1 << 10)
    with pytest.raises(FileError, match="more than"):
        unpacked(STUDY.read_bytes(), "s.yslope")


def test_pipes_and_devices_are_refused_at_once(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.csv")
    for path in (tmp_path / "pipe.csv", Path("/dev/zero"), tmp_path):
        with pytest.raises(FileError, match=r"not a regular file|is a folder"):
            open_anything(path)


# ---- mutations


def survives(act: Callable[[], Any]) -> None:
    """It works, or is refused in a sentence; what works can be saved and reopened."""
    try:
        study = act()
    except YellowSlopeError as error:
        assert str(error).strip()  # noqa: PT017
        return
    again = unpacked(packed(study), "again.yslope")
    assert (again.models, again.variables) == (study.models, study.variables)
    assert (again.derived, again.samples) == (study.derived, study.samples)
    evaluation = evaluate(again)
    results_document(evaluation)


@pytest.mark.no_cover
def test_mutated_tables(tmp_path: Path) -> None:
    content = TABLE.read_bytes()[:3000]
    for k in range(MUTATIONS):
        (tmp_path / "t.csv").write_bytes(mutated(content, random.Random(k)))
        survives(lambda: open_anything(tmp_path / "t.csv"))


MORE = {
    "derived": {"z": "8 - x", "often": "1 if x at least 1 else 0"},
    "samples": [{"name": "s", "rule": "x at most 9 or z missing", "aside": [{"rows": [2], "reason": "odd"}]}],
    "sample": "s",
}


def test_mutated_descriptions(tmp_path: Path) -> None:
    (tmp_path / "t.csv").write_text(rows())
    content = json.dumps(
        {**SPEC, "variables": {"x": {"treatment": "centered", "label": "x"}}, "level": 0.9, **MORE}
    ).encode()
    for k in range(MUTATIONS):
        (tmp_path / "s.json").write_bytes(mutated(content, random.Random(k)))
        survives(lambda: study_from(tmp_path / "t.csv", read_spec(tmp_path / "s.json")))


@pytest.mark.no_cover
def test_mutated_studies(tmp_path: Path) -> None:
    whole = packed(rich_study())
    for k in range(MUTATIONS):
        content = mutated_archive(whole, random.Random(k))
        (tmp_path / "s.yslope").write_bytes(content)
        survives(lambda: open_anything(tmp_path / "s.yslope"))


def test_of_what_is_quoted_at_length_the_beginning_is_said() -> None:
    said = str(FileError(f"There is no variable named “{'x' * 5000}”, and none named “y”."))
    assert said == f"There is no variable named “{'x' * 200} …”, and none named “y”."
