"""What is said of a product without any one case is what the cases say."""

from __future__ import annotations

import re

import numpy as np
import pytest

from tests.support.worlds import fit_of, study_of, term
from yellow_slope.core.fit.asked.leftout import without_each
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.leftout import left_out_sentence


def world(pull: float) -> Study:
    """A product that one case makes."""
    rng = np.random.default_rng(3)
    n = 40
    columns = {name: rng.normal(size=n) for name in ("x", "w", "y")}
    columns["x"][11], columns["w"][11], columns["y"][11] = 3.0, 3.0, pull
    groups = [("low", "middle", "high")[k % 3] for k in range(n)]
    return study_of({**columns, "g": groups}, "y", "x, w, g; x*w; x*g")


def said(study: Study, product: str) -> str:
    fit = fit_of(study)
    return left_out_sentence(study, fit, len(fit.steps) - 1, term(product))


def test_the_range_and_the_row_are_those_of_the_refits() -> None:
    study = world(20.0)
    fit = fit_of(study)
    (column,) = fit.design.columns_of(term("x*w"))
    found = without_each(fit, len(fit.steps) - 1, np.eye(len(fit.design.columns) + 1)[column + 1], 0.95)
    text = said(study, "x*w")
    low, high = (float(t.replace("−", "-")) for t in re.findall(r"between (\S+) and (\S+?),", text)[0])
    assert low == pytest.approx(float(found.effect.min()), abs=0.006)
    assert high == pytest.approx(float(found.effect.max()), abs=0.006)
    assert "row 12 moves it most" in text
    assert found.p_of_all < 0.05 < found.p[11]
    assert text.endswith("Its p is no longer below .050 without row 12, each alone.") is bool(
        (found.p > 0.05).sum() == 1
    )


def test_of_several_columns_one_is_named() -> None:
    assert "(of its columns the one that moves most)" in said(world(20.0), "x*g")


def test_robust_errors_are_told_apart() -> None:
    study = set_errors(world(1.0), HC(3))
    assert said(study, "x*w").endswith("(With classical standard errors.)")


def test_where_nothing_is_to_be_told_nothing_is() -> None:
    x = np.arange(8.0)
    study = study_of({"y": 1 + x, "x": x, "w": x % 3}, "y", "x, w; x*w")
    assert said(study, "x*w") == ""
