"""Before and after: each state is what a study with those cases says."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.data.conditions import Is
from yellow_slope.core.review.beforeafter import state_rows, state_sentence, states_of, zero_sentence
from yellow_slope.core.stand.standing import ProductAsked
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.samples import new_sample, set_aside, set_sample
from yellow_slope.core.study.treatment import CENTERED, Base, Mean, Treatment
from yellow_slope.values import replace

ASKED = ProductAsked(term("x*w"))


def test_all_cases_those_in_use_and_those_left_without_the_lit() -> None:
    study = study_of(noise_world(3), "y", "x, w, g; x*w")
    out = set_aside(study, [4, 9], "odd")
    states = states_of(out, 1, ASKED, lit=(9, 12))
    assert [s.name for s in states] == ["all cases", "without the 2 set aside", "without the 1 selected too"]
    for state, gone in zip(states, ([], [4, 9], [4, 9, 12])):
        fit = fit_of(set_aside(study, gone, "odd") if gone else study)
        assert state.n == fit.cases.n == 80 - len(gone)
        assert state.r2 == pytest.approx([step.r2 for step in fit.steps])
        (column,) = fit.design.columns_of(term("x*w"))
        assert state.standing is not None
        assert state.standing.one is not None
        assert state.standing.one.b == pytest.approx(fit.last.b[column + 1])
        assert len(state.boundaries) == 1
    rows = state_rows(out, ASKED, states)
    assert rows[0].cells == ("80", "78", "77")
    assert {row.name for row in rows} >= {"R², step 2", "change in step 2", "x × w, b", "its p", "boundaries on w"}


def test_a_conclusion_that_moves_is_said() -> None:
    rng = np.random.default_rng(3)
    n = 40
    made = {name: rng.normal(size=n) for name in ("x", "w", "y")}
    made["x"][11], made["w"][11], made["y"][11] = 3.0, 3.0, 20.0
    study = study_of(made, "y", "x, w; x*w")
    states = states_of(study, 1, ASKED, lit=(11,))
    rows = state_rows(study, ASKED, states)
    assert [row.name for row in rows if row.differs][:2] == ["change in step 2", "its p"]
    said = state_sentence(study, ASKED, states, rows)
    assert said.startswith("The analyses differ in change in step 2, the p of x × w")
    alone = states_of(study, 1, ASKED)
    assert "No case is set aside or selected" in state_sentence(study, ASKED, alone, state_rows(study, ASKED, alone))


def test_samples_kept_under_names_stand_beside_each_other() -> None:
    study = study_of(noise_world(3), "y", "x, w; x*w")
    strict = set_aside(new_sample(study, "strict"), [1, 2, 3], "strict")
    lenient = set_aside(new_sample(strict, "lenient"), [1], "lenient")
    states = states_of(lenient, 1, ASKED)
    assert [s.name for s in states] == ["all cases", "without the 1 set aside", "sample “strict”"]
    assert [s.n for s in states] == [80, 79, 77]
    ruled = new_sample(study, "low", Is("g", "low"))
    assert [s.name for s in states_of(ruled, 1, ASKED)] == ["as it is", "every case of the table"]
    assert set_sample(ruled, None).model.sample is None


def test_a_state_that_cannot_be_fitted_says_why() -> None:
    study = study_of(noise_world(3, 12), "y", "x, w, z; x*w")
    states = states_of(study, 1, ASKED, lit=tuple(range(9)))
    assert states[1].why
    rows = state_rows(study, ASKED, states)
    assert rows[-1].name == "no model because"
    assert rows[1].cells[1] == "–"


def test_of_which_cases_zero_points_are_is_said() -> None:
    study = treat(study_of(noise_world(3), "y", "x, w; x*w"), ["x"], CENTERED)
    assert zero_sentence(study) == "Zero points of x are those of the cases in use (chosen at Prepare)."
    both = treat(study, ["w"], Treatment(zero=Mean(), base=Base.ALL))
    assert zero_sentence(both).startswith("Zero points of x are those of the cases in use; those of w are those of all")
    assert zero_sentence(replace(study, models=(replace(study.model, entries={}),))) == ""
