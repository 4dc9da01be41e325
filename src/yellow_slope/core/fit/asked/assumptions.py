"""What a step assumes, in figures: even spread, normal residuals, straight changes, an order that means nothing."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest, no_test
from yellow_slope.core.fit.fitted.steps import inference_of
from yellow_slope.core.fit.solve.factor import factor
from yellow_slope.core.fit.solve.robust import hc_root
from yellow_slope.core.fit.solve.scipylater import special
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.standarderrors import Bootstrap, Classical, analytic
from yellow_slope.core.study.terms import variables_of
from yellow_slope.values import dataclass, replace

NAN = float("nan")
MOST_TESTED = 5000
"""More residuals than this are told from normal ones whatever they are."""
FEWEST_SKEW = 8


# ---- spread


@dataclass(frozen=True, slots=True)
class SpreadInGroup:
    """Residual variance of a level: Σe²/(n - 1) about its own mean; NaN of fewer than two cases."""

    code: str
    n: int
    variance: float


@dataclass(frozen=True, slots=True)
class Spread:
    """Whether residuals spread alike everywhere."""

    test: FTest
    """Breusch and Pagan's, in Koenker's (1981) form: chi-square in `f`, df1 degrees of freedom, df2 0."""
    groups: tuple[tuple[str, tuple[SpreadInGroup, ...]], ...]
    """By group of the model: its levels."""

    def ratio(self, group: int) -> float:
        """The largest variance of a group's levels over the smallest; NaN where one is 0 or does not exist."""
        found = [level.variance for level in self.groups[group][1] if np.isfinite(level.variance)]
        return max(found) / min(found) if len(found) > 1 and min(found) > 0 else NAN


def spread_of(fit: Fit, step: int, residual: FloatArray) -> Spread:
    """Koenker's (1981) form of the test of Breusch & Pagan: n R² of e² on the constant and the step's columns.

    R² is about the mean; df are the columns that say something beside the constant.
    """
    result, factored = fit.steps[step], fit.factored
    m = factored.size(result.n_columns)
    test = no_test(m, 0, Why.PERFECT if result.is_perfect else Why.NO_CASES)
    if not result.is_perfect and m:
        squares = residual**2
        squares = squares / squares.mean()
        total = float(np.sum((squares - 1.0) ** 2))
        if total > 1e-20 * fit.y.size:
            explained, df = _explained(fit, result.n_columns, squares)
            chi = fit.y.size * min(1.0, explained / total)
            test = FTest(chi, df, 0, float(special.gammaincc(df / 2, chi / 2))) if df else no_test(0, 0, Why.NOTHING)
    return Spread(test, tuple(_by_group(fit, name, residual) for name in _groups(fit, result.n_columns)))


def _explained(fit: Fit, columns: int, values: FloatArray) -> tuple[float, int]:
    """Sum of squares, about the mean, of values that the constant and a step's columns explain, and by how many."""
    if not fit.factored.constant:
        found = factor(fit.x[:, :columns], values)
        return found.total - found.sse(found.kept.size), int(found.kept.size)
    m = fit.factored.size(columns)
    along, start = np.zeros(m + 1), 0
    for q, _, _ in fit.factored.orthonormal(m):
        along += q.T @ (values[start : start + q.shape[0]] - 1.0)
        start += q.shape[0]
    return float(along[1:] @ along[1:]), m


def _groups(fit: Fit, columns: int) -> list[str]:
    names = variables_of(column.term for column in fit.design.columns[:columns])
    return [name for name in names if isinstance(fit.design.bases[name], GroupBasis)]


def _by_group(fit: Fit, name: str, residual: FloatArray) -> tuple[str, tuple[SpreadInGroup, ...]]:
    basis = fit.design.bases[name]
    assert isinstance(basis, GroupBasis)
    found = []
    for i, code in enumerate(basis.levels):
        own = residual[fit.values[name] == i]
        found.append(SpreadInGroup(code, own.size, float(own.var(ddof=1)) if own.size > 1 else NAN))
    return name, tuple(found)


def robust_ratio(fit: Fit, step: int, g: FloatArray) -> float:
    """HC3 over classical standard error of an effect g·b; NaN where one does not exist."""
    result, factored = fit.steps[step], fit.factored
    m = factored.size(result.n_columns)
    rows = np.concatenate([[0], factored.kept[:m] + 1])
    if result.is_perfect or result.df < 1 or not bool(result.inference.estimable(g)[0]):
        return NAN
    robust = hc_root(factored, m, result.inference.solution[rows], 3)
    if robust is None:
        return NAN
    plain = float(np.linalg.norm(g[rows] @ factored.root(m)) * np.sqrt(result.s2))
    return float(np.linalg.norm(g[rows] @ robust.root)) / plain if plain > 0 else NAN


# ---- normality


@dataclass(frozen=True, slots=True)
class Normality:
    """Shapiro and Wilk's W with its p (NaN above 5,000 cases), skewness and excess kurtosis over n."""

    w: float
    p: float
    skewness: float
    kurtosis: float


def normality_of(values: FloatArray) -> Normality:
    """Of residuals that exist."""
    here = values[np.isfinite(values)]
    n = here.size
    if n < 3 or not np.ptp(here) > 0:
        return Normality(NAN, NAN, NAN, NAN)
    unit = (here - here.mean()) / here.std()
    w, p = shapiro_wilk(here) if n <= MOST_TESTED else (NAN, NAN)
    return Normality(w, p, float(np.mean(unit**3)), float(np.mean(unit**4)) - 3.0)


def shapiro_weights(n: int) -> FloatArray:
    """Shape (n,): the weights of W, approximated by Royston's (1995) polynomials."""
    m = np.asarray(special.ndtri((np.arange(1, n + 1) - 0.375) / (n + 0.25)))
    if n == 3:
        a = np.array([-np.sqrt(0.5), 0.0, np.sqrt(0.5)])
    else:
        squares, u = float(m @ m), 1.0 / np.sqrt(n)
        last = np.polyval([-2.706056, 4.434685, -2.07119, -0.147981, 0.221157, m[-1] / np.sqrt(squares)], u)
        a = m.copy()
        if n > 5:
            second = np.polyval([-3.582633, 5.682633, -1.752461, -0.293762, 0.042981, m[-2] / np.sqrt(squares)], u)
            scale = (squares - 2 * m[-1] ** 2 - 2 * m[-2] ** 2) / (1 - 2 * last**2 - 2 * second**2)
            a /= np.sqrt(scale)
            a[-2], a[1] = second, -second
        else:
            a /= np.sqrt((squares - 2 * m[-1] ** 2) / (1 - 2 * last**2))
        a[-1], a[0] = last, -last
    return a


def shapiro_wilk(values: FloatArray) -> tuple[float, float]:
    """W and its p for 3 to 5,000 values that are not all the same (Shapiro & Wilk 1965; Royston 1995)."""
    n = values.size
    x, a = np.sort(values), shapiro_weights(n)
    centered = x - x.mean()
    total = float(centered @ centered)
    w = min(1.0, float(a @ centered) ** 2 / total)
    return w, _shapiro_p(w, total, centered, a, n)


def _shapiro_p(w: float, total: float, centered: FloatArray, a: FloatArray, n: int) -> float:
    if n == 3:
        return float(np.clip(6 / np.pi * (np.arcsin(np.sqrt(w)) - np.arcsin(np.sqrt(0.75))), 0.0, 1.0))
    rest = float(np.sum((centered - float(a @ centered) * a) ** 2)) / total  # 1 - W without a difference
    if rest <= 0:
        return 1.0
    y, size = np.log(rest), float(np.log(n))
    if n <= 11:
        bound = 0.459 * n - 2.273
        if y >= bound:
            return 0.0
        y = -np.log(bound - y)
        mean = np.polyval([-0.0006714, 0.025054, -0.39978, 0.5440], n)
        sd = np.exp(np.polyval([-0.0020322, 0.062767, -0.77857, 1.3822], n))
    else:
        mean = np.polyval([0.0038915, -0.083751, -0.31082, -1.5861], size)
        sd = np.exp(np.polyval([0.0030302, -0.082676, -0.4803], size))
    return float(special.ndtr(-(y - mean) / sd))


# ---- order


@dataclass(frozen=True, slots=True)
class InOrder:
    """Whether residuals of neighbouring rows are alike: Durbin and Watson's d, lag-1 autocorrelation; NaN where all are
    0."""

    d: float
    r: float


def in_order(residual: FloatArray) -> InOrder:
    """d = Σ(e_i - e_(i-1))² / Σe² (Durbin & Watson 1950), r = Σ e_i e_(i-1) / Σe², in the order of the table."""
    total = float(residual @ residual)
    if residual.size < 3 or not total > 0:  # NaN too
        return InOrder(NAN, NAN)
    steps = np.diff(residual)
    return InOrder(float(steps @ steps) / total, float(residual[1:] @ residual[:-1]) / total)


# ---- form


def reset_test(fit: Fit, step: int) -> FTest:
    """Whether squares and cubes of what is predicted add anything (Ramsey 1969); df by rank, with errors of the model's
    kind; of a bootstrap, which is not drawn again, with the formula that stands nearest."""
    result = fit.steps[step]
    predicted = fit.predicted(step)
    shift = predicted.mean() if fit.factored.constant else 0.0
    scale = float(np.abs(predicted - shift).max())
    if result.is_perfect or not scale > 0:
        return no_test(2, result.df, Why.PERFECT if result.is_perfect else Why.NOTHING)
    unit = (predicted - shift) / scale
    width = result.n_columns
    x = np.column_stack([fit.x[:, :width], unit**2, unit**3])
    found = factor(x, fit.y, fit.factored.constant)
    errors = analytic(fit.errors)
    inference, is_perfect = inference_of(found, width + 2, errors, fit.clusters)
    added = [j for j in found.kept if j >= width]
    if not added or inference.df < 1 or is_perfect:
        return no_test(len(added), inference.df, Why.NOTHING if not added else inference.why or Why.NO_CASES)
    if not isinstance(errors, Classical):
        return inference.test(np.eye(width + 3)[[j + 1 for j in added]])
    sse0, sse1 = found.sse(found.size(width)), found.sse(found.kept.size)
    f = (sse0 - sse1) / len(added) / (sse1 / inference.df)
    return FTest(f, len(added), inference.df, float(special.fdtrc(len(added), inference.df, max(f, 0.0))))


# ---- a column's own part


def own_part(fit: Fit, step: int, column: int) -> tuple[FloatArray, FloatArray] | None:
    """Shape (n,) each: what of a column, and what of the outcome, the other columns of a step leave (the partial
    regression plot); None where the column is left out or not told apart."""
    result, factored = fit.steps[step], fit.factored
    m = factored.size(result.n_columns)
    g = np.zeros(result.n_columns + 1)
    g[column + 1] = 1.0
    if column not in factored.kept[:m] or not bool(result.inference.estimable(g)[0]):
        return None
    along = factored.root(m).T @ g[np.concatenate([[0], factored.kept[:m] + 1])]
    rest = np.concatenate([q @ along for q, _, _ in factored.orthonormal(m)]) / float(along @ along)
    return rest, fit.y - fit.predicted(step) + float(result.b[column + 1]) * rest


# ---- thirds


@dataclass(frozen=True, slots=True)
class Third:
    """The effect within one third of the moderator, at its median; NaN where its cases tell nothing of it."""

    low: float
    high: float
    at: float
    n: int
    effect: float
    se: float
    ends: tuple[float, float]
    counts: tuple[int, ...] = ()
    """Of a focal group the cases of each of its levels."""


def in_thirds(
    fit: Fit,
    step: int,
    focal: str,
    moderator: str,
    comparison: int,
    row_at: Callable[[float], FloatArray],
    level: float,
) -> tuple[Third, ...]:
    """The focal effect within thirds of equal count of a number, each with a line of its own and the step's other terms
    beside (Hainmueller, Mummolo & Xu 2019); empty where a third has no case of its own.
    Errors are of the model's kind; of a bootstrap, which is not drawn again, there are none.

    comparison: of a focal group the column of its codes that is asked. row_at: the effect of the model at a place, g
    (1 + columns); what it asks of the other terms is asked of the thirds too.
    """
    w = np.asarray(fit.values[moderator], dtype=np.float64)
    bounds = np.quantile(w, [1 / 3, 2 / 3])
    part = np.searchsorted(bounds, w, side="left")
    if any(not np.any(part == k) for k in range(3)):
        return ()
    x, own = _focal_columns(fit, focal), {focal, moderator}
    others = [j for j in range(fit.steps[step].n_columns) if not set(fit.design.columns[j].term.variables) <= own]
    blocks: list[FloatArray] = []
    begins: list[int] = []
    medians = [float(np.median(w[part == k])) for k in range(3)]
    treated = _focal_columns(fit, moderator)[:, 0]
    middles = [float(np.median(treated[part == k])) for k in range(3)]
    sd = float(treated.std()) or 1.0
    for k in range(3):
        here: BoolArray = part == k
        away = np.where(here, (treated - middles[k]) / sd, 0.0)
        inside = np.where(here[:, None], x, 0.0)
        begins.append(sum(block.shape[1] for block in blocks))
        blocks += [here[:, None].astype(np.float64), inside]
        if np.ptp(treated[here]) > 0:  # of a third with one value alone there is no line, but an effect
            blocks += [away[:, None], inside * away[:, None]]
    width = sum(block.shape[1] for block in blocks)
    matrix = np.column_stack([*blocks, fit.x[:, others]])
    found = factor(matrix, fit.y, False)
    inference, _ = inference_of(found, matrix.shape[1], analytic(fit.errors), fit.clusters)
    if isinstance(fit.errors, Bootstrap):
        inference = replace(inference, awaits=Why.DRAWS)
    thirds = []
    for k in range(3):
        g = np.zeros(matrix.shape[1] + 1)
        g[1 + begins[k] + 1 + comparison] = 1.0
        g[1 + width :] = row_at(medians[k])[1:][others]
        told = inference.estimate(g, level)
        here = part == k
        low, high = float(w[here].min()), float(w[here].max())
        n = int(here.sum())
        counts = _counts(fit, focal, here)
        thirds.append(Third(low, high, medians[k], n, told.effect, told.se, (told.low, told.high), counts))
    return tuple(thirds)


def _counts(fit: Fit, focal: str, here: BoolArray) -> tuple[int, ...]:
    """Of a group the cases of each level among some."""
    basis = fit.design.bases[focal]
    if not isinstance(basis, GroupBasis):
        return ()
    found = np.bincount(np.asarray(fit.values[focal], dtype=np.int64)[here], minlength=len(basis.levels))
    return tuple(int(n) for n in found)


def _focal_columns(fit: Fit, focal: str) -> FloatArray:
    """Shape (n, k): a number as it is treated, or a group's codes."""
    basis, values = fit.design.bases[focal], fit.values[focal]
    if isinstance(basis, GroupBasis):
        positions: IntArray = np.asarray(values, dtype=np.int64)
        return np.asarray(basis.codes[positions], dtype=np.float64)
    return np.asarray(basis.treated(np.asarray(values, dtype=np.float64)), dtype=np.float64)[:, None]
