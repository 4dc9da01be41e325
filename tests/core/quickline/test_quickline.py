"""The quick line: what it reads, what it refuses and where it points."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.worlds import blocks_of, fit_of, term
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.quickline import complete, read_line, unsaid, write_line
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Question,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.entries import set_coding, set_reference, treat
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.models import set_constant, set_errors, set_level
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.study.treatment import (
    AS_IS,
    CENTERED,
    STANDARDIZED,
    At,
    Base,
    Given,
    Mean,
    Median,
    OneSD,
    Transform,
    Treatment,
    WithinGroups,
)


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
    assert reading.summary(demo).text.startswith("9 columns in 3 blocks")


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


def treated(study: Study, line: str, name: str = "practice") -> Treatment:
    reading = read_line(study, line)
    assert reading.mistake is None, reading.mistake
    return reading.apply(study).model.treatment(name)


@pytest.mark.parametrize(
    ("said", "treatment"),
    [
        ("centered", CENTERED),
        ("centred", CENTERED),
        ("Centred at the mean", CENTERED),
        ("standardised", STANDARDIZED),
        ("standardized", STANDARDIZED),
        ("centered at the median", Treatment(zero=Median())),
        ("centered at −2.5", Treatment(zero=At(-2.5))),
        ("centered within site", Treatment(zero=WithinGroups("site"))),
        ("in SDs", Treatment(scale=OneSD())),
        ("centered at 3 in units of 2", Treatment(zero=At(3.0), scale=Given(2.0))),
        ("after log1p", Treatment((Transform.LOG1P,))),
        ("centred after log1p and root", Treatment((Transform.LOG1P, Transform.ROOT), zero=Mean())),
        ("centered over all cases", Treatment(zero=Mean(), base=Base.ALL)),
        ("as it is", Treatment()),
    ],
)
def test_treatments_in_words(demo: Study, said: str, treatment: Treatment) -> None:
    assert treated(demo, f"control = practice {said}, age") == treatment
    assert treated(demo, f"control = age, practice {said} x worry") == treatment


@pytest.mark.parametrize(
    ("said", "coding"),
    [
        ("from video feedback", Dummy("2")),
        ("from video", Dummy("2")),
        ("from “none”", Dummy("0")),
        ("each against one-to-one", Dummy("3")),
        ("each against the mean of all levels", Effect()),
        ("each level against the mean of all cases leaving out none", WeightedEffect("0")),
        ("each against the one before", Adjacent()),
        ("each against the mean of the later ones", AgainstMean(True)),
        ("each against the mean of the earlier ones", AgainstMean(False)),
        ("as trends", Trends()),
        ("as trends at 0 1 2.5 −4", Trends((("0", 0.0), ("1", 1.0), ("2", 2.5), ("3", -4.0)))),
        (
            "asking (any: the rest against none; video feedback against one-to-one)",
            Planned((Question("any", ("1", "2", "3"), ("0",)), Question("", ("2",), ("3",)))),
        ),
    ],
)
def test_codings_in_words(demo: Study, said: str, coding: Coding) -> None:
    reading = read_line(demo, f"control = practice, coaching {said}; practice x coaching")
    assert reading.mistake is None, reading.mistake
    study = reading.apply(demo)
    assert study.model.coding("coaching") == coding
    assert [len(b.terms) for b in study.model.blocks] == [2, 1]


def test_level_means_take_the_intercept_out(demo: Study) -> None:
    study = read_line(demo, "control = coaching as level means, age").apply(demo)
    assert study.model.coding("coaching") == LevelMeans()
    assert not study.model.constant
    assert not read_line(demo, "control = age, no intercept").apply(demo).model.constant
    without = read_line(demo, "control = age, without intercept").apply(demo)
    assert not without.model.constant
    assert read_line(without, "with an intercept").apply(without).model.constant
    assert read_line(demo, "no intercept").summary(demo).text == "no intercept"


def test_everything_up_to_an_order(demo: Study) -> None:
    for words in ("three-way", "third order", "order 3"):
        found = terms(demo, f"control = (practice, worry, returner) up to {words}")
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
    assert terms(demo, "control = (age, sleep, worry) up to two-way; (age) up to fifth order")[0] == [
        "age",
        "sleep",
        "worry",
        "age*sleep",
        "age*worry",
        "sleep*worry",
    ]


def test_powers(demo: Study) -> None:
    wanted = [["practice", "practice*practice", "worry*worry*worry", "practice*practice*age"]]
    assert terms(demo, "control = practice, practice², worry³, practice² x age") == wanted
    assert terms(demo, "control = practice, practice squared, worry cubed, practice x practice x age") == wanted
    assert terms(demo, "control = practice centered squared") == [["practice*practice"]]
    assert treated(demo, "control = practice squared centered") == CENTERED
    assert terms(demo, "control = prac², age to the power 4") == [["practice*practice", "age*age*age*age"]]


def test_patterns_of_names() -> None:
    names = ["pre_a", "pre_b", "post_a", "post_b", "q1", "q10", "q1_z", "outcome_a"]
    rng = np.random.default_rng(1)
    columns = [number_column(name, rng.normal(size=40)) for name in names]
    study = new_study(Table((*columns, text_column("pre_text", [f"t{i}" for i in range(40)]))))
    assert terms(study, "outcome = pre...") == [["pre_a", "pre_b"]], "texts cannot enter"
    assert terms(study, "outcome = ..._a") == [["pre_a", "post_a"]], "the outcome is no predictor"
    assert terms(study, "outcome = p..._b, q…") == [["pre_b", "post_b", "q1", "q10", "q1_z"]]
    assert terms(study, "outcome = q1...q1_z") == [["q1", "q10", "q1_z"]], "two names with dots between are a run"
    assert terms(study, "outcome = q1 ... q1_z") == [["q1", "q10", "q1_z"]]
    assert terms(study, "outcome = q1... q1_z") == [["q1", "q10", "q1_z"]]
    assert terms(study, "outcome = (pre...) x (q1, q10)") == [["pre_a*q1", "pre_a*q10", "pre_b*q1", "pre_b*q10"]]
    assert read_line(study, "outcome = zz...").mistake is not None


def test_beginnings_of_several_words() -> None:
    rng = np.random.default_rng(1)
    names = ["hours of practice", "hours of sleep", "hours", "control score"]
    study = new_study(Table(tuple(number_column(name, rng.normal(size=30)) for name in names)))
    assert terms(study, "control sc = hours of pr, hours of s x hours") == [
        ["hours of practice", "hours of sleep*hours"]
    ]
    assert terms(study, "con = hours, hours of practice centered") == [["hours", "hours of practice"]]
    mistake = read_line(study, "con = hours of x hours").mistake
    assert mistake is not None, "a whole name goes before a beginning, and leaves a rest"
    assert mistake.position == 12


def test_blocks_are_chosen_named_and_switched_off(demo: Study) -> None:
    named = read_line(demo, "control = “what they bring”: age, sleep; practice; “later” off: worry").apply(demo)
    assert [(b.name, b.on, len(b.terms)) for b in named.model.blocks] == [
        ("what they bring", True, 2),
        ("the course", True, 1),
        ("later", False, 1),
    ]
    into = read_line(demo, "block 2: site from quarry, without age")
    assert into.summary(demo).text == "2 columns in block 2; age leaves"
    study = into.apply(demo)
    assert Term(("site",)) in study.model.blocks[1].terms
    assert [b.id for b in study.model.blocks] == [b.id for b in demo.model.blocks]
    renamed = read_line(demo, "block 1 “background”: site").apply(demo)
    assert renamed.model.blocks[0].name == "background"
    new = read_line(demo, "block 4 “more”: site; practice x site").apply(demo)
    assert [b.name for b in new.model.blocks][3:] == ["more", ""]
    assert read_line(demo, "control = block 1: age; block 2: worry").mistake is None


def test_what_a_line_would_do_begins_with_columns(demo: Study) -> None:
    assert read_line(demo, "practice x returner, worry x returner").summary(demo).text == "2 columns in block 4"
    assert (
        read_line(demo, "without sleep, practice x coaching").summary(demo).text
        == "sleep and practice × coaching leave"
    )
    assert read_line(demo, "practice as it is").summary(demo).text == "practice enters otherwise"
    assert (
        read_line(demo, "control = age, worry").summary(demo).text.startswith("2 columns in 1 block; balance, sleep, ")
    )


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
        ("control = coaching squared", "squared", "only numbers have powers"),
        ("control = coaching x practice²², returner³", "³", "only numbers have powers"),
        ("control = age to the power 40", "to the power", "9 at most"),
        ("control = (age, sleep) up to many", "many", "Up to two-way"),
        ("control = age, ...", "...", "rest of a name"),
        ("control = age centered within worry", "worry", "within groups"),
        ("control = age after magic", "magic", "no such transformation"),
        ("control = sleep after reverse", "after", "no declared limits"),
        ("control = age each against the one before", "each", "only groups"),
        ("control = coaching as trends at 1 2", "1 2", "4 levels"),
        ("control = coaching asking none against the rest", "none", "in parentheses"),
        ("control = coaching asking (nobody against the rest)", "nobody", "is not a level"),
        ("control = coaching asking (none against the rest", "(", "closing parenthesis"),
        ("block 9: age x worry", "block 9", "would be the next"),
        ("control = age; block 1: worry", "block 1", "this is block 2"),
        ("“course” age x sleep", "age", "colon"),
        ("control = coaching as level means, with intercept", "", "redundant with an intercept"),
    ],
)
def test_mistakes_are_pointed_at(demo: Study, line: str, marked: str, said: str) -> None:
    mistake = read_line(demo, line).mistake
    assert mistake is not None
    assert said in mistake.message
    if marked:
        assert line[mistake.position :].startswith(marked)


def test_a_model_written_as_a_line_reads_back_as_the_same_model(demo: Study) -> None:
    bare = Study(demo.table, demo.variables)
    again = read_line(bare, write_line(demo))
    assert again.mistake is None, again.mistake
    study = again.apply(bare)
    assert study.model.blocks == demo.model.blocks
    assert study.model.entries == demo.model.entries
    assert unsaid(demo) == []
    robust = set_level(set_errors(demo, HC(3)), 0.9)
    assert unsaid(robust) == ["the kind of standard errors", "the confidence level"]


def test_a_portable_line_means_the_same_beside_a_bare_table(demo: Study) -> None:
    line = "control score = practice centered, site from quarry; site x practice"
    described = read_line(demo, line)
    assert described.mistake is None, described.mistake
    study = described.apply(demo)
    bare = new_study(demo.table)
    assert read_line(bare, write_line(study)).mistake is not None, "labels are not known there"
    carried = write_line(study, portable=True)
    assert "practice centered, site as groups from 2; site x practice" in carried
    again = read_line(bare, carried)
    assert again.mistake is None, again.mistake
    made = again.apply(bare)
    assert made.model.blocks == study.model.blocks
    np.testing.assert_array_equal(fit_of(made).last.b, fit_of(study).last.b)
    assert read_line(study, carried).apply(study).model.entries == study.model.entries


def test_what_a_line_cannot_carry_is_said(demo: Study) -> None:
    study = derive(demo, "twice", "2 * practice")
    study = name_levels(study, "site", ["one", "one", "other"])
    made = read_line(study, "control = twice, site").apply(study)
    assert unsaid(made) == ["how variables are computed", "merged levels"]


NUMBERS = ["practice", "worry", "balance", "sleep", "age"]
GROUPS = ["coaching", "returner", "site"]
TREATMENTS = st.builds(
    Treatment,
    st.lists(st.sampled_from([Transform.LOG1P, Transform.SQUARE, Transform.RANKS]), max_size=2).map(tuple),
    st.sampled_from([Mean(), Median(), At(2.0), At(-1 / 3), WithinGroups("site"), Treatment().zero]),
    st.sampled_from([Treatment().scale, OneSD(), Given(2.5)]),
)
CODINGS: st.SearchStrategy[Coding] = st.sampled_from(
    [Dummy(), Effect(), WeightedEffect(), Adjacent(), AgainstMean(True), AgainstMean(False), Trends()]
)


@settings(max_examples=80, deadline=None)
@given(data=st.data())
def test_any_model_written_as_a_line_reads_back_as_itself(demo: Study, data: st.DataObject) -> None:
    study = Study(demo.table, demo.variables)
    study = set_outcome(study, "control")
    pool = [*NUMBERS, *GROUPS]
    drawn = data.draw(
        st.lists(
            st.lists(st.lists(st.sampled_from(pool), min_size=1, max_size=3), min_size=1, max_size=4),
            min_size=1,
            max_size=4,
        )
    )
    blocks = []
    for some in drawn:
        terms = [Term(tuple(t)) for t in some if all(t.count(g) < 2 for g in GROUPS)]
        if terms:
            name = data.draw(st.sampled_from(["", "what they bring", "a “quoted” one, with; marks"]))
            blocks.append(Block(tuple(terms), name, data.draw(st.booleans())))
    study = set_constant(set_blocks(study, blocks), data.draw(st.booleans()))
    for name in NUMBERS:
        if data.draw(st.booleans()):
            study = treat(study, [name], data.draw(TREATMENTS))
    for name in GROUPS:
        coding = data.draw(CODINGS)
        study = set_coding(study, name, coding)
        if isinstance(coding, Dummy) and data.draw(st.booleans()):
            study = set_reference(study, name, data.draw(st.sampled_from(study.variable(name).levels)).code)
    line = write_line(study)
    bare = Study(demo.table, demo.variables)
    reading = read_line(bare, line)
    if not study.model.blocks:
        return
    assert reading.mistake is None, (line, reading.mistake)
    again = reading.apply(bare)
    assert [(b.terms, b.name.strip(), b.on) for b in again.model.blocks] == [
        (b.terms, b.name.strip(), b.on) for b in study.model.blocks
    ]
    assert again.model.constant == study.model.constant
    for name in {n for t in study.model.terms for n in t.variables}:
        if name in NUMBERS:
            assert again.model.treatment(name) == study.model.treatment(name), line
        else:
            assert again.model.coding(name) == study.model.coding(name), line
    assert write_line(again) == line


@settings(max_examples=150, deadline=None)
@given(text=st.text(alphabet="abceginoprtuwxy =,;×()....:“”²1 ", max_size=40))
def test_no_text_makes_it_raise(text: str) -> None:
    columns = (
        number_column("practice", range(9)),
        number_column("worry", range(9)),
        number_column("control", range(9)),
    )
    reading = read_line(new_study(Table(columns)), text)
    assert reading.mistake is not None or not reading.says_nothing
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


def test_a_code_is_taken_for_groups_in_passing() -> None:
    rng = np.random.default_rng(2)
    columns = (
        number_column("site", [1.0, 2.0, 3.0] * 20),
        number_column("x", rng.normal(size=60)),
        number_column("y", rng.normal(size=60)),
    )
    study = new_study(Table(columns))
    reading = read_line(study, "y = x, site as groups from 2; x x site")
    assert reading.mistake is None, reading.mistake
    assert reading.summary(study).text == "5 columns in 2 blocks"
    made = reading.apply(study)
    assert made.variable("site").kind is Kind.GROUP
    assert made.model.coding("site") == Dummy("2")
    assert study.variable("site").kind is Kind.NUMBER, "reading a line changes nothing"
    assert read_line(made, "y = site as groups").mistake is None, "what is a group already stays one"
    many = read_line(study, "y = x as groups")
    assert many.mistake is not None
    assert "60 different values" in many.mistake.message
    assert many.line[many.mistake.position :].startswith("as groups")


SEVERAL = {
    "item01 ... item04": ("item01", "item02", "item03", "item04"),
    "item01...item03": ("item01", "item02", "item03"),
    "item...": ("item01", "item02", "item03", "item04"),
    "(item02, item04)": ("item02", "item04"),
    "(item01 ... item02, item04)": ("item01", "item02", "item04"),
}
SAID_OF_NUMBERS = {
    "centered": CENTERED,
    "standardized": STANDARDIZED,
    "centered at 3": Treatment(zero=At(3.0)),
    "centered at the median in SDs": Treatment(zero=Median(), scale=OneSD()),
    "centered within g over all cases": Treatment(zero=WithinGroups("g"), base=Base.ALL),
    "in units of 10": Treatment(scale=Given(10.0)),
    "after log": Treatment((Transform.LOG,)),
    "as it is": AS_IS,
}
SAID_OF_GROUPS: dict[str, Coding] = {
    "from b": Dummy("b"),
    "each against the mean of all levels": Effect(),
    "each against the one before": Adjacent(),
    "as trends": Trends(),
}


def several() -> Study:
    rng = np.random.default_rng(5)
    numbers = [number_column(f"item{k:02}", rng.uniform(1, 5, 60)) for k in range(1, 5)]
    groups = [text_column(name, list("abc") * 20) for name in ("g", "h")]
    return new_study(Table((*numbers, *groups, number_column("y", rng.normal(size=60)))))


@pytest.mark.parametrize("said", SAID_OF_NUMBERS)
@pytest.mark.parametrize("names", SEVERAL)
def test_what_is_said_behind_several_is_said_of_all(names: str, said: str) -> None:
    study = treat(several(), ["item01", "item02", "item03", "item04"], Treatment(zero=At(9.0)))
    made = read_line(study, f"y = {names} {said}; {names} {said} x g")
    assert made.mistake is None, made.mistake
    model = made.apply(study).model
    for name in SEVERAL[names]:
        assert model.treatment(name) == SAID_OF_NUMBERS[said], name
    assert model.treatment("item04" if "item04" not in SEVERAL[names] else "item01").zero is not None
    assert model.blocks[1].terms == tuple(Term((name, "g")) for name in SEVERAL[names])


@pytest.mark.parametrize("said", SAID_OF_GROUPS)
def test_codings_behind_a_list_are_said_of_all(said: str) -> None:
    made = read_line(several(), f"y = (g, h) {said} x item01 centered")
    assert made.mistake is None, made.mistake
    model = made.apply(several()).model
    assert [model.coding(name) for name in "gh"] == [SAID_OF_GROUPS[said]] * 2
    assert model.treatment("item01") == CENTERED


def test_what_cannot_be_said_of_all_is_a_mistake() -> None:
    made = read_line(several(), "y = (item01, g) centered")
    assert made.mistake is not None
    assert made.mistake.message == "g is a group; only numbers are centered or standardized."


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("control = practise, worry", "There is no variable “practise”; did you mean “practice”?"),
        ("control = practice; wory x practice", "There is no variable “wory”; did you mean “worry”?"),
        ("control = practice, qqq", "There is no variable “qqq”."),
        ("control = practice + worry", "“+ worry” is not understood here: terms are set apart by commas."),
        ("control = practice * worry", "“* worry” is not understood here: a product is written with x."),
        ("control = practice:worry", "There is no variable “practice:worry”: a product is written with x."),
        ("control ~ practice", "“~ practice” is not understood here: = separates the outcome from its predictors."),
        (
            "control = practice^2",
            "There is no variable “practice^2”: powers are written with ², ³ or “to the power 4”.",
        ),
    ],
)
def test_what_was_meant_is_said_of_what_is_not_understood(demo: Study, line: str, said: str) -> None:
    found = read_line(demo, line).mistake
    assert found is not None
    assert found.message == said


@pytest.mark.parametrize(
    ("typed", "means"),
    [
        ("y = center x", "y = x centered"),
        ("y = center(x, w), x by w", "y = x centered, w centered, x x w"),
        ("y = standardize x", "y = x standardized"),
        ("y = log(x)", "y = x after log"),
        ("y = ln x centered", "y = x centered after log"),
        ("y = x by w", "y = x x w"),
        ("y = x times w", "y = x x w"),
        ("y = code groups", "y = code as groups"),
        ("y = x mean-centered", "y = x centered"),
    ],
)
def test_what_people_type_as_well_means_the_same(typed: str, means: str) -> None:
    study = new_study(_plain("y", "x", "w", "code"))
    one, other = read_line(study, typed), read_line(study, means)
    assert one.mistake is None, one.mistake
    assert one.apply(study).model == other.apply(study).model


@pytest.mark.parametrize(
    ("typed", "hint"),
    [
        ("y = x log", "say “after log”"),
        ("y = x and w", "set apart by commas"),
        ("y = code dummy", "“as groups”"),
        ("y = x^2", "x^2"),
        ("y = x * w", "a product is written with x"),
        ("y = log(v)", "There is no variable “v”"),
        ("y = log(x", "A closing parenthesis is missing here."),
    ],
)
def test_what_is_not_understood_is_answered_with_the_right_form(typed: str, hint: str) -> None:
    mistake = read_line(new_study(_plain("y", "x", "w", "code")), typed).mistake
    assert mistake is not None
    assert hint in mistake.message


def test_a_name_that_begins_like_a_word_stays_a_name() -> None:
    study = new_study(_plain("y", "log", "center of mass", "by"))
    reading = read_line(study, "y = log, center of mass, by")
    assert reading.mistake is None, reading.mistake
    assert reading.apply(study).model.treatment("log") == AS_IS


def _plain(*names: str) -> Table:
    rng = np.random.default_rng(3)
    made = {n: [float(v) for v in rng.integers(1, 5 if n == "code" else 60, 40)] for n in names}
    return Table(tuple(number_column(n, values) for n, values in made.items()))


def test_levels_are_named_where_a_column_becomes_groups() -> None:
    study = new_study(
        Table((number_column("y", [1.0, 2.0, 3.0, 5.0] * 10), number_column("g", [0.0, 1.0, 2.0, 2.0] * 10)))
    )
    reading = read_line(study, "y = g as groups (“none, really”, a lesson, video) from a lesson")
    assert reading.mistake is None, reading.mistake
    made = reading.apply(study)
    assert [(x.code, x.label) for x in made.variable("g").levels] == [
        ("0", "none, really"),
        ("1", "a lesson"),
        ("2", "video"),
    ]
    assert made.model.coding("g") == Dummy("1")
    for line, message in [
        ("y = g as groups (a, b)", "g has 3 levels (0, 1, 2); 2 names were given."),
        ("y = g as groups (a, b, c", "A closing parenthesis is missing here."),
        ("y = g as groups (a, , c)", "The name of a level is missing here."),
    ]:
        mistake = read_line(study, line).mistake
        assert mistake is not None
        assert mistake.message.startswith(message)
