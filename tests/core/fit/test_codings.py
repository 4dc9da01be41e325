"""Every coding: coefficients are their comparisons, with unequal groups, a covariate and a product, in exact
arithmetic."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.exactdesigns import LEVELS, close, columns, fractions
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.codes import codes_of
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
from yellow_slope.core.study.edits.entries import set_coding
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.study import Study

Q = Fraction(1, 4)
T = Fraction(1, 3)
QUESTIONS = Planned(
    (Question("one", ("a",), ("b", "c", "d")), Question("two", ("b",), ("c", "d")), Question("three", ("c",), ("d",)))
)


def weights(coding: Coding, counts: list[int]) -> list[list[Fraction]] | None:
    """Comparisons over the four levels, written out by hand; None for trends, whose weights are not rational."""
    n = sum(counts)
    if isinstance(coding, Dummy):
        return [
            [Fraction(1), Fraction(-1), Fraction(0), Fraction(0)],
            [Fraction(0), Fraction(-1), Fraction(1), Fraction(0)],
            [Fraction(0), Fraction(-1), Fraction(0), Fraction(1)],
        ]
    if isinstance(coding, Effect):
        return [[Fraction(i == j) - Q for j in range(4)] for i in range(3)]
    if isinstance(coding, WeightedEffect):
        return [[Fraction(i == j) - Fraction(counts[j], n) for j in range(4)] for i in range(3)]
    if isinstance(coding, Adjacent):
        return [
            [Fraction(-1), Fraction(1), Fraction(0), Fraction(0)],
            [Fraction(0), Fraction(-1), Fraction(1), Fraction(0)],
            [Fraction(0), Fraction(0), Fraction(-1), Fraction(1)],
        ]
    if isinstance(coding, AgainstMean) and coding.later:
        return [
            [Fraction(1), -T, -T, -T],
            [Fraction(0), Fraction(1), -Fraction(1, 2), -Fraction(1, 2)],
            [Fraction(0), Fraction(0), Fraction(1), Fraction(-1)],
        ]
    if isinstance(coding, AgainstMean):
        return [
            [Fraction(-1), Fraction(1), Fraction(0), Fraction(0)],
            [-Fraction(1, 2), -Fraction(1, 2), Fraction(1), Fraction(0)],
            [-T, -T, -T, Fraction(1)],
        ]
    if isinstance(coding, Planned):
        return [
            [Fraction(1), -T, -T, -T],
            [Fraction(0), Fraction(1), -Fraction(1, 2), -Fraction(1, 2)],
            [Fraction(0), Fraction(0), Fraction(1), Fraction(-1)],
        ]
    return None


CODINGS: tuple[Coding, ...] = (
    Dummy("b"),
    Effect(),
    WeightedEffect(),
    Adjacent(),
    AgainstMean(True),
    AgainstMean(False),
    QUESTIONS,
)


def made(seed: int, coding: Coding) -> tuple[Study, oracle.Exact, list[int]]:
    """y by a covariate, x, g and x × g; and the same cells with a mean and a slope for each level, exactly."""
    data = columns(seed)
    study = set_coding(study_of(data, "y", "c, x, g; x*g"), "g", coding)
    rows = [
        [
            Fraction(int(c)),
            *(Fraction(h == level) for level in LEVELS),
            *(Fraction(int(x)) * (h == level) for level in LEVELS),
        ]
        for c, x, h in zip(data["c"], data["x"], data["g"])
    ]
    return study, oracle.exact_fit(rows, fractions(data["y"])), [data["g"].count(level) for level in LEVELS]


@pytest.mark.parametrize("coding", CODINGS, ids=lambda c: type(c).__name__ + str(getattr(c, "later", "")))
@pytest.mark.parametrize("seed", range(4))
def test_coefficients_are_their_comparisons(seed: int, coding: Coding) -> None:
    study, exact, counts = made(seed, coding)
    comparisons = weights(coding, counts)
    assert comparisons is not None
    step = fit_of(study).last
    for i, row in enumerate(comparisons):
        for first, position in ((1, 3 + i), (5, 6 + i)):
            g = [Fraction(0)] * first + row + [Fraction(0)] * (len(exact.b) - first - 4)
            b, se = oracle.mp(exact.effect(g)), mpmath.sqrt(oracle.mp(exact.variance(g)))
            assert close(step.b[position], b, se)
            assert close(step.se[position], se)
            assert abs(float(step.p[position]) - oracle.t_p(b / se, exact.df)) < mpmath.mpf("1e-9")
    basis = fit_of(study).design.group("g")
    by_kind: dict[type, list[Fraction]] = {
        Dummy: [Fraction(0), Fraction(1), Fraction(0), Fraction(0)],
        WeightedEffect: [Fraction(c, sum(counts)) for c in counts],
    }
    zero = by_kind.get(type(coding), [Q] * 4)
    assert basis.zero_weights is not None
    np.testing.assert_allclose(basis.zero_weights, [float(v) for v in zero], atol=1e-14)
    level = oracle.mp(exact.effect([Fraction(0), *zero, *[Fraction(0)] * 4]))
    assert close(step.b[0], level, mpmath.mpf(1)), "the intercept is the level at the zero weights"
    slope = oracle.mp(exact.effect([Fraction(0)] * 5 + zero))
    assert close(step.b[2], slope, mpmath.mpf(1)), "the slope is that at the zero weights"


@pytest.mark.parametrize("spacing", [(), (("a", 0.0), ("b", 1.0), ("c", 3.0), ("d", 7.0))])
def test_trends_are_orthogonal_polynomials(spacing: tuple[tuple[str, float], ...]) -> None:
    at = np.array([place for _, place in spacing] or [0.0, 1, 2, 3])
    found = codes_of(Trends(spacing), LEVELS, np.array([4, 3, 2, 1]))
    rows = np.array([c.weights for c in found.comparisons])
    np.testing.assert_allclose(rows @ rows.T, np.eye(3), atol=1e-12)
    assert np.all(rows[:, int(np.argmax(at))] > 0), "the highest level is positive"
    for degree, row in enumerate(rows, 1):
        for power in range(degree):
            assert abs(row @ at**power) < 1e-9, "a trend holds nothing of lower powers"
        assert abs(row @ at**degree) > 0.1
    study, exact, _ = made(1, Trends(spacing))
    step = fit_of(study).last
    means = np.array([float(v) for v in exact.b[1:5]])
    np.testing.assert_allclose(step.b[3:6], rows @ means, rtol=1e-9, atol=1e-9)


def test_level_means_without_a_constant() -> None:
    data = columns(3)
    study = set_constant(study_of(data, "y", "c, g; x*g"), False)
    study = set_coding(study, "g", LevelMeans())
    _, exact, _ = made(3, Dummy("a"))
    step = fit_of(study).last
    assert np.isnan(step.b[0])
    for j, (b, position) in enumerate(zip(exact.b, range(1, 10))):
        g = [Fraction(i == j) for i in range(9)]
        assert close(step.b[position], oracle.mp(b), mpmath.mpf(1))
        assert close(step.se[position], mpmath.sqrt(oracle.mp(exact.variance(g))))
    assert step.about_mean, "the level columns hold the constant"
    assert step.r2 == pytest.approx(float(1 - exact.sse / exact.total), rel=1e-10)
    twin = fit_of(study_of(data, "y", "c, x, g; x*g")).last
    assert step.sse == pytest.approx(twin.sse, rel=1e-10)
    assert step.whole.f == pytest.approx(twin.whole.f, rel=1e-9)
    assert (step.whole.df1, step.whole.df2) == (twin.whole.df1, twin.whole.df2)
    assert step.adjusted_r2 == pytest.approx(twin.adjusted_r2, rel=1e-10)


def test_fewer_questions_are_completed_and_keep_their_answers() -> None:
    two = Planned(QUESTIONS.questions[:2])
    whole, _, _ = made(2, QUESTIONS)
    part, _, _ = made(2, two)
    np.testing.assert_allclose(fit_of(part).last.b[3:5], fit_of(whole).last.b[3:5], rtol=1e-9)
    np.testing.assert_allclose(fit_of(part).last.se[3:5], fit_of(whole).last.se[3:5], rtol=1e-9)
    assert fit_of(part).last.sse == pytest.approx(fit_of(whole).last.sse, rel=1e-11)


def test_own_weights_are_the_comparison() -> None:
    own = Planned((Question("own", weights=(("a", -3.0), ("b", 1.0), ("d", 2.0))),))
    study, exact, _ = made(0, own)
    b = exact.effect([Fraction(0), Fraction(-3), Fraction(1), Fraction(0), Fraction(2), *[Fraction(0)] * 4])
    assert close(fit_of(study).last.b[3], oracle.mp(b), mpmath.mpf(1))


def test_a_question_whose_side_is_absent_is_not_asked() -> None:
    found = codes_of(
        Planned((Question("x", ("a",), ("d",)), Question("y", ("a",), ("b",)))), ("a", "b", "c"), np.array([2, 2, 2])
    )
    assert [c.name for c in found.comparisons] == ["y", ""]
    assert found.n_asked == 1
    np.testing.assert_allclose(found.comparisons[1].weights, [-0.5, -0.5, 1])
    shrunk = codes_of(Planned((Question("x", ("a",), ("b", "d")),)), ("a", "b", "c"), np.array([2, 2, 2]))
    np.testing.assert_allclose(shrunk.comparisons[0].weights, [1, -1, 0])


@pytest.mark.parametrize(
    ("coding", "said"),
    [
        (Dummy("z"), "no level “z”"),
        (Planned((Question("x", ("a",), ("a", "b")),)), "both sides"),
        (Planned((Question("x", weights=(("a", 1.0),)),)), "sum to 0"),
        (LevelMeans(), "redundant with an intercept"),
        (Trends((("a", 0.0), ("q", 1.0))), "no level “q”"),
    ],
)
def test_codings_that_cannot_be(coding: Coding, said: str) -> None:
    with pytest.raises(StudyError, match=said):
        made(0, coding)


def test_surplus_and_dependent_questions_are_tested_but_not_coded() -> None:
    four = Planned((*QUESTIONS.questions, Question("four", ("a",), ("d",))))
    study, _, _ = made(0, four)
    basis = fit_of(study).design.group("g")
    assert [c.name for c in basis.comparisons] == ["one", "two", "three"]
    assert [c.name for c in basis.follows] == ["four"]
    twice = Planned((Question("x", ("a",), ("b",)), Question("y", ("b",), ("a",)), Question("z", ("c",), ("d",))))
    basis = fit_of(made(0, twice)[0]).design.group("g")
    assert [c.name for c in basis.comparisons] == ["x", "z", ""]
    assert [(c.name, c.key) for c in basis.follows] == [("y", "1")]


def test_trends_are_named_by_their_degree() -> None:
    found = codes_of(Trends(), tuple("abcdef"), np.ones(6, dtype=int))
    assert [c.name for c in found.comparisons] == [
        "linear trend",
        "quadratic trend",
        "cubic trend",
        "degree 4 trend",
        "degree 5 trend",
    ]
    assert [c.key for c in found.comparisons] == ["1", "2", "3", "4", "5"]
    named = codes_of(Trends(names=(("2", "the bend"),)), tuple("abcd"), np.ones(4, dtype=int))
    assert [c.name for c in named.comparisons] == ["linear trend", "the bend", "cubic trend"]


@pytest.mark.parametrize(
    ("coding", "wanted"),
    [
        # Three groups of 2, 3 and 5 cases with means 10, 20 and 40.
        # The plain mean of the three is 70/3: a lies 40/3 below it, b 10/3 below it.
        (Effect(), [-40 / 3, -10 / 3]),
        # Without a: b 10/3 below, c 50/3 above.
        (Effect("a"), [-10 / 3, 50 / 3]),
        # The mean of all ten cases is (20 + 60 + 200) / 10 = 28: a lies 18 below it, b 8 below it.
        (WeightedEffect(), [-18.0, -8.0]),
        # b - a = 10, c - b = 20.
        (Adjacent(), [10.0, 20.0]),
        # a against the mean of b and c: 10 - 30 = -20; b against c: 20 - 40 = -20.
        (AgainstMean(True), [-20.0, -20.0]),
        # b against a: 20 - 10 = 10; c against the mean of a and b: 40 - 15 = 25.
        (AgainstMean(False), [10.0, 25.0]),
        # Equal steps: linear (-1, 0, 1)/sqrt 2 gives 30/sqrt 2; quadratic (1, -2, 1)/sqrt 6 gives (10 - 40 +
        # 40)/sqrt 6.
        (Trends(), [30 / 2**0.5, 10 / 6**0.5]),
        # Places 0, 1, 4: about their mean 5/3 they are (-5, -2, 7)/3, of length sqrt 78 / 3: linear
        # (-50 - 40 + 280)/sqrt 78 = 190/sqrt 78. At right angles to that and to (1, 1, 1) stands (3, -4, 1), of length
        # sqrt 26, its highest level positive: (30 - 80 + 40)/sqrt 26 = -10/sqrt 26.
        (Trends((("a", 0.0), ("b", 1.0), ("c", 4.0))), [190 / 78**0.5, -10 / 26**0.5]),
    ],
)
def test_coefficients_worked_out_by_hand(coding: Coding, wanted: list[float]) -> None:
    y = [9.0, 11, 19, 20, 21, 38, 39, 40, 41, 42]
    study = set_coding(study_of({"g": list("aabbbccccc"), "y": y}, "y", "g"), "g", coding)
    assert list(fit_of(study).last.b[1:]) == pytest.approx(wanted, rel=1e-12)


@pytest.mark.parametrize("seed", range(4))
def test_every_coding_gives_the_same_fitted_values(seed: int) -> None:
    plain = fit_of(made(seed, Dummy("a"))[0])
    for coding in (*CODINGS, Trends(), Trends((("a", 0.0), ("b", 2.0), ("c", 3.0), ("d", 7.0)))):
        fit = fit_of(made(seed, coding)[0])
        for step in range(len(plain.steps)):
            np.testing.assert_allclose(fit.predicted(step), plain.predicted(step), rtol=1e-9, atol=1e-9)
