"""Group overview and code card against sums in exact arithmetic and noncentral distributions by integration."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.exactdesigns import columns
from tests.support.seeds import few
from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.histograms import level_bars
from yellow_slope.core.fit.solve.tails import noncentral_f_interval, noncentral_t_interval
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.groups.codecard import code_card
from yellow_slope.core.groups.overview import overview_adjusted, overview_alone
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
from yellow_slope.core.study.edits.blocks import set_outcome
from yellow_slope.core.study.edits.entries import set_coding
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term

CODINGS: tuple[Coding, ...] = (
    Dummy("b"),
    Effect("a"),
    WeightedEffect(),
    Adjacent(),
    AgainstMean(True),
    AgainstMean(False),
    Trends(),
    Planned(
        (
            Question("one", ("a",), ("b", "c", "d")),
            Question("two", ("a", "b"), ("d",)),
            Question("both", ("b",), ("c",)),
            Question("fourth", ("a",), ("c",)),
        )
    ),
)


@pytest.mark.parametrize(("t", "df"), [(2.1, 30), (-1.0, 12), (0.0, 20), (12.0, 200), (0.4, 1), (30.0, 40)])
@pytest.mark.parametrize("level", [0.90, 0.99])
def test_noncentralities_of_t(t: float, df: int, level: float) -> None:
    low, high = noncentral_t_interval(np.array([t]), df, level)
    assert float(oracle.noncentral_t_cdf(t, df, low[0])) == pytest.approx((1 + level) / 2, abs=1e-8)
    assert float(oracle.noncentral_t_cdf(t, df, high[0])) == pytest.approx((1 - level) / 2, abs=1e-8)


@pytest.mark.parametrize(
    ("f", "df1", "df2"), [(4.05, 3, 217), (1.1, 2, 20), (50.0, 3, 100), (0.01, 4, 30), (9.0, 1, 5)]
)
def test_noncentralities_of_f(f: float, df1: int, df2: int) -> None:
    low, high = noncentral_f_interval(f, df1, df2, 0.95)
    for nc, p in ((low, 0.975), (high, 0.025)):
        if nc > 0:
            assert float(oracle.noncentral_f_cdf(f, df1, df2, nc)) == pytest.approx(p, abs=1e-7)
        else:
            assert oracle.noncentral_f_cdf(f, df1, df2, 0.0) < p, (
                "a bound is 0 only where F is small even without any effect"
            )


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", range(few(2, 4)))
def test_the_groups_alone_against_exact_sums(seed: int) -> None:
    data = columns(seed)
    study = study_of(data, "y", "g")
    found = overview_alone(study, study.model, "g", fit_of(study))
    y = [Fraction(int(v)) for v in data["y"]]
    by = {level: [v for v, g in zip(y, data["g"]) if g == level] for level in "abcd"}
    n, k = len(y), 4
    mean = {level: sum(v, Fraction(0)) / len(v) for level, v in by.items()}
    grand = sum(y, Fraction(0)) / n
    between = sum((len(v) * (mean[level] - grand) ** 2 for level, v in by.items()), Fraction(0))
    within = sum(((x - mean[level]) ** 2 for level, v in by.items() for x in v), Fraction(0))
    f = (between / (k - 1)) / (within / (n - k))
    assert found.omnibus.f == pytest.approx(float(f), rel=1e-12)
    assert (found.omnibus.df1, found.omnibus.df2) == (k - 1, n - k)
    assert found.block.f == pytest.approx(float(f), rel=1e-10), "the block of codes is the same test"
    assert found.eta2 == pytest.approx(float(between / (between + within)), rel=1e-12)
    low, high = noncentral_f_interval(float(f), k - 1, n - k, 0.95)
    assert (found.eta2_low, found.eta2_high) == pytest.approx((low / (low + n), high / (high + n)))
    sd = mpmath.sqrt(oracle.mp(within / (n - k)))
    quantile = oracle.t_quantile("0.95", n - k)
    ps = []
    for pair in found.pairs:
        a, b = "abcd"[pair.other], "abcd"[pair.one]
        difference = oracle.mp(mean[b] - mean[a])
        se = sd * mpmath.sqrt(oracle.mp(Fraction(1, len(by[a])) + Fraction(1, len(by[b]))))
        assert pair.effect.effect == pytest.approx(float(difference), rel=1e-11)
        assert pair.effect.low == pytest.approx(float(difference - quantile * se), rel=1e-9)
        assert pair.effect.high == pytest.approx(float(difference + quantile * se), rel=1e-9)
        assert pair.effect.p == pytest.approx(float(oracle.t_p(difference / se, n - k)), rel=1e-8)
        assert pair.d == pytest.approx(float(difference / sd), rel=1e-11)
        size = float(difference / se) / pair.d if pair.d else 1.0
        assert float(oracle.noncentral_t_cdf(pair.effect.t, n - k, pair.d_low * size)) == pytest.approx(0.975, abs=1e-7)
        assert float(oracle.noncentral_t_cdf(pair.effect.t, n - k, pair.d_high * size)) == pytest.approx(
            0.025, abs=1e-7
        )
        ps.append(pair.effect.p)
    assert len(found.pairs) == 6
    # Holm: each p times the number of tests not yet passed, never below the one before.
    order, largest = sorted(range(6), key=ps.__getitem__), 0.0
    for rank, i in enumerate(order):
        largest = max(largest, min(1.0, ps[i] * (6 - rank)))
        assert found.pairs[i].p_holm == pytest.approx(largest)
    for i, level in enumerate("abcd"):
        assert found.means[i].effect == pytest.approx(float(mean[level]), rel=1e-12)
        assert found.means[i].se == pytest.approx(float(sd / mpmath.sqrt(len(by[level]))), rel=1e-10)


def test_the_interval_of_a_large_eta_is_bounded_below() -> None:
    data = columns(1)
    far = {"a": 0, "b": 40, "c": -35, "d": 60}
    data["y"] = [int(v) + far[str(g)] for v, g in zip(data["y"], data["g"])]
    study = study_of(data, "y", "g")
    found = overview_alone(study, study.model, "g", fit_of(study))
    n = len(data["y"])
    for bound, p in ((found.eta2_low, 0.975), (found.eta2_high, 0.025)):
        noncentrality = n * bound / (1 - bound)
        assert bound > 0.3
        cdf = oracle.noncentral_f_cdf(found.omnibus.f, 3, n - 4, noncentrality)
        assert float(cdf) == pytest.approx(p, abs=1e-6)


@pytest.mark.parametrize("coding", CODINGS, ids=lambda c: type(c).__name__ + str(getattr(c, "later", "")))
@pytest.mark.parametrize("line", ["g", "c, x, g; x*g", "x, g; x*g; x*x"])
def test_the_card_shows_the_coefficients_of_the_model(coding: Coding, line: str) -> None:
    study = set_coding(study_of(columns(1), "y", line), "g", coding)
    fit = fit_of(study)
    card = code_card(study, study.model, "g", fit)
    assert not card.is_alone
    coded = [fit.last.coefficient(j) for j in fit.design.columns_of(Term(("g",)))]
    assert len(coded) == card.n_coded == 3
    for effect, coefficient in zip(card.effects, coded):
        assert effect.effect == pytest.approx(coefficient.b, rel=1e-9, abs=1e-9)
        assert (effect.se, effect.p) == pytest.approx((coefficient.se, coefficient.p), rel=1e-8)
    means = np.array([m.effect for m in card.means])
    for effect, comparison in zip(card.effects, card.comparisons):
        assert effect.effect == pytest.approx(float(comparison.weights @ means), rel=1e-9, abs=1e-9)
    cov = fit.last.covariance
    places = [j + 1 for j in fit.design.columns_of(Term(("g",)))]
    own = cov[np.ix_(places, places)]
    sd = np.sqrt(np.diag(own))
    np.testing.assert_allclose(card.correlations[:3, :3], own / np.outer(sd, sd), atol=1e-9)


def test_questions_alone_go_together_as_their_sizes_have_it() -> None:
    data = columns(2)
    questions = Planned(
        (Question("", ("a",), ("b",)), Question("", ("a", "b"), ("c", "d")), Question("", ("c",), ("d",)))
    )
    study = set_coding(study_of(data, "y", "g"), "g", questions)
    card = code_card(study, study.model, "g", fit_of(study))
    n = np.array([list(data["g"]).count(level) for level in "abcd"])
    for i in range(3):
        for j in range(3):
            h, g = card.comparisons[i].weights, card.comparisons[j].weights
            r = np.sum(h * g / n) / np.sqrt(np.sum(h * h / n) * np.sum(g * g / n))
            assert card.correlations[i, j] == pytest.approx(r, abs=1e-10)
            assert card.by_weights[i, j] == (i != j)
    # The joint test of independent questions is the omnibus test.
    assert card.joint.f == pytest.approx(overview_alone(study, study.model, "g", fit_of(study)).omnibus.f)


def test_a_group_that_is_not_in_the_model_is_looked_at_alone() -> None:
    study = study_of(columns(0), "y", "c, x")
    card = code_card(study, study.model, "g", fit_of(study))
    assert card.is_alone
    found = overview_alone(study, study.model, "g", fit_of(study))
    assert card.joint.f == pytest.approx(found.omnibus.f)
    with pytest.raises(StudyError, match="not a group"):
        overview_alone(study, study.model, "x")
    with pytest.raises(StudyError, match="Choose an outcome"):
        code_card(set_outcome(study, None), set_outcome(study, None).model, "g", None)


def adjusted_by_hand(study: Study, data: dict[str, list[object]], level: str) -> float:
    """Mean of the predictions that the other predictors' means give, from least squares of the test's own."""
    g = np.array(data["g"])
    x, c = (np.array(data[n], dtype=float) for n in ("x", "c"))
    rows = np.column_stack([c, x, *[(g == v).astype(float) for v in "abcd"], *[x * (g == v) for v in "abcd"]])
    b, *_ = np.linalg.lstsq(rows, np.array(data["y"], dtype=float), rcond=None)
    i = "abcd".index(level)
    return float(b[0] * c.mean() + b[1] * x.mean() + b[2 + i] + b[6 + i] * x.mean())


def test_adjusted_means_stand_at_the_means_of_the_others() -> None:
    data = columns(3)
    study = study_of(data, "y", "c, x, g; x*g")
    found = overview_adjusted(fit_of(study), "g", 0.95)
    assert found.held is not None
    assert set(found.held.numbers) == {"c", "x"}
    for i, level in enumerate("abcd"):
        assert found.means[i].effect == pytest.approx(adjusted_by_hand(study, data, level), rel=1e-9)
    assert [p.effect.effect for p in found.pairs] == pytest.approx(
        [found.means[p.one].effect - found.means[p.other].effect for p in found.pairs], abs=1e-9
    )
    assert np.isnan([p.d for p in found.pairs]).all(), "d belongs to the groups alone"


def test_what_cannot_be_compared_has_no_number() -> None:
    perfect = study_of({"y": [1.0, 1, 2, 2, 3, 3], "g": list("aabbcc")}, "y", "g")
    found = overview_alone(perfect, perfect.model, "g", fit_of(perfect))
    assert found.omnibus.why is Why.PERFECT
    assert np.isnan(
        [found.omnibus.f, found.eta2_low, *(p.d for p in found.pairs), *(p.effect.se for p in found.pairs)]
    ).all()
    assert [p.effect.effect for p in found.pairs] == [1.0, 2.0, 1.0]
    single = study_of({"y": [1.0, 3, 2, 5, 3], "g": list("aabbc")}, "y", "g")
    found = overview_alone(single, single.model, "g", fit_of(single))
    assert found.means[2].effect == 3.0
    assert found.means[2].se == pytest.approx(found.spread)
    means = set_constant(single, False)
    means = set_coding(means, "g", LevelMeans())
    card = code_card(means, means.model, "g", fit_of(means))
    assert [e.effect for e in card.effects] == pytest.approx([2.0, 3.5, 3.0])


def test_one_degree_of_freedom_is_enough() -> None:
    # Two groups of 1 and 2 cases: means 2 and 5, within them (4 - 5)² + (6 - 5)² = 2 on one degree of freedom.
    study = study_of({"y": [2.0, 4, 6], "g": list("abb")}, "y", "g")
    found = overview_alone(study, study.model, "g", fit_of(study))
    assert found.df == 1
    assert found.spread == pytest.approx(2**0.5)
    # F = (1 * 4 + 2 * 1) / 2 about the mean 4; t² = 3² / (2 * 1.5) = 3 is the same.
    assert found.omnibus.f == pytest.approx(3.0)
    assert found.pairs[0].effect.t == pytest.approx(3**0.5)
    assert found.omnibus.p == pytest.approx(found.pairs[0].effect.p) == pytest.approx(1 / 3)
    assert found.pairs[0].p_holm == found.pairs[0].effect.p


@pytest.mark.parametrize("seed", range(4))
def test_the_adjusted_omnibus_of_two_groups_is_the_square_of_their_difference(seed: int) -> None:
    study = study_of(noise_world(300 + seed), "y", "x, d; x*d")
    found = overview_adjusted(fit_of(study), "d", 0.95)
    assert found.omnibus.df1 == 1
    assert found.omnibus.f == pytest.approx(found.pairs[0].effect.t ** 2, rel=1e-9)
    assert found.omnibus.p == pytest.approx(found.pairs[0].effect.p, rel=1e-9)


def test_the_bar_of_a_level_is_one_wide_around_its_place() -> None:
    bars = level_bars(np.array([0, 2, 2, -1]), 3)
    assert bars is not None
    assert [list(v) for v in (bars.left, bars.right, bars.counts)] == [[-0.5, 0.5, 1.5], [0.5, 1.5, 2.5], [1, 0, 2]]
