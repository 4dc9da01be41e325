"""What is written out reads back the same: strays, labels, codes for missing, dates and computed columns, in every
format."""

from __future__ import annotations

import tempfile
import zipfile
from pathlib import Path
from xml.dom.minidom import parseString

import numpy as np
import openpyxl
import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from tests.support.worlds import study_of
from yellow_slope import cli
from yellow_slope.core.data.table import (
    Column,
    DateColumn,
    NumberColumn,
    Stray,
    Table,
    TextColumn,
    number_column,
    text_column,
)
from yellow_slope.core.data.variable import Kind, Level, Variable
from yellow_slope.core.errors import FileError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.descriptions import change_variable, describe
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.files.opening import open_anything
from yellow_slope.files.study.studyfile import write_study
from yellow_slope.files.written.exporting import SUFFIXES, ExportChoices, exported, write_export
from yellow_slope.report.figures import FigureFile, figure_page
from yellow_slope.report.parts import build_report
from yellow_slope.report.tablefiles import TableFile
from yellow_slope.report.writers.html import html_of
from yellow_slope.values import replace

NAN = float("nan")


def awkward() -> Study:
    """Gaps, strays, a code for missing, a given value, merged levels, dates, names and texts that need care."""
    table = Table(
        (
            NumberColumn(
                "score, first", np.array([1.5, NAN, -3.0, 1e-7, 99.0, 2.0] * 3), (Stray(1, "ill?"), Stray(7, "about 4"))
            ),
            number_column("site", [1, 2, 3, 1, 2, 3] * 3),
            text_column("coach", ["none", 'a "b"', "", "=1+1", "ünder", "-9 or so"] * 3),
            DateColumn("day", np.array([20000.0, 20001.5, NAN, 0.0, -400.0, 20002.25] * 3)),
            text_column("note", [f'text {i}, with; marks\tand "quotes"' if i % 5 else "" for i in range(18)]),
            number_column("y", [k**1.5 for k in range(18)]),
        )
    )
    study = new_study(table)
    for variable in (
        Variable(
            "score, first",
            Kind.NUMBER,
            "the score",
            unit="point",
            limits=(-5.0, 5.0),
            missing=("99",),
            given=(("about 4", 4.0),),
        ),
        Variable(
            "site",
            Kind.GROUP,
            "site",
            levels=(Level(("3",), "quarry"), Level(("1", "2"), "harbour & hall")),
            ordered=True,
        ),
        Variable(
            "coach",
            Kind.GROUP,
            "coach",
            levels=tuple(Level((x,), x.upper()) for x in ("none", 'a "b"', "=1+1", "ünder", "-9 or so")),
        ),
        replace(study.variable("note"), kind=Kind.TEXT),
    ):
        study = change_variable(study, variable)
    return derive(study, "twice the score", "[score, first] * 2")


def same_column(one: Column, other: Column) -> None:
    assert type(one) is type(other), one.name
    if isinstance(one, TextColumn):
        assert [one.text(i) for i in range(len(one))] == [other.text(i) for i in range(len(other))]
        return
    assert not isinstance(other, TextColumn)
    if isinstance(one, DateColumn):
        np.testing.assert_allclose(one.numbers, other.numbers, rtol=0, atol=1e-9)
    else:
        np.testing.assert_array_equal(one.numbers, other.numbers)
        assert isinstance(other, NumberColumn)
        assert one.stray == other.stray


@pytest.mark.parametrize("suffix", SUFFIXES)
def test_what_is_written_reads_back_the_same(suffix: str, tmp_path: Path) -> None:
    study = awkward()
    files = write_export(evaluate(study), [tmp_path / f"out{suffix}"], ExportChoices()).files
    assert all(path.is_file() for path in files)
    again = open_anything(tmp_path / f"out{suffix}")
    assert again.table.names == (*study.table.names, "twice the score")
    for column in study.table.columns:
        same_column(column, again.table.column(column.name))
    for variable in study.variables:
        assert again.variable(variable.name) == variable
    for name in ("score, first", "twice the score"):
        np.testing.assert_array_equal(again.columns.numbers(name), study.columns.numbers(name))
    np.testing.assert_array_equal(again.columns.levels("site"), study.columns.levels("site"))


CELLS = st.text(st.characters(exclude_categories=["Cc", "Cs", "Cn", "Co", "Cf", "Zl", "Zp"]), max_size=6).map(str.strip)
NUMBERS = st.floats(allow_nan=True, allow_infinity=False).map(lambda x: x + 0.0)
ROWS = st.lists(st.tuples(NUMBERS, CELLS, st.integers(0, 3)), min_size=4, max_size=14)


@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(ROWS, st.sampled_from(SUFFIXES), st.booleans())
@example([(float("nan"), "", 0)] * 4, ".csv", False)
@example([(float("nan"), "", 0)] * 4, ".zip", False)
@example([(float("nan"), "", 0)] * 4, ".csv", True)
@example([(float("nan"), "", 0)] * 4, ".zip", True)
@example([(float("nan"), "", 0)] * 4, ".xlsx", True)
@example([(0.0, "", 0)] * 3 + [(0.0, "0.", 0)], ".csv", False)
@example([(0.0, "1e3", 0)] * 3 + [(0.0, "+1", 0)], ".zip", False)
@example([(0.0, ".5", 0)] * 3 + [(0.0, "1.0", 0)], ".tsv", False)
def test_any_table_reads_back_the_same(
    tmp_path: Path, rows: list[tuple[float, str, int]], suffix: str, stray: bool
) -> None:
    numbers = np.array([x for x, _, _ in rows])
    strays = tuple(Stray(i, "odd one") for i in np.flatnonzero(np.isnan(numbers))[:1]) if stray else ()
    table = Table(
        (
            NumberColumn("x", numbers, strays),
            text_column("words", ["" if t.casefold() in WORDS else t for _, t, _ in rows]),
            number_column("g", [g for _, _, g in rows]),
        )
    )
    study = new_study(table)
    study = replace(study, variables=(replace(study.variables[0], kind=Kind.NUMBER, levels=()), *study.variables[1:]))
    write_export(evaluate(study), [tmp_path / f"any{suffix}"], ExportChoices())
    again = open_anything(tmp_path / f"any{suffix}")
    for column in table.columns:
        same_column(column, again.table.column(column.name))
    assert again.variables == study.variables


WORDS = {
    "na",
    "n/a",
    "#n/a",
    "nan",
    "null",
    ".",
    "-",
    "?",
    "--",
    "missing",
    "nil",
    "<na>",
    "#null!",
    "—",
    "–",
    "…",
    "*",
    "x",
}
"""Words that count as missing when a file is read; they were no texts of the table it came from."""


def test_labels_computed_and_model_columns(demo: Study, tmp_path: Path) -> None:
    study = treat(demo, ["practice"], CENTERED)
    evaluation = evaluate(study)
    assert evaluation.fit is not None
    made = exported(evaluation, ExportChoices(labels=True, model_columns=True, used_only=True))
    assert made.table.n_rows == evaluation.fit.cases.n
    coaching = made.table.column("coaching")
    assert {coaching.text(i) for i in range(len(coaching))} == {x.label for x in study.variable("coaching").levels}
    centered = made.table.column("practice centered")
    assert isinstance(centered, NumberColumn)
    assert abs(centered.numbers.mean()) < 1e-12
    product = next(j for j, c in enumerate(evaluation.fit.design.columns) if c.term == Term(("practice", "worry")))
    column = made.table.column("practice × worry")
    assert isinstance(column, NumberColumn)
    np.testing.assert_array_equal(column.numbers, evaluation.fit.design.column(evaluation.fit.values, product))
    whole = exported(evaluation, ExportChoices(model_columns=True))
    some = whole.table.column("practice centered")
    assert isinstance(some, NumberColumn)
    assert int(np.isnan(some.numbers).sum()) == study.table.n_rows - evaluation.fit.cases.n
    plain = exported(evaluation, ExportChoices(computed=False))
    assert plain.table.names == study.table.names


def test_texts_that_look_like_formulas_are_guarded_on_request_and_never_formulas_in_spreadsheets(
    tmp_path: Path,
) -> None:
    evaluation = evaluate(awkward())
    write_export(evaluation, [tmp_path / "a.csv"], ExportChoices())
    assert ',"=1+1",' in (tmp_path / "a.csv").read_text()
    write_export(evaluation, [tmp_path / "b.csv"], ExportChoices(as_text=True))
    text = (tmp_path / "b.csv").read_text()
    assert ',"\'=1+1",' in text
    assert ',"\'-9 or so",' in text
    assert "-3" in text
    assert "'-3" not in text
    assert exported(evaluation, ExportChoices(as_text=True)).n_guarded == 6
    write_export(evaluation, [tmp_path / "c.xlsx"], ExportChoices())
    cell = openpyxl.load_workbook(tmp_path / "c.xlsx")["data"]["C5"]
    assert (cell.value, cell.data_type) == ("=1+1", "s")


def test_a_code_book_beside_a_file_names_codes(tmp_path: Path) -> None:
    (tmp_path / "t.csv").write_text(
        "site,worry,y\n" + "".join(f"{i % 3 + 1},{i % 7 + 1},{i}\n" for i in range(30)) + "2,99,5\n"
    )
    (tmp_path / "t.codebook.csv").write_text(
        "name,meaning\nsite,training site\nsite = 1,quarry\nsite = 2.0,harbour\nsite: 3,north hall\n"
        "worry,worry (points)\nworry = 1,not at all\nworry = 7,very much\nworry = 99,missing\nnobody,x\n"
    )
    study = open_anything(tmp_path / "t.csv")
    site, worry = study.variable("site"), study.variable("worry")
    assert (site.label, site.kind) == ("training site", Kind.GROUP)
    assert [(x.codes, x.label) for x in site.levels] == [
        (("1",), "quarry"),
        (("2",), "harbour"),
        (("3",), "north hall"),
    ]
    assert (worry.kind, worry.missing, worry.many) == (Kind.NUMBER, ("99",), "points")
    assert study.source.description == "t.codebook.csv"
    (tmp_path / "t.codebook.csv").write_text("name,meaning\nother,thing\n")
    assert open_anything(tmp_path / "t.csv").source.description == ""


def test_the_code_book_that_is_written_reads_back(tmp_path: Path) -> None:
    study = awkward()
    write_export(evaluate(study), [tmp_path / "t.csv"], ExportChoices(computed=False))
    (tmp_path / "t.schema.json").unlink()
    again = open_anything(tmp_path / "t.csv")
    for name in ("site", "coach"):
        assert {x.codes: x.label for x in again.variable(name).levels} == {
            x.codes: x.label for x in study.variable(name).levels
        }
    assert again.variable("score, first").missing == ("99",)
    assert again.variable("score, first").label == "the score"


def test_refusals(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    study = awkward()
    with pytest.raises(FileError, match="a table is written as"):
        write_export(evaluate(study), [tmp_path / "t.pdf"], ExportChoices())
    with pytest.raises(FileError, match="Choose an outcome"):
        write_export(evaluate(study), [tmp_path / "t.csv"], ExportChoices(model_columns=True))
    assert list(tmp_path.iterdir()) == []
    bad = Study(Table((text_column("t", ["a\x01b", "c", "d"]),)), (Variable("t", Kind.TEXT, "t"),))
    with pytest.raises(FileError, match="write the table as text"):
        write_export(evaluate(bad), [tmp_path / "t.xlsx"], ExportChoices())
    assert list(tmp_path.iterdir()) == []


def test_the_command(demo: Study, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    write_study(demo, tmp_path / "s.yslope")
    target = tmp_path / "out.zip"
    assert cli.main(["export", str(tmp_path / "s.yslope"), "--to", str(target), "--labels", "--model-columns"]) == 0
    assert "out.zip" in capsys.readouterr().out
    again = open_anything(target)
    assert again.table.n_rows == demo.table.n_rows
    assert "practice × worry" in again.table.names
    assert cli.main(["export", str(tmp_path / "s.yslope"), "--to", str(tmp_path / "out.doc")]) == 1


@pytest.mark.parametrize("suffix", [".csv", ".tsv", ".xlsx", ".ods", ".zip", ".parquet"])
def test_names_and_the_code_book_are_guarded_too(tmp_path: Path, suffix: str) -> None:
    """A column called =1+1, a level @x, a label −y: nothing that is written begins like a formula."""
    study = study_of({"=1+1": ["@x", "b"] * 8, "y": np.arange(16.0)}, "y", "=1+1")
    study = describe(describe(study, "=1+1", label="=cmd()"), "y", label="+2", unit="-u")
    files = write_export(evaluate(study), [tmp_path / f"out{suffix}"], ExportChoices(as_text=True)).files
    for file in files:
        if file.suffix == ".csv" or file.suffix == ".tsv":
            for line in file.read_text().splitlines():
                for cell in line.split("\t" if file.suffix == ".tsv" else ","):
                    assert not cell.startswith(("=", "@", "+", "-")), (file.name, line)
    if suffix in (".xlsx", ".ods"):
        assert open_anything(files[0]).table.names[0] == "'=1+1"


def test_control_characters_in_labels_are_no_trouble(tmp_path: Path) -> None:
    """Labels with control characters: workbooks, documents and figures are written and can be read."""
    study = study_of({"g": ["a", "b"] * 8, "x": np.arange(16.0), "y": np.arange(16.0) ** 2 % 7}, "y", "x, g; x*g")
    for name in ("g", "x", "y"):
        study = describe(study, name, label=f"{name}\x01\x1f\x0b", unit="u\x02")
    for suffix in (".xlsx", ".ods", ".csv"):
        files = write_export(evaluate(study), [tmp_path / f"out{suffix}"], ExportChoices()).files
        assert open_anything(files[0]).table.n_rows == 16
    fit = evaluate(study).fit
    assert fit is not None
    page = figure_page(study, Sight.of(probe_fit(study, fit, Probe("x", "g")), Seen()))
    svg = FigureFile(tmp_path / "a.svg").bytes_of(page)
    parseString(svg.decode("utf-8"))
    assert html_of(build_report(evaluate(study)))


class _GivenUpError(Exception):
    pass


def test_a_workbook_that_fails_leaves_nothing_behind(
    demo: Study, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Given up while its rows are written, or no room when it is put together: the temporary folder stays empty."""
    put_by = tmp_path / "temporary"
    put_by.mkdir()
    monkeypatch.setattr(tempfile, "tempdir", str(put_by))
    seen: list[int] = []

    def given_up(share: float) -> None:
        if share > 0:
            seen.append(len(list(put_by.iterdir())))
            raise _GivenUpError

    tall = new_study(Table((number_column("x", list(range(5000))),)))
    with pytest.raises(_GivenUpError):
        write_export(evaluate(tall), [tmp_path / "t.xlsx"], ExportChoices(), given_up)
    assert seen == [1]  # there was something to leave behind
    assert list(put_by.iterdir()) == []

    def no_room(*_: object, **__: object) -> None:
        seen.append(len(list(put_by.iterdir())))
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(zipfile.ZipFile, "write", no_room)
    with pytest.raises(FileError, match="no space left"):
        write_export(evaluate(demo), [tmp_path / "t.xlsx"], ExportChoices())
    report = build_report(evaluate(demo))
    table = next(table for section in report.sections for table in section.tables)
    with pytest.raises(FileError, match="no space left"):
        TableFile(Path("t.xlsx")).content(table)
    assert min(seen[1:]) > 0
    assert list(put_by.iterdir()) == []
