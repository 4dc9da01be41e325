"""A number with a code for missing among its values is drawn without it, and says so; its figures say of which cases
they are."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPoint

from tests.support.windowdriver import Hands
from tests.support.worlds import study_of
from yellow_slope.app.frame.roster import bars_in
from yellow_slope.app.prepare.lookedat import look_at
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.samples import summary_sentence

LOW, HIGH = 1.0, 7.0


def coded() -> Study:
    rng = np.random.default_rng(4)
    item = rng.integers(int(LOW), int(HIGH) + 1, 120).astype(np.float64)
    item[[3, 9, 40]] = 999.0
    x = rng.normal(size=120)
    x[5] = np.nan
    return study_of({"item": item, "x": x, "y": rng.normal(size=120)}, "y", "item, x")


def test_the_rest_is_drawn_and_it_is_said(hands: Hands) -> None:
    study = coded()
    hands.place.session.open(study)
    hands.settle()
    bars = bars_in(study, study.variable("item"))
    assert bars is not None
    looked = look_at(study, hands.place.session.view, study.variable("item"))
    for found in (bars, looked.raw, looked.coordinates, looked.treated):
        assert found is not None
        assert LOW - 1 < found.low < found.high < HIGH + 1
    assert bars.counts.sum() == 117
    assert looked.apart == ((999.0, 3),)
    assert bars_in(study, study.variable("x")) is not None
    roster = hands.place.roster
    points = [QPoint(60, y) for y in range(2, roster.height(), 4)]
    at = next(p for p in points if (v := roster.variable_at(p.y())) is not None and v.name == "item")
    tip = roster.tip_at(at)
    assert "drawn without 999 (3 cases)" in tip


def test_a_sentence_says_of_which_cases_its_mean_is() -> None:
    study = coded()
    evaluation = evaluate(study)
    fit = evaluation.fit
    assert fit is not None
    said = summary_sentence(study, evaluation, "item")
    own = np.asarray(fit.values["item"], dtype=np.float64)
    assert f"Over the {own.size} cases in use, its mean is {own.mean():.0f}" in said
    assert "in use" not in summary_sentence(study, evaluation, "x"), "every case with a value is in use"
