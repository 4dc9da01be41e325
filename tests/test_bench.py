"""Benchmarks run to their end, tried with few cases: what they measure is no matter here."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

pytestmark = pytest.mark.no_cover  # what it runs through others run through

SCRIPTS = Path(__file__).resolve().parents[1] / "scripts"


def run(*parts: str) -> subprocess.CompletedProcess[str]:
    environment = {**os.environ, "BENCH_ROWS": "60", "QT_QPA_PLATFORM": "offscreen"}
    return subprocess.run(
        [sys.executable, str(SCRIPTS / "bench.py"), *parts],
        capture_output=True,
        text=True,
        timeout=600,
        env=environment,
    )


@pytest.mark.no_cover
def test_parts_run_to_their_end_one_after_the_other() -> None:
    """Those that the others build on; each is given a window of its own and leaves none."""
    done = run("evaluation", "writing", "edit", "window", "checks", "probe", "products")
    assert done.returncode == 0, done.stderr[-2000:]
    last = done.stdout.splitlines()[-1]
    assert last.endswith("aims are met.")
    assert int(last.split()[2]) == 25, last


def test_a_part_that_is_not_there_is_said() -> None:
    done = run("nothing")
    assert done.returncode == 1
    assert done.stderr.startswith("There is no part “nothing”; there are evaluation, ")
