"""Roots of robust covariances: heteroscedasticity-consistent (HC0 to HC4) and clustered (CR1)."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.solve.factor import EPS, PERFECT, Factorization, triangle_of
from yellow_slope.values import dataclass

FULL_LEVERAGE = 1e-10


def leverages(factored: Factorization, m: int) -> FloatArray:
    """Shape (n,): leverage of each case with the first m kept columns."""
    parts = [np.einsum("ij,ij->i", q, q) for q, _, _ in factored.orthonormal(m)]
    return np.minimum(1.0, np.concatenate(parts)) if parts else np.zeros(0)


@dataclass(frozen=True, slots=True, eq=False)
class RobustRoot:
    """A root of a robust covariance, and how large it may be by rounding alone where residuals cancel."""

    root: FloatArray
    """Shape (m + 1, m + 1): L with Cov(b) = L L'."""
    residuals: float
    """Rounding of a residual, times how much it counts."""
    terms: float
    """Rounding of a term that a residual is multiplied into."""


def hc_root(factored: Factorization, m: int, b: FloatArray, kind: int) -> RobustRoot | None:
    """The root under HC0 to HC4; None where a case has leverage 1 (HC2 to HC4).

    White (1980); MacKinnon & White (1985): HC3 = e² / (1 - h)²; Cribari-Neto (2004) for HC4. b (m + 1,): constant
    first.
    """
    most, largest = 1.0, 0.0
    n, p = factored.n, m + int(factored.constant)
    pieces: list[FloatArray] = []
    for q, x, y in factored.orthonormal(m):
        residual = y - x[:, factored.kept[:m]] @ b[1:] - b[0]
        h = np.minimum(1.0, np.einsum("ij,ij->i", q, q))
        if kind >= 2:
            if np.any(h > 1 - FULL_LEVERAGE):
                return None
            power = {2: np.ones_like(h), 3: np.full_like(h, 2.0)}.get(kind)
            if power is None:
                power = np.minimum(4.0, n * h / p)
            weights = (1.0 - h) ** (-power / 2)
        else:
            weights = np.full_like(h, np.sqrt(n / (n - p)) if kind == 1 else 1.0)
        residual = residual * weights
        most, largest = max(most, float(weights.max())), max(largest, float(np.abs(residual).max()))
        pieces.append(triangle_of(np.asfortranarray(q * residual[:, None])))
    noise = PERFECT * factored.noise(m, b[1:])
    return RobustRoot(_through(factored, m, pieces), noise * most, PERFECT * EPS * largest)


def cluster_root(factored: Factorization, m: int, b: FloatArray, groups: IntArray) -> RobustRoot:
    """The root clustered by groups (n,), CR1 (Cameron & Miller 2015)."""
    largest = 0.0
    n, p, k = factored.n, m + int(factored.constant), int(groups.max()) + 1
    scores = np.zeros((k, m + 1))
    start = 0
    for q, x, y in factored.orthonormal(m):
        residual = y - x[:, factored.kept[:m]] @ b[1:] - b[0]
        largest = max(largest, float(np.abs(residual).max()))
        np.add.at(scores, groups[start : start + q.shape[0]], q * residual[:, None])
        start += q.shape[0]
    scale = np.sqrt(k / (k - 1) * (n - 1) / (n - p))
    piece = triangle_of(np.asfortranarray(scores * scale))
    # A sum over a cluster carries the roundings of all its cases.
    together = float(scale * np.sqrt(np.bincount(groups).max()))
    noise = PERFECT * (factored.noise(m, b[1:]) + EPS * largest)
    return RobustRoot(_through(factored, m, [piece]), together * noise, together * PERFECT * EPS * largest)


def _through(factored: Factorization, m: int, pieces: list[FloatArray]) -> FloatArray:
    triangle = pieces[0] if len(pieces) == 1 else triangle_of(np.asfortranarray(np.vstack(pieces)))
    return np.asarray(factored.root(m) @ triangle.T, dtype=np.float64)
