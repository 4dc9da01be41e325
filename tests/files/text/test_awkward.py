"""Awkward small files: each opens as it should, or is refused with a sentence that names row or column."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from yellow_slope.core.data.source import Ragged, ReadAs
from yellow_slope.core.data.table import Column, DateColumn, NumberColumn
from yellow_slope.core.errors import FileError
from yellow_slope.core.words.sentences.sources import read_as_phrases
from yellow_slope.files.opening import open_anything
from yellow_slope.files.text.delimited import DoubtfulError, RaggedError, TableReading, parse_delimited, read_typed
from yellow_slope.values import replace

NAN = float("nan")


def read(text: str | bytes, encoding: str = "utf-8", way: ReadAs | None = None) -> TableReading:
    return parse_delimited(text if isinstance(text, bytes) else text.encode(encoding), "t.csv", way)


def said(column: Column) -> list[object]:
    """What a column holds: numbers, or texts."""
    if isinstance(column, NumberColumn):
        return [None if np.isnan(v) else float(v) for v in column.numbers]
    return [column.text(row) or None for row in range(len(column))]


ROWS = "".join(f"{k};x\n" for k in range(10))

OPENS: dict[str, tuple[str, dict[str, list[object]]]] = {
    # ---- what separates, and what is quoted
    "commas": ("a,b\n1,x\n2,y\n", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "tabs": ("a\tb\n1\tx\n2\ty\n", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "semicolons": ("a;b\n1;x\n2;y\n", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "bars": ("a|b\n1|x\n2|y\n", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "columns of spaces": ("a    b\n1    x\n10   y\n", {"a": [1.0, 10.0], "b": ["x", "y"]}),
    "commas inside texts between semicolons": ("a;b\n1;x, y\n2;u, v\n", {"b": ["x, y", "u, v"]}),
    "semicolons inside quotes between commas": ('a,b\n1,"x; y"\n2,"u; v"\n', {"b": ["x; y", "u; v"]}),
    "a quote inside a cell": ('a;b\n1;5" pipe\n2;6" pipe\n', {"b": ['5" pipe', '6" pipe']}),
    "doubled quotes": ('a,b\n1,"say ""hi"""\n2,z\n', {"b": ['say "hi"', "z"]}),
    "single quotes": ("'a b','c'\n'x, y','2'\n'z','3'\n", {"a b": ["x, y", "z"], "c": [2.0, 3.0]}),
    "an apostrophe is no quote": ("name,n\no'neil,1\nd'arc,2\n", {"name": ["o'neil", "d'arc"]}),
    "a line end inside quotes": ('a,b\n1,"x\ny"\n2,z\n', {"b": ["x\ny", "z"]}),
    "a carriage return inside quotes": ('a,b\n1,"x\ry"\n2,z\n', {"b": ["x\ry", "z"]}),
    "line ends of two characters": ("a,b\r\n1,x\r\n2,y\r\n", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "carriage returns alone": ("a,b\r1,x\r2,y\r", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "carriage returns alone, one in a cell": ('a,b\r1,"x\ry"\r2,y\r', {"b": ["x\ry", "y"]}),
    "no line end at the end": ("a,b\n1,x\n2,y", {"a": [1.0, 2.0]}),
    "empty lines between": ("a,b\n1,x\n\n2,y\n\n", {"a": [1.0, 2.0]}),
    "spaces around": ("a , b\n 1 , x \n 2 , y \n", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "trailing separators": ("a,b,\n1,x,\n2,y,\n", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "trailing separators below only": ("a,b\n1,x,\n2,y,\n", {"a": [1.0, 2.0], "b": ["x", "y"]}),
    "trailing separators in one row": ("a,b\n1,x,,\n2,y\n3,z\n", {"a": [1.0, 2.0, 3.0]}),
    "one column": ("a\n1\n2\n", {"a": [1.0, 2.0]}),
    "one column with a gap": ("a\n1\n\n3\n", {"a": [1.0, None, 3.0]}),
    "one column of decimal commas": ("a\n1,5\n2,5\n", {"a": [1.5, 2.5]}),
    "one row": ("a,b\n1,2\n", {"a": [1.0], "b": [2.0]}),
    # ---- names
    "no names": ("1,2\n3,4\n", {"column 1": [1.0, 3.0], "column 2": [2.0, 4.0]}),
    "no names among texts": ("yes,1\nno,2\nyes,3\n", {"column 1": ["yes", "no", "yes"]}),
    "names that are years": ("2019,2020\n3.4,5\n2.2,1\n", {"2019": [3.4, 2.2], "2020": [5.0, 1.0]}),
    "names that are years beside one of words": ("who,2019,2020\nanna,3.4,5\nben,2.2,1\n", {"2019": [3.4, 2.2]}),
    "years that are values": ("2019,2020\n2018,2021\n2017,2015\n", {"column 1": [2019.0, 2018.0, 2017.0]}),
    "a name that begins like an archive": ("PK,b\n1,2\n3,4\n", {"PK": [1.0, 3.0]}),
    "a name twice": ("age,age\n1,2\n3,4\n", {"age": [1.0, 3.0], "age (2)": [2.0, 4.0]}),
    "a name twice beside the name it would get": (
        "a,a,a (2)\n1,2,3\n4,5,6\n",
        {"a": [1.0, 4.0], "a (3)": [2.0, 5.0], "a (2)": [3.0, 6.0]},
    ),
    "an empty name": ("a,\n1,2\n3,4\n", {"a": [1.0, 3.0], "column 2": [2.0, 4.0]}),
    "names short by one": ("b,c\n1,2,3\n2,3,4\n", {"row": [1.0, 2.0], "b": [2.0, 3.0], "c": [3.0, 4.0]}),
    "a name with a line end": ('"a\nb",c\n1,2\n3,4\n', {"a\nb": [1.0, 3.0]}),
    "a name with a carriage return": ('"a\rb",c\n1,2\n3,4\n', {"a\rb": [1.0, 3.0]}),
    "a title above": ("Learners of spring\na;b\n" + ROWS, {"a": [float(k) for k in range(10)]}),
    "a title and an empty line above": ("Learners of spring\n\na;b\n" + ROWS, {"a": [float(k) for k in range(10)]}),
    "a title with a comma above": ("Learners, spring\n\na;b\n" + ROWS, {"a": [float(k) for k in range(10)]}),
    "comments above": ("# one\n# two; three; four\na;b\n" + ROWS, {"a": [float(k) for k in range(10)]}),
    "strokes above": ("// one\na;b\n" + ROWS, {"a": [float(k) for k in range(10)]}),
    "a title in the first of many cells": ("Learners;;\na;b;c\n1;2;3\n4;5;6\n7;8;9\n", {"a": [1.0, 4.0, 7.0]}),
    # ---- numbers
    "signs": ("a,b\n+1,x\n-2,y\n−3,z\n–4,z\n", {"a": [1.0, -2.0, -3.0, -4.0]}),
    "powers of ten": ("a,b\n1e3,x\n2.5E-2,y\n", {"a": [1000.0, 0.025]}),
    "no digit before or after the mark": ("a,b\n.5,x\n3.,y\n", {"a": [0.5, 3.0]}),
    "decimal commas": ("a;b\n1,5;x\n2,25;y\n", {"a": [1.5, 2.25]}),
    "thousands by a point beside decimal commas": (
        "a;b\n9.371;1,5\n1.000;2,5\n12;3,5\n",
        {"a": [9371.0, 1000.0, 12.0]},
    ),
    "thousands by a comma": ('a,b\n"1,234.5",x\n"12,345.25",y\n', {"a": [1234.5, 12345.25]}),
    "millions": ("a;b\n1,234,567;x\n12,345,678;y\n", {"a": [1234567.0, 12345678.0]}),
    "thousands by a space": ("a;b\n1 234,5;x\n12 345,5;y\n", {"a": [1234.5, 12345.5]}),
    "thousands by a space that does not break": ("a;b\n1\u00a0234,5;x\n12\u00a0345,5;y\n", {"a": [1234.5, 12345.5]}),
    "thousands by a narrow space": ("a;b\n1\u202f234.5;x\n12\u202f345.5;y\n", {"a": [1234.5, 12345.5]}),
    "thousands by an apostrophe": ("a;b\n1'234.5;x\n12’345.5;y\n", {"a": [1234.5, 12345.5]}),
    "percent": ("a,b\n45%,x\n50 %,y\n", {"a": [45.0, 50.0]}),
    "a currency before": ("a,b\n$3,x\n$4.50,y\n-$2,z\n", {"a": [3.0, 4.5, -2.0]}),
    "a currency after": ("a;b\n3,50 €;x\n4 €;y\n", {"a": [3.5, 4.0]}),
    "numbers in quotes": ('a,b\n"1","x"\n"2","y"\n', {"a": [1.0, 2.0]}),
    "true and false": ("a,b\nTRUE,1\nFALSE,2\n", {"a": ["TRUE", "FALSE"]}),
    "hexadecimal stays text": ("a,b\n0x1F,1\n0x2A,2\n", {"a": ["0x1F", "0x2A"]}),
    "leading zeros stay": ("a,b\n001,1\n002,2\n", {"a": ["001", "002"]}),
    "too many digits stay": (
        "a,b\n12345678901234567,1\n12345678901234568,2\n",
        {"a": ["12345678901234567", "12345678901234568"]},
    ),
    "underscores are no digits": ("a,b\n1_0,1\n2_0,2\n", {"a": ["1_0", "2_0"]}),
    "digits of other scripts are texts": ("a,b\n٣,1\n٤,2\n", {"a": ["٣", "٤"]}),
    "several points are a text": ("a,b\n1.2.3,1\n1.2.4,2\n", {"a": ["1.2.3", "1.2.4"]}),
    "infinity is a stray": ("a,b\n" + "1,2\n" * 12 + "inf,2\n", {"a": [*[1.0] * 12, None]}),
    "beyond all numbers is a stray": ("a,b\n" + "1,2\n" * 12 + "1e400,2\n", {"a": [*[1.0] * 12, None]}),
    "one odd cell among numbers": ("a,b\n" + "1,2\n" * 12 + "n/k,2\n", {"a": [*[1.0] * 12, None]}),
    # ---- missing
    "empty cells": ("a,b\n1,\n,y\n3,z\n", {"a": [1.0, None, 3.0], "b": [None, "y", "z"]}),
    "words for missing": (
        "a,b\n1,NA\nn/a,y\nNULL,z\n.,-\n5,?\n",
        {"a": [1.0, None, None, None, 5.0], "b": [None, "y", "z", None, None]},
    ),
    "words for missing of a spreadsheet": ("a,b\n1,x\n#N/A,y\n", {"a": [1.0, None]}),
    "nothing but missing": ("a,b\n1,\n2,NA\n", {"b": [None, None]}),
    "none is a group": ("a,b\n1,none\n2,some\n", {"b": ["none", "some"]}),
    # ---- dates
    "dates by year": ("a,b\n2024-03-01,1\n2024-12-31,2\n", {"a": ["2024-03-01", "2024-12-31"]}),
    "dates with a time": (
        "a,b\n2024-03-01 08:30,1\n2024-12-31T23:59:01,2\n",
        {"a": ["2024-03-01 08:30", "2024-12-31 23:59:01"]},
    ),
    "dates by day": ("a,b\n3.4.2021,1\n14.4.2021,2\n", {"a": ["2021-04-03", "2021-04-14"]}),
    "dates by month": ("a,b\n4/3/2021,1\n4/14/2021,2\n", {"a": ["2021-04-03", "2021-04-14"]}),
    "times": ("a,b\n8:05,1\n23:59:30,2\n", {"a": ["08:05", "23:59:30"]}),
    "no such day": ("a,b\n2021-02-30,1\n2021-02-28,2\n", {"a": ["2021-02-30", "2021-02-28"]}),
    "dates before the count begins": ("a,b\n1931-05-06,1\n1969-12-31,2\n", {"a": ["1931-05-06", "1969-12-31"]}),
}


@pytest.mark.parametrize("name", OPENS)
def test_opens_as_it_should(name: str) -> None:
    text, wanted = OPENS[name]
    table = read(text).table
    assert set(wanted) <= set(table.names), table.names
    for column, cells in wanted.items():
        assert said(table.column(column)) == cells


ENCODINGS = ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "utf-32", "utf-32-le", "utf-32-be", "cp1252"]


@pytest.mark.parametrize("end", ["\n", "\r\n", "\r"])
@pytest.mark.parametrize("encoding", ENCODINGS)
def test_every_encoding_and_line_end(encoding: str, end: str) -> None:
    text = "größe,name".replace("ö", "ö") + end + end.join(["1.5,Zoë", "2.5,Åse", '3.5,"a, b"']) + end
    table = read(text, encoding).table
    assert table.names == ("größe", "name")
    assert said(table.column("größe")) == [1.5, 2.5, 3.5]
    assert said(table.column("name")) == ["Zoë", "Åse", "a, b"]


REFUSED: dict[str, tuple[bytes, str]] = {
    "nothing": (b"", "is empty"),
    "white space": (b" \n\t\n", "is empty"),
    "names alone": (b"a,b\n", "has names in row 1, but no rows below"),
    "a short row": (b"a,b\n1,2\n3\n4,5\n", "row 3: 1 value where there are 2 columns"),
    "a long row": (b"a,b\n1,2\n3,4,5\n6,7\n", "row 3: 3 values where there are 2 columns"),
    "several rows": (b"a,b\n1,2\n3\n4,5\n6\n7,8\n", "row 3: 1 value .* This concerns 2 rows"),
    "a short row below a title": (b"A title\na,b\n1,2\n3\n4,5\n6,7\n8,9\n", "row 4: 1 value"),
    "a program": (b"\x7fELF\x00\x00\x01", "not a text file"),
    "zeros late": (b"a,b\n1,2\n" * 1000 + b"\x00\n", "line 2001"),
    "commas alone": (b",,\n,,\n", "no values|no rows|empty"),
}


@pytest.mark.parametrize("name", REFUSED)
def test_refused_in_a_sentence(name: str) -> None:
    content, sentence = REFUSED[name]
    with pytest.raises(FileError, match=sentence):
        read(content)


def test_rows_of_another_length_can_be_skipped_or_filled() -> None:
    text = "a,b\n1,x\n2\n3,z,9\n4,u\n"
    with pytest.raises(RaggedError) as refused:
        read(text)
    skip, fill = refused.value.ways.values()
    assert (skip.ragged, fill.ragged) == (Ragged.SKIP, Ragged.FILL)
    skipped = read(text, way=skip)
    assert said(skipped.table.column("a")) == [1.0, 4.0]
    assert (skipped.found.ragged, skipped.found.n_ragged) == ((3, 4), 2)
    filled = read(text, way=fill)
    assert said(filled.table.column("a")) == [1.0, 2.0, 3.0, 4.0]
    assert said(filled.table.column("b")) == ["x", None, "z", "u"]
    assert read_as_phrases(filled.way, 4, filled.found)[-1] == "2 rows of another length filled or cut: 3, 4"


def test_rows_that_are_filled_stand_where_they_stood_also_among_strays() -> None:
    lines = [f"{k},{k}" for k in range(60)]
    lines[7], lines[20], lines[33] = "7", "odd,20", "33,33,33"
    reading = read("a,b\n" + "\n".join(lines) + "\n", way=ReadAs(ragged=Ragged.FILL))
    column = reading.table.column("a")
    assert isinstance(column, NumberColumn)
    assert said(column) == [None if k == 20 else float(k) for k in range(60)]
    assert [(s.row, s.text) for s in column.stray] == [(20, "odd")]
    assert said(reading.table.column("b"))[7] is None


def test_what_stood_among_numbers_is_kept_with_its_row() -> None:
    reading = read("a,b\n" + "1,2\n" * 20 + "n/k,3\n" + "1,NA\n" + "inf,-\n")
    column = reading.table.column("a")
    assert isinstance(column, NumberColumn)
    assert [(s.row, s.text) for s in column.stray] == [(20, "n/k"), (22, "inf")]
    assert reading.found.missing == (("-", 1), ("NA", 1))


@pytest.mark.parametrize(
    ("text", "doubtful"),
    [
        ("a\tb\n1.234\t5\n2.500\t6\n", "1.234"),
        ("a\tb\n1,234\t5\n2,500\t6\n", "1,234"),
        ("a\tb\n1.234\t5.5\n2.500\t6\n", ""),
        ("a\tb\n0.234\t5\n2.500\t6\n", ""),
        ("a\tb\n1.234\t5,5\n2.500\t6\n", ""),
    ],
)
def test_a_mark_that_nothing_decides_is_said(text: str, doubtful: str) -> None:
    reading = read(text)
    assert reading.found.doubtful == doubtful
    assert reading.found.doubtful_columns == (("a",) if doubtful else ())
    if doubtful:
        assert doubtful in read_as_phrases(reading.way, 2, reading.found)[-1]


def test_the_sign_of_every_number_becomes_its_unit() -> None:
    column = read("a,b\n45%,1\n50%,2\n").table.column("a")
    assert isinstance(column, NumberColumn)
    assert column.sign == "%"


def test_dates_are_days_since_1970() -> None:
    column = read("a,b\n1970-01-02 12:00,1\n1969-12-31,2\n").table.column("a")
    assert isinstance(column, DateColumn)
    assert column.numbers.tolist() == [1.5, -1.0]


def test_large_texts_are_read_as_small_ones(monkeypatch: pytest.MonkeyPatch) -> None:
    """The quick way for plain numbers and the way for everything else give the same table."""
    from yellow_slope.files.text import delimited

    rng = np.random.default_rng(4)
    rows = [
        f"{a:.6f},{b},{c}" for a, b, c in zip(rng.normal(size=3000), rng.integers(0, 9, 3000), ["u", "v", "w"] * 1000)
    ]
    rows[2500] = "odd,NA,w"
    rows[2900] = "1e400,3,"
    text = "a,b,c\n" + "\n".join(rows) + "\n"
    slow = read(text)
    monkeypatch.setattr(delimited, "BLOCK", 1 << 12)
    quick = read(text)
    assert quick.found == slow.found
    for mine, its in zip(quick.table.columns, slow.table.columns):
        assert type(mine) is type(its)
        assert said(mine) == said(its)
        assert getattr(mine, "stray", ()) == getattr(its, "stray", ())


def test_parts_end_with_whole_rows_also_where_cells_hold_line_ends(monkeypatch: pytest.MonkeyPatch) -> None:
    from yellow_slope.files.text import delimited

    cells = ['"one\ntwo"', '"a ""quoted"" word"', "plain", '"three\n\nlines\n"', ""]
    text = "a,b,c\n" + "".join(f"{k / 7:.5f},{cells[k % 5]},{k}\n" for k in range(4000))
    slow = read(text)
    told: list[float] = []
    monkeypatch.setattr(delimited, "BLOCK", 1 << 12)
    monkeypatch.setattr(delimited, "PART", 5000)
    quick = delimited.parse_delimited(text.encode(), "t.csv", progress=told.append)
    assert len(told) > 10, "part by part"
    assert told == sorted(told)
    assert quick.table.n_rows == slow.table.n_rows == 4000
    for mine, its in zip(quick.table.columns, slow.table.columns):
        assert said(mine) == said(its)

    def nobody_waits(share: float) -> None:
        if share > 0.5:
            raise InterruptedError

    with pytest.raises(InterruptedError):
        delimited.parse_delimited(text.encode(), "t.csv", progress=nobody_waits)


def test_a_column_that_turns_to_texts_far_down_is_one_of_texts(monkeypatch: pytest.MonkeyPatch) -> None:
    from yellow_slope.files.text import delimited

    monkeypatch.setattr(delimited, "BLOCK", 1 << 12)
    text = (
        "a,b\n" + "".join(f"{k},{k + 0.5}\n" for k in range(4000)) + "".join(f"word {k % 5},1.5\n" for k in range(4000))
    )
    table = read(text).table
    assert not table.column("a").is_numeric
    assert [table.column("a").text(i) for i in (0, 3999, 4001)] == ["0", "3999", "word 1"]
    assert table.column("b").is_numeric


def test_a_row_is_named_by_its_line_also_below_empty_lines_and_line_ends_in_cells() -> None:
    with pytest.raises(FileError, match="row 6: 1 value"):
        read('a,b\n1,x\n\n"2\n2",y\n3\n4,z\n')
    filled = read("a,b\n1,x\n\n2\n3,y\n\n\n4,z,9\n5,w\n", way=ReadAs(ragged=Ragged.FILL))
    assert said(filled.table.column("a")) == [1.0, 2.0, 3.0, 4.0, 5.0]
    assert filled.found.ragged == (4, 8)


def test_a_cell_longer_than_a_piece_is_read_and_saved_again(monkeypatch: pytest.MonkeyPatch) -> None:
    from yellow_slope.files.study.packedtable import written
    from yellow_slope.files.text import delimited

    monkeypatch.setattr(delimited, "BLOCK", 1 << 12)
    long = "x" * 30_000
    table = read("a,b\n" + "1.5,u\n" * 3000 + f"2.5,{long}\n").table
    assert table.column("b").text(3000) == long
    again = delimited.read_typed(written(table), {"a": "number", "b": "string"}, "t")
    assert (again.n_rows, again.column("b").text(3000)) == (3001, long)


LETTER = """Dear Ilse,

thank you for your letter, which came on a day of wind.
We have waxed all boards, and the snow of the hall holds;
still nobody has come down the blue slope since Tuesday.
There is room for you on the bench, if you want it.

Yours, Marten
"""
PROGRAM = """#include <slope.h>

int main(void) {
    double sum = 0;
    for (int i = 0; i < 8; i++) {
        sum += slope(i, 2);
    }
    print(sum);
    return 0;
}
"""
SCRIPT = """import math

def slope(x, y):
    if x > 3:
        return math.log(x), y
    return None

for i in range(8):
    print(slope(i, 2))
"""


@pytest.mark.parametrize("text", [LETTER, PROGRAM, SCRIPT])
def test_a_letter_or_a_program_is_asked_about(text: str) -> None:
    with pytest.raises(DoubtfulError, match="does not look like a table") as refused:
        parse_delimited(text.encode(), "found.txt")
    (way,) = refused.value.ways.values()
    anyway = parse_delimited(text.encode(), "found.txt", replace(way, ragged=Ragged.FILL))
    assert anyway.table.n_rows >= 4, "whoever says so reads it all the same"


@pytest.mark.parametrize(
    "text",
    [
        "mood\n1\n2\n3\n4\n",
        "site\nharbour\nhall\nhall\n",
        "a,b\nsome words here,more of them\nand so on,until the end\n",
        "id;answer\n1;I liked it very much\n2;it was cold in the hall\n3;no\n",
        "mood\nn/a\n2\n3\nn/a\n5\n",
    ],
)
def test_tables_of_one_column_or_of_words_are_tables(text: str) -> None:
    assert parse_delimited(text.encode(), "found.txt").table.n_rows >= 2


def test_quoted_names_that_are_numbers(tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    path.write_text('"1","2","3"\n4,5,6\n7,8,9\n1,2,3\n')
    assert open_anything(path).table.names == ("1", "2", "3")
    path.write_text('"1","2","3"\n"4","5","6"\n"7","8","9"\n')  # everything stands in quotes: nothing tells
    assert open_anything(path).table.n_rows == 3


@pytest.mark.parametrize("words", ["für die Straße", "élève à côté", "niño português"])
def test_words_of_old_macintoshes(tmp_path: Path, words: str) -> None:
    path = tmp_path / "t.csv"
    for encoding in ("mac_roman", "cp1252", "utf-8"):
        path.write_bytes(f"said,n\n{words},1\n{words} too,2\nmore,3\n".encode(encoding))
        study = open_anything(path)
        assert study.table.column("said").text(0) == words, encoding


def test_an_apostrophe_is_no_letter(tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    path.write_bytes("said,n\nthey don’t,1\n“well” – they did…,2\nŠkoda,3\n".encode("cp1252"))
    assert [open_anything(path).table.column("said").text(k) for k in range(3)] == [
        "they don’t",
        "“well” – they did…",
        "Škoda",
    ]


@pytest.mark.parametrize(
    ("text", "row"),
    [
        ('a,b\n1,2\n3,4\n"', 4),
        ('a,b\n1,2\n"', 3),
        ('a\n1\n2\n"', 4),
        ('a,b\n1,2\n"x,3\n4,5\n', 3),
        ('a,b\n1,2\n3,"x\n4,5\n', 3),
        ('a,b\n1,"one\ntwo"\n3,"\n', 4),
        ('"a,b\n1,2\n3,4\n', 1),
    ],
)
def test_a_quote_that_is_never_closed(text: str, row: int, capfd: pytest.CaptureFixture[str]) -> None:
    """Every row below would stand in one cell: it is refused, and nothing is printed on the way."""
    said = rf"row {row}: a quote is opened there and never closed"
    with pytest.raises(FileError, match=said):
        parse_delimited(text.encode(), "t.csv")
    with pytest.raises(FileError, match=said):
        read_typed(text.encode(), {}, "t.csv")
    assert capfd.readouterr() == ("", "")


def test_a_quote_within_a_cell_is_a_letter() -> None:
    reading = read('a,b\n1,5" pipe\n2,pipe\n')
    assert reading.table.column("b").text(0) == '5" pipe'
