"""The rows g of a focal effect: the derivative for a number, the weighted sum of the levels' rows for a comparison."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.design.bases import Basis, GroupBasis, NumberBasis
from yellow_slope.core.fit.design.codes import Comparison
from yellow_slope.core.fit.design.design import Along, Profile
from yellow_slope.core.fit.fitted.fit import Fit


def focal_rows(
    fit: Fit, focal: Basis, comparison: Comparison | None, by: float, profile: Profile, along: Along | None
) -> FloatArray:
    """Shape (1 + all columns, degree + 1): g of a focal effect at a profile, times a factor (its unit)."""
    if isinstance(focal, NumberBasis):
        found = fit.design.rows(profile, along, derive=focal.variable)
    else:
        weights = (focal.contrasts[0] if comparison is None else comparison).weights
        found = weighted_rows(fit, focal, weights, profile, along)
    return found if by == 1.0 else found * by


def weighted_rows(
    fit: Fit, basis: GroupBasis, weights: FloatArray, profile: Profile, along: Along | None = None
) -> FloatArray:
    """Shape (1 + columns, degree + 1): the weighted sum of the rows of a group's levels."""
    return weighted(fit.design.rows_at_levels(profile, basis.variable, along), weights)


def weighted(at_levels: FloatArray, weights: FloatArray) -> FloatArray:
    """Shape (1 + columns, degree + 1): the weighted sum of rows at levels (levels, 1 + columns, degree + 1)."""
    here = np.flatnonzero(weights)
    whole = at_levels[here] * weights[here, None, None]
    total = whole.sum(axis=0)
    total[np.abs(total) <= 1e-14 * np.abs(whole).sum(axis=0)] = 0.0
    return np.asarray(total)
