"""Small tables for tests, and shorthands for studies of them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term


def study_of(columns: Mapping[str, Any], outcome: str, blocks: str) -> Study:
    """A study; blocks as in "x, w; x*w" (terms by commas, blocks by semicolons, products by stars)."""
    made = [
        text_column(name, list(values)) if isinstance(values[0], str) else number_column(name, values)
        for name, values in columns.items()
    ]
    study = set_outcome(new_study(Table(tuple(made))), outcome)
    return set_blocks(study, blocks_of(blocks))


def blocks_of(text: str) -> list[Block]:
    """Blocks from the tests' shorthand."""
    return [Block(tuple(term(t) for t in part.split(","))) for part in text.split(";")]


def term(text: str) -> Term:
    """A term from the tests' shorthand."""
    return Term(tuple(name.strip() for name in text.split("*")))


def fit_of(study: Study) -> Fit:
    """The fit; the test fails with the reason if there is none."""
    found: Evaluation = evaluate(study)
    assert found.fit is not None, found.problem
    return found.fit


def noise_world(seed: int, n: int = 80) -> dict[str, np.ndarray]:
    """Numbers x, w, z, groups g (three) and d (two), and an outcome that depends on their products."""
    rng = np.random.default_rng(seed)
    x, w, z = rng.normal(5, 2, n), rng.normal(3, 1, n), rng.normal(0, 1, n)
    g = np.array(["low", "mid", "top"])[np.arange(n) % 3]
    d = np.array(["no", "yes"])[(np.arange(n) // 3) % 2]
    y = 2 + x - 0.5 * w + 0.4 * x * w + (g == "top") * (1 + 0.8 * x) + (d == "yes") * w + rng.normal(0, 2, n)
    return {"x": x, "w": w, "z": z, "g": g, "d": d, "y": y}
