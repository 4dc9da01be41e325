"""In words: each sentence is checked against the numbers and the meaning it must have."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.fit.evaluate import evaluate
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study import descriptions, edits
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED, STANDARDIZED
from yellow_slope.core.words.coefficients import Reader, reader
from yellow_slope.core.words.samples import sample_sentence


def made(study: Study) -> Reader:
    return Reader(study, fit_of(study), study.model)


def world(blocks: str) -> Study:
    study = study_of(noise_world(11), "y", blocks)
    study = descriptions.describe(study, "x", unit="hour")
    study = descriptions.describe(study, "y", label="score", unit="point")
    study = edits.set_reference(study, "g", "low")
    return edits.set_reference(study, "d", "no")


def test_a_plain_number() -> None:
    study = world("x, w")
    read = made(study)
    said = read.coefficient(0, 0)
    b = read.fit.last.b[1]
    assert said.startswith(f"Each further hour of x goes with score {b:.1f} points higher (95% CI ")
    assert "other predictors held constant." in said


def test_a_standardized_number_says_its_sd() -> None:
    study = edits.treat(world("x"), ["x"], STANDARDIZED)
    sd = noise_world(11)["x"].std(ddof=1)
    assert f"Each SD more of x ({sd:.2f} hours) goes with score" in made(study).coefficient(0, 0)


def test_a_comparison_names_both_groups() -> None:
    said = made(world("g")).coefficient(0, 1)
    assert said.startswith("In the group “top” (g) score is ")
    assert "than in the reference group “low”" in said
    assert "held constant" not in said


def test_number_by_number_is_a_difference_of_slopes_per_unit() -> None:
    read = made(world("x, w; x*w"))
    b = read.fit.last.b[3]
    way = "larger" if b > 0 else "smaller"
    expected = f"The slope of x on score is {way} by {abs(b):.1f} points per hour for each further unit of w"
    assert read.coefficient(1, 2).startswith(expected)


def test_number_by_group_is_a_difference_of_slopes_between_groups() -> None:
    read = made(world("x, g; x*g"))
    said = read.coefficient(1, 4)
    assert said.startswith("The slope of x on score is larger by ")
    assert "points per hour in the group “top” (g) than in the reference “low”" in said


def test_group_by_group_is_a_difference_of_differences() -> None:
    said = made(world("g, d; g*d")).coefficient(1, 3)
    assert "difference in score between “mid” and “low” (g) is " in said.lower()
    assert "in the group “yes” (d) than in the reference “no”" in said


def test_a_three_way_product_is_read_to_its_depth() -> None:
    said = made(world("x, w, d; x*w, x*d, w*d; x*w*d")).coefficient(2, 6)
    assert said.startswith("The change in the slope of x on score for each further unit of w is ")
    assert "in the group “yes” (d) than in the reference “no”" in said


def test_a_square_speaks_of_twice_its_coefficient() -> None:
    read = made(world("x; x*x"))
    b = read.fit.last.b[2]
    assert f"by {abs(2 * b):.1f} points per hour for each further hour of x" in read.coefficient(1, 1)


def test_a_square_times_a_number_speaks_of_twice_its_coefficient_too() -> None:
    read = made(world("x, w; x*w, w*w; x*w*w"))
    b = read.fit.last.b[5]
    said = read.coefficient(2, 4)
    assert said.startswith("The change in the slope of x on score for each further unit of w is ")
    assert f"by {abs(2 * b):.1f} points per hour for each further unit of w" in said


def test_beta_that_answers_another_question_says_so() -> None:
    raw, centered = world("x, w; x*w"), edits.treat(world("x, w; x*w"), ["w"], CENTERED)
    assert made(raw).coefficient(1, 0).endswith(" β answers another question: it stands at average w.")
    assert "β" not in made(centered).coefficient(1, 0)
    assert "β" not in made(raw).coefficient(1, 2)


def test_a_joint_test_says_where_the_partners_stand() -> None:
    read = made(world("x, g; x*g"))
    assert read.joint(0, term("g")).startswith("Taken together, the groups of g differ in score: F(2, ")
    assert ", at x 0 (outside its observed range, " in read.joint(1, term("g"))
    assert read.fit.last.joint[term("x*g")].p > 0.05
    expected = "Taken together, these cases do not show that the slope of x differs among the groups of g: F(2, 74) = "
    assert read.joint(1, term("x*g")).startswith(expected)


def test_a_slope_that_bends_says_where_it_is_taken() -> None:
    study = world("x, w; x*w, x*x")
    read = made(study)
    probed = probe_fit(study, read.fit, Probe("x", "w"))
    mean = noise_world(11)["x"].mean()
    assert f"at average x ({mean:.2f})" in read.effect(probed, 0, probed.foci[0].effects[0], "at w 1")


def test_where_zero_lies_is_said_for_every_partner() -> None:
    read = made(world("x, w, g; x*w, x*g"))
    said = read.coefficient(1, 0)
    assert said.startswith("From step 2 on: each further hour of x")
    assert "at w 0 (outside its observed range, " in said
    assert "for g: low" in said
    centered = made(edits.treat(world("x, w, g; x*w, x*g"), ["w"], CENTERED))
    assert f"at average w ({noise_world(11)['w'].mean():.2f})" in centered.coefficient(1, 0)


def test_only_terms_whose_meaning_changed_say_so() -> None:
    read = made(world("x, w, z; x*w"))
    changed = [read.meaning_changed(1, term(name)) for name in ("x", "w", "z", "x*w")]
    assert changed == [True, True, False, False]
    assert not read.meaning_changed(0, term("x"))


def test_what_is_not_told_apart_from_zero_is_said_to_be_so() -> None:
    read = made(world("x, z"))
    step = read.fit.last
    assert step.p[2] > 0.05 > step.p[1]
    assert "The interval includes 0" in read.coefficient(0, 1)
    assert "The interval includes 0" not in read.coefficient(0, 0)


def test_slopes_and_differences_name_places_and_groups() -> None:
    study = world("x, w, g; x*w, x*g")
    read = made(study)
    along = probe_fit(study, read.fit, Probe("x", "w"))
    said = read.effect(along, 0, along.foci[0].effects[1], read.at_value(along, along.places[1].value))
    assert said.startswith(f"At w {noise_world(11)['w'].mean():.2f} each further hour of x goes with score")
    assert "g groups weighted by their share" in said
    by = probe_fit(study, read.fit, Probe("x", "g"))
    assert read.effect(by, 0, by.foci[0].effects[2], read.at_level(by, 2)).startswith(
        "In the group “top” (g) each further hour"
    )
    assert "in the group “mid” than in “low” (g)" in read.slope_difference(by, 0, 0)
    swapped = probe_fit(study, read.fit, Probe("g", "x"))
    said = read.effect(swapped, 1, swapped.foci[1].effects[0], read.at_value(swapped, swapped.places[0].value))
    assert "score is " in said
    assert "in the group “top” than in “low” (g)" in said


def test_the_constant_names_every_zero_point() -> None:
    said = made(edits.treat(world("x, g"), ["x"], CENTERED)).coefficient(0, -1)
    assert said.startswith("At average x (")
    assert "for g: low, score is predicted to be " in said


def test_a_left_out_column_says_what_already_says_it() -> None:
    data = noise_world(12)
    data["twice"] = 2 * data["x"]
    study = study_of(data, "y", "x; twice")
    assert made(study).coefficient(1, 1) == "Twice is left out: “x” already says all that it says."


def test_lost_cases_are_counted_by_variable() -> None:
    data = noise_world(13)
    data["x"][[0, 1, 2]] = np.nan
    data["w"][[2, 3]] = np.nan
    said = sample_sentence(evaluate(study_of(data, "y", "x, w")))
    assert said.startswith("76 of 80 cases are complete")
    assert "x (3, 2 only there) and w (2, 1 only there)" in said


def test_there_is_no_reader_without_a_fit() -> None:
    study = study_of(noise_world(14), "y", "x")
    assert reader(evaluate(edits.take_out(study, study.model.terms))) is None


@pytest.mark.parametrize("name", ["x", "w"])
def test_every_coefficient_of_the_demo_has_one_sentence(demo: Study, name: str) -> None:
    read = made(demo)
    for step in read.fit.steps:
        for j in range(-1, step.n_columns):
            said = read.coefficient(step.index, j)
            assert said.endswith((".", "direction."))
            assert "nan" not in said
            assert name * 4 not in said
