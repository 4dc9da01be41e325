"""Resamples against least squares of each, and their intervals against the formulas written out once more."""

from __future__ import annotations

import math
from statistics import NormalDist

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.bygroup import by_group
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Resampling
from yellow_slope.core.fit.solve import resampling
from yellow_slope.core.fit.solve.draws import spread_of
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.coding import LevelMeans
from yellow_slope.core.study.edits.entries import set_coding
from yellow_slope.core.study.edits.models import set_by, set_constant, set_errors, set_level
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.values import replace

NORMAL = NormalDist()


def world(seed: int = 3, n: int = 60) -> dict[str, np.ndarray]:
    found = noise_world(seed, n)
    return {**found, "id": np.array([f"c{i % 13}" for i in range(n)])}


def drawn(errors: Bootstrap, blocks: str = "x, w; x*w", seed: int = 3, n: int = 60) -> tuple[Study, Fit]:
    study = set_errors(study_of(world(seed, n), "y", blocks), errors)
    return study, fit_of(study)


def matrix(fit: Fit) -> np.ndarray:
    return np.column_stack([np.ones(fit.y.size), fit.x])


def indices(seed: int, draws: int, units: int) -> np.ndarray:
    """The draws themselves: the same generator, all at once."""
    return np.random.default_rng(seed).integers(0, units, size=(draws, units))


def least_squares(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, float]:
    b = np.linalg.lstsq(x, y, rcond=None)[0]
    return b, 1 - float(((y - x @ b) ** 2).sum() / ((y - y.mean()) ** 2).sum())


def test_every_resample_is_its_own_least_squares() -> None:
    _, fit = drawn(Bootstrap(IntervalWay.PERCENTILE, 1000, seed=11))
    assert fit.resampled is not None
    assert fit.resampled.redrawn == 0
    x = matrix(fit)
    for draw, chosen in enumerate(indices(11, 1000, 60)[:40]):
        before = 0.0
        for step in (0, 1):
            m = fit.steps[step].n_columns + 1
            b, r2 = least_squares(x[chosen][:, :m], fit.y[chosen])
            np.testing.assert_allclose(fit.resampled.steps[step].solutions[draw], b, rtol=1e-9, atol=1e-9)
            assert fit.resampled.fits.r2[step, draw] == pytest.approx(r2, rel=1e-10)
            assert r2 >= before
            before = r2


@pytest.mark.parametrize("size", [1e-4, 1e4])
def test_the_unit_of_the_outcome_changes_nothing_but_itself(size: float) -> None:
    data = world()
    errors = Bootstrap(IntervalWay.BCA, 1000, seed=5)
    own = fit_of(set_errors(study_of(data, "y", "x, w; x*w"), errors))
    other = fit_of(set_errors(study_of({**data, "y": data["y"] * size}, "y", "x, w; x*w"), errors))
    assert own.resampled is not None
    assert other.resampled is not None
    assert other.resampled.redrawn == own.resampled.redrawn
    np.testing.assert_allclose(other.last.se, own.last.se * size, rtol=1e-9)
    np.testing.assert_allclose(other.last.p, own.last.p, rtol=1e-9)


def test_wide_models_are_resampled_to_the_same_numbers(monkeypatch: pytest.MonkeyPatch) -> None:
    errors = Bootstrap(IntervalWay.BCA, 1000, seed=12)
    _, column_by_column = drawn(errors)
    monkeypatch.setattr(resampling, "WIDE", 1)
    monkeypatch.setattr(resampling, "ENTRIES", 60 * 37)
    _, at_once = drawn(errors)
    assert column_by_column.resampled is not None
    assert at_once.resampled is not None
    for one, other in zip(column_by_column.resampled.steps, at_once.resampled.steps):
        np.testing.assert_allclose(other.solutions, one.solutions, rtol=1e-9, atol=1e-10)
    np.testing.assert_allclose(at_once.resampled.fits.r2, column_by_column.resampled.fits.r2, rtol=1e-10)


def test_clusters_are_drawn_whole(monkeypatch: pytest.MonkeyPatch) -> None:
    _, fit = drawn(Bootstrap(IntervalWay.BCA, 1000, seed=4, cluster="id"))
    assert fit.resampled is not None
    ids = np.arange(60) % 13
    x = matrix(fit)
    # Clusters are numbered in the order of their names.
    named = np.array(sorted({f"c{i}" for i in range(13)}))
    number = np.array([int(np.flatnonzero(named == f"c{i}")[0]) for i in ids])
    for draw, chosen in enumerate(indices(4, 1000, 13)[:20]):
        rows = np.concatenate([np.flatnonzero(number == unit) for unit in chosen])
        b, r2 = least_squares(x[rows], fit.y[rows])
        np.testing.assert_allclose(fit.resampled.steps[1].solutions[draw], b, rtol=1e-8, atol=1e-8)
        assert fit.resampled.fits.r2[1, draw] == pytest.approx(r2, rel=1e-9)
    left = fit.resampled.steps[1].left
    assert left is not None
    for unit in range(13):
        b, r2 = least_squares(x[number != unit], fit.y[number != unit])
        np.testing.assert_allclose(fit.last.b + left[unit], b, rtol=1e-9, atol=1e-9)
        assert fit.resampled.fits.left_r2 is not None
        assert fit.resampled.fits.left_r2[1, unit] == pytest.approx(r2, rel=1e-10)
    with monkeypatch.context() as small:  # in small parts of a piece
        small.setattr(resampling, "ENTRIES", 70)
        _, parted = drawn(Bootstrap(IntervalWay.BCA, 1000, seed=4, cluster="id"))
    assert parted.resampled is not None
    np.testing.assert_allclose(
        parted.resampled.steps[1].solutions, fit.resampled.steps[1].solutions, rtol=1e-9, atol=1e-10
    )
    # The test of one coefficient is that of its interval; of several by how far the draws lie from the estimates.
    assert fit.last.change.test.p == fit.last.coefficient(2).p
    assert not fit.last.change.test.has_f
    assert fit.last.whole.p == pytest.approx(by_distance(fit, [0, 1, 2]))


def by_distance(fit: Fit, columns: list[int]) -> float:
    """The share of resamples at least as far from the estimates as 0 is, among them and the sample itself."""
    assert fit.resampled is not None
    b = np.array([fit.last.b[j + 1] for j in columns])
    drawn = np.array([[one[j + 1] for j in columns] for one in fit.resampled.steps[fit.last.index].solutions])
    inner = np.linalg.inv(np.cov(drawn.T))
    far = [float((one - b) @ inner @ (one - b)) for one in drawn]
    return float((1 + sum(one >= b @ inner @ b for one in far)) / (len(far) + 1))


@pytest.mark.parametrize("way", list(IntervalWay))
def test_a_test_a_p_and_an_interval_agree(way: IntervalWay) -> None:
    """A block of one column is significant where the interval of its coefficient leaves out 0, and only there."""
    seen = set()
    for seed in range(30):
        data = noise_world(seed, 40)
        fit = fit_of(set_errors(study_of(data, "y", "x, w; x*w"), Bootstrap(way, 1000, seed=seed)))
        c, test = fit.last.coefficient(2), fit.last.change.test
        assert test.p == c.p
        if abs(c.p - 0.05) > 0.002:  # p is at least one draw wide
            assert (test.p < 0.05) is (c.low > 0 or c.high < 0)
        seen.add(test.p < 0.05)
    assert len(seen) == 2


def test_a_perfect_cell_has_no_errors_from_draws() -> None:
    """Its resamples differ by rounding alone, and judge nothing."""
    rng = np.random.default_rng(3)
    x, g = rng.normal(size=40), np.repeat(["a", "b"], [35, 5])
    y = np.where(g == "b", -2.825, x + rng.normal(size=40))
    study = study_of({"x": x, "g": [str(v) for v in g], "y": y}, "y", "g, x; g*x")
    probed = probe_fit(study, fit_of(set_errors(study, Bootstrap(draws=1000))), Probe("x", "g"))
    plain, perfect = probed.panels[0].foci[0].effects
    assert plain.why is None
    assert plain.low < plain.high
    assert perfect.why is Why.CANCELS
    assert math.isnan(perfect.p)
    assert math.isnan(perfect.low)


def test_without_a_constant_and_with_level_means() -> None:
    study = set_constant(study_of(world(), "y", "g, x"), False)
    study = set_errors(set_coding(study, "g", LevelMeans()), Bootstrap(IntervalWay.BCA, 1000, seed=2))
    fit = fit_of(study)
    assert fit.resampled is not None
    for draw, chosen in enumerate(indices(2, 1000, 60)[:20]):
        b, r2 = least_squares(fit.x[chosen], fit.y[chosen])
        np.testing.assert_allclose(fit.resampled.steps[0].solutions[draw, 1:], b, rtol=1e-9, atol=1e-9)
        assert fit.resampled.fits.r2[0, draw] == pytest.approx(r2, rel=1e-9), "level means: about the mean"
    about_zero = set_constant(study_of(world(), "y", "x, w"), False)
    other = fit_of(set_errors(about_zero, Bootstrap(IntervalWay.BCA, 1000, seed=2)))
    assert other.resampled is not None
    assert other.resampled.fits.left_r2 is not None
    chosen = indices(2, 1000, 60)[0]
    x, y = other.x[chosen], other.y[chosen]
    b = np.linalg.lstsq(x, y, rcond=None)[0]
    assert other.resampled.fits.r2[0, 0] == pytest.approx(1 - ((y - x @ b) ** 2).sum() / (y @ y), rel=1e-10)
    x, y = other.x[1:], other.y[1:]
    b = np.linalg.lstsq(x, y, rcond=None)[0]
    assert other.resampled.fits.left_r2[0, 0] == pytest.approx(1 - ((y - x @ b) ** 2).sum() / (y @ y), rel=1e-10)


def quantile(values: list[float], p: float) -> float:
    """Linear interpolation at 1 + (n - 1)p, counted from 1."""
    values = sorted(values)
    place = p * (len(values) - 1)
    low = min(math.floor(place), len(values) - 2)
    return values[low] + (place - low) * (values[low + 1] - values[low])


def bca(values: list[float], estimate: float, left_out: list[float], level: float) -> tuple[float, float]:
    """Efron's (1987) bounds, straight from the formula."""
    below = sum(v < estimate for v in values) + sum(v == estimate for v in values) / 2
    z0 = NORMAL.inv_cdf(below / len(values))
    mean = sum(left_out) / len(left_out)
    d = [mean - v for v in left_out]
    a = sum(x**3 for x in d) / (6 * sum(x**2 for x in d) ** 1.5)
    bounds = []
    for p in ((1 - level) / 2, (1 + level) / 2):
        z = z0 + NORMAL.inv_cdf(p)
        bounds.append(quantile(values, NORMAL.cdf(z0 + z / (1 - a * z))))
    return bounds[0], bounds[1]


@pytest.mark.parametrize("seed", range(3))
def test_bca_of_stored_resamples_is_its_formula(seed: int) -> None:
    study, fit = drawn(Bootstrap(IntervalWay.BCA, 1000, seed=seed), seed=seed)
    assert fit.resampled is not None
    x, n = matrix(fit), fit.y.size
    left = [least_squares(np.delete(x, i, 0), np.delete(fit.y, i)) for i in range(n)]
    inner = [least_squares(np.delete(x[:, :3], i, 0), np.delete(fit.y, i)) for i in range(n)]
    solutions = fit.resampled.steps[1].solutions
    for j in range(4):
        low, high = bca(solutions[:, j].tolist(), float(fit.last.b[j]), [b[j] for b, _ in left], 0.95)
        assert (float(fit.last.low[j]), float(fit.last.high[j])) == pytest.approx((low, high), rel=1e-8)
        assert fit.last.se[j] == pytest.approx(float(np.std(solutions[:, j], ddof=1)))
        assert math.isnan(fit.last.t[j])
    # A slope at a place, as Probe shows it.
    probed = probe_fit(study, fit, Probe("x", "w", pick=PickPoints(PickRule.OWN, (2.5,))))
    effect = probed.panels[0].foci[0].effects[0]
    g = np.array([0, 1, 0, 2.5])
    low, high = bca((solutions @ g).tolist(), float(fit.last.b @ g), [float(b @ g) for b, _ in left], 0.95)
    assert (effect.low, effect.high) == pytest.approx((low, high), rel=1e-8)
    # R² and its change.
    r2 = fit.resampled.fits.r2
    found = fit.resampled.r2(1, fit.last.r2, 0.95)
    wanted = bca(r2[1].tolist(), fit.last.r2, [r for _, r in left], 0.95)
    assert (float(found.low[0]), float(found.high[0])) == pytest.approx(wanted, rel=1e-8)
    found = fit.resampled.change(1, fit.last.change.r2, 0.95)
    wanted = bca((r2[1] - r2[0]).tolist(), fit.last.change.r2, [a - b for (_, a), (_, b) in zip(left, inner)], 0.95)
    assert (float(found.low[0]), float(found.high[0])) == pytest.approx(wanted, rel=1e-7)
    first = fit.resampled.change(0, fit.steps[0].r2, 0.95)
    wanted = bca(r2[0].tolist(), fit.steps[0].r2, [r for _, r in inner], 0.95)
    assert (float(first.low[0]), float(first.high[0])) == pytest.approx(wanted, rel=1e-8)


def test_percentiles_need_no_jackknife() -> None:
    _, fit = drawn(Bootstrap(IntervalWay.PERCENTILE, 2000, seed=5))
    assert fit.resampled is not None
    for j in range(4):
        values = fit.resampled.steps[1].solutions[:, j].tolist()
        assert fit.last.low[j] == pytest.approx(quantile(values, 0.025))
        assert fit.last.high[j] == pytest.approx(quantile(values, 0.975))


@pytest.mark.parametrize("way", IntervalWay)
def test_p_and_interval_are_one(way: IntervalWay) -> None:
    """p is the level at which 0 is an end of the interval: below .05 if and only if the 95 % interval leaves 0 out."""
    rng = np.random.default_rng(8)
    for shift in np.linspace(-3, 3, 25):
        values = np.sort(rng.gamma(3, 1, (1, 4000)) - 3 + shift, axis=1)
        left = rng.gamma(2, 0.1, (1, 50)) if way is IntervalWay.BCA else None
        found = spread_of(values, np.array([shift]), left, 0.95)
        p = float(found.p[0])
        if 2 / 4001 < p < 1:
            again = spread_of(values, np.array([shift]), left, 1 - p)
            assert min(abs(again.low[0]), abs(again.high[0])) < 1e-6
        assert (p < 0.05) == bool(found.low[0] > 0 or found.high[0] < 0)


@pytest.mark.parametrize("skew", [-3.0, -1.0, 1.0, 3.0])
@pytest.mark.parametrize("away", [-1.0, 1.0])
def test_zero_beyond_all_draws_is_as_unlikely_as_draws_can_say(skew: float, away: float) -> None:
    """However skewed the jackknife is: every interval leaves 0 out, so no p may be larger than the smallest there
    is."""
    rng = np.random.default_rng(8)
    values = np.sort(away * (9 - rng.gamma(2.0, 0.4, size=(1, 2000))), axis=1)
    assert values.min() > 0 or values.max() < 0
    left = skew * (rng.exponential(size=(1, 80)) - 1.0) / 80
    for level in (0.9, 0.99):
        found = spread_of(values, np.array([float(values.mean())]), left, level)
        assert found.low[0] > 0 or found.high[0] < 0
        assert found.p[0] == pytest.approx(2 / 2001)


def test_a_group_of_one_is_drawn_again_and_counted() -> None:
    data = world(n=40)
    data["h"] = np.array(["rare", *(["a", "b"] * 20)])[:40]
    study = set_errors(study_of(data, "y", "x, h"), Bootstrap(IntervalWay.BCA, 1000, seed=1))
    fit = fit_of(study)
    assert fit.resampled is not None
    # Each resample lacks the one case with probability (1 - 1/40)^40 = .363.
    share = fit.resampled.redrawn / (fit.resampled.redrawn + 1000)
    assert abs(share - 0.363) < 0.05
    assert fit.resampled.unit_missing, "without its only case the group cannot be estimated: percentiles"
    assert fit.last.low[1] == pytest.approx(quantile(fit.resampled.steps[0].solutions[:, 1].tolist(), 0.025))


def test_resamples_that_nearly_always_lose_a_column_are_given_up() -> None:
    data = world(n=24)
    data["h"] = np.array([f"l{i}" for i in range(10)] + ["z"] * 14)
    fit = fit_of(set_errors(study_of(data, "y", "x, h"), Bootstrap(draws=1000)))
    assert fit.resampled is None
    assert fit.last.why(0) is Why.SINGULAR
    assert np.isnan(fit.last.low).all()
    assert fit.last.whole.why is Why.SINGULAR, "no other errors stand in for them"


def test_the_same_seed_gives_the_same_and_another_another() -> None:
    first, again, other = (drawn(Bootstrap(seed=s, draws=1000))[1].last.low for s in (1, 1, 2))
    np.testing.assert_array_equal(first, again)
    assert np.any(first != other)


def test_what_takes_long_can_wait_and_be_given_up() -> None:
    study = set_errors(study_of(world(n=5000), "y", "x, w; x*w"), Bootstrap(draws=20_000))
    waiting = evaluate(study, resampling=Resampling(quick_only=True))
    fit = waiting.fit
    assert fit is not None
    assert fit.is_waiting
    assert fit.last.why(0) is Why.RESAMPLING
    assert np.isfinite(fit.last.b).all()
    assert np.isnan(fit.last.low).all()
    assert fit.last.change.test.why is Why.RESAMPLING, "no other errors stand in for them"
    told: list[float] = []

    class Enough(Exception):
        pass

    def go_on(share: float) -> None:
        told.append(share)
        if share > 0.01:
            raise Enough

    with pytest.raises(Enough):
        evaluate(study, waiting, Resampling(go_on=go_on))
    assert told[0] == 0.0
    assert sorted(told) == told
    small = evaluate(set_errors(study_of(world(), "y", "x"), Bootstrap()), resampling=Resampling(quick_only=True))
    assert small.fit is not None
    assert not small.fit.is_waiting, "where nobody waits it is drawn at once"


def test_a_waiting_fit_is_not_taken_over_when_it_can_be_drawn() -> None:
    study = set_errors(study_of(world(n=2000), "y", "x; w"), Bootstrap(draws=16_000))
    waiting = evaluate(study, resampling=Resampling(quick_only=True))
    assert waiting.fit is not None
    assert waiting.fit.is_waiting
    done = evaluate(study, waiting)
    assert done.fit is not None
    assert done.fit.resampled is not None
    assert evaluate(study, done).fit is done.fit


def test_beta_and_groups_are_resampled_too() -> None:
    study = set_by(set_errors(study_of(world(n=90), "y", "x, w; x*w"), Bootstrap(draws=1000)), "g")
    fit = fit_of(study)
    assert fit.resampled is not None
    sd = float(np.std(fit.y, ddof=1))
    w, x = (np.asarray(fit.values[name], dtype=float) for name in "wx")
    draws = fit.resampled.steps[1].solutions
    # The slope of x in SDs at the mean of w.
    beta = (draws[:, 1] + draws[:, 3] * w.mean()) * x.std(ddof=1) / sd
    assert fit.last.betas.se[1] == pytest.approx(float(beta.std(ddof=1)), rel=1e-8)
    found = by_group(study, study.model, fit)
    for group in found.groups:
        assert group.fit is not None
        assert group.fit.resampled is not None
        assert math.isfinite(group.fit.last.low[1])
    classical = by_group(set_errors(study, Classical()), replace(study.model, errors=Classical()), fit)
    assert (found.test.df1, found.test.df2) == (classical.test.df1, classical.test.df2)
    assert found.test.exists
    assert not found.test.has_f, "what the groups differ by is told from the same draws as their coefficients"


@pytest.mark.parametrize(
    ("errors", "level", "said"),
    [
        (Bootstrap(draws=10), 0.95, "Between 1,000 and 100,000"),
        (Bootstrap(seed=-1), 0.95, "whole number"),
        (Bootstrap(draws=1000), 0.999, "too few for 99.9% intervals; draw 20,000 or more"),
    ],
)
def test_bootstraps_that_cannot_be(errors: Bootstrap, level: float, said: str) -> None:
    study = set_level(study_of(world(), "y", "x"), level)
    with pytest.raises(StudyError, match=said):
        set_errors(study, errors)
    enough = set_errors(study_of(world(), "y", "x"), Bootstrap(draws=1000))
    with pytest.raises(StudyError, match="too few"):
        set_level(enough, 0.999)


def test_robust_errors_are_no_bootstrap() -> None:
    assert fit_of(set_errors(study_of(world(), "y", "x"), HC(3))).resampled is None
