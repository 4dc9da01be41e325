"""What the guide says can be typed is understood."""

import re

import numpy as np
import pytest

from tests.support.places import DOCS
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.quickline import read_line
from yellow_slope.core.study.study import Study, new_study

GUIDE = (DOCS / "guide.md").read_text(encoding="utf-8")


def section(title: str) -> str:
    """The text below a heading, up to the next of its rank."""
    rank = title.split()[0]
    return re.split(rf"^#{{1,{len(rank)}}} ", GUIDE.split(f"\n{title}\n")[1], maxsplit=1, flags=re.M)[0]


def typed(text: str) -> list[str]:
    """What stands in the first column of its tables, between marks of code."""
    cells = [line.split(" | ")[0] for line in text.splitlines() if line.startswith("| `")]
    return [piece for cell in cells for piece in re.findall(r"`([^`]*)`", cell)]


LINES = typed(section("## The quick line"))
SUFFIXES = (
    "centered at",
    "at the",
    "within",
    "over all",
    "in SDs",
    "in units",
    "after log",
    "each against",
    "the mean",
    "as trends",
    "as level",
)


def plain(names: list[str]) -> Study:
    rng = np.random.default_rng(1)
    return new_study(Table(tuple(number_column(n, rng.normal(size=50)) for n in names)))


def test_the_guide_has_its_lines() -> None:
    assert len(LINES) > 30


@pytest.mark.parametrize("line", LINES)
def test_every_line_of_the_guide_is_understood(demo: Study, line: str) -> None:
    study = demo
    if "..." in line:
        study = plain([*(f"item{k:02d}" for k in range(1, 31)), "b_pre", "pre_z_a", "y"])
        line = f"y = {line}"
    elif line.startswith(SUFFIXES):
        name = "coaching" if line.startswith(("each", "the mean", "as")) else "practice"
        verb = {"the mean": "each against ", "at the": "centered ", "within": "centered "}
        line = f"control = {name} {next((v for k, v in verb.items() if line.startswith(k)), '')}{line}"
    elif line.startswith("without"):
        pass
    elif line.startswith("("):
        line = f"control = {line}"
    mistake = read_line(study, line.strip()).mistake
    assert mistake is None, f"{line}: {mistake}"
