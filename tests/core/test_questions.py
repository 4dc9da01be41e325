"""Planned questions: coded if and only if independent, completed by the program, correlated as their estimates are."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest

from yellow_slope.core.fit.codes import codes_of, completion
from yellow_slope.core.study.coding import Planned, Question

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
    return Question("", *(tuple(LEVELS[i] for i in np.flatnonzero(sides == side)) for side in (1, 2)))


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
    np.testing.assert_allclose(completion([any_], 4), [[0, -1, 0.5, 0.5], [0, 0, -1, 1]])
    # a against b: c against d is split first; then the two pairs meet.
    np.testing.assert_allclose(completion([np.array([1.0, -1, 0, 0])], 4), [[0, 0, -1, 1], [-0.5, -0.5, 0.5, 0.5]])
    # Nothing asked yet: each level against the mean of the later ones.
    np.testing.assert_allclose(completion([], 3), [[-1, 0.5, 0.5], [0, -1, 1]])


@pytest.mark.parametrize("factor", [1e-8, 1.0, 1e8])
def test_weights_of_any_size_are_told_apart(factor: float) -> None:
    one = Question("", weights=(("a", factor), ("b", -factor)))
    same = Question("", weights=(("a", -3.0), ("b", 3.0)))
    other = Question("", weights=(("a", 1.0), ("c", -1.0)))
    found = codes_of(Planned((one, same, other)), "abc", np.array([3, 4, 5]))
    assert [c.key for c in found.comparisons] == ["0", "2"]
    assert [c.key for c in found.follows] == ["1"]
