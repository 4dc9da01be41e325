"""Planned questions: coded if and only if independent, completed by the program, correlated as their estimates are."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest

from tests.support.exactdesigns import columns
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.codes import codes_of, completion
from yellow_slope.core.groups.codecard import code_card
from yellow_slope.core.study.coding import Adjacent, Dummy, LevelMeans, Planned, Question
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.questions import (
    ONE,
    OTHER,
    OUT,
    ask,
    ask_more,
    change_sides,
    choose_coding,
    drop_question,
    name_comparison,
    questions_of,
    side_of,
    stand,
)
from yellow_slope.core.study.questiontext import question_text, read_questions
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.comparisons import comparison_figures, question_troubles
from yellow_slope.values import replace

LEVELS = "abcdef"


def rank(rows: list[list[Fraction]]) -> int:
    """By elimination in exact arithmetic."""
    left = [list(row) for row in rows]
    found = 0
    for j in range(len(left[0]) if left else 0):
        pivot = next((i for i in range(found, len(left)) if left[i][j]), None)
        if pivot is None:
            continue
        left[found], left[pivot] = left[pivot], left[found]
        for i in range(found + 1, len(left)):
            factor = left[i][j] / left[found][j]
            left[i] = [a - factor * b for a, b in zip(left[i], left[found])]
        found += 1
    return found


def exact_weights(question: Question, k: int) -> list[Fraction]:
    row = [Fraction(0)] * k
    for code in question.one:
        row[LEVELS.index(code)] = Fraction(1, len(question.one))
    for code in question.other:
        row[LEVELS.index(code)] = Fraction(-1, len(question.other))
    return row


def random_question(rng: np.random.Generator, k: int) -> Question:
    """Each level on the one side, on the other, or out; now and then a side is empty."""
    sides = rng.integers(0, 3, k)
    one, other = (tuple(LEVELS[i] for i in np.flatnonzero(sides == side)) for side in (1, 2))
    return Question("", one, other)


@pytest.mark.parametrize("seed", range(200))
def test_a_question_is_coded_if_and_only_if_it_is_independent(seed: int) -> None:
    rng = np.random.default_rng(seed)
    k = int(rng.integers(2, 7))
    questions = [random_question(rng, k) for _ in range(int(rng.integers(1, k + 2)))]
    found = codes_of(Planned(tuple(questions)), LEVELS[:k], rng.integers(1, 9, k))
    coded: list[list[Fraction]] = []
    wanted: list[str] = []
    follows: list[str] = []
    for place, question in enumerate(questions):
        if not question.one or not question.other:
            continue
        row = exact_weights(question, k)
        if rank([*coded, row]) == len(coded) + 1:
            coded.append(row)
            wanted.append(str(place))
        else:
            follows.append(str(place))
    assert [c.key for c in found.comparisons if c.key] == wanted
    assert [c.key for c in found.follows] == follows
    assert found.n_asked == len(wanted)
    # The program completes the set: as many comparisons as there is room for, independent, each a difference of means.
    assert len(found.comparisons) == k - 1
    rows = np.array([c.weights for c in found.comparisons])
    assert np.linalg.matrix_rank(rows) == k - 1
    np.testing.assert_allclose(rows.sum(axis=1), 0, atol=1e-12)
    np.testing.assert_allclose(np.where(rows > 0, rows, 0).sum(axis=1), 1)
    # A coefficient is its comparison whatever completes the set: H times [1 codes] is the identity.
    np.testing.assert_allclose(rows @ found.codes, np.eye(k - 1), atol=1e-9)
    np.testing.assert_allclose(rows @ np.ones(k), 0, atol=1e-12)


def test_a_set_is_completed_as_one_would_do_it_by_hand() -> None:
    # “any against none” over four levels: what is left is the first of the three against the later two, then those two.
    any_ = np.array([-1, 1 / 3, 1 / 3, 1 / 3])
    np.testing.assert_allclose(np.array(completion([any_], 4)), np.array([[0, -1, 0.5, 0.5], [0, 0, -1, 1]]))
    # a against b: c against d is split first; then the two pairs meet.
    np.testing.assert_allclose(
        np.array(completion([np.array([1.0, -1, 0, 0])], 4)), np.array([[0, 0, -1, 1], [-0.5, -0.5, 0.5, 0.5]])
    )
    # Nothing asked yet: each level against the mean of the later ones.
    np.testing.assert_allclose(np.array(completion([], 3)), np.array([[-1, 0.5, 0.5], [0, -1, 1]]))


@pytest.mark.parametrize("factor", [1e-8, 1.0, 1e8])
def test_weights_of_any_size_are_told_apart(factor: float) -> None:
    one = Question("", weights=(("a", factor), ("b", -factor)))
    same = Question("", weights=(("a", -3.0), ("b", 3.0)))
    other = Question("", weights=(("a", 1.0), ("c", -1.0)))
    found = codes_of(Planned((one, same, other)), "abc", np.array([3, 4, 5]))
    assert [c.key for c in found.comparisons] == ["0", "2"]
    assert [c.key for c in found.follows] == ["1"]


@pytest.fixture
def groups() -> Study:
    """Four groups with names, and a covariate."""
    study = study_of(columns(0), "y", "c, g")
    return name_levels(study, "g", ["none", "group lesson", "video feedback", "one-to-one"])


def test_questions_are_typed_as_they_are_said(groups: Study) -> None:
    g = groups.variable("g")
    found = read_questions(
        g, "any coaching: the rest against none; video feedback and one-to-one against group lesson; b against c"
    )
    assert found == (
        Question("any coaching", ("b", "c", "d"), ("a",)),
        Question("", ("c", "d"), ("b",)),
        Question("", ("b",), ("c",)),
    )
    assert [question_text(g, q) for q in found] == [
        "any coaching: group lesson, video feedback, one-to-one against none",
        "video feedback, one-to-one against group lesson",
        "group lesson against video feedback",
    ]
    for question in found:
        assert read_questions(g, question_text(g, question)) == (question,)
    assert read_questions(g, "vid against NONE") == (Question("", ("c",), ("a",)),), "a beginning that fits one name"


@pytest.mark.parametrize(
    ("line", "at", "said"),
    [
        ("none", 0, "“against” is expected"),
        ("none against", 12, "a level is expected here"),
        ("none against group lesson against one-to-one", 0, "second “against”"),
        ("none against quarry", 13, "“quarry” is not a level"),
        ("group lesson against none; none, x against b", 33, "“x” is not a level"),
        ("none, group lesson against none", 27, "is on both sides"),
        ("the rest against the others", 0, "only one side can be the rest"),
        ("a, b, c, d against the rest", 0, "no level is left"),
        ("", 0, "two sides"),
    ],
)
def test_a_mistake_is_pointed_at(groups: Study, line: str, at: int, said: str) -> None:
    found = read_questions(groups.variable("g"), line)
    assert isinstance(found, Mistake)
    assert said in found.message
    assert found.position == at


def test_levels_are_put_on_sides_one_by_one(groups: Study) -> None:
    study = ask(groups, "g", [Question()])
    fit = fit_of(study)
    assert question_troubles(study, code_card(study, study.model, "g", fit)) == {
        0: "no level is on the + side and − side yet"
    }
    for code, side in (("c", ONE), ("b", ONE), ("a", OTHER), ("d", OTHER), ("d", OUT)):
        study = stand(study, "g", 0, code, side)
    assert questions_of(study, "g") == (Question("", ("b", "c"), ("a",)),), "levels stand in the variable's order"
    assert [side_of(questions_of(study, "g")[0], code) for code in "abcd"] == [-1, 1, 1, 0]
    study = change_sides(study, "g", 0)
    assert questions_of(study, "g") == (Question("", ("a",), ("b", "c")),)
    more = ask_more(study, "g", [Question("", ("b",), ("c",)), Question("", ("b",), ("a", "c"))])
    troubles = question_troubles(more, code_card(more, more.model, "g", fit_of(more)))
    assert troubles == {2: "it follows from those before it: this one is tested, not coded"}
    full = ask_more(more, "g", [Question("", ("d",), ("a",)), Question("", ("d",), ("b",))])
    troubles = question_troubles(full, code_card(full, full.model, "g", fit_of(full)))
    assert "4 levels allow 3 questions" in troubles[4]
    assert drop_question(full, "g", 2).model.coding("g") == Planned(
        tuple(q for i, q in enumerate(questions_of(full, "g")) if i != 2)
    )
    with pytest.raises(StudyError, match="no question 9"):
        change_sides(study, "g", 8)
    assert change_sides(ask(study, "g", [Question("", weights=(("a", -1.0), ("b", 1.0)))]), "g", 0).model.coding(
        "g"
    ) == Planned((Question("", weights=(("a", 1.0), ("b", -1.0))),))


def test_what_follows_from_others_is_tested_as_the_difference_it_is(groups: Study) -> None:
    study = ask(groups, "g", [Question("", ("b",), ("a",)), Question("", ("c",), ("b",)), Question("", ("c",), ("a",))])
    card = code_card(study, study.model, "g", fit_of(study))
    assert [c.key for c in card.comparisons] == ["0", "1", "", "2"]
    assert card.effects[3].effect == pytest.approx(card.effects[0].effect + card.effects[1].effect, rel=1e-9)
    alone = ask(groups, "g", [Question("", ("c",), ("a",))])
    direct = code_card(alone, alone.model, "g", fit_of(alone)).effects[0]
    assert (card.effects[3].se, card.effects[3].p) == pytest.approx((direct.se, direct.p), rel=1e-8)


def test_the_figures_of_a_comparison_say_in_which_step_they_are(groups: Study) -> None:
    card = code_card(groups, groups.model, "g", fit_of(groups))
    figures, where = comparison_figures(card, 0), f"step {len(groups.model.steps)}"
    assert figures.startswith(f"{where}    b = ")
    assert comparison_figures(replace(card, is_alone=True), 0) == figures.replace(where, "the groups alone")


def test_comparisons_of_any_coding_get_names(groups: Study) -> None:
    study = choose_coding(groups, "g", Adjacent())
    study = name_comparison(study, "g", "c", "feedback on top")
    basis = fit_of(study).design.group("g")
    assert [c.name for c in basis.comparisons] == ["", "feedback on top", ""]
    assert name_comparison(study, "g", "c", " ").model.coding("g") == Adjacent()
    other = choose_coding(study, "g", Dummy("a"))
    assert all(not c.name for c in fit_of(other).design.group("g").comparisons), "names belong to what was asked"


def test_level_means_take_the_constant_out_and_give_it_back(groups: Study) -> None:
    study = choose_coding(groups, "g", LevelMeans())
    assert not study.model.constant
    assert fit_of(study).last.r2 == pytest.approx(fit_of(groups).last.r2, rel=1e-12), "the same fit in another dress"
    assert choose_coding(study, "g", Dummy("a")).model.constant
