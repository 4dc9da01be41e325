"""Regions, crossing sets, joint regions, smallest effects and maps, against a fine grid in 40 digits; no shared code.

`make where FROM=0 TO=300` compares as many as one likes; 24 of fixed seeds are compared in every run.
"""

from __future__ import annotations

import os
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

import mpmath
import numpy as np
import pytest
from mpmath import mpf

from tests.support.oracle import Row, exact_fit, t_quantile
from tests.support.seeds import few
from tests.support.worlds import fit_of, study_of
from yellow_slope.core.probe.curve import FiellerKind
from yellow_slope.core.probe.maps import effect_map
from yellow_slope.core.probe.mattering import Size
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.regions import Region
from yellow_slope.core.probe.together import Together
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.probe import Probe, RegionRule, Second, Smallest
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Raw, Transform, Treatment
from yellow_slope.values import replace

CLOSE = mpf("1e-9")
GRID = 160
Effect = Callable[[mpf, mpf], list[mpf]]
"""g at places of the moderator and of the second moderator."""


@dataclass
class Reckoned:
    """b and its covariance in 40 digits."""

    b: list[mpf]
    cov: mpmath.matrix
    df: int

    def effect(self, g: list[mpf]) -> mpf:
        return mpmath.fsum(a * b for a, b in zip(g, self.b))

    def se(self, g: list[mpf]) -> mpf:
        n = range(len(g))
        return mpmath.sqrt(
            max(mpf(0), mpmath.fsum(g[i] * self.cov[i, j] * g[j] for i in n for j in n if g[i] and g[j]))
        )

    def f(self, gs: list[list[mpf]]) -> mpf:
        rows = mpmath.matrix(gs)
        effects = mpmath.matrix([self.effect(g) for g in gs])
        spread = rows * self.cov * rows.T
        return (effects.T * mpmath.lu_solve(spread, effects))[0] / len(gs)


@dataclass
class World:
    """A model, what is asked of it, and the same reckoned apart."""

    study: Study
    probe: Probe
    effects: list[Effect]
    reckoned: Reckoned
    lines_apart: Effect | None = None
    """The difference of two lines of the interaction plot along the focal number (the first place)."""


def reckon(rows: list[list[mpf]], y: list[mpf], robust: bool) -> Reckoned:
    x, outcome = mpmath.matrix(rows), mpmath.matrix(y)
    inverse = (x.T * x) ** -1
    b = inverse * (x.T * outcome)
    rest = outcome - x * b
    n, p = x.rows, x.cols
    if not robust:
        s2 = (rest.T * rest)[0] / (n - p)
        return Reckoned(list(b), inverse * s2, n - p)
    meat = mpmath.zeros(p)
    for i in range(n):
        row = x[i, :]
        leverage = (row * inverse * row.T)[0]
        weight = rest[i] ** 2 / (1 - leverage) ** 2
        for j in range(p):
            for k in range(p):
                meat[j, k] += weight * row[j] * row[k]
    return Reckoned(list(b), inverse * meat * inverse, n - p)


def world(seed: int) -> World:
    """One of eight kinds of model, of small whole numbers, now and then nearly without noise."""
    draw = random.Random(seed)
    kind, robust = seed % 8, seed % 5 == 4
    n = draw.randint(22, 34)
    x = [draw.randint(0, 12) for _ in range(n)]
    w = [draw.randint(1, 9) for _ in range(n)]
    z = [draw.randint(0, 7) for _ in range(n)]
    levels = "abcd"[: draw.randint(3, 4)]
    d = [levels[i % len(levels)] for i in range(n)]
    noise = draw.choice([3, 30, 80])
    slope = draw.choice([-2, 0, 1, 3])
    y = [
        slope * x[i] * (w[i] - draw.choice([3, 5]))
        + w[i] * z[i]
        + (levels.index(d[i]) - 1) * (w[i] - 4) * 3
        + draw.randint(-noise, noise)
        for i in range(n)
    ]
    data = {"x": x, "w": w, "z": z, "d": d, "y": y}
    one = mpf(1)
    apart: Effect | None = None
    columns: list[Callable[[int], mpf]] = [lambda i: one]
    number: dict[str, list[mpf]] = {"x": [mpf(v) for v in x], "w": [mpf(v) for v in w], "z": [mpf(v) for v in z]}
    treated: list[str] = []
    if kind == 5:
        number["w"] = [mpmath.log(v) for v in number["w"]]
        treated = ["w"]
    X, W, Z = (lambda i, name=name: number[name][i] for name in "xwz")

    def product(*parts: Callable[[int], mpf]) -> Callable[[int], mpf]:
        return lambda i: mpmath.fprod(part(i) for part in parts)

    def level(code: str) -> Callable[[int], mpf]:
        return lambda i: mpf(int(d[i] == code))

    zero = mpf(0)
    effects: list[Effect]
    if kind in (0, 5):
        text, probe = "x, w, x*w", Probe("x", "w")
        columns += [X, W, product(X, W)]
        effects = [lambda a, _: [zero, one, zero, a]]

        def between(v: mpf, _: mpf) -> list[mpf]:
            return [zero, zero, one, v]

        apart = between
    elif kind in (1, 6):
        text, probe = "x, w, w*w, x*w, x*w*w", Probe("x", "w")
        columns += [X, W, product(W, W), product(X, W), product(X, W, W)]
        effects = [lambda a, _: [zero, one, zero, zero, a, a * a]]
    elif kind == 2:
        text, probe = "x, w, z, x*w, x*z, w*z, x*w*z", Probe("x", "w", second=Second("z"))
        columns += [X, W, Z, product(X, W), product(X, Z), product(W, Z), product(X, W, Z)]
        effects = [lambda a, b: [zero, one, zero, zero, a, b, zero, a * b]]
    elif kind == 3:
        text, probe = "x, x*x, w, x*w", Probe("w", "x")
        columns += [X, product(X, X), W, product(X, W)]
        effects = [lambda a, _: [zero, zero, zero, one, a]]
    else:  # 4, 7: a group along a number
        text, probe = "w, d, d*w", Probe("d", "w")
        columns += [W, *(level(code) for code in levels[1:]), *(product(level(code), W) for code in levels[1:])]
        k = len(levels) - 1

        def compared(m: int) -> Effect:
            own = [one if j == m else zero for j in range(k)]
            return lambda a, _: [zero, zero, *own, *(a * part for part in own)]

        effects = [compared(m) for m in range(k)]
    rows = [[column(i) for column in columns] for i in range(n)]
    reckoned = reckon(rows, [mpf(v) for v in y], robust)
    study = study_of(data, "y", text)
    study = treat(study, ["x", "w", "z"], Treatment(zero=Raw()))
    for name in treated:
        study = treat(study, [name], Treatment((Transform.LOG,), Raw()))
    if robust:
        study = set_errors(study, HC(3))
    return World(study, probe, effects, reckoned, apart if kind != 5 else None)


def probed(made: World, rule: RegionRule = RegionRule.POINTWISE, smallest: float | None = None) -> Probed:
    asked = replace(made.probe, rule=rule, smallest=None if smallest is None else Smallest(smallest))
    return probe_fit(made.study, fit_of(made.study), asked)


def coordinate(made: World, place: float) -> mpf:
    """The treated value of the moderator at a place."""
    logged = bool(made.study.model.treatment(made.probe.moderator).transforms)
    return mpmath.log(mpf(place)) if logged else mpf(place)


def f_quantile(level: float, q: int, df: int) -> mpf:
    """By bisection of the regularized incomplete beta function."""
    low, high = mpf(0), mpf(10) ** 6
    for _ in range(140):
        middle = (low + high) / 2
        share = mpmath.betainc(mpf(q) / 2, mpf(df) / 2, 0, q * middle / (q * middle + df), regularized=True)
        low, high = (middle, high) if share < mpf(level) else (low, middle)
    return (low + high) / 2


def grid_of(found: Probed) -> list[float]:
    low, high = found.moderator.low, found.moderator.high  # type: ignore[union-attr]
    return [float(v) for v in np.linspace(low, high, GRID + 1)]


def compare(
    said: Sequence[tuple[float, float, object]],
    truth: Callable[[float], object],
    margin: Callable[[float], mpf],
    places: list[float],
    where: object,
) -> None:
    """At every place, but for those that lie on a boundary, what is said there is true."""
    for place in places:
        if abs(margin(place)) < CLOSE:
            continue
        here = next(value for low, high, value in said if low <= place <= high)
        assert here == truth(place), (where, place, here, truth(place))


def stretches(regions: tuple[Region, ...]) -> list[tuple[float, float, object]]:
    return [(r.low, r.high, r.sign) for r in regions]


SEEDS = range(int(os.environ.get("WHERE_FROM", "0")), int(os.environ.get("WHERE_TO") or few(8, 24)))


@pytest.mark.parametrize("seed", SEEDS)
def test_regions_and_crossings(seed: int) -> None:
    made = world(seed)
    for rule in (RegionRule.POINTWISE, RegionRule.SIMULTANEOUS):
        found = probed(made, rule)
        df = made.reckoned.df
        for k, panel in enumerate(found.panels):
            second = mpf(0) if panel.second is None else mpf(panel.second.value)  # type: ignore[union-attr]
            for m, (focus, g) in enumerate(zip(panel.foci, made.effects, strict=True)):
                c = t_quantile("0.95", df)
                if rule is RegionRule.SIMULTANEOUS:
                    assert focus.curve is not None
                    q = focus.curve.dimension
                    c = mpmath.sqrt(q * f_quantile(0.95, q, df))
                assert focus.regions is not None
                assert focus.regions.critical == pytest.approx(float(c), rel=1e-9)

                def margin(place: float, g: Effect = g, second: mpf = second, c: mpf = c) -> mpf:
                    row = g(coordinate(made, place), second)
                    effect, se = made.reckoned.effect(row), made.reckoned.se(row)
                    return (abs(effect) - c * se) / (abs(effect) + c * se)

                def sign(place: float, g: Effect = g, second: mpf = second, margin: object = margin) -> int:
                    row = g(coordinate(made, place), second)
                    effect = made.reckoned.effect(row)
                    return 0 if margin(place) <= 0 else (1 if effect > 0 else -1)  # type: ignore[operator]

                compare(stretches(focus.regions.within), sign, margin, grid_of(found), (seed, rule, k, m))
                for bound in focus.regions.boundaries:
                    turns = margin(bound)
                    assert abs(turns) < mpf("1e-7"), (seed, bound, turns)
                for low, high in pairwise(focus.regions.within):
                    assert low.sign != high.sign or low.sign == 0 or abs(margin(low.high)) < mpf("1e-7")
    if made.lines_apart is not None:
        check_crossing(made, probed(made))


def check_crossing(made: World, found: Probed) -> None:
    """Fieller's set holds a place exactly if the lines are not told apart there."""
    crossing = found.panels[0].crossing_set
    c = t_quantile("0.95", made.reckoned.df)
    assert made.lines_apart is not None
    if crossing is None:
        return
    row = made.lines_apart(mpf(crossing.at), mpf(0))
    scale = abs(made.reckoned.b[2]) + abs(made.reckoned.b[3] * mpf(crossing.at))
    assert abs(made.reckoned.effect(row)) <= scale * mpf("1e-9")
    low, high = crossing.low, crossing.high
    for place in np.linspace(-60.0, 80.0, 281):
        g = made.lines_apart(mpf(float(place)), mpf(0))
        effect, se = made.reckoned.effect(g), made.reckoned.se(g)
        if abs(abs(effect) - c * se) < CLOSE * (abs(effect) + se):
            continue
        may = {
            FiellerKind.BOUNDED: low <= place <= high,
            FiellerKind.TWO_RAYS: place <= low or place >= high,
            FiellerKind.WHOLE_LINE: True,
            FiellerKind.FIXED: True,
        }[crossing.kind]
        assert may == (abs(effect) <= c * se), (crossing, place)


@pytest.mark.parametrize("seed", SEEDS)
def test_smallest_effects(seed: int) -> None:
    made = world(seed)
    draw = random.Random(1000 + seed)
    plain = probed(made)
    sizes = [abs(e.effect) for panel in plain.panels for focus in panel.foci for e in focus.effects]
    delta = (max(sizes) or 1.0) * draw.choice([0.2, 0.6, 1.1])
    for rule in (RegionRule.POINTWISE, RegionRule.SIMULTANEOUS):
        found, df = probed(made, rule, delta), made.reckoned.df
        assert found.smallest == delta
        for panel in found.panels:
            second = mpf(0) if panel.second is None else mpf(panel.second.value)  # type: ignore[union-attr]
            for focus, g in zip(panel.foci, made.effects, strict=True):
                assert focus.curve is not None
                q = focus.curve.dimension
                strict, loose = t_quantile("0.95", df), t_quantile("0.9", df)
                if rule is RegionRule.SIMULTANEOUS:
                    strict, loose = (mpmath.sqrt(q * f_quantile(level, q, df)) for level in (0.95, 0.9))

                def parts(place: float, g: Effect = g, second: mpf = second) -> tuple[mpf, mpf]:
                    row = g(coordinate(made, place), second)
                    return made.reckoned.effect(row), made.reckoned.se(row)

                def size(place: float, strict: mpf = strict, loose: mpf = loose, parts: object = parts) -> Size:
                    effect, se = parts(place)  # type: ignore[operator]
                    if effect - strict * se > delta:
                        return Size.ABOVE
                    if effect + strict * se < -delta:
                        return Size.BELOW
                    inside = effect + loose * se < delta and effect - loose * se > -delta
                    return Size.SMALL if inside else Size.OPEN

                def margin(place: float, strict: mpf = strict, loose: mpf = loose, parts: object = parts) -> mpf:
                    effect, se = parts(place)  # type: ignore[operator]
                    beyond = [effect + side * c * se for side in (-1, 1) for c in (strict, loose)]
                    edges = [value - end * mpf(delta) for value in beyond for end in (-1, 1)]
                    return min(abs(e) for e in edges) / (abs(effect) + se + mpf(delta))

                assert focus.mattering is not None
                said = [(s.low, s.high, s.size) for s in focus.mattering.within]
                compare(said, size, margin, grid_of(found), (seed, rule, delta))


@pytest.mark.parametrize("seed", [s for s in SEEDS if s % 8 in (4, 7)])
def test_several_comparisons_together(seed: int) -> None:
    made = world(seed)
    for rule in (RegionRule.POINTWISE, RegionRule.SIMULTANEOUS):
        found = probed(made, rule)
        q, df = len(made.effects), made.reckoned.df
        whole = 2 * q
        critical = f_quantile(0.95, q, df)
        if rule is RegionRule.SIMULTANEOUS:
            critical = whole * f_quantile(0.95, whole, df) / q
        by = {t.of: t for t in found.panels[0].together}
        joint = by[Together.JOINT]
        assert joint.critical == pytest.approx(float(critical), rel=1e-9)
        places = grid_of(found)[::4]

        def f(place: float) -> mpf:
            return made.reckoned.f([g(mpf(place), mpf(0)) for g in made.effects])

        def margin(place: float, critical: mpf = critical) -> mpf:
            return (f(place) - critical) / critical

        compare(stretches(joint.within), lambda place: int(margin(place) > 0), margin, places, (seed, rule))
        for bound in joint.boundaries:
            assert float(f(bound)) == pytest.approx(float(critical), rel=1e-7)
        each = [focus.regions.within for focus in found.panels[0].foci if focus.regions is not None]
        for of, choose in ((Together.ANY, any), (Together.EVERY, all)):
            for place in places:
                signs = [next(r.sign for r in regions if r.low <= place <= r.high) for regions in each]
                here = next(r.sign for r in by[of].within if r.low <= place <= r.high)
                assert here == int(choose(s != 0 for s in signs)), (seed, rule, of, place)


@pytest.mark.parametrize("seed", [s for s in SEEDS if s % 8 == 2])
@pytest.mark.parametrize("rule", [RegionRule.POINTWISE, RegionRule.SIMULTANEOUS])
def test_the_map_of_two_moderators(seed: int, rule: RegionRule) -> None:
    made = world(seed)
    found = probed(made, rule)
    over, df = effect_map(found, 0), made.reckoned.df
    assert over.surface.dimension == 4
    c = t_quantile("0.95", df) if rule is RegionRule.POINTWISE else mpmath.sqrt(4 * f_quantile(0.95, 4, df))
    assert over.critical == pytest.approx(float(c), rel=1e-9)

    def excess(a: float, b: float) -> tuple[mpf, mpf]:
        row = made.effects[0](mpf(a), mpf(b))
        effect, se = made.reckoned.effect(row), made.reckoned.se(row)
        return effect, (abs(effect) - c * se) / (abs(effect) + c * se)

    for j in range(0, over.b.size, 6):
        for i in range(0, over.a.size, 6):
            effect, margin = excess(float(over.a[i]), float(over.b[j]))
            assert over.effect[j, i] == pytest.approx(float(effect), rel=1e-8, abs=1e-9)
            if abs(margin) > CLOSE:
                assert over.told[j, i] == (0 if margin < 0 else int(mpmath.sign(effect)))
    for contour in over.bounds:
        for a, b in contour.points[:: max(1, len(contour.points) // 12)]:
            assert abs(excess(float(a), float(b))[1]) < mpf("1e-7"), (seed, a, b)
    if (over.told == 0).any() and (over.told != 0).any():
        assert over.bounds


def test_exact_fractions_agree_with_forty_digits() -> None:
    """The reckoning here is that of the exact oracle."""
    made = world(0)
    data = made.study.table
    x, w, y = ([Fraction(int(v)) for v in data.column(name).numbers] for name in ("x", "w", "y"))  # type: ignore[union-attr]
    rows: list[Row] = [[Fraction(1), a, b, a * b] for a, b in zip(x, w)]
    exact = exact_fit(rows, y)
    g: Row = [Fraction(0), Fraction(1), Fraction(0), Fraction(5)]
    mine = [mpf(int(v)) for v in g]
    effect, variance = exact.effect(g), exact.variance(g)
    assert float(made.reckoned.effect(mine)) == pytest.approx(float(effect), rel=1e-14)
    assert float(made.reckoned.se(mine)) ** 2 == pytest.approx(float(variance), rel=1e-13)
