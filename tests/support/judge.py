"""What a study says of its effects, reckoned without the program: b, interval, p and joint tests under every kind of
standard errors."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import mpmath
from mpmath import mpf

from tests.support import oracle
from tests.support.described import Reckoned, Row, Step, order_of
from tests.support.resamples import Resamples
from yellow_slope.core.study.standarderrors import Bootstrap
from yellow_slope.core.study.study import Study

Number = Any


@dataclass(frozen=True)
class Judged:
    """An effect; `off`: how far its figures may be from what doubles say."""

    b: float
    low: float
    high: float
    p: tuple[float, float]
    """Between which it lies."""
    off: float


@dataclass(frozen=True)
class Joint:
    """A test of several coefficients."""

    f: float | None
    """None of draws."""
    df: tuple[int, int]
    p: tuple[float, float]


class NothingToldError(Exception):
    """Doubles hold too little of the study's columns to say anything of it, or it has no errors."""


class Judge:
    """Of the steps of a study's model."""

    def __init__(self, study: Study) -> None:
        self.study, self.reckoned = study, Reckoned(study)
        rows = self.reckoned.matrix()
        self.steps = [Step(self.reckoned, rows, i) for i in range(len(self.reckoned.ends))]
        last = self.steps[-1]
        if any(step.is_lost for step in self.steps) or last.df < 1 or last.is_perfect:
            raise NothingToldError
        errors = study.model.errors
        self.resamples: Resamples | None = None
        if isinstance(errors, Bootstrap):
            self.resamples = Resamples(last, errors, last.clusters, order_of(study, errors))
            if len(self.resamples.triangles) < errors.draws:
                raise NothingToldError

    def unit(self, step: int, column: int) -> Row:
        """The row of one coefficient; 0 is the constant."""
        return [mpf(i == column) for i in range(len(self.steps[step].columns))]

    def effect(self, index: int, g: Row) -> Judged | None:
        """g·b with its interval and p; None where no case tells of it, or errors do not."""
        step, level = self.steps[index], self.study.model.level
        g = g[: len(step.columns)]
        if not step.is_told(g) or not any(g):
            return None
        b, off = step.effect(g), step.rounding(g)
        scale = mpmath.sqrt(step.bare(g) * step.sse / step.df)
        slack = float(off + mpf("1e-6") * scale)
        if self.resamples is not None:
            read = self.resamples.read(g, float(b), level, float(off))
            return Judged(float(b), read.low, read.high, read.p, slack) if read.se > 1e-6 * scale else None
        variance = step.variance(g)
        if variance is None or variance <= mpf("1e-12") * scale**2:
            return None
        se = mpmath.sqrt(variance)
        half = oracle.t_quantile(str(level), step.test_df) * se
        low_p, high_p = (
            float(oracle.t_p(max(mpf(0), abs(b / se) + part * (slack / se)), step.test_df)) for part in (1, -1)
        )
        return Judged(float(b), float(b - half), float(b + half), (low_p, high_p), slack)

    def joint(self, index: int, columns: list[int]) -> Joint | None:
        """All these coefficients together; None where they depend on each other, or errors tell of fewer."""
        step = self.steps[index]
        gs = [self.unit(index, j) for j in columns]
        if step.nulls or not gs or (step.clusters is not None and len(gs) > step.test_df):
            return None
        if self.resamples is not None:
            one = self.effect(index, gs[0])
            if len(gs) == 1:
                return Joint(None, (1, step.test_df), one.p) if one is not None else None
            p = self.resamples.joint_p(gs, [float(step.effect(g)) for g in gs])
            return Joint(None, (len(gs), step.test_df), p)
        covariance = step.covariance(gs)
        if covariance is None:
            return None
        sizes = [mpmath.sqrt(step.bare(g) * step.sse / step.df) for g in gs]
        unit = mpmath.matrix([[v / a / b for v, b in zip(row, sizes)] for row, a in zip(covariance, sizes)])
        if abs(mpmath.det(unit)) < mpf(10) ** -10:
            return None
        effects = mpmath.matrix([step.effect(g) / size for g, size in zip(gs, sizes)])
        f = (effects.T * unit**-1 * effects)[0] / len(gs)
        off = max(step.rounding(g) / size for g, size in zip(gs, sizes)) / abs(mpmath.det(unit)) + mpf("1e-6")
        ends = [float(oracle.f_p(max(mpf(0), f * (1 + part * off)), len(gs), step.test_df)) for part in (1, -1)]
        return Joint(float(f), (len(gs), step.test_df), (ends[0], ends[1]))

    def r2(self, index: int) -> float:
        """R² about the mean, or about 0 where the model has no constant and its columns make none."""
        step = self.steps[index]
        middle = mpmath.fsum(step.y) / step.n if self.about_mean else mpf(0)
        return float(1 - step.sse / mpmath.fsum((v - middle) ** 2 for v in step.y))

    @property
    def about_mean(self) -> bool:
        """Whether there is a constant, also one that the first step's columns make between them."""
        if self.study.model.constant:
            return True
        step = self.steps[0]
        ones = mpmath.matrix([mpf(1)] * step.n)
        weights = step.inverse * (step.x.T * ones)
        rest = ones - step.x * weights
        return bool(mpmath.fdot(rest, rest) < mpf(10) ** -25)
