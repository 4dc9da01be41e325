"""Names typed on a line, and what is not written onto."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from yellow_slope.core.errors import FileError
from yellow_slope.files.written.targets import is_same_file, names_on, placed, refuse_inputs


@pytest.mark.parametrize(
    ("line", "names"),
    [
        ("slopes.png", ["slopes.png"]),
        ("slopes.png slopes.svg", ["slopes.png", "slopes.svg"]),
        ("my slopes.png my slopes.svg", ["my slopes.png", "my slopes.svg"]),
        ("my slopes, final.png", ["my slopes", "final.png"]),
        ("a b.PDF;c d.svg ,e.png", ["a b.PDF", "c d.svg", "e.png"]),
        ("spring 2.1 all.parquet out.csv", ["spring 2.1 all.parquet", "out.csv"]),
        ("  ", []),
        ("~/two words/x y.xlsx", ["~/two words/x y.xlsx"]),
    ],
)
def test_names_may_hold_blanks(line: str, names: list[str]) -> None:
    assert names_on(line) == names


def test_a_name_without_a_folder_lies_beside_the_study(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("HOME", "/somewhere")
    assert placed("a b.png", tmp_path) == tmp_path / "a b.png"
    assert placed("sub/a.png", tmp_path) == tmp_path / "sub" / "a.png"
    assert placed("../a.png", tmp_path) == tmp_path.parent / "a.png"
    assert placed("/x/a.png", tmp_path) == Path("/x/a.png")
    assert placed("~/a.png", tmp_path) == Path("/somewhere/a.png")
    with pytest.raises(FileError, match="no such user"):
        placed("~nobody_of_this_name/a.png", tmp_path)


def test_a_file_is_known_by_any_name(tmp_path: Path) -> None:
    table = tmp_path / "table.csv"
    table.write_text("a\n1\n")
    (tmp_path / "link.csv").symlink_to(table)
    os.link(table, tmp_path / "hard.csv")
    for name in ("table.csv", "link.csv", "hard.csv", "../" + tmp_path.name + "/table.csv"):
        assert is_same_file(tmp_path / name, table)
        with pytest.raises(FileError, match="is what this is made from"):
            refuse_inputs([tmp_path / "out.csv", tmp_path / name], [table])
    refuse_inputs([tmp_path / "out.csv"], [table])
    with pytest.raises(FileError, match="named twice"):
        refuse_inputs([tmp_path / "out.csv", tmp_path / "." / "out.csv"], [table])
