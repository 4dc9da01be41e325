"""The floors of what tests run through fail a run that lies below one of them."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tests.support.places import ROOT


@pytest.mark.parametrize(("lines", "branches", "code"), [(95, 85, 0), (99, 99, 0), (94, 99, 1), (99, 84, 1), (0, 0, 1)])
def test_each_floor_counts_by_itself(lines: int, branches: int, code: int, tmp_path: Path) -> None:
    totals = {"covered_lines": lines, "num_statements": 100, "covered_branches": branches, "num_branches": 100}
    report = tmp_path / "coverage.json"
    report.write_text(json.dumps({"totals": totals}))
    done = subprocess.run(
        [sys.executable, ROOT / "scripts" / "floors.py", report], capture_output=True, text=True, check=False
    )
    assert done.returncode == code, done.stdout + done.stderr
