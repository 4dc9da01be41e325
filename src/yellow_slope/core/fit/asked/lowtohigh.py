"""The common scale of coefficients: the change in the outcome from low to high (Gelman 2008)."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit


def low_to_high(fit: Fit) -> FloatArray:
    """Shape (columns,): 2 SD for a number, 1 for a comparison, multiplied for a product (Gelman 2008)."""
    factors = np.ones(len(fit.design.columns))
    for j, column in enumerate(fit.design.columns):
        for atom in column.atoms:
            basis = fit.design.bases[atom.variable]
            if isinstance(basis, NumberBasis):
                factors[j] *= 2 * basis.axis_sd / basis.scale
    return factors
