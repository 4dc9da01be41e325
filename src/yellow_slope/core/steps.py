"""Steps: what each block adds, and every coefficient of every step."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.linalg import qr, solve_triangular

from yellow_slope.core.design import Design, NumberBasis
from yellow_slope.core.estimate import Factorization, factor
from yellow_slope.core.table import FloatArray, IntArray
from yellow_slope.core.tails import f_p, t_p, t_quantile
from yellow_slope.core.terms import Term


@dataclass(frozen=True, slots=True)
class FTest:
    """A joint test."""

    f: float
    df1: int
    df2: int
    p: float


@dataclass(frozen=True, slots=True)
class Change:
    """What a block adds to the step before."""

    r2: float
    """Change in R²."""
    test: FTest
    f2: float
    """Effect size (Cohen 1988): the drop in SSE over the SSE that stays."""


@dataclass(frozen=True, slots=True)
class Coefficient:
    """One coefficient of one step. Everything but `column` is NaN where the column was left out."""

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


@dataclass(frozen=True, slots=True, eq=False)
class StepResult:
    """A step: each array has one entry per column of the step, NaN where a column was left out."""

    index: int
    n: int
    n_columns: int
    rank: int
    """Number of estimated columns, the constant included."""
    df: int
    """Residual degrees of freedom."""
    sse: float
    s2: float
    r2: float
    adjusted_r2: float
    change: Change
    whole: FTest
    """Test of all columns of the step at once."""
    b: FloatArray
    """Shape (1 + columns,): constant first."""
    root: FloatArray
    """Shape (1 + columns, rank): L with Cov(b) = s² L L'; rows of left-out columns are 0."""
    se: FloatArray
    t: FloatArray
    p: FloatArray
    half_width: FloatArray
    beta: FloatArray
    beta_se: FloatArray
    beta_p: FloatArray
    vif: FloatArray
    sr2: FloatArray
    joint: Mapping[Term, FTest]
    """One test for each term of several columns."""

    @property
    def covariance(self) -> FloatArray:
        """Shape (1 + columns, 1 + columns): Cov(b), constant first."""
        return self.s2 * (self.root @ self.root.T)

    def coefficient(self, column: int) -> Coefficient:
        """The coefficient of a column; -1 is the constant."""
        i = column + 1
        b, half = float(self.b[i]), float(self.half_width[i])
        return Coefficient(
            column, b, float(self.se[i]), float(self.t[i]), float(self.p[i]), b - half, b + half,
            float(self.beta[i]), float(self.beta_se[i]), float(self.beta_p[i]), float(self.vif[i]), float(self.sr2[i]),
        )  # fmt: skip

    def is_left_out(self, column: int) -> bool:
        """Whether the column is not estimated because others already say what it says."""
        return bool(np.isnan(self.b[column + 1]))


@dataclass(frozen=True, slots=True, eq=False)
class Betas:
    """Coefficients, SE and p of a step with outcome and numbers standardized; constant first."""

    beta: FloatArray
    se: FloatArray
    p: FloatArray


def all_steps(
    design: Design,
    values: Mapping[str, FloatArray | IntArray],
    x: FloatArray,
    y: FloatArray,
    level: float,
    first_out: frozenset[int] = frozenset(),
) -> tuple[Factorization, tuple[StepResult, ...]]:
    """Factor once and read every step from it. x: the design's matrix (n, p); y: the outcome (n,)."""
    factored = factor(x, y, first_out=first_out)
    other = None
    if not _same_up_to_scale(design):
        y_sd = np.sqrt(factored.total / max(factored.n - 1, 1)) or 1.0
        standardized = design.standardized().matrix(values)
        other = factor(standardized, (y - factored.y_mean) / y_sd, first_out=first_out)
    steps: list[StepResult] = []
    for index in range(len(design.ends)):
        before = steps[-1] if steps else None
        steps.append(_step(design, factored, other, index, before, level))
    return factored, tuple(steps)


def _same_up_to_scale(design: Design) -> bool:
    """Whether standardizing only rescales the columns: every number in a product has its zero point at the mean."""
    for column in design.columns:
        numbers = [b for a in column.atoms if isinstance(b := design.bases[a.variable], NumberBasis)]
        if len(column.atoms) > 1 and any(b.center != b.mean for b in numbers):
            return False
    return True


def _step(
    design: Design, factored: Factorization, other: Factorization | None, index: int, before: StepResult | None,
    level: float,
) -> StepResult:  # fmt: skip
    end = design.ends[index]
    m = factored.size(end)
    n, rank = factored.n, m + 1
    df = n - rank
    sse = factored.sse(m)
    s2 = sse / df if df > 0 else float("nan")
    r2 = 1.0 - sse / factored.total if factored.total > 0 else float("nan")
    rows = np.concatenate([[0], factored.kept[:m] + 1])
    b = _spread(factored.coefficients(m), rows, end)
    root = np.zeros((end + 1, m + 1))
    root[rows] = factored.root(m)
    se = np.sqrt(s2) * np.sqrt(np.einsum("ij,ij->i", root, root))
    se[np.isnan(b)] = np.nan
    with np.errstate(divide="ignore", invalid="ignore"):
        t = b / se
    sr2 = t**2 * (1.0 - r2) / df if df > 0 else np.full(end + 1, np.nan)
    betas = _betas(design, factored, other, m, end, df, b, se)
    return StepResult(
        index, n, end, rank, df, sse, s2, r2, 1.0 - (1.0 - r2) * (n - 1) / df if df > 0 else float("nan"),
        _change(factored, sse, rank, before), _f_test(factored.total - sse, m, sse, df), b, root, se, t, t_p(t, df),
        t_quantile(level, df) * se, betas.beta, betas.se, betas.p, _spread(factored.vif(m), rows[1:], end), sr2,
        _joint_tests(design, b, root, s2, df, end),
    )  # fmt: skip


def _spread(values: FloatArray, rows: IntArray, end: int) -> FloatArray:
    out = np.full(end + 1, np.nan)
    out[rows] = values
    return out


def _f_test(drop: float, q: int, sse: float, df: int) -> FTest:
    if q < 1 or df < 1:
        return FTest(float("nan"), q, df, float("nan"))
    f = (drop / q) / (sse / df) if sse > 0 else float("inf")
    return FTest(f, q, df, f_p(f, q, df))


def _change(factored: Factorization, sse: float, rank: int, before: StepResult | None) -> Change:
    """F = ((SSE0 - SSE1) / q) / (SSE1 / (n - p1)); the drop is a sum of squares of Q'y, not a difference."""
    low = before.rank - 1 if before else 0
    drop = float(factored.qty[low : rank - 1] @ factored.qty[low : rank - 1])
    gain = drop / factored.total if factored.total > 0 else float("nan")
    return Change(gain, _f_test(drop, rank - 1 - low, sse, factored.n - rank), drop / sse if sse > 0 else float("inf"))


def _betas(
    design: Design, factored: Factorization, other: Factorization | None, m: int, end: int, df: int,
    b: FloatArray, se: FloatArray,
) -> Betas:  # fmt: skip
    """β with products formed from the standardized parts, the intercept kept (Friedrich 1982; Aiken & West 1991)."""
    n = factored.n
    y_sd = np.sqrt(factored.total / (n - 1)) if n > 1 else 0.0
    if other is not None and not np.array_equal(other.kept, factored.kept):
        # Standardized, other columns would be left out: no β belongs to these b.
        beta = beta_se = np.full(end + 1, np.nan)
    elif other is not None:
        rows = np.concatenate([[0], factored.kept[:m] + 1])
        beta = _spread(other.coefficients(m), rows, end)
        root = other.root(m)
        s2 = other.sse(m) / df if df > 0 else float("nan")
        beta_se = _spread(np.sqrt(s2 * np.einsum("ij,ij->i", root, root)), rows, end)
    else:
        factors = np.full(end + 1, np.nan)
        for j, column in enumerate(design.columns[:end]):
            numbers = [x for a in column.atoms if isinstance(x := design.bases[a.variable], NumberBasis)]
            factors[j + 1] = np.prod([x.sd / x.scale for x in numbers]) / y_sd if y_sd > 0 else np.nan
        beta, beta_se = b * factors, se * np.abs(factors)
    with np.errstate(divide="ignore", invalid="ignore"):
        p = t_p(beta / beta_se, df)
    return Betas(beta, beta_se, p)


def _joint_tests(design: Design, b: FloatArray, root: FloatArray, s2: float, df: int, end: int) -> dict[Term, FTest]:
    tests: dict[Term, FTest] = {}
    for term in dict.fromkeys(column.term for column in design.columns[:end]):
        rows = np.array([j + 1 for j in design.columns_of(term)])
        if rows.size > 1:
            tests[term] = wald(b[rows], root[rows], s2, df)
    return tests


def wald(b: FloatArray, root: FloatArray, s2: float, df: int) -> FTest:
    """Joint F of several coefficients. b (q,), root (q, r) with Cov = s² root root'; NaN entries are passed over."""
    here = ~np.isnan(b)
    q = int(here.sum())
    if q == 0 or df < 1:
        return FTest(float("nan"), q, df, float("nan"))
    (triangle,) = qr(root[here].T, mode="r", check_finite=False)
    z = solve_triangular(triangle[:q, :q], b[here], trans="T", check_finite=False)
    f = float(z @ z) / (q * s2) if s2 > 0 else float("inf")
    return FTest(f, q, df, f_p(f, q, df))
