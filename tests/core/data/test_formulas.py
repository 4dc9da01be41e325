"""Typed conditions and expressions: what they mean, that they read back the same, and where a mistake is pointed at."""

from __future__ import annotations

import math
from datetime import date

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_slope.core.data import conditions as c
from yellow_slope.core.data import derived as d
from yellow_slope.core.data.conditiontext import completions, condition_text, find_condition, read_condition
from yellow_slope.core.data.finding import find_cells, sorted_rows
from yellow_slope.core.data.formula import expression_text, find_mistake, read_expression
from yellow_slope.core.data.scanner import Mistake, Scanner, Stop, typed_name
from yellow_slope.core.data.table import DateColumn, NumberColumn, Stray, Table, number_column, text_column
from yellow_slope.core.data.variable import Kind, Level, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.computed import derive, redefine, remove_derived
from yellow_slope.core.study.edits.descriptions import change_variable, declare_missing, describe
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.study import Study, new_study

NAN = float("nan")


def small() -> Study:
    """Six cases with gaps, names with blanks, brackets and quotes, a level named like a word of the notation."""
    days = [date(2026, 3, k).toordinal() - date(1970, 1, 1).toordinal() for k in range(1, 7)]
    table = Table(
        (
            number_column("practice", [1.0, 5.0, 7.5, NAN, 2.0, 5.0]),
            number_column("sleep", [8.0, 6.0, NAN, 7.0, 5.5, 9.0]),
            number_column("worry [1]", [1.0, 7.0, 4.0, 4.0, 2.0, NAN]),
            text_column("coaching", ["none", "or else", "none", "", 'one "to" one', "or else"]),
            number_column("site", [1, 2, 3, 1, 2, 3]),
            text_column("remark", ["a", "bb", "", "a, b", "c”d", "e"]),
            DateColumn("day", np.array(days, dtype=float)),
        )
    )
    study = new_study(table)
    changed = {
        "practice": Variable("practice", Kind.NUMBER, "practice", unit="hour"),
        "worry [1]": Variable("worry [1]", Kind.NUMBER, "worry", unit="point", limits=(1.0, 7.0)),
        "site": Variable(
            "site", Kind.GROUP, "site", levels=(Level(("1", "2"), "harbour"), Level(("3",), "quarry and pit"))
        ),
        "coaching": Variable(
            "coaching",
            Kind.GROUP,
            "coaching",
            levels=(Level(("none",), "none"), Level(("or else",), "or else"), Level(('one "to" one',), "“own”")),
        ),
        "remark": Variable("remark", Kind.TEXT, "remark"),
    }
    for variable in changed.values():
        study = change_variable(study, variable)
    return study


def rule(study: Study, line: str) -> c.Rule:
    scanner = Scanner(line, study.variables)
    found = read_condition(scanner)
    assert scanner.is_done, line[scanner.at :]
    return found


@pytest.mark.parametrize(
    ("line", "rows"),
    [
        ("practice at least 5", [1, 2, 5]),
        ("practice hours at least 5 hours", [1, 2, 5]),
        ("practice ≥ 5", [1, 2, 5]),
        ("practice more than 5", [2]),
        ("practice > 5", [2]),
        ("practice at most 2", [0, 4]),
        ("practice is less than 2", [0]),
        ("practice between 2 and 5 and site is harbour", [1, 4]),
        ("practice is 5", [1, 5]),
        ("practice is 1, 2 or 7.5", [0, 2, 4]),
        ("practice is not 5", [0, 2, 4]),
        ("practice missing", [3]),
        ("practice is not missing", [0, 1, 2, 4, 5]),
        ("coaching is none", [0, 2]),
        ("coaching is none or or else", [0, 1, 2, 5]),
        ("coaching is none or site is quarry and pit", [0, 2, 5]),
        ("coaching is none or practice at least 5", [0, 1, 2, 5]),
        ("coaching is not one of none, or else", [4]),
        ("coaching is ““own”””", [4]),
        ("site is 3", [2, 5]),
        ("not (practice at least 5)", [0, 4]),
        ("not practice at least 5", [0, 4]),
        ("(practice at least 5 or sleep at most 6) and site is harbour", [1, 4]),
        ("remark is “a, b”", [3]),
        ("remark is a or bb", [0, 1]),
        ("remark is “c””d”", [4]),
        ("day at least 2026-03-04", [3, 4, 5]),
        ("day is 2026-03-02", [1]),
        ("[worry [1]] at least 4", [1, 2, 3]),
        ("every case", [0, 1, 2, 3, 4, 5]),
        ("no case", []),
    ],
)
def test_what_a_condition_asks(line: str, rows: list[int]) -> None:
    study = small()
    found = rule(study, line)
    assert np.flatnonzero(c.holds(found, study.columns)).tolist() == rows
    known = {v.name: v for v in study.variables}
    for stored in (False, True):
        assert rule(study, condition_text(found, known, stored=stored)) == found


@pytest.mark.parametrize(
    ("line", "at", "said"),
    [
        ("practise at least 5", 0, "no variable “practise”"),
        ("practice at least many", 18, "A number is missing"),
        ("practice at least 5,5", 19, "with a point"),
        ("practice between 7 and 2", 23, "is the smaller one"),
        ("practice between 7", 18, "and a second number"),
        ("practice hmm", 9, "After practice comes"),
        ("coaching is nobody", 12, "it has “none”, “or else”"),
        ("coaching is “nobody”", 12, "no such group"),
        ("coaching at least 4", 18, "contains texts"),
        ("(practice at least 5", 20, "closing parenthesis"),
        ("practice is “5”", 12, "a number is missing"),
        ("day at least 5", 13, "write one as 2026-03-01"),
        ("day at least 2026-02-31", 13, "no such date"),
        ("coaching is “none", 12, "The closing ” is missing"),
        ("(" * 50 + "practice at least 5", 41, "too deep"),
        ("practice at least 1e999", 18, "too large"),
    ],
)
def test_a_mistake_in_a_condition_is_pointed_at(line: str, at: int, said: str) -> None:
    with pytest.raises(Stop) as stop:
        rule(small(), line)
    assert said in stop.value.mistake.message
    assert stop.value.mistake.position == at


WORRY, SLEEP = np.array([1, 7, 4, 4, 2, NAN]), np.array([8, 6, NAN, 7, 5.5, 9])
PRACTICE = np.array([1, 5, 7.5, NAN, 2, 5])


@pytest.mark.parametrize(
    ("line", "values"),
    [
        ("8 - sleep", 8 - SLEEP),
        ("8 − sleep * 2 / 4", 8 - SLEEP / 2),
        ("-(practice − sleep) + 1", SLEEP - PRACTICE + 1),
        ("reversed worry", 8 - WORRY),
        ("log(practice)", np.log(PRACTICE)),
        ("log(practice - 5)", [NAN, NAN, math.log(2.5), NAN, NAN, NAN]),
        ("log10(practice) + root(practice)", np.log10(PRACTICE) + np.sqrt(PRACTICE)),
        ("exp(worry / 10)", np.exp(WORRY / 10)),
        ("size(3 - worry)", np.abs(3 - WORRY)),
        ("round(practice / 2)", [1, 3, 4, NAN, 1, 3]),
        ("mean of practice, sleep", (PRACTICE + SLEEP) / 2),
        ("mean of practice, sleep with 1", [4.5, 5.5, 7.5, 7, 3.75, 7]),
        ("sum of practice, reversed worry with 1", [8, 6, 11.5, 4, 8, 5]),
        ("lowest of practice, sleep with 1", [1, 5, 7.5, 7, 2, 5]),
        ("highest of practice ... worry with 2", [8, 7, 7.5, 7, 5.5, 9]),
        ("count of practice ... worry", [3, 3, 2, 2, 3, 2]),
        ("sd of practice, sleep", np.abs(PRACTICE - SLEEP) / np.sqrt(2)),
        ("sd of practice ... worry", [math.sqrt(49 / 3), 1.0, NAN, NAN, math.sqrt(49 / 12), NAN]),
        ("group mean of sleep by site", [26.5 / 4, 26.5 / 4, 9, 26.5 / 4, 26.5 / 4, 9]),
        ("1 if practice at least 5 else 0", [0, 1, 1, NAN, 0, 1]),
        ("1 if coaching is none else 2 if site is harbour else 3", [1, 2, 1, NAN, 2, 3]),
        ("(sleep if practice missing else practice) - 1", [0, 4, 6.5, 6, 1, 4]),
        ("site + 1", [2, 3, 4, 2, 3, 4]),
        ("day - 20512", [1, 2, 3, 4, 5, 6]),
        ("practice / 0", [NAN] * 6),
        ("(mean of practice, sleep) * 2", PRACTICE + SLEEP),
        ("2 * -3 + .5e1", [-1.0] * 6),
    ],
)
def test_what_an_expression_computes(line: str, values: list[float]) -> None:
    study = small()
    expression = read_expression(line, study.variables)
    np.testing.assert_allclose(d.values_of(expression, study.columns), values, rtol=1e-14)
    known = {v.name: v for v in study.variables}
    for stored in (False, True):
        assert read_expression(expression_text(expression, known, stored), study.variables) == expression


@pytest.mark.parametrize(
    ("line", "at", "said"),
    [
        ("practice +", 10, "A variable is missing"),
        ("practice + nobody", 11, "no variable “nobody”"),
        ("(practice", 9, "closing parenthesis"),
        ("practice $ sleep", 9, "“$ sleep” is not understood"),
        ("log practice", 0, "no variable “log”"),
        ("log(practice", 12, "closing parenthesis"),
        ("coaching * 2", 0, "contains texts: use it in a condition"),
        ("mean of practice, sleep with 3", 29, "Of 2 variables 3 cannot be required"),
        ("mean of practice, sleep with 0", 29, "Of 2 variables 0 cannot be required"),
        ("reversed practice", 9, "no declared limits"),
        ("group mean of practice", 22, "“by” and a group variable"),
        ("group mean of practice by sleep", 30, "not a group variable"),
        ("1 if practice at least 5", 24, "“else”"),
        ("mean of worry ... practice", 17, "comes before worry"),
        ("(" * 80 + "1", 41, "too deep"),
    ],
)
def test_a_mistake_in_an_expression_is_pointed_at(line: str, at: int, said: str) -> None:
    mistake = find_mistake(line, small().variables)
    assert isinstance(mistake, Mistake)
    assert said in mistake.message
    assert mistake.position == at
    with pytest.raises(StudyError, match=f"character {at + 1}"):
        read_expression(line, small().variables)


# ---- whatever can be said reads back the same

NUMBERS = ("practice", "sleep", "worry [1]")
FINITE = st.floats(-1e6, 1e6).map(lambda x: x + 0.0)
SIMPLE = st.one_of(
    st.builds(c.Is, st.just("coaching"), st.sampled_from(["none", "or else", 'one "to" one'])),
    st.builds(lambda v: c.OneOf("coaching", tuple(v)), st.permutations(["none", "or else", 'one "to" one'])),
    st.builds(c.Is, st.just("remark"), st.text(st.characters(exclude_categories=["C", "Z"]), min_size=1, max_size=5)),
    st.builds(c.AtLeast, st.sampled_from(NUMBERS), FINITE),
    st.builds(c.AtMost, st.sampled_from(NUMBERS), FINITE),
    st.builds(lambda n, a, b: c.Between(n, min(a, b), max(a, b)), st.sampled_from(NUMBERS), FINITE, FINITE),
    st.builds(c.Missing, st.sampled_from([*NUMBERS, "coaching", "remark", "day"])),
)
RULES = st.recursive(
    SIMPLE,
    lambda inner: st.one_of(
        st.lists(inner, min_size=2, max_size=3).map(lambda x: c.All(tuple(x))),
        st.lists(inner, min_size=2, max_size=3).map(lambda x: c.Any(tuple(x))),
        st.builds(c.Not, inner),
    ),
    max_leaves=6,
)
LEAVES = st.one_of(
    st.builds(d.Constant, FINITE),
    st.builds(d.Named, st.sampled_from(NUMBERS)),
    st.just(d.Reversed("worry [1]")),
    st.builds(d.GroupMean, st.sampled_from(NUMBERS), st.sampled_from(["coaching", "site"])),
    st.builds(
        lambda w, k: d.Across(w, (d.Named("sleep"), d.Reversed("worry [1]")), k),
        st.sampled_from(d.RowFunction),
        st.sampled_from([1, 2]),
    ),
)
EXPRESSIONS = st.recursive(
    LEAVES,
    lambda inner: st.one_of(
        st.builds(d.Arithmetic, st.sampled_from("+-*/"), inner, inner),
        st.builds(d.Applied, st.sampled_from(d.Function), inner),
        st.builds(d.Conditional, inner, RULES, inner),
    ),
    max_leaves=8,
)


@pytest.mark.no_cover
@settings(max_examples=300, deadline=None)
@given(RULES, st.booleans())
def test_every_condition_reads_back_the_same(made: c.Rule, stored: bool) -> None:
    study = small()
    line = condition_text(made, {v.name: v for v in study.variables}, stored=stored)
    assert rule(study, line) == made


@pytest.mark.no_cover
@settings(max_examples=300, deadline=None)
@given(EXPRESSIONS, st.booleans())
def test_every_expression_reads_back_with_the_same_values(made: d.Expression, stored: bool) -> None:
    study = small()
    line = expression_text(made, {v.name: v for v in study.variables}, stored)
    again = read_expression(line, study.variables)
    np.testing.assert_array_equal(d.values_of(again, study.columns), d.values_of(made, study.columns))
    assert d.sources_of(again) == d.sources_of(made)


@pytest.mark.no_cover
@settings(max_examples=300, deadline=None)
@given(st.text(max_size=40))
def test_no_line_ends_in_anything_but_a_reading_or_a_mistake(line: str) -> None:
    study = small()
    find_mistake(line, study.variables)
    completions(study.variables, line, len(line))


def test_units_and_limits_follow_the_sources() -> None:
    study = small()
    known = {v.name: v for v in study.variables}

    def facts(line: str) -> tuple[str, tuple[float, float] | None]:
        expression = read_expression(line, study.variables)
        return d.expression_unit(expression, known)[0], d.limits_of(expression, known)

    assert facts("8 - worry") == ("point", (1.0, 7.0))
    assert facts("reversed worry") == ("point", (1.0, 7.0))
    assert facts("(worry + 1) / 2") == ("point", (1.0, 4.0))
    assert facts("(worry + 1) / 2.5")[0] == ""
    assert facts("(worry + 1) / worry")[0] == ""
    assert facts("worry / 2")[0] == ""
    assert facts("(mean of worry, worry) / 2")[0] == "point"
    assert facts("worry * worry") == ("", (1.0, 49.0))
    assert facts("practice + sleep") == ("", None)
    assert facts("mean of worry, worry") == ("point", (1.0, 7.0))
    assert facts("sum of worry, worry") == ("point", (2.0, 14.0))
    assert facts("sum of worry, worry with 1") == ("point", None)
    assert facts("1 / (worry - 4)") == ("", None)
    assert facts("log(practice)") == ("", None)
    assert facts("group mean of practice by site") == ("hour", None)
    assert facts("practice if practice at least 2 else 0") == ("hour", None)
    assert facts("1 if practice at least 2 else 0") == ("", (0.0, 1.0))
    assert facts("size(practice)") == ("hour", None)
    assert facts("count of practice, worry") == ("", None)


def test_a_computed_variable_is_changed_removed_and_grouped() -> None:
    study = derive(small(), "often", "1 if practice at least 5 else 0")
    often = study.variable("often")
    assert (often.kind, [x.code for x in often.levels]) == (Kind.GROUP, ["0", "1"])
    assert study.columns.levels("often").tolist() == [0, 1, 1, -1, 0, 1]
    study = derive(study, "twice", "sleep * 2")
    study = derive(study, "more", "twice + 1 if often is 1 else twice")
    np.testing.assert_array_equal(study.columns.numbers("more"), [16, 13, NAN, NAN, 11, 19])
    changed = redefine(study, "twice", "sleep * 3")
    np.testing.assert_array_equal(changed.columns.numbers("more"), [24, 19, NAN, NAN, 16.5, 28])
    assert redefine(study, "twice", " sleep*2 ") is study
    with pytest.raises(StudyError, match="no variable “more”"):
        redefine(study, "twice", "more + 1")
    with pytest.raises(StudyError, match="more depends on it"):
        remove_derived(study, "twice")
    with pytest.raises(StudyError, match="column of the file"):
        remove_derived(study, "sleep")
    gone = remove_derived(remove_derived(study, "more"), "twice")
    assert [x.name for x in gone.derived] == ["often"]
    with pytest.raises(StudyError, match="already"):
        derive(study, "Practice", "sleep")


def test_a_name_is_typed_so_that_it_reads_back_as_itself() -> None:
    a, b = Variable("a", Kind.NUMBER, "speed"), Variable("b", Kind.NUMBER, "Speed")
    plus = Variable("plus", Kind.NUMBER, "a + b")
    assert [typed_name(v, (a, b, plus)) for v in (a, b, plus)] == ["[a]", "[b]", "a + b"]
    assert typed_name(Variable("x", Kind.NUMBER, "in [cm]"), ()) == "[x]"


def test_levels_that_are_gone_make_a_stored_line_tell_of_no_case() -> None:
    study = small()
    study = declare_missing(study, ["coaching"], "none")
    scanner = Scanner("[coaching] is “none”", study.variables, stored=True)
    assert not c.holds(read_condition(scanner), study.columns).any()


def test_what_finishes_a_word() -> None:
    study = small()
    assert completions(study.variables, "pra", 3) == (0, ["practice"])
    assert completions(study.variables, "practice at least 5 and co", 26) == (24, ["coaching"])
    assert completions(study.variables, "coaching is no", 14) == (12, ["“none”"])
    assert completions(study.variables, "practice at l", 13) == (9, ["at least"])


# ---- looking through a table


def test_cases_are_sorted_with_gaps_last_and_ties_as_in_the_file() -> None:
    study = small()

    def order(name: str, descending: bool = False) -> list[int]:
        return [int(i) for i in sorted_rows(study.columns, study.table, name, descending)]

    assert order("practice") == [0, 4, 1, 5, 2, 3]
    assert order("practice", True) == [2, 1, 5, 4, 0, 3]
    assert order("coaching") == [0, 2, 1, 5, 4, 3]
    assert order("remark") == [0, 3, 1, 4, 5, 2]
    assert order("day", True) == [5, 4, 3, 2, 1, 0]
    more = derive(study, "neg", "0 - practice")
    assert sorted_rows(more.columns, more.table, "neg").tolist() == [2, 1, 5, 4, 0, 3]


def test_texts_labels_codes_numbers_and_strays_are_found() -> None:
    study = small()
    stray = NumberColumn("odd", np.array([1.0, NAN, 5.0, 1.5, 2.0, 3.0]), (Stray(1, "five?"),))
    study = Study(Table((*study.table.columns, stray)), (*study.variables, Variable("odd", Kind.NUMBER, "odd")))

    def found(text: str) -> dict[str, list[int]]:
        finds = find_cells(study.columns, study.table, study.variables, text)
        return {one.variable: one.rows.tolist() for one in finds}

    assert found("ELSE") == {"coaching": [1, 5]}
    assert found("quarry") == {"site": [2, 5]}
    assert found("5") == {"practice": [1, 5], "odd": [2]}
    assert found("1.5") == {"odd": [3]}
    assert found("five") == {"odd": [1]}
    assert found("b") == {"site": [0, 1, 3, 4], "remark": [1, 3]}
    assert found("own") == {"coaching": [4]}
    assert found("  ") == found("nobody") == {}
    assert found("1.0000001") == {}


def test_an_edit_elsewhere_computes_nothing_anew_and_one_at_a_source_does() -> None:
    study = derive(derive(small(), "twice", "practice * 2"), "more", "twice + sleep")
    before = study.columns.numbers("more")
    other = describe(study, "site", label="place")
    assert other.columns.numbers("more") is before
    changed = declare_missing(study, ["practice"], "5")
    np.testing.assert_array_equal(changed.columns.numbers("twice"), [2, NAN, 15, NAN, 4, NAN])
    np.testing.assert_array_equal(np.isnan(changed.columns.numbers("more")), [False, True, True, True, False, True])
    again = redefine(study, "twice", "practice * 3")
    assert again.columns.numbers("more")[0] == 11
    assert study.columns.numbers("more")[0] == 10


def test_the_column_says_whether_it_holds_numbers_not_its_kind() -> None:
    """A number that is left out can still be asked for; an identifier of texts cannot be compared by size."""
    study = set_kind(small(), "sleep", Kind.TEXT)
    here = study.columns.is_numeric
    assert find_condition("sleep at least 7", study.variables, here) == c.AtLeast("sleep", 7.0)
    doubled = derive(study, "twice", "sleep * 2")
    assert doubled.columns.numbers("twice")[0] == 16
    named = change_variable(study, Variable("remark", Kind.IDENTIFIER, "remark"))
    said = find_condition("remark at least 5", named.variables, here)
    assert isinstance(said, Mistake)
    assert "contains texts" in said.message
