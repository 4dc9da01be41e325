"""Codes for missing by their gap and roundness; stray cells; what is said of them and what can be done."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import study_of, term
from yellow_slope.core.data.guessing import guess
from yellow_slope.core.data.missingcodes import suspects
from yellow_slope.core.data.table import NumberColumn, Stray, Table, date_text, number_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.flags import dismissed_flags, flags_of
from yellow_slope.core.study.edits.blocks import enter, set_outcome, take_out
from yellow_slope.core.study.edits.descriptions import give_value
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Term
from yellow_slope.values import replace

RNG = np.random.default_rng(12)
ITEM = RNG.integers(1, 6, 200).astype(float)
WORRY = np.round(RNG.uniform(1.1, 7.3, 200), 1)
AGE = RNG.integers(18, 66, 200).astype(float)


def put(values: np.ndarray, code: float, times: int = 14) -> np.ndarray:
    out = np.array(values)
    out[:times] = code
    return out


@pytest.mark.parametrize(
    ("values", "codes"),
    [
        (put(ITEM, 9), [9]),
        (put(ITEM, 8), [8]),
        (put(ITEM, -9), [-9]),
        (put(ITEM, -1), [-1]),
        (put(ITEM, 99), [99]),
        (put(WORRY, 99), [99]),
        (put(AGE, 99), [99]),
        (put(put(WORRY, 999, 30), 998, 10), [999, 998]),
        (put(WORRY * 100, -99), []),  # not whole, and near
        (put(ITEM, 7), []),  # beside 1 to 5 no gap
        (put(ITEM, 6), []),
        (put(ITEM, 9, 120), []),  # most cases
        (np.array([-1.0, 0, 1] * 20), []),
        (np.arange(100.0), []),
        (np.array([1.0, 2, 3, 4, 5, 6, 7, 8, 9] * 10), []),
        (put(AGE, 150), []),  # not round
        (np.array([1.0, 9.0] * 10), []),
        (np.full(20, np.nan), []),
    ],
)
def test_codes_for_missing_are_found_by_gap_and_roundness(values: np.ndarray, codes: list[float]) -> None:
    assert [s.value for s in suspects(number_column("x", values), ())] == codes


def study_with(*columns: NumberColumn) -> Study:
    y = number_column("y", RNG.normal(size=200))
    return set_outcome(new_study(Table((*columns, y))), "y")


def test_the_flag_says_where_it_stands_and_one_click_declares_it() -> None:
    study = study_with(number_column("fear", put(WORRY, 99)))
    (flag,) = flags_of(evaluate(study))
    assert flag.title == "99 occurs 14 times in fear: a code for missing?"
    assert flag.stands_at("fear")
    rest = WORRY[14:]
    assert f"all other values run from {rest.min():.2f} to {rest.max():.2f}" in flag.cost
    (remedy,) = flag.remedies
    assert remedy.label == "Count 99 as missing"
    after = remedy.edit(study)
    assert after.variable("fear").missing == ("99",)
    assert int(np.isnan(after.columns.numbers("fear")).sum()) == 14
    assert flags_of(evaluate(after)) == ()
    kept = dismiss(study, flag.key, "a real value")
    assert flags_of(evaluate(kept)) == ()


def test_the_same_code_in_several_columns_is_one_flag() -> None:
    study = study_with(*(number_column(f"item{k}", put(ITEM, 9, 10 + k)) for k in range(5)))
    (flag,) = flags_of(evaluate(study))
    assert flag.title == "9 occurs 60 times in 5 columns: a code for missing?"
    assert all(flag.stands_at(f"item{k}") for k in range(5))
    (remedy,) = flag.remedies
    assert remedy.label == "Count 9 as missing in 5 columns"
    assert all(remedy.edit(study).variable(f"item{k}").missing == ("9",) for k in range(5))


def test_stray_cells_are_flagged_settled_or_given_a_value() -> None:
    column = replace(
        number_column("x", put(WORRY, np.nan, 3)), stray=(Stray(0, "n/k"), Stray(1, "7 or 8"), Stray(2, "n/k"))
    )
    study = study_with(column)
    (flag,) = flags_of(evaluate(study))
    assert flag.key.kind is FlagKind.STRAY
    assert flag.title == "3 cells of x are not numbers"
    assert "“n/k” in rows 1, 3 and “7 or 8” in row 2" in flag.cost
    given = give_value(study, "x", "7 or 8", 7.5)
    assert given.columns.numbers("x")[:3].tolist() == pytest.approx([np.nan, 7.5, np.nan], nan_ok=True)
    assert [f.title for f in flags_of(evaluate(given))] == ["2 cells of x are not numbers"]
    settled = flag.remedies[0].edit(study)
    assert flags_of(evaluate(settled)) == ()
    assert np.isnan(settled.columns.numbers("x")[:3]).all()
    assert give_value(given, "x", "7 or 8", None).variable("x").given == ()
    with pytest.raises(StudyError, match="no stray cell “nowhere”"):
        give_value(study, "x", "nowhere", 1.0)


def test_a_given_value_counts_in_the_fit() -> None:
    column = replace(number_column("x", put(WORRY, np.nan, 1)), stray=(Stray(0, "many"),))
    study = enter(study_with(column), [Term(("x",))])
    before, after = evaluate(study), evaluate(give_value(study, "x", "many", 6.0), evaluate(study))
    assert before.fit is not None
    assert after.fit is not None
    assert after.fit.cases.n == before.fit.cases.n + 1


def test_strays_beside_two_values_are_flagged_and_can_be_given_a_level() -> None:
    numbers = np.tile([0.0, 1.0], 100)
    numbers[:2] = np.nan
    study = study_with(replace(number_column("d", numbers), stray=(Stray(0, "n/k"), Stray(1, "one"))))
    assert [level.code for level in study.variable("d").levels] == ["0", "1"]
    assert guess(study.table.column("d")).reason == "exactly two values, 0 and 1, besides 2 that are not numbers"
    (flag,) = flags_of(evaluate(study))
    assert flag.title == "2 cells of d are not numbers"
    assert study.columns.levels("d")[:3].tolist() == [-1, -1, 0]
    given = give_value(study, "d", "one", 1.0)
    assert given.columns.levels("d")[:3].tolist() == [-1, 1, 0]


def test_flags_of_one_sort_over_many_columns_are_one_flag_with_a_list() -> None:
    rng = np.random.default_rng(8)
    items = {f"item{i}": rng.integers(1, 6, 60).astype(float) for i in range(12)}
    study = study_of({**items, "y": rng.normal(size=60)}, "y", ", ".join(items))
    codes = [f for f in flags_of(evaluate(study)) if f.key.kind is FlagKind.CODE]
    assert len(codes) == 1
    (flag,) = codes
    assert flag.key.about == tuple(items)
    assert flag.title == "Are 12 numbers quantities, or codes?"
    assert "item0, item1" in flag.cost
    assert "and 4 more take only 5 whole values each" in flag.cost
    assert all(flag.stands_at(name) for name in items)
    (remedy,) = flag.remedies
    assert remedy.label == "Treat the 12 as groups"
    assert all(remedy.edit(study).variable(name).kind is Kind.GROUP for name in items)
    # what was put aside stays aside when another column comes or one goes, and is not asked again
    aside = dismiss(study, flag.key, "scales")
    assert [f for f in flags_of(evaluate(aside)) if f.key.kind is FlagKind.CODE] == []
    fewer = take_out(aside, [term("item3")])
    assert [f for f in flags_of(evaluate(fewer)) if f.key.kind is FlagKind.CODE] == []
    assert [reason for _, reason in dismissed_flags(evaluate(fewer))] == ["scales"]
    more = study_of(
        {**items, "site": rng.integers(1, 4, 60).astype(float), "y": rng.normal(size=60)},
        "y",
        ", ".join([*items, "site"]),
    )
    more = dismiss(more, flag.key, "scales")
    (left,) = [f for f in flags_of(evaluate(more)) if f.key.kind is FlagKind.CODE]
    assert left.key.about == ("site",)
    assert left.title == "Is site a quantity, or a code?"
    assert "R² of the last step would be" in left.cost


def test_strays_of_several_columns_are_one_flag() -> None:
    columns = tuple(NumberColumn(f"x{i}", np.array([1.0, np.nan, 2.5, 3.0]), (Stray(1, f"odd {i}"),)) for i in range(5))
    study = new_study(Table(columns))
    (flag,) = [f for f in flags_of(evaluate(study)) if f.key.kind is FlagKind.STRAY]
    assert flag.title == "5 cells of 5 columns are not numbers"
    assert "x0 contains “odd 0” in row 2." in flag.cost
    assert "There are more in x3 and x4." in flag.cost
    settled = flag.remedies[0].edit(study)
    assert all(settled.variable(f"x{i}").missing == (f"odd {i}",) for i in range(5))
    assert [f for f in flags_of(evaluate(settled)) if f.key.kind is FlagKind.STRAY] == []


def test_what_counts_the_rows_is_an_identifier_and_says_so() -> None:
    assert guess(number_column("id", np.arange(1.0, 13.0))).reason == "it counts the rows from 1 to 12"
    assert guess(number_column("v", np.arange(0.0, 60.0))).reason == "it counts the rows from 0 to 59"
    assert guess(number_column("v", np.arange(0.0, 40.0))).variable.kind is Kind.NUMBER
    assert (
        guess(number_column("v", np.arange(0.0, 120.0, 2.0))).reason == "it counts the rows from 0 to 118 in steps of 2"
    )
    assert (
        guess(number_column("id", np.arange(0.0, 40.0, 2.0))).reason == "it counts the rows from 0 to 38 in steps of 2"
    )
    assert guess(number_column("week", np.arange(1.0, 61.0))).variable.kind is Kind.NUMBER


@pytest.mark.parametrize("start", [1, 100, 1000, 50001, 10**9])
@pytest.mark.parametrize("step", [1, -1, 5, 10])
@pytest.mark.parametrize("shuffled", [False, True])
def test_ids_of_any_start_and_step_tell_cases_apart(start: int, step: int, shuffled: bool) -> None:
    values = start + step * np.arange(260.0)
    if shuffled:
        values = np.random.default_rng(start).permutation(values)
    found = guess(number_column("v", values))
    assert found.variable.kind is Kind.IDENTIFIER
    assert ("occurs once" in found.reason) == shuffled


def test_years_and_measures_are_numbers() -> None:
    rng = np.random.default_rng(3)
    years = rng.permutation(np.arange(1951.0, 2024.0))
    assert guess(number_column("jahr", np.arange(1951.0, 2024.0))).variable.kind is Kind.NUMBER
    assert guess(number_column("jahr", years)).variable.kind is Kind.NUMBER
    assert (
        guess(number_column("income", np.unique(rng.integers(900, 90000, 300)).astype(float))).variable.kind
        is Kind.NUMBER
    )
    assert guess(number_column("score", rng.integers(1, 100, 300).astype(float))).variable.kind is Kind.NUMBER


def test_dates_written_as_numbers_are_no_quantity() -> None:
    days = [20260401.0, 20260402.0, 20260430.0, 20260501.0, 20241231.0, 20240229.0] * 9
    found = guess(number_column("when", days))
    assert found.variable.kind is Kind.IDENTIFIER
    assert found.reason == "its numbers are dates, as 20260401"
    assert guess(number_column("when", [*days, 20260431.0])).variable.kind is Kind.NUMBER, "no such day"
    assert guess(number_column("when", [*days, 20261301.0])).variable.kind is Kind.NUMBER, "no such month"


def test_dates_are_rounded_to_seconds_across_midnight() -> None:
    assert date_text(20000.0) == "2024-10-04"
    assert date_text(20000.9999999) == "2024-10-05"
    assert date_text(20000.5) == "2024-10-04 12:00"
    assert date_text(0.5 + 1 / 86400, is_time=True) == "12:00:01"


@pytest.mark.parametrize(("times", "said"), [(1, "once"), (2, "twice"), (3, "3 times")])
def test_how_often_a_code_stands_is_said(times: int, said: str) -> None:
    values = np.append(np.tile([1.0, 2.0, 3.0, 4.0, 5.0, 6.0], 10), [99.0] * times)
    (flag,) = [
        f
        for f in flags_of(evaluate(new_study(Table((number_column("worry", values),)))))
        if f.key.kind is FlagKind.MISSING_CODE
    ]
    assert flag.title == f"99 occurs {said} in worry: a code for missing?"
