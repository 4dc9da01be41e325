"""Designs written out by hand in exact fractions, for tests of codings, zero points and robust errors."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import mpmath
import numpy as np

from tests.support import oracle

Columns = dict[str, list[Any]]
LEVELS = ("a", "b", "c", "d")


def columns(seed: int, n: int = 36, k: int = 4) -> Columns:
    """Whole numbers x, w, a covariate c, k groups g of unequal size, a cluster id, and an outcome y."""
    rng = np.random.default_rng(2000 + seed)
    g = [LEVELS[i] for i in rng.choice(k, n, p=np.array([0.4, 0.3, 0.2, 0.1][:k]) / sum([0.4, 0.3, 0.2, 0.1][:k]))]
    g[: 2 * k] = list(LEVELS[:k]) * 2
    x, w, c = (rng.integers(-5, 10, n).tolist() for _ in range(3))
    y = [
        int(3 * p - q + p * q // 3 + {"a": 0, "b": 4, "c": -3, "d": 7}[h] + (p if h == "c" else 0) + int(e))
        for p, q, h, e in zip(x, w, g, rng.integers(-8, 9, n))
    ]
    ids = [f"id{i}" for i in rng.integers(0, 9, n)]
    return {"x": x, "w": w, "c": c, "g": g, "id": ids, "y": y}


def fractions(values: list[int] | list[str]) -> list[Fraction]:
    """Whole numbers as fractions."""
    return [Fraction(int(v)) for v in values]


def close(found: float, exact: mpmath.mpf, size: mpmath.mpf | None = None) -> bool:
    """Whether a number agrees with an exact one to 1e-9 of its size."""
    scale = max(abs(exact), size if size is not None else abs(exact), mpmath.mpf("1e-12"))
    return bool(abs(mpmath.mpf(float(found)) - exact) <= mpmath.mpf("1e-9") * scale)


def sandwich(rows: list[oracle.Row], y: oracle.Row, kind: str, ids: list[str] | None = None) -> mpmath.matrix:
    """The robust covariance of b: HC0 to HC4, or clustered by ids (CR1)."""
    fit = oracle.exact_fit(rows, y)
    n, p = len(rows), len(rows[0])
    inverse = mpmath.matrix([[oracle.mp(v) for v in row] for row in fit.inverse])
    residuals = [v - sum((a * b for a, b in zip(row, fit.b)), Fraction(0)) for row, v in zip(rows, y)]
    meat = mpmath.zeros(p)
    if ids is not None:
        for name in set(ids):
            score = mpmath.zeros(p, 1)
            for row, e, own in zip(rows, residuals, ids):
                if own == name:
                    for j in range(p):
                        score[j] += oracle.mp(row[j] * e)
            meat += score * score.T
        k = len(set(ids))
        meat *= mpmath.mpf(k) / (k - 1) * mpmath.mpf(n - 1) / (n - p)
        return inverse * meat * inverse
    for row, e in zip(rows, residuals):
        h = sum((row[i] * fit.inverse[i][j] * row[j] for i in range(p) for j in range(p)), Fraction(0))
        left = 1 - oracle.mp(h)
        power = {"HC0": 0, "HC1": 0, "HC2": 1, "HC3": 2, "HC4": min(mpmath.mpf(4), n * oracle.mp(h) / p)}[kind]
        weight = oracle.mp(e) ** 2 / left**power
        if kind == "HC1":
            weight *= mpmath.mpf(n) / (n - p)
        vector = mpmath.matrix([oracle.mp(v) for v in row])
        meat += weight * (vector * vector.T)
    return inverse * meat * inverse
