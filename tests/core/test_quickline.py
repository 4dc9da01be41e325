"""The quick line: what it reads, what it refuses and where it points."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.worlds import blocks_of, term
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.quickline import complete, read_line, write_line
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.treatment import CENTERED


def terms(study: Study, line: str) -> list[list[str]]:
    reading = read_line(study, line)
    assert reading.mistake is None, reading.mistake
    return [["*".join(t.variables) for t in block.terms] for block in reading.apply(study).model.blocks]


def empty(demo: Study) -> Study:
    return new_study(demo.table)


def test_the_example_of_the_guide(demo: Study) -> None:
    line = "control = age, balance; practice centered, coaching from video feedback; practice x coaching"
    reading = read_line(demo, line)
    study = reading.apply(demo)
    assert terms(demo, line) == [["age", "balance"], ["practice", "coaching"], ["practice*coaching"]]
    assert study.model.outcome == "control"
    assert study.model.treatment("practice") == CENTERED
    assert study.model.reference("coaching") == "2"
    assert "(7 columns)" not in reading.echo(demo)
    assert reading.echo(demo).endswith("(9 columns)")


def test_labels_names_and_beginnings_are_understood(demo: Study) -> None:
    assert terms(demo, "control score = prac, WORRY") == [["practice", "worry"]]


def test_parts_are_added_in_order_of_size(demo: Study) -> None:
    found = terms(demo, "control = practice x worry x returner and their parts")
    assert found == [
        [
            "practice",
            "worry",
            "returner",
            "practice*worry",
            "practice*returner",
            "worry*returner",
            "practice*worry*returner",
        ]
    ]


def test_parts_already_in_the_model_stay_where_they_are(demo: Study) -> None:
    found = terms(demo, "sleep x worry and their parts")
    assert found[0] == ["age", "balance", "sleep", "worry"]
    assert found[3] == ["sleep*worry"]


def test_a_set_crosses_a_set(demo: Study) -> None:
    found = terms(demo, "control = (practice, worry) x (age, sleep)")
    assert found == [["practice*age", "practice*sleep", "worry*age", "worry*sleep"]]


def test_a_run_of_names() -> None:
    names = [f"item{k:02d}" for k in range(1, 41)]
    columns = [number_column(name, [float(i * k % 7) for i in range(60)]) for k, name in enumerate(names, 3)]
    study = new_study(Table((*columns, number_column("score", range(60)))))
    assert terms(study, "score = item01 ... item30") == [names[:30]]
    assert terms(study, "score = item02...item04; item09") == [names[1:4], [names[8]]]


def test_taking_out_and_adding_in_one_line(demo: Study) -> None:
    found = terms(demo, "site from quarry; without practice x worry, age")
    assert found == [
        ["balance", "sleep", "worry"],
        ["practice", "returner", "coaching"],
        ["practice*coaching", "returner*balance"],
        ["site"],
    ]


def test_a_square(demo: Study) -> None:
    assert terms(demo, "control = practice, practice x practice") == [["practice", "practice*practice"]]


@pytest.mark.parametrize(
    ("line", "marked", "said"),
    [
        ("control = age, wory", "wory", "no variable “wory”"),
        ("control = age; coaching from nowhere", "nowhere", "no such group"),
        ("control = returner centered", "centered", "only numbers"),
        ("control = practice from none", "n", "only groups"),
        ("coaching = age", "coaching", "outcome must be a number"),
        ("control = age balance", "balance", "not understood"),
        ("control = (age, balance", "", "parenthesis"),
        ("control = age, , balance", ",", "variable is missing"),
        ("control = s", "s", "could be"),
        ("control = age; without site", "site", "not in the model"),
        ("control = coaching x coaching", "", "multiplied with itself"),
        ("control = age x control", "", "is the outcome"),
        ("control = learner", "", "free texts"),
    ],
)
def test_mistakes_are_pointed_at(demo: Study, line: str, marked: str, said: str) -> None:
    mistake = read_line(demo, line).mistake
    assert mistake is not None
    assert said in mistake.message
    if marked:
        assert line[mistake.position :].startswith(marked)


def test_a_mistake_changes_nothing_and_is_echoed(demo: Study) -> None:
    reading = read_line(demo, "control = nobody")
    assert reading.echo(demo) == "There is no variable “nobody”."


def test_a_model_written_as_a_line_reads_back_as_the_same_model(demo: Study) -> None:
    again = read_line(empty(demo).__class__(demo.table, demo.variables), write_line(demo))
    assert again.mistake is None
    study = again.apply(demo)
    assert [b.terms for b in study.model.blocks] == [b.terms for b in demo.model.blocks]
    assert study.variables == demo.variables


@settings(max_examples=60, deadline=None)
@given(text=st.text(alphabet="abceginoprtuwxy =,;×()....", max_size=40))
def test_no_text_makes_it_raise(text: str) -> None:
    columns = (
        number_column("practice", range(9)),
        number_column("worry", range(9)),
        number_column("control", range(9)),
    )
    reading = read_line(new_study(Table(columns)), text)
    assert reading.mistake is not None or reading.blocks or reading.outcome or reading.without
    if reading.mistake is not None:
        assert 0 <= reading.mistake.position <= len(text)


def test_words_are_completed(demo: Study) -> None:
    assert complete(demo, "control = pra", 13) == (10, ["practice"])
    assert complete(demo, "control = practice x wo", 23) == (21, ["worry"])


def test_terms_are_equal_whatever_their_order() -> None:
    assert term("x*w") == term("w*x")
    assert term("x*x") != term("x")
    assert term("x*w*g").contains(term("g*x"))
    assert not term("x*w").contains(term("x*x"))
    assert blocks_of("x;w")[0].terms == (term("x"),)
