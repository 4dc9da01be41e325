"""Least squares by one orthogonal factorization of the last step's matrix, made piece by piece of its rows."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from typing import Protocol

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.solve.scipylater import linalg
from yellow_slope.values import dataclass

EPS = float(np.finfo(float).eps)
RANK_TOLERANCE = 64.0
ROUNDINGS = 4.0
"""How many roundings of the entries a column may differ from a sum of others and still be that sum."""
DELICATE = 300.0
"""Norm of R's inverse, its columns being of unit length, above which coefficients are refined."""
REFINEMENTS = 4
PIECE = 16384
"""Rows that are factored at once."""
LITTLE = 1e-6
"""Share of y's sum of squares beyond which residuals are no rounding, whatever columns lose of theirs."""
NARROW, WIDE, MANY_COLUMNS = 16, 48, 100
"""Columns of a panel of a factorization, of fewer and of more columns in all."""
MOST_WORK = 1 << 22
"""Numbers of a workspace that is kept from one factorization to the next."""
PERFECT = 32.0
"""Roundings per case below which residuals are noise of the arithmetic."""

Room = Callable[[int], FloatArray]
"""Gives an array (rows, p), columns one after the other, that a piece of so many rows may be written into."""


class Pieces(Protocol):
    """Gives the rows again and again: matrix (rows, p) and outcome (rows,), a piece at a time."""

    def __call__(self, room: Room | None = None) -> Iterator[tuple[FloatArray, FloatArray]]:
        """With `room` each matrix stands in what it gives, and whoever asked may write over it."""


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
    """Mean of y."""
    total: float
    """Sum of squares of y about its mean (with a constant) or about zero."""
    total_about_mean: float
    nulls: FloatArray
    """Shape (nulls, p): null vectors of the shifted matrix, reduced so that each has a last column of its own."""
    lasts: IntArray
    """Shape (nulls,): the last column of each."""
    all_means: FloatArray
    """Shape (p,): the shift of every column; 0 where it is no more than rounding."""
    all_lengths: FloatArray
    """Shape (p,): the length of every column after the shift; √n of one that is the same for all cases."""
    roundings: FloatArray
    """Shape (rank,): rounding of an entry of each kept column."""
    y_rounding: float
    ones: FloatArray
    """Shape (rank + 1,): without a constant, Q' of the vector of ones and the length of its rest; else empty."""
    pieces: Pieces

    def size(self, columns: int) -> int:
        """How many kept columns stand among the first `columns`."""
        return int(np.searchsorted(self.kept, columns))

    def sse(self, m: int) -> float:
        """Residual sum of squares with the first m kept columns."""
        return self.tail + float(self.qty[m:] @ self.qty[m:])

    def holds_constant(self, m: int) -> bool:
        """Whether the constant lies in the space of the first m kept columns (or stands in the model)."""
        if self.constant:
            return True
        rest = self.ones[m:]
        return float(rest @ rest) <= self.n * 1e-18

    def makes_constant(self, m: int) -> BoolArray:
        """Shape (m,): which of the first m kept columns the constant is a sum of; none where it stands in the
        model."""
        if self.constant or not m or not self.holds_constant(m):
            return np.zeros(m, dtype=bool)
        weights = self.constant_weights(m)
        return np.asarray(np.abs(weights) > 1e-9 * np.abs(weights).max())

    def constant_weights(self, m: int) -> FloatArray:
        """Shape (m,): the sum of the first m kept columns, of unit length, that comes closest to the constant."""
        return np.asarray(linalg.solve_triangular(self.r[:m, :m], self.ones[:m], check_finite=False))

    def noise(self, m: int, slopes: FloatArray) -> float:
        """How far a residual of the first m kept columns may be rounded."""
        size = np.abs(slopes)
        reach = float(size @ (self.lengths[:m] / np.sqrt(self.n)))
        return self.y_rounding + EPS * reach + float(size @ self.roundings[:m])

    def is_perfect(self, m: int, slopes: FloatArray) -> bool:
        """Whether the residuals of the first m kept columns are nothing but rounding, and little of y at all."""
        sse = self.sse(m)
        return sse <= min(self.n * (PERFECT * self.noise(m, slopes)) ** 2, LITTLE * self.total)

    def coefficients(self, m: int) -> FloatArray:
        """Shape (m + 1,): constant first, then the first m kept columns, in the columns' own units.

        Where columns nearly depend on each other the solution is refined in extended precision.
        """
        scaled = linalg.solve_triangular(self.r[:m, :m], self.qty[:m], check_finite=False) if m else np.zeros(0)
        slopes = scaled / self.lengths[:m]
        if m and float(np.linalg.norm(self.r_inverse[:m, :m])) > DELICATE:
            return self._refined(m, slopes)
        level = self.y_mean - float(self.means[:m] @ slopes) if self.constant else 0.0
        return np.concatenate([[level], slopes])

    def _refined(self, m: int, slopes: FloatArray) -> FloatArray:
        """Corrected semi-normal equations: residuals and X'r of the matrix as it came, in extended precision."""
        wide = np.longdouble
        here = self.kept[:m]
        x_means, y_mean = np.zeros(m, dtype=wide), wide(0)
        if self.constant:
            for x, y in self.pieces():
                x_means += x[:, here].astype(wide).sum(axis=0)
                y_mean += y.astype(wide).sum()
            x_means, y_mean = x_means / self.n, y_mean / self.n
        b = slopes.astype(wide)
        r = self.r[:m, :m]
        for _ in range(REFINEMENTS):
            gradient = np.zeros(m, dtype=wide)
            for x, y in self.pieces():
                shifted = x[:, here].astype(wide) - x_means
                gradient += shifted.T @ (y.astype(wide) - y_mean - shifted @ b)
            rest = (gradient / self.lengths[:m]).astype(np.float64)
            half = linalg.solve_triangular(r, rest, trans="T", check_finite=False)
            b = b + linalg.solve_triangular(r, half, check_finite=False) / self.lengths[:m]
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

    def orthonormal(self, m: int) -> Iterator[tuple[FloatArray, FloatArray, FloatArray]]:
        """By pieces: Q of the first m kept columns with the constant's column first (rows, m + 1), matrix, outcome."""
        here = self.kept[:m]
        for x, y in self.pieces():
            unit = (x[:, here] - self.means[:m]) / self.lengths[:m]
            q = unit @ self.r_inverse[:m, :m]
            first = np.full((q.shape[0], 1), 1.0 / np.sqrt(self.n) if self.constant else 0.0)
            yield np.hstack([first, q]), x, y


def centered_columns(x: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Columns minus their means, the means corrected once against rounding."""
    means = x.mean(axis=0)
    shifted = np.subtract(x, means, order="F")
    rest = shifted.mean(axis=0)
    shifted -= rest
    return shifted, means + rest


def factor(
    x: FloatArray,
    y: FloatArray,
    constant: bool = True,
    first_out: frozenset[int] = frozenset(),
    roundings: FloatArray | None = None,
) -> Factorization:
    """Factor the matrix x (n, p), without its constant column, together with y (n,)."""
    n, p = x.shape
    if roundings is None:
        roundings = EPS * np.abs(x).max(axis=0) if n else np.zeros(p)

    def pieces(room: Room | None = None) -> Iterator[tuple[FloatArray, FloatArray]]:
        for start in range(0, n, PIECE):
            here = x[start : start + PIECE]
            if room is not None:
                out = room(here.shape[0])
                out[:] = here
                here = out
            yield here, y[start : start + PIECE]

    return factor_pieces(n, p, pieces, constant, first_out, roundings)


def factor_pieces(
    n: int, p: int, pieces: Pieces, constant: bool, first_out: frozenset[int], roundings: FloatArray
) -> Factorization:
    """Factor n rows of p columns that come in pieces.

    y is carried as a last column, so that R's last column is Q'y and its corner the length of the tail. Rank is read
    from a pivoted factorization of R, which has the lengths and angles of the columns themselves. Of columns that
    depend on each other one of `first_out` is left out, else the last in block order. `roundings` (p,): how far an
    entry of each column may be rounded.
    """
    triangle, means, y_mean, y_reach, centered = _gathered(n, p, pieces, constant)
    xs = triangle[:, :p]
    y_column, ones_column = triangle[:, -1], triangle[:, p]
    lengths = np.sqrt(np.einsum("ij,ij->j", xs, xs))
    noise = roundings * np.sqrt(n)
    flat = lengths <= 2 * ROUNDINGS * noise + np.finfo(float).tiny
    live = np.flatnonzero(~flat)
    unit = xs[:, live] / lengths[live]
    preferred = [i for i, j in enumerate(live) if int(j) in first_out]
    null = _null_space(unit, n, noise[live] / lengths[live])
    dependent = _echelon_from_the_end(null, preferred)
    canonical = _echelon_from_the_end(null, []) if preferred else dependent
    gone = {int(live[j]) for _, j in dependent}
    out = [LeftOut(int(j), ()) for j in np.flatnonzero(flat)]
    for row, last in dependent:
        scale = lengths[live[last]]
        on = [(int(live[i]), float(-row[i] * scale / lengths[live[i]])) for i in np.flatnonzero(row) if i != last]
        out.append(LeftOut(int(live[last]), tuple(on)))
    nulls, lasts = _nulls_of(p, live, flat, lengths, canonical)
    inside = np.array([i for i, j in enumerate(live) if int(j) not in gone], dtype=np.int64)
    kept = live[inside]
    rank = inside.size
    final = np.column_stack([unit[:, inside], ones_column, y_column])
    if rank < p:  # with all columns it is a triangle as it is
        final = triangle_of(np.asfortranarray(final))
    r = final[:rank, :rank]
    inverse = linalg.solve_triangular(r, np.eye(rank), check_finite=False) if rank else np.zeros((0, 0))
    qty = final[:rank, rank + 1]
    tail = float(final[rank:, rank + 1] @ final[rank:, rank + 1])
    total = float(y_column @ y_column)
    ones = np.concatenate([final[:rank, rank], [np.linalg.norm(final[rank:, rank])]]) if not constant else np.zeros(0)
    return Factorization(
        n,
        constant,
        kept,
        tuple(sorted(out, key=lambda o: o.column)),
        r,
        inverse,
        qty,
        tail,
        lengths[kept],
        means[kept],
        y_mean,
        total,
        total if constant else centered,
        nulls,
        lasts,
        np.where(np.abs(means) <= 2 * ROUNDINGS * roundings, 0.0, means),
        np.where(flat, np.sqrt(n), lengths),
        roundings[kept],
        EPS * y_reach,
        ones,
        pieces,
    )


def _gathered(n: int, p: int, pieces: Pieces, constant: bool) -> tuple[FloatArray, FloatArray, float, float, float]:
    """R of [X | 1 | y] (with a constant: of [X | 0 | y] about the means), the means of X, that of y, largest |y|.

    Last, without a constant, the sum of squares of y about its mean.
    """
    first: tuple[FloatArray, float] | None = None
    gathered: FloatArray | None = None
    reach = total = squares = middle_y = 0.0
    # Over several pieces a column of ones finds the means; it stands first and is taken off at the end.
    ones = int(constant and n > PIECE)
    width = ones + p + 2
    held = _workspace(min(n, PIECE) * width)
    joint = np.empty((0, width))

    def room(rows: int) -> FloatArray:
        nonlocal joint
        joint = held[: rows * width].reshape((rows, width), order="F")
        return joint[:, ones : ones + p]

    for x, y in pieces(room):
        reach = max(reach, float(np.abs(y).max()))
        if gathered is None:
            middle_y = float(y.mean())
        total += float((y - middle_y).sum())
        squares += float(((y - middle_y) ** 2).sum())
        rows = x.shape[0]
        joint[:, :ones] = 1.0
        body = joint[:, ones:]
        if constant:
            if first is None:
                first = (x.mean(axis=0), float(centered_columns(y[:, None])[1][0]))
            for j in range(p):  # a column at a time stays in the processor's cache
                here = body[:, j]
                here -= first[0][j]
                if not ones:
                    rest = float(np.add.reduce(here)) / rows
                    here -= rest
                    first[0][j] += rest
            body[:, p] = 0.0
            np.subtract(y, first[1], out=body[:, p + 1])
        else:
            body[:, p] = 1.0
            body[:, p + 1] = y
        piece = triangle_of(joint)
        gathered = piece if gathered is None else triangle_of(np.asfortranarray(np.vstack([gathered, piece])))
    assert gathered is not None
    if not constant:
        return gathered, np.zeros(p), middle_y + total / n, reach, max(0.0, squares - total**2 / n)
    assert first is not None
    if not ones:
        return gathered, first[0], first[1], reach, 0.0
    shift = gathered[0] / gathered[0, 0]
    return gathered[1:, 1:], first[0] + shift[1 : p + 1], first[1] + float(shift[p + 2]), reach, 0.0


_thread = threading.local()


def _workspace(size: int) -> FloatArray:
    """Shape (size,) or longer, of the thread: numbers that nobody needs any more may stand in it. A large one is made
    anew, a usual one is kept, for memory that the system hands out anew at each edit costs as much as its use."""
    if size > MOST_WORK:
        return np.empty(size)
    held: FloatArray | None = getattr(_thread, "held", None)
    if held is None or held.size < size:
        held = _thread.held = np.empty(size)
    return held


def _nulls_of(
    p: int, live: IntArray, flat: np.ndarray, lengths: FloatArray, canonical: list[tuple[FloatArray, int]]
) -> tuple[FloatArray, IntArray]:
    """Null vectors over all columns, in the columns' own units, those of flat columns first."""
    rows: list[FloatArray] = []
    lasts: list[int] = []
    for j in np.flatnonzero(flat):
        row = np.zeros(p)
        row[j] = 1.0
        rows.append(row)
        lasts.append(int(j))
    for weights, last in canonical:
        row = np.zeros(p)
        row[live] = weights * lengths[live[last]] / lengths[live]
        rows.append(row)
        lasts.append(int(live[last]))
    return (np.array(rows) if rows else np.zeros((0, p))), np.array(lasts, dtype=np.int64)


def triangle_of(a: FloatArray) -> FloatArray:
    """The upper triangle R of a = QR; a is overwritten. Fewer rows than columns are padded with zeros.

    Reflectors are gathered within panels as well (Elmroth & Gustavson, 2000), which takes half the time of a
    factorization that works column by column there.
    """
    rows, columns = a.shape
    if not a.size:
        return np.zeros((columns, columns))
    panel = min(NARROW if columns < MANY_COLUMNS else WIDE, rows, columns)
    factored, _, _ = linalg.lapack.dgeqrt(panel, a, overwrite_a=1)
    r: FloatArray = np.triu(factored[:columns])
    if rows < columns:
        r = np.vstack([r, np.zeros((columns - rows, columns))])
    return r


def _null_space(r: FloatArray, n: int, noise: FloatArray) -> FloatArray:
    """Shape (nulls, p): null vectors of columns of unit length. noise (p,): length of each column's own rounding."""
    p = r.shape[1]
    inside = list(range(p))
    outside: list[int] = []
    while inside:
        pivoted, order = linalg.qr(r[:, inside], mode="r", pivoting=True, check_finite=False)
        diagonal = np.abs(np.diag(pivoted))
        base = RANK_TOLERANCE * EPS * np.sqrt(max(n, p)) * diagonal[0]
        start = int(np.searchsorted(-diagonal, -1e-4))
        bad: list[int] = []
        for i in range(start, diagonal.size):
            good = bad[0] if bad else i
            if diagonal[i] <= base or diagonal[i] <= base + _rounding(pivoted, order, i, good, noise[inside]):
                bad.append(i)
        outside += [inside[int(order[i])] for i in bad]
        gone = {int(order[i]) for i in bad}
        rest = [j for i, j in enumerate(inside) if i not in gone]
        done = bad == list(range(diagonal.size - len(bad), diagonal.size))
        inside = rest
        if done:
            break
    if not outside:
        return np.zeros((0, p))
    q, triangle = linalg.qr(r[:, inside], mode="economic", check_finite=False)
    weights = linalg.solve_triangular(triangle, q.T @ r[:, outside], check_finite=False)
    # A weight is only as sure as the columns it is made from, and that much less as they resemble each other.
    reach = np.sqrt(np.sum(linalg.solve_triangular(triangle, np.eye(len(inside)), check_finite=False) ** 2, axis=1))
    unsure = 16 * np.outer(noise[outside] + np.abs(weights).T @ noise[inside], reach)
    null = np.zeros((len(outside), p))
    null[:, inside] = np.where(np.abs(weights.T) > np.maximum(1e-9, unsure), -weights.T, 0.0)
    null[np.arange(len(outside)), outside] = 1.0
    return null


def _rounding(pivoted: FloatArray, order: IntArray, i: int, good: int, noise: FloatArray) -> float:
    """How long the rest of the i-th pivoted column may be by rounding alone, if it is a sum of the first `good`
    ones."""
    weights = (
        np.abs(linalg.solve_triangular(pivoted[:good, :good], pivoted[:good, i], check_finite=False))
        if good
        else np.zeros(0)
    )
    return float(ROUNDINGS * (noise[order[i]] + weights @ noise[order[:good]]))


def _echelon_from_the_end(null: FloatArray, preferred: list[int]) -> list[tuple[FloatArray, int]]:
    """Reduce the null vectors so that each has a last column of its own, with weight 1, that no other holds."""
    if not null.size:
        return []
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
        # Nothing but zeros is left of the pivot row where columns were gone through before.
        ahead = slice(None) if preferred else slice(0, column + 1)
        for others in (rows[:done], rows[done + 1 :]):
            others[:, ahead] -= np.outer(others[:, column], rows[done, ahead])
        lasts.append(column)
        done += 1
    for row in rows:
        row[np.abs(row) < 1e-9] = 0.0
    return [(rows[i], last) for i, last in enumerate(lasts)]
