"""Where the window writes: said whole, beside the study, never onto its table, never over a file without asking."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.support.windowdriver import Hands
from yellow_slope.core.quickline import said_by
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.files.written.exporting import ExportChoices

TABLE = "hours,section,mood\n" + "".join(f"{(i * 7) % 11},{'ab'[i % 2]},{(i * 5) % 13 + i % 3}\n" for i in range(40))


@pytest.fixture
def at_home(hands: Hands, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Hands:
    """A table in a folder of its own with a blank in its name; the program was started elsewhere."""
    home, elsewhere = tmp_path / "my study", tmp_path / "elsewhere"
    home.mkdir()
    elsewhere.mkdir()
    monkeypatch.chdir(elsewhere)
    (home / "mood.csv").write_text(TABLE)
    (home / "mood.codebook.csv").write_text("name,meaning\nhours,Hours of sleep\n")
    hands.place.fileactions.open_path(str(home / "mood.csv"))
    hands.settle()
    hands.place.session.edit("line", lambda s: said_by(s, "mood = hours, section; hours x section"))
    hands.settle()
    return hands


def names(tmp_path: Path) -> set[str]:
    assert not list((tmp_path / "elsewhere").iterdir())
    return {path.name for path in (tmp_path / "my study").iterdir()}


def test_a_typed_name_goes_beside_the_study(at_home: Hands, tmp_path: Path) -> None:
    window, home = at_home.window, tmp_path / "my study"
    asked: list[str] = []

    def typed(title: str, question: str, text: str = "") -> str:
        asked.append(question)
        return "two words.png more words.svg"

    window.place.dialogs.text = typed  # type: ignore[method-assign]
    window.place.exports.export_figure()
    at_home.settle()
    assert window.place.session.message == f"Saved: {home}/two words.png, {home}/more words.svg (300 dpi)"
    assert f"they go to {home}." in asked[0]
    assert {"two words.png", "more words.svg"} <= names(tmp_path)


def test_nothing_is_written_over_without_asking(at_home: Hands, tmp_path: Path) -> None:
    window, home = at_home.window, tmp_path / "my study"
    (home / "a.svg").write_text("mine")
    asked = []

    def choose(title: str, question: str, *answers: str) -> int:
        asked.append(question)
        return answers.index("Keep the file")

    window.place.dialogs.choose = choose  # type: ignore[method-assign]
    window.place.exports.write_figures("b.svg a.svg")
    at_home.settle()
    assert asked == [f"“a.svg” is there already, in {home}."]
    assert (home / "a.svg").read_text() == "mine"
    assert "b.svg" not in names(tmp_path)
    at_home.answers("Overwrite")
    window.place.exports.write_figures("b.svg a.svg")
    at_home.settle()
    assert "<svg" in (home / "a.svg").read_text()


@pytest.mark.parametrize(("name", "picture"), [("r.md", "r-figure-1.svg"), ("r.tex", "r-figure-1.pdf")])
def test_what_comes_with_a_report_is_asked_about_as_well(
    at_home: Hands, tmp_path: Path, name: str, picture: str
) -> None:
    window, home = at_home.window, tmp_path / "my study"
    (home / picture).write_text("mine")
    asked: list[str] = []
    answers = iter(["Keep the file", "Overwrite"])

    def choose(title: str, question: str, *choices: str) -> int:
        asked.append(question)
        return choices.index(next(answers))

    window.place.dialogs.choose = choose  # type: ignore[method-assign]
    window.place.exports.write_reports(name)
    at_home.settle()
    assert asked == [f"“{picture}” is there already, in {home}."]
    assert (home / picture).read_text() == "mine"
    assert not (home / name).exists(), "all or none"
    window.place.exports.write_reports(name)
    at_home.settle()
    assert (home / picture).read_bytes() != b"mine"
    assert (home / name).exists()


@pytest.mark.parametrize("name", ["mood.csv", "./mood.csv", "mood.xlsx", "mood.tsv"])
def test_a_table_is_never_written_over_by_its_own_export(at_home: Hands, tmp_path: Path, name: str) -> None:
    """Nor what describes it: a book written by hand, and a schema."""
    window, home = at_home.window, tmp_path / "my study"
    (home / "mood.schema.json").write_text('{"fields": []}')
    before = {path.name: path.read_bytes() for path in home.iterdir()}
    window.place.dialogs.export = lambda suggestion, folder, has_fit: (name, ExportChoices())  # type: ignore[method-assign]
    window.place.exports.export_table()
    at_home.settle()
    assert "is what this is made from" in window.place.session.message
    assert {path.name: path.read_bytes() for path in home.iterdir()} == before


def test_a_name_that_is_free_is_suggested(at_home: Hands, tmp_path: Path) -> None:
    window, home = at_home.window, tmp_path / "my study"
    targets = window.place.exports.targets
    assert targets.folder() == home
    assert targets.suggested(".yslope") == "Mood.yslope"
    assert targets.free(".csv") == "Mood.csv"
    (home / "Mood.csv").touch()
    (home / "Mood 2.csv").touch()
    assert targets.free(".csv") == "Mood 3.csv"
    window.place.session.edit("rename", lambda s: rename_study(s, "a/b"))
    assert targets.suggested(".html") == "a-b.html"


def test_an_ending_is_added_before_it_is_asked(at_home: Hands, tmp_path: Path) -> None:
    """“have” is “have.yslope”, which is there."""
    window, home = at_home.window, tmp_path / "my study"
    (home / "have.yslope").write_text("mine")
    window.place.dialogs.save_path = lambda *_: home / "have"  # type: ignore[method-assign]
    at_home.answers("Keep the file")
    window.place.saving.save_as()
    at_home.settle()
    assert (home / "have.yslope").read_text() == "mine"
    assert window.place.session.path is None
    at_home.answers("Overwrite")
    window.place.saving.save_as()
    at_home.settle()
    assert window.place.session.path == home / "have.yslope"
    assert window.place.session.message == f"Saved: {home}/have.yslope"
    window.place.saving.save_as()  # once more onto itself: that is saving
    at_home.settle()
    assert window.place.session.message == f"Saved: {home}/have.yslope"
