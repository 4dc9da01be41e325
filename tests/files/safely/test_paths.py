"""Names that are too long for what would stand beside them, or for any file, are no trouble."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from tests.support.places import ROOT
from yellow_slope.core.data.source import ReadAs
from yellow_slope.core.errors import FileError
from yellow_slope.files.opening import first_rows, open_anything

TABLE = "x,y\n1,2\n3,4\n5,7\n"


def test_a_table_whose_name_leaves_no_room_for_that_of_a_schema(tmp_path: Path) -> None:
    path = tmp_path / f"{'n' * 250}.csv"
    path.write_text(TABLE)
    assert open_anything(path).table.names == ("x", "y")
    assert first_rows(path, ReadAs()) is not None


@pytest.mark.parametrize("name", ["n" * 300, "n" * 5000, "a\0b", "folder"])
def test_what_is_no_file_is_said(tmp_path: Path, name: str) -> None:
    (tmp_path / "folder").mkdir()
    with pytest.raises(FileError, match=r"\.$"):
        open_anything(tmp_path / name)


def test_no_path_is_asked_itself() -> None:
    """`Path.is_file` and its like fail where no file can have such a name (Python 3.11); those of `os.path` answer."""
    asked = re.compile(r"\b(?!e\.is_dir)\w+\.(is_dir|is_file|exists)\(\)")
    for file in sorted((ROOT / "src").rglob("*.py")):
        assert not asked.search(file.read_text()), file
