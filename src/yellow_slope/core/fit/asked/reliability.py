"""How reliable a product is, from the reliabilities of its two parts."""

from __future__ import annotations

from math import sqrt

import numpy as np

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass


def product_reliability(one: float, other: float, r: float) -> float:
    """Of a product of two centered scales from theirs and their correlation: (ρₓρ_w + r²)/(1 + r²) (Busemeyer & Jones
    1983)."""
    return (one * other + r * r) / (1.0 + r * r)


@dataclass(frozen=True, slots=True)
class Reliability:
    """Of a product of two numbers. Parts that nobody gave are None, and so is the product's then."""

    one: str
    other: str
    given: tuple[float | None, float | None]
    r: float
    """Correlation of the parts over the model's cases."""
    product: float | None

    @property
    def attenuation(self) -> float | None:
        """By what the product's standardized effect is too small, as a factor: the root of its reliability."""
        return None if self.product is None else sqrt(self.product)


def reliability_of(study: Study, fit: Fit, term: Term) -> Reliability | None:
    """Of a product of two different numbers; None for any other term."""
    names = tuple(dict.fromkeys(term.variables))
    if len(names) != 2 or len(term.variables) != 2:
        return None
    bases = [fit.design.bases.get(name) for name in names]
    if not all(isinstance(basis, NumberBasis) for basis in bases):
        return None
    x, w = (
        basis.treated(np.asarray(fit.values[n], dtype=np.float64))
        for n, basis in zip(names, bases)
        if isinstance(basis, NumberBasis)
    )
    r = float(np.corrcoef(x, w)[0, 1]) if np.ptp(x) > 0 and np.ptp(w) > 0 else 0.0
    given = (study.variable(names[0]).reliability, study.variable(names[1]).reliability)
    product = product_reliability(given[0], given[1], r) if given[0] is not None and given[1] is not None else None
    return Reliability(names[0], names[1], given, r, product)
