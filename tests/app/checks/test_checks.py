"""Checks: residuals, and what the product would be without any one case; nothing stands there before a model."""

from __future__ import annotations

import numpy as np

from tests.support.windowdriver import Hands
from yellow_slope.app.state.desk import Cell, Waypoint
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.quickline import said_by
from yellow_slope.core.study.study import new_study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.plots.drawncases import MOST
from yellow_slope.plots.marks import Part, Points, Text


def test_the_foot_tells_of_the_chosen_product(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+4")
    demo_hands.settle()
    assert "Without any one case practice × worry lies between" in demo_hands.sentence()
    assert "row 116 (learner 116) moves it most" in demo_hands.sentence()
    window.session.look(cell=Cell(2, Term(("returner", "balance"))))
    demo_hands.settle()
    assert "Without any one case returner × balance" in demo_hands.sentence()


def test_before_a_model_there_is_one_sentence(hands: Hands) -> None:
    hands.window.session.open(new_study(Table((number_column("x", np.arange(9.0)),))))
    hands.settle()
    hands.window.go(Waypoint.CHECKS)
    hands.settle()
    checks = hands.window.checks
    assert not any(plot.isVisible() for plot in checks.small.values())
    assert not checks.title.isVisible()
    assert checks.large.isVisible()


def test_of_very_many_cases_some_are_drawn_and_that_is_said(hands: Hands) -> None:
    rng = np.random.default_rng(1)
    n = 3 * MOST
    x = rng.normal(size=n)
    table = Table((number_column("x", x), number_column("y", x + rng.normal(size=n))))
    hands.window.session.open(said_by(new_study(table), "y = x"))
    hands.settle()
    hands.window.go(Waypoint.CHECKS)
    hands.settle()
    drawn = hands.window.checks.large.drawn
    assert drawn is not None
    points = sum(mark.points.shape[0] for mark in drawn.page.marks if isinstance(mark, Points))
    notes = [mark.text for mark in drawn.page.marks if isinstance(mark, Text) and mark.about is Part.NOTE]
    assert notes == [f"{points:,} of {n:,} cases, by lot"]
    assert MOST <= points < 1.2 * MOST


def test_a_case_is_called_by_what_tells_it_apart() -> None:
    names = text_column("crew", [f"c{k}" for k in range(12)])
    study = new_study(Table((number_column("x", np.arange(12.0) ** 1.5), names)))
    assert case_name(study, 4) == "row 5 (crew c4)"
    twice = text_column("crew", ["c1", "c1", *(f"c{k}" for k in range(2, 12))])
    assert case_name(new_study(Table((number_column("x", np.arange(12.0) ** 1.5), twice))), 4) == "row 5"
