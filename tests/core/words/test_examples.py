"""Examples in empty fields are of the study that is open, and can be typed as they stand."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import noise_world, study_of
from yellow_slope.core.data.conditiontext import typed_condition
from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.questiontext import read_questions
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.examples import column_examples, question_example, rule_example
from yellow_slope.core.words.sentences.samples import rule_text


def awkward() -> Study:
    rng = np.random.default_rng(5)
    table = {
        "how many hours, at least": list(rng.normal(1e6, 2500, 40).round(0)),
        "and": list(rng.normal(0.002, 0.0004, 40)),
        "is it 1 or 2?": ["a, b" if v else "c or d" for v in rng.integers(0, 2, 40)],
        "y": list(rng.normal(size=40)),
    }
    return study_of(table, "y", "and")


def studies() -> list[Study]:
    only = study_of({"g": ["a", "b"] * 10, "y": list(range(20))}, "y", "g")
    return [study_of(noise_world(51), "y", "x, g; x*g"), awkward(), only]


@pytest.mark.parametrize("which", [0, 1, 2])
def test_examples_can_be_typed_as_they_stand(which: int) -> None:
    study = studies()[which]
    example = rule_example(study)
    rule = typed_condition(example, study.variables, study.columns.is_numeric)
    assert rule_text(study, rule) == example
    columns = column_examples(study)
    assert columns
    for line in columns:
        name, _, text = line.partition(" = ")
        assert len(derive(study, name, text).variables) == len(study.variables) + 1


def test_they_name_the_model_first_and_nothing_of_another_table() -> None:
    study = studies()[0]
    assert rule_example(study).startswith("x at least ")
    assert rule_example(study).endswith(" and g is “low”")
    assert "both" not in study.model.variables
    taken = derive(study, "often", "1 if x at least 2 else 0")
    assert not any(line.startswith("often") for line in column_examples(taken))


@pytest.mark.parametrize("labels", ["a b", "none,group lesson,video feedback", "a,b,c,d,e", "x against y,and,the rest"])
def test_questions_of_the_group_that_is_open_can_be_typed_as_they_stand(labels: str) -> None:
    names = labels.split(",") if "," in labels else labels.split()
    study = study_of({"g": names * 10, "y": list(range(10 * len(names)))}, "y", "g")
    variable = study.variable("g")
    line = question_example(variable)
    assert "against" in line
    assert any(level.label in line for level in variable.levels)
    if "against" not in labels:
        assert not isinstance(read_questions(variable, line), Mistake)
