"""E15, the opening: a file that is not what its name says."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np

from tests.app.windowdriver import Hands
from tests.episodes.world import plain_table, raw


def test_e15_opening(hands: Hands, record: Callable[[str, str, int, int], None], tmp_path: Path) -> None:
    window = hands.window
    path = plain_table(tmp_path, separator="\t")
    assert path.suffix == ".csv"
    hands.types(str(path))
    study = window.session.study
    assert study is not None
    assert study.table.names[:3] == ("learner", "control", "practice")
    assert study.table.n_rows == 240
    assert window.data.read_as.separator.text().startswith("separated by tabs")
    assert window.data.read_as.text().startswith("Read as: separated by tabs, decimal point, names in row 1, 240 rows")
    practice = study.columns.numbers("practice")
    np.testing.assert_array_equal(practice[~np.isnan(practice)], raw("practice")["practice"])
    record("E15", "A file that is not what its name says (the opening)", 14, hands.actions)
