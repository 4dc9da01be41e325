"""Hold what all tests ran through against its floors: of lines and of branches, each by itself, in whole percents."""

from __future__ import annotations

import json
import sys
from pathlib import Path

FLOORS = {"lines": 95, "branches": 85}


def reached(report: Path) -> dict[str, float]:
    """Percents of lines and of branches, from a report of coverage in JSON."""
    totals = json.loads(report.read_text(encoding="utf-8"))["totals"]
    return {
        "lines": 100 * totals["covered_lines"] / totals["num_statements"],
        "branches": 100 * totals["covered_branches"] / totals["num_branches"],
    }


def main(report: Path) -> int:
    """0 where every floor is reached."""
    found = reached(report)
    for name, percent in found.items():
        print(f"{name}: {percent:.2f} % (floor {FLOORS[name]})")
    return int(any(round(percent) < FLOORS[name] for name, percent in found.items()))


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
