"""The commands without a window, as a person would use them."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import jsonschema
import pytest

from tests.support.places import SCHEMAS
from tests.support.worlds import fit_of
from yellow_slope import cli
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.checks import check_named, check_title
from yellow_slope.demo.learners import SPEC, STUDY, TABLE
from yellow_slope.files.opening import open_anything
from yellow_slope.files.safely.logfile import begin_log
from yellow_slope.files.schemas import DOCUMENTS, schema_of


def run(*arguments: object) -> int:
    return cli.main([str(a) for a in arguments])


@pytest.fixture(scope="module")
def results(tmp_path_factory: pytest.TempPathFactory) -> dict:  # type: ignore[type-arg]
    target = tmp_path_factory.mktemp("results") / "results.json"
    assert run("evaluate", STUDY, "--to", target) == 0
    return dict(json.loads(target.read_text()))


def test_results_follow_their_documented_schema(results: dict) -> None:  # type: ignore[type-arg]
    jsonschema.validate(results, json.loads((SCHEMAS / "results.schema.json").read_text()))


def test_results_hold_every_number_at_full_precision(results: dict, demo: Study) -> None:  # type: ignore[type-arg]
    fit = fit_of(demo)
    for shown, step in zip(results["models"][0]["steps"], fit.steps):
        assert shown["r2"] == step.r2
        assert shown["change"]["f"] == step.change.test.f
        assert [c["b"] for c in shown["coefficients"]] == [float(b) for b in step.b]
        assert [c["se"] for c in shown["coefficients"]] == [float(b) for b in step.se]
        assert shown["covariance"][2][3] == float(step.covariance[2, 3])
    worry = probe_fit(demo, fit, Probe("practice", "worry")).panels[0].foci[0]
    assert worry.curve is not None
    shown = next(p for p in results["probes"] if p["asked"]["moderator"] == "worry")["panels"][0]
    regions = shown["foci"][0]["regions"]
    assert [r["high"] for r in regions["regions"][:-1]] == list(worry.curve.boundaries())
    assert regions["critical"] == worry.curve.pointwise
    assert shown["foci"][0]["effects"][1]["effect"] == worry.effects[1].effect


@pytest.mark.parametrize("name", sorted(DOCUMENTS))
def test_the_documented_schemas_are_those_of_the_program(name: str) -> None:
    assert json.loads((SCHEMAS / f"{name}.schema.json").read_text()) == json.loads(
        json.dumps(schema_of(DOCUMENTS[name]))
    )


def test_new_makes_the_demo_study_from_its_description(tmp_path: Path, demo: Study) -> None:
    target = tmp_path / "made.yslope"
    assert run("new", TABLE, "--spec", SPEC, "--to", target) == 0
    made = open_anything(target)
    assert (made.model.blocks, made.variables, made.probes) == (demo.model.blocks, demo.variables, demo.probes)
    jsonschema.validate(json.loads(SPEC.read_text()), json.loads((SCHEMAS / "spec.schema.json").read_text()))


def test_report_is_one_file_that_needs_nothing_else(tmp_path: Path) -> None:
    target = tmp_path / "report.html"
    assert run("report", STUDY, "--to", target, "--step", 2) == 0
    text = target.read_text()
    assert "Equation of step 2" in text
    assert "<svg" in text
    outside = [part for part in ('src="http', 'href="http', "url(http", "@import") if part in text]
    assert not outside


def test_figures(tmp_path: Path) -> None:
    png, svg = tmp_path / "f.png", tmp_path / "f.svg"
    assert run("figure", STUDY, "--to", png, "--to", svg, "--dpi", 150, "--probe", 2) == 0
    assert png.read_bytes().startswith(b"\x89PNG")
    assert int.from_bytes(png.read_bytes()[16:20], "big") == int(6.5 * 150)
    assert b"<svg" in svg.read_bytes()


@pytest.mark.parametrize("name", ["robustness", *(check.value for check in Check)])
def test_the_plot_of_each_check(name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    svg = tmp_path / "f.svg"
    assert run("figure", STUDY, "--check", name, "--to", svg) == 0
    assert b"<svg" in svg.read_bytes()
    said = capsys.readouterr().out
    assert said.startswith(check_title(check_named(name)))
    assert "resampled." not in said


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["figure", STUDY, "--to", "f.png", "--check", "colour"], "There is no check “colour”"),
        (["evaluate", "nowhere.yslope", "--to", "r.json"], "nowhere.yslope cannot be read"),
        (["report", STUDY, "--to", "r.html", "--step", "9"], "no step 9"),
        (["figure", STUDY, "--to", "f.bmp"], "written as .png, .svg, .pdf, .tiff or .csv"),
        (["figure", STUDY, "--to", "f.png", "--probe", "7"], "no number 7"),
        (["evaluate", TABLE, "--to", "r.json"], "Choose an outcome"),
    ],
)
def test_refusals_are_a_sentence_and_exit_code_1(
    arguments: list[object],
    said: str,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.chdir(tmp_path)
    assert run(*arguments) == 1
    assert said in capsys.readouterr().err


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"outcome": None}, "outcome: a text in quotes is expected here, not null."),
        ({"outcomes": "control"}, "“outcomes” is not known here; did you mean “outcome”?"),
        ({"outcome": "nobody"}, "no variable named “nobody”"),
        ({"blocks": [[["coaching", "coaching"]]]}, "multiplied with itself"),
        ({"variables": {"coaching": {"reference": "nowhere"}}}, "no level “nowhere”"),
    ],
)
def test_mistakes_in_a_description_are_placed(
    change: dict[str, object], said: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    spec = tmp_path / "spec.json"
    spec.write_text(json.dumps({**json.loads(SPEC.read_text()), **change}))
    assert run("new", TABLE, "--spec", spec, "--to", tmp_path / "s.yslope") == 1
    assert said in capsys.readouterr().err
    assert not (tmp_path / "s.yslope").exists()


def test_a_wrong_command_line_is_exit_code_2() -> None:
    assert run("evaluate") == 2


def test_results_can_be_piped_and_the_pipe_may_close_early() -> None:
    command = f"{sys.executable} -m yellow_slope evaluate {STUDY} --to - | head -n 3"
    done = subprocess.run(command, shell=True, capture_output=True, text=True, check=True)
    assert done.stdout.splitlines()[1] == ' "format": "yellow-slope-results",'
    assert "Traceback" not in done.stderr


def test_the_demo_without_a_display(tmp_path: Path) -> None:
    environment = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")}
    command = [sys.executable, "-m", "yellow_slope", "demo", "--to", str(tmp_path / "demo")]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, check=True)
    made = {p.name for p in (tmp_path / "demo").iterdir()}
    assert {"report.html", "results.json", "figure-1.png", "figure-1.svg"} <= made
    assert str(tmp_path / "demo") in done.stdout


def test_a_line_makes_the_model_and_is_printed_back(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    whole = "control = practice, coaching; practice x coaching"
    first, second, bare = tmp_path / "first.yslope", tmp_path / "second.yslope", tmp_path / "bare.csv"
    bare.write_bytes(TABLE.read_bytes())
    assert (
        run(
            "new",
            TABLE,
            "--line",
            whole,
            "--line",
            "block 1: age",
            "--line",
            "without practice x coaching",
            "--to",
            first,
        )
        == 0
    )
    capsys.readouterr()
    assert run("line", first) == 0
    said = capsys.readouterr().out.strip()
    assert said.startswith("control = practice")
    assert run("new", bare, "--line", said, "--to", second) == 0
    one, other = open_anything(first), open_anything(second)
    assert [b.terms for b in one.model.blocks] == [b.terms for b in other.model.blocks]
    assert [t.variables for t in one.model.terms] == [("practice",), ("coaching",), ("age",)]


def test_a_mistake_in_a_line_is_named_by_its_character(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    target = tmp_path / "x.yslope"
    assert run("new", TABLE, "--line", "control = practice, nobody", "--to", target) == 1
    assert "character 21" in capsys.readouterr().err
    assert run("new", TABLE, "--to", target) == 1
    assert "give --line, --spec or both" in capsys.readouterr().err
    assert not target.exists()


def test_a_line_works_on_what_a_description_says(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    target = tmp_path / "x.yslope"
    assert run("new", TABLE, "--spec", SPEC, "--line", "control = practice centered x balance", "--to", target) == 0
    study = open_anything(target)
    assert [t.variables for t in study.model.terms] == [("practice", "balance")]
    assert run("line", STUDY, "--model", 9) == 1
    assert "there is no number 9" in capsys.readouterr().err
    assert run("line", target) == 0
    assert "centered" in capsys.readouterr().out


@pytest.mark.parametrize("name", ["r.doc", "r.xls", "r.txt", "r"])
def test_a_report_is_not_written_under_the_name_of_another_format(
    name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert cli.main(["report", str(STUDY), "--to", str(tmp_path / name)]) == 1
    assert "a report is written as .html, .docx, .odt, .pdf, .tex or .md" in capsys.readouterr().err
    assert not (tmp_path / name).exists()


def test_one_block_is_one_block(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    to = tmp_path / "s.yslope"
    assert cli.main(["new", str(TABLE), "--line", "control = age", "--to", str(to)]) == 0
    assert capsys.readouterr().out.endswith("240 cases, 1 block\n")


def test_a_command_does_not_write_onto_what_it_reads(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    table, spec, study = tmp_path / "learners.csv", tmp_path / "spec.json", tmp_path / "s.yslope"
    table.write_bytes(TABLE.read_bytes())
    spec.write_text('{"outcome": "control", "blocks": [{"terms": ["practice", "worry"]}]}')
    (tmp_path / "learners.codebook.csv").write_text("name,meaning\npractice,Practice\n")
    assert run("new", table, "--spec", spec, "--to", study) == 0
    before = {path: path.read_bytes() for path in tmp_path.iterdir()}
    for command in (
        ("new", table, "--spec", spec, "--to", table),
        ("new", table, "--spec", spec, "--to", spec),
        ("new", table, "--spec", spec, "--to", tmp_path / "learners.codebook.csv"),
        ("new", study, "--spec", spec, "--to", study),
        ("evaluate", study, "--to", study),
        ("evaluate", study, "--to", table),
        ("evaluate", study, "--to", "-", "--cases", table),
        ("evaluate", study, "--to", tmp_path / "r.json", "--cases", tmp_path / "r.json"),
        ("export", study, "--to", table),
        ("export", study, "--to", tmp_path / "learners.tsv"),
    ):
        assert run(*command) == 1, command
        assert "not written over" in (said := capsys.readouterr().err) or "named twice" in said
    assert {path: path.read_bytes() for path in tmp_path.iterdir()} == before


def test_control_characters_do_not_reach_the_terminal(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Of a file's name, a variable's, a refusal's line; and an old terminal takes what it can write."""
    table = tmp_path / "a\x1b[2Jb.csv"
    table.write_text("x,y\x1b]0;z\x07\n" + "\n".join(f"{i},{i * i % 7}" for i in range(30)))
    study = tmp_path / "s.yslope"
    assert run("new", table, "--line", "x = 1", "--to", study) == 1
    assert run("new", table, "--line", "x = y\x1b]0;z\x07", "--to", study) == 0
    assert run("line", study) == 0
    assert run("evaluate", table, "--to", "-") == 1
    out = capsys.readouterr()
    assert not {c for c in out.err + out.out.replace("\n", "") if ord(c) < 32 and c not in "\n\t"}


def test_an_ascii_terminal_takes_what_it_can_write(tmp_path: Path) -> None:
    code = "from yellow_slope import cli; import sys; sys.exit(cli.main(sys.argv[1:]))"
    missing = tmp_path / "caf\u00e9.yslope"
    done = subprocess.run(
        [sys.executable, "-c", code, "line", str(missing)],
        env={**os.environ, "PYTHONIOENCODING": "ascii", "PYTHONUTF8": "0"},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 1
    assert "caf?.yslope" in done.stderr
    assert "Traceback" not in done.stderr


def test_verbose_says_what_is_done(tmp_path: Path, capfd: pytest.CaptureFixture[str]) -> None:
    assert cli.main(["--verbose", "line", str(STUDY)]) == 0
    assert "Yellow Slope" in capfd.readouterr().err
    begin_log()
