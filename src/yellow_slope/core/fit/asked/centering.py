"""What centering a number changes in a model, and what it leaves: both models fitted and laid side by side."""

from __future__ import annotations

from math import comb
from types import MappingProxyType

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import fitted
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import Mean, Raw, Treatment
from yellow_slope.values import dataclass, replace


@dataclass(frozen=True, slots=True, eq=False)
class Centering:
    """One model with a number's zero where the file has it, and with its zero at the mean. Columns are the same in
    both."""

    variable: str
    raw: Fit
    centered: Fit
    highest: tuple[int, ...]
    """Columns of products with it that no larger product holds: their tests stay."""
    products: tuple[int, ...]
    """Columns of all its products: their collinearity changes."""
    moved: tuple[int, ...]
    """Columns of what it is multiplied with: they are asked at another place, and their collinearity changes."""

    def both(self, column: int) -> tuple[Coefficient, Coefficient]:
        """A coefficient raw and centered, in the last step."""
        return self.raw.last.coefficient(column), self.centered.last.coefficient(column)


def centering_of(study: Study, model: Model, fit: Fit, name: str) -> Centering | None:
    """Both models; None where the number is in no product, so that only the intercept moves, or where a part of one is
    missing, so that the fit itself would change."""
    terms = list(dict.fromkeys(c.term for c in fit.design.columns))
    products = [t for t in terms if name in t.variables and t.is_product]
    if not products or without_parts(fit, name):
        return None
    now = model.treatment(name)
    fits = []
    for zero in (Raw(), Mean()):
        treatment = replace(now, zero=zero)
        fits.append(fit if treatment == now else _with(study, model, fit, name, treatment))
    if fits[0] is None or fits[1] is None:
        return None
    highest = [t for t in products if not any(other.contains(t) for other in terms)]
    partners = [t for t in terms if name not in t.variables and any(p.contains(t) for p in products)]

    def columns(some: list[Term]) -> tuple[int, ...]:
        return tuple(j for term in some for j in fit.design.columns_of(term))

    return Centering(name, fits[0], fits[1], columns(highest), columns(products), columns(partners))


def _with(study: Study, model: Model, fit: Fit, name: str, treatment: Treatment) -> Fit | None:
    other = replace(model, entries=MappingProxyType({**model.entries, name: treatment}))
    try:
        found = fitted(study, other, fit.cases)
    except YellowSlopeError:
        return None
    return found if isinstance(found, Fit) else None


def without_parts(fit: Fit, name: str) -> tuple[Term, ...]:
    """What is missing below the number's products: without it another zero would be another fit, not the same one."""
    terms = {c.term for c in fit.design.columns}
    missing: dict[Term, None] = {}
    for term in dict.fromkeys(c.term for c in fit.design.columns):
        rest = list(term.variables)
        while name in rest:
            rest.remove(name)
            if rest and Term(tuple(rest)) not in terms and not _is_implied(fit, rest):
                missing[Term(tuple(rest))] = None
    return tuple(missing)


def _is_implied(fit: Fit, rest: list[str]) -> bool:
    """Whether columns for every level of a group say what a part without that group would say."""
    return any(
        isinstance(basis, GroupBasis)
        and basis.zero_weights is None
        and Term((name,)) in {c.term for c in fit.design.columns}
        for name, basis in fit.design.bases.items()
    ) and all(isinstance(fit.design.bases[name], GroupBasis) for name in rest)


def moved_rows(fit: Fit, name: str, zero: float) -> dict[int, FloatArray]:
    """For every column of the last step whose question depends on the number's zero: the row g of its coefficient, were
    that zero at the treated value. Shape (1 + columns,) each; -1 is the constant."""
    step = fit.last
    columns = fit.design.columns[: step.n_columns]
    powers = [sum(atom.variable == name for atom in column.atoms) for column in columns]
    rests = [tuple(sorted((a.variable, a.comparison or 0) for a in c.atoms if a.variable != name)) for c in columns]
    found: dict[int, FloatArray] = {}
    for j in range(-1 if fit.design.constant else 0, len(columns)):
        rest, power = ((), 0) if j < 0 else (rests[j], powers[j])
        g = np.zeros(step.n_columns + 1)
        g[j + 1] = 1.0
        for other, own in enumerate(rests):
            if own == rest and powers[other] > power:
                g[other + 1] = comb(powers[other], power) * zero ** (powers[other] - power)
        if j < 0 or any(r == rest and m > power for r, m in zip(rests, powers)):
            found[j] = g
    return found
