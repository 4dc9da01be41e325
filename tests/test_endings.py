"""How a command ends, whatever it is given and wherever it runs: the right code, one sentence, never a traceback."""

from __future__ import annotations

import argparse
import json
import os
import re
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import pytest

from yellow_slope import cli, start
from yellow_slope.demo.learners import STUDY, TABLE
from yellow_slope.files.opening import open_anything
from yellow_slope.files.safely.plans import PART, SUFFIX, begin_of, plan_folder

TEN = b"%PDF", b"\x89PNG", b"II*\0", b"PK\x03\x04", b"PAR1"
"""How files that are no text begin."""


def commands() -> dict[str, argparse.ArgumentParser]:
    top, names = cli.command_line()
    found = next(a for a in top._actions if isinstance(a, argparse._SubParsersAction))
    assert list(found.choices) == names
    return dict(found.choices)


def endings() -> list[tuple[str, str]]:
    """Each command with each ending that its help names for what it writes."""
    named = []
    for name, parser in commands().items():
        for action in parser._actions:
            if "--to" in action.option_strings or "--cases" in action.option_strings:
                named += [(name, e) for e in re.findall(r"\.[a-z]+\b", action.help or "")]
    return named


def test_help_names_every_ending() -> None:
    assert len(endings()) == 19
    assert len(set(endings())) == 19


@pytest.mark.parametrize(("name", "ending"), endings())
def test_every_ending_that_help_names_is_written(name: str, ending: str, tmp_path: Path) -> None:
    target = tmp_path / f"out{ending}"
    more: dict[str, list[str]] = {
        "new": ["--line", "control = practice"],
        "evaluate": ["--to", str(tmp_path / "r.json"), "--cases", str(target)],
    }
    given = more.get(name, [])
    to = [] if str(target) in given else ["--to", str(target)]
    assert cli.main([name, str(TABLE if name == "new" else STUDY), *given, *to]) == 0
    content = target.read_bytes()
    assert content.startswith(TEN) or content.decode("utf-8").strip()


@pytest.mark.parametrize("given", [["--check", "normal"], ["--check", "robustness"], ["--probe", "2"], []])
def test_the_numbers_behind_a_figure_of_a_probe_or_a_check(given: list[str], tmp_path: Path) -> None:
    numbers, picture = tmp_path / "f.csv", tmp_path / "f.svg"
    assert cli.main(["figure", str(STUDY), *given, "--to", str(numbers), "--to", str(picture)]) == 0
    head, *rows = numbers.read_text(encoding="utf-8").splitlines()
    assert head == "plot,panel,line,x,at,y,value,low,high"
    assert len(rows) > 5
    assert b"<svg" in picture.read_bytes()


DIGITS, LONG = "9" * 5000, "a" * 300


@pytest.mark.parametrize(
    ("given", "code", "said"),
    [
        (["evaluat", STUDY, "--to", "r.json"], 2, "there is no command “evaluat”; did you mean “evaluate”?"),
        (["--verbose", "nothing"], 2, "there is no command “nothing”."),
        (["nowhere.yslope"], 1, "nowhere.yslope cannot be read"),
        (["figure", STUDY, "--to", "f.svg", "--probe", DIGITS], 1, "there is no number 999999."),
        (["figure", STUDY, "--to", "f.svg", "--panel", DIGITS], 2, "a whole number is expected here"),
        (["figure", STUDY, "--to", "f.svg", "--dpi", "¹²"], 2, "a whole number is expected here"),
        (["figure", STUDY, "--to", "f.svg", "--figure", "f", "--width", f"{DIGITS}cm"], 1, "the study has none"),
        (["report", STUDY, "--to", "r.html", "--parts", DIGITS], 2, "invalid choice"),
        (["new", TABLE, "--line", f"control = practice at {DIGITS}", "--to", "s.yslope"], 1, "character"),
        (["new", TABLE, "--line", f"control = practice centered at {DIGITS}", "--to", "s.yslope"], 1, ""),
        (["evaluate", LONG, "--to", "r.json"], 1, "file name too long"),
        (["evaluate", STUDY, "--to", LONG], 1, "file name too long"),
        (["report", STUDY, "--to", f"{LONG}.md"], 1, "file name too long"),
        (["export", STUDY, "--to", f"{LONG}.csv"], 1, "file name too long"),
        (["figure", STUDY, "--to", f"{LONG}/f.png"], 1, "file name too long"),
        (["new", LONG, "--spec", LONG, "--line", "a = b", "--to", LONG], 1, "file name too long"),
        (["open", LONG], 1, "cannot be read"),
        (["demo", "--to", LONG], 1, "file name too long"),
        (["evaluate", "a\0b", "--to", "r.json"], 1, "no file can have such a name"),
        (["evaluate", STUDY, "--to", "a\0b.json"], 1, "no file can have such a name"),
        (["report", STUDY, "--to", "a\0b.html"], 1, "no file can have such a name"),
        (["evaluate", "/proc/kmsg", "--to", "r.json"], 1, "cannot be read"),
        (["evaluate", "/dev/zero", "--to", "r.json"], 1, "not a regular file"),
        (["evaluate", STUDY, "--to", "/dev/full"], 1, "not a regular file"),
        (["evaluate", "/", "--to", "r.json"], 1, "is a folder"),
    ],
)
def test_what_is_refused(
    given: list[object],
    code: int,
    said: str,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.chdir(tmp_path)
    monkeypatch.delenv("DISPLAY", raising=False)
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    assert cli.main([str(a) for a in given]) == code
    err = capsys.readouterr().err
    assert said in err
    assert err.startswith("yellow-slope: ")
    assert len(err) < 900
    assert err.count("\n") == 1
    assert not list(tmp_path.iterdir())


def test_what_nobody_foresaw_is_logged_and_said(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError("secret")

    monkeypatch.setattr("yellow_slope.commands.studies.refuse_inputs", broken)
    assert cli.main(["evaluate", str(STUDY), "--to", str(tmp_path / "r.json")]) == 1
    err = capsys.readouterr().err
    assert "something went wrong inside Yellow Slope" in err
    assert "secret" not in err
    assert err.count("\n") == 1
    log = Path(err.split("The log says more: ")[1].strip().removesuffix("."))
    assert "ZeroDivisionError" in log.read_text()


# ---- in a process of its own


def ran(*given: object, before: Callable[[], None] | None = None, **said: object) -> subprocess.CompletedProcess[bytes]:
    """The command as a shell starts it."""
    command = [sys.executable, "-m", "yellow_slope", *(os.fsencode(str(a)) for a in given)]
    named = {"stdout": subprocess.PIPE, "stderr": subprocess.PIPE, **said}
    return subprocess.run(command, preexec_fn=before, timeout=60, **named)  # type: ignore[call-overload, no-any-return]


def is_one_sentence(done: subprocess.CompletedProcess[bytes], code: int) -> bool:
    err = done.stderr.decode()
    return done.returncode == code and err.startswith("yellow-slope: ") and err.count("\n") == 1


@pytest.mark.parametrize("given", [["line", STUDY], ["evaluate", STUDY, "--to", "-"], ["--help"], ["--version"]])
def test_standard_output_that_is_full(given: list[object]) -> None:
    with open("/dev/full", "wb") as full:
        done = ran(*given, stdout=full)
    assert is_one_sentence(done, 1)
    assert b"no space left" in done.stderr


def test_standard_output_that_is_closed(tmp_path: Path) -> None:
    def close() -> None:
        os.close(1)

    for given in (["line", STUDY], ["evaluate", STUDY, "--to", "-"]):
        assert is_one_sentence(ran(*given, before=close, stdout=None), 1)
    target = tmp_path / "r.json"
    assert ran("evaluate", STUDY, "--to", target, before=close, stdout=None).returncode == 0
    assert json.loads(target.read_text())["format"] == "yellow-slope-results"


def test_all_streams_closed_leave_files_whole(tmp_path: Path) -> None:
    def close() -> None:
        for handle in (0, 1, 2):
            os.close(handle)

    target = tmp_path / "out.csv"
    done = ran("--verbose", "export", STUDY, "--to", target, before=close, stdout=None, stderr=None)
    assert done.returncode == 1  # its names could not be said
    assert open_anything(target).table.n_rows == 240


def test_a_reader_that_goes_away() -> None:
    reading, writing = os.pipe()
    os.close(reading)
    done = ran("evaluate", STUDY, "--to", "-", stdout=writing)
    os.close(writing)
    assert is_one_sentence(done, 1)
    assert b"broken pipe" in done.stderr


def test_standard_output_in_few_letters(tmp_path: Path) -> None:
    """Results are in UTF-8 whatever the terminal has; a line that it cannot write is refused, remarks are not."""
    table, study = tmp_path / "t.csv", tmp_path / "s.yslope"
    table.write_text("wärme,y\n" + "\n".join(f"{i},{i * i % 7}" for i in range(30)))
    few = {**os.environ, "PYTHONIOENCODING": "ascii", "PYTHONUTF8": "0"}
    done = ran("new", table, "--line", "y = wärme", "--to", study, env=few)
    assert done.returncode == 0, done.stderr
    done = ran("line", study, env=few)
    assert is_one_sentence(done, 1)
    assert b"PYTHONIOENCODING=utf-8" in done.stderr
    assert "wärme" in ran("evaluate", study, "--to", "-", env=few).stdout.decode("utf-8")
    assert "wärme" in ran("line", study).stdout.decode("utf-8")


def test_a_working_folder_that_is_gone(tmp_path: Path) -> None:
    gone = tmp_path / "gone"
    gone.mkdir()

    def leave() -> None:
        os.chdir(gone)
        gone.rmdir()

    for given in (["evaluate", STUDY, "--to", "r.json"], ["report", "s.yslope", "--to", "r.md"], ["demo"]):
        gone.mkdir(exist_ok=True)
        env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")}
        assert is_one_sentence(ran(*given, before=leave, env=env), 1)
    gone.mkdir()
    assert ran("evaluate", STUDY, "--to", tmp_path / "r.json", before=leave).returncode == 0


def test_a_home_that_is_a_file(tmp_path: Path) -> None:
    home = tmp_path / "home"
    home.write_text("no folder")
    env = {k: v for k, v in os.environ.items() if not k.startswith("XDG_")} | {"HOME": str(home)}
    target = tmp_path / "r.md"
    done = ran("report", STUDY, "--to", target, "--to", tmp_path / "r.html", env=env)
    assert (done.returncode, done.stderr) == (0, b"")
    assert target.exists()


@pytest.mark.parametrize("platform", ["", "xcb", "no-such"])
def test_no_display(platform: str) -> None:
    away = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    env = {k: v for k, v in os.environ.items() if k not in away}
    env |= {"QT_QPA_PLATFORM": platform, "DISPLAY": ":4711"} if platform else {}
    done = ran("open", STUDY, env=env)
    assert is_one_sentence(done, 1), done.stderr


def test_a_path_that_is_no_text(tmp_path: Path) -> None:
    folder = os.fsdecode(os.fsencode(tmp_path) + b"/f\xff")
    os.mkdir(folder)
    table, study = Path(folder, "t.csv"), Path(folder, "s.yslope")
    table.write_bytes(TABLE.read_bytes())
    assert ran("new", table, "--line", "control = practice", "--to", study).returncode == 0
    for given in (["evaluate", study, "--to", "-"], ["report", study, "--to", Path(folder, "r.docx")], ["line", study]):
        done = ran(*given)
        assert (done.returncode, done.stderr) == (0, b"")
    assert json.loads(ran("evaluate", study, "--to", "-").stdout)
    done = ran("evaluate", Path(folder, "n\xff.yslope"), "--to", "-")
    assert is_one_sentence(done, 1)


@pytest.mark.parametrize("after", [0.0, 0.02, 0.05, 0.1, 0.2, 0.4, 0.8])
def test_ctrl_c_from_the_first_moment_on(after: float, tmp_path: Path) -> None:
    target = tmp_path / "r.html"
    code = f"import sys; sys.argv[1:] = ['report', {str(STUDY)!r}, '--to', {str(target)!r}]; "
    code += "from yellow_slope.start import main; print('here', flush=True); sys.exit(main())"
    with subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, stderr=subprocess.PIPE) as process:
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(after + 0.005)
        process.send_signal(signal.SIGINT)
        _, err = process.communicate(timeout=60)
    assert process.returncode in (start.INTERRUPTED, 0)
    assert process.returncode == start.INTERRUPTED or after > 0.3
    assert err == b""
    assert {p.name for p in tmp_path.iterdir()} <= ({"r.html"} if process.returncode == 0 else set())


def test_commands_finish_what_was_stopped(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A program that was killed between two renames: the next command finishes, and says so beside its own work."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    old, new = tmp_path / "t.csv", tmp_path / "t.schema.json"
    old.write_text("the new table\n")
    new.write_text("the old schema\n")
    part = tmp_path / f"{begin_of(new)}1.x{PART}"
    part.write_text("the new schema\n")
    plan_folder().mkdir(parents=True)
    (plan_folder() / f"a{SUFFIX}").write_text(json.dumps([{"target": str(new), "part": str(part)}]))
    os.utime(plan_folder() / f"a{SUFFIX}", (2**31, 2**31))
    done = ran("line", STUDY)
    assert done.returncode == 0
    assert b"The program was stopped while it wrote t.schema.json; this has been finished now." in done.stderr
    assert new.read_text() == "the new schema\n"
    assert not part.exists()
    assert list(plan_folder().iterdir()) == []
    assert ran("line", STUDY).stderr == b""
