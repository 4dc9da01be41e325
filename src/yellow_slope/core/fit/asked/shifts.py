"""Why a coefficient changes from one step to the next, in figures: what of the change goes through which entered term.

b before = b now + Σ δⱼ·bⱼ over the columns that came in, δⱼ their coefficients on the column in question when they are
regressed on the columns of the step before: an identity of least squares (Gelbach 2016), read off the one
factorization.
"""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.scipylater import linalg
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Shift:
    """A coefficient before and now; the parts sum to the change."""

    before: float
    now: float
    before_se: float
    """Standard error in the step before; NaN where there is none."""
    parts: tuple[tuple[Term, float], ...]
    """What of the change goes through each term that came in, largest first."""
    turns: bool
    """Whether it was told apart from 0 in one of the two steps and not in the other."""

    @property
    def change(self) -> float:
        """Now minus before."""
        return self.now - self.before

    @property
    def is_much(self) -> bool:
        """Whether it changed by more than its standard error was, or is told apart in one step only."""
        return self.turns or abs(self.change) > self.before_se


def shift_of(fit: Fit, step: int, column: int) -> Shift | None:
    """How a coefficient of the step before became that of a step; None where it is in one of them only, or not
    estimated."""
    if step < 1 or column < 0 or column >= fit.steps[step - 1].n_columns:
        return None
    before, now = fit.steps[step - 1], fit.steps[step]
    old, new = float(before.b[column + 1]), float(now.b[column + 1])
    if np.isnan(old) or np.isnan(new):
        return None
    factored = fit.factored
    m0, m1 = factored.size(before.n_columns), factored.size(now.n_columns)
    at = int(np.searchsorted(factored.kept[:m0], column))
    added = factored.kept[m0:m1]
    if added.size:
        unit = linalg.solve_triangular(factored.r[:m0, :m0], factored.r[:m0, m0:m1], check_finite=False)[at]
        delta = unit * factored.lengths[m0:m1] / factored.lengths[at]
        gone = -delta * now.inference.solution[added + 1]
    else:
        gone = np.zeros(0)
    parts: dict[Term, float] = {}
    for j, value in zip(added, gone):
        term = fit.design.columns[int(j)].term
        parts[term] = parts.get(term, 0.0) + float(value)
    alpha = 1 - now.level
    p = (float(before.p[column + 1]), float(now.p[column + 1]))
    turns = not any(np.isnan(p)) and (p[0] < alpha) != (p[1] < alpha)
    ordered = tuple(sorted(parts.items(), key=lambda pair: -abs(pair[1])))
    return Shift(old, new, float(before.se[column + 1]), ordered, turns)
