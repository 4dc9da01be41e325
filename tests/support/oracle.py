"""Least squares in exact rational arithmetic and tails in high precision. Shares no code with the product."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

import mpmath

mpmath.mp.dps = 40
Row = list[Fraction]


@dataclass
class Exact:
    """b, SSE, residual df and the inverse of X'X, all exact."""

    b: Row
    sse: Fraction
    df: int
    inverse: list[Row]
    total: Fraction

    def variance(self, g: Row) -> Fraction:
        """g Cov(b) g'."""
        n = len(g)
        form = sum((g[i] * self.inverse[i][j] * g[j] for i in range(n) for j in range(n)), Fraction(0))
        return form * self.sse / self.df

    def effect(self, g: Row) -> Fraction:
        """g·b."""
        return sum((x * y for x, y in zip(g, self.b)), Fraction(0))


def exact_fit(rows: list[Row], y: Row) -> Exact:
    """Ordinary least squares by the normal equations, without rounding."""
    p = len(rows[0])
    xx = [[sum((r[i] * r[j] for r in rows), Fraction(0)) for j in range(p)] for i in range(p)]
    xy = [sum((r[i] * v for r, v in zip(rows, y)), Fraction(0)) for i in range(p)]
    inverse = inverted(xx)
    b = [sum((inverse[i][j] * xy[j] for j in range(p)), Fraction(0)) for i in range(p)]
    residuals = [v - sum((r[j] * b[j] for j in range(p)), Fraction(0)) for r, v in zip(rows, y)]
    mean = sum(y, Fraction(0)) / len(y)
    return Exact(
        b,
        sum((e * e for e in residuals), Fraction(0)),
        len(y) - p,
        inverse,
        sum(((v - mean) ** 2 for v in y), Fraction(0)),
    )


def inverted(a: list[Row]) -> list[Row]:
    """The inverse by elimination; ZeroDivisionError if there is none."""
    n = len(a)
    work = [[*row, *(Fraction(int(i == j)) for j in range(n))] for i, row in enumerate(a)]
    for i in range(n):
        pivot = next((k for k in range(i, n) if work[k][i] != 0), None)
        if pivot is None:
            raise ZeroDivisionError
        work[i], work[pivot] = work[pivot], work[i]
        work[i] = [v / work[i][i] for v in work[i]]
        for k in range(n):
            if k != i and work[k][i] != 0:
                factor = work[k][i]
                work[k] = [x - factor * z for x, z in zip(work[k], work[i])]
    return [row[n:] for row in work]


def t_p(t: mpmath.mpf, df: int) -> mpmath.mpf:
    """Two-sided p of t."""
    return mpmath.betainc(mpmath.mpf(df) / 2, mpmath.mpf("0.5"), 0, df / (df + t * t), regularized=True)


def f_p(f: mpmath.mpf, df1: int, df2: int) -> mpmath.mpf:
    """Upper tail of F."""
    x = df2 / (df2 + df1 * f)
    return mpmath.betainc(mpmath.mpf(df2) / 2, mpmath.mpf(df1) / 2, 0, x, regularized=True)


def t_quantile(level: str, df: int) -> mpmath.mpf:
    """The t that a two-sided interval of that level uses."""
    alpha = 1 - mpmath.mpf(level)
    return mpmath.findroot(lambda t: t_p(t, df) - alpha, (mpmath.mpf("1.5"), mpmath.mpf("4")), solver="anderson")


def mp(value: Fraction) -> mpmath.mpf:
    """A fraction in high precision."""
    return mpmath.mpf(value.numerator) / value.denominator


def noncentral_t_cdf(t: float, df: int, nc: float) -> mpmath.mpf:
    """By integration over the chi distribution, to 20 digits."""
    with mpmath.workdps(20):
        half, root = mpmath.mpf(df) / 2, mpmath.sqrt(df)
        whole = 2 / (2**half * mpmath.gamma(half))

        def density(s: mpmath.mpf) -> mpmath.mpf:
            return mpmath.ncdf(t * s / root - nc) * whole * s ** (df - 1) * mpmath.exp(-s * s / 2)

        return mpmath.quad(density, [0, root / 2, root, 1.5 * root, root + 12])


def noncentral_f_cdf(f: float, df1: int, df2: int, nc: float) -> mpmath.mpf:
    """As a sum of central ones weighted by Poisson. Each central one is the one before it less one term:
    I(a + 1, b) = I(a, b) - x^a (1 - x)^b / (a B(a, b)), at 80 digits, so that what cancels leaves more than is asked.
    """
    with mpmath.workdps(80):
        x = mpmath.mpf(df1) * f / (mpmath.mpf(df1) * f + df2)
        half, a, b = mpmath.mpf(nc) / 2, mpmath.mpf(df1) / 2, mpmath.mpf(df2) / 2
        central = mpmath.betainc(a, b, 0, x, regularized=True)
        less = x**a * (1 - x) ** b / (a * mpmath.beta(a, b))
        total, weight = mpmath.mpf(0), mpmath.exp(-half)
        for j in range(int(nc / 2 + 12 * math.sqrt(nc / 2) + 60)):
            total += weight * central
            weight *= half / (j + 1)
            central -= less
            less *= x * (a + b + j) / (a + j + 1)
        return total
