"""Least squares by one orthogonal factorization of the last step's matrix."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.linalg import lapack, qr, solve_triangular

from yellow_slope.core.table import FloatArray, IntArray

RANK_TOLERANCE = 64.0
DELICATE = 300.0
"""Norm of R's inverse, its columns being of unit length, above which coefficients are refined."""
REFINEMENTS = 4


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A column that the model cannot hold: constant, or a sum of others with the weights given."""

    column: int
    on: tuple[tuple[int, float], ...]
    """(column, weight) pairs in the columns' own units; empty for a constant column."""


@dataclass(frozen=True, slots=True, eq=False)
class Factorization:
    """R and Q'y of the kept columns, mean-shifted (with a constant) and scaled to unit length, in block order."""

    n: int
    constant: bool
    kept: IntArray
    """Shape (rank,): positions of the kept columns."""
    left_out: tuple[LeftOut, ...]
    r: FloatArray
    """Shape (rank, rank), upper triangular."""
    r_inverse: FloatArray
    qty: FloatArray
    """Shape (rank,)."""
    tail: float
    """Sum of squares of Q'y beyond the last column: the SSE of the last step."""
    lengths: FloatArray
    """Shape (rank,): the kept columns' lengths after the shift."""
    means: FloatArray
    """Shape (rank,): what was subtracted; zeros without a constant."""
    y_mean: float
    total: float
    """Sum of squares of y about its mean (with a constant) or about zero."""

    def size(self, columns: int) -> int:
        """How many kept columns stand among the first `columns`."""
        return int(np.searchsorted(self.kept, columns))

    def sse(self, m: int) -> float:
        """Residual sum of squares with the first m kept columns."""
        return self.tail + float(self.qty[m:] @ self.qty[m:])

    x: FloatArray
    """Shape (n, p): the matrix as it came, for refinement."""
    y: FloatArray

    def coefficients(self, m: int) -> FloatArray:
        """Shape (m + 1,): constant first, then the first m kept columns, in the columns' own units.

        Where columns nearly depend on each other the solution is refined in extended precision.
        """
        scaled = solve_triangular(self.r[:m, :m], self.qty[:m], check_finite=False) if m else np.zeros(0)
        slopes = scaled / self.lengths[:m]
        if m and float(np.linalg.norm(self.r_inverse[:m, :m])) > DELICATE:
            return self._refined(m, slopes)
        level = self.y_mean - float(self.means[:m] @ slopes)
        return np.concatenate([[level], slopes])

    def _refined(self, m: int, slopes: FloatArray) -> FloatArray:
        """Corrected semi-normal equations: residuals and X'r of the matrix as it came, in extended precision."""
        wide = np.longdouble
        x = self.x[:, self.kept[:m]].astype(wide)
        y = self.y.astype(wide)
        if self.constant:
            x_means, y_mean = x.mean(axis=0), y.mean()
        else:
            x_means, y_mean = np.zeros(m, dtype=wide), wide(0)
        shifted, outcome = x - x_means, y - y_mean
        b = slopes.astype(wide)
        r = self.r[:m, :m]
        for _ in range(REFINEMENTS):
            gradient = (shifted.T @ (outcome - shifted @ b) / self.lengths[:m]).astype(np.float64)
            half = solve_triangular(r, gradient, trans="T", check_finite=False)
            b = b + solve_triangular(r, half, check_finite=False) / self.lengths[:m]
        level = y_mean - x_means @ b
        return np.concatenate([[level], b]).astype(np.float64)

    def root(self, m: int) -> FloatArray:
        """Shape (m + 1, m + 1): L with L L' = Cov(b) / s², constant first. From R, never by inverting X'X."""
        slopes = self.r_inverse[:m, :m] / self.lengths[:m, None]
        out = np.zeros((m + 1, m + 1))
        out[1:, 1:] = slopes
        if self.constant:
            out[0, 0] = 1.0 / np.sqrt(self.n)
            out[0, 1:] = -self.means[:m] @ slopes
        return out

    def vif(self, m: int) -> FloatArray:
        """Shape (m,): variance inflation of the first m kept columns, from the unit-length columns."""
        inflation: FloatArray = np.sum(self.r_inverse[:m, :m] ** 2, axis=1)
        return inflation


def centered_columns(x: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Columns minus their means, the means corrected once against rounding."""
    means = x.mean(axis=0)
    shifted = np.subtract(x, means, order="F")
    rest = shifted.mean(axis=0)
    shifted -= rest
    return shifted, means + rest


def factor(
    x: FloatArray, y: FloatArray, constant: bool = True, first_out: frozenset[int] = frozenset()
) -> Factorization:
    """Factor the matrix x (n, p), without its constant column, together with y (n,).

    y is carried as a last column, so that R's last column is Q'y and its corner the length of the tail. Rank is read
    from a pivoted factorization of R, which has the lengths and angles of the columns themselves. Of columns that
    depend on each other one of `first_out` is left out, else the last in block order.
    """
    n, p = x.shape
    if constant:
        shifted, means = centered_columns(x)
        y_shifted, y_means = centered_columns(y[:, None])
        y_mean, outcome = float(y_means[0]), y_shifted[:, 0]
    else:
        shifted, means, y_mean, outcome = np.array(x, order="F"), np.zeros(p), 0.0, y
    lengths = np.sqrt(np.einsum("ij,ij->j", shifted, shifted))
    size = np.sqrt(n) * (np.abs(means) if constant else 0.0)
    flat = lengths <= 8 * np.finfo(float).eps * size + np.finfo(float).tiny
    live = np.flatnonzero(~flat)
    joint = np.empty((n, live.size + 1), order="F")
    np.divide(shifted if live.size == p else shifted[:, live], lengths[live], out=joint[:, :-1])
    joint[:, -1] = outcome
    triangle = _triangle(joint)
    preferred = [i for i, j in enumerate(live) if int(j) in first_out]
    dependent = _dependent(triangle[:, :-1], n, preferred)
    gone = {int(live[j]) for j, _ in dependent}
    out = [LeftOut(int(j), ()) for j in np.flatnonzero(flat)]
    for j, weights in dependent:
        unit = lengths[live[j]]
        out.append(LeftOut(int(live[j]), tuple((int(live[i]), float(w * unit / lengths[live[i]])) for i, w in weights)))
    inside = np.array([i for i, j in enumerate(live) if int(j) not in gone], dtype=np.int64)
    if dependent:
        triangle = _triangle(np.asfortranarray(triangle[:, [*inside, live.size]]))
    kept = live[inside]
    rank = inside.size
    r = triangle[:rank, :rank]
    inverse = solve_triangular(r, np.eye(rank), check_finite=False) if rank else np.zeros((0, 0))
    tail = float(triangle[rank:, rank] @ triangle[rank:, rank])
    return Factorization(
        n, constant, kept, tuple(sorted(out, key=lambda o: o.column)), r, inverse, triangle[:rank, rank], tail,
        lengths[kept], means[kept], y_mean, float(outcome @ outcome), x, y,
    )  # fmt: skip


def _triangle(a: FloatArray) -> FloatArray:
    """The upper triangle R of a = QR; a is overwritten. Fewer rows than columns are padded with zeros."""
    rows, columns = a.shape
    work, _ = lapack.dgeqrf_lwork(rows, columns)
    factored, _, _, _ = lapack.dgeqrf(a, lwork=int(work), overwrite_a=1)
    r: FloatArray = np.triu(factored[:columns])
    if rows < columns:
        r = np.vstack([r, np.zeros((columns - rows, columns))])
    return r


def _dependent(r: FloatArray, n: int, preferred: list[int]) -> list[tuple[int, list[tuple[int, float]]]]:
    """Columns of R that are sums of others: for each null vector a preferred column or its last, and the rest's weights."""
    p = r.shape[1]
    if p == 0:
        return []
    pivoted, order = qr(r, mode="r", pivoting=True, check_finite=False)
    diagonal = np.abs(np.diag(pivoted))
    limit = RANK_TOLERANCE * np.finfo(float).eps * np.sqrt(max(n, p)) * diagonal[0]
    rank = int(np.sum(diagonal > limit))
    if rank == p:
        return []
    null = np.zeros((p - rank, p))
    null[:, order[:rank]] = -solve_triangular(pivoted[:rank, :rank], pivoted[:rank, rank:], check_finite=False).T
    null[np.arange(p - rank), order[rank:]] = 1.0
    found: list[tuple[int, list[tuple[int, float]]]] = []
    for row, last in _echelon_from_the_end(null, preferred):
        found.append((last, [(i, float(-row[i])) for i in range(p) if i != last and abs(row[i]) > 1e-9]))
    return found


def _echelon_from_the_end(null: FloatArray, preferred: list[int]) -> list[tuple[FloatArray, int]]:
    """Reduce the null vectors so that each has a last column of its own, with weight 1, that no other holds."""
    rows = null / np.abs(null).max(axis=1, keepdims=True)
    done = 0
    lasts: list[int] = []
    rest = [j for j in range(rows.shape[1]) if j not in preferred]
    for column in [*preferred[::-1], *rest[::-1]]:
        if done == rows.shape[0]:
            break
        best = done + int(np.argmax(np.abs(rows[done:, column])))
        if abs(rows[best, column]) < 1e-7:
            rows[done:, column] = 0.0
            continue
        rows[[done, best]] = rows[[best, done]]
        rows[done] /= rows[done, column]
        for other in range(rows.shape[0]):
            if other != done:
                rows[other] -= rows[other, column] * rows[done]
        lasts.append(column)
        done += 1
    return [(rows[i], last) for i, last in enumerate(lasts)]
