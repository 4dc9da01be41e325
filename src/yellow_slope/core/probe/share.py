"""What some columns explain of the outcome beyond all others of a step."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.terms import Term


def own_share(fit: Fit, step: int, terms: Sequence[Term]) -> float:
    """ΔR² of the columns of terms, entered last: b'(L L')⁻¹b over the total sum of squares, L the columns' rows of the
    root of Cov(b) / s². NaN where a column is not told apart from the others, or nothing is to be explained."""
    result, factored = fit.steps[step], fit.factored
    m = factored.size(result.n_columns)
    kept = [int(j) for j in factored.kept[:m]]
    chosen = [j for term in terms for j in fit.design.columns_of(term) if j < result.n_columns]
    if not chosen or not result.total > 0 or any(j not in kept for j in chosen) or factored_nulls(fit, step, chosen):
        return float("nan")
    rows = factored.root(m)[[kept.index(j) + 1 for j in chosen]]
    b = result.inference.solution[[j + 1 for j in chosen]]
    sizes = np.sqrt(np.einsum("ij,ij->i", rows, rows))
    _, triangle = np.linalg.qr((rows / sizes[:, None]).T)
    diagonal = np.abs(np.diag(triangle))
    if not np.all(diagonal > 1e-10):
        return float("nan")
    z = np.linalg.solve(triangle.T, b / sizes)
    return float(z @ z) / result.total


def factored_nulls(fit: Fit, step: int, columns: Sequence[int]) -> bool:
    """Whether a column takes part in a sum that the others make."""
    inference = fit.steps[step].inference
    g = np.zeros((len(columns), inference.solution.size))
    g[np.arange(len(columns)), [j + 1 for j in columns]] = 1.0
    return not bool(np.all(inference.estimable(g)))
