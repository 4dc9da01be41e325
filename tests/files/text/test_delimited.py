"""Delimited text: guesses, refusals with their row, and reading back what was written."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.table import NumberColumn, Table, TextColumn, number_column, text_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import FileError
from yellow_slope.core.words.sentences.sources import read_as_phrases, source_phrases
from yellow_slope.files.opening import open_anything
from yellow_slope.files.study.packedtable import written
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.files.text.delimited import parse_delimited, read_typed


def table_of(text: str, encoding: str = "utf-8") -> Table:
    return parse_delimited(text.encode(encoding), "t.csv").table


def numbers_of(table: Table, name: str) -> FloatArray:
    column = table.column(name)
    assert isinstance(column, NumberColumn)
    return column.numbers


def texts_of(table: Table, name: str) -> tuple[str, ...]:
    column = table.column(name)
    assert isinstance(column, TextColumn)
    return column.texts


@pytest.mark.parametrize(
    ("text", "phrases"),
    [
        ("a,b\n1,2\n3,4\n", ("separated by commas", "decimal point", "names in row 1", "2 rows")),
        ("a\tb\n1,5\t2\n3,25\t4\n", ("separated by tabs", "decimal comma", "names in row 1", "2 rows")),
        ("a;b\n1,5;x\n3,25;y\n", ("separated by semicolons", "decimal comma", "names in row 1", "2 rows")),
        ("a|b\n1|2\n", ("separated by bars", "decimal point", "names in row 1", "1 row")),
        ("1,2\n3,4\n", ("separated by commas", "decimal point", "no names", "2 rows")),
    ],
)
def test_how_a_file_was_read(text: str, phrases: tuple[str, ...]) -> None:
    reading = parse_delimited(text.encode(), "t.csv")
    assert read_as_phrases(reading.way, reading.table.n_rows) == phrases


def test_decimal_commas_become_numbers() -> None:
    table = table_of("a\tb\n1,5\tx\n−3\ty\n".replace("−", "-"))
    np.testing.assert_array_equal(numbers_of(table, "a"), [1.5, -3.0])


def test_missing_values_and_texts() -> None:
    table = table_of("n,t\n1,low\nNA,\n ,high\n2.5,low\n")
    np.testing.assert_array_equal(numbers_of(table, "n"), [1, np.nan, np.nan, 2.5])
    assert texts_of(table, "t") == ("low", "high")
    assert table.column("t").present.tolist() == [True, False, True, True]


def test_one_word_among_numbers_makes_texts() -> None:
    assert not table_of("a\n1\ntwo\n3\n").column("a").is_numeric


def test_names_are_made_different() -> None:
    assert table_of("age,age,\n1,2,3\n").names == ("age", "age (2)", "column 3")


def test_quotes_and_a_western_encoding() -> None:
    table = table_of('name,x\n"Höhe, oben",1\n"b",2\n', "cp1252")
    assert texts_of(table, "name")[0] == "Höhe, oben"


def test_a_marked_wide_encoding() -> None:
    assert table_of("a,b\n1,2\n", "utf-16").names == ("a", "b")


def test_trailing_empty_cells_are_forgiven() -> None:
    assert table_of("a,b\n1,2,,\n3,4\n").n_rows == 2


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "is empty"),
        (b"\x7fELF\x00\x00\x01", "not a text file"),
        (b"a,b\n1,2\n3,4,5\n", "row 3: 3 values where there are 2 columns"),
        (b"a,b\n1,2\n3\n", "row 3: 1 value where"),
        (b"a,b\n", "no rows below"),
    ],
)
def test_what_is_wrong_and_where(content: bytes, said: str) -> None:
    with pytest.raises(FileError, match=said):
        parse_delimited(content, "t.csv")


def test_a_missing_file_is_named(tmp_path: Path) -> None:
    with pytest.raises(FileError, match=r"nowhere\.csv cannot be read: no such file"):
        open_anything(tmp_path / "nowhere.csv")


cells = st.one_of(
    st.just(""), st.text(alphabet="abc ,;\"'ü\t", min_size=1, max_size=6).filter(lambda t: t.strip() == t)
)


@settings(max_examples=50, deadline=None)
@given(
    st.lists(
        st.one_of(st.floats(allow_nan=False, allow_infinity=False), st.just(float("nan"))), min_size=3, max_size=12
    ),
    st.data(),
)
def test_numbers_and_texts_are_written_exactly(numbers: list[float], data: st.DataObject) -> None:
    texts = data.draw(st.lists(cells, min_size=len(numbers), max_size=len(numbers)))
    content = written(Table((number_column("n", numbers), text_column("t", ["zz", *texts[1:]]))))
    again = read_typed(content, {"n": "number", "t": "string"}, "t")
    np.testing.assert_array_equal(numbers_of(again, "n"), numbers)
    assert [again.column("t").text(i) for i in range(len(texts))] == ["zz", *texts[1:]]


def test_a_description_beside_the_table_is_used(tmp_path: Path) -> None:
    (tmp_path / "t.csv").write_text("g,y\n0,1\n1,2\n-9,3\n")
    (tmp_path / "t.schema.json").write_text(
        '{"fields": [{"name": "g", "title": "coaching", "missingValues": ["-9"],'
        ' "categories": [{"value": 0, "label": "none"}, {"value": 1, "label": "one-to-one"}]}]}'
    )
    study = open_anything(tmp_path / "t.csv")
    variable = study.variable("g")
    assert variable.kind is Kind.GROUP
    assert [level.label for level in variable.levels] == ["none", "one-to-one"]
    assert variable.missing == ("-9",)
    assert source_phrases(study.source, study.table.n_rows)[-1] == "described by t.schema.json"


def test_a_wrong_description_is_refused_with_its_column(tmp_path: Path) -> None:
    (tmp_path / "t.csv").write_text("g,y\na,1\nb,2\n")
    (tmp_path / "t.schema.json").write_text('{"fields": [{"name": "g", "kind": "number"}]}')
    with pytest.raises(FileError, match="“g” is described as a number, but holds texts"):
        open_anything(tmp_path / "t.csv")


def test_a_folder_is_no_table(tmp_path: Path) -> None:
    with pytest.raises(FileError, match="is a folder"):
        open_anything(tmp_path)


def test_the_checksum_of_a_large_file_is_there_when_it_is_saved(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    import hashlib

    path = tmp_path / "t.csv"
    path.write_text("x,y\n" + "".join(f"{i},{i * 7 % 13}\n" for i in range(500)))
    wanted = hashlib.sha256(path.read_bytes()).hexdigest()
    assert open_anything(path).source.checksum == wanted
    monkeypatch.setattr("yellow_slope.files.safely.checksums.LARGE", 100)
    large = open_anything(path)
    assert large.source.checksum == ""
    assert unpacked(packed(large), "s").source.checksum == wanted
    (tmp_path / "t.schema.json").write_text('{"fields": [{"name": "x", "type": "string"}]}')
    assert unpacked(packed(open_anything(path)), "s").source.checksum == wanted
