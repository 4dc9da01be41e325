"""Steps: what each block adds, and every coefficient of every step."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.design.design import Design, Values
from yellow_slope.core.fit.fitted.betas import Betas, betas_of
from yellow_slope.core.fit.fitted.inference import NAN, Estimates, FTest, Inference, Rounding, no_test
from yellow_slope.core.fit.solve.factor import EPS, PERFECT, PIECE, Factorization, Pieces, Room, factor_pieces
from yellow_slope.core.fit.solve.resampling import QUICK, GoOn, Resampled, no_one_waits, resampled, seconds_of
from yellow_slope.core.fit.solve.robust import RobustRoot, cluster_root, hc_root
from yellow_slope.core.fit.solve.scipylater import linalg
from yellow_slope.core.fit.solve.tails import f_p
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors, analytic
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass, replace

NO_SPREAD = 1e-8
"""Share of a classical standard error below which what draws differ by is rounding."""


@dataclass(frozen=True, slots=True)
class Change:
    """What a block adds to the step before."""

    r2: float
    """Change in R²."""
    test: FTest
    f2: float
    """Effect size (Cohen 1988): the drop in SSE over the SSE that stays; NaN for a perfect fit."""


@dataclass(frozen=True, slots=True)
class Coefficient:
    """One coefficient of one step. What does not exist is NaN; `why` says the reason."""

    column: int
    """Position of the model column; -1 for the constant."""
    b: float
    se: float
    t: float
    p: float
    low: float
    high: float
    beta: float
    beta_se: float
    beta_p: float
    vif: float
    sr2: float
    """Squared semipartial correlation."""
    partial_r: float
    r: float
    """Zero-order correlation of the column with the outcome."""
    why: Why | None = None


@dataclass(frozen=True, slots=True, eq=False)
class StepResult:
    """A step. Each array has one entry for the constant and each column; NaN where something does not exist."""

    index: int
    n: int
    n_columns: int
    rank: int
    """Number of estimated columns, the constant included."""
    df: int
    """Residual degrees of freedom."""
    sse: float
    total: float
    """Sum of squares of the outcome, about its mean or about zero."""
    about_mean: bool
    s2: float
    """Residual variance; 0 for a perfect fit."""
    r2: float
    adjusted_r2: float
    change: Change
    whole: FTest
    """Test of all columns of the step at once."""
    inference: Inference
    left_out: BoolArray
    estimable: BoolArray
    b: FloatArray
    """Shape (1 + columns,): constant first; NaN where left out or not estimable."""
    se: FloatArray
    t: FloatArray
    p: FloatArray
    low: FloatArray
    high: FloatArray
    """Ends of the intervals."""
    betas: Betas
    vif: FloatArray
    sr2: FloatArray
    partial_r: FloatArray
    r: FloatArray
    joint: Mapping[Term, FTest]
    """One test for each term of several columns."""
    level: float

    @property
    def beta(self) -> FloatArray:
        """Shape (1 + columns,): coefficients with outcome and numbers standardized."""
        return self.betas.beta

    @property
    def is_perfect(self) -> bool:
        """Whether nothing is left to judge errors by."""
        return self.inference.why is Why.PERFECT

    @property
    def covariance(self) -> FloatArray:
        """Shape (1 + columns, 1 + columns): Cov(b); NaN rows and columns where b is not given or errors do not
        exist."""
        root = self.inference.root
        found: FloatArray = root @ root.T
        gone = np.isnan(self.b) if self.inference.why is None else np.ones(self.b.size, dtype=bool)
        found[gone, :] = np.nan
        found[:, gone] = np.nan
        return found

    @property
    def aic(self) -> float:
        """n ln(2π SSE/n) + n + 2(p + 1); NaN for a perfect fit."""
        return self._criterion(2.0)

    @property
    def bic(self) -> float:
        """n ln(2π SSE/n) + n + (p + 1) ln n; NaN for a perfect fit."""
        return self._criterion(float(np.log(self.n)))

    def _criterion(self, price: float) -> float:
        if self.is_perfect or self.sse <= 0:
            return NAN
        return float(self.n * np.log(2 * np.pi * self.sse / self.n) + self.n + price * (self.rank + 1))

    def coefficient(self, column: int) -> Coefficient:
        """The coefficient of a column; -1 is the constant."""
        i = column + 1
        return Coefficient(
            column,
            float(self.b[i]),
            float(self.se[i]),
            float(self.t[i]),
            float(self.p[i]),
            float(self.low[i]),
            float(self.high[i]),
            float(self.betas.beta[i]),
            float(self.betas.se[i]),
            float(self.betas.p[i]),
            float(self.vif[i]),
            float(self.sr2[i]),
            float(self.partial_r[i]),
            float(self.r[i]),
            self.why(column),
        )

    def why(self, column: int) -> Why | None:
        """Why a coefficient, or its standard error, does not exist; None where both do."""
        if column >= 0 and self.left_out[column + 1]:
            return Why.LEFT_OUT
        if not self.estimable[column + 1]:
            return Why.NOT_ESTIMABLE
        without, robust = self.inference.without, self.inference.rounding is not None
        if without is None and robust and np.isnan(self.se[column + 1]) and not self.left_out[column + 1]:
            return Why.CANCELS
        return without

    def is_left_out(self, column: int) -> bool:
        """Whether the column is not estimated because others already say what it says."""
        return bool(self.left_out[column + 1])


@dataclass(frozen=True, slots=True, eq=False)
class Estimation:
    """A factorization with the inference of each of its steps."""

    factored: Factorization
    inferences: tuple[Inference, ...]
    perfect: tuple[bool, ...]
    resampled: Resampled | None = None
    """What a bootstrap gave; None without one, or as long as it has not been drawn."""
    about_mean: bool = True
    """Whether R² is about the mean in every step."""

    def makes_constant(self, design: Design, m: int) -> bool:
        """Whether R² is about a mean that the first m kept columns make, for the model has no constant."""
        return self.about_mean and not design.constant and self.factored.holds_constant(m)


def pieces_of(design: Design, values: Values, y: FloatArray) -> Pieces:
    """The rows of a design, a piece at a time."""

    def pieces(room: Room | None = None) -> Iterator[tuple[FloatArray, FloatArray]]:
        for start in range(0, y.size, PIECE):
            here = y[start : start + PIECE]
            yield design.matrix(values, start, start + PIECE, room(here.size) if room is not None else None), here

    return pieces


@dataclass(frozen=True, slots=True)
class Resampling:
    """Whether a bootstrap is drawn now: all of it, or only where nobody waits for it."""

    quick_only: bool = False
    go_on: GoOn = no_one_waits


NOW = Resampling()


def estimated(
    design: Design,
    values: Values,
    y: FloatArray,
    errors: Errors,
    clusters: IntArray | None,
    first_out: frozenset[int],
    resampling: Resampling = NOW,
) -> Estimation:
    """Factor once and read every step's solution and inference. y (n,); clusters (n,): positions of cluster ids."""
    n, p = y.size, len(design.columns)
    factored = factor_pieces(n, p, pieces_of(design, values, y), design.constant, first_out, design.roundings)
    inferences: list[Inference] = []
    perfect: list[bool] = []
    for end in design.ends:
        inference, is_perfect = inference_of(factored, end, errors, clusters)
        inferences.append(inference)
        perfect.append(is_perfect)
    about_mean = all(factored.holds_constant(factored.size(end)) for end in design.ends)
    found = Estimation(factored, tuple(inferences), tuple(perfect), about_mean=about_mean)
    return _drawn(found, design, errors, clusters, resampling) if isinstance(errors, Bootstrap) else found


def inference_of(
    factored: Factorization, end: int, errors: Errors, clusters: IntArray | None
) -> tuple[Inference, bool]:
    """What the first columns of a matrix say, with errors that have a formula; and whether they fit perfectly."""
    n, m = factored.n, factored.size(end)
    rows = np.concatenate([[0], factored.kept[:m] + 1])
    b = factored.coefficients(m)
    solution = np.zeros(end + 1)
    solution[rows] = b
    df = n - m - int(factored.constant)
    is_perfect = factored.is_perfect(m, b[1:])
    sse = 0.0 if is_perfect else factored.sse(m)
    made = _errors(factored, m, b, df, sse, is_perfect, errors, clusters)
    root = np.zeros((end + 1, 1 if made.root is None else made.root.shape[1]))
    if made.root is not None:
        root[rows] = made.root
    rounding = None
    if made.robust is not None:
        bare = np.zeros((end + 1, m + 1))
        bare[rows] = factored.root(m)
        rounding = Rounding(bare, made.robust.residuals, made.robust.terms)
    here = factored.lasts < end
    lengths = np.concatenate([[np.sqrt(n)], factored.all_lengths[:end]])
    inference = Inference(
        solution,
        root,
        made.df,
        factored.nulls[here, :end],
        factored.all_means[:end],
        lengths,
        made.why,
        made.most_tested,
        rounding=rounding,
    )
    return inference, is_perfect


def _drawn(
    found: Estimation, design: Design, errors: Bootstrap, clusters: IntArray | None, resampling: Resampling
) -> Estimation:
    """The estimation with its bootstrap, or waiting for it."""
    if any(inference.why is not None for inference in found.inferences):
        return found
    if resampling.quick_only and seconds_of(found.factored, errors, clusters) > QUICK:
        return replace(found, inferences=tuple(replace(i, awaits=Why.RESAMPLING) for i in found.inferences))
    made = resampled(found.factored, design.ends, found.about_mean, errors, clusters, resampling.go_on)
    if isinstance(made, Why):
        return replace(found, inferences=tuple(replace(i, awaits=made) for i in found.inferences))
    inferences = tuple(
        replace(inference, draws=draws, rounding=_of_draws(found.factored, end, inference))
        for inference, draws, end in zip(found.inferences, made.steps, design.ends)
    )
    return replace(found, inferences=inferences, resampled=made)


def _of_draws(factored: Factorization, end: int, inference: Inference) -> Rounding:
    """When the spread of draws is nothing but rounding: where every resample fits the same cases perfectly."""
    m = factored.size(end)
    bare = np.zeros((end + 1, m + 1))
    bare[np.concatenate([[0], factored.kept[:m] + 1])] = factored.root(m)
    noise = PERFECT * factored.noise(m, inference.solution[factored.kept[:m] + 1])
    s = float(np.sqrt(factored.sse(m) / max(1, inference.df)))
    return Rounding(bare, max(NO_SPREAD * s, noise), PERFECT * EPS * s)


@dataclass(frozen=True, slots=True, eq=False)
class _Errors:
    """What errors of a kind are for a step. root: of the kept columns' covariance; None where there is none."""

    root: FloatArray | None
    df: int
    why: Why | None = None
    most_tested: int | None = None
    robust: RobustRoot | None = None


def _errors(
    factored: Factorization,
    m: int,
    b: FloatArray,
    df: int,
    sse: float,
    is_perfect: bool,
    errors: Errors,
    clusters: IntArray | None,
) -> _Errors:
    if df < 1:
        return _Errors(None, df, Why.NO_CASES)
    if is_perfect:
        return _Errors(factored.root(m), df, Why.PERFECT)
    kind = analytic(errors)
    match kind:
        case Classical():
            return _Errors(factored.root(m) * np.sqrt(sse / df), df)
        case HC(number):
            robust = hc_root(factored, m, b, number)
            if robust is None:
                return _Errors(factored.root(m), df, Why.LEVERAGE)
            return _Errors(robust.root, df, robust=robust)
        case Cluster():
            assert clusters is not None
            k = int(clusters.max()) + 1
            if k < 2:
                return _Errors(factored.root(m), 0, Why.CLUSTERS, 0)
            robust = cluster_root(factored, m, b, clusters)
            return _Errors(robust.root, k - 1, most_tested=k - 1, robust=robust)
        case _:
            assert_never(kind)


def all_steps(
    design: Design,
    values: Values,
    y: FloatArray,
    level: float,
    errors: Errors,
    clusters: IntArray | None = None,
    first_out: frozenset[int] = frozenset(),
    resampling: Resampling = NOW,
) -> tuple[Estimation, tuple[StepResult, ...]]:
    """Every step of a design. y: the outcome (n,), not all values the same."""
    found = estimated(design, values, y, errors, clusters, first_out, resampling)
    factored = found.factored
    y_mean = factored.y_mean
    y_sd = float(np.sqrt(factored.total_about_mean / (factored.n - 1)))
    betas = betas_of(design, found.inferences, y_mean, y_sd)
    if betas is None:
        other = estimated(design.standardized(), values, (y - y_mean) / y_sd, errors, clusters, first_out, resampling)
        betas = tuple(
            Betas.of(inference) if _kept_alike(other.factored, factored, end) else Betas.none(end + 1)
            for inference, end in zip(other.inferences, design.ends)
        )
    steps: list[StepResult] = []
    for index in range(len(design.ends)):
        before = steps[-1] if steps else None
        steps.append(_step(design, found, betas[index], index, before, level, errors))
    return found, tuple(steps)


def _kept_alike(one: Factorization, other: Factorization, end: int) -> bool:
    """Whether the same of the first columns were kept."""
    return np.array_equal(one.kept[: one.size(end)], other.kept[: other.size(end)])


def _step(
    design: Design, found: Estimation, betas: Betas, index: int, before: StepResult | None, level: float, errors: Errors
) -> StepResult:
    about_mean = found.about_mean
    factored, inference, is_perfect = found.factored, found.inferences[index], found.perfect[index]
    end = design.ends[index]
    m = factored.size(end)
    rank = m + int(design.constant)
    df = factored.n - rank
    sse = 0.0 if is_perfect else factored.sse(m)
    total = factored.total_about_mean if about_mean else factored.total
    s2 = sse / df if df > 0 else NAN
    unexplained = sse / total if total > 0 else NAN
    r2 = 1.0 - unexplained
    adjusted = 1.0 - unexplained * (factored.n - int(about_mean)) / df if df > 0 else NAN
    rows = np.concatenate([[0], factored.kept[:m] + 1])
    left_out = np.ones(end + 1, dtype=bool)
    left_out[rows] = False
    left_out[0] = not design.constant
    estimable = inference.estimable(np.eye(end + 1)) if inference.nulls.size else np.ones(end + 1, dtype=bool)
    gone = left_out | ~estimable
    b = np.where(gone, np.nan, inference.solution)
    if df < 1:
        single = Estimates(*(np.full(end + 1, np.nan) for _ in range(6)))
    else:
        single = inference.estimates(None, level)
    se, t, p, low, upper = (np.where(gone, np.nan, v) for v in (single.se, single.t, single.p, single.low, single.high))
    classical = np.full(end + 1, np.nan)
    lengths = np.sqrt(np.einsum("ij,ij->i", *(2 * [factored.root(m)])))
    classical[rows] = lengths * np.sqrt(s2) if df > 0 else np.nan
    with np.errstate(divide="ignore", invalid="ignore"):
        plain = np.where(is_perfect, np.nan, b / classical)
        squared = plain**2
        sr2 = squared * unexplained / df if df > 0 else np.full(end + 1, np.nan)
        partial = np.sign(plain) * np.sqrt(squared / (squared + max(df, 1)))
    vif = np.full(end + 1, np.nan)
    vif[rows[1:]] = factored.vif(m)
    vif[gone] = np.nan
    sr2[0] = partial[0] = np.nan
    # Without a column that makes the constant R² would be about something else: it shares out no part of this one.
    levels = np.flatnonzero(factored.makes_constant(m)) if about_mean else np.arange(0)
    sr2[rows[1:][levels]] = partial[rows[1:][levels]] = np.nan
    if not design.constant:  # standardized about means such a model is another one; a level is no difference
        mask = np.full(end + 1, not about_mean)
        mask[rows[1:][levels]] = True
        betas = betas.without(mask)
    r = np.full(end + 1, np.nan)
    if total > 0:
        r[rows[1:]] = (factored.r[:m, :m].T @ factored.qty[:m]) / np.sqrt(factored.total)
    return StepResult(
        index,
        factored.n,
        end,
        rank,
        df,
        sse,
        total,
        about_mean,
        s2,
        r2,
        adjusted,
        _change(found, design, index, total, sse, rank, before, errors),
        _whole(found, design, index, sse, errors),
        inference,
        left_out,
        estimable,
        b,
        se,
        t,
        p,
        low,
        upper,
        betas,
        vif,
        sr2,
        partial,
        r,
        joint_tests(design, inference, end),
        level,
    )


def _f_test(drop: float, q: int, sse: float, df: int, is_perfect: bool) -> FTest:
    if q == 0:
        return no_test(0, df, Why.NOTHING)
    if df < 1:
        return no_test(q, df, Why.NO_CASES)
    if is_perfect or not sse > 0:
        return no_test(q, df, Why.PERFECT)
    f = (drop / q) / (sse / df)
    return FTest(f, q, df, f_p(f, q, df))


def _columns_test(design: Design, inference: Inference, columns: range, end: int) -> FTest:
    """The Wald test of columns of a step."""
    if not len(columns):
        return no_test(0, inference.df, Why.NOTHING)
    found = inference.test(np.eye(end + 1)[[j + 1 for j in columns]])
    if found.df1 == 0 and found.why is Why.NOT_ESTIMABLE:
        return no_test(0, inference.df, Why.NOTHING)
    return found


def _from_level_test(found: Estimation, index: int, end: int) -> FTest:
    """The Wald test of a first step whose columns make the constant between them: whether they say more than that."""
    factored, inference = found.factored, found.inferences[index]
    m = factored.size(end)
    weights = factored.constant_weights(m)
    turned, _ = linalg.qr(weights[:, None])
    g = np.zeros((m - 1, end + 1))
    g[:, factored.kept[:m] + 1] = turned[:, 1:].T * factored.lengths[:m]
    return inference.test(g) if m > 1 else no_test(0, inference.df, Why.NOTHING)


def _change(
    found: Estimation,
    design: Design,
    index: int,
    total: float,
    sse: float,
    rank: int,
    before: StepResult | None,
    errors: Errors,
) -> Change:
    """F = ((SSE0 - SSE1) / q) / (SSE1 / (n - p1)); the drop is a sum of squares of Q'y, not a difference.

    Under robust errors the Wald F of the block's columns.
    """
    factored, is_perfect = found.factored, found.perfect[index]
    low = before.rank - int(design.constant) if before else 0
    high = rank - int(design.constant)
    drop = float(factored.qty[low:high] @ factored.qty[low:high])
    if before is None and design.constant is False and factored.holds_constant(high) and total < factored.total:
        drop = total - sse
    if not isinstance(errors, Classical):
        start = before.n_columns if before else 0
        end = design.ends[index]
        if before is None and found.makes_constant(design, high):
            test = _from_level_test(found, index, end)
        else:
            test = _columns_test(design, found.inferences[index], range(start, end), end)
    else:
        q = high - low
        if before is None and total < factored.total:
            q -= 1
        test = _f_test(drop, q, sse, factored.n - rank, is_perfect)
    f2 = drop / sse if sse > 0 and high > low else (0.0 if high == low else NAN)
    return Change(drop / total if total > 0 else NAN, test, f2)


def _whole(found: Estimation, design: Design, index: int, sse: float, errors: Errors) -> FTest:
    factored, end = found.factored, design.ends[index]
    m = factored.size(end)
    if not isinstance(errors, Classical):
        if found.makes_constant(design, m):
            return _from_level_test(found, index, end)
        return _columns_test(design, found.inferences[index], range(end), end)
    drop, q = float(factored.qty[:m] @ factored.qty[:m]), m
    if not design.constant and factored.holds_constant(m):
        drop, q = factored.total_about_mean - sse, m - 1
    return _f_test(drop, q, sse, factored.n - m - int(design.constant), found.perfect[index])


def joint_tests(design: Design, inference: Inference, end: int) -> dict[Term, FTest]:
    """One test for each term of several columns."""
    tests: dict[Term, FTest] = {}
    for term in dict.fromkeys(column.term for column in design.columns[:end]):
        columns = design.columns_of(term)
        if len(columns) > 1:
            g = np.zeros((len(columns), end + 1))
            g[np.arange(len(columns)), [j + 1 for j in columns]] = 1.0
            tests[term] = inference.test(g)
    return tests
