"""Columns, kinds, missing codes, levels, sample and what each variable costs."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import noise_world, study_of
from yellow_slope.core.arrays import distinct
from yellow_slope.core.data.columns import Columns
from yellow_slope.core.data.guessing import guessed_variable
from yellow_slope.core.data.table import Column, Table, number_column, number_text, text_column
from yellow_slope.core.data.variable import Kind, Level, Variable, as_group, as_number, found_levels, shortened
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.cases import cases_of, has_value
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.values import replace


@pytest.mark.parametrize(
    ("value", "text"),
    [(3.0, "3"), (-2.0, "-2"), (0.1, "0.1"), (1e300, "1e+300"), (float("nan"), ""), (1 / 3, repr(1 / 3))],
)
def test_numbers_are_written_so_that_they_read_back(value: float, text: str) -> None:
    assert number_text(value) == text
    if text:
        assert float(text) == value


def test_a_column_of_numbers_cannot_be_changed() -> None:
    source = np.array([1.0, 2.0])
    column = number_column("x", source)
    source[0] = 9
    assert column.numbers is not None
    assert column.numbers[0] == 1
    with pytest.raises(ValueError, match="read-only"):
        column.numbers[0] = 5


def test_texts_are_listed_in_order_of_appearance_and_empty_is_missing() -> None:
    column = text_column("g", ["b", "", "a", "b"])
    assert column.texts == ("b", "a")
    assert column.present.tolist() == [True, False, True, True]
    assert [column.text(i) for i in range(4)] == ["b", "", "a", "b"]


def test_tables_refuse_columns_that_do_not_fit() -> None:
    with pytest.raises(StudyError, match="different lengths"):
        Table((number_column("a", [1]), number_column("b", [1, 2])))
    with pytest.raises(StudyError, match="both named “a”"):
        Table((number_column("a", [1]), number_column("a", [2])))
    with pytest.raises(StudyError, match="no column named “z”"):
        Table((number_column("a", [1]),)).column("z")


@pytest.mark.parametrize(
    ("values", "kind"),
    [
        (["low", "high"] * 20, Kind.GROUP),
        ([f"person {k}" for k in range(40)], Kind.IDENTIFIER),
        ([f"town {k % 35}" for k in range(200)], Kind.TEXT),
    ],
)
def test_texts_are_groups_unless_nearly_all_differ(values: list[str], kind: Kind) -> None:
    assert guessed_variable(text_column("t", values)).kind is kind


def door(column: Column, variable: Variable) -> Columns:
    """The values of a table of one column."""
    return Study(Table((column,)), (variable,)).columns


def with_model(study: Study) -> tuple[Study, Model]:
    return study, study.model


def test_whole_numbers_open_as_numbers() -> None:
    assert guessed_variable(number_column("code", [1, 2, 3])).kind is Kind.NUMBER


@pytest.mark.parametrize(
    ("values", "kind"),
    [([0, 1, 1, np.nan], Kind.GROUP), ([1, 2, 2], Kind.GROUP), ([0.5, 1, 1], Kind.NUMBER), ([4, 4], Kind.NUMBER)],
)
def test_two_whole_values_open_as_two_groups(values: list[float], kind: Kind) -> None:
    found = guessed_variable(number_column("code", values))
    assert found.kind is kind
    assert len(found.levels) == (2 if kind is Kind.GROUP else 0)


def test_levels_of_numbers_are_in_order_of_size_and_of_texts_in_the_alphabet() -> None:
    assert [x.code for x in found_levels(number_column("n", [10, 2, 2, np.nan]))] == ["2", "10"]
    assert [x.code for x in found_levels(text_column("t", ["b", "A", "c"]))] == ["A", "b", "c"]


def test_missing_codes_of_numbers_and_of_texts() -> None:
    numbers = Variable("n", Kind.NUMBER, "n", missing=("-9",))
    np.testing.assert_array_equal(door(number_column("n", [1, -9, 3]), numbers).numbers("n"), [1, np.nan, 3])
    texts = Variable("t", Kind.GROUP, "t", levels=(Level(("a",), "A"), Level(("b",), "B")), missing=("?",))
    assert door(text_column("t", ["a", "?", "b", ""]), texts).levels("t").tolist() == [0, -1, 1, -1]


def test_a_value_of_no_level_is_missing() -> None:
    variable = Variable("g", Kind.GROUP, "g", levels=(Level(("0",), "none"), Level(("2",), "video")))
    assert door(number_column("g", [0, 1, 2, np.nan]), variable).levels("g").tolist() == [0, -1, 1, -1]


def test_texts_never_become_numbers() -> None:
    column = text_column("t", ["a", "b"])
    with pytest.raises(StudyError, match="contains texts"):
        as_number(guessed_variable(column), column)
    with pytest.raises(StudyError, match="contains texts"):
        door(column, guessed_variable(column)).numbers("t")


def test_a_declared_order_of_levels_is_kept() -> None:
    column = number_column("g", [0, 1, 2])
    variable = Variable("g", Kind.NUMBER, "g", levels=(Level(("2",), "two"), Level(("0",), "zero")))
    assert [x.code for x in as_group(variable, column).levels] == ["2", "0"]


@pytest.mark.parametrize(
    ("unit", "units", "many"),
    [
        ("hour", "", "hours"),
        ("hour", "hours a week", "hours a week"),
        ("", "", "units"),
        ("cm", "", "cm"),
        ("%", "", "%"),
        ("hour a week", "", "hours a week"),
        ("hours a week", "", "hours a week"),
        ("point/hour", "", "points/hour"),
        ("g per day", "", "g per day"),
    ],
)
def test_units(unit: str, units: str, many: str) -> None:
    assert Variable("x", Kind.NUMBER, "x", unit=unit, units=units).many == many


def test_short_names_have_at_most_eighteen_characters() -> None:
    assert shortened("video feedback with slow motion") == "video feedback wi…"
    assert len(shortened("x" * 80)) == 18
    assert shortened("practice") == "practice"


def test_lost_cases_are_counted_twice() -> None:
    world = noise_world(81)
    world["x"][[0, 1]] = np.nan
    world["y"][[1, 2, 3]] = np.nan
    study = study_of(world, "y", "x, w")
    sample = cases_of(study, study.model)
    assert study.model.variables == ("y", "x", "w")
    assert {lost.variable: (lost.any, lost.only) for lost in sample.lost} == {"y": (3, 2), "x": (2, 1)}
    assert (sample.n, sample.n_lost) == (76, 4)
    assert sample.rows.tolist() == list(range(4, 80))


def test_all_steps_rest_on_the_same_cases() -> None:
    world = noise_world(82)
    world["z"][:10] = np.nan
    study = study_of(world, "y", "x; z")
    assert cases_of(study, study.model).n == 70
    assert cases_of(*with_model(take_out(study, [study.model.blocks[1].terms[0]]))).n == 80


def test_a_group_case_outside_its_levels_has_no_value() -> None:
    study = study_of(noise_world(83), "y", "g")
    variable = study.variable("g")
    narrowed = change_variable(study, replace(variable, levels=variable.levels[:2]))
    assert int(has_value(narrowed, narrowed.model, "g")[0].sum()) == 54


def test_a_new_study_says_nothing() -> None:
    study = new_study(Table((number_column("practice_hours", [1, 2]),)))
    assert study.variables[0].label == "practice hours"
    assert study.model.outcome is None
    assert study.model.terms == ()


@pytest.mark.parametrize("at", [70_000, 131_071, 131_072, 150_000])
def test_a_third_value_far_down_a_long_column_is_seen(at: int) -> None:
    values = np.arange(160_000.0) % 2
    assert guessed_variable(number_column("code", values)).kind is Kind.GROUP
    values[at] = 2.0
    assert guessed_variable(number_column("code", values)).kind is Kind.NUMBER


@pytest.mark.parametrize(
    "values",
    [
        [3.0, 1.0, np.nan, 3.0, 7.0],
        [-2.0, 5.0, -2.0],
        [0.5, 0.25, np.nan, 0.5],
        [1e12, 1e12 + 1, 5.0],
        [np.nan],
        [],
        [-0.0, 0.0, 1.0],
        [1e7, 0.0, 1e7],
    ],
)
def test_different_values_and_their_places(values: list[float]) -> None:
    numbers = np.array(values, dtype=float)
    found, places = distinct(numbers)
    here = numbers[~np.isnan(numbers)]
    np.testing.assert_array_equal(found, np.unique(here))
    assert (places[np.isnan(numbers)] == -1).all()
    np.testing.assert_array_equal(found[places[~np.isnan(numbers)]], here)
