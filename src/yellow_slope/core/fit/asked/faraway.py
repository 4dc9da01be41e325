"""Which cases are far out: beyond the cut-off of their residual, their influence or their distance."""

from __future__ import annotations

from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.asked.diagnosis import Diagnosis, mahalanobis, raw_columns
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.scipylater import special
from yellow_slope.core.study.checks import Cutoffs, FarBy
from yellow_slope.values import dataclass

QUANTILE = 0.999
"""Of D²: beyond it lies one of a thousand."""
USUAL_RESIDUAL = 3.0


@dataclass(frozen=True, slots=True, eq=False)
class Distances:
    """Mahalanobis D² of the model's cases."""

    d2: FloatArray
    """Shape (n,)."""
    columns: int
    """Columns that the distance is taken in; 0: there is none."""
    chi_square: float
    """The usual cut-off."""
    exact: float
    """The cut-off of the exact distribution; NaN where it does not exist."""
    largest: float
    """(n - 1)²/n: no case can be further out."""

    @property
    def p(self) -> FloatArray:
        """Shape (n,): of each D² by chi-square."""
        if not self.columns:
            return np.full(self.d2.size, np.nan)
        return np.asarray(special.gammaincc(self.columns / 2, self.d2 / 2))

    @property
    def expected(self) -> FloatArray:
        """Shape (n,): the quantile of chi-square at each D²'s rank, plotted at (rank - 1/2)/n."""
        n = self.d2.size
        if not self.columns:
            return np.full(n, np.nan)
        places = np.empty(n)
        places[np.argsort(self.d2, kind="stable")] = (np.arange(1, n + 1) - 0.5) / n
        return np.asarray(2.0 * special.gammaincinv(self.columns / 2, places))


def distances(fit: Fit, groups: bool) -> Distances:
    """D² of the raw predictors with both cut-offs. groups: groups count, as indicators."""
    d2, p, n = mahalanobis(fit, groups), raw_columns(fit, groups), fit.y.size
    largest = (n - 1) ** 2 / n
    if not p:
        return Distances(d2, 0, float("nan"), float("nan"), largest)
    chi_square = 2.0 * float(special.gammaincinv(p / 2, QUANTILE))
    rest = (n - p - 1) / 2
    exact = largest * float(special.betaincinv(p / 2, rest, QUANTILE)) if rest > 0 else float("nan")
    return Distances(d2, p, chi_square, exact, largest)


@dataclass(frozen=True, slots=True, eq=False)
class Far:
    """A measure over the cases, and beyond which value they are far out."""

    by: FarBy
    values: FloatArray
    """Shape (n,), without signs."""
    cutoff: float
    is_typed: bool

    @property
    def cases(self) -> IntArray:
        """Positions of the cases beyond it."""
        with np.errstate(invalid="ignore"):
            return np.flatnonzero(self.values > self.cutoff)


def far_by(by: FarBy, found: Diagnosis, away: Distances, cutoffs: Cutoffs) -> Far:
    """The cases far out by one measure."""
    typed = cutoffs.typed(by)
    match by:
        case FarBy.STUDENTIZED:
            values, usual = np.abs(found.deleted), USUAL_RESIDUAL
        case FarBy.COOK:
            values, usual = found.cook, 4.0 / found.cook.size
        case FarBy.DISTANCE:
            values, usual = away.d2, away.exact if cutoffs.exact else away.chi_square
        case _:
            assert_never(by)
    return Far(by, values, usual if typed is None else typed, typed is not None)
