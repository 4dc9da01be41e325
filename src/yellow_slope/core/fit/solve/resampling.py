"""Resampling: every step of a model fitted to cases (or clusters) drawn with replacement, by batches of small matrices.

Each batch counts how often every case was drawn and multiplies the counts with the cases' cross-products in an
orthonormal basis of the last step: that gives all its cross-product matrices at once. One factorization of each, in
block order, holds every step. Zero points, scales and codes stay those of the sample.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.solve.draws import Draws, Spread, spread_of
from yellow_slope.core.fit.solve.factor import Factorization
from yellow_slope.core.fit.solve.robust import FULL_LEVERAGE
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.standarderrors import Bootstrap, IntervalWay
from yellow_slope.values import dataclass, field

MOST_RANK = 200
"""With more coefficients the cross-products of a case no longer fit."""
NEARLY = 1e-9
"""Where the sample's orthonormal columns, or a sum of them of length 1, are shorter (squared) in a resample than this,
something cannot be estimated there."""
SUSPECT = 1e-4
"""A column whose rest behind the others is as short (squared) makes one look at all sums of columns: rounding alone
may have left it."""
MOST_REDRAWN = 4
"""Draws that may be lost for each resample that is kept; where more are, resampling is given up."""
FIRST_LOST = 200
"""So many may be lost in any case: fewer do not tell how many there will be."""
PILOT = 32
"""Resamples from which it is told beforehand how many will be lost."""
ENTRIES = 1 << 20
"""Counts held at once."""
PRODUCTS = 1 << 21
"""Cross-products of resamples held at once."""
WIDE = 72
"""From this many columns on one factorization at a time is faster than all of a batch column by column."""
DRAWN = 1 << 14
"""Cases drawn at once: small enough to stay in the processor's cache."""
QUICK = 0.12
"""Seconds for which nobody is asked to wait."""

GoOn = Callable[[float], None]
"""Told the share that is done; may raise to end the work."""


def no_one_waits(_share: float) -> None:
    """Go on in any case."""


@dataclass(frozen=True, slots=True, eq=False)
class Fits:
    """R² and its change in every resample and without each unit, by step."""

    r2: FloatArray
    """Shape (steps, draws)."""
    left_r2: FloatArray | None
    """Shape (steps, units): R² without a unit."""


@dataclass(frozen=True, slots=True, eq=False)
class Resampled:
    """What a bootstrap gave."""

    errors: Bootstrap
    steps: tuple[Draws, ...]
    fits: Fits
    redrawn: int
    """Resamples in which a column could not be estimated; others were drawn in their place."""
    unit_missing: bool
    """Whether a case (or cluster) cannot be left out, so that intervals are percentiles."""

    def r2(self, step: int, estimate: float, level: float) -> Spread:
        """What the draws say of R² of a step."""
        return self._of(
            self.fits.r2[step], None if self.fits.left_r2 is None else self.fits.left_r2[step], estimate, level
        )

    def change(self, step: int, estimate: float, level: float) -> Spread:
        """What the draws say of the change in R²."""
        if step == 0:
            return self.r2(0, estimate, level)
        left = self.fits.left_r2
        return self._of(
            self.fits.r2[step] - self.fits.r2[step - 1],
            None if left is None else left[step] - left[step - 1],
            estimate,
            level,
        )

    def _of(self, values: FloatArray, left: FloatArray | None, estimate: float, level: float) -> Spread:
        use = left[None, :] - estimate if left is not None and self.errors.way is IntervalWay.BCA else None
        return spread_of(np.sort(values)[None, :], np.array([estimate]), use, level)


def seconds_of(factored: Factorization, errors: Bootstrap, clusters: IntArray | None = None) -> float:
    """About how long the bootstrap takes: drawing a case, adding its cross-products, and factoring them, once for each
    resample that is kept or lost. Where that matters a few are drawn to see how many are lost."""
    m = factored.kept.size + 2
    seconds = float(errors.draws * (factored.n * (1.2e-8 + 8e-11 * m * m) + 1e-9 * m**2.5))
    if factored.kept.size > MOST_RANK or not QUICK / (1 + MOST_REDRAWN) < seconds <= QUICK:
        return seconds
    kept = _Resampling(
        factored, (int(factored.kept.max(initial=-1)) + 1,), True, errors, clusters, no_one_waits
    ).kept_of(PILOT)
    return seconds / max(kept, 1.0 / (1 + MOST_REDRAWN))


def resampled(
    factored: Factorization,
    ends: tuple[int, ...],
    about_mean: bool,
    errors: Bootstrap,
    clusters: IntArray | None = None,
    go_on: GoOn = no_one_waits,
) -> Resampled | Why:
    """Draw, or say why it cannot be done. ends: columns of each step; clusters (n,): positions of cluster ids."""
    if factored.kept.size > MOST_RANK:
        return Why.TOO_WIDE
    return _Resampling(factored, ends, about_mean, errors, clusters, go_on).run()


@dataclass(slots=True, eq=False)
class _Resampling:
    factored: Factorization
    ends: tuple[int, ...]
    about_mean: bool
    errors: Bootstrap
    clusters: IntArray | None
    go_on: GoOn
    first: int = 0
    """Columns that stand before the kept ones: 1 with a constant."""
    width: int = 0
    """Columns of the basis and the outcome behind them."""
    sizes: tuple[int, ...] = ()
    """Columns of the basis in each step."""
    pairs: tuple[IntArray, IntArray] = field(default_factory=lambda: (np.zeros(0, np.int64), np.zeros(0, np.int64)))
    held: FloatArray | None = None
    """Cross-products of all cases, where they fit."""
    counts: FloatArray = field(default_factory=lambda: np.zeros((0, 0)))
    """Shape (batch, units): how often each unit was drawn; used again for every batch, as the next two are."""
    sums: FloatArray = field(default_factory=lambda: np.zeros((0, 0)))
    crossed: FloatArray = field(default_factory=lambda: np.zeros((0, 0, 0)))

    def __post_init__(self) -> None:
        self.first = int(self.factored.constant)
        self.sizes = tuple(self.factored.size(end) + self.first for end in self.ends)
        # Behind the basis the outcome; without a constant the case itself as well, for the outcome's mean.
        self.width = self.sizes[-1] + 1 + (1 - self.first)
        self.pairs = tuple(np.triu_indices(self.width))  # type: ignore[assignment]

    # ---- the cases

    def _rows(self) -> Iterator[FloatArray]:
        """By pieces: basis, outcome and, without a constant, ones."""
        factored = self.factored
        shift = factored.y_mean if factored.constant else 0.0
        for q, _, y in factored.orthonormal(factored.kept.size):
            basis = q if self.first else q[:, 1:]
            parts = [basis, (y - shift)[:, None]]
            if not self.first:
                parts.append(np.ones((y.size, 1)))
            yield np.hstack(parts)

    def _products(self) -> Iterator[tuple[int, FloatArray]]:
        """By pieces: where it begins, and the cross-products of its units (units, pairs)."""
        if self.held is not None:
            yield 0, self.held
            return
        step = max(1, 4 * ENTRIES // self.pairs[0].size)
        start = 0
        for rows in self._rows():
            for low in range(0, rows.shape[0], step):
                part = rows[low : low + step]
                yield start + low, part[:, self.pairs[0]] * part[:, self.pairs[1]]
            start += rows.shape[0]

    def _units(self) -> int:
        return self.factored.n if self.clusters is None else int(self.clusters.max()) + 1

    def _hold(self) -> None:
        """Keep the cross-products where they fit; of clusters always, summed."""
        if self.clusters is not None:
            summed = np.zeros((self._units(), self.pairs[0].size))
            for start, part in self._products():
                np.add.at(summed, self.clusters[start : start + part.shape[0]], part)
            self.held = summed
        elif self.factored.n * self.pairs[0].size <= 8 * ENTRIES:
            self.held = np.concatenate([part for _, part in self._products()])

    # ---- drawing

    def kept_of(self, few: int) -> float:
        """The share of a few resamples in which every column can be estimated."""
        self._hold()
        self._make_room(few)
        crossed = self._crossed(np.random.default_rng(self.errors.seed), few, self._units())
        return float(np.mean(self._factor(crossed)))

    def _make_room(self, batch: int) -> None:
        self.counts = np.empty((batch, self._units()))
        self.sums = np.empty((self.pairs[0].size, batch))
        self.crossed = np.zeros((self.width, self.width, batch))

    def run(self) -> Resampled | Why:
        self._hold()
        factored, wanted = self.factored, self.errors.draws
        rng = np.random.default_rng(self.errors.seed)
        units = self._units()
        batch = max(16, min(wanted, ENTRIES // units, PRODUCTS // self.width**2))
        self._make_room(batch)
        solutions = [np.zeros((wanted, end + 1)) for end in self.ends]
        r2 = np.zeros((len(self.ends), wanted))
        rows = [np.concatenate([[0], factored.kept[: s - self.first] + 1]) for s in self.sizes]
        done = redrawn = 0
        while done < wanted:
            self.go_on(done / wanted)
            n = min(batch, wanted - done)
            crossed = self._crossed(rng, n, units)
            total = self._total(crossed)
            good = self._factor(crossed) & (total > 0)
            redrawn += n - int(good.sum())
            if redrawn > FIRST_LOST + MOST_REDRAWN * (done + int(good.sum())):
                return Why.SINGULAR
            if not good.all():
                crossed, total = crossed[:, :, good], total[good]
                n = total.size
            here = slice(done, done + n)
            for s, size in enumerate(self.sizes):
                solutions[s][here][:, rows[s]] = self._in_columns(self._solved(crossed, size), size)
            r2[:, here] = self._r2(crossed, total)
            done += n
        left, left_r2 = self._without_units() if self.errors.way is IntervalWay.BCA else (None, None)
        steps = tuple(
            Draws(
                self.errors.way,
                solutions[s],
                None if left is None else self._placed(left[s], self.ends[s], rows[s], size),
            )
            for s, size in enumerate(self.sizes)
        )
        missing = self.errors.way is IntervalWay.BCA and left is None
        return Resampled(self.errors, steps, Fits(r2, left_r2), redrawn, missing)

    def _crossed(self, rng: np.random.Generator, n: int, units: int) -> FloatArray:
        """Shape (width, width, n): cross-products of n resamples in the upper triangle; what is below means nothing."""
        counts, sums, out = self.counts[:n], self.sums[:, :n], self.crossed[:, :, :n]
        size = max(1, DRAWN // units)
        begins = np.arange(size)[:, None] * units
        for low in range(0, n, size):
            k = min(size, n - low)
            drawn = rng.integers(0, units, size=(k, units), dtype=np.int64)
            drawn += begins[:k]
            counts[low : low + k] = np.bincount(drawn.ravel(), minlength=k * units).reshape(k, units)
        for start, part in self._products():
            here = counts[:, start : start + part.shape[0]].T
            if start == 0:
                np.matmul(part.T, here, out=sums)
            else:
                sums += part.T @ here
        out[self.pairs] = sums
        return out

    def _factor(self, crossed: FloatArray) -> np.ndarray:
        """Replace the basis' part by its triangle R and the outcome's by Q'y, in place; which resamples can be used
        (n,).

        The outcome's own corner becomes its rest: the SSE of the last step.
        """
        m = self.sizes[-1]
        if m >= WIDE and (found := self._factor_wide(crossed)) is not None:
            return found
        good = np.ones(crossed.shape[2], dtype=bool)
        for i in range(m):
            pivot = crossed[i, i]
            bad = ~(pivot > NEARLY)
            good &= ~bad
            pivot[bad] = 1.0
            row = crossed[i, i : m + 1]
            row /= np.sqrt(pivot)
            for j in range(i + 1, m + 1):
                crossed[j, j : m + 1] -= row[j - i] * row[j - i :]
        return self._sure(crossed, good)

    def _sure(self, crossed: FloatArray, good: np.ndarray) -> np.ndarray:
        """Which of the good resamples of triangles (width, width, n) stay so where all sums of columns are looked
        at."""
        m = self.sizes[-1]
        rests = crossed[np.arange(m), np.arange(m)] ** 2
        doubted = np.flatnonzero(good & (rests.min(axis=0, initial=1.0) < SUSPECT))
        if doubted.size:
            triangles = np.triu(crossed[:m, :m, doubted].transpose(2, 0, 1))
            good[doubted] = np.linalg.svd(triangles, compute_uv=False)[:, -1] ** 2 > NEARLY
        return good

    def _factor_wide(self, crossed: FloatArray) -> np.ndarray | None:
        """The same by the library's factorization; None where one of the resamples has none, or fits perfectly."""
        m = self.sizes[-1]
        try:
            lower = np.linalg.cholesky(np.ascontiguousarray(crossed[: m + 1, : m + 1].transpose(2, 1, 0)))
        except np.linalg.LinAlgError:
            return None
        crossed[: m + 1, : m + 1] = lower.transpose(2, 1, 0)
        crossed[m, m] **= 2
        return self._sure(crossed, np.all(np.einsum("nii->ni", lower)[:, :m] ** 2 > NEARLY, axis=1))

    def _total(self, crossed: FloatArray) -> FloatArray:
        """Shape (n,): the outcome's sum of squares, about the resample's mean where R² is about the mean."""
        m = self.sizes[-1]
        squares: FloatArray = crossed[m, m].copy()
        if not self.about_mean:
            return squares
        if self.first:
            squares -= crossed[0, m] ** 2 / np.maximum(crossed[0, 0], NEARLY)
        else:
            squares -= crossed[m, m + 1] ** 2 / crossed[m + 1, m + 1]
        return squares

    def _r2(self, crossed: FloatArray, total: FloatArray) -> FloatArray:
        """Shape (steps, n): R² of every step, of factored cross-products."""
        m = self.sizes[-1]
        rest = crossed[m, m]
        out = []
        for size in self.sizes:
            sse = rest + np.einsum("ij,ij->j", crossed[size:m, m], crossed[size:m, m])
            out.append(1.0 - sse / total)
        return np.array(out)

    def _solved(self, crossed: FloatArray, size: int) -> FloatArray:
        """Shape (size, n): the first `size` columns' solution in the orthonormal basis, by back substitution."""
        m = self.sizes[-1]
        out = crossed[:size, m].copy()
        for i in range(size - 1, -1, -1):
            out[i] /= crossed[i, i]
            out[:i] -= crossed[:i, i] * out[i]
        return out

    def _in_columns(self, solved: FloatArray, size: int) -> FloatArray:
        """Shape (n, 1 + kept): from the orthonormal basis to the columns' own units, the constant first."""
        factored, k = self.factored, size - self.first
        slopes = ((factored.r_inverse[:k, :k] / factored.lengths[:k, None]) @ solved[self.first :]).T
        if not self.first:
            return np.hstack([np.zeros((slopes.shape[0], 1)), slopes])
        level = factored.y_mean + solved[0] / np.sqrt(factored.n) - slopes @ factored.means[:k]
        return np.hstack([level[:, None], slopes])

    # ---- leaving units out

    def _without_units(self) -> tuple[list[FloatArray] | None, FloatArray | None]:
        """By step (units, size): the change of the solution in the basis without a unit; and R² (steps, units)."""
        return self._without_cases() if self.clusters is None else self._without_clusters()

    def _without_cases(self) -> tuple[list[FloatArray] | None, FloatArray | None]:
        rows = np.concatenate(list(self._rows()))
        m = self.sizes[-1]
        y = rows[:, m]
        n = y.size
        changes, r2 = [], []
        for size in self.sizes:
            self.go_on(1.0)
            q = rows[:, :size]
            gamma = q.T @ y
            residual = y - q @ gamma
            room = 1.0 - np.einsum("ij,ij->i", q, q)
            if np.any(room < FULL_LEVERAGE):
                return None, None
            changes.append(-q * (residual / room)[:, None])
            sse = float(residual @ residual) - residual**2 / room
            total = y @ y - y**2
            if self.about_mean:
                total = total - (y.sum() - y) ** 2 / (n - 1)
            r2.append(1.0 - sse / total)
        return changes, np.array(r2)

    def _without_clusters(self) -> tuple[list[FloatArray] | None, FloatArray | None]:
        """By parts of the clusters, so that it can be given up between them."""
        assert self.held is not None
        whole = np.zeros((self.width, self.width))
        whole[self.pairs] = self.held.sum(axis=0)
        whole = np.triu(whole) + np.triu(whole, 1).T
        changes: list[list[FloatArray]] = [[] for _ in self.sizes]
        r2: list[FloatArray] = []
        step = max(1, ENTRIES // (8 * self.width**2))
        for low in range(0, self.held.shape[0], step):
            self.go_on(1.0)
            part = self.held[low : low + step]
            own = np.zeros((part.shape[0], self.width, self.width))
            own[:, self.pairs[0], self.pairs[1]] = part
            own[:, self.pairs[1], self.pairs[0]] = part
            left = [self._without(own, whole, size) for size in self.sizes]
            if any(one is None for one in left):
                return None, None
            found = [one for one in left if one is not None]
            for s, (change, _) in enumerate(found):
                changes[s].append(change)
            r2.append(np.array([fit for _, fit in found]))
        return [np.concatenate(parts) for parts in changes], np.concatenate(r2, axis=1)

    def _without(self, own: FloatArray, whole: FloatArray, size: int) -> tuple[FloatArray, FloatArray] | None:
        """(units, size), (units,): how a step's solution changes without each of some clusters, and its R² then; None
        where a step cannot be fitted without one."""
        m = self.sizes[-1]
        ones = np.sqrt(self.factored.n) if self.first else 1.0  # the constant's column is 1/√n
        at = 0 if self.first else m + 1
        gamma = np.linalg.solve(whole[:size, :size], whole[:size, m])
        left = whole[:size, :size] - own[:, :size, :size]
        if np.any(np.linalg.eigvalsh(left)[:, 0] < NEARLY):
            return None
        score = own[:, :size, m] - own[:, :size, :size] @ gamma
        change = -np.linalg.solve(left, score[:, :, None])[:, :, 0]
        now = gamma + change
        rest = whole[m, m] - own[:, m, m] - np.einsum("ij,ij->i", now, whole[:size, m] - own[:, :size, m])
        total = whole[m, m] - own[:, m, m]
        if self.about_mean:
            sums = ones * (whole[at, m] - own[:, at, m])
            counts = ones**2 * (whole[at, at] - own[:, at, at])
            total = total - sums**2 / counts
        return np.asarray(change), np.asarray(1.0 - rest / total)

    def _placed(self, left: FloatArray, end: int, rows: IntArray, size: int) -> FloatArray:
        """Shape (units, 1 + columns): changes in the basis as changes of b."""
        factored, k = self.factored, size - self.first
        out = np.zeros((left.shape[0], end + 1))
        slopes = left[:, self.first :] @ (factored.r_inverse[:k, :k] / factored.lengths[:k, None]).T
        out[:, rows[1:]] = slopes
        if self.first:
            out[:, 0] = left[:, 0] / np.sqrt(factored.n) - slopes @ factored.means[:k]
        return out
