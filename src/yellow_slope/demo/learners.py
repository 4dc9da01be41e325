"""The dry-slope learners: 240 made-up adults in a ten-week beginners' course, written by a seeded script.

Run `python -m yellow_slope.demo.learners` to write the table, its description and the finished study anew.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray

HERE = Path(__file__).parent
TABLE = HERE / "dry_slope_learners.csv"
SCHEMA = HERE / "dry_slope_learners.schema.json"
SPEC = HERE / "dry_slope_learners.spec.json"
STUDY = HERE / "dry_slope_learners.yslope"
SEED = 20240
N = 240


def numbers(rng: np.random.Generator) -> dict[str, FloatArray | IntArray]:
    """The learners without gaps. The interactions of the made-up world are in the last lines."""
    age = np.clip(np.round(18 + rng.gamma(3.2, 5.2, N)), 18, 70)
    sleep = np.round(np.clip(rng.normal(7.1, 0.9, N), 4.2, 9.8), 1)
    balance = np.round(np.clip(rng.normal(51, 12.4, N), 12, 96), 0)
    worry = np.round(np.clip(rng.normal(3.65, 1.3, N), 1, 7), 1)
    practice = np.round(np.clip(rng.gamma(4.6, 0.85, N), 0.5, 9.5), 1)
    coaching = rng.choice(4, N, p=[0.31, 0.29, 0.2, 0.2])
    returner = rng.choice(2, N, p=[0.58, 0.42])
    site = rng.choice([1, 2, 3], N, p=[0.38, 0.35, 0.27])
    p, w, b = practice - 3.9, worry - 3.65, balance - 51.0
    coached = np.array([0.0, 2.4, 5.6, 8.2])[coaching]
    slope = np.array([0.7, 1.5, 2.9, 4.8])[coaching]
    control = (
        47.5
        + coached
        - 0.13 * (age - 34)
        + 1.1 * (sleep - 7.1)
        + 0.10 * b
        - 1.7 * w
        + slope * p
        - 1.15 * p * w
        + returner * (2.4 + 0.5 * b)
        - 0.9 * p * w * returner
        + rng.normal(0, 7.0, N)
    )
    odd = rng.choice(N, 4, replace=False)
    control[odd[:3]] += np.array([27.0, -26.0, 24.0])
    practice[odd[3]] = 9.5
    control = np.round(np.clip(control, 0, 100), 1)
    return {
        "learner": np.arange(1, N + 1),
        "control": control,
        "practice": practice,
        "worry": worry,
        "balance": balance,
        "sleep": sleep,
        "age": age,
        "coaching": coaching,
        "returner": returner,
        "site": site,
    }


def table_text() -> str:
    """The table as comma-separated text, about one value in a hundred missing."""
    rng = np.random.default_rng(SEED)
    columns = numbers(rng)
    gaps = {name: rng.random(N) < 0.011 for name in columns if name != "learner"}
    lines = [",".join(columns)]
    for i in range(N):
        cells = ["" if name in gaps and gaps[name][i] else f"{float(v[i]):g}" for name, v in columns.items()]
        lines.append(",".join(cells))
    return "\n".join(lines) + "\n"


def schema() -> dict[str, Any]:
    """The labels of the table, as a Table Schema."""

    def levels(*labels: str, start: int = 0) -> list[dict[str, Any]]:
        return [{"value": i, "label": label} for i, label in enumerate(labels, start)]

    fields = [
        {"name": "learner", "type": "number", "title": "learner", "kind": "text"},
        {"name": "control", "type": "number", "title": "control score", "shortTitle": "control", "unit": "point"},
        {"name": "practice", "type": "number", "title": "practice", "unit": "hour", "units": "hours a week"},
        {
            "name": "worry",
            "type": "number",
            "title": "worry",
            "unit": "point",
            "constraints": {"minimum": 1, "maximum": 7},
        },
        {
            "name": "balance",
            "type": "number",
            "title": "balance",
            "unit": "point",
            "constraints": {"minimum": 0, "maximum": 100},
        },
        {"name": "sleep", "type": "number", "title": "sleep", "unit": "hour"},
        {"name": "age", "type": "number", "title": "age", "unit": "year"},
        {
            "name": "coaching",
            "type": "number",
            "title": "coaching",
            "kind": "group",
            "categories": levels("none", "group lesson", "video feedback", "one-to-one"),
        },
        {
            "name": "returner",
            "type": "number",
            "title": "returner",
            "kind": "group",
            "categories": levels("first season", "returner"),
        },
        {
            "name": "site",
            "type": "number",
            "title": "site",
            "kind": "group",
            "categories": levels("north hall", "quarry", "harbour", start=1),
        },
    ]
    return {"fields": fields, "missingValues": [""]}


def spec() -> dict[str, Any]:
    """The finished demo study: three blocks and three probes."""
    return {
        "name": "Dry-slope learners",
        "variables": {
            "practice": {"treatment": "centered"},
            "worry": {"treatment": "centered"},
            "sleep": {"treatment": "centered"},
            "age": {"treatment": "centered"},
            "balance": {"treatment": "standardized"},
            "coaching": {"reference": "none"},
            "returner": {"reference": "first season"},
        },
        "outcome": "control",
        "blocks": [
            {"name": "what they bring", "terms": [["age"], ["balance"], ["sleep"], ["worry"]]},
            {"name": "the course", "terms": [["practice"], ["returner"], ["coaching"]]},
            {
                "name": "does practice pay the same for all?",
                "terms": [["practice", "coaching"], ["practice", "worry"], ["returner", "balance"]],
            },
        ],
        "probes": [
            {"focal": "practice", "moderator": "worry"},
            {"focal": "returner", "moderator": "balance"},
            {"focal": "practice", "moderator": "coaching"},
        ],
    }


def write() -> None:
    """Write table, description and study beside this file."""
    from yellow_slope.files.spec import study_from
    from yellow_slope.files.specdocument import SpecDocument
    from yellow_slope.files.study.studyfile import write_study
    from yellow_slope.files.study.typed import from_json

    TABLE.write_text(table_text())
    SCHEMA.write_text(json.dumps(schema(), indent=1, ensure_ascii=False) + "\n")
    SPEC.write_text(json.dumps(spec(), indent=1, ensure_ascii=False) + "\n")
    write_study(study_from(TABLE, from_json(spec(), SpecDocument, SPEC.name)), STUDY)


if __name__ == "__main__":
    write()
