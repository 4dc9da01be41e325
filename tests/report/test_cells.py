"""Tables as values: numbers, their print form, sheets at full precision, and what a spreadsheet would take for more."""

from __future__ import annotations

import csv
import io
import math
from contextlib import suppress
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook

from tests.support.agreement import unheard_of
from tests.support.walking import Walk, every_edit, start
from tests.support.worlds import study_of
from yellow_slope.core.errors import FileError, StudyError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.report import choose_set, set_beside, set_correlations, set_decimals, set_stars
from yellow_slope.core.study.report import BesideCorrelation, CoefficientFigure, PartKind, ReadySet
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.told.cells import Cell, Role, between, count, estimate, p_cell
from yellow_slope.core.told.tables import STAR_KEY, Table
from yellow_slope.core.words.spelling.numerals import DIGIT_SPACE, MINUS, estimate_decimals
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.report.document import Report
from yellow_slope.report.parts import build_report
from yellow_slope.report.tablefiles import TableFile
from yellow_slope.values import replace


def section(report: Report, kind: PartKind) -> list[Table]:
    return [table for s in report.sections if s.kind is kind for table in s.tables]


def read(text: str) -> float:
    """A printed number as a number."""
    return float(text.rstrip("*").removeprefix("> ").replace(DIGIT_SPACE, "").replace(MINUS, "-").replace(",", ""))


def test_a_sheet_has_every_number_at_full_precision_and_intervals_as_two_columns() -> None:
    rows = (
        (Cell("Step 1", strong=True), Cell("R² = .16", span=3, named=(("R²", 0.1600001),))),
        (Cell("practice"), estimate(1.234567, 2), between(0.1, 2.3, 2), p_cell(0.00012)),
        (Cell("a, “b”"), estimate(-2.0, 2), Cell("–"), Cell("")),
    )
    table = Table("t", ("Term", "b", "95% CI", "p"), rows)
    head, first, second, third = table.sheet()
    assert head == ["Term", "b", "95% CI: from", "95% CI: to", "p", "block or term: R²"]
    assert first == ["Step 1", "R² = .16", None, None, None, 0.1600001]
    assert second == ["practice", 1.234567, 0.1, 2.3, 0.00012, None]
    assert third == ["a, “b”", -2.0, "–", None, None, None]
    lines = list(csv.reader(io.StringIO(table.csv().decode("utf-8"))))
    assert lines[2] == ["practice", "1.234567", "0.1", "2.3", "0.00012", ""]
    assert lines[3][:2] == ["a, “b”", "-2.0"]


@pytest.mark.parametrize("text", ["=1+1", "+cmd", "-2+3", "@sum", "=HYPERLINK(1)"])
def test_a_name_that_begins_like_a_formula_is_none(text: str) -> None:
    table = Table("t", ("Term", "b"), ((Cell(text), estimate(1.0, 2)),))
    assert list(csv.reader(io.StringIO(table.csv().decode("utf-8"))))[1][0] == f"'{text}"
    sheet = load_workbook(io.BytesIO(TableFile(Path("t.xlsx")).content(table))).active
    assert sheet is not None
    assert sheet["A2"].value == text
    assert sheet["A2"].data_type == "s"
    assert sheet["B2"].value == 1.0
    assert sheet["B2"].data_type == "n"


def test_a_table_goes_into_no_other_file() -> None:
    with pytest.raises(FileError, match=r"t\.ods: a table is written as \.csv or \.xlsx"):
        TableFile(Path("t.ods"))
    table = Table("t", ("a",), ((Cell("b"),),))
    one, other = (TableFile(Path("t.xlsx")).content(table) for _ in range(2))
    assert one == other


def test_decimals_are_chosen_and_more_stand_where_they_would_say_nothing(demo: Study) -> None:
    for decimals in (1, 2, 4):
        (table,) = section(build_report(evaluate(set_decimals(demo, decimals))), PartKind.COEFFICIENTS)
        row = next(row for row in table.rows if row[0].text == "practice × worry")
        assert row[1].text == f"{row[1].numbers[0]:.{decimals}f}".replace("-", MINUS)
        assert row[6].text == "< .001"
        assert row[4].text.startswith((".", MINUS + "."))
    assert estimate_decimals(0.0004, 0.002) == 5
    assert estimate_decimals(0.03, 1.0) == 2
    assert estimate_decimals(0.03, 1.0, least=1) == 3
    with pytest.raises(StudyError, match="1 to 5 decimals"):
        set_decimals(demo, 9)


def test_stars_are_off_until_they_are_chosen_and_come_with_their_key(demo: Study) -> None:
    tables = build_report(evaluate(demo)).tables
    assert not any("*" in cell.text for table in tables for row in table.rows for cell in row)
    report = build_report(evaluate(set_stars(demo, True)))
    (table,) = section(report, PartKind.COEFFICIENTS)
    assert table.note.endswith(STAR_KEY)
    for row in table.rows:
        if len(row) == len(table.head) and row[6].numbers:
            p = row[6].numbers[0]
            mark = row[1].text[len(row[1].text.rstrip("*")) :]
            assert mark == ("***" if p < 0.001 else "**" if p < 0.01 else "*" if p < 0.05 else "")
            assert read(row[1].text) == pytest.approx(row[1].numbers[0], abs=0.006)
    padded = [row[1].text.rstrip(DIGIT_SPACE) for row in table.aligned().rows if len(row) == len(table.head)]
    assert any(text.endswith("***") for text in padded)


def test_columns_are_chosen(demo: Study) -> None:
    study = set_beside(set_beside(demo, CoefficientFigure.VIF, False), CoefficientFigure.BETA, False)
    (table,) = section(build_report(evaluate(study)), PartKind.COEFFICIENTS)
    assert table.head == ("Term", "b", "95% CI", "SE", "t", "p", "sr²")
    assert "β is with" not in table.note
    bare = study
    for figure in CoefficientFigure:
        bare = set_beside(bare, figure, False)
    (table,) = section(build_report(evaluate(bare)), PartKind.COEFFICIENTS)
    assert table.head == ("Term", "b")
    assert all(sum(cell.span for cell in row) == 2 for row in table.rows)
    back = set_beside(bare, CoefficientFigure.P, True)
    assert back.report.beside == (CoefficientFigure.P,)
    again = unpacked(packed(set_decimals(set_stars(back, True), 3)), "x")
    assert again.report == set_decimals(set_stars(back, True), 3).report


def test_correlations_have_p_or_intervals_beside_them(demo: Study) -> None:
    with_p = set_correlations(demo, BesideCorrelation.P)
    first, *_ = section(build_report(evaluate(with_p)), PartKind.VARIABLES)
    r, p = first.rows[2][3].numbers
    assert ", p " in first.rows[2][3].text
    assert 0 <= p <= 1
    first, *_ = section(build_report(evaluate(set_correlations(demo, BesideCorrelation.INTERVAL))), PartKind.VARIABLES)
    numbers = first.rows[2][3].numbers
    assert numbers[0] == r
    z, half = math.atanh(r), 1.959963984540054 / math.sqrt(221 - 3)
    assert numbers[1:] == pytest.approx((math.tanh(z - half), math.tanh(z + half)), abs=1e-12)
    assert "by Fisher's z" in first.note


def test_correlations_of_many_variables_are_split_by_columns() -> None:
    rng = np.random.default_rng(4)
    names = [f"x{i}" for i in range(40)]
    study = study_of({**{n: rng.normal(size=120) for n in names}, "y": rng.normal(size=120)}, "y", ", ".join(names))
    tables = section(build_report(evaluate(study)), PartKind.VARIABLES)
    assert len(tables) == 4
    assert all(len(table.head) <= 13 for table in tables)
    told = {cell.numbers[0] for t in tables for row in t.rows for cell in row if cell.role is Role.BOUNDED}
    fit = evaluate(study).fit
    assert isinstance(fit, Fit)
    columns = np.column_stack([fit.y, *(fit.values[n] for n in names)])
    r = np.corrcoef(columns, rowvar=False)
    wanted = r[np.tril_indices(41, -1)]
    assert len(told) == wanted.size
    assert np.sort(np.array(list(told))) == pytest.approx(np.sort(wanted), abs=1e-12)


@pytest.mark.no_cover
@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10_000))
def test_every_printed_number_is_its_number(seed: int) -> None:
    """Of random studies: what a cell prints is what it holds, rounded; rows are as wide as their head."""
    walk, study = Walk(seed), set_outcome(start(seed % 3), "y")
    study = set_blocks(study, [Block((Term(("x",)), Term(("g",)))), Block((Term(("x", "g")), Term(("item",))))])
    edits = sorted(every_edit().items())
    for _ in range(10):
        with suppress(StudyError):
            study = walk.edit(study, *walk.pick(edits))(study)
    study = choose_set(study, ReadySet.EVERYTHING)
    assert unheard_of(evaluate(study)) == []
    for table in build_report(evaluate(study)).tables:
        for row in table.rows:
            assert sum(cell.span for cell in row) == len(table.head), table.title
            for cell in row:
                _is_its_number(cell)
        lines = table.sheet()
        assert all(len(a) == len(b) for a, b in pairwise(lines)), table.title
        assert "nan" not in table.csv().decode("utf-8").split("\n", 1)[1].replace("finan", "")


def _is_its_number(cell: Cell) -> None:
    if not cell.numbers or cell.span > 1:
        return
    value = cell.numbers[0]
    match cell.role:
        case Role.P if math.isfinite(value):
            assert cell.text == ("< .001" if value < 0.001 else "> .999" if value >= 0.9995 else cell.text)
            assert value < 0.001 or read(cell.text) == pytest.approx(min(value, 0.999), abs=0.0006) or value == 1
        case Role.BOUNDED | Role.STATISTIC | Role.ESTIMATE if math.isfinite(value) and abs(value) < 1e6:
            text = cell.text.split(",")[0].split(" (")[0]
            places = len(text.rstrip("*").rpartition(".")[2]) if "." in text else 0
            assert read(text) == pytest.approx(value, abs=0.51 * 10.0**-places + 1e-9)
        case Role.COUNT:
            assert cell == replace(count(*(int(n) for n in cell.numbers)), text=cell.text)
        case _:
            pass


def test_names_stay_texts_in_every_sheet(demo: Study) -> None:
    study = describe(demo, "practice", label="=cmd|' /C calc'!A0")
    for table in build_report(evaluate(study)).tables:
        for line in csv.reader(io.StringIO(table.csv().decode("utf-8"))):
            assert not any(text.startswith(("=", "+", "@")) for text in line)
