"""Held places, second moderators, bands, Fieller's sets and families of tests, against exact arithmetic."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.exactdesigns import close, columns, fractions
from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.families import family_p, holm
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, conditional
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.asking import checked_step, default_probe
from yellow_slope.core.probe.curve import FiellerKind
from yellow_slope.core.probe.places import LevelPlace, Place
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.regions import Region, critical_value
from yellow_slope.core.study.edits.entries import set_reference
from yellow_slope.core.study.edits.probes import put_probe, turn_probe
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, RegionRule, Second
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.figures import probe_caption
from yellow_slope.values import replace

ONE, NONE = Fraction(1), Fraction(0)
NOWHERE = np.zeros(0)


def regions_of(probed: Probed) -> tuple[Region, ...]:
    found = probed.panels[0].foci[0].regions
    assert found is not None
    return found.within


def code_of(place: Place) -> str:
    assert isinstance(place, LevelPlace)
    return place.code


OWN = PickPoints(PickRule.OWN, (-2.0, 0.0, 3.0))


def check(found: ConditionalEffect, exact: oracle.Exact, g: list[Fraction]) -> None:
    b, se = oracle.mp(exact.effect(g)), mpmath.sqrt(oracle.mp(exact.variance(g)))
    assert close(found.effect, b, se)
    assert close(found.se, se)
    assert abs(found.p - oracle.t_p(b / se, exact.df)) < mpmath.mpf("1e-9")
    c = oracle.t_quantile("0.95", exact.df)
    assert close(found.low, b - c * se, se)
    assert close(found.high, b + c * se, se)


def three_way(seed: int) -> tuple[Study, oracle.Exact]:
    """x, w, c with all products, and g (four groups, dummy with a) times x."""
    data = columns(seed, n=44)
    study = study_of(data, "y", "x, w, c, g; x*w, x*c, w*c, x*g; x*w*c")
    study = set_reference(study, "g", "a")
    rows = []
    for x, w, c, g in zip(*(data[name] for name in ("x", "w", "c", "g"))):
        a, b, d = Fraction(int(x)), Fraction(int(w)), Fraction(int(c))
        e = [Fraction(g == level) for level in "bcd"]
        rows.append([ONE, a, b, d, *e, a * b, a * d, b * d, *(a * v for v in e), a * b * d])
    return study, oracle.exact_fit(rows, fractions(data["y"]))


def slope(w: Fraction, c: Fraction, g: list[Fraction]) -> list[Fraction]:
    """The row of the slope of x at w, c and weights of the groups b, c, d."""
    return [NONE, ONE, NONE, NONE, NONE, NONE, NONE, w, c, NONE, *g, w * c]


@pytest.mark.parametrize("seed", range(3))
def test_held_places(seed: int) -> None:
    study, exact = three_way(seed)
    fit = fit_of(study)
    held = probe_fit(study, fit, Probe("x", "w", pick=OWN, held=(("c", 4.0), ("g", "c"))))
    for w, effect in zip((-2, 0, 3), held.panels[0].foci[0].effects):
        check(effect, exact, slope(Fraction(w), Fraction(4), [NONE, ONE, NONE]))
    data = columns(seed, n=44)
    mean_c = Fraction(sum(int(v) for v in data["c"]), 44)
    shares = [Fraction(data["g"].count(level), 44) for level in "bcd"]
    typical = probe_fit(study, fit, Probe("x", "w", pick=OWN))
    for w, effect in zip((-2, 0, 3), typical.panels[0].foci[0].effects):
        check(effect, exact, slope(Fraction(w), mean_c, shares))


@pytest.mark.parametrize("seed", range(3))
def test_a_second_moderator_and_the_differences_of_its_places(seed: int) -> None:
    study, exact = three_way(seed)
    second = Second("c", PickPoints(PickRule.OWN, (-1.0, 5.0)))
    pick = PickPoints(PickRule.OWN, (-2.0, 3.0))
    probed = probe_fit(study, fit_of(study), Probe("x", "w", pick=pick, held=(("g", "a"),), second=second))
    group = [NONE] * 3
    rows = {
        (k, i): slope(Fraction(w), Fraction(c), group) for k, c in enumerate((-1, 5)) for i, w in enumerate((-2, 3))
    }
    for (k, i), g in rows.items():
        check(probed.panels[k].foci[0].effects[i], exact, g)
    (across,) = probed.across
    assert len(across) == 6, "the six differences of Dawson & Richter"
    for found in across:
        check(found.effect, exact, [a - b for a, b in zip(rows[found.of], rows[found.minus])])
    by_hand = sorted((x.effect.p, i) for i, x in enumerate(across))
    adjusted, worst = {}, 0.0
    for place, (p, i) in enumerate(by_hand):
        worst = max(worst, min(1.0, p * (6 - place)))
        adjusted[i] = worst
    assert [x.p_holm for x in across] == pytest.approx([adjusted[i] for i in range(6)])
    by_group = probe_fit(study, fit_of(study), Probe("x", "w", second=Second("g")))
    assert [code_of(panel.second) for panel in by_group.panels if panel.second] == list("abcd")


def test_differences_of_places() -> None:
    study, exact = three_way(1)
    by = probe_fit(study, fit_of(study), Probe("x", "g", held=(("w", 1.0), ("c", 2.0))))
    group = {"a": [NONE] * 3, "b": [ONE, NONE, NONE], "c": [NONE, ONE, NONE], "d": [NONE, NONE, ONE]}
    assert len(by.panels[0].foci[0].differences) == 6
    for d in by.panels[0].foci[0].differences:
        assert d.minus is not None
        of, minus = (slope(ONE, Fraction(2), group[code_of(by.places[i])]) for i in (d.of, d.minus))
        check(d.effect, exact, [a - b for a, b in zip(of, minus)])
        assert d.p_holm >= d.effect.p
    along = probe_fit(study, fit_of(study), Probe("x", "w", pick=OWN))
    assert all(np.isnan(d.p_holm) for d in along.panels[0].foci[0].differences), "one and the same test"
    (first, *_) = along.panels[0].foci[0].differences
    assert abs(first.effect.t) == pytest.approx(abs(along.panels[0].foci[0].differences[2].effect.t))
    focal = probe_fit(study, fit_of(study), Probe("g", "x", pick=OWN))
    assert len(focal.panels[0].foci) == 3


def two_way(seed: int) -> tuple[Study, oracle.Exact]:
    data = columns(seed, n=30)
    rows = [[ONE, Fraction(int(x)), Fraction(int(w)), Fraction(int(x) * int(w))] for x, w in zip(data["x"], data["w"])]
    return study_of(data, "y", "x, w; x*w"), oracle.exact_fit(rows, fractions(data["y"]))


@pytest.mark.parametrize("seed", range(6))
def test_all_points_at_once(seed: int) -> None:
    study, exact = two_way(seed)
    curve = probe_fit(study, fit_of(study), Probe("x", "w")).panels[0].foci[0].curve
    assert curve is not None
    f = mpmath.findroot(
        lambda v: oracle.f_p(v, 2, exact.df) - mpmath.mpf("0.05"), (mpmath.mpf(2), mpmath.mpf(5)), solver="anderson"
    )
    c2 = 2 * f
    assert critical_value(RegionRule.SIMULTANEOUS, curve, NOWHERE) == pytest.approx(float(mpmath.sqrt(c2)), rel=1e-9)
    b1, b3 = oracle.mp(exact.b[1]), oracle.mp(exact.b[3])
    v = [[oracle.mp(exact.inverse[i][j] * exact.sse / exact.df) for j in (1, 3)] for i in (1, 3)]
    a2, a1, a0 = b3**2 - c2 * v[1][1], 2 * (b1 * b3 - c2 * v[0][1]), b1**2 - c2 * v[0][0]
    inside = a1**2 - 4 * a2 * a0
    expected = sorted(float((-a1 + s * mpmath.sqrt(inside)) / (2 * a2)) for s in (-1, 1)) if inside > 0 else []
    assert list(curve.boundaries(critical_value(RegionRule.SIMULTANEOUS, curve, NOWHERE))) == pytest.approx(
        expected, rel=1e-8
    )
    probed = probe_fit(study, fit_of(study), Probe("x", "w", rule=RegionRule.SIMULTANEOUS))
    regions, low, high = probed.panels[0].foci[0].regions, min(probed.observed), max(probed.observed)
    assert regions is not None
    assert regions.boundaries == pytest.approx([b for b in expected if low < b < high], rel=1e-8)
    assert regions.outside == pytest.approx([b for b in expected if not low < b < high], rel=1e-8)


def test_the_false_discovery_rate_over_observed_places() -> None:
    seen = set()
    for seed in range(30):
        study = study_of(noise_world(seed, 60), "y", "z, w; z*w")
        probed = probe_fit(study, fit_of(study), Probe("z", "w", rule=RegionRule.FALSE_DISCOVERY))
        curve = probed.panels[0].foci[0].curve
        assert curve is not None
        places = np.unique(probed.observed)
        p = sorted(curve.at(float(w)).p for w in places)
        passed = [i for i, value in enumerate(p, 1) if value <= 0.05 * i / len(p)]
        c = critical_value(RegionRule.FALSE_DISCOVERY, curve, np.asarray(probed.observed))
        seen.add(bool(passed))
        if not passed:
            assert c == float("inf")
            assert [r.sign for r in regions_of(probed)] == [0]
            continue
        level = 0.05 * passed[-1] / len(p)
        assert c == pytest.approx(float(oracle.t_quantile(str(1 - level), curve.inference.df)), rel=1e-7)
    assert seen == {True, False}


def test_fiellers_sets_of_three_shapes() -> None:
    """The set holds the places at which the other predictor's effect is not significant: checked place by place."""
    shapes: set[FiellerKind] = set()
    for seed in range(60):
        data = columns(seed, n=30)
        if seed % 2:
            data["y"] = [int(v) % 11 for v in data["y"]]
        study = study_of(data, "y", "x, w; x*w")
        probed = probe_fit(study, fit_of(study), Probe("x", "w"))
        (panel,) = probed.panels
        found = panel.crossing_set
        if found is None:
            continue
        rows = [
            [ONE, Fraction(int(x)), Fraction(int(w)), Fraction(int(x) * int(w))] for x, w in zip(data["x"], data["w"])
        ]
        exact = oracle.exact_fit(rows, fractions(data["y"]))
        assert found.at == pytest.approx(float(-exact.b[2] / exact.b[3]), rel=1e-8)
        shapes.add(found.kind)
        c = oracle.t_quantile("0.95", exact.df)
        for place in (-200, -20, -3, 0, 1, 4, 15, 150):
            g = [NONE, NONE, ONE, Fraction(place)]
            t = abs(oracle.mp(exact.effect(g))) / mpmath.sqrt(oracle.mp(exact.variance(g)))
            within = {
                FiellerKind.BOUNDED: found.low <= place <= found.high,
                FiellerKind.TWO_RAYS: place <= found.low or place >= found.high,
                FiellerKind.WHOLE_LINE: True,
            }[found.kind]
            assert within == bool(t <= c)
        product = probed.joint.p < 0.05
        assert (found.kind is FiellerKind.BOUNDED) == product, "bounded only if the product is significant"
    assert shapes == set(FiellerKind) - {FiellerKind.FIXED}


def test_holm_by_hand() -> None:
    assert holm([0.01, 0.04, 0.03, float("nan")])[:3] == pytest.approx([0.03, 0.06, 0.06])
    assert holm([0.9, 0.8]) == pytest.approx([1.0, 1.0])
    same = ConditionalEffect(1.0, 1.0, 2.0, 0.05, 0.0, 2.0, 10)
    assert all(np.isnan(family_p([same, replace(same, effect=2.0, se=1.0)])))


def test_two_tests_are_a_family_and_one_is_none() -> None:
    one = ConditionalEffect(1.0, 0.5, 2.0, 0.05, 0.0, 2.0, 40)
    other = replace(one, t=3.0, p=0.01)
    assert family_p([one, other]) == pytest.approx([0.05, 0.02])
    assert np.isnan(family_p([one])[0])


def test_an_effect_without_error_keeps_its_own_reason() -> None:
    assert conditional(1.0, 0.0, 9, 0.95, Why.PERFECT).why is Why.PERFECT
    assert conditional(1.0, 0.5, 9, 0.95, Why.PERFECT).why is Why.PERFECT
    assert conditional(1.0, 0.0, 9, 0.95).why is Why.NO_CASES
    assert conditional(1.0, 0.5, 9, 0.95).why is None


def test_any_predictor_can_be_probed() -> None:
    study = study_of(noise_world(50), "y", "x, w, g")
    fit = fit_of(study)
    plain = probe_fit(study, fit, Probe("x", "x"))
    assert len(plain.places) == 1
    assert plain.panels[0].foci[0].effects[0].effect == pytest.approx(float(fit.last.b[1]))
    assert regions_of(plain) == ()
    assert plain.joint.f == pytest.approx(float(fit.last.t[1] ** 2))
    group = probe_fit(study, fit, Probe("g", "g"))
    assert [f.effects[0].effect for f in group.panels[0].foci] == pytest.approx(fit.last.b[3:5].tolist())
    assert group.joint.f == pytest.approx(fit.last.joint[study.model.terms[2]].f)
    assert [row[0].effect for row in group.panels[0].means] == pytest.approx(
        [float(fit.last.b[0] + fit.last.b[1:3] @ fit.x[:, :2].mean(axis=0) + d) for d in (0, *fit.last.b[3:5])]
    )


def test_probes_of_either_side_are_two_questions() -> None:
    study = study_of(noise_world(51), "y", "x, w; x*w")
    study = put_probe(put_probe(study, Probe("w", "x")), Probe("x", "w"))
    assert study.probes == (Probe("x", "w"), Probe("w", "x"))
    turned = turn_probe(study, study.probes[0], Probe("x", "w", pick=PickPoints(PickRule.QUARTILES)))
    assert turned.probes == (Probe("x", "w", pick=PickPoints(PickRule.QUARTILES)), Probe("w", "x"))
    assert turn_probe(turned, turned.probes[0], turned.probes[0]) is turned
    assert default_probe(study, None) == Probe("x", "w")


@pytest.mark.parametrize(
    ("probe", "said"),
    [
        (Probe("x", "nobody"), "no variable named “nobody”"),
        (Probe("x", "z"), "z is not in the model"),
        (Probe("x", "g"), "No term multiplies x and g"),
        (Probe("x", "w", "b9"), "no step “b9”"),
        (Probe("x", "w", "b1"), "step 2 is the first"),
        (Probe("x", "w", second=Second("g")), "no product of x and g"),
        (Probe("x", "w", second=Second("w")), "another variable"),
        (Probe("x", "w", pick=PickPoints(PickRule.OWN)), "No pick points"),
        (Probe("x", "w", held=(("z", 1.0),)), "z is not in the model"),
    ],
)
def test_what_the_model_cannot_answer_is_refused(probe: Probe, said: str) -> None:
    study = study_of(noise_world(52), "y", "x, w, g; x*w")
    with pytest.raises(StudyError, match=said):
        checked_step(study, probe)
    if probe.step == "b9" or probe.held:  # what points at something gone gives way: the probe is answered without it
        plain = replace(probe, step=None, held=())
        answers = [probe_fit(study, fit_of(study), asked).panels[0].foci[0].effects for asked in (probe, plain)]
        assert answers[0] == answers[1]
        return
    with pytest.raises(StudyError, match=said):
        probe_fit(study, fit_of(study), probe)


def test_a_square_in_a_product_with_groups_has_rows_of_different_degree() -> None:
    """Only the second group's line is bent: its difference from the reference is a parabola along the moderator."""
    rng = np.random.default_rng(8)
    world = {"a": rng.normal(size=60), "g": [f"g{i % 2}" for i in range(60)], "y": rng.normal(size=60)}
    study = study_of(world, "y", "a, g; a*a*g")
    fit = fit_of(study)
    line = probe_fit(study, fit, Probe("g", "a")).panels[0].foci[0].curve
    assert line is not None
    b = fit.steps[-1].inference.solution
    at = np.array([-1.0, 0.0, 1.0, 2.0])
    assert np.allclose(line.effect(at), b[2] + b[3] * at**2, atol=1e-12)


def test_a_curved_effect_that_turns_at_a_place_without_error_has_a_boundary_there() -> None:
    """x stands only in x·w and x·w²: at w = 0 its slope is 0 whatever the data, and it changes its sign there."""
    rng = np.random.default_rng(21)
    x, w = rng.normal(size=200), rng.uniform(-2, 2, 200)
    y = 3 * x * w + 0.5 * x * w * w + 0.1 * rng.normal(size=200)
    study = study_of({"x": x, "w": w, "y": y}, "y", "w; x*w, x*w*w")
    probed = probe_fit(study, fit_of(study), Probe("x", "w"))
    inside = [r for r in regions_of(probed) if r.low < 1.9 and r.high > -1.9]
    assert [r.sign for r in inside] == [-1, 1]
    assert abs(inside[0].high) < 1e-9
    assert inside[0].n == int(np.sum(w < 0))


@pytest.mark.parametrize("mean", [0.0, 1e9])
def test_lines_meet_only_where_all_of_them_do(mean: float) -> None:
    """Lines at three places of a number meet in one point; those of three groups do not, wherever the outcome's mean
    lies."""
    world = noise_world(17)
    world["y"] = world["y"] + mean
    study = study_of(world, "y", "x, w, g; x*w, x*g")
    fit = fit_of(study)
    b = fit.steps[-1].inference.solution
    names = [c.term.variables for c in fit.design.columns]
    w, xw = names.index(("w",)) + 1, names.index(("x", "w")) + 1
    (met,) = probe_fit(study, fit, Probe("x", "w")).panels[0].crossing
    assert met == pytest.approx(-b[w] / b[xw], rel=1e-6)
    assert probe_fit(study, fit, Probe("x", "g")).panels[0].crossing == ()


def test_what_is_not_drawn_is_named() -> None:
    rng = np.random.default_rng(5)
    g = np.array(["a", "b", "c"] * 20)
    h = np.where(g == "b", "no", np.array(["no", "yes"])[rng.integers(0, 2, 60)])
    world = {"x": rng.normal(size=60), "g": list(g), "h": list(h), "y": rng.normal(size=60)}
    study = study_of(world, "y", "x, g, h; g*h, x*g")
    fit = fit_of(study)
    means = EffectReader(study, probe_fit(study, fit, Probe("g", "h")), 0)
    assert means.not_drawn() == "Not drawn, because it cannot be estimated: b at yes."
    assert means.not_drawn() in probe_caption(means, 0)
    lines = EffectReader(study, probe_fit(study, fit, Probe("x", "g")), 0)
    assert lines.not_drawn() == "Not drawn, because it cannot be estimated: b."


def exact_boundaries(study: Study) -> tuple[list[float], list[float]]:
    """Of y ~ x, w, x·w: the boundaries found, and the real roots of (b₁ + b₃w)² - c²·variance, in 50 digits."""
    fit = fit_of(study)
    curve = probe_fit(study, fit, Probe("x", "w")).panels[0].foci[0].curve
    assert curve is not None
    step = fit.steps[-1]
    b, v, c = step.b, step.covariance, mpmath.mpf(float(curve.pointwise))
    one, three = mpmath.mpf(float(b[1])), mpmath.mpf(float(b[3]))
    with mpmath.workdps(50):
        square = three**2 - c**2 * mpmath.mpf(float(v[3, 3]))
        middle = 2 * (one * three - c**2 * mpmath.mpf(float(v[1, 3])))
        constant = one**2 - c**2 * mpmath.mpf(float(v[1, 1]))
        inside = middle**2 - 4 * square * constant
        roots = [] if inside < 0 else [(-middle + s * mpmath.sqrt(inside)) / (2 * square) for s in (1, -1)]
    return list(curve.boundaries()), sorted(float(r) for r in roots)


@pytest.mark.parametrize("beyond", [1e-2, 1e-4, 1e-6, -1e-4])
@pytest.mark.parametrize("seed", [1, 2, 3])
def test_boundaries_far_apart_are_found_both(seed: int, beyond: float) -> None:
    """The product just about significant: one boundary near the data, the other thousands of SDs away."""
    rng = np.random.default_rng(seed)
    x, w = rng.normal(size=80), rng.normal(size=80)
    y = (-1) ** seed * 0.8 * x + rng.normal(size=80)
    fit = fit_of(study_of({"x": x, "w": w, "y": y}, "y", "x, w, x*w"))
    step = fit.steps[-1]
    critical = step.inference.critical(0.95)
    y = y + (critical * np.sqrt(step.covariance[3, 3]) * (1 + beyond) - step.b[3]) * x * w
    found, exact = exact_boundaries(study_of({"x": x, "w": w, "y": y}, "y", "x, w, x*w"))
    assert max(abs(place) for place in exact) > 0.1 / abs(beyond)
    assert found == pytest.approx(exact, rel=1e-6)


def test_boundaries_that_lie_even_on_both_sides() -> None:
    """A balanced table where the slope is 0 in the middle: a polynomial without its middle power."""
    x, w = (grid.ravel() for grid in np.meshgrid(np.repeat([-1.0, 0.0, 1.0], 2), [-1.0, 0.0, 1.0]))
    y = 0.8 * x * w + 0.3 * np.cos(np.arange(18) % 2 * np.pi) * (1 + x * x)
    found, exact = exact_boundaries(study_of({"x": x, "w": w, "y": y}, "y", "x, w, x*w"))
    assert found == pytest.approx(exact, rel=1e-9)
    assert len(found) == 2
    assert found[0] == pytest.approx(-found[1], rel=1e-9)


def test_which_probe_is_looked_at_first() -> None:
    """The first that the current model can answer: of a product, of a number by itself; one of no product is passed
    over."""
    study = study_of(noise_world(9), "y", "x, w, z; x*w")
    assert default_probe(study, None) == Probe("x", "w")
    assert default_probe(replace(study, probes=(Probe("z", "z"),)), None) == Probe("z", "z")
    assert default_probe(replace(study, probes=(Probe("z", "w"), Probe("w", "x"))), None) == Probe("w", "x")
    assert default_probe(replace(study, probes=(Probe("g", "g"),)), None) == Probe("x", "w")


def test_the_band_holds_the_intervals_of_its_places() -> None:
    study = study_of(noise_world(3), "y", "x, w; x*w")
    probed = probe_fit(study, fit_of(study), Probe("x", "w"))
    curve = probed.panels[0].foci[0].curve
    assert curve is not None
    places = np.array([1.0, 2.5, 4.0])
    low, high = curve.band(places)
    for i, place in enumerate(places):
        effect = curve.at(float(place))
        assert (low[i], high[i]) == pytest.approx((effect.low, effect.high), rel=1e-12)
        assert low[i] < effect.effect < high[i]


@pytest.mark.parametrize(("slope", "sign"), [(2.0, 1), (-2.0, -1), (0.0, 0)])
def test_what_is_the_same_everywhere_has_one_stretch(slope: float, sign: int) -> None:
    n = 40
    x = np.arange(float(n))
    noise = np.cos(np.arange(n) * 2.3)
    study = study_of({"x": x, "y": slope * x + noise}, "y", "x")
    curve = probe_fit(study, fit_of(study), Probe("x", "x")).panels[0].foci[0].curve
    assert curve is not None
    assert curve.is_level
    assert [stretch.sign for stretch in curve.stretches(2.0, x)] == [sign]
