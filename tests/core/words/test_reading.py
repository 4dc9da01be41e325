"""In words: each sentence is checked against the numbers and the meaning it must have."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.probe.places import NumberPlace, Point
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.entries import set_reference, treat
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED, STANDARDIZED
from yellow_slope.core.words.sentences.coefficients import Reader, reader
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.samples import sample_sentence


def made(study: Study) -> Reader:
    return Reader(study, fit_of(study), study.model)


def world(blocks: str) -> Study:
    study = study_of(noise_world(11), "y", blocks)
    study = describe(study, "x", unit="hour")
    study = describe(study, "y", label="score", unit="point")
    study = set_reference(study, "g", "low")
    return set_reference(study, "d", "no")


def test_a_plain_number() -> None:
    study = world("x, w")
    read = made(study)
    said = read.coefficient(0, 0)
    b = read.fit.last.b[1]
    assert said.startswith(f"Per further hour of x, score is {b:.2f} points higher (95% CI ")
    assert "other predictors held constant." in said


def test_a_standardized_number_says_its_sd() -> None:
    study = treat(world("x"), ["x"], STANDARDIZED)
    sd = noise_world(11)["x"].std(ddof=1)
    assert f"Per SD more of x ({sd:.2f} hours), score is " in made(study).coefficient(0, 0)


def test_a_comparison_names_both_groups() -> None:
    said = made(world("g")).coefficient(0, 1)
    assert said.startswith("Score is ")
    assert " higher in “top” than in “low” (95% CI " in said
    assert "held constant" not in said


def test_number_by_number_is_a_difference_of_slopes_per_unit() -> None:
    read = made(world("x, w; x*w"))
    b = read.fit.last.b[3]
    at_zero = read.fit.last.b[1]
    expected = f"The slope of x on score changes by {b:.2f} points per hour per further unit of w (95% CI "
    assert f"): {at_zero:.2f} at w 0 (outside" in read.coefficient(1, 2)
    assert f"{at_zero + b:.2f} one unit above" in read.coefficient(1, 2)
    assert read.coefficient(1, 2).startswith(expected)


def test_number_by_group_is_a_difference_of_slopes_between_groups() -> None:
    read = made(world("x, g; x*g"))
    said = read.coefficient(1, 4)
    b = read.fit.last.b
    assert said.startswith(
        f"The slope of x on score is {b[1]:.2f} in “low” and {b[1] + b[5]:.2f} in “top”: {b[5]:.2f} points "
        "per hour more"
    )


def test_group_by_group_is_a_difference_of_differences() -> None:
    read = made(world("g, d; g*d"))
    b, said = read.fit.last.b, read.coefficient(1, 3)
    assert said.startswith(
        f"The difference mid minus low in score is {b[1]:.2f} in “no” and {b[1] + b[4]:.2f} in “yes”: ".replace(
            "-", "−"
        )
    )


def test_a_three_way_product_is_read_to_its_depth() -> None:
    said = made(world("x, w, d; x*w, x*d, w*d; x*w*d")).coefficient(2, 6)
    assert said.startswith("The change of the slope of x on score per further unit of w is ")
    assert " in “no” and " in said
    assert " in “yes”: " in said


def test_a_square_speaks_of_twice_its_coefficient() -> None:
    read = made(world("x; x*x"))
    b = read.fit.last.b[2]
    assert f"by {2 * b:.2f} points per hour per further hour of x".replace("-", "−") in read.coefficient(1, 1)


def test_a_square_times_a_number_speaks_of_twice_its_coefficient_too() -> None:
    read = made(world("x, w; x*w, w*w; x*w*w"))
    b = read.fit.last.b[5]
    said = read.coefficient(2, 4)
    assert said.startswith("The change of the slope of x on score per further unit of w changes by ")
    assert f"by {2 * b:.2f} points per hour per further unit of w".replace("-", "−") in said


def test_beta_that_answers_another_question_says_so() -> None:
    raw, centered = world("x, w; x*w"), treat(world("x, w; x*w"), ["w"], CENTERED)
    assert made(raw).coefficient(1, 0).endswith(" β does not correspond to b here: it refers to average w.")
    assert "β" not in made(centered).coefficient(1, 0)
    assert "β" not in made(raw).coefficient(1, 2)


def test_a_joint_test_says_where_the_partners_stand() -> None:
    read = made(world("x, g; x*g"))
    assert read.joint(0, term("g")).startswith("Taken together, the groups of g differ in score: F(2, ")
    assert ", at x 0 (outside its observed range, " in read.joint(1, term("g"))
    assert read.fit.last.joint[term("x*g")].p > 0.05
    expected = "Taken together, the slope of x on score does not differ significantly among the groups of g: F(2, "
    assert read.joint(1, term("x*g")).startswith(expected)


def test_a_slope_that_bends_says_where_it_is_taken() -> None:
    study = world("x, w; x*w, x*x")
    read = made(study)
    probed = probe_fit(study, read.fit, Probe("x", "w"))
    mean = noise_world(11)["x"].mean()
    assert f"at average x ({mean:.2f})" in EffectReader(study, probed, 0).effect(
        0, probed.panels[0].foci[0].effects[0], NumberPlace(1.0, Point.OWN)
    )


def test_where_zero_lies_is_said_for_every_partner() -> None:
    read = made(world("x, w, g; x*w, x*g"))
    said = read.coefficient(1, 0)
    assert said.startswith("From step 2 on: per further hour of x")
    assert "at w 0 (outside its observed range, " in said
    assert "in the group “low”" in said
    centered = made(treat(world("x, w, g; x*w, x*g"), ["w"], CENTERED))
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
    low, high = step.low[2], step.high[2]
    assert f"Not significant: values from {low:.2f} to {high:.2f} remain plausible.".replace(
        "-", "−"
    ) in read.coefficient(0, 1)
    assert "ignificant" not in read.coefficient(0, 0)


def test_slopes_and_differences_name_places_and_groups() -> None:
    study = world("x, w, g; x*w, x*g")
    read = made(study)
    along = probe_fit(study, read.fit, Probe("x", "w"))
    words = EffectReader(study, along, 0)
    said = words.effect(0, along.panels[0].foci[0].effects[1], words.probed.places[1])
    assert said.startswith(f"At w {noise_world(11)['w'].mean():.2f}, per further hour of x, score is ")
    assert "g groups weighted by their share" in said
    by = probe_fit(study, read.fit, Probe("x", "g"))
    words = EffectReader(study, by, 0)
    assert words.effect(0, by.panels[0].foci[0].effects[2], words.probed.places[2]).startswith(
        "In “top”, per further hour of x, "
    )
    slopes = [e.effect for e in by.panels[0].foci[0].effects]
    expected = f"The slope of x on score is {slopes[0]:.2f} in “low” and {slopes[1]:.2f} in “mid”: "
    assert words.difference(0, by.panels[0].foci[0].differences[0]).startswith(expected)
    swapped = probe_fit(study, read.fit, Probe("g", "x"))
    words = EffectReader(study, swapped, 0)
    said = words.effect(1, swapped.panels[0].foci[1].effects[0], words.probed.places[0])
    assert "score is " in said
    assert " in “top” than in “low” (95% CI " in said


def test_the_constant_names_every_zero_point() -> None:
    said = made(treat(world("x, g"), ["x"], CENTERED)).coefficient(0, -1)
    assert said.startswith("At average x (")
    assert " and in the group “low”, score is predicted to be " in said


def test_a_left_out_column_says_what_already_says_it() -> None:
    data = noise_world(12)
    data["twice"] = 2 * data["x"]
    study = study_of(data, "y", "x; twice")
    assert made(study).coefficient(1, 1) == "Twice is omitted because “x” already carries the same information."


def test_lost_cases_are_counted_by_variable() -> None:
    data = noise_world(13)
    data["x"][[0, 1, 2]] = np.nan
    data["w"][[2, 3]] = np.nan
    said = sample_sentence(evaluate(study_of(data, "y", "x, w")))
    lost = "4 had missing values (x 3, w 2; some on more than one variable) and were excluded"
    assert said == f"Of 80 cases, {lost}, leaving n = 76."


def test_of_many_variables_that_cost_cases_those_are_named_that_cost_most() -> None:
    rng = np.random.default_rng(13)
    names = [f"v{k}" for k in range(10)]
    data = {name: rng.normal(size=80) for name in (*names, "y")}
    for k, name in enumerate(names[:9]):
        data[name][8 * k : 8 * k + (3 if k == 4 else 2 if k in (6, 7) else 1)] = np.nan
    evaluation = evaluate(study_of(data, "y", ", ".join(names)))
    said, whole = sample_sentence(evaluation), sample_sentence(evaluation, names_all=True)
    assert "13 had missing values (v4 3, v6 2, v7 2, and 6 other variables) and were excluded" in said
    assert "missing values (v4 3, v6 2, v7 2, v0 1, v1 1, v2 1, v3 1, v5 1, v8 1) and were excluded" in whole


def test_there_is_no_reader_without_a_fit() -> None:
    study = study_of(noise_world(14), "y", "x")
    assert reader(evaluate(take_out(study, study.model.terms))) is None


@pytest.mark.parametrize("name", ["x", "w"])
def test_every_coefficient_of_the_demo_has_one_sentence(demo: Study, name: str) -> None:
    read = made(demo)
    for step in read.fit.steps:
        for j in range(-1, step.n_columns):
            said = read.coefficient(step.index, j)
            assert said.endswith(".")
            assert "nan" not in said
            assert name * 4 not in said


def test_a_term_that_comes_in_with_its_product_never_meant_anything_else() -> None:
    world = noise_world(12)
    read = Reader(made := study_of(world, "y", "x, w, x*w; z"), fit_of(made), made.model)
    for step in (0, 1):
        for column in (0, 1):
            assert not read.coefficient(step, column).startswith("From step"), (step, column)
    later = study_of(world, "y", "x, w; x*w")
    assert Reader(later, fit_of(later), later.model).coefficient(1, 0).startswith("From step 2 on: ")
