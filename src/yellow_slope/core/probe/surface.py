"""A sum of coefficients over two numbers: the effect over two moderators, or the predicted outcome over two
predictors."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from itertools import pairwise
from typing import assert_never, cast

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.design.design import Along, Profile
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, Inference
from yellow_slope.core.fit.solve.tails import f_quantile, t_quantile
from yellow_slope.core.probe.curve import CLEAN, Curve, curve
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.values import dataclass

GRID = 61
"""Places along each number at which a surface is looked at."""
BISECTIONS = 44
EMPTY = 0.5
"""A place is empty where no case lies within so many SDs of it in both numbers."""
FLAT = 1e-11


@dataclass(frozen=True, eq=False)
class Surface:
    """g(u, v)·b with g a polynomial in the coordinates of two numbers."""

    g: FloatArray
    """Shape (1 + columns of the step, degree in u + 1, degree in v + 1)."""
    inference: Inference
    level: float
    along: Along
    across: Along

    @cached_property
    def is_estimable(self) -> bool:
        """Whether the cases tell of it everywhere."""
        size = self.g.shape[0]
        return bool(np.all(self.inference.estimable(self.g.reshape(size, -1).T)))

    @cached_property
    def has_errors(self) -> bool:
        """Whether it has standard errors, of which there is a formula over both numbers."""
        return (
            self.inference.without is None and self.inference.draws is None and self.is_estimable and not self._cancels
        )

    @cached_property
    def _cancels(self) -> bool:
        """Whether its robust standard error is 0 everywhere, though the model does not fix it."""
        if self.inference.rounding is None:
            return False
        u, v = (m.ravel() for m in np.meshgrid([-1.0, 0.0, 0.5, 1.0], [-1.0, 0.0, 0.5, 1.0]))
        powers = np.vander(u, self.g.shape[1], increasing=True)[:, :, None]
        powers = powers * np.vander(v, self.g.shape[2], increasing=True)[:, None, :]
        rows = np.einsum("juv,muv->mj", self.g, powers)
        spread = rows @ self.inference.root
        return bool(np.all(self.inference.cancels(rows, np.sqrt(np.einsum("mr,mr->m", spread, spread)))))

    def _powers(self, a: FloatArray, b: FloatArray) -> FloatArray:
        """Shape (m, du, dv): powers of the coordinates at places (m,) each."""
        u = np.vander(self.along.u(a), self.g.shape[1], increasing=True)
        v = np.vander(self.across.u(b), self.g.shape[2], increasing=True)
        return np.asarray(u[:, :, None] * v[:, None, :])

    def row(self, a: float, b: float) -> FloatArray:
        """Shape (1 + columns,): g at a place."""
        powers = self._powers(np.array([a]), np.array([b]))[0]
        g = np.einsum("juv,uv->j", self.g, powers)
        g[np.abs(g) <= CLEAN * np.einsum("juv,uv->j", np.abs(self.g), np.abs(powers))] = 0.0
        return np.asarray(g)

    def curve(self, b: float) -> Curve:
        """The curve along the first number with the second at a value."""
        v = np.vander(self.across.u(np.array([b])), self.g.shape[2], increasing=True)[0]
        found = self.g @ v
        found[np.abs(found) <= CLEAN * (np.abs(self.g) @ np.abs(v))] = 0.0
        while found.shape[1] > 1 and not np.any(found[:, -1]):
            found = found[:, :-1]
        return Curve(found, self.inference, self.level, self.along)

    def at(self, a: float, b: float) -> ConditionalEffect:
        """The effect at one place."""
        return self.inference.estimate(self.row(a, b), self.level)

    @cached_property
    def _effects(self) -> FloatArray:
        return np.asarray(np.einsum("j,juv->uv", self.inference.solution, self.g))

    @cached_property
    def _spread(self) -> FloatArray:
        return np.asarray(np.einsum("jr,juv->ruv", self.inference.root, self.g))

    def effect(self, a: FloatArray, b: FloatArray) -> FloatArray:
        """Shape (m,): g·b at places."""
        return np.asarray(np.einsum("muv,uv->m", self._powers(a, b), self._effects))

    def se(self, a: FloatArray, b: FloatArray) -> FloatArray:
        """Shape (m,): its standard error."""
        spread = np.einsum("muv,ruv->mr", self._powers(a, b), self._spread)
        return np.asarray(np.sqrt(np.einsum("mr,mr->m", spread, spread)))

    def excess(self, a: FloatArray, b: FloatArray, critical: float) -> FloatArray:
        """Shape (m,): |effect| less a critical value times its standard error: above 0 where it is told apart."""
        return np.asarray(np.abs(self.effect(a, b)) - critical * self.se(a, b))

    @property
    def dimension(self) -> int:
        """How many dimensions g spans over both numbers: 4 of a product of three."""
        size = self.g.shape[0]
        return int(np.linalg.matrix_rank(self.inference.root.T @ self.g.reshape(size, -1)))

    def critical(self, rule: RegionRule) -> float:
        """What |t| must pass: of each point, or of all points of the surface at once (Potthoff 1964).

        The false discovery rate speaks of the observed values of one number; over two each point stands by itself.
        """
        df = self.inference.df
        match rule:
            case RegionRule.POINTWISE | RegionRule.FALSE_DISCOVERY:
                return t_quantile(self.level, df)
            case RegionRule.SIMULTANEOUS:
                q, most = self.dimension, self.inference.most_tested
                if most is not None and q > most:
                    return float("inf")
                return float(np.sqrt(q * f_quantile(self.level, q, df)))
            case _:
                assert_never(rule)


def surface_of(
    rows_at: Callable[[Profile, Along], FloatArray],
    profile: Profile,
    along: Along,
    second: NumberBasis,
    degree: int,
    inference: Inference,
    level: float,
) -> Surface:
    """A surface from rows (1 + all columns, degree + 1) along one number at places of another, in which they are a
    polynomial of a degree at most."""
    low, high = second.axis.coordinate(second.low), second.axis.coordinate(second.high)
    across = Along(second.variable, (low + high) / 2, abs(high - low) / 2 or 1.0, second.axis)
    nodes = np.cos((2 * np.arange(degree + 1) + 1) * np.pi / (2 * degree + 2)) if degree else np.zeros(1)
    places = _places(second, across, nodes)
    size = inference.solution.size
    found = [rows_at(profile.with_number(second.variable, float(place)), along)[:size] for place in places]
    width = max(rows.shape[1] for rows in found)
    stacked = np.stack([np.pad(rows, ((0, 0), (0, width - rows.shape[1]))) for rows in found], axis=2)
    powers = np.vander(across.u(places), degree + 1, increasing=True)  # (nodes, degree + 1)
    g = np.linalg.solve(powers, stacked.reshape(-1, degree + 1).T).T.reshape(stacked.shape)
    largest = np.abs(g).max(axis=(1, 2), keepdims=True, initial=0.0)
    g[np.abs(g) <= FLAT * largest] = 0.0
    return Surface(np.asarray(g, dtype=np.float64), inference, level, along, across)


def _places(second: NumberBasis, across: Along, nodes: FloatArray) -> FloatArray:
    """Distinct places of a number at or near coordinates u."""
    if second.axis.is_identity:
        return np.asarray(across.middle + across.half * nodes)
    grid = np.linspace(second.low, second.high, 513)
    u = across.u(grid)
    chosen: list[int] = []
    for node in nodes:
        order = np.argsort(np.abs(u - node), kind="stable")
        chosen.append(next(int(i) for i in order if all(u[int(i)] != u[k] for k in chosen)))
    return np.asarray(grid[chosen])


def curve_at(
    rows_at: Callable[[Profile, Along], FloatArray],
    profile: Profile,
    along: Along,
    second: NumberBasis,
    value: float,
    inference: Inference,
    level: float,
) -> Curve:
    """The effect along one number with the other at a value."""
    return curve(inference, rows_at(profile.with_number(second.variable, value), along), along, level)


@dataclass(frozen=True, slots=True, eq=False)
class Contour:
    """A line (m, 2) of places of both numbers at which a value is reached."""

    points: FloatArray
    value: float


@dataclass(frozen=True, slots=True, eq=False)
class Map:
    """A surface over the observed ranges of both numbers, on a grid."""

    surface: Surface
    a: FloatArray
    """Shape (k,): places of the first number, rising."""
    b: FloatArray
    """Shape (k,): places of the second."""
    effect: FloatArray
    """Shape (k, k): rows for places of the second number."""
    critical: float
    told: FloatArray
    """Shape (k, k): +1 or -1 where it is told apart from 0, else 0."""
    bounds: tuple[Contour, ...]
    """Where it stops being told apart from 0."""
    empty: BoolArray
    """Shape (k, k): where no case is near."""
    share: float
    """Of the cases those where it is told apart from 0."""


def map_of(
    surface: Surface, first: NumberBasis, second: NumberBasis, x: FloatArray, y: FloatArray, rule: RegionRule | None
) -> Map:
    """The surface as a map over the observed ranges. x, y (n,): both numbers over the model's cases; rule: None where
    nothing is tested."""
    a, b = np.linspace(first.low, first.high, GRID), np.linspace(second.low, second.high, GRID)
    grid_a, grid_b = (m.ravel() for m in np.meshgrid(a, b))
    effect = surface.effect(grid_a, grid_b).reshape(GRID, GRID)
    tested = rule is not None and surface.has_errors
    critical = surface.critical(rule) if tested and rule is not None else float("inf")
    told = np.zeros((GRID, GRID))
    bounds: tuple[Contour, ...] = ()
    share = 0.0
    if tested and np.isfinite(critical):
        excess = surface.excess(grid_a, grid_b, critical).reshape(GRID, GRID)
        told = np.where(excess > 0, np.sign(effect), 0.0)
        bounds = tuple(
            Contour(_polished(surface, line, a, b, critical), critical) for line in contours(a, b, excess, 0.0)
        )
        share = float(np.mean(surface.excess(x, y, critical) > 0)) if x.size else 0.0
    return Map(surface, a, b, effect, critical, told, bounds, _empty(a, b, first, second, x, y), share)


def contours(a: FloatArray, b: FloatArray, values: FloatArray, level: float) -> list[FloatArray]:
    """Lines (m, 2) along which values (len(b), len(a)) on a grid reach a level, by straight pieces between its
    places."""
    from contourpy import LineType, contour_generator

    lines = contour_generator(a, b, values, line_type=LineType.Separate).lines(level)
    return [np.asarray(line, dtype=np.float64) for line in lines if len(line) > 1]


def countries(a: FloatArray, b: FloatArray, values: FloatArray, level: float) -> list[FloatArray]:
    """Polygons (m, 2) of the places where values (len(b), len(a)) on a grid are at least a level; a hole is entered and
    left by the same way."""
    from contourpy import FillType, contour_generator

    most = float(values.max())
    made = contour_generator(a, b, values, fill_type=FillType.OuterOffset)
    filled = made.filled(level, most + abs(most) + 1.0)
    polygons, offsets = cast("tuple[list[FloatArray], list[IntArray]]", filled)
    found: list[FloatArray] = []
    for points, starts in zip(polygons, offsets):
        rings = [points[i:j] for i, j in pairwise(starts)]
        whole = [ring if k == 0 else np.vstack([ring, rings[0][:1]]) for k, ring in enumerate(rings)]
        found.append(np.asarray(np.vstack(whole), dtype=np.float64))
    return found


def _polished(surface: Surface, line: FloatArray, a: FloatArray, b: FloatArray, critical: float) -> FloatArray:
    """Each point of a contour moved along the edge of the grid on which it lies to where the excess is 0."""
    i = np.clip(np.searchsorted(a, line[:, 0]) - 1, 0, a.size - 2)
    j = np.clip(np.searchsorted(b, line[:, 1]) - 1, 0, b.size - 2)
    step_a, step_b = a[1] - a[0], b[1] - b[0]
    off_a = np.abs((line[:, 0] - a[0]) / step_a - np.round((line[:, 0] - a[0]) / step_a))
    off_b = np.abs((line[:, 1] - b[0]) / step_b - np.round((line[:, 1] - b[0]) / step_b))
    along = off_a >= off_b  # it lies between two places of the first number
    low = np.where(along[:, None], np.column_stack([a[i], line[:, 1]]), np.column_stack([line[:, 0], b[j]]))
    high = np.where(along[:, None], np.column_stack([a[i + 1], line[:, 1]]), np.column_stack([line[:, 0], b[j + 1]]))
    at_low = surface.excess(low[:, 0], low[:, 1], critical) > 0
    turns = at_low != (surface.excess(high[:, 0], high[:, 1], critical) > 0)
    for _ in range(BISECTIONS):
        middle = (low + high) / 2
        same = (surface.excess(middle[:, 0], middle[:, 1], critical) > 0) == at_low
        low, high = np.where(same[:, None], middle, low), np.where(same[:, None], high, middle)
    return np.where(turns[:, None], (low + high) / 2, line)


def _empty(
    a: FloatArray, b: FloatArray, first: NumberBasis, second: NumberBasis, x: FloatArray, y: FloatArray
) -> BoolArray:
    """Shape (k, k): where no case lies within half an SD in both numbers."""
    reach_a = max(EMPTY * first.sd, (a[1] - a[0]) / 2)
    reach_b = max(EMPTY * second.sd, (b[1] - b[0]) / 2)
    near_a = np.abs(x[None, :] - a[:, None]) <= reach_a if x.size * a.size <= 4_000_000 else None
    if near_a is None:  # of very many cases their places on the grid stand for them
        there = np.histogram2d(x, y, bins=[_edges(a), _edges(b)])[0].astype(bool)
        i, j = np.nonzero(there)
        x, y = a[i], b[j]
        near_a = np.abs(x[None, :] - a[:, None]) <= reach_a
    near_b = np.abs(y[None, :] - b[:, None]) <= reach_b
    return np.asarray((near_b.astype(np.float32) @ near_a.T.astype(np.float32)) < 0.5)


def _edges(places: FloatArray) -> FloatArray:
    middles = (places[:-1] + places[1:]) / 2
    return np.concatenate([[-np.inf], middles, [np.inf]])
